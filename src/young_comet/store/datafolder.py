"""One data folder opened: everything the program keeps lies below it."""

from __future__ import annotations

from pathlib import Path

from ..config import Config
from ..core.render import MediaLibrary
from ..edits.context import PictureContext
from .assets import AssetStore
from .database import Database
from .own_moves import OwnMoves
from .renders import RenderStore
from .workspace import Workspace


class DataFolder:
    """``young-comet.sqlite``, ``moves.json``, ``assets/`` and ``renders/`` below the configured
    folder."""

    def __init__(self, config: Config) -> None:
        self.path: Path = config.data
        self.path.mkdir(parents=True, exist_ok=True)
        self.assets_dir = self.path / "assets"
        self.renders_dir = self.path / "renders"
        self.renders_dir.mkdir(exist_ok=True)
        self.database = Database(self.path / "young-comet.sqlite")
        self.assets = AssetStore(
            self.assets_dir,
            max_bytes=config.max_upload_mb * 2**20,
            max_pixels=config.max_megapixels * 1_000_000,
        )
        context = PictureContext(MediaLibrary(self.assets, limit_bytes=16 * 2**20))
        self.workspace = Workspace(self.database, context)
        self.renders = RenderStore(self.database)
        self.own_moves = OwnMoves(self.path / "moves.json")

    def close(self) -> None:
        self.database.close()
