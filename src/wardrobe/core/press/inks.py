"""From colours to inks, and how inks look."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms

from wardrobe.core.press.profile import Profile, transform

Byte = NDArray[np.uint8]

FULL = 255 / 100  # levels a percent of ink


@dataclass(frozen=True)
class Press:
    """How pictures are printed.

    Attributes
    ----------
    profile : Profile
    intent : str
        ICC.1:2010, section 4: perceptual, relative, saturation or absolute.
    black_point : bool
        Black point compensation (ISO 18619).
    most_ink : float, 0..400
        Percent of all inks together that the paper takes.
    """

    profile: Profile
    intent: str = "relative"
    black_point: bool = True
    most_ink: float = 300.0


def to_inks(rgb: Byte, press: Press) -> Byte:
    """The inks that print a picture.

    Parameters
    ----------
    rgb : ndarray of uint8, shape (height, width, 3)
        sRGB.
    press : Press

    Returns
    -------
    ndarray of uint8, shape (height, width, 4)
        Cyan, magenta, yellow, black; 255 is all of an ink.
    """
    how = transform(press.profile, "inks", press.intent, press.black_point)
    inks = _through(rgb, "RGB", how)
    return limited(inks, press.most_ink)


def limited(inks: Byte, most: float) -> Byte:
    """Inks of which there is nowhere more than the paper takes: black stays, the others give way
    alike, as Little CMS limits inks (``cmsCreateInkLimitingDeviceLink``).

    Parameters
    ----------
    inks : ndarray of uint8, shape (..., 4)
    most : float
        Percent of all inks together.
    """
    total = inks.sum(axis=-1, dtype=np.uint16)
    over = total > most * FULL
    if not over.any():
        return inks
    out = inks.copy()
    wet = inks[over].astype(np.float64)
    colour = wet[:, :3].sum(axis=1)
    kept = np.clip((most * FULL - wet[:, 3]) / np.maximum(colour, 1), 0, 1)
    wet[:, :3] *= kept[:, None]
    out[over] = np.floor(np.minimum(wet, most * FULL)).astype(np.uint8)
    return out


def total_ink(inks: Byte) -> float:
    """The most ink that lies anywhere, percent.

    Parameters
    ----------
    inks : ndarray of uint8, shape (..., 4)
    """
    return float(inks.sum(axis=-1, dtype=np.uint16).max(initial=0)) / FULL


def to_screen(inks: Byte, profile: Profile, paper: bool = False) -> Byte:
    """How printed inks look, sRGB.

    Parameters
    ----------
    inks : ndarray of uint8, shape (height, width, 4)
    profile : Profile
    paper : bool
        Show the paper's own colour and its weaker black; without it both are taken as white and
        black, as eyes do that see nothing else.
    """
    intent, black = ("absolute", False) if paper else ("relative", True)
    return _through(inks, "CMYK", transform(profile, "screen", intent, black))


def measured(inks: Byte, profile: Profile) -> Byte:
    """The sRGB colours that are as far from white as the inks are from the paper, none of them
    darkened or lightened to make up for the press's black; shape (height, width, 3)."""
    return _through(inks, "CMYK", transform(profile, "screen", "relative", False))


def proof(rgb: Byte, press: Press, paper: bool = False) -> Byte:
    """How a picture will look printed, as far as a screen can show that: simulated.

    Parameters
    ----------
    rgb : ndarray of uint8, shape (height, width, 3)
    press : Press
    paper : bool
        As for :func:`to_screen`.
    """
    return to_screen(to_inks(rgb, press), press.profile, paper)


def _through(pixels: Byte, mode: str, how: ImageCms.ImageCmsTransform) -> Byte:
    image = Image.frombuffer(mode, pixels.shape[1::-1], np.ascontiguousarray(pixels), "raw", mode,
                             0, 1)
    done = ImageCms.applyTransform(image, how)
    assert done is not None
    return np.asarray(done)
