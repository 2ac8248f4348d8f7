"""Settings as they will be touched."""
