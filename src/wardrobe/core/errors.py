"""The exceptions that the core raises: what went wrong, in words for the person at the screen."""


def quoted(text: str) -> str:
    """What somebody wrote, as it may stand in a message: short, and without half characters."""
    plain = text.encode("utf-8", "replace").decode("utf-8")
    return f"“{plain if len(plain) <= _LONGEST_QUOTE else plain[:_LONGEST_QUOTE] + '…'}”"


_LONGEST_QUOTE = 60  # characters


class WardrobeError(Exception):
    """Base of all errors with a message meant for the user.

    Parameters
    ----------
    message : str
        One sentence: what happened, and what to try.
    """

    title = "This could not be done"

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message


class UnreadableImageError(WardrobeError):
    """The file is not a picture that can be decoded within the limits."""

    title = "This file cannot be read"


class ImageLimitError(UnreadableImageError):
    """The picture is too small or too large."""

    title = "This picture is outside the limits"


class NoLinesError(WardrobeError):
    """The picture holds no line art: blank, solid, or without one closed area."""

    title = "No line art found"


class NoClosedAreaError(NoLinesError):
    """There are lines, but every fill between them runs out into the ground."""


class ColourError(WardrobeError, ValueError):
    """A colour could not be understood."""

    title = "Not a colour"
