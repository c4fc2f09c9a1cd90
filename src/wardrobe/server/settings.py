"""Settings, read from environment variables that start with WARDROBE_."""

from ipaddress import ip_address
from pathlib import Path

from pydantic import field_validator
from pydantic_settings import BaseSettings, SettingsConfigDict

from wardrobe.core.formats.limits import ImageLimits


class Settings(BaseSettings):
    """Where data lies and what is accepted.

    ``host`` is a loopback address: the application has no accounts and is not meant to be
    reached from other machines.
    """

    model_config = SettingsConfigDict(env_prefix="WARDROBE_")

    data_dir: Path = Path("data")
    host: str = "127.0.0.1"
    port: int = 8610
    longest_edge: int = 12_000
    most_pixels: int = 80_000_000
    most_file_bytes: int = 64 * 1024 * 1024
    most_stack_bytes: int = 256 * 1024 * 1024
    cache_bytes: int = 2_000_000_000

    @field_validator("host")
    @classmethod
    def _loopback_only(cls, host: str) -> str:
        if not ip_address(host).is_loopback:
            raise ValueError("the application listens on a loopback address only")
        return host

    @property
    def limits(self) -> ImageLimits:
        """Limits for uploaded pictures."""
        return ImageLimits(longest_edge=self.longest_edge, pixels=self.most_pixels,
                           file_bytes=self.most_file_bytes)
