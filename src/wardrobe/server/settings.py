"""Settings, read from environment variables that start with WARDROBE_."""

from dataclasses import replace
from ipaddress import ip_address
from pathlib import Path

from pydantic import Field, field_validator
from pydantic_settings import BaseSettings, SettingsConfigDict

from wardrobe.core.formats.limits import ImageLimits, StackLimits
from wardrobe.server.memory import machine_memory


class Settings(BaseSettings):
    """Where data lies and what is accepted.

    ``host`` is a loopback address: the application has no accounts and is not meant to be
    reached from other machines. ``memory_bytes`` is the ceiling for caches and work together, a
    quarter of the machine's memory if it is not given. ``artefact_bytes`` is the room on the
    disk for what was worked out of pieces, which may be deleted at any time. ``read_seconds`` is
    the processor time that reading a picture from outside may take; an archive may take twice
    that, a layered file six times.
    """

    model_config = SettingsConfigDict(env_prefix="WARDROBE_")

    data_dir: Path = Path("data")
    host: str = "127.0.0.1"
    port: int = 8610
    longest_edge: int = 12_000
    most_pixels: int = 80_000_000
    most_file_bytes: int = 64 * 1024 * 1024
    most_stack_bytes: int = 256 * 1024 * 1024
    most_json_bytes: int = 8 * 1024 * 1024
    memory_bytes: int = Field(default_factory=lambda: max(2 * 10**9, machine_memory() // 4),
                              ge=10**9)
    artefact_bytes: int = Field(default=2 * 10**9, ge=0)
    read_seconds: float = Field(default=5.0, gt=0)

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

    @property
    def stack_limits(self) -> StackLimits:
        """Limits for layered files: all their layers fit into the memory that work may have."""
        limits = StackLimits(replace(self.limits, shortest_edge=1))
        return replace(limits, pixels=min(limits.pixels, self.memory_bytes // 12))
