"""Document and time in, resolved frame out."""

from __future__ import annotations

import math
from collections.abc import Container, Iterable
from dataclasses import replace
from typing import Any

from ...errors import NotFoundError
from ..catalog import find_spec, layer_kind, parts_of
from ..catalog.check import dash_lengths
from ..geometry.affine import Affine
from ..geometry.projective import Projective, seen_tilted
from ..model import (
    Asset,
    Layer,
    Project,
    PropertySpec,
    Scene,
    Track,
)
from ..pixels.canvas import Gradient, Paint, Stroke
from ..pixels.colour import parse_colour
from ..timing.playback import Playback
from ..timing.timebase import SAME_MOMENT_S
from ..typography.layout import TextStyle
from .looks import effects_of, masks_of, shutter_of, slices_of
from .resolved import (
    BackdropContent,
    ClipContent,
    Content,
    DrawingContent,
    PartContent,
    PictureContent,
    ResolvedFrame,
    ResolvedLayer,
    ResolvedMatte,
    ShapeContent,
    ShapeForm,
    Surface,
    TextContent,
    TreatmentContent,
)
from .tracks import Names, TrackCache, names_of, resolve_value

_NOTHING = ResolvedLayer("", ShapeContent(ShapeForm("rectangle"), Surface(None)), Affine(), 0.0)


class Known:
    """What has been looked up of one layer of one state of a project: values that do not change
    over time, and the tracks of those that do."""

    __slots__ = ("fixed", "tracks")

    def __init__(self) -> None:
        self.fixed: dict[str, Any] = {}
        self.tracks: dict[str, Track] = {}


class LayerValues:
    """The values of one layer's properties at one time (s from the layer's start)."""

    def __init__(
        self,
        layer: Layer,
        scene: Scene,
        local_s: float,
        names: Names,
        cache: TrackCache,
        known: Known | None = None,
    ) -> None:
        self.layer, self.scene, self.local_s = layer, scene, local_s
        self._names, self._cache = names, cache
        self._known = known or Known()

    def __call__(self, property_id: str) -> Any:
        known = self._known
        if property_id in known.fixed:
            return known.fixed[property_id]
        if property_id in known.tracks:
            return known.tracks[property_id].at(self.local_s)
        spec = find_spec(self.layer, property_id)
        if spec is None:
            raise KeyError(property_id)
        prop = self.layer.properties.get(property_id)
        if prop is None and spec.split and (parts := parts_of(self.layer, property_id)):
            return (self(parts[0]), self(parts[1]))
        if prop is not None and prop.keys:
            track = self._cache.track(prop, spec, self._names)
            known.tracks[property_id] = track
            return track.at(self.local_s)
        raw = default_value(spec, self.scene) if prop is None else prop.value
        value = resolve_value(spec, raw, self._names.inks)
        known.fixed[property_id] = value
        return value

    def at(self, local_s: float) -> LayerValues:
        """The same layer at another time."""
        return LayerValues(self.layer, self.scene, local_s, self._names, self._cache, self._known)

    def track(self, property_id: str) -> Track | None:
        """The track of a keyed property, None where it has no keys."""
        prop, spec = self.layer.properties.get(property_id), find_spec(self.layer, property_id)
        if prop is None or spec is None or not prop.keys:
            return None
        return self._cache.track(prop, spec, self._names)

    def travel_deg(self) -> float:
        """The direction in which the position travels, clockwise from the right; 0 if it rests
        for good."""
        track = self.track("position")
        if track is not None:
            dx, dy = track.direction(self.local_s)
        else:
            dx, dy = self._split_direction()
        return math.degrees(math.atan2(dy, dx)) if dx or dy else 0.0

    def _split_direction(self) -> tuple[float, float]:
        parts = parts_of(self.layer, "position")
        tracks = [t for part in parts or () if (t := self.track(part)) is not None]
        if not tracks:
            return (0.0, 0.0)
        start, end = min(t.start_s for t in tracks), max(t.end_s for t in tracks)
        for reach in (0.002, 0.05, 0.25, 1.0, 5.0):
            for a, b in ((-reach, reach), (0.0, reach), (-reach, 0.0)):
                low = max(start, self.local_s + a)
                high = (
                    self.local_s + b if any(t.cycle for t in tracks) else min(end, self.local_s + b)
                )
                p, q = self.at(low)("position"), self.at(high)("position")
                if math.hypot(q[0] - p[0], q[1] - p[1]) > 1e-6:
                    return (q[0] - p[0], q[1] - p[1])
        return (0.0, 0.0)


