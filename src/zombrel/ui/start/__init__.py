"""The front door: what goes into which vehicle."""
