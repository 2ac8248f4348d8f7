"""One rule, one function; ``assess`` gathers them."""
