"""Settings of a device: their positions, what each stands for, and what is seen of them."""