def default_value(spec: PropertySpec, scene: Scene) -> Any:
    """The declared default; a position without one is the middle of the frame."""
    if spec.default is None:
        middle = (scene.width / 2, scene.height / 2)
        return {"position.x": middle[0], "position.y": middle[1]}.get(spec.id, middle)
    return spec.default


class SceneEvaluator:
    """Evaluates one scene of one state of a project."""

    def __init__(self, project: Project, scene_id: str, cache: TrackCache | None = None) -> None:
        scene = next((s for s in project.scenes if s.id == scene_id), None)
        if scene is None:
            raise NotFoundError(f"there is no scene {scene_id!r}", field="scene")
        self.project, self.scene = project, scene
        self.rate = scene.rate.rate
        self.names = names_of(project)
        self._assets: dict[str, Asset] = {asset.id: asset for asset in project.assets}
        self._layers: dict[str, Layer] = {layer.id: layer for layer in scene.layers}
        self._known: dict[str, tuple[Layer, Known]] = {}
        self._cache = cache or TrackCache()
        self._ground = parse_colour(scene.ground) if scene.ground else None

    def frame(
        self,
        number: int,
        *,
        leave_out: Iterable[str] = (),
        without: Container[str] = (),
        bare: Container[str] = (),
    ) -> ResolvedFrame:
        """The frame of that number."""
        time_s = self.rate.time_of(number)
        return self.at(time_s, leave_out=leave_out, without=without, bare=bare)

    def at(
        self,
        time_s: float,
        *,
        leave_out: Iterable[str] = (),
        without: Container[str] = (),
        bare: Container[str] = (),
    ) -> ResolvedFrame:
        """The scene at a time; ``leave_out`` names layer kinds that are not drawn, ``without``
        single layers, ``bare`` layers that are drawn without their effects."""
        layers = []
        kinds = set(leave_out)
        for layer in self.scene.layers:
            if layer.hidden or layer.kind in kinds or layer.id in without:
                continue
            if not is_on(layer, time_s):
                continue
            shown = layer
            if layer.id in bare:
                shown = layer.model_copy(update={"effects": ()})
            resolved = self.layer(shown, time_s)
            if resolved is not None and resolved.opacity > 0:
                layers.append(resolved)
        return ResolvedFrame(
            self.scene.width, self.scene.height, self._ground, tuple(layers), self.rate.fps
        )

    def values(self, layer: Layer, time_s: float) -> LayerValues:
        known = self._known.get(layer.id)
        if known is None or known[0] is not layer:
            known = (layer, Known())
            self._known[layer.id] = known
        local_s = time_s - layer.start_s
        return LayerValues(layer, self.scene, local_s, self.names, self._cache, known[1])

    def track(self, layer: Layer, property_id: str) -> Track | None:
        """The track of a keyed property, None where it has no keys."""
        return self.values(layer, layer.start_s).track(property_id)

    def layer(
        self,
        layer: Layer,
        time_s: float,
        *,
        shutter: bool = True,
        moving_only: bool = False,
        visiting: frozenset[str] = frozenset(),
    ) -> ResolvedLayer | None:
        """One layer, whether it is on or not; None if it has nothing to show (no picture).

        ``shutter`` False leaves motion blur out; ``moving_only`` also effects and mattes.
        ``visiting`` names layers that are being resolved already: a matte of one's own matte
        counts as none.
        """
        v = self.values(layer, time_s)
        content = self._content(v)
        if content is None:
            return None
        placed = layer_kind(layer.kind).placed
        resolved = ResolvedLayer(
            layer.id,
            content,
            self.matrix(v),
            v("opacity") / 100,
            lens=self._lens(v) if placed else None,
            masks=masks_of(self, v, time_s) if layer.masks else (),
            effects=()
            if moving_only or not layer.effects
            else effects_of(self, v, time_s, visiting),
            slices=slices_of(self, v) if placed else None,
            blend=v("blend"),
            composite=v("composite") if layer.kind != "treatment" else "over",
            mattes=() if moving_only else self._mattes(v, time_s, visiting),
        )
        if shutter and placed and not moving_only:
            return replace(resolved, shutter=shutter_of(self, v, time_s, resolved))
        return resolved

    def other(self, layer_id: str, time_s: float, visiting: frozenset[str]) -> ResolvedLayer | None:
        """Another layer as an input; None where there is none, it is off, or it would need
        itself."""
        found = self._layers.get(layer_id)
        if found is None or layer_id in visiting or not is_on(found, time_s):
            return None
        if found.kind == "treatment":
            return None
        return self.layer(found, time_s, visiting=visiting)

    def place_of(self, layer_id: str, time_s: float) -> Affine | None:
        """The matrix of a layer by its id."""
        found = self._layers.get(layer_id)
        return None if found is None else self.matrix(self.values(found, time_s))

    def _mattes(
        self, v: LayerValues, time_s: float, visiting: frozenset[str]
    ) -> tuple[ResolvedMatte, ...]:
        visiting = visiting | {v.layer.id}
        mattes = []
        if v("matte.layer"):
            other = self.other(v("matte.layer"), time_s, visiting)
            if other is not None:
                mattes.append(ResolvedMatte(other, v("matte.by"), v("matte.inverted")))
            elif self._is_off(v("matte.layer"), visiting) and not v("matte.inverted"):
                # A matte that is off shows nothing.
                mattes.append(ResolvedMatte(_NOTHING, "alpha", False))
        if v("matte.below"):
            below = self._below(v.layer, time_s)
            other = self.other(below.id, time_s, visiting) if below else None
            mattes.append(ResolvedMatte(other or _NOTHING, "alpha", False))
        return tuple(mattes)

    def _is_off(self, layer_id: str, visiting: frozenset[str]) -> bool:
        """Whether a layer is there and shows nothing now; one that is being resolved counts as
        not being there."""
        return layer_id in self._layers and layer_id not in visiting

    def _below(self, layer: Layer, time_s: float) -> Layer | None:
        """The next layer below that is seen; one that is itself within the layer below it does
        not count, so that several can lie within one."""
        index = next(i for i, each in enumerate(self.scene.layers) if each.id == layer.id)
        for below in reversed(self.scene.layers[:index]):
            if below.hidden or not is_on(below, time_s) or below.kind == "treatment":
                continue
            prop = below.properties.get("matte.below")
            if prop is None or not prop.value:
                return below
        return None

    def _lens(self, v: LayerValues) -> Projective | None:
        tilt, turn = v("tilt"), v("turn")
        if not tilt and not turn:
            return None
        position = v("position")
        flat = Affine.shift(-position[0], -position[1]) @ self.matrix(v)
        middle = (self.scene.width / 2, self.scene.height / 2)
        return seen_tilted(position, tilt, turn, flat, middle, self.scene.eye_px)

    def matrix(self, v: LayerValues) -> Affine:
        """From the layer's own space into the scene, before it is tilted."""
        if not layer_kind(v.layer.kind).placed:
            return Affine.shift(self.scene.width / 2, self.scene.height / 2)
        sx, sy = v("scale")
        rotation = v("rotation")
        if v("turn.on"):
            rotation += v.travel_deg() + v("turn.offset")
        return Affine.place(v("position"), rotation, (sx / 100, sy / 100), v("skew"), v("pivot"))

    def _content(self, v: LayerValues) -> Content | None:
        kind = v.layer.kind
        if kind == "backdrop":
            return BackdropContent(Surface(_paint(v)), self.scene.width, self.scene.height)
        if kind == "treatment":
            return TreatmentContent(self.scene.width, self.scene.height)
        if kind == "shape" and v("shape.kind") == "drawing":
            return _drawing(v)
        if kind == "shape":
            return ShapeContent(_form(v), _surface(v, drawn=True))
        if kind == "text":
            return TextContent(v("text"), self._text_style(v), _surface(v, drawn=False))
        if kind == "clip":
            return self._clip(v)
        return self._picture(v)

    def _text_style(self, v: LayerValues) -> TextStyle:
        return TextStyle(
            self.font(v("text.font")), v("text.weight"), v("text.size"), v("text.tracking"),
            v("text.leading"), v("text.align"),
        )  # fmt: skip

    def font(self, font_id: str) -> str:
        """A document's font id as the font library knows it."""
        if not font_id.startswith("asset:"):
            return font_id
        asset = self._assets.get(font_id[6:])
        return f"asset:{asset.hash}" if asset and asset.kind == "font" else "inter"

    def _picture(self, v: LayerValues) -> PictureContent | None:
        asset = self._assets.get(v("picture.asset"))
        if asset is None or asset.kind not in ("picture", "svg"):
            return None
        factor = self._fit(asset, v("picture.fit"))
        return PictureContent(
            asset.hash,
            asset.kind == "svg",
            (asset.width, asset.height),
            asset.width * factor,
            asset.height * factor,
        )

    def _fit(self, asset: Asset, how: str) -> float:
        ratios = (self.scene.width / asset.width, self.scene.height / asset.height)
        return {"natural": 1.0, "fit": min(ratios), "fill": max(ratios)}[how]

    def _clip(self, v: LayerValues) -> ClipContent | None:
        asset = self._assets.get(v("clip.asset"))
        if asset is None or asset.kind != "clip":
            return None
        source_s = source_second(v, asset)
        if source_s is None:
            return None
        factor = self._fit(asset, v("clip.fit"))
        size = (asset.width * factor, asset.height * factor)
        return ClipContent(asset.hash, frame_moment(asset, source_s), *size)

    def asset(self, asset_id: str) -> Asset | None:
        return self._assets.get(asset_id)


