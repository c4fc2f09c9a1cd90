"""The sRGB colour profile that files carry."""

from functools import lru_cache

from PIL import ImageCms

_DATE, _IDENTITY = slice(24, 36), slice(84, 100)  # fields of the header


@lru_cache
def srgb_profile() -> bytes:
    """An ICC profile of sRGB that is the same on every day.

    References
    ----------
    ICC.1:2010, section 7.2 (header); IEC 61966-2-1 (sRGB). Little CMS writes the time of day into
    the profile, which is set to a fixed one, and leaves the identity to be computed by readers.
    """
    profile = bytearray(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    profile[_DATE] = bytes([0x07, 0xE8, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0])
    profile[_IDENTITY] = bytes(16)
    return bytes(profile)
