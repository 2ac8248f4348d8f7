"""What is done to connectors, to the leads between them, and to what is kept of them."""
