"""Gates, road runs and their fit."""
