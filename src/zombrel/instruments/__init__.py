"""Instruments, real or played back, behind one interface each."""
