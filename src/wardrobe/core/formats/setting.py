"""A line of text set in any script: its order by the Unicode Bidirectional Algorithm (UAX #9,
python-bidi), its glyphs by HarfBuzz, its faces by what they hold."""

import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import uharfbuzz as hb
from bidi import algorithm

from wardrobe.core.formats.faces import Face, face_for, font_of

_ODD = 1  # levels at which text runs from right to left
_DEEPEST = 63  # brackets within each other (UAX #9, BD16)
# Scripts whose letters are neither joined nor moved.
_PLAIN = {"", "LATIN", "GREEK", "CYRILLIC", "ARMENIAN", "GEORGIAN", "CJK", "HIRAGANA", "KATAKANA",
          "HANGUL", "BOPOMOFO"}
_JOINERS = "\u200c\u200d"


@dataclass(frozen=True)
class Glyph:
    """A glyph and where it stands, in ems from where its run begins; y upwards."""

    number: int
    x: float
    y: float


@dataclass(frozen=True)
class Run:
    """A stretch of one face and direction.

    Attributes
    ----------
    text : str
        As it is read.
    face : Face
    backwards : bool
        From right to left.
    glyphs : tuple of Glyph
        From left to right.
    width : float
        Ems.
    plain : bool
        Its letters stand one after the other, as they are in the face.
    """

    text: str
    face: Face
    backwards: bool
    glyphs: tuple[Glyph, ...]
    width: float
    plain: bool


def is_backwards(text: str) -> bool:
    """Whether a text's first letter with a direction goes from right to left (UAX #9, P2, P3)."""
    return bool(algorithm.get_base_level(text) & _ODD)


@lru_cache(maxsize=4096)
def set_in_runs(text: str, bold: bool = False) -> tuple[Run, ...]:
    """The runs of a line, from left to right.

    Parameters
    ----------
    text : str
        As it is read; without breaks.
    bold : bool
    """
    faces = _faces(text, bold)
    return tuple(_shaped(part, faces[at], backwards)
                 for part, at, backwards in _visual(text, faces))


def width_of(text: str, bold: bool = False) -> float:
    """Ems that a line takes."""
    return sum(run.width for run in set_in_runs(text, bold))


def outline_of(face: Face, glyph: int) -> list[tuple[str, tuple[tuple[float, float], ...]]]:
    """A glyph's outline in ems: ``move``, ``line``, ``curve`` (cubic) and ``close``."""
    font = font_of(face)
    pen = _Pen(font.face.upem)
    font.draw_glyph_with_pen(glyph, pen)
    return pen.found


def _faces(text: str, bold: bool) -> list[Face]:
    """A face for each character; marks go with the letter that they stand on."""
    faces: list[Face] = []
    for character in text:
        follows = unicodedata.combining(character) or character in _JOINERS \
            or unicodedata.category(character) in ("Mn", "Mc", "Me", "Cf")
        if faces and (follows or character == " "):
            faces.append(faces[-1] if follows or 32 in faces[-1].held
                         else face_for(character, bold))
        else:
            faces.append(face_for(character, bold))
    return faces


def _visual(text: str, faces: list[Face]) -> Iterator[tuple[str, int, bool]]:
    """Stretches from left to right: the text as it is read, where it begins, its direction."""
    storage: dict[str, Any] = algorithm.get_empty_storage()
    level = algorithm.get_base_level(text)
    storage["base_level"], storage["base_dir"] = level, ("L", "R")[level]
    algorithm.get_embedding_levels(text, storage)
    for at, character in enumerate(storage["chars"]):
        character["at"] = at
    for rule in (algorithm.explicit_embed_and_overrides, algorithm.resolve_weak_types,
                 _resolve_brackets, algorithm.resolve_neutral_types,
                 algorithm.resolve_implicit_levels, algorithm.reorder_resolved_levels):
        rule(storage, False)
    run: list[int] = []
    last_level = 0
    for character in storage["chars"]:
        at, level = character["at"], character["level"]
        step = -1 if level & _ODD else 1
        if run and not (level == last_level and at == run[-1] + step and faces[at] == faces[run[-1]]
                        and _script(text[at]) in ("", _script(text[run[-1]]) or _script(text[at]))):
            yield _stretch(text, run, last_level)
            run = []
        run.append(at)
        last_level = level
    if run:
        yield _stretch(text, run, last_level)