def playback_of(v: LayerValues, asset: Asset) -> Playback:
    """How a clip's source is played, without freezing and time curve."""
    end = v("time.to") or asset.duration_s
    start = min(v("time.from"), max(0.0, end - 0.001))
    return Playback(
        start, min(end, asset.duration_s), v("time.offset"), v("time.speed") / 100,
        v("time.reversed"), v("time.after"), round(v("time.times")),
    )  # fmt: skip


def source_second(v: LayerValues, asset: Asset) -> float | None:
    """The second of a clip's source that its layer shows; None where it shows nothing."""
    if v("time.curve"):
        return v("time.source")
    if v("time.frozen"):
        return v("time.frozen-at")
    return playback_of(v, asset).at(v.local_s)


def frame_moment(asset: Asset, source_s: float) -> float:
    """A moment that stands for the source's frame at a second: the middle of the frame."""
    if asset.rate is None:
        return round(min(max(0.0, source_s), max(0.0, asset.duration_s - 1e-4)), 4)
    rate = asset.rate.rate
    number = min(max(0, math.floor((source_s + 1e-6) * rate.fps)), max(0, asset.frame_count - 1))
    return (number + 0.5) * rate.den / rate.num


def is_on(layer: Layer, time_s: float) -> bool:
    """A span includes its start and ends before its end."""
    return layer.start_s - SAME_MOMENT_S <= time_s < layer.end_s - SAME_MOMENT_S


