"""Moves of letters, words and lines opened into the fronts that they are made of."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from ..core.catalog import FRONTS
from ..core.catalog import MOVES as WORN
from ..core.model import Front, Keyframe, Layer, Move, Project, Property, Scene
from ..core.model.values import Id
from ..core.moves import POINTS, REST, TEXT_UNITS, Moment, Pose, tempo_of
from ..core.resolve import SceneEvaluator
from ..core.resolve.letter_units import ranges_of
from ..core.resolve.lettering import unit_moments
from ..core.resolve.moves import Worn, worn
from ..core.resolve.texts import text_of
from ..errors import DocumentError
from .base import EditContext, SceneEdit, names_of, new_id, with_layers
from .text_edits import text_layer

# At so many moments of a unit's way it is looked at how far each of its values is.
_SAMPLES = 80
_SAME = 1e-6

# What of a pose a front's property says, as it is added there.
_SAID: dict[str, Callable[[Pose], float]] = {
    "offset.x": lambda p: p.offset[0],
    "offset.y": lambda p: p.offset[1],
    "scale.x": lambda p: 100 * (p.scale[0] - 1),
    "scale.y": lambda p: 100 * (p.scale[1] - 1),
    "rotation": lambda p: p.rotation_deg,
    "tilt": lambda p: p.tilt_deg,
    "turn": lambda p: p.turn_deg,
    "opacity": lambda p: 100 * (min(1.0, max(0.0, p.opacity)) - 1),
    "blur": lambda p: p.blur_px,
    "others": lambda p: 100 * p.scrambled,
    "wiped": lambda p: 100 * (1 - p.wipe.shown) if p.wipe is not None else 0.0,
    "undrawn": lambda p: 100 * (1 - p.drawn),
    "tracking": lambda p: p.tracking,
}


# What goes to the opposite side where every other unit does.
_SIDED = ("offset.x", "offset.y", "rotation", "tilt", "turn")


class OpenMove(SceneEdit):
    """A move of a text becomes the fronts that it is made of: one for all that comes to rest alike.
    Refused for what fronts do not say: units that go ways of their own."""

    kind: Literal["open-move"] = "open-move"
    layer: Id
    move: Id

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = text_layer(scene, self.layer)
        move = WORN.find(layer, self.move)
        fronts = _fronts(context.evaluator(project, scene.id), layer, move)

        def opened(old: Layer) -> Layer:
            old = WORN.without(old, [move.id])
            for properties in fronts:
                front = Front(id=new_id(), name=WORN.name_of(move)[:60])
                old = FRONTS.added(old, front, properties)
            return old

        return with_layers(scene, [layer.id], opened)

    def label(self, project: Project) -> str:
        return f"Open a move of {names_of(project, self.scene, [self.layer])} into fronts"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer])


def _fronts(evaluator: SceneEvaluator, layer: Layer, move: Move) -> list[dict[str, Property]]:
    """The properties of the fronts of a move."""
    field = f"layer {layer.name!r}"
    name = WORN.name_of(move)
    length_s = layer.arrive_s if move.phase == "arrive" else layer.leave_s
    if move.phase == "dwell" or length_s <= 0 or not move.on:
        raise DocumentError(f"{name} is none that arrives or leaves", field=field)
    lasts = layer.end_s - layer.start_s
    begin = 0.0 if move.phase == "arrive" else lasts - length_s
    alone = layer.model_copy(update={"moves": (move,), "fronts": ()})
    values = evaluator.values(alone, layer.start_s + begin + length_s / 2)
    each = next(iter(worn(evaluator, values)), None)
    if each is None or each.over not in TEXT_UNITS:
        raise DocumentError(
            f"{name} goes over the whole layer: only moves of letters, words and lines are fronts",
            field=field,
        )
    content = text_of(evaluator, values)
    ranges = ranges_of(evaluator, content, each.over)
    moments = unit_moments(evaluator, values, each, content, ranges)
    poses = _poses(each, moments)
    courses, opposite = _courses(each, poses, name, field)
    how = _how(poses, name, field)
    if "flicker" in how and any(abs(each.easing.at(k / 8, 1.0) - k / 8) > _SAME for k in range(9)):
        raise DocumentError(f"{name} flickers by an easing, which fronts do not", field=field)
    begin, end, width, order = _paced(each, len(ranges), begin, length_s, name, field)
    keys = [(begin, 0.0), (end, 100.0)] if move.phase == "arrive" else [(begin, 100.0), (end, 0.0)]
    found: list[dict[str, Property]] = []
    for profile, said in _alike(courses, each):
        spread = {
            "by": each.over, "width": width, "profile": profile, "order": order,
            "seed": each.params.get("seed", 1),
        }  # fmt: skip
        made = {key: Property(value=value) for key, value in spread.items()}
        made["progress"] = Property(
            keys=tuple(
                Keyframe(id=new_id(), time_s=round(at, 6), value=value, easing="linear")
                for at, value in keys
            )
        )
        for pair in ("offset", "scale"):
            xy = (said.pop(f"{pair}.x", 0.0), said.pop(f"{pair}.y", 0.0))
            if any(xy):
                made[pair] = Property(value=xy)
        made |= {key: Property(value=value) for key, value in said.items()}
        made |= {
            key: Property(value=value)
            for key, (needs, value) in how.items()
            if not needs or not made.keys().isdisjoint(needs)
        }
        if opposite and not made.keys().isdisjoint(("offset", *_SIDED)):
            made["opposite"] = Property(value=True)
        found.append(made)
    if not found:
        raise DocumentError(f"{name} does nothing to its {each.over}", field=field)
    return found


# What goes first by a sequence goes last by the other.
_TURNED = {"forward": "back", "back": "forward", "outwards": "inwards", "inwards": "outwards"}


def _paced(
    each: Worn, count: int, begin: float, length_s: float, name: str, field: str
) -> tuple[float, float, float, str]:
    """When a front goes over the units of a move, how wide it is and in which order it goes: so
    that each unit is on its way as long as the move takes for it."""
    order = str(each.params.get("spread.order", "forward"))
    if each.shared:
        return begin, begin + length_s, each.params["spread.width"], order
    tempo = tempo_of(each.params, count).within(length_s)
    spec = FRONTS.spec_of_kind(FRONTS.id, "width")
    least, most = (spec.minimum, spec.maximum) if spec else (None, None)
    width = tempo.each_s / tempo.step_s if tempo.step_s > 0 else most or 1.0
    width = min(most or width, max(least or 0.0, width))
    if not each.leaves:
        return begin, begin + tempo.whole_s, width, order
    # Fronts come back the way they went: what leaves first is what they reach last.
    if order not in _TURNED:
        raise DocumentError(f"{name} leaves in an order that fronts do not say", field=field)
    end = begin + length_s
    return end - tempo.whole_s, end, width, _TURNED[order]


def _poses(each: Worn, moments: list[Moment]) -> list[list[Pose]]:
    """The poses of all units at each moment of their way."""
    found = []
    for step in range(_SAMPLES + 1):
        found.append([each.on_its_way(step / _SAMPLES, moment) for moment in moments])
    return found


# What a front's property matters to.
_TURNS = ("scale", "rotation", "tilt", "turn")
Needs = tuple[str, ...]


def _how(poses: list[list[Pose]], name: str, field: str) -> dict[str, tuple[Needs, Any]]:
    """Where units are seen, how they are wiped, what they turn about, whether a cursor is with
    them: each with the properties one of which a front must have for it to matter."""
    found: dict[str, tuple[Needs, Any]] = {}
    pivots = set()
    for pose in (pose for moment in poses for pose in moment):
        if pose.clipped:
            found["seen"] = (("offset",), "own")
        if pose.wipe is not None:
            wipe = pose.wipe
            found["wipe"] = (("wiped",), wipe.kind)
            found["wipe-angle"] = (("wiped",), wipe.angle_deg)
            found["wipe-soft"] = (("wiped",), wipe.softness)
        if pose.cursor:
            found["cursor"] = ((), True)
        if pose.flickers:
            found["flicker"] = ((), pose.flickers)
        if pose != REST:
            pivots.add(pose.pivot)
    if len(pivots) == 1:
        known = [edge for edge, point in POINTS.items() if point in pivots]
        if known and known[0] != "middle":
            found["pivot"] = (_TURNS, known[0])
            pivots.clear()
    if not pivots <= {POINTS["middle"]}:
        raise DocumentError(f"{name} turns about what fronts do not say", field=field)
    return found


def _courses(
    each: Worn, all_poses: list[list[Pose]], name: str, field: str
) -> tuple[dict[str, tuple[float, ...]], bool]:
    """How far each value is at each moment of a unit's way, and whether every other unit goes the
    opposite way."""
    if any(pose.effects for poses in all_poses for pose in poses):
        raise DocumentError(f"{name} does what fronts do not say", field=field)
    found: dict[str, tuple[float, ...]] = {}
    turned = set()
    for said, value in _SAID.items():
        course = []
        for poses in all_poses:
            first = value(poses[0]) if poses else 0.0
            rest = [value(pose) for pose in poses]
            if said in _SIDED and max((abs(v - first) for v in rest), default=0.0) > 1e-4:
                turned.add(said)
                rest = [-v if nth % 2 else v for nth, v in enumerate(rest)]
            if max((abs(v - first) for v in rest), default=0.0) > 1e-4:
                raise DocumentError(
                    f"{name} takes each of its {each.over} its own way", field=field
                )
            course.append(first)
        found[said] = tuple(course)
    # All that has a side goes to the opposite one, or nothing of it.
    sided = {said for said in _SIDED if any(abs(value) > _SAME for value in found[said])}
    if turned and turned != sided:
        raise DocumentError(f"{name} takes each of its {each.over} its own way", field=field)
    return found, bool(turned)


def _alike(
    courses: dict[str, tuple[float, ...]], each: Worn
) -> list[tuple[str, dict[str, float]]]:  # fmt: skip
    """Values that come to rest alike, each with its most, under the easing that they come by."""
    groups: dict[tuple[float, ...], dict[str, float]] = {}
    for said, course in courses.items():
        most = max(course, key=abs)
        if abs(most) < _SAME:
            continue
        shape = tuple(round(value / most, 4) for value in course)
        groups.setdefault(shape, {})[said] = round(most, 4)
    found: list[tuple[str, dict[str, float]]] = []
    for shape, group in groups.items():
        if set(shape[:-1]) == {1.0} and shape[-1] == 0:  # there or not
            found.append(("step-end", group))
            continue
        own = tuple(round(1 - each.easing.at(n / _SAMPLES, 1.0), 4) for n in range(_SAMPLES + 1))
        near = all(abs(a - b) < 2e-4 for a, b in zip(shape, own, strict=True))
        profile = str(each.params.get("easing", "linear")) if near else _linear(shape)
        found.append((profile, group))
    return found


def _linear(shape: tuple[float, ...]) -> str:
    """The easing (CSS linear()) that goes through what a course leaves."""
    return "linear(" + ", ".join(f"{1 - value:g}" for value in shape) + ")"
