"""Areas: the connected regions that the lines bound, with small gaps bridged."""
