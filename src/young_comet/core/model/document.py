"""The document as it is saved. All models are frozen: an edit builds new ones.

Times are seconds; a keyframe's time counts from its layer's start. Property values are kept in
their JSON form and checked against the catalog's declarations on loading and on every edit.
"""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from ..timing import Rate
from .arrangements import MAX_ARRANGEMENTS, Arrangement
from .kinds.base import MAX_TEXT
from .property import Property
from .values import (
    MAX_LENGTH_S,
    MAX_NAME,
    MAX_NOTE,
    Colour,
    Frozen,
    Id,
    Name,
    PhaseLength,
    Seconds,
    Tags,
    Value,
)

SCHEMA_VERSION = 7


class Member(Frozen):
    """Something that a layer has: a record with an id, of a family of the catalog."""

    id: Id


class Mask(Member):
    """A path on a layer; masks are joined from the first to the last.

    Its path, place, feather and so on are properties of the layer with the ids ``mask.ID.NAME``.
    ``space`` says whose space the path lies in: the layer's own, the scene's, or that of the
    layer which the mask ``follows``. A half plane has no path: its edge is the line through its
    position, its rotation tells where the kept side is. ``colour`` is that of its outline on
    the stage. One that ``joins`` others reaches half a pixel of the picture further, whatever
    its size, so that no seam shows between them.
    """

    name: Name
    form: Literal["path", "half-plane"] = "path"
    mode: Literal["union", "minus", "intersect", "exclude"] = "union"
    inverted: bool = False
    on: bool = True
    space: Literal["layer", "scene", "follow"] = "layer"
    follows: Id | None = None
    colour: Colour = "#7fd4e8"
    joins: bool = False


class Part(Member):
    """One path of a drawn shape with a fill and a stroke of its own: properties of the layer
    with the ids ``part.ID.NAME``."""

    name: Name
    on: bool = True


class Effect(Member):
    """A step of a layer's effects; its parameters are properties ``effect.ID.NAME``."""

    kind: str
    name: Annotated[str, Field(max_length=MAX_NAME)] = ""
    on: bool = True


class Move(Member):
    """A ready-made animation that a layer wears in one of its phases, on top of its own keys; its
    parameters are properties ``move.ID.NAME``."""

    kind: str
    phase: Literal["arrive", "dwell", "leave"]
    on: bool = True


class Transition(Member):
    """How the layer ``before`` gives way to the one that has this, where the one ends and the other
    begins. It takes ``length_s`` about that moment; its parameters are properties
    ``transition.ID.NAME``. ``pairs`` corrects which layers of two scenes are each other's
    counterparts where it is matched: of the first, of the second, or none ("")."""

    kind: str
    before: Id | None
    length_s: Annotated[float, Field(gt=0, le=60, allow_inf_nan=False)] = 1.0
    on: bool = True
    pairs: Annotated[tuple[tuple[Id, Id | Literal[""]], ...], Field(max_length=2000)] = ()


class Run(Member):
    """A stretch of a text with letters and paint of its own: the characters from ``first`` until
    before ``last``. Its properties are ``run.ID.NAME``; what is not set is as in the whole text."""

    first: Annotated[int, Field(ge=0, le=MAX_TEXT)]
    last: Annotated[int, Field(ge=1, le=MAX_TEXT)]
    on: bool = True

    @model_validator(mode="after")
    def _rising(self) -> Run:
        if self.last <= self.first:
            raise ValueError("a run must end after it begins")
        return self


class Axis(Member):
    """An axis of the typeface of a text, by its tag of four letters; its value is the property
    ``axis.ID.value``. Weight, width, slant and optical size are properties of the text itself."""

    tag: Annotated[str, Field(pattern=r"^[A-Za-z0-9]{4}$")]
    on: bool = True


class Front(Member):
    """A spread over the units of a text: what it has reached is at rest, what it has not is
    displaced. Its properties are ``front.ID.NAME``."""

    name: Annotated[str, Field(max_length=MAX_NAME)] = ""
    on: bool = True


