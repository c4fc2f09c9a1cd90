"""Faces that text is set in: those that ship, then those of the system, by what they hold.

The shipped ones are Instrument Sans (SIL Open Font License) for Latin, and DejaVu Sans (Bitstream
Vera licence) for most alphabets, Arabic and Hebrew among them. East and South Asian scripts come
from the system, by fontconfig where it is installed.
"""

import shutil
import subprocess
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path

import uharfbuzz as hb

_FONTS = Path(__file__).parent / "fonts"
_SHIPPED = {False: ("InstrumentSans-Regular", "DejaVuSans"),
            True: ("InstrumentSans-SemiBold", "DejaVuSans-Bold")}
_FOLDERS = ("/usr/share/fonts", "/usr/local/share/fonts", "~/.fonts", "~/.local/share/fonts",
            "/Library/Fonts", "/System/Library/Fonts", "C:/Windows/Fonts")
_MOST_FILES = 400  # that are looked into where there is no fontconfig
_SECONDS = 5.0


@dataclass(frozen=True)
class Face:
    """A font file, or one of the fonts in it.

    Attributes
    ----------
    path : Path
    index : int
        Of the font in a collection.
    held : frozenset of int
        Code points.
    """

    path: Path
    index: int = 0
    held: frozenset[int] = field(default=frozenset(), compare=False, repr=False)

    @property
    def name(self) -> str:
        """By which a PDF knows it."""
        return f"{self.path.stem}-{self.index}" if self.index else self.path.stem

    @property
    def outlined(self) -> bool:
        """Whether its glyphs are TrueType outlines, which a PDF can hold as a font."""
        with self.path.open("rb") as file:
            return file.read(4) in (b"\x00\x01\x00\x00", b"true")


@lru_cache(maxsize=64)
def font_of(face: Face) -> hb.Font:
    """A face as HarfBuzz has it."""
    return hb.Font(hb.Face(hb.Blob.from_file_path(str(face.path)), face.index))


@lru_cache(maxsize=2)
def shipped(bold: bool) -> tuple[Face, ...]:
    """The faces that ship, the usual one first."""
    found = [_opened(_FONTS / f"{name}.ttf", 0) for name in _SHIPPED[bold]]
    return tuple(face for face in found if face is not None)


@lru_cache(maxsize=4096)
def face_for(character: str, bold: bool) -> Face:
    """The first face that holds a character; the usual one if none does."""
    code = ord(character)
    for face in (*shipped(bold), *_known):
        if code in face.held:
            return face
    for path, index in _of_system(character, bold):
        found = _opened(path, index)
        if found is not None and code in found.held:
            _known.append(found)
            return found
    return shipped(bold)[0]


_known: list[Face] = []  # faces of the system that were needed before


@lru_cache(maxsize=512)
def _opened(path: Path, index: int) -> Face | None:
    try:
        held = frozenset(hb.Face(hb.Blob.from_file_path(str(path)), index).unicodes)
    except (OSError, ValueError, hb.HarfBuzzError):
        return None
    return Face(path, index, held) if held else None


def _of_system(character: str, bold: bool) -> Iterator[tuple[Path, int]]:
    """Fonts that may hold a character, the best first."""
    if unicodedata.category(character) in ("Cc", "Co", "Cn", "Cs"):
        return
    told = _by_fontconfig(character, bold)
    if told is not None:
        yield told
        return
    for path in _all_files():
        yield path, 0


def _by_fontconfig(character: str, bold: bool) -> tuple[Path, int] | None:
    tool = shutil.which("fc-match")
    if tool is None:
        return None
    weight = "bold" if bold else "regular"
    try:
        said = subprocess.run(  # noqa: S603 - what it is asked for is a number
            [tool, "-f", "%{file}\t%{index}", f"sans:weight={weight}:charset={ord(character):x}"],
            capture_output=True, text=True, timeout=_SECONDS, check=True).stdout
        path, index = said.split("\t")
        return Path(path), int(index) & 0xFFFF  # the upper half names an instance
    except (OSError, ValueError, subprocess.SubprocessError):
        return None


@lru_cache(maxsize=1)
def _all_files() -> tuple[Path, ...]:
    found = (path for folder in _FOLDERS for path in sorted(Path(folder).expanduser().rglob("*"))
             if path.suffix.lower() in (".ttf", ".otf", ".ttc"))
    return tuple(path for path, _ in zip(found, range(_MOST_FILES), strict=False))
