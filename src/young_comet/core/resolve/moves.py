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
from ..geometry.affine import Affine, Point
from ..moves import MOVES, REST, TEXT_UNITS, Moment, MoveKind, Pose, tempo_of
from ..timing import Easing
from ..timing.chance import lit
from ..timing.spread import ranks, reached
from .context import Resolver
from .courses import ArrangedMove
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
    leaves: bool = False

    @property
    def shared(self) -> bool:
        """Whether units have shares of the phase; what leaves goes back by the same easing then."""
        return bool(self.params.get("spread.tempo") == "shared")

    @property
    def over(self) -> str:
        """What it goes over: the whole layer, its letters, words, lines, slices or copies."""
        return str(self.params.get("spread.over", "whole"))

    def pose(self, moment: Moment, rank: float, count: int, spread: bool = True) -> Pose:
        """The pose of one unit of a rank, or of the whole where it goes over no units."""
        if self.kind.dwells:
            if not spread or self.over == "whole":
                return self.kind.draw(self.progress, self.params, moment)
            if self.params.get("turns"):  # each waits for a beat of its own, in their sequence
                moment = replace(moment, nth=round(rank))
            elif lag := self.params.get("spread.lag", 0.0) * rank:
                moment = replace(moment, time_s=moment.time_s - lag)
            return self.kind.draw(self.progress, self.params, moment)
        if self.progress >= 1:
            return REST
        return self.drawn(self._share(rank, count, spread and self.over != "whole"), moment)

    def _share(self, rank: float, count: int, spread: bool) -> float:
        """How much of the time of a unit's way is behind it, 0 away and 1 at rest."""
        if not spread:
            return max(0.0, self.progress)
        if self.shared:
            return reached(self.progress, rank, count, self.params["spread.width"])
        tempo = tempo_of(self.params, count).within(self.length_s)
        if not self.leaves:
            return tempo.share(self.time_s, rank)
        # The last is gone when the phase is over.
        return 1 - tempo.share(self.time_s - (self.length_s - tempo.whole_s), rank)

    def drawn(self, share: float, moment: Moment) -> Pose:
        """The pose of what has so much of the time of its way behind it."""
        pose = self.on_its_way(share, moment)
        if pose.flickers:
            near = self._eased(share)
            if lit(moment.seed, moment.nth, pose.flickers, moment.local_s, near):
                return REST
        return pose

    def _eased(self, share: float) -> float:
        if self.leaves and not self.shared:
            return 1 - self.easing.at(1 - share, 1.0)
        return self.easing.at(share, 1.0)

    def on_its_way(self, share: float, moment: Moment) -> Pose:
        """The same before chance has its say: what flickers is not yet lit."""
        p = self._eased(share)
        if p == 1 and share >= 1:
            return REST
        pose = self.kind.draw(p, self.params, replace(moment, share=share, leaving=self.leaves))
        return pose.onwards() if self.params.get("away") == "onwards" else pose


def worn(evaluator: Resolver, v: LayerValues) -> list[Worn]:
    """The moves of a layer that are in effect at its moment."""
    key = ("worn", v.layer.id, v.local_s, v.nth)
    if key not in evaluator.memo:
        evaluator.memo[key] = worn_as_it_is(evaluator, v.bare())
    return evaluator.memo[key]  # type: ignore[no-any-return]


def worn_as_it_is(evaluator: Resolver, v: LayerValues) -> list[Worn]:
    """The same of a layer that may be another than the scene's one of that id: nothing is kept."""
    layer = v.layer
    length = layer.end_s - layer.start_s
    found = []
    for move in layer.moves:
        kind = MOVES.get(move.kind)
        if kind is None or not move.on or layer.kind not in kind.fits:
            continue
        if isinstance(move, ArrangedMove):
            time_s, whole = v.layer.start_s + v.local_s - move.at_s, move.lasts_s
            if not 0 <= time_s < whole:
                continue
            progress = time_s / whole
            progress = progress if move.phase == "arrive" else 1 - progress
        elif move.phase == "arrive":
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
            start = 0.0 if kind.throughout else layer.arrive_s
            end = length if kind.throughout else length - layer.leave_s
            time_s, whole = v.local_s - start, end - start
            progress = _envelope(time_s, whole)
        if not kind.dwells and progress >= 1:
            continue
        if move.kind.startswith("own:"):
            own = evaluator.own_move(move.kind[4:])
            if own is None or own[1] != move.phase:
                continue
            kind = replace(kind, draw=own[0].draw, length_s=own[0].length_s)
        params = v.own(WORN, move)
        easing = evaluator.easing(params.get("easing", "linear"))
        leaves = move.phase == "leave"
        found.append(
            Worn(kind, params, easing, max(0.0, progress), time_s, max(1e-6, whole), leaves)
        )
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
        if each.over == "slices" and sliced(v):
            continue
        nth, count = place_among(evaluator, v, each.over)
        rank = _rank(each, nth, count)
        moment = moment_of(evaluator, v, each, nth, count)
        pose = pose.then(each.pose(moment, rank, count, spread=count > 1))
    return pose


def sliced(v: LayerValues) -> bool:
    """Whether a layer is cut into pieces."""
    return v.has("slices.kind") and v("slices.kind") != "none"


def place_among(evaluator: Resolver, v: LayerValues, over: str) -> tuple[int, int]:
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
        each.time_s, each.length_s, round(each.params.get("seed", 1)), beats, _em(v.bare(), size),
        local_s=v.local_s,
    )  # fmt: skip


# What has no letters counts as so large, of the shorter side of its box; what covers the frame
# as no larger than this.
_EM_SHARE, _EM_MOST_PX = 0.5, 120.0


def _em(v: LayerValues, size: Point) -> float:
    """The size of a layer's letters in the scene, or what stands for it."""
    if v.layer.kind == "text" and v.has("text.size"):
        return float(v("text.size") * abs(v("scale")[1]) / 100)
    return min(_EM_SHARE * min(size), _EM_MOST_PX)


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
            moment = replace(base, nth=nth, size=size, em=min(_EM_MOST_PX, max(size)))
            pose = each.pose(moment, at[nth], count)
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
