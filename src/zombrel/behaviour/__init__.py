"""How the vehicle moves."""
