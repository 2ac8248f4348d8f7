"""Job files, recovery and the list of recent jobs."""
