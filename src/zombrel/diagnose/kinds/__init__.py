"""The kinds of step, one file for each thing that is tried."""
