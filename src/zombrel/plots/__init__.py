"""What plots show, as data, for the window and for paper alike."""
