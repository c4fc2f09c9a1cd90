"""The lessons there are: one entry each."""

from dataclasses import dataclass
from typing import Literal

from wardrobe.core.learn.truth import Asked

Ask = Literal["draw", "light", "spot", "colour", "order", "choice"]

# What is practised, in the order of the course.
SKILLS = {
    "turning": "Where a form turns from the light",
    "figures": "Heads, hair and folds",
    "shadows": "Shadows that are thrown",
    "shine": "What shines, and what does not",
    "reading": "Telling the light",
    "colour": "Shade colours and values",
}
OWN, OWN_SKILL = "own piece", "own"  # parts of one's own pieces, which have no levels
OWN_LABEL = "Your own pieces"


@dataclass(frozen=True)
class Lesson:
    """A kind of lesson.

    Attributes
    ----------
    label, skill : str
    ask : str
        How it is answered.
    question, look : str
        What is asked, and what to look at.
    asked : str or None
        What is drawn.
    scenes : tuple of str
        Of SCENES, one of which is shown.
    rim : bool
        With a second light from behind.
    """

    label: str
    skill: str
    ask: Ask
    question: str
    look: str
    asked: Asked | None = None
    scenes: tuple[str, ...] = ()
    rim: bool = False


_SHADE = "Draw what is in shade."
_EDGE = "Where the surface turns more than a right angle from the light, and a little before."

COURSE: dict[str, Lesson] = {
    "ball": Lesson("Ball", "turning", "draw", _SHADE, _EDGE, "shade", ("ball",)),
    "egg": Lesson("Egg", "turning", "draw", _SHADE, "Its shade is a crescent that follows the "
                  "long way round.", "shade", ("egg",)),
    "tube": Lesson("Tube", "turning", "draw", _SHADE, "Along a tube the shade has a straight edge; "
                   "its ends are flat, each all light or all shade.", "shade", ("tube",)),
    "cone": Lesson("Cone", "turning", "draw", _SHADE, "The edge runs from the foot to the tip, in "
                   "a straight line.", "shade", ("cone",)),
    "ring": Lesson("Ring", "turning", "draw", _SHADE, "Outside and inside turn opposite ways.",
                   "shade", ("ring",)),
    "box": Lesson("Box", "turning", "draw", "Draw the faces in shade, and the shadow on the "
                  "ground.", "Each face is one value: top, front, side.", "shade", ("box",)),
    "two lights": Lesson("Two lights", "turning", "draw", "A second light comes from behind. Draw "
                         "what stays in shade.", "A strip along one side is lit again.", "shade",
                         ("ball", "egg"), rim=True),
    "head": Lesson("Head, hat and fringe", "figures", "draw", _SHADE, "The brim and the fringe "
                   "throw shadows on the face; the neck lies under the chin.", "shade", ("head",)),
    "sleeve": Lesson("Sleeve with folds", "figures", "draw", _SHADE, "Each fold has its own shade; "
                     "all turn from the same light.", "shade", ("sleeve",)),
    "hair": Lesson("Hair in locks", "figures", "draw", _SHADE, "Each lock is a form, and throws a "
                   "shadow on the one behind.", "shade", ("locks",)),
    "on the ground": Lesson("On the ground", "shadows", "draw", "Draw the shadow on the ground.",
                            "Away from the light; the lower the light, the longer.", "cast",
                            ("standing",)),
    "overlap": Lesson("One before another", "shadows", "draw", "Draw the shadow that one throws on "
                      "the other.", "The outline of what is in front, moved away from the light "
                      "and bent over the form behind.", "cast", ("overlapping",)),
    "highlight": Lesson("Highlights by material", "shine", "draw", "Draw the highlight, if there "
                        "is one.", "Halfway between the light and you. Metal and leather shine; "
                        "plain cloth and skin do not.", "highlight", ("ball", "egg", "tube")),
    "light": Lesson("Name the light", "reading", "light", "Where does the light come from?",
                    "Opposite the shade; height by how much of the form is in shade.", None,
                    ("ball", "egg", "head", "ring")),
    "odd one": Lesson("The one that disagrees", "reading", "spot", "One of these is lit from "
                      "elsewhere. Which?", "Compare which side of each is dark."),
    "shade colour": Lesson("Pick a shade", "colour", "colour", "Make the shade for this base.",
                           "Darker by so much, its hue moved as told; still colourful."),
    "values": Lesson("Six values in order", "colour", "order", "Put them in order, darkest first.",
                     "Squint: hue deceives, value stays."),
    "reads": Lesson("Which reads better", "colour", "choice", "Which of the two reads better in "
                    "grey?", "Parts that touch need values that differ."),
}
