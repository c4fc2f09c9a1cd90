"""What a colour is called, in plain words. Our own choice of names and limits."""

from collections.abc import Sequence

from wardrobe.core.colour import srgb_to_oklch

_HUES = ((20.0, "pink"), (45.0, "red"), (75.0, "orange"), (115.0, "yellow"), (165.0, "green"),
         (215.0, "teal"), (280.0, "blue"), (325.0, "purple"), (360.0, "pink"))
_GREY = 0.025  # OKLCH chroma below which no hue is seen
_EARTHEN = 0.075  # chroma below which warm colours are brown or sand
_BROWN = 0.62  # OKLCH lightness below which orange and yellow are brown


def colour_words(rgb: Sequence[float]) -> str:
    """Name a colour.

    Parameters
    ----------
    rgb : sequence of three float
        sRGB, 0..255.

    Examples
    --------
    >>> colour_words((30, 60, 140))
    'dark blue'
    >>> colour_words((255, 255, 255))
    'white'
    """
    red, green, blue = (v / 255 for v in rgb)
    lightness, chroma, hue = (float(v) for v in srgb_to_oklch([red, green, blue]))
    if chroma < _GREY:
        return "white" if lightness > 0.95 else "black" if lightness < 0.2 else \
            "pale grey" if lightness > 0.8 else "dark grey" if lightness < 0.45 else "grey"
    name = next(name for limit, name in _HUES if hue <= limit)
    if 25 < hue < 110 and chroma < _EARTHEN:
        return "dark brown" if lightness < 0.4 else "brown" if lightness < _BROWN else "sand"
    if name in ("orange", "yellow") and lightness < _BROWN:
        return "dark brown" if lightness < 0.4 else "brown"
    return f"pale {name}" if lightness > 0.86 and chroma < 0.12 else \
        f"dark {name}" if lightness < 0.45 else name
