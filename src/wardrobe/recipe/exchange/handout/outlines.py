"""Line art as outlines, where it came in as outlines."""

from wardrobe.core.errors import WardrobeError
from wardrobe.core.formats.svg import InkStroke, framed_svg, looks_like_svg
from wardrobe.core.lines.frame import frame_matrix
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.stages import Deriver


class NoOutlinesError(WardrobeError):
    """The drawing came in as pixels."""

    title = "There are no outlines"


def outlines_svg(deriver: Deriver, recipe: Recipe, original: bytes) -> bytes:
    """The drawing's outlines, turned, levelled and cropped like the picture, with inked closings.

    Parameters
    ----------
    deriver : Deriver
    recipe : Recipe
    original : bytes
        The file that came in.

    Raises
    ------
    NoOutlinesError
        If it is no SVG.
    """
    if not looks_like_svg(original):
        raise NoOutlinesError("The drawing came in as pixels, so there are no outlines to deliver. "
                              "Its lines are in the layered file.")
    frame, source = recipe.frame, recipe.source
    matrix = frame_matrix(source.width, source.height, frame.turn, frame.tilt, frame.crop)
    width = deriver.areas(recipe).line_width
    strokes = [InkStroke(c.points, width, recipe.lines.colour)
               for c in recipe.closings if c.inked]
    return framed_svg(original, (source.width, source.height), recipe.size, matrix, strokes)
