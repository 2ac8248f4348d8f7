"""Signal chains as physics: sources, conditioning, inputs, evaluated over any states."""
