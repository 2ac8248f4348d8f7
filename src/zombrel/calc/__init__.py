"""Everything the core can do, by name, from plain key=value text."""
