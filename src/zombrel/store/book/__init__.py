"""The job book on disk: an index of the shop's jobs, made anew from their files at any time."""
