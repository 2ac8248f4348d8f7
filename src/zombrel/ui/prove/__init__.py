"""The proof, one step a screen."""
