"""Rules about signals: their sources, what reaches an input, and what is made of it there."""
