"""Blend modes in words: the formula, what it does, and where it fails.

Formulas are those of W3C Compositing and Blending Level 1, sections 10.1 and 10.2, for one channel
from 0 to 1: ``cb`` is what lies below, ``cs`` what is laid on it. What they do to drawings is
common practice, with no published source.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class Explained:
    """A mode.

    Attributes
    ----------
    formula : str
    does, fails : str
        In words.
    """

    formula: str
    does: str
    fails: str


_TURNED = "the lightness of one, hue and colourfulness of the other (section 10.2)"

EXPLAINED: dict[str, Explained] = {
    "normal": Explained("cs", "Hides what lies below by its opacity.",
                        "Knows nothing of what lies below: each base needs a colour of its own."),
    "multiply": Explained("cb * cs", "Darkens, and keeps hue and pattern: one shade fits most "
                          "bases.", "Hardly shows on what is near the shade's own colour or very "
                          "pale; goes to black on dark bases."),
    "screen": Explained("cb + cs - cb * cs", "Lightens as light does that is added.",
                        "Washes out what is light already; shows little on white."),
    "overlay": Explained("2 * cb * cs if cb <= 0.5 else 1 - 2 * (1 - cb) * (1 - cs)",
                         "Darkens the dark and lightens the light: more contrast.",
                         "Leaves black and white alone, and runs away in the middle."),
    "darken": Explained("min(cb, cs)", "Takes the darker of the two; a gentle shade at half "
                        "opacity.", "Does nothing where the base is darker already."),
    "lighten": Explained("max(cb, cs)", "Takes the lighter of the two.",
                         "Does nothing where the base is lighter already."),
    "color-dodge": Explained("0 if cb == 0 else 1 if cs == 1 else min(1, cb / (1 - cs))",
                             "Glows: small spots of strong light.",
                             "Burns out quickly; black stays black."),
    "color-burn": Explained("1 if cb == 1 else 0 if cs == 0 else 1 - min(1, (1 - cb) / cs)",
                            "Darkens and makes more colourful.",
                            "Runs away quickly; white stays white."),
    "hard-light": Explained("2 * cb * cs if cs <= 0.5 else 1 - 2 * (1 - cb) * (1 - cs)",
                            "Multiplies by the dark and screens by the light of what is laid on.",
                            "What is laid on shows its own colour strongly."),
    "soft-light": Explained("cb - (1 - 2 * cs) * cb * (1 - cb) if cs <= 0.5 else cb + (2 * cs - 1) "
                            "* (((((16 * cb - 12) * cb + 4) * cb) if cb <= 0.25 else cb ** 0.5) "
                            "- cb)", "A faint overlay.", "Hardly shows on black and white."),
    "difference": Explained("abs(cb - cs)", "Shows where two pictures differ.",
                            "Turns colours over; for looking, not for painting."),
    "exclusion": Explained("cb + cs - 2 * cb * cs", "Difference with less contrast.",
                           "Turns colours over; for looking, not for painting."),
    "hue": Explained(_TURNED, "Gives its hue alone.", "Greys have no hue and stay grey."),
    "saturation": Explained(_TURNED, "Gives its colourfulness alone.", "Greys stay grey."),
    "color": Explained(_TURNED, "Colours greys: values first, colour over them.",
                       "Leaves white and black alone."),
    "luminosity": Explained(_TURNED, "Gives its lightness alone.", "Flattens what lay below."),
    "plus-lighter": Explained("min(1, cb + cs)", "Adds light: stronger than screen.",
                              "Clips to white quickly."),
}
