"""Names of parts to start from: what most figures, busts, creatures and vehicles have."""

from typing import Annotated

from pydantic import Field

from wardrobe.recipe.document.types import Colour, Frozen, MaterialKey, PartName


class NamedPart(Frozen):
    """A part that is still to get its areas; ``parent`` is the name of another of the set."""

    name: PartName
    material: MaterialKey = "matte cloth"
    base: Colour = "#a9a49c"
    parent: PartName | None = None


NamedParts = Annotated[tuple[NamedPart, ...], Field(min_length=1, max_length=200)]


def _set(*rows: tuple[str, str, str] | tuple[str, str, str, str]) -> tuple[NamedPart, ...]:
    return tuple(NamedPart(name=r[0], material=r[1], base=r[2], parent=r[3] if len(r) > 3 else None)
                 for r in rows)


# From front to behind.
NAME_SETS: dict[str, tuple[NamedPart, ...]] = {
    "figure": _set(
        ("hair", "hair", "#5a4030"), ("eyes", "glass", "#f1efe9"), ("lips", "skin", "#b3716c"),
        ("skin", "skin", "#e9c6a8"), ("scarf", "matte cloth", "#a64b3c"),
        ("coat", "matte cloth", "#5e6e82"), ("collar", "matte cloth", "#46536a", "coat"),
        ("buttons", "metal", "#c3a364", "coat"), ("shirt", "matte cloth", "#e8e1d2"),
        ("belt", "leather", "#7a5433"), ("trousers", "matte cloth", "#4d4a52"),
        ("boots", "leather", "#5b3d2c"), ("laces", "matte cloth", "#d8cdb8", "boots")),
    "bust": _set(
        ("hair", "hair", "#5a4030"), ("brows", "hair", "#4b362a", "hair"),
        ("eyes", "glass", "#f1efe9"), ("irises", "glass", "#5d7f8c", "eyes"),
        ("lips", "skin", "#b3716c"), ("skin", "skin", "#e9c6a8"),
        ("collar", "matte cloth", "#e8e1d2"), ("coat", "matte cloth", "#5e6e82")),
    "creature": _set(
        ("horns", "leather", "#cdbd9f"), ("eyes", "glass", "#e6c65c"), ("mouth", "wet", "#a85560"),
        ("teeth", "glass", "#f0ead8"), ("belly", "skin", "#dcc9a0"), ("hide", "skin", "#7c8f6a"),
        ("markings", "skin", "#57684c", "hide"), ("wings", "leather", "#8a6f78"),
        ("claws", "leather", "#3d3733"), ("tail", "skin", "#7c8f6a")),
    "vehicle": _set(
        ("windows", "glass", "#a9c3cc"), ("lamps", "glass", "#f3e3b0"),
        ("trim", "metal", "#b9bcc0"), ("body", "metal", "#b7573f"),
        ("doors", "metal", "#b7573f", "body"), ("bumper", "metal", "#8d9196"),
        ("wheels", "matte cloth", "#37363a"), ("hubs", "metal", "#c5c8cc", "wheels"),
        ("underside", "matte cloth", "#2c2b2e")),
}
