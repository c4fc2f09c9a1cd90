"""Computation only: numpy in, numpy out."""
