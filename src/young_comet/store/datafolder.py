"""One data folder opened: everything the program keeps lies below it."""

from __future__ import annotations

import shutil
from contextlib import suppress
from pathlib import Path

from ..config import Config
from ..core.paint import MediaLibrary
from ..edits.context import PictureContext
from ..errors import StorageError
from .assets import AssetStore
from .database import Database
from .holding import Holding
from .own_moves import OwnMoves
from .renders import RenderStore
from .thumbnails import Thumbnails
from .trouble import told
from .workspace import Workspace


class DataFolder:
    """``young-comet.sqlite``, ``moves.json``, ``assets/``, ``renders/`` and ``thumbnails/`` below
    the configured folder, and ``holder.json``, which tells who writes into it.

    One program at a time holds a folder; HeldError says which. With ``writing`` False a folder
    that is held can be read all the same, but not changed. Nothing in it is touched before it is
    held; then what a killed program left half done is removed (``tidy``). StorageError says what
    is wrong with it.
    """

    def __init__(
        self, config: Config, *, writing: bool = True, what: str = "", tidy: bool = True
    ) -> None:
        self.path: Path = config.data
        with told(self.path):
            self.path.mkdir(parents=True, exist_ok=True)
        self.holding: Holding | None = None
        try:
            self.holding = Holding(self.path, what)
        except StorageError:
            if writing:
                raise
        try:
            self._open(config, tidy)
        except BaseException:
            if self.holding is not None:
                self.holding.close()
            raise

    def _open(self, config: Config, tidy: bool) -> None:
        self.assets_dir = self.path / "assets"
        self.renders_dir = self.path / "renders"
        self.thumbnails_dir = self.path / "thumbnails"
        held = self.holding is not None
        if held:
            with told(self.renders_dir):
                self.renders_dir.mkdir(exist_ok=True)
                if tidy:
                    self._tidy()
        self.database = Database(self.path / "young-comet.sqlite", writing=held and tidy)
        self.assets = AssetStore(
            self.assets_dir,
            max_bytes=config.max_upload_mb * 2**20,
            max_pixels=config.max_megapixels * 1_000_000,
        )
        self.workspace = Workspace(
            self.database,
            lambda: PictureContext(MediaLibrary(self.assets, limit_bytes=16 * 2**20)),
        )
        self.renders = RenderStore(self.database)
        self.own_moves = OwnMoves(self.path / "moves.json")
        self.thumbnails = Thumbnails(self.thumbnails_dir)

    def leftovers(self) -> list[Path]:
        """What a program that was killed has left half done: nothing needs it."""
        found = [*self.renders_dir.glob(".render-*"), *self.assets_dir.glob("*/.part-*")]
        return [
            *found,
            *self.thumbnails_dir.glob("*/.part-*"),
            *self.path.glob(".part-*"),
            *self.path.glob("*.new"),
        ]

    def _tidy(self) -> None:
        for path in self.leftovers():
            if path.is_dir():
                shutil.rmtree(path, ignore_errors=True)
            else:
                path.unlink(missing_ok=True)

    def close(self) -> None:
        """Gives the folder back."""
        with suppress(StorageError):
            self.workspace.close()
        self.database.close()
        if self.holding is not None:
            self.holding.close()
