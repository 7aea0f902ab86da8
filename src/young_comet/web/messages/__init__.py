"""What an open page and the server say to each other over a WebSocket."""

from .asked import ASKED, AnyAsked, CancelMatch, Compare, Fill, FindMatch, Forget, Onion, Stage
from .told import (
    AnyTold,
    AssetFound,
    Compared,
    Edited,
    Filled,
    FrameShown,
    Matched,
    Problem,
    RenderMoved,
    StageShown,
    Told,
    live_schema,
    pack,
)

__all__ = [
    "ASKED",
    "AnyAsked",
    "AnyTold",
    "AssetFound",
    "CancelMatch",
    "Compare",
    "Compared",
    "Edited",
    "Fill",
    "Filled",
    "FindMatch",
    "Forget",
    "FrameShown",
    "Matched",
    "Onion",
    "Problem",
    "RenderMoved",
    "Stage",
    "StageShown",
    "Told",
    "live_schema",
    "pack",
]
