"""What the owner of the vehicle is told, on one page."""
