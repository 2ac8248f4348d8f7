"""What explains a wrong reading, and which test parts what may explain it."""
