"""What an editor page may ask for over its WebSocket."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

Height = Annotated[int, Field(ge=0, le=8192)]
Moment = Annotated[float, Field(ge=0, le=3600, allow_inf_nan=False)]


class Message(BaseModel):
    """A message of the page."""

    model_config = ConfigDict(extra="forbid")


class Onion(Message):
    """How many states before and after, every so many frames."""

    before: Annotated[int, Field(ge=0, le=12)] = 3
    after: Annotated[int, Field(ge=0, le=12)] = 3
    step: Annotated[int, Field(ge=1, le=100)] = 2


class Looking(Message):
    """What is seen: ``only`` these layers (none named: all), the others away, or faint where the
    page ``dims``. ``height`` is the preview's short side in px (0: full size)."""

    height: Height = 540
    only: Annotated[list[Annotated[str, Field(max_length=64)]], Field(max_length=2000)] = []
    dims: bool = False


class Stage(Looking):
    """``drafts`` are edits that are shown but not saved; ``lanes`` and ``selected`` name
    layers, ``tall`` lanes as "LAYER|PROPERTY"; ``onion`` shows the selected layers' other
    moments, ``bare`` shows them without their effects, ``before`` ("LAYER|EFFECT") a layer as
    that effect is given it; ``writing`` is the text whose letters' places are asked for;
    ``moving``: a hand is still at it, so that a picture that takes long may come coarse."""

    type: Literal["stage"]
    id: int
    time_s: Moment
    drafts: list[dict[str, Any]] = []
    lanes: list[str] = []
    tall: list[str] = []
    selected: list[str] = []
    onion: Onion | None = None
    bare: bool = False
    moving: bool = False
    writing: Annotated[str, Field(max_length=64)] = ""
    before: Annotated[str, Field(max_length=200)] = ""


class Compare(Looking):
    """A second picture: another moment, or this moment before the last edit."""

    type: Literal["compare"]
    id: int
    with_: Annotated[Literal["moment", "before-edit"], Field(alias="with")]
    time_s: Moment


class Fill(Looking):
    """Frames ``first`` to ``first + count - 1``, wrapped at the working range's end, at a
    preview height."""

    type: Literal["fill"]
    id: int
    first: Annotated[int, Field(ge=0)]
    count: Annotated[int, Field(ge=0, le=5000)]


class Forget(Message):
    """The page has thrown playback pictures away."""

    type: Literal["forget"]
    signatures: list[str]


class FindMatch(Message):
    """Compares pictures over frames ``first`` to ``last`` (included).

    ``how`` layers: with layer ``one`` in place of ``other``; moment: every frame of this scene
    against frame ``number`` of ``scene``; loop: whether the stretch loops without a jump.
    """

    type: Literal["match"]
    id: int
    how: Literal["layers", "moment", "loop"]
    first: Annotated[int, Field(ge=0)]
    last: Annotated[int, Field(ge=0)]
    one: str = ""
    other: str = ""
    scene: str = ""
    number: Annotated[int, Field(ge=0)] = 0


class CancelMatch(Message):
    """The match finder is not wanted any more."""

    type: Literal["cancel-match"]


AnyAsked = Stage | Compare | Fill | Forget | FindMatch | CancelMatch
ASKED: TypeAdapter[AnyAsked] = TypeAdapter(Annotated[AnyAsked, Field(discriminator="type")])
