"""The delivered stack: ordered, named, clipped layers."""
