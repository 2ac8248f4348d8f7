"""Records that a job holds in lists of their own, beside vehicle, devices and wires."""
