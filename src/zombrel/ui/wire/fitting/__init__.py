"""Fitting: where devices sit and how they are fixed, senders, hoses, and the kit."""
