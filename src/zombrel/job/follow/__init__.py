"""What follows from what: queries that note what they read, and the engine behind them."""
