"""What a page is told over its WebSocket.

A message with a picture is binary: a 4-byte big-endian length, that many bytes of JSON (one of the
models here), then a JPEG, or RGBA bytes where ``raw`` gives their width and height. All others are
texts of JSON.
"""

from __future__ import annotations

import json
import struct
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from .asked import AnyAsked

Signature = Annotated[str, Field(description="equal signatures mean equal pixels")]


class Told(BaseModel):
    """One message to a page."""

    model_config = ConfigDict(extra="forbid")

    def data(self) -> dict[str, Any]:
        """Its JSON form, without what is not said."""
        return {name: value for name, value in self.__dict__.items() if value is not None}


class StageShown(Told):
    """The stage at a moment, with a picture. ``layers`` tells of each layer what is drawn over
    it, ``shapes`` the editable paths of the selected ones; ``lanes`` and ``paths`` come when they
    have changed (a lane that the page has is only named, as ``same``). ``letters`` are those of the
    text that is written in, ``arrangements`` where the scene has some, as their view tells.
    ``coarse``: the picture has
    fewer pixels than were asked for."""

    type: Literal["stage"] = "stage"
    id: int
    revision: int
    frame: int
    time_s: float
    signature: Signature
    layers: dict[str, Any]
    shapes: dict[str, list[dict[str, Any]]]
    arrangements: dict[str, Any] | None = None
    lanes: list[dict[str, Any]] | None = None
    paths: dict[str, Any] | None = None
    faults: list[dict[str, Any]] = []
    coarse: bool = False
    letters: dict[str, Any] | None = None
    raw: tuple[int, int] | None = None


class Compared(Told):
    """A second picture to lay beside the stage's."""

    type: Literal["compare"] = "compare"
    id: int
    frame: int
    raw: tuple[int, int] | None = None


class FrameShown(Told):
    """A frame for playback: with its picture, or only named where the page has it already."""

    type: Literal["frame"] = "frame"
    id: int
    frame: int
    signature: Signature = ""


class Filled(Told):
    """All frames of a fill have been sent; or why not."""

    type: Literal["filled"] = "filled"
    id: int
    error: str | None = None


class Matched(Told):
    """How far a search for a match is, what it found, or why it found nothing."""

    type: Literal["match"] = "match"
    id: int
    how: Literal["layers", "moment", "loop"] | None = None
    done: int | None = None
    total: int | None = None
    left_s: float | None = None
    first: int | None = None
    values: list[float | None] | None = None
    best: list[dict[str, float]] | None = None
    loop: dict[str, Any] | None = None
    error: str | None = None


class Edited(Told):
    """A change of the project, whoever made it: an RFC 6902 patch from the revision before."""

    type: Literal["edited"] = "edited"
    revision: int
    patch: list[dict[str, Any]]
    label: str
    undo_label: str | None
    redo_label: str | None

    def data(self) -> dict[str, Any]:
        """All of it: that nothing is left to undo is said too."""
        return dict(self.__dict__)


class RenderMoved(Told):
    """How far a render is."""

    type: Literal["render"] = "render"
    render: dict[str, Any]


class AssetFound(Told):
    """A file that was missing is there again."""

    type: Literal["asset-found"] = "asset-found"
    asset: str


class Problem(Told):
    """A message that could not be answered, in words; ``id`` is that of what was asked."""

    type: Literal["error"] = "error"
    message: str
    id: int | None = None


AnyTold = (
    StageShown | Compared | FrameShown | Filled | Matched | Edited | RenderMoved | AssetFound
    | Problem
)  # fmt: skip


def pack(message: Told, picture: bytes) -> bytes:
    """A message with its picture."""
    text = json.dumps(message.data(), separators=(",", ":")).encode()
    return struct.pack(">I", len(text)) + text + picture


def live_schema() -> dict[str, Any]:
    """JSON Schema of the messages in both directions."""
    asked: TypeAdapter[Any] = TypeAdapter(Annotated[AnyAsked, Field(discriminator="type")])
    told: TypeAdapter[Any] = TypeAdapter(Annotated[AnyTold, Field(discriminator="type")])
    return {
        "asked": asked.json_schema(),
        "told": told.json_schema(mode="serialization"),
    }
