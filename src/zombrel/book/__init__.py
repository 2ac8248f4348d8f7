"""The job book: what every job of the shop knows, and what of it serves the next."""
