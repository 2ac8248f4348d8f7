"""Figures as people type them: kinds, units, and the one reader."""
