"""Patterns on a part: stripes, dots, checks, and placed pictures."""