def _resolve_brackets(storage: dict[str, Any], debug: bool) -> None:
    """Rule N0, which python-bidi lacks: brackets go with what they hold, or with what is before."""
    chars = storage["chars"]
    if len({c["level"] for c in chars}) > 1:
        return  # explicit embeddings: brackets are resolved like other neutral characters
    own = storage["base_dir"]
    kinds = ["R" if c["type"] in ("R", "EN", "AN") else c["type"] for c in chars]
    for begin, end in sorted(_pairs(chars)):
        inside = {kinds[k] for k in range(begin + 1, end)} & {"L", "R"}
        if not inside:
            continue
        before = next((kinds[k] for k in range(begin - 1, -1, -1) if kinds[k] in ("L", "R")), own)
        kind = own if own in inside else before
        for at in (begin, end):
            kinds[at] = chars[at]["type"] = kind
            for after in chars[at + 1:]:
                if after["orig"] != "NSM":
                    break
                after["type"] = kind


def _pairs(chars: list[dict[str, Any]]) -> Iterator[tuple[int, int]]:
    """Brackets that belong together (UAX #9, BD16)."""
    opened: list[tuple[str, int]] = []
    for at, character in enumerate(chars):
        ch = character["ch"]
        if character["type"] != "ON" or ch not in algorithm.MIRRORED:
            continue
        if unicodedata.category(ch) == "Ps":
            if len(opened) == _DEEPEST:
                return
            opened.append((algorithm.MIRRORED[ch], at))
        elif unicodedata.category(ch) == "Pe":
            for k in range(len(opened) - 1, -1, -1):
                if opened[k][0] == ch:
                    yield opened[k][1], at
                    del opened[k:]
                    break


def _stretch(text: str, run: list[int], level: int) -> tuple[str, int, bool]:
    begin, end = min(run), max(run)
    return text[begin:end + 1], begin, bool(level & _ODD)


def _script(character: str) -> str:
    """The script of a letter, roughly: the first word of its Unicode name."""
    return unicodedata.name(character, "").split(" ")[0] if character.isalpha() else ""


def _shaped(text: str, face: Face, backwards: bool) -> Run:
    font = font_of(face)
    ems = 1 / font.face.upem
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.direction = "rtl" if backwards else "ltr"
    buffer.guess_segment_properties()
    buffer.direction = "rtl" if backwards else "ltr"
    hb.shape(font, buffer)
    glyphs, x = [], 0.0
    for info, at in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        glyphs.append(Glyph(info.codepoint, x + at.x_offset * ems, at.y_offset * ems))
        x += at.x_advance * ems
    plain = not backwards and all(_script(c) in _PLAIN and unicodedata.category(c)[0] != "M"
                                  for c in text)
    return Run(text, face, backwards, tuple(glyphs), x, plain)


class _Pen:
    """Takes down an outline."""

    def __init__(self, upem: int) -> None:
        self._ems = 1 / upem
        self._last = (0.0, 0.0)
        self.found: list[tuple[str, tuple[tuple[float, float], ...]]] = []

    def moveTo(self, to: tuple[float, float]) -> None:  # noqa: N802
        self._note("move", to)

    def lineTo(self, to: tuple[float, float]) -> None:  # noqa: N802
        self._note("line", to)

    def curveTo(self, *points: tuple[float, float]) -> None:  # noqa: N802
        self._note("curve", *points)

    def qCurveTo(self, by: tuple[float, float], to: tuple[float, float]) -> None:  # noqa: N802
        """A quadratic curve as the cubic one that it is."""
        (x0, y0), (x1, y1), (x2, y2) = self._last, by, to
        self._note("curve", (x0 + 2 / 3 * (x1 - x0), y0 + 2 / 3 * (y1 - y0)),
                   (x2 + 2 / 3 * (x1 - x2), y2 + 2 / 3 * (y1 - y2)), to)

    def closePath(self) -> None:  # noqa: N802
        self.found.append(("close", ()))

    def _note(self, what: str, *points: tuple[float, float]) -> None:
        self._last = points[-1]
        self.found.append((what, tuple((x * self._ems, y * self._ems) for x, y in points)))
