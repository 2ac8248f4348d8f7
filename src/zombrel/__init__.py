"""Zombrel: signals, wiring and proof for performance electronics in vehicles."""

VERSION = "0.1.0"
