"""The window. Qt lives only here."""
