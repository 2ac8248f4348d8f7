"""The frozen job: one tree of facts, its edits, its evidence, its state of the vehicle."""
