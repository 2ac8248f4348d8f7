"""Reading what instruments recorded."""
