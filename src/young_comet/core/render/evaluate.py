"""Document and time in, resolved frame out."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from ...errors import NotFoundError
from ..catalog import layer_kind
from ..catalog.check import dash_lengths
from ..geometry.affine import Affine
from ..model import Asset, Key, Kind, Layer, Project, Property, PropertySpec, Scene, Track
from ..pixels.canvas import Gradient, Paint, Stroke
from ..pixels.colour import Rgba, parse_colour
from ..timing import parse_easing
from ..timing.timebase import SAME_MOMENT_S
from ..typography.layout import TextStyle
from .resolved import (
    BackdropContent,
    Content,
    PictureContent,
    ResolvedFrame,
    ResolvedLayer,
    ShapeContent,
    ShapeForm,
    Surface,
    TextContent,
)

MISSING_INK: Rgba = (1.0, 0.0, 1.0, 1.0)  # plainly wrong, so that it is seen and mended


class TrackCache:
    """Tracks made from properties, kept while the same property object is asked for again.

    Edits build new property objects only where something changed, so most of a document's
    tracks outlive an edit.
    """

    def __init__(self, limit: int = 20_000) -> None:
        self._limit = limit
        self._tracks: dict[tuple[int, int], tuple[Property, object, Track]] = {}

    def track(self, prop: Property, spec: PropertySpec, inks: dict[str, Rgba]) -> Track:
        key = (id(prop), id(inks))
        found = self._tracks.get(key)
        if found is not None and found[0] is prop and found[1] is inks:
            return found[2]
        track = Track(
            spec.kind,
            [
                Key(
                    k.time_s,
                    resolve_value(spec, k.value, inks),
                    parse_easing(k.easing),
                    k.handle_in or (0.0, 0.0),
                    k.handle_out or (0.0, 0.0),
                )
                for k in prop.keys
            ],
        )
        if len(self._tracks) >= self._limit:
            self._tracks.clear()
        self._tracks[key] = (prop, inks, track)
        return track


_INKS: list[tuple[Any, dict[str, Rgba]]] = []


def ink_colours(project: Project) -> dict[str, Rgba]:
    """The project's inks by id; the same object for the same inks."""
    for inks, colours in _INKS:
        if inks is project.inks or inks == project.inks:
            return colours
    colours = {ink.id: parse_colour(ink.colour) for ink in project.inks}
    _INKS.append((project.inks, colours))
    del _INKS[:-8]
    return colours


def resolve_value(spec: PropertySpec, value: Any, inks: dict[str, Rgba]) -> Any:
    """A document's value as the computation uses it: colours as numbers, inks looked up."""
    if spec.kind is Kind.COLOUR:
        return resolve_colour(value, inks)
    if spec.kind is Kind.STOPS:
        return tuple((offset, resolve_colour(colour, inks)) for offset, colour in value)
    return value


def resolve_colour(text: str, inks: dict[str, Rgba]) -> Rgba:
    if text.startswith("ink:"):
        return inks.get(text[4:], MISSING_INK)
    return parse_colour(text)


class LayerValues:
    """The values of one layer's properties at one time (s from the layer's start)."""

    def __init__(
        self, layer: Layer, scene: Scene, local_s: float, inks: dict[str, Rgba], cache: TrackCache
    ) -> None:
        self.layer, self.scene, self.local_s = layer, scene, local_s
        self._inks, self._cache = inks, cache
        self._kind = layer_kind(layer.kind)

    def __call__(self, property_id: str) -> Any:
        spec = self._kind.spec(property_id)
        if spec is None:
            raise KeyError(property_id)
        prop = self.layer.properties.get(property_id)
        if prop is None:
            return resolve_value(spec, default_value(spec, self.scene), self._inks)
        if prop.keys:
            return self._cache.track(prop, spec, self._inks).at(self.local_s)
        return resolve_value(spec, prop.value, self._inks)


def default_value(spec: PropertySpec, scene: Scene) -> Any:
    """The declared default; a position without one is the middle of the frame."""
    if spec.id == "position" and spec.default is None:
        return (scene.width / 2, scene.height / 2)
    return spec.default


