"""Parts that several screens share."""
