"""How outlines are painted, from the values of a layer's properties or those of a member's."""

from __future__ import annotations

import math
from dataclasses import replace

from ..frame.contents import ClipContent, PictureContent
from ..frame.surface import PictureFill, Surface
from ..model import Asset
from ..model.kinds import dash_lengths
from ..pixels.canvas import Gradient, Paint, Stroke
from ..pixels.mixing import mixed_stops
from .context import Resolver
from .values import LayerValues

_CLEAR = (0.0, 0.0, 0.0, 0.0)


def frame_moment(asset: Asset, source_s: float) -> float:
    """A moment that stands for the source's frame at a second: the middle of the frame."""
    if asset.rate is None:
        return round(min(max(0.0, source_s), max(0.0, asset.duration_s - 1e-4)), 4)
    rate = asset.rate.rate
    number = min(max(0, math.floor((source_s + 1e-6) * rate.fps)), max(0, asset.frame_count - 1))
    return (number + 0.5) * rate.den / rate.num


def paint_of(scene: Resolver, v: LayerValues, prefix: str = "") -> Paint | PictureFill:
    """What a fill is painted with; ``prefix`` is that of the member whose fill it is."""
    kind = v(prefix + "fill.kind")
    if kind == "flat":
        return v(prefix + "fill.colour")  # type: ignore[no-any-return]
    if kind in ("picture", "layer"):
        return _picture_fill(scene, v, prefix, kind)
    (x0, y0), (x1, y1) = v(prefix + "fill.start"), v(prefix + "fill.end")
    stops = mixed_stops(v(prefix + "fill.stops"), v(prefix + "fill.mixing"))
    return Gradient(kind, (x0 / 100, y0 / 100), (x1 / 100, y1 / 100), stops)


def _picture_fill(scene: Resolver, v: LayerValues, prefix: str, kind: str) -> PictureFill | Paint:
    """A picture as a fill; nothing is seen where there is none."""
    content: PictureContent | ClipContent | None = None
    layer, box = None, (0.0, 0.0, 0.0, 0.0)
    if kind == "layer":
        found = scene.fill_layer(v, v(prefix + "fill.layer"))
        if found is None:
            return _CLEAR
        layer, box = found
    else:
        asset = scene.asset(v(prefix + "fill.picture"))
        if asset is None or asset.kind not in ("picture", "svg", "clip"):
            return _CLEAR
        w, h = float(asset.width), float(asset.height)
        box = (-w / 2, -h / 2, w / 2, h / 2)
        if asset.kind == "clip":
            moment = frame_moment(asset, v.local_s % max(1e-3, asset.duration_s))
            content = ClipContent(asset.hash, moment, w, h, asset.name)
        else:
            svg = asset.kind == "svg"
            content = PictureContent(asset.hash, svg, (w, h), w, h, asset.name)
    into = None
    if v(prefix + "fill.space") == "scene":
        try:
            into = scene.places.flat(v).inverse()
        except ValueError:
            return _CLEAR
    sx, sy = v(prefix + "fill.scale")
    return PictureFill(
        content, layer, layer.signature if layer else b"", box, v(prefix + "fill.fit"),
        v(prefix + "fill.place"), (sx / 100, sy / 100), v(prefix + "fill.turned"), into,
        (scene.scene.width, scene.scene.height),
    )  # fmt: skip


def surface_of(scene: Resolver, v: LayerValues, *, drawn: bool, prefix: str = "") -> Surface:
    """Fill and stroke; what of the stroke is ``drawn`` where the layer has that."""
    fill = paint_of(scene, v, prefix) if v(prefix + "fill.on") else None
    surface = Surface(
        fill, stroke_colour=v(prefix + "stroke.colour"), outer_px=v(prefix + "stroke.outer"),
        outer_colour=v(prefix + "stroke.outer-colour"), fixed_width=v(prefix + "stroke.fixed"),
    )  # fmt: skip
    width = v(prefix + "stroke.width")
    if width <= 0 and surface.outer_px <= 0:
        return replace(surface, fixed_width=False)
    stroke = Stroke(
        width, v(prefix + "stroke.cap"), v(prefix + "stroke.join"),
        dash_lengths(v(prefix + "stroke.dash")), v(prefix + "stroke.dash-offset"),
    )  # fmt: skip
    surface = replace(
        surface,
        stroke=stroke if width > 0 else None,
        side=v(prefix + "stroke.side"),
        stroke_paint=paint_of(scene, v, prefix) if v(prefix + "stroke.filled") else None,
    )
    if drawn:
        part = (v("drawn.from") / 100, v("drawn.to") / 100, v("drawn.offset") / 100)
        surface = replace(surface, drawn=part)
    return surface
