"""Signals, wiring and proof for performance electronics in vehicles."""

__version__ = "0.1.0"
