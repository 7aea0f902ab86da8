"""Where layers meet: one gives way to the next by a transition."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any, Protocol

from ..catalog import TRANSITIONS as HELD
from ..catalog import transition_kind
from ..frame.contents import Texts
from ..frame.resolved import ResolvedEffect, ResolvedFrame, ResolvedLayer, SceneContent
from ..geometry.affine import Affine
from ..model import Kind, Layer, Scene, Transition
from ..transitions.base import GIVING
from .context import Resolver
from .courses import ArrangedMove
from .mixing import mix_frames, mix_layers
from .pairs import pairs_of
from .values import is_on

# Layers meet where one ends within so much of a frame of where the other begins.
MEETS = 0.51


@dataclass(frozen=True)
class Meeting:
    """A transition that happens: between which layers, and when (s of the scene)."""

    first: Layer
    second: Layer
    transition: Transition
    begin_s: float
    end_s: float

    def during(self, time_s: float) -> bool:
        """Whether it is under way."""
        return self.begin_s - 1e-6 <= time_s < self.end_s - 1e-6


class Stage(Resolver, Protocol):
    """A scene whose layers can be put together."""

    def stacked(self, layer: Layer, time_s: float) -> list[ResolvedLayer]:
        """Must. All that a layer puts into the stack."""
        ...

    @property
    def texts(self) -> Texts:
        """Must. Who sets texts."""
        ...


def meetings_of(scene: Scene) -> tuple[Meeting, ...]:
    """The transitions of a scene that happen: their layers are there and meet. Each is as long as
    both have room for, half of a layer where it takes part in two."""
    known = {layer.id: layer for layer in scene.layers}
    frame_s = scene.rate.den / scene.rate.num
    found: list[tuple[Layer, Layer, Transition]] = []
    for second in scene.layers:
        for transition in second.transitions:
            first = known.get(transition.before or "")
            if not transition.on or first is None or first.hidden or second.hidden:
                continue
            if abs(first.end_s - second.start_s) <= MEETS * frame_s:
                found.append((first, second, transition))
    # A layer gives way to one only: the first that says so.
    gives: dict[str, str] = {}
    for first, second, _ in found:
        gives.setdefault(first.id, second.id)
    found = [each for each in found if gives[each[0].id] == each[1].id]
    takes = {second.id for _, second, _ in found}
    meetings = []
    for first, second, transition in found:
        joint = second.start_s
        shares = {"before": (1.0, 0.0), "after": (0.0, 1.0)}
        lies = second.properties.get(HELD.prefix(transition.id) + "lies")
        before, after = shares.get(lies.value if lies else "", (0.5, 0.5))
        room = (first.end_s - first.start_s) / (2 if first.id in takes else 1)
        left = (second.end_s - second.start_s) / (2 if second.id in gives else 1)
        begin = joint - min(before * transition.length_s, room, joint)
        end = joint + min(after * transition.length_s, left, scene.length_s - joint)
        if end - begin > 1.01 * frame_s:
            meetings.append(Meeting(first, second, transition, begin, end))
    return tuple(meetings)


def _without_phases(scene: Scene, meetings: tuple[Meeting, ...]) -> Scene:
    giving, taking = ({each.first.id for each in meetings}, {each.second.id for each in meetings})
    layers = []
    for layer in scene.layers:
        gone = {phase for phase, ids in (("leave", giving), ("arrive", taking)) if layer.id in ids}
        if gone:
            moves = tuple(
                move
                for move in layer.moves
                if move.phase not in gone or isinstance(move, ArrangedMove)
            )
            lengths = {f"{phase}_s": 0.0 for phase in gone}
            layer = layer.model_copy(update={"moves": moves, **lengths})
        layers.append(layer)
    return scene.model_copy(update={"layers": tuple(layers)})


def joined(scene: Scene) -> tuple[Scene, tuple[Meeting, ...]]:
    """The scene and its meetings: what gives way does not leave, and what takes over does not
    arrive, as the transition is how they do."""
    if not any(layer.transitions for layer in scene.layers):
        return scene, ()
    found = meetings_of(scene)
    if not found:
        return scene, ()
    made = _without_phases(scene, found)
    known = {layer.id: layer for layer in made.layers}
    return made, tuple(
        replace(each, first=known[each.first.id], second=known[each.second.id]) for each in found
    )


def course(
    layers: Sequence[Layer], meetings: Sequence[Meeting], time_s: float
) -> Iterator[tuple[Layer, Meeting | None]]:
    """The layers that are on, from below up; two that cross as one, where the upper of them is."""
    active: dict[str, Meeting] = {}
    if meetings:
        there = {layer.id for layer in layers}
        for each in meetings:
            if each.during(time_s) and {each.first.id, each.second.id} <= there:
                active[each.first.id] = active[each.second.id] = each
    for layer in layers:
        meeting = active.get(layer.id)
        if meeting is None:
            if is_on(layer, time_s):
                yield layer, None
        elif _upper(layers, meeting) == layer.id:
            yield layer, meeting


def _upper(layers: Sequence[Layer], meeting: Meeting) -> str:
    ids = (meeting.first.id, meeting.second.id)
    return [layer.id for layer in layers if layer.id in ids][-1]


def across(stage: Stage, meeting: Meeting, time_s: float) -> list[ResolvedLayer]:
    """What is seen while one layer gives way to another: the first as it is in the first frame, the
    second in the last."""
    v = stage.values(meeting.second, time_s)
    kind = transition_kind(meeting.transition.kind)
    values = v.own(HELD, meeting.transition)
    frame_s = stage.rate.den / stage.rate.num
    long = max(1e-9, meeting.end_s - meeting.begin_s - frame_s)
    passed = min(1.0, max(0.0, (time_s - meeting.begin_s) / long))
    easing = stage.easing(values["easing"])
    share = min(1.0, max(0.0, easing.at(passed, long)))
    if passed <= 0 or passed >= 1:
        return stage.stacked(meeting.second if passed >= 1 else meeting.first, time_s)
    if kind.matches:
        return _matched(stage, meeting, time_s, share)
    width, height = stage.scene.width, stage.scene.height
    fps = stage.rate.fps

    drawn = [
        tuple(each for each in stage.stacked(layer, time_s) if each.opacity > 0)
        for layer in (meeting.first, meeting.second)
    ]
    # Both laid on what is below in one way are so while they cross; else each within its picture.
    ways = {(each.blend, each.composite) for side in drawn for each in side}
    blend, composite = next(iter(ways)) if len(ways) == 1 else ("normal", "over")

    def seen(layer: Layer, side: tuple[ResolvedLayer, ...]) -> ResolvedLayer:
        if len(ways) == 1:
            side = tuple(replace(each, blend="normal", composite="over") for each in side)
        frame = ResolvedFrame(width, height, None, side, fps)
        content = SceneContent(width, height, frame.signature, True, frame)
        return ResolvedLayer(layer.id, content, Affine.shift(width / 2, height / 2), 1.0)

    first, second = seen(meeting.first, drawn[0]), seen(meeting.second, drawn[1])
    before, after = (min(1.0, max(0.0, passed + way * frame_s / 2 / long)) for way in (-1, 1))
    speed = abs(easing.at(after, long) - easing.at(before, long))
    inputs = [(GIVING, first)]
    params: dict[str, Any] = {"share": share, "speed": speed}
    for spec in kind.specs:
        value = values[spec.id]
        if spec.kind is Kind.LAYER:
            own = {meeting.first.id: first, meeting.second.id: second}
            other = own.get(value) or (stage.other(value, time_s, frozenset()) if value else None)
            if other is not None:
                inputs.append((spec.id, other))
        elif spec.id not in ("easing", "lies"):
            params[spec.id] = value
    step = ResolvedEffect(kind.step.id, tuple(params.items()), passed, long, tuple(inputs))
    return [replace(second, effects=(step,), blend=blend, composite=composite)]


def _matched(stage: Stage, meeting: Meeting, time_s: float, share: float) -> list[ResolvedLayer]:
    """What both scenes consist of, mixed; of layers that are no scenes, those themselves."""
    both = (meeting.first, meeting.second)
    one, two = (_inner(stage, layer, time_s) for layer in both)
    width, height, fps = stage.scene.width, stage.scene.height, stage.rate.fps
    if one is None or two is None:
        a, b = (
            ResolvedFrame(width, height, None, tuple(stage.stacked(layer, time_s)), fps)
            for layer in both
        )
        pairs = {meeting.first.id: meeting.second.id}
        return list(mix_frames(a, b, share, stage.texts, pairs).layers)
    (place, first), (goal, second) = one, two
    pairs = pairs_of(first[0], second[0], dict(meeting.transition.pairs))
    frame = mix_frames(first[1], second[1], share, stage.texts, pairs, apart=True)
    content = SceneContent(frame.width, frame.height, frame.signature, True, frame)
    mixed = [replace(each, content=content, shutter=()) for each in (place, goal)]
    return mix_layers(mixed[0], mixed[1], share, stage.texts)


def _inner(
    stage: Stage, layer: Layer, time_s: float
) -> tuple[ResolvedLayer, tuple[Scene, ResolvedFrame]] | None:
    """A placed scene as its layer, the scene and its frame at the moment."""
    if layer.kind != "scene":
        return None
    v = stage.moving(layer, time_s)
    inner, content = stage.inside(v), stage.scene_content(v)
    if inner is None or not isinstance(content, SceneContent):
        return None
    drawn = stage.stacked(layer, time_s)
    if len(drawn) == 1 and isinstance(drawn[0].content, SceneContent) and drawn[0].id == layer.id:
        return drawn[0], (inner.scene, content.frame)
    # It lies flat: its layers are the outer scene's, and nothing is done to it.
    place = ResolvedLayer(
        layer.id, content, stage.matrix(v), v("opacity") / 100, lens=stage.places.lens(v)
    )
    return place, (inner.scene, content.frame)
