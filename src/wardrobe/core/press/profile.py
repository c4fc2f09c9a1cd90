"""ICC profiles of presses."""

import io
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from PIL import ImageCms

from wardrobe.core.errors import WardrobeError

MOST_BYTES = 24 * 1024 * 1024
_SIGNATURE = slice(36, 40)  # of the header: ICC.1:2010, section 7.2
COATED_NAME = "Coated paper, offset"


class ProfileError(WardrobeError):
    """A file is no profile that can be printed by."""

    title = "This profile cannot be used"


@dataclass(frozen=True)
class Profile:
    """A press: the bytes of its ICC profile, and what it is called."""

    data: bytes
    name: str


def looks_like_profile(data: bytes) -> bool:
    """Whether the bytes begin as an ICC profile does."""
    return data[_SIGNATURE] == b"acsp"


def read_profile(data: bytes) -> Profile:
    """Read the profile of a press.

    Raises
    ------
    ProfileError
        If it is none, is damaged, or is not for four inks.
    """
    if len(data) > MOST_BYTES:
        raise ProfileError(f"The profile has {len(data) / 1e6:.0f} MB; at most "
                           f"{MOST_BYTES / 1e6:.0f} are read.")
    if not looks_like_profile(data):
        raise ProfileError("This is not an ICC profile. Ask the print shop for the profile of its "
                           "press: a file that ends in .icc or .icm.")
    try:
        opened = ImageCms.ImageCmsProfile(io.BytesIO(data)).profile
        space, kind = opened.xcolor_space.strip(), opened.device_class
        name = (opened.profile_description or "").strip()
    except (ImageCms.PyCMSError, OSError, ValueError) as error:
        raise ProfileError("The profile is damaged and cannot be read.") from error
    if space != "CMYK" or kind != "prtr":
        raise ProfileError(f"This profile is for {space or 'an unknown space'}, and not for the "
                           "four inks of a press. Choose an output profile for CMYK.")
    profile = Profile(data, " ".join(name.split())[:120] or "Unnamed profile")
    for way in ("inks", "screen"):
        transform(profile, way, "relative", True)  # both ways are there
    return profile


@lru_cache
def coated() -> Profile:
    """The press that ships with Wardrobe: made by Argyll's colprof from the measurements
    FOGRA39L (offset, coated paper, ISO 12647-2) of Debian's icc-profiles-free."""
    return Profile(Path(__file__).with_name("coated.icc").read_bytes(), COATED_NAME)


INTENTS: dict[str, ImageCms.Intent] = {
    "perceptual": ImageCms.Intent.PERCEPTUAL,
    "relative": ImageCms.Intent.RELATIVE_COLORIMETRIC,
    "saturation": ImageCms.Intent.SATURATION,
    "absolute": ImageCms.Intent.ABSOLUTE_COLORIMETRIC}


@lru_cache(maxsize=32)
def transform(profile: Profile, way: str, intent: str,
              black_point: bool) -> ImageCms.ImageCmsTransform:
    """Little CMS's way between sRGB and the inks of a press.

    Parameters
    ----------
    way : {"inks", "screen"}
    intent : str
        Of INTENTS.
    black_point : bool
        Compensate for the black point: the darkest of one becomes the darkest of the other.
    """
    try:
        press = ImageCms.ImageCmsProfile(io.BytesIO(profile.data))
        srgb = ImageCms.createProfile("sRGB")
        flags = ImageCms.Flags.BLACKPOINTCOMPENSATION if black_point else ImageCms.Flags.NONE
        if way == "inks":
            return ImageCms.buildTransform(srgb, press, "RGB", "CMYK", INTENTS[intent], flags)
        return ImageCms.buildTransform(press, srgb, "CMYK", "RGB", INTENTS[intent], flags)
    except (ImageCms.PyCMSError, OSError, ValueError) as error:
        raise ProfileError("The profile lacks what is needed to print by it: a way from colours "
                           "to inks, and back.") from error
