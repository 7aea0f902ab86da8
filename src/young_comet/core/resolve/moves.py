"""What the moves of a layer do at a moment: a pose for the whole of it, poses for its units."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from ..catalog import MOVES as WORN
from ..effects import EFFECTS
from ..frame.pieces import Piece
from ..frame.resolved import ResolvedEffect, ResolvedMask
from ..frame.units import UnitPlace, place_of, together
from ..geometry.affine import Affine
from ..moves import MOVES, REST, TEXT_UNITS, Moment, MoveKind, Pose
from ..timing import Easing
from ..timing.spread import ranks, settled
from .context import Resolver
from .values import LayerValues

# Dwelling moves come in and go out over this long.
_BLEND_S = 0.4


@dataclass(frozen=True, slots=True)
class Worn:
    """A move with its parameters, and how far its phase is: 0 away, 1 at rest, not yet eased;
    for dwelling how much it is in effect."""

    kind: MoveKind
    params: dict[str, Any]
    easing: Easing
    progress: float
    time_s: float
    length_s: float

    @property
    def over(self) -> str:
        """What it goes over: the whole layer, its letters, words, lines, slices or copies."""
        return str(self.params.get("spread.over", "whole"))

    def pose(self, moment: Moment, rank: float, count: int) -> Pose:
        """The pose of one unit of a rank."""
        if self.kind.dwells:
            return self.kind.draw(self.progress, self.params, moment)
        if self.progress >= 1:
            return REST
        if self.over == "whole":
            p = self.easing.at(max(0.0, self.progress), 1.0)
        else:
            width = self.params["spread.width"]
            p = settled(self.progress, rank, count, width, self.easing)
        return REST if p == 1 else self.kind.draw(p, self.params, moment)


def worn(evaluator: Resolver, v: LayerValues) -> list[Worn]:
    """The moves of a layer that are in effect at its moment."""
    key = ("worn", v.layer.id, v.local_s, v.nth)
    if key not in evaluator.memo:
        evaluator.memo[key] = _worn(evaluator, v.bare())
    return evaluator.memo[key]  # type: ignore[no-any-return]


def _worn(evaluator: Resolver, v: LayerValues) -> list[Worn]:
    layer = v.layer
    length = layer.end_s - layer.start_s
    found = []
    for move in layer.moves:
        kind = MOVES.get(move.kind)
        if kind is None or not move.on or layer.kind not in kind.fits:
            continue
        if move.phase == "arrive":
            if layer.arrive_s <= 0:
                continue
            time_s, whole = v.local_s, layer.arrive_s
            progress = time_s / whole
        elif move.phase == "leave":
            if layer.leave_s <= 0:
                continue
            time_s, whole = v.local_s - (length - layer.leave_s), layer.leave_s
            progress = 1 - time_s / whole
        else:
            start = layer.arrive_s
            time_s, whole = v.local_s - start, length - layer.leave_s - start
            progress = _envelope(time_s, whole)
        if not kind.dwells and progress >= 1:
            continue
        if move.kind.startswith("own:"):
            own = evaluator.own_move(move.kind[4:])
            if own is None or own[1] != move.phase:
                continue
            kind = replace(kind, draw=own[0].draw)
        params = v.own(WORN, move)
        easing = evaluator.easing(params.get("easing", "linear"))
        found.append(Worn(kind, params, easing, max(0.0, progress), time_s, max(1e-6, whole)))
    return found


def _envelope(time_s: float, length_s: float) -> float:
    """How much a dwelling move is in effect: it comes in and goes out softly."""
    blend = min(_BLEND_S, max(1e-6, length_s / 3))
    share = min(1.0, max(0.0, min(time_s, length_s - time_s) / blend))
    return share * share * (3 - 2 * share)


def pose_of(evaluator: Resolver, v: LayerValues) -> Pose:
    """How the whole layer is moved."""
    pose = REST
    for each in worn(evaluator, v):
        if each.over in TEXT_UNITS and v.layer.kind == "text":
            continue
        if each.over == "slices" and _sliced(v):
            continue
        nth, count = _place_among(evaluator, v, each.over)
        rank = _rank(each, nth, count)
        pose = pose.then(each.pose(moment_of(evaluator, v, each, nth, count), rank, count))
    return pose


def _sliced(v: LayerValues) -> bool:
    return v.has("slices.kind") and v("slices.kind") != "none"


def _place_among(evaluator: Resolver, v: LayerValues, over: str) -> tuple[int, int]:
    """Which of the copies, or of the layers of its group, this is."""
    if over == "copies":
        return v.nth, v.count
    if over == "group" and v.layer.group is not None:
        members = [la.id for la in evaluator.scene.layers if la.group == v.layer.group]
        return members.index(v.layer.id), len(members)
    return 0, 1


def _rank(each: Worn, nth: int, count: int) -> float:
    if count < 2:
        return 0.0
    order = str(each.params.get("spread.order", "forward"))
    return ranks(count, order, round(each.params.get("seed", 1)))[nth]


def moment_of(evaluator: Resolver, v: LayerValues, each: Worn, nth: int, count: int) -> Moment:
    """What a move may know of a unit."""
    box = evaluator.content_box(v.bare())
    size = (0.0, 0.0)
    if box is not None:
        sx, sy = v.bare()("scale") if v.has("scale") else (100.0, 100.0)
        size = ((box[2] - box[0]) * abs(sx) / 100, (box[3] - box[1]) * abs(sy) / 100)
    start = v.layer.start_s + v.local_s - each.time_s
    beats: tuple[float, ...] = ()
    if each.params.get("on") == "marks":
        beats = tuple(mark.time_s - start for mark in evaluator.scene.marks)
    return Moment(
        size, (float(evaluator.scene.width), float(evaluator.scene.height)), nth, count,
        each.time_s, each.length_s, round(each.params.get("seed", 1)), beats,
    )  # fmt: skip


def moved_slices(
    evaluator: Resolver, v: LayerValues, places: list[UnitPlace], pieces: Sequence[Piece]
) -> list[UnitPlace]:
    """The pieces of a layer where moves that spread over slices have them, on top of where its
    own properties have them."""
    count = len(pieces)
    for each in worn(evaluator, v):
        if each.over != "slices":
            continue
        order = str(each.params.get("spread.order", "forward"))
        by_place = [p.along for p in pieces]
        at = ranks(count, order, round(each.params.get("seed", 1)), by_place)
        base = moment_of(evaluator, v, each, 0, count)
        for nth, piece in enumerate(pieces):
            size = (2 * piece.frame.half[0], 2 * piece.frame.half[1])
            pose = each.pose(replace(base, nth=nth, size=size), at[nth], count)
            if pose != REST:
                places[nth] = together(places[nth], place_of(pose))
    return places


def moved_effects(pose: Pose) -> tuple[ResolvedEffect, ...]:
    """The effects that a pose needs: its blur, its wipe, its band of light."""
    found = []
    if pose.blur_px > 0.05:
        found.append(_effect("gaussian-blur", size=(pose.blur_px, pose.blur_px)))
    wipe = pose.wipe
    if wipe is not None and wipe.shown < 1:
        shown = 100 * wipe.shown
        if wipe.kind == "linear":
            found.append(
                _effect("linear-wipe", shown=shown, angle=wipe.angle_deg, softness=wipe.softness)
            )
        elif wipe.kind == "iris":
            found.append(_effect("radial-wipe", shown=shown, softness=wipe.softness))
        else:
            found.append(
                _effect("centre-wipe", shown=shown, angle=wipe.angle_deg, softness=wipe.softness)
            )
    for kind, params in pose.effects:
        found.append(ResolvedEffect(kind, params))
    if pose.glint is not None:
        found.append(_effect("glint", progress=100 * pose.glint))
    return tuple(found)


def _effect(kind_id: str, **params: Any) -> ResolvedEffect:
    kind = EFFECTS[kind_id]
    values: dict[str, Any] = {}
    for spec in kind.specs:
        default = spec.kind.resolve(spec.default, {})
        values[spec.id] = params.get(spec.id, default)
    return ResolvedEffect(kind_id, tuple(values.items()))


def clip_mask(evaluator: Resolver, v: LayerValues) -> ResolvedMask | None:
    """The layer's own box where it rests, in the scene."""
    rest = v.bare()
    box = evaluator.content_box(rest)
    if box is None:
        return None
    left, top, right, bottom = box
    pad = 2.0
    path = f"M{left - pad} {top - pad}H{right + pad}V{bottom + pad}H{left - pad}Z"
    matrix: Affine = evaluator.places.flat(rest)
    return ResolvedMask(False, path, "intersect", False, (0.0, 0.0), 0.0, 1.0, matrix, True)