class SceneEvaluator:
    """Evaluates one scene of one state of a project."""

    def __init__(self, project: Project, scene_id: str, cache: TrackCache | None = None) -> None:
        scene = next((s for s in project.scenes if s.id == scene_id), None)
        if scene is None:
            raise NotFoundError(f"there is no scene {scene_id!r}", field="scene")
        self.project, self.scene = project, scene
        self.rate = scene.rate.rate
        self._inks = ink_colours(project)
        self._assets: dict[str, Asset] = {asset.id: asset for asset in project.assets}
        self._cache = cache or TrackCache()
        self._ground = parse_colour(scene.ground) if scene.ground else None

    def frame(self, number: int, *, leave_out: Iterable[str] = ()) -> ResolvedFrame:
        """The frame of that number."""
        return self.at(self.rate.time_of(number), leave_out=leave_out)

    def at(self, time_s: float, *, leave_out: Iterable[str] = ()) -> ResolvedFrame:
        """The scene at a time; ``leave_out`` names layer kinds that are not drawn."""
        layers = []
        without = set(leave_out)
        for layer in self.scene.layers:
            if layer.hidden or layer.kind in without or not is_on(layer, time_s):
                continue
            resolved = self.layer(layer, time_s)
            if resolved is not None and resolved.opacity > 0:
                layers.append(resolved)
        return ResolvedFrame(self.scene.width, self.scene.height, self._ground, tuple(layers))

    def values(self, layer: Layer, time_s: float) -> LayerValues:
        return LayerValues(layer, self.scene, time_s - layer.start_s, self._inks, self._cache)

    def track(self, layer: Layer, property_id: str) -> Track | None:
        """The track of a keyed property, None where it has no keys."""
        prop, spec = layer.properties.get(property_id), layer_kind(layer.kind).spec(property_id)
        if prop is None or spec is None or not prop.keys:
            return None
        return self._cache.track(prop, spec, self._inks)

    def layer(self, layer: Layer, time_s: float) -> ResolvedLayer | None:
        """One layer, whether it is on or not; None if it has nothing to show (no picture)."""
        v = self.values(layer, time_s)
        content = self._content(v)
        if content is None:
            return None
        return ResolvedLayer(layer.id, content, self.matrix(v), v("opacity") / 100)

    def matrix(self, v: LayerValues) -> Affine:
        """From the layer's own space into the scene."""
        if not layer_kind(v.layer.kind).placed:
            return Affine.shift(self.scene.width / 2, self.scene.height / 2)
        sx, sy = v("scale")
        return Affine.place(
            v("position"), v("rotation"), (sx / 100, sy / 100), v("skew"), v("pivot")
        )

    def _content(self, v: LayerValues) -> Content | None:
        kind = v.layer.kind
        if kind == "backdrop":
            return BackdropContent(Surface(_paint(v)))
        if kind == "shape":
            return ShapeContent(_form(v), _surface(v, drawn=True))
        if kind == "text":
            return TextContent(v("text"), self._text_style(v), _surface(v, drawn=False))
        return self._picture(v)

    def _text_style(self, v: LayerValues) -> TextStyle:
        font = v("text.font")
        if font.startswith("asset:"):
            asset = self._assets.get(font[6:])
            font = f"asset:{asset.hash}" if asset and asset.kind == "font" else "inter"
        return TextStyle(
            font, v("text.weight"), v("text.size"), v("text.tracking"), v("text.leading"),
            v("text.align"),
        )  # fmt: skip

    def _picture(self, v: LayerValues) -> PictureContent | None:
        asset = self._assets.get(v("picture.asset"))
        if asset is None or asset.kind == "font":
            return None
        ratios = (self.scene.width / asset.width, self.scene.height / asset.height)
        factor = {"natural": 1.0, "fit": min(ratios), "fill": max(ratios)}[v("picture.fit")]
        return PictureContent(
            asset.hash,
            asset.kind == "svg",
            (asset.width, asset.height),
            asset.width * factor,
            asset.height * factor,
        )


def is_on(layer: Layer, time_s: float) -> bool:
    """A span includes its start and ends before its end."""
    return layer.start_s - SAME_MOMENT_S <= time_s < layer.end_s - SAME_MOMENT_S


def _paint(v: LayerValues) -> Paint:
    kind = v("fill.kind")
    if kind == "flat":
        return v("fill.colour")
    (x0, y0), (x1, y1) = v("fill.start"), v("fill.end")
    return Gradient(kind, (x0 / 100, y0 / 100), (x1 / 100, y1 / 100), v("fill.stops"))


def _surface(v: LayerValues, *, drawn: bool) -> Surface:
    surface = Surface(_paint(v) if v("fill.on") else None)
    width = v("stroke.width")
    if width <= 0:
        return surface
    stroke = Stroke(
        width, v("stroke.cap"), v("stroke.join"), dash_lengths(v("stroke.dash")),
        v("stroke.dash-offset"),
    )  # fmt: skip
    surface = replace(
        surface,
        stroke=stroke,
        stroke_colour=v("stroke.colour"),
        fixed_width=v("stroke.fixed"),
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
