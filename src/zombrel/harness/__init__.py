"""Conductors: sizes, currents, drops, fuses, coupling."""
