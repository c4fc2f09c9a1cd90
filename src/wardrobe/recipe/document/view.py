"""Which piece of the picture is wanted, and how large."""

from dataclasses import dataclass


@dataclass(frozen=True)
class View:
    """A rectangle of the picture at a scale.

    Attributes
    ----------
    x, y, width, height : int
        Picture pixels.
    scale : float
        Result pixels per picture pixel, at most 1.
    """

    x: int
    y: int
    width: int
    height: int
    scale: float = 1.0

    @property
    def shape(self) -> tuple[int, int]:
        """Height and width of the result."""
        return (max(1, round(self.height * self.scale)), max(1, round(self.width * self.scale)))

    @property
    def slices(self) -> tuple[slice, slice]:
        """Rows and columns of the picture."""
        return slice(self.y, self.y + self.height), slice(self.x, self.x + self.width)

    @classmethod
    def whole(cls, width: int, height: int, long_edge: int | None = None) -> "View":
        """The whole picture, at most ``long_edge`` pixels on its longer edge."""
        scale = 1.0 if long_edge is None else min(1.0, long_edge / max(width, height))
        return cls(0, 0, width, height, scale)

    def within(self, width: int, height: int) -> "View":
        """The part of the view that lies on the picture, at least one pixel."""
        x, y = min(max(self.x, 0), width - 1), min(max(self.y, 0), height - 1)
        right = min(max(self.x + self.width, x + 1), width)
        bottom = min(max(self.y + self.height, y + 1), height)
        return View(x, y, right - x, bottom - y, min(self.scale, 1.0))