class Tie(Frozen):
    """A moment that another one hangs on, and the distance from it in seconds.

    Of a layer: its start, the moment at which it has arrived, at which it begins to leave, its
    end. Of the scene: its start or end; of an arrangement: where its hold begins or ends. A mark
    has but one.
    """

    to: Literal["layer", "mark", "scene", "arrangement"]
    id: Id | None = None
    moment: Literal["start", "arrived", "leaves", "end"] = "start"
    offset_s: Seconds = 0.0


class Layer(Frozen):
    """One item of the stack. ``properties`` holds only what differs from the default, also of
    its parts (the paths of a drawing, the lowest first), masks and effects, which are worked
    through in their order, and of the runs of a text. A layer that ``rides`` on another has its
    place in that layer's space. ``arrive_s`` and ``leave_s`` are how long it takes to arrive and to
    leave; with ``arrive_follows`` and ``leave_follows`` operations keep them as long as the moves
    of the phase take. ``transitions`` is how it takes over from another layer, at most one. Start
    and end may be tied to other moments (``ties.settle`` keeps them there). ``slots`` are what a
    scene layer sets of its inner scene, by the ids of its slots; those in ``slot_specs`` are
    properties (``slot.ID``) that may have keys and expressions, declared as FAMILY/KIND/PROPERTY
    says. A text may wear a ``type_style`` of the project: its values are the text's own, which
    differ where the artist has said so. A linked copy (``copy_of``) shares properties with its
    original but for its ``own`` ones (``linked.settle_copies``)."""

    id: Id
    name: Name
    kind: str
    start_s: Seconds
    end_s: Seconds
    arrive_s: PhaseLength = 0.0
    leave_s: PhaseLength = 0.0
    arrive_follows: bool = False
    leave_follows: bool = False
    start_tie: Tie | None = None
    end_tie: Tie | None = None
    hidden: bool = False
    locked: bool = False
    group: Id | None = None
    rides: Id | None = None
    copy_of: Id | None = None
    own: Annotated[tuple[str, ...], Field(max_length=4000)] = ()
    type_style: Id | None = None
    slots: dict[Id, Value] = Field(default_factory=dict)
    slot_specs: dict[Id, Annotated[str, Field(max_length=300)]] = Field(default_factory=dict)
    parts: Annotated[tuple[Part, ...], Field(max_length=400)] = ()
    masks: Annotated[tuple[Mask, ...], Field(max_length=100)] = ()
    effects: Annotated[tuple[Effect, ...], Field(max_length=100)] = ()
    moves: Annotated[tuple[Move, ...], Field(max_length=60)] = ()
    transitions: Annotated[tuple[Transition, ...], Field(max_length=1)] = ()
    axes: Annotated[tuple[Axis, ...], Field(max_length=30)] = ()
    runs: Annotated[tuple[Run, ...], Field(max_length=400)] = ()
    fronts: Annotated[tuple[Front, ...], Field(max_length=60)] = ()
    properties: dict[str, Property] = Field(default_factory=dict)


class Group(Frozen):
    """A named fold of layers: selected and moved in time together."""

    id: Id
    name: Name


class RateModel(Frozen):
    """A frame rate as a fraction."""

    num: Annotated[int, Field(gt=0, le=240_000)]
    den: Annotated[int, Field(gt=0, le=1001)] = 1

    @property
    def rate(self) -> Rate:
        """The rate as the timebase counts."""
        return Rate(self.num, self.den)


class Mark(Frozen):
    """A named time in a scene, with a ``note`` of what is to be done there."""

    id: Id
    name: Name
    note: Annotated[str, Field(max_length=MAX_NOTE)] = ""
    time_s: Annotated[float, Field(ge=0, le=MAX_LENGTH_S, allow_inf_nan=False)]
    tie: Tie | None = None


class Slot(Frozen):
    """Something of a scene that each place of use may set by itself: a property of one of its
    layers, or an ink."""

    id: Id
    name: Name
    layer: Id | None = None
    property: Annotated[str, Field(max_length=200)] | None = None
    ink: Id | None = None


