"""Proof step by step, verdicts, and what else explains what was seen."""
