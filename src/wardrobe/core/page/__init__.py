"""Pages: their panels, the order in which these are read, and what is lettered."""
