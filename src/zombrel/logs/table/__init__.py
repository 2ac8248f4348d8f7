"""Delimited text of every habit: how it is written, what its columns are, and reading it."""
