"""What can be configured, from the environment (YOUNG_COMET_*) or the command line."""

from __future__ import annotations

from pathlib import Path

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict


def default_data_dir() -> Path:
    """Where data lies where nobody says otherwise."""
    return Path.home() / ".local" / "share" / "young-comet"


class Config(BaseSettings):
    """``data`` is the one folder that is read and written."""

    model_config = SettingsConfigDict(env_prefix="YOUNG_COMET_")

    data: Path = Field(default_factory=default_data_dir)
    host: str = "127.0.0.1"
    port: int = Field(default=8765, ge=0, le=65535)
    max_upload_mb: int = Field(default=200, ge=1, le=4096)
    max_megapixels: int = Field(default=100, ge=1, le=400)
    render_processes: int = Field(default=2, ge=1, le=16)
    # Processes that draw frames for playback; 0: the server's own thread does.
    preview_processes: int = Field(default=2, ge=0, le=16)
    # What all processes together may take; caches are kept as small as it needs.
    memory_mb: int = Field(default=2048, ge=512, le=262_144)

    @property
    def processes(self) -> int:
        """The server, playback's and a render's processes."""
        return 1 + self.preview_processes + self.render_processes

    # Further Host names to answer to, e.g. when a trusted proxy stands in front.
    allowed_hosts: tuple[str, ...] = ()
