"""One module for each stage of the work."""
