"""Curves, masks and distances."""
