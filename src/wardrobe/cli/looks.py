"""Contact sheets from a shell."""

from pathlib import Path

from wardrobe.cli.colour import read_recipe
from wardrobe.core.errors import WardrobeError
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.page import page_to_png, pages_to_pdf, stacked
from wardrobe.recipe.document.drawing import Source
from wardrobe.recipe.document.look import worn
from wardrobe.recipe.document.model import Recipe
from wardrobe.recipe.exchange.files import replacing
from wardrobe.recipe.exchange.handout.contact_sheet import MOST_LOOKS, Sheet, contact_pages
from wardrobe.recipe.reports.looks import FIRST_NAME, report_looks
from wardrobe.recipe.stages import Deriver

_DPI = 200


_PICTURES = (".svg", ".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff")


def drawing_of(recipe: Path) -> Path:
    """The drawing that lies beside a recipe under the same name.

    Raises
    ------
    WardrobeError
        If there is none.
    """
    for suffix in _PICTURES:
        if recipe.with_suffix(suffix).exists():
            return recipe.with_suffix(suffix)
    raise WardrobeError(f"There is no drawing beside {recipe}; give it by --line.")


def with_drawing(recipe: Recipe, recipe_path: Path, line: Path) -> tuple[Recipe, Deriver]:
    """A recipe over a drawing from a file, and what follows from it.

    Raises
    ------
    WardrobeError
        If the recipe was made for a drawing of another size.
    """
    made_for = recipe.source.width, recipe.source.height
    rgba = decode_image(line.read_bytes(), long_edge=max(made_for))
    if (rgba.shape[1], rgba.shape[0]) != made_for:
        raise WardrobeError(f"{recipe_path} was made for {made_for[0]} x {made_for[1]} px, but "
                            f"{line} has {rgba.shape[1]} x {rgba.shape[0]} px.")
    source = Source(asset="0" * 64, width=made_for[0], height=made_for[1])
    return recipe.model_copy(update={"source": source}), Deriver(lambda asset: rgba)


def write_looks(recipe_path: Path, line: Path, sheet: Path, approval: bool) -> None:
    """Write a contact sheet of a recipe's looks.

    Raises
    ------
    WardrobeError
        With a message for the user; a file that was there before is untouched.
    """
    if sheet.suffix.lower() not in (".png", ".pdf"):
        raise WardrobeError(f"{sheet} is neither a .png nor a .pdf.")
    recipe, deriver = with_drawing(read_recipe(recipe_path), recipe_path, line)
    looks = [(FIRST_NAME, recipe), *((k.name, worn(recipe, k)) for k in recipe.looks
                                     if not k.retired)][:MOST_LOOKS]
    report = report_looks(deriver, recipe)
    pages = contact_pages(deriver, looks, recipe_path.stem, report.areas, Sheet(approval=approval))
    data = pages_to_pdf(pages, recipe_path.stem) if sheet.suffix.lower() == ".pdf" \
        else page_to_png(stacked(pages), _DPI)
    with replacing(sheet) as path:
        path.write_bytes(data)
    near = [line.apart for line in report.looks if line.apart is not None]
    print(f"{len(looks)} looks on {len(pages)} pages"
          f"{f', the nearest two {min(near):.1f} apart' if near else ''}")