def _drawing(v: LayerValues) -> DrawingContent:
    parts = []
    for part in v.layer.parts:
        prefix = f"part.{part.id}."
        opacity = v(prefix + "opacity") / 100
        if part.on and opacity > 0:
            surface = _surface(v, drawn=False, prefix=prefix)
            parts.append(PartContent(v(prefix + "path"), surface, opacity))
    return DrawingContent(tuple(parts))


def _paint(v: LayerValues, prefix: str = "") -> Paint:
    kind = v(prefix + "fill.kind")
    if kind == "flat":
        return v(prefix + "fill.colour")
    (x0, y0), (x1, y1) = v(prefix + "fill.start"), v(prefix + "fill.end")
    return Gradient(kind, (x0 / 100, y0 / 100), (x1 / 100, y1 / 100), v(prefix + "fill.stops"))


def _surface(v: LayerValues, *, drawn: bool, prefix: str = "") -> Surface:
    surface = Surface(_paint(v, prefix) if v(prefix + "fill.on") else None)
    width = v(prefix + "stroke.width")
    if width <= 0:
        return surface
    stroke = Stroke(
        width, v(prefix + "stroke.cap"), v(prefix + "stroke.join"),
        dash_lengths(v(prefix + "stroke.dash")), v(prefix + "stroke.dash-offset"),
    )  # fmt: skip
    surface = replace(
        surface,
        stroke=stroke,
        stroke_colour=v(prefix + "stroke.colour"),
        fixed_width=v(prefix + "stroke.fixed"),
    )
    if drawn:
        part = (v("drawn.from") / 100, v("drawn.to") / 100, v("drawn.offset") / 100)
        surface = replace(surface, drawn=part)
    return surface


def _form(v: LayerValues) -> ShapeForm:
    kind = v("shape.kind")
    if kind in ("rectangle", "ellipse"):
        radius = v("shape.corner-radius") if kind == "rectangle" else 0.0
        return ShapeForm(kind, size=v("shape.size"), corner_radius=radius)
    if kind in ("polygon", "star"):
        return ShapeForm(
            kind,
            radius=v("shape.radius"),
            corners=max(3, round(v("shape.corners"))),
            inner=v("shape.inner") / 100 if kind == "star" else 1.0,
            corner_radius=v("shape.corner-radius"),
        )
    if kind == "line":
        return ShapeForm(kind, start=v("shape.start"), end=v("shape.end"))
    return ShapeForm(kind, path=v("shape.path"))
