"""Layered files from a shell."""

from pathlib import Path

from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.formats.png import encode_png
from wardrobe.core.stack.flatten import flatten
from wardrobe.recipe.files import replacing


def flatten_file(layered: Path, png: Path) -> None:
    """Composite a layered file and write the picture.

    Raises
    ------
    WardrobeError
        With a message for the user; a file that was there before is untouched.
    """
    opened = read_openraster(layered)
    picture = flatten(opened.stack)
    dpi = round(opened.dpi) if opened.dpi and opened.dpi >= 1 else None
    with replacing(png) as path:
        path.write_bytes(encode_png(picture, level=3, dpi=dpi))
    for note in opened.notes:
        print(f"  {note}")
    print(f"{opened.stack.width} x {opened.stack.height} px")
