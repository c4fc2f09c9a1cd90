"""Reading files from outside in processes of their own, which can be stopped at any moment."""

from wardrobe.server.apart.pool import Apart, Bounds, shared

__all__ = ["Apart", "Bounds", "shared"]
