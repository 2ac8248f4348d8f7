"""Arithmetic of the trade: tyres, pulse rates, settings, road fits."""
