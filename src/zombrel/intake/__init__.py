"""The one way in for files: bounded, whatever they hold, with one sentence when they cannot be."""
