"""What the names of parts tell about where they lie: in front of others, and how far off them.

Common practice, no published source: hat over hair over face, scarf over coat over shirt.
"""

import re
from dataclasses import dataclass
from typing import Literal

USUAL_LIFT = 3.5  # line widths that a form stands off what it lies on
Role = Literal["eye white", "iris"]


@dataclass(frozen=True)
class Place:
    """Where a part lies.

    Attributes
    ----------
    front : float
        Larger is further in front.
    lift : float
        How far it stands off what it lies on, in line widths.
    """

    front: float
    lift: float


USUAL_PLACE = Place(1.3, USUAL_LIFT)
_TABLE: tuple[tuple[Place, str], ...] = (
    (Place(3.0, 6.0), "hat brim cap hood helmet goggle goggles crown bobble"),
    (Place(2.9, 2.5), "glasses spectacles mask"),
    (Place(2.7, 1.5), "glint glints pupil pupils iris irises"),
    (Place(2.6, 4.5), "hair fringe bangs beard moustache brow brows curl curls mane"),
    (Place(2.5, 5.0), "hand hands glove gloves paw paws beak"),
    (Place(2.4, 3.0), "staff pole sword lamp lantern bell bag satchel handle"),
    (Place(2.3, 1.5), "buckle button buttons brooch badge fitting fittings pocket pockets"),
    (Place(2.2, 4.5), "scarf collar lapel lapels bow tie"),
    (Place(2.1, 2.5), "strap belt sash band"),
    (Place(2.0, 1.5), "eye eyes eyelid eyelids lip lips mouth teeth"),
    (Place(1.9, 7.0), "arm arms sleeve sleeves wing wings"),
    (Place(1.7, 7.0), "head face skin chin ear ears nose"),
    (Place(1.4, 5.0), "coat jacket cloak cape apron"),
    (Place(1.0, 3.0), "shirt waistcoat bodice belly"),
    (Place(0.9, 3.0), "boot boots shoe shoes feet"),
    (Place(0.7, 3.5), "skirt trousers leg legs dress body"),
    (Place(0.5, 2.0), "neck tail sole soles"),
)
_PLACES = {word: place for place, words in _TABLE for word in words.split()}


_ROLES: dict[str, Role] = {
    **dict.fromkeys(["eye", "eyes", "white", "whites", "eyeball", "eyeballs"], "eye white"),
    **dict.fromkeys(["iris", "irises", "pupil", "pupils"], "iris"),
}


def usual_role(name: str) -> Role | None:
    """What a part of this name is to the light, by its last word."""
    words = re.findall(r"[a-z]+", name.casefold())
    return _ROLES.get(words[-1]) if words else None


_DRAWN_IN_BLACK = {"eyelid", "eyelids", "lid", "lids", "lash", "lashes", "eyelash", "eyelashes"}


def drawn_in_black(name: str) -> bool:
    """Whether the lines of a part of this name stay near black, by its last word."""
    words = re.findall(r"[a-z]+", name.casefold())
    return bool(words) and (words[-1] in _DRAWN_IN_BLACK or usual_role(name) is not None)


_LAMPS = {"lamp", "lamps", "lantern", "lanterns", "candle", "candles", "fire", "flame", "flames",
          "torch", "torches", "bulb", "bulbs", "moon", "sun", "star", "stars", "screen", "screens",
          "neon", "ember", "embers", "glow"}


def gives_light(name: str) -> bool:
    """Whether a part of this name gives off light, by its last word."""
    words = re.findall(r"[a-z]+", name.casefold())
    return bool(words) and words[-1] in _LAMPS


def known_place(name: str) -> Place | None:
    """Where a part of this name lies, if it tells; the last word that is known decides."""
    words = re.findall(r"[a-z]+", name.casefold())
    return next((_PLACES[w] for w in reversed(words) if w in _PLACES), None)


def usual_place(name: str) -> Place:
    """Where a part of this name usually lies, or any part."""
    return known_place(name) or USUAL_PLACE
