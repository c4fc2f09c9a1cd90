"""What an uploaded picture may be."""

from dataclasses import dataclass, field


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


@dataclass(frozen=True)
class StackLimits:
    """Limits of a layered file.

    Attributes
    ----------
    image : ImageLimits
        Of the canvas and of every layer.
    layers, members, depth : int
        Layers, files in the archive, groups in groups.
    pixels : int
        Of all layers together.
    group_pixels : int
        Groups times pixels of the canvas: each group is composed apart.
    unpacked_bytes, description_bytes : int
        Of all members together, and of the list of layers.
    """

    image: ImageLimits = field(default_factory=lambda: ImageLimits(shortest_edge=1))
    layers: int = 2000
    members: int = 5000
    depth: int = 16
    pixels: int = 280_000_000
    group_pixels: int = 2_500_000_000
    unpacked_bytes: int = 1024 * 1024 * 1024
    description_bytes: int = 8 * 1024 * 1024
