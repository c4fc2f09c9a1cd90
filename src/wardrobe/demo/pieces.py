"""The demo pieces: which areas are which part, and in what colours. Invented, like the people."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace

from wardrobe.core.formats.tokens import CardColour
from wardrobe.demo import owl, runner, warden
from wardrobe.demo.looks import RUNNER_LOOKS, DemoLook
from wardrobe.demo.moods import (
    OWL_MOODS,
    OWL_SCENERY,
    RUNNER_MOODS,
    RUNNER_SCENERY,
    Mood,
    Scenery,
)
from wardrobe.recipe.document.ink import Inking, InkShade
from wardrobe.recipe.document.lighting import Light
from wardrobe.recipe.document.model import Claim, Part, Recipe
from wardrobe.recipe.document.pattern import Pattern
from wardrobe.recipe.edits import ReplaceParts
from wardrobe.recipe.exchange.card import card_of

Spots = list[tuple[int, int]]


@dataclass(frozen=True)
class DemoPiece:
    """A drawing with its parts.

    Attributes
    ----------
    title : str
    planned_minutes : int
    draw : callable
        Gives the file: SVG, or a photo as JPEG.
    units : (int, int)
        Width of the drawing and y of its upper edge, in its own units.
    parts : list of (name, material, base, spots)
        From front to behind; spots are clicks in the drawing's units.
    light : Light
    background : str
    belongs : dict of str to str
        Parts that belong to another, by their names.
    patterns : dict of str to Pattern
        By part; lengths in the drawing's own units.
    drift : dict of str to str
        Parts whose colour on the character's card differs from the piece's.
    own : dict of str to (dict of str to str)
        By part, the pass colours that it chose itself.
    looks : tuple of DemoLook
        Its other colour versions.
    ink : Inking
        The colours of its lines, and what is shaded in ink.
    scenery : tuple of Scenery
        What lies around the figure, from behind.
    moods : tuple of Mood
        How it is finished.
    closed : bool
        The gaps in its lines are closed with ink.
    """

    title: str
    planned_minutes: int
    draw: Callable[[], bytes]
    units: tuple[int, int]
    parts: list[tuple[str, str, str, Spots]]
    light: Light
    background: str
    belongs: dict[str, str] = field(default_factory=dict)
    patterns: dict[str, Pattern] = field(default_factory=dict)
    drift: dict[str, str] = field(default_factory=dict)
    own: dict[str, dict[str, str]] = field(default_factory=dict)
    looks: tuple[DemoLook, ...] = ()
    ink: Inking = field(default_factory=Inking)
    scenery: tuple[Scenery, ...] = ()
    moods: tuple[Mood, ...] = ()
    closed: bool = False

    @property
    def character(self) -> str:
        """Whose picture it is."""
        return self.title.split(",")[0]

    def card(self, recipe: Recipe) -> list[CardColour]:
        """The character's colour card: the piece's colours, but for those that have drifted."""
        return [replace(c, colour=self.drift[c.name]) if c.name in self.drift else c
                for c in card_of(recipe)]

    def _pattern(self, name: str, scale: float) -> Pattern | None:
        pattern = self.patterns.get(name)
        return pattern and pattern.model_copy(update={
            "period": pattern.period * scale, "dx": pattern.dx * scale, "dy": pattern.dy * scale})

    def claims(self, width: int) -> ReplaceParts:
        """Parts and claims for a picture of this width in pixels."""
        scale, top = width / self.units[0], self.units[1]

        def strokes(spots: Spots) -> tuple[tuple[tuple[float, float], ...], ...]:
            return tuple(((x * scale, (y - top) * scale),) for x, y in spots)

        ids = {entry[0]: f"p{k}" for k, entry in enumerate(self.parts, start=1)}
        parts = tuple(Part(id=ids[name], name=name, material=material, base=base,
                           parent=ids.get(self.belongs.get(name, "")),
                           pattern=self._pattern(name, scale), own=self.own.get(name, {}))
                      for name, material, base, _ in self.parts)
        claims = [Claim(to=part.id, strokes=strokes(entry[3]))
                  for part, entry in zip(parts, self.parts, strict=True)]
        return ReplaceParts(parts=parts, claims=tuple(claims))


RUNNER = DemoPiece(
    title="Nela Quill, kite runner",
    planned_minutes=40,
    draw=lambda: runner.draw().encode(),
    units=(1000, 0),
    parts=[
        ("goggle glass", "glass", "#9cc4c6", [(528, 168), (441, 170)]),
        ("goggle rims", "metal", "#b98f4e", [(502, 150), (414, 155), (486, 166)]),
        ("goggle band", "leather", "#5b4034", [(578, 170), (392, 173), (485, 187)]),
        ("irises", "wet", "#4c7a5a", [(434, 253), (509, 253)]),
        ("eye whites", "wet", "#f6f1e7", [(451, 261), (498, 262), (423, 264), (526, 264)]),
        ("hair", "hair", "#8a4226",
         [(484, 117), (529, 114), (486, 213), (516, 208), (572, 205), (402, 208), (638, 219),
          (645, 273), (644, 322), (604, 369), (414, 327)]),
        ("skin", "skin", "#e9b690", [(522, 297), (565, 272), (520, 345), (509, 220)]),
        ("scarf", "matte cloth", "#d9a441",
         [(524, 377), (659, 430), (688, 430), (560, 428)]),
        ("gloves", "leather", "#8d5334", [(748, 460), (709, 449), (708, 502), (390, 687),
                                            (414, 718)]),
        ("satchel", "leather", "#a5683c", [(597, 744), (669, 815), (502, 531)]),
        ("belt", "leather", "#553a2c", [(442, 674), (530, 686), (481, 688)]),
        ("fittings", "metal", "#c9aa62",
         [(460, 667), (631, 801), (509, 475), (509, 603)]),
        ("coat", "matte cloth", "#3f7377",
         [(351, 525), (333, 650), (493, 457), (567, 553), (450, 576), (626, 526), (693, 543),
          (548, 718), (505, 807), (392, 739), (389, 779), (590, 863), (606, 891), (330, 885),
          (353, 893), (513, 905)]),
        ("trousers", "matte cloth", "#c9b48d", [(563, 965), (422, 971)]),
        ("boot straps", "leather", "#8d5334", [(590, 1163), (406, 1167)]),
        ("boots", "leather", "#5e4236",
         [(599, 1090), (419, 1095), (593, 1129), (407, 1134), (591, 1285), (367, 1289)]),
        ("soles", "matte cloth", "#3b2f2f", [(689, 1332), (349, 1341)]),
        ("flame", "matte cloth", "#ffc95c", [(715, 204)]),
        ("lamp glass", "glass", "#bfe0da", [(690, 176), (741, 174)]),
        ("lamp brass", "metal", "#b98f4e", [(715, 106), (715, 139), (721, 253)]),
        ("staff", "leather", "#7d5b40", [(717, 425), (720, 1191)]),
        ("pennant", "sheen cloth", "#c4503f", [(770, 358), (748, 316)]),
    ],
    light=Light(azimuth=128, height=36),
    background="#eee7d8",
    belongs={"goggle glass": "goggle rims", "irises": "eye whites", "boot straps": "boots",
             "soles": "boots", "flame": "lamp brass", "lamp glass": "lamp brass",
             "pennant": "staff"},
    patterns={"trousers": Pattern(motif="stripes", colour="#b59e74", period=26, share=0.3,
                                  angle=4),
              "pennant": Pattern(motif="stripes", colour="#e7b65a", period=62, share=0.34,
                                 angle=-72)},
    drift={"scarf": "#d59a34", "trousers": "#bfae8b"},
    own={"skin": {"shade": "#d3957a"}},
    looks=RUNNER_LOOKS,
)

WARDEN = DemoPiece(
    title="Osk Tamber, bell warden",
    planned_minutes=25,
    draw=lambda: warden.draw().encode(),
    units=(1000, -50),
    parts=[
        ("glasses", "metal", "#a98a4c", [(553, 411), (369, 426)]),
        ("eye whites", "wet", "#f4efe4", [(437, 461), (565, 462), (599, 464), (403, 465)]),
        ("brows", "hair", "#b9b4ae", [(401, 383), (600, 383)]),
        ("beard", "hair", "#cfcac2", [(588, 738), (613, 667)]),
        ("hair", "hair", "#b9b4ae", [(692, 418), (309, 418)]),
        ("lips", "skin", "#c07a68", [(501, 674)]),
        ("skin", "skin", "#c98f6b",
         [(501, 409), (386, 486), (550, 483), (314, 519), (502, 455), (686, 518), (402, 561),
          (598, 562), (500, 552)]),
        ("bobble", "matte cloth", "#e2c58a", [(530, 63)]),
        ("cap band", "matte cloth", "#e2c58a", [(689, 328)]),
        ("cap", "matte cloth", "#a8443a", [(465, 199), (535, 200)]),
        ("brooch", "metal", "#c9aa62", [(275, 880)]),
        ("brooch stone", "glass", "#5f9aa0", [(288, 895)]),
        ("bell", "metal", "#c39a4a", [(789, 1104), (799, 1161), (789, 1047)]),
        ("strap", "leather", "#6b4430", [(787, 1018)]),
        ("lapels", "sheen cloth", "#33465e", [(400, 965), (599, 974)]),
        ("shirt", "matte cloth", "#e6dcc6", [(523, 968), (482, 978)]),
        ("coat", "matte cloth", "#4a6583", [(633, 1190), (343, 1190), (529, 1200)]),
    ],
    light=Light(azimuth=140, height=40),
    background="#ece4dc",
    belongs={"bobble": "cap", "cap band": "cap", "brooch stone": "brooch", "lapels": "coat"},
    ink=Inking(on=True),
)

OWL = DemoPiece(
    title="Pim, courier owl",
    planned_minutes=35,
    draw=owl.draw,
    units=(1000, 0),
    parts=[
        ("glints", "wet", "#f7f3ea", [(411, 311), (588, 311)]),
        ("irises", "wet", "#e0a93a", [(363, 316), (556, 311)]),
        ("eyelids", "matte cloth", "#8f7460", [(341, 265), (654, 264)]),
        ("eye discs", "matte cloth", "#d9c196", [(330, 317), (522, 327)]),
        ("beak", "leather", "#d99a45", [(488, 372)]),
        ("head", "matte cloth", "#7c6656", [(458, 440), (501, 239), (514, 284), (487, 293)]),
        ("scarf", "matte cloth", "#b5473f", [(512, 525), (594, 648)]),
        ("buckle", "metal", "#c9aa62", [(652, 929)]),
        ("satchel", "leather", "#3f6b66", [(609, 867), (598, 958)]),
        ("strap", "leather", "#6b4430", [(457, 673)]),
        ("wings", "matte cloth", "#5f5666", [(703, 726), (297, 725)]),
        ("belly", "matte cloth", "#e0cfae", [(513, 624), (499, 927), (560, 569)]),
        ("body", "matte cloth", "#86705e", [(340, 893), (652, 551), (414, 574), (654, 799)]),
        ("feet", "leather", "#d3a05a",
         [(383, 1062), (417, 1061), (453, 1051), (542, 1056), (576, 1057), (613, 1050)]),
        ("tail", "matte cloth", "#4f4757", [(569, 1194), (429, 1194), (500, 1160)]),
        ("branch", "matte cloth", "#7c5d43", [(874, 1036), (677, 1088), (344, 1094)]),
    ],
    light=Light(azimuth=130, height=42),
    background="#dfe3e6",
    belongs={"buckle": "satchel", "strap": "satchel", "irises": "eye discs"},
    ink=Inking(shades=(InkShade(name="shade", style="crossed", follow="across", angle=60,
                                spacing=15, tone=0.5),)),
)

ROAD = replace(RUNNER, title="Nela Quill, the road home", looks=(), ink=Inking(on=True),
               scenery=RUNNER_SCENERY, moods=RUNNER_MOODS, drift={})

HOMECOMING = replace(OWL, title="Pim, homecoming", ink=Inking(on=True), scenery=OWL_SCENERY,
                     moods=OWL_MOODS, closed=True)

DEMO_PIECES = (RUNNER, WARDEN, OWL, ROAD, HOMECOMING)
