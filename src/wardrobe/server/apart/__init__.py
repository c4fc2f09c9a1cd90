"""Reading files from outside in processes of their own, which can be stopped at any moment."""

from wardrobe.server.apart.pool import SHARED, Apart, Bounds

__all__ = ["SHARED", "Apart", "Bounds"]
