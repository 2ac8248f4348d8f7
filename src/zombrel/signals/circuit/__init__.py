"""The network of a job: its parts, how they are joined, what it comes to rest at."""
