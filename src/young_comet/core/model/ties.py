"""Moments that hang on one another: worked out after every edit, so that a document always holds
the times themselves.

A tied start takes its layer along; a tied end alone makes it longer or shorter; a tied mark
moves. What an edit has moved by itself keeps its new time, and its tie the distance that this
makes.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from ..timing import Rate
from .arrangements import Arrangement, holds_of
from .document import Layer, Mark, Scene, Tie

# ("layer" | "arrangement", id, "start" | "end"), ("mark", id, "") or ("scene", "", "end").
Node = tuple[str, str, str]
SCENE_END: Node = ("scene", "", "end")


def tie_node(tie: Tie) -> Node | None:
    """What a tie hangs on; None for the scene's start, which never moves."""
    if tie.to in ("layer", "arrangement"):
        late = tie.moment in ("end", "leaves")
        return (tie.to, tie.id or "", "end" if late else "start")
    if tie.to == "mark":
        return ("mark", tie.id or "", "")
    return SCENE_END if tie.moment == "end" else None


def waits_for(scene: Scene, covers_frame: Callable[[Layer], bool]) -> dict[Node, list[Node]]:
    """For every moment those that must be known before it. ``covers_frame`` tells which layers
    do not count for the length of a scene that ends with its last layer."""
    after: dict[Node, list[Node]] = {}
    for layer in scene.layers:
        start: Node = ("layer", layer.id, "start")
        end: Node = ("layer", layer.id, "end")
        after[start] = _on(layer.start_tie)
        # A free end goes along with its start; a tied one must not come before it.
        goes_along = layer.end_tie is None or layer.start_tie is not None
        after[end] = [*_on(layer.end_tie), *([start] if goes_along else [])]
    for mark in scene.marks:
        after["mark", mark.id, ""] = _on(mark.tie)
    for each in scene.arrangements:
        # The last one stays as long as the scene lasts.
        last = each is scene.arrangements[-1]
        after["arrangement", each.id, "start"] = []
        after["arrangement", each.id, "end"] = [SCENE_END] if last else []
    after[SCENE_END] = (
        [("layer", layer.id, "end") for layer in _last_leaving(scene, covers_frame)]
        if scene.ends_with_last
        else []
    )
    return after


def _on(tie: Tie | None) -> list[Node]:
    node = tie_node(tie) if tie else None
    return [node] if node else []


def _last_leaving(scene: Scene, covers_frame: Callable[[Layer], bool]) -> list[Layer]:
    """Layers that the length of such a scene depends on: with a place of their own, and not
    themselves tied to its end."""
    return [
        layer
        for layer in scene.layers
        if not covers_frame(layer)
        and not (layer.end_tie and layer.end_tie.to == "scene" and layer.end_tie.moment == "end")
    ]


@dataclass
class _Times:
    """The times of a scene while they are worked out."""

    layers: dict[str, Layer]
    marks: dict[str, Mark]
    length_s: float
    arrangements: tuple[Arrangement, ...] = ()

    def moment(self, tie: Tie) -> float | None:
        """The second that a tie hangs on; None where that is gone."""
        if tie.to == "scene":
            return self.length_s if tie.moment == "end" else 0.0
        if tie.to == "mark":
            mark = self.marks.get(tie.id or "")
            return None if mark is None else mark.time_s
        if tie.to == "arrangement":
            return self._held(tie)
        layer = self.layers.get(tie.id or "")
        return None if layer is None else moment_of(layer, tie.moment)

    def _held(self, tie: Tie) -> float | None:
        for each, hold in zip(self.arrangements, holds_of(self), strict=True):
            if each.id == tie.id:
                return hold[tie.moment in ("end", "leaves")]
        return None


def moment_of(layer: Layer, moment: str) -> float:
    """The second of a layer's moment: start, arrived, leaves or end."""
    return {
        "start": layer.start_s,
        "arrived": min(layer.end_s, layer.start_s + layer.arrive_s),
        "leaves": max(layer.start_s, layer.end_s - layer.leave_s),
        "end": layer.end_s,
    }[moment]


def settle(before: Scene | None, scene: Scene, covers_frame: Callable[[Layer], bool]) -> Scene:
    """The scene with all tied moments where they belong. ``before`` is the scene as it was before
    the edit: what has been moved since stays, and its tie is kept at the distance that it has
    now. Ties to what is gone are cut. There must be no circles (``waits_for``)."""
    tied = any(la.start_tie or la.end_tie for la in scene.layers) or any(m.tie for m in scene.marks)
    if not tied and not scene.ends_with_last:
        return scene
    rate = scene.rate.rate
    old = _Times({}, {}, scene.length_s)
    if before is not None:
        old.layers = {la.id: la for la in before.layers}
        old.marks = {m.id: m for m in before.marks}
    now = _Times(
        {la.id: la for la in scene.layers}, {m.id: m for m in scene.marks}, scene.length_s,
        scene.arrangements,
    )  # fmt: skip
    given = {layer.id: layer for layer in scene.layers}
    for what, id, side in _in_order(waits_for(scene, covers_frame)):
        if what == "layer":
            settle_side = _settled_start if side == "start" else _settled_end
            layer = settle_side(old.layers.get(id), given[id], now.layers[id], now, rate)
            now.layers[id] = layer
        elif what == "mark":
            now.marks[id] = _settled_mark(old.marks.get(id), now.marks[id], now, rate)
        elif what == "scene" and scene.ends_with_last:
            ends = [now.layers[la.id].end_s for la in _last_leaving(scene, covers_frame)]
            if ends:
                length = max(rate.time_of(1), max(ends))
                _carry_ends(now, scene.length_s, length, covers_frame, rate)
                now.length_s = length
    layers = tuple(now.layers[la.id] for la in scene.layers)
    marks = tuple(sorted((now.marks[m.id] for m in scene.marks), key=lambda m: m.time_s))
    same = now.length_s == scene.length_s and marks == scene.marks
    if same and all(a is b for a, b in zip(layers, scene.layers, strict=True)):
        return scene
    range_s = scene.range_s
    if range_s and range_s[1] > now.length_s + 1e-9:
        range_s = (range_s[0], now.length_s) if range_s[0] < now.length_s - 1e-6 else None
    update = {"layers": layers, "marks": marks, "length_s": now.length_s, "range_s": range_s}
    return scene.model_copy(update=update)


