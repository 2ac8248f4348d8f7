"""Where things sit and how they are fixed, hoses and threads, and what the kit holds."""
