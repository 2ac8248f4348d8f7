"""Zombrel: signals, wiring and proof for performance electronics in vehicles."""
