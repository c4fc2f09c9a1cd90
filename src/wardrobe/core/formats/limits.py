"""What an uploaded picture may be."""

from dataclasses import dataclass


@dataclass(frozen=True)
class ImageLimits:
    """Limits that are checked on the header, before pixels are decoded.

    Attributes
    ----------
    shortest_edge, longest_edge : int
        Pixels.
    pixels : int
        Width times height.
    file_bytes : int
    """

    shortest_edge: int = 32
    longest_edge: int = 12_000
    pixels: int = 80_000_000
    file_bytes: int = 64 * 1024 * 1024
