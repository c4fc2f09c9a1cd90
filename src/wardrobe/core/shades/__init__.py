"""Shades and lights as colour arithmetic: rules, steps, evening out, light colours."""