class Shutter(Frozen):
    """Motion blur: whether layers have it unless they say otherwise, how long the shutter is
    open (360 degrees is one frame) and when: before, centred on or after the frame's own moment,
    or from ``offset_deg`` on, counted from that moment, where it opens at "degrees"."""

    on: bool = False
    angle_deg: Annotated[float, Field(ge=1, le=720, allow_inf_nan=False)] = 180.0
    opens: Literal["before", "centred", "after", "degrees"] = "centred"
    offset_deg: Annotated[float, Field(ge=-720, le=720, allow_inf_nan=False)] = -90.0

    @model_validator(mode="before")
    @classmethod
    def _by_its_angle(cls, data: Any) -> Any:
        """An angle without a word is meant."""
        if isinstance(data, dict) and "offset_deg" in data and "opens" not in data:
            return {**data, "opens": "degrees"}
        return data

    @property
    def opens_deg(self) -> float:
        """When it opens, from the frame's own moment on."""
        at = {"before": -self.angle_deg, "centred": -self.angle_deg / 2, "after": 0.0}
        return at.get(self.opens, self.offset_deg)


class Scene(Frozen):
    """A frame, a length and a stack of layers; the first layer is the lowest.

    ``viewing_distance_px`` is how far the eye is from the frame: the perspective of layers that
    are tilted or turned; 0 is the frame's width and half again. ``range_s`` is the working
    range (start, end) that playing and rendering keep to; None is the whole scene. Marks are in
    the order of their times. A scene that ``ends_with_last`` is as long as the last of its
    layers that has a place of its own. ``standing_s`` is the part (start, end) that gives way where
    the scene is placed for longer or shorter than it lasts; None: none does. ``tags`` are words by
    which lists are filtered. ``arrangements`` are states of its layers, one after another in time.
    """

    id: Id
    name: Name
    width: Annotated[int, Field(ge=16, le=8192)]
    height: Annotated[int, Field(ge=16, le=8192)]
    rate: RateModel
    length_s: Annotated[float, Field(gt=0, le=MAX_LENGTH_S, allow_inf_nan=False)]
    ground: Colour | None = "#000000"
    layers: tuple[Layer, ...] = ()
    groups: tuple[Group, ...] = ()
    marks: tuple[Mark, ...] = ()
    range_s: tuple[Seconds, Seconds] | None = None
    shutter: Shutter = Shutter()
    viewing_distance_px: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] = 0.0
    ends_with_last: bool = False
    slots: Annotated[tuple[Slot, ...], Field(max_length=200)] = ()
    standing_s: tuple[Seconds, Seconds] | None = None
    tags: Tags = ()
    arrangements: Annotated[tuple[Arrangement, ...], Field(max_length=MAX_ARRANGEMENTS)] = ()

    @property
    def working_range(self) -> tuple[float, float]:
        """The working range within the scene's length, seconds."""
        if self.range_s is None:
            return (0.0, self.length_s)
        start, end = self.range_s
        return (max(0.0, start), min(self.length_s, end))

    @property
    def eye_px(self) -> float:
        """The viewing distance in scene pixels."""
        return self.viewing_distance_px or 1.5 * self.width

    @property
    def frame_count(self) -> int:
        """How many frames it has."""
        return self.rate.rate.frame_count(self.length_s)


Second = Annotated[float, Field(ge=0, le=MAX_LENGTH_S, allow_inf_nan=False)]
Count = Annotated[int, Field(ge=0, le=20_000)]


class BeatGrid(Frozen):
    """The beats of a sound: ``tempo`` in beats a minute, ``times`` in seconds of the sound, rising,
    the number of the first ``strong`` one, after which every fourth is strong, and the numbers of
    those with which a new part of the music begins."""

    tempo: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]
    times: Annotated[tuple[Second, ...], Field(min_length=2, max_length=20_000)]
    strong: Count = 0
    sections: Annotated[tuple[Count, ...], Field(max_length=2000)] = ()

    @model_validator(mode="after")
    def _rising(self) -> BeatGrid:
        if any(b <= a for a, b in pairwise(self.times)):
            raise ValueError("beats must rise in time")
        if max(self.strong, *self.sections, 0) >= len(self.times):
            raise ValueError("there is no beat of that number")
        return self


