"""What stands around every page: rail, what to settle, the bench, finding, copying."""
