"""What the owner is handed."""
