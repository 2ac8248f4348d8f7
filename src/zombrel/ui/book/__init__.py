"""Job book: what the shop knows, the week of its bays, what to order."""
