"""Figures against their targets: run as ``./zombrel bench`` from a checkout."""
