"""Blending and compositing."""
