"""Papers before they are printed."""
