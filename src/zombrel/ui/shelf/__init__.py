"""Device sheets, sources and house rules as data."""