class Asset(Frozen):
    """A file the project uses; ``hash`` (SHA-256, hex) names its bytes in the store.

    Pictures and clips have a size in pixels; a font has its family's name in ``family``. A
    clip has a length, a number of frames and the rate it was made at (an average where its
    frames differ in length), and tells whether it has transparency. A table maps colours (.cube).
    What can be heard, a sound or a clip, has ``channels`` and a ``sample_rate`` of its own (0: it
    is silent), and may have ``beats``: found, tapped or known of the sound.
    """

    id: Id
    name: Name
    kind: Literal["picture", "svg", "font", "clip", "table", "sound"]
    media_type: Annotated[str, Field(max_length=200)]
    hash: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    size_bytes: Annotated[int, Field(ge=0)]
    width: int = 0
    height: int = 0
    family: Annotated[str, Field(max_length=200)] = ""
    duration_s: Annotated[float, Field(ge=0, allow_inf_nan=False)] = 0.0
    frame_count: Annotated[int, Field(ge=0)] = 0
    rate: RateModel | None = None
    alpha: bool = False
    channels: Annotated[int, Field(ge=0, le=64)] = 0
    sample_rate: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    beats: BeatGrid | None = None


class Ink(Frozen):
    """A named colour: whatever uses it changes with it."""

    id: Id
    name: Name
    colour: Colour


class TypeStyle(Frozen):
    """How texts look, under a name: properties of a text by their ids, those that differ from their
    defaults. Texts that wear it have its values as their own, and change with it where they do."""

    id: Id
    name: Name
    properties: Annotated[dict[str, Value], Field(max_length=200)] = Field(default_factory=dict)


class SavedEasing(Frozen):
    """An easing of the artist's own; keys may refer to it as ``easing:ID``."""

    id: Id
    name: Name
    easing: str


class SetEffect(Frozen):
    """One effect of a saved set: its parameters' values by their names."""

    kind: str
    name: Annotated[str, Field(max_length=MAX_NAME)] = ""
    on: bool = True
    properties: dict[str, Property] = Field(default_factory=dict)


class EffectSet(Frozen):
    """Effects under a name, ready to be put on any layer."""

    id: Id
    name: Name
    effects: Annotated[tuple[SetEffect, ...], Field(min_length=1, max_length=100)]


class SavedMove(Frozen):
    """A move of the artist's own: what a layer did in a phase, as properties with keys whose
    times count from the phase's start, and effects. It is worn as the kind ``own:ID``.

    A phase of another length stretches it, or (``stretch`` off) its keys keep their times: what
    arrives then ends with its phase, what leaves begins with it.
    """

    id: Id
    name: Name
    phase: Literal["arrive", "leave"]
    length_s: Annotated[float, Field(gt=0, le=MAX_LENGTH_S, allow_inf_nan=False)]
    stretch: bool = True
    properties: dict[str, Property] = Field(default_factory=dict)
    effects: Annotated[tuple[SetEffect, ...], Field(max_length=100)] = ()


class Settings(Frozen):
    """Choices of the whole project: the easing of new keys, and where new layers begin (what fills
    the frame begins with the scene)."""

    new_key_easing: str = "ease-in-out"
    new_layers: Literal["playhead", "start"] = "playhead"


Chosen = bool | int | float | str | None
ChosenName = Annotated[str, Field(pattern=r"^[a-z_]{1,40}$")]


class RenderPreset(Frozen):
    """What was chosen for a render, kept by name: fields of ``RenderSettings``, which checks them
    when they are used. Numbers, words and switches, lists of words, and a rate."""

    id: Id
    name: Name
    settings: Annotated[
        dict[ChosenName, Chosen | tuple[Annotated[str, Field(max_length=40)], ...] | RateModel],
        Field(max_length=40),
    ]


class Project(Frozen):
    """The whole document. ``tags`` are words by which the list of projects is filtered."""

    schema_version: Literal[7] = 7
    id: Id
    name: Name
    scenes: tuple[Scene, ...] = ()
    assets: tuple[Asset, ...] = ()
    inks: tuple[Ink, ...] = ()
    type_styles: Annotated[tuple[TypeStyle, ...], Field(max_length=200)] = ()
    easings: tuple[SavedEasing, ...] = ()
    effect_sets: tuple[EffectSet, ...] = ()
    saved_moves: Annotated[tuple[SavedMove, ...], Field(max_length=500)] = ()
    presets: Annotated[tuple[RenderPreset, ...], Field(max_length=200)] = ()
    settings: Settings = Settings()
    tags: Tags = ()
