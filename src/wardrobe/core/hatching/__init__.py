"""Ink that bounds nothing: hatching, stipple and texture, told from the lines that bound areas."""
