"""Tests of the window."""
