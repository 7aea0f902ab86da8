"""Projects, history, assets and render records on disk."""

from .archive import read_archive, write_archive
from .assets import AssetStore, asset_media_type
from .database import Database
from .datafolder import DataFolder
from .doctor import Finding, examined
from .renders import RenderRecord, RenderStore
from .saved import Change, ProjectState, ProjectSummary, Unsound
from .workspace import Workspace

__all__ = [
    "AssetStore",
    "Change",
    "DataFolder",
    "Database",
    "Finding",
    "ProjectState",
    "ProjectSummary",
    "RenderRecord",
    "RenderStore",
    "Unsound",
    "Workspace",
    "asset_media_type",
    "examined",
    "read_archive",
    "write_archive",
]
