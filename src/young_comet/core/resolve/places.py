"""Where layers are: their own places, what they ride on, what keeps them aligned."""

from __future__ import annotations

from ..catalog import layer_kind
from ..geometry.affine import Affine, Box, Point
from ..geometry.projective import Projective
from ..geometry.spatial import Space
from ..model import Layer
from .context import Resolver
from .values import LayerValues

# A layer that rides on itself by a detour is refused by the checks; this only bounds the climb.
_MOST_RIDES = 2000
# The frame's share on each side that a safe area leaves out.
SAFE_SHARE = 0.05


# A layer, its own second, and whether its moves count.
_Key = tuple[str, float, bool]

# Percent that stand for a scale of 0: what has no size is not seen, but keeps its directions, which
# others follow, ride on and are cut by.
_NEXT_TO_NOTHING = 0.001


class Places:
    """The places of a scene's layers at any time; what has been worked out is remembered."""

    def __init__(self, evaluator: Resolver) -> None:
        self._evaluator = evaluator
        self._flat: dict[_Key, Affine] = {}
        self._space: dict[_Key, Space | None] = {}
        self._chains: dict[str, list[Layer]] = {}
        self._tilting: dict[str, bool] = {}

    def flat(self, v: LayerValues) -> Affine:
        """From the layer's own space into the scene, as if nothing were tilted."""
        if v.nth:
            return self.carrier(v) @ self.own(v)
        key = (v.layer.id, v.local_s, v.moved)
        found = self._flat.get(key)
        if found is None:
            self._tidy()
            found = self._flat[key] = self.carrier(v) @ self.own(v)
        return found

    def carrier(self, v: LayerValues) -> Affine:
        """The untilted place of what the layer rides on."""
        if v.layer.rides is None:
            return Affine()
        time_s = v.layer.start_s + v.local_s
        waiting: list[tuple[_Key, LayerValues]] = []
        result = Affine()
        for below in self.chain(v.layer):
            ridden = self._evaluator.moving(below, time_s)
            key = (below.id, ridden.local_s, ridden.moved)
            if key in self._flat:
                result = self._flat[key]
                break
            waiting.append((key, ridden))
        for key, ridden in reversed(waiting):
            result = self._flat[key] = result @ self.own(ridden)
        return result

    def chain(self, layer: Layer) -> list[Layer]:
        """What a layer rides on, the nearest first."""
        if layer.rides is None:
            return []
        known = self._chains.get(layer.id)
        if known is None:
            known = self._chains[layer.id] = self._climbed(layer)
        return known

    def _climbed(self, layer: Layer) -> list[Layer]:
        found: list[Layer] = []
        seen = {layer.id}
        while layer.rides is not None and len(found) < _MOST_RIDES:
            below = self._evaluator.find(layer.rides)
            if below is None or below.id in seen or not layer_kind(below.kind).placed:
                break
            seen.add(below.id)
            found.append(below)
            layer = below
        return found

    def lens(self, v: LayerValues) -> Projective | None:
        """Where the layer is seen, if it or what it rides on is tilted or turned; else None."""
        return self._seen(self._spatial(v))

    def eye_of(self, v: LayerValues) -> tuple[float, float, float] | None:
        """Where the eye is in the layer's own space; None where that has no size."""
        space = self._spatial(v) or Space.of(self.flat(v))
        scene = self._evaluator.scene
        try:
            return space.inverse_at(scene.width / 2, scene.height / 2, scene.eye_px)
        except ValueError:
            return None

    def inward(self, v: LayerValues, point: Point) -> Point:
        """A point of the scene in the space that the layer rides in, where its position counts;
        ValueError where that space is seen edge on or has no size."""
        lens = self.carrier_lens(v)
        return (lens or self.carrier(v)).inverse()(point)

    def carrier_lens(self, v: LayerValues) -> Projective | None:
        """Where the plane is seen that the layer rides in; None where it is not tilted."""
        return self._seen(self._carrying(v))

    def _seen(self, space: Space | None) -> Projective | None:
        if space is None:
            return None
        scene = self._evaluator.scene
        return space.seen((scene.width / 2, scene.height / 2), scene.eye_px)

    def _tilts(self, layer: Layer) -> bool:
        """Whether a layer, or anything that it rides on, can be tilted at all."""
        known = self._tilting.get(layer.id)
        if known is None:
            places = (layer, *self.chain(layer))
            known = any(
                "tilt" in la.properties or "turn" in la.properties or la.moves for la in places
            )
            self._tilting[layer.id] = known
        return known

    def _carrying(self, v: LayerValues) -> Space | None:
        if not self._tilts(v.layer):
            return None
        time_s = v.layer.start_s + v.local_s
        result: Space | None = None
        flat = Affine()
        for below in reversed(self.chain(v.layer)):
            result, flat = self._step(self._evaluator.moving(below, time_s), result, flat)
        return result

    def _spatial(self, v: LayerValues) -> Space | None:
        if not self._tilts(v.layer):
            return None
        key = (v.layer.id, v.local_s, v.moved)
        if not v.nth and key in self._space:
            return self._space[key]
        result = self._carrying(v)
        result, _ = self._step(v, result, self.carrier(v))
        if not v.nth:
            self._space[key] = result
        return result

    def _step(
        self, v: LayerValues, below: Space | None, flat: Affine
    ) -> tuple[Space | None, Affine]:
        """One layer more on top of what it rides on: in space where anything is tilted."""
        own = self.own(v)
        tilt, turn = v("tilt"), v("turn")
        if below is None and not tilt and not turn:
            return None, flat @ own
        lower = Space.of(flat) if below is None else below
        pivot = self._landing(v, own)
        upright = Affine.shift(-pivot[0], -pivot[1]) @ own
        return lower @ Space.tilted(pivot, tilt, turn, upright), flat @ own

    def _landing(self, v: LayerValues, own: Affine) -> Point:
        """Where the pivot lands in the space that the layer rides in."""
        return own(self._hinge(v) or v("pivot"))

    def _hinge(self, v: LayerValues) -> Point | None:
        """The point of its box about which moves turn a layer, in its own space; None where that
        is its pivot."""
        if not v.moved:
            return None
        x, y = self._evaluator.pose(v).pivot
        box = self._evaluator.content_box(v) if x or y else None
        if box is None:
            return None
        middle = ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
        return (middle[0] + x * (box[2] - box[0]), middle[1] + y * (box[3] - box[1]))

    def own(self, v: LayerValues) -> Affine:
        """From the layer's own space into the one it rides in, untilted."""
        if not layer_kind(v.layer.kind).placed:
            scene = self._evaluator.scene
            return Affine.shift(scene.width / 2, scene.height / 2)
        rotation = v("rotation")
        if v("turn.on"):
            rotation += v.travel_deg() + v("turn.offset")
        position, pivot = v("position"), v("pivot")
        if v("align.x") != "none" or v("align.y") != "none":
            dx, dy = self.alignment(v)
            position = (position[0] + dx, position[1] + dy)
        hinge = self._hinge(v)
        if hinge is not None:
            pose = self._evaluator.pose(v)
            rest = Affine.place(
                position, rotation - pose.rotation_deg, _each(v.bare()("scale")), v("skew"), pivot
            )
            position, pivot = rest(hinge), hinge
        own = Affine.place(position, rotation, _each(v("scale")), v("skew"), pivot)
        return self._stepped(v, own, pivot) if v.nth else own

    def sized(self, v: LayerValues) -> bool:
        """Whether a layer and all that it rides on have a size."""
        if not all(v("scale")):
            return False
        time_s = v.layer.start_s + v.local_s
        return all(all(self._evaluator.moving(la, time_s)("scale")) for la in self.chain(v.layer))

    def _stepped(self, v: LayerValues, own: Affine, pivot: Point) -> Affine:
        """A copy's place: moved in the space around, turned and scaled about its pivot."""
        n = v.nth
        dx, dy = v("copies.position")
        sx, sy = v("copies.scale")
        about = (
            Affine.shift(*pivot)
            @ Affine.rotation(v("copies.rotation") * n)
            @ Affine.scaling((sx / 100) ** n, (sy / 100) ** n)
            @ Affine.shift(-pivot[0], -pivot[1])
        )
        return Affine.shift(dx * n, dy * n) @ own @ about

    # Alignment

    def alignment(self, v: LayerValues) -> Point:
        """Where the position counts from on the axes that are kept aligned: the place at which
        the layer's edge or middle meets that of what it is aligned to."""
        box = self._evaluator.content_box(v)
        goal = self._goal(v)
        if box is None or goal is None:
            return (0.0, 0.0)
        sx, sy = v("scale")
        still = Affine.place((0.0, 0.0), 0.0, (sx / 100, sy / 100), (0.0, 0.0), v("pivot"))
        own = still.box(box)
        return (
            _offset(v("align.x"), own[0], own[2], goal[0], goal[2]),
            _offset(v("align.y"), own[1], own[3], goal[1], goal[3]),
        )

    def _goal(self, v: LayerValues) -> Box | None:
        """The box that a layer is aligned to, in the space that it rides in."""
        scene = self._evaluator.scene
        to = v("align.to")
        box: Box = (0.0, 0.0, float(scene.width), float(scene.height))
        if to == "safe":
            x, y = scene.width * SAFE_SHARE, scene.height * SAFE_SHARE
            box = (x, y, scene.width - x, scene.height - y)
        elif to == "layer":
            other = self._evaluator.find(v("align.layer"))
            if other is None or other.id == v.layer.id or not layer_kind(other.kind).placed:
                return None
            values = self._evaluator.moving(other, v.layer.start_s + v.local_s)
            content = self._evaluator.content_box(values)
            if content is None:
                return None
            try:  # its box in that space: upright there, however both of them are turned
                return (self.carrier(v).inverse() @ self.flat(values)).box(content)
            except ValueError:
                return None
        try:
            return self._reference(v).inverse().box(box)
        except ValueError:
            return None

    def _reference(self, v: LayerValues) -> Affine:
        """The place of what a layer rides on from which it is aligned to the frame: where that is
        now, if the layer is pinned to the frame; else where it stands in the middle of its time, so
        that the layer goes along with it."""
        if v.layer.rides is None or v("align.pinned"):
            return self.carrier(v)
        chain = self.chain(v.layer)
        result = Affine()
        for below in reversed(chain):
            middle_s = (below.start_s + below.end_s) / 2
            result = result @ self.own(self._evaluator.values(below, middle_s))
        return result

    def fitted(self, v: LayerValues) -> Point | None:
        """The size of a shape that is kept fitted around another layer, None where it is not."""
        other = self._evaluator.find(v("fit.layer")) if v("fit.layer") else None
        if other is None or other.id == v.layer.id or not layer_kind(other.kind).placed:
            return None
        values = self._evaluator.moving(other, v.layer.start_s + v.local_s)
        box = self._evaluator.content_box(values)
        if box is None:
            return None
        sx, sy = values("scale")
        width, height = v("shape.size")
        mx, my = v("fit.margin")
        axes = v("fit.axes")
        if axes != "height":
            width = abs(sx) / 100 * (box[2] - box[0]) + 2 * mx
        if axes != "width":
            height = abs(sy) / 100 * (box[3] - box[1]) + 2 * my
        return (max(0.0, width), max(0.0, height))

    def _tidy(self) -> None:
        if len(self._flat) > 8000:
            self._flat.clear()
            self._space.clear()


def _each(percent: Point) -> Point:
    return ((percent[0] or _NEXT_TO_NOTHING) / 100, (percent[1] or _NEXT_TO_NOTHING) / 100)


def _offset(how: str, low: float, high: float, start: float, end: float) -> float:
    """What brings a span (low, high) to where it is kept, beside or within (start, end)."""
    if how in ("left", "top"):
        return start - low
    if how in ("right", "bottom"):
        return end - high
    if how == "centre":
        return (start + end - low - high) / 2
    if how == "before":
        return start - high
    if how == "after":
        return end - low
    return 0.0