def without_lost_ties(scene: Scene) -> Scene:
    """The scene without ties to what it does not have (any more)."""
    known = {
        "layer": {layer.id for layer in scene.layers},
        "mark": {mark.id for mark in scene.marks},
        "arrangement": {each.id for each in scene.arrangements},
    }

    def kept(tie: Tie | None) -> Tie | None:
        if tie is None or tie.to == "scene":
            return tie
        return tie if tie.id in known[tie.to] else None

    changed = []
    for layer in scene.layers:
        start, end = kept(layer.start_tie), kept(layer.end_tie)
        same = start is layer.start_tie and end is layer.end_tie
        changed.append(
            layer if same else layer.model_copy(update={"start_tie": start, "end_tie": end})
        )
    cut = [m if kept(m.tie) is m.tie else m.model_copy(update={"tie": None}) for m in scene.marks]
    if all(a is b for a, b in zip((*changed, *cut), (*scene.layers, *scene.marks), strict=True)):
        return scene
    return scene.model_copy(update={"layers": tuple(changed), "marks": tuple(cut)})


def _in_order(after: dict[Node, list[Node]]) -> Iterable[Node]:
    """Nodes so that each comes after those that it waits for."""
    seen: set[Node] = set()
    for first in after:
        stack = [first]
        while stack:
            node = stack[-1]
            if node in seen:
                stack.pop()
                continue
            waiting = [each for each in after.get(node, ()) if each not in seen and each in after]
            if waiting and len(stack) <= len(after):
                stack += waiting
                continue
            seen.add(stack.pop())
            yield node


def _settled_start(old: Layer | None, given: Layer, layer: Layer, now: _Times, rate: Rate) -> Layer:
    """A tied start where it belongs; the end goes along unless it is tied itself."""
    tie = layer.start_tie
    base = now.moment(tie) if tie else None
    if tie is None or base is None:
        return layer
    if old is not None and old.start_tie == tie and _differs(old.start_s, given.start_s):
        tie = tie.model_copy(update={"offset_s": _rounded(given.start_s - base)})
        return layer.model_copy(update={"start_tie": tie})
    start_s = rate.snap(base + tie.offset_s)
    if not _differs(start_s, layer.start_s):
        return layer
    end_s = layer.end_s
    if layer.end_tie is None:
        end_s = rate.snap(start_s + end_s - layer.start_s)
    return _spanned(layer, start_s, end_s, rate)


def _settled_end(old: Layer | None, given: Layer, layer: Layer, now: _Times, rate: Rate) -> Layer:
    """A tied end where it belongs."""
    tie = layer.end_tie
    base = now.moment(tie) if tie else None
    if tie is None or base is None:
        return layer
    if old is not None and old.end_tie == tie and _differs(old.end_s, given.end_s):
        tie = tie.model_copy(update={"offset_s": _rounded(given.end_s - base)})
        return layer.model_copy(update={"end_tie": tie})
    end_s = rate.snap(base + tie.offset_s)
    return (
        layer if not _differs(end_s, layer.end_s) else _spanned(layer, layer.start_s, end_s, rate)
    )


def _spanned(layer: Layer, start_s: float, end_s: float, rate: Rate) -> Layer:
    """A span of at least one frame."""
    end_s = max(end_s, start_s + rate.time_of(1))
    return layer.model_copy(update={"start_s": start_s, "end_s": end_s})


def _settled_mark(old: Mark | None, mark: Mark, now: _Times, rate: Rate) -> Mark:
    if mark.tie is None:
        return mark
    base = now.moment(mark.tie)
    if base is None:
        return mark.model_copy(update={"tie": None})
    if old is not None and old.tie == mark.tie and _differs(old.time_s, mark.time_s):
        tie = mark.tie.model_copy(update={"offset_s": _rounded(mark.time_s - base)})
        return mark.model_copy(update={"tie": tie})
    time_s = max(0.0, rate.snap(base + mark.tie.offset_s))
    return mark if time_s == mark.time_s else mark.model_copy(update={"time_s": time_s})


def _carry_ends(
    now: _Times, old_s: float, new_s: float, covers_frame: Callable[[Layer], bool], rate: Rate
) -> None:
    """Backdrops and treatments that ended with the scene go on ending with it."""
    for id, layer in now.layers.items():
        ends = covers_frame(layer) and layer.end_tie is None and not _differs(layer.end_s, old_s)
        if ends and new_s > layer.start_s + 1e-6:
            now.layers[id] = layer.model_copy(update={"end_s": new_s})


def _differs(a: float, b: float) -> bool:
    return abs(a - b) > 1e-7


def _rounded(value: float) -> float:
    return round(value, 6)
