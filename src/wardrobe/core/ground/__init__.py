"""Figure and ground: what of a drawing is the thing drawn, and what is the paper around it."""
