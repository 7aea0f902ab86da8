"""What a layer shows at a moment, from the values of its properties."""

from __future__ import annotations

import math
from dataclasses import replace

from ..catalog import PARTS
from ..frame.contents import (
    BackdropContent,
    ClipContent,
    Content,
    DrawingContent,
    PartContent,
    PictureContent,
    ShapeContent,
    TextContent,
    TreatmentContent,
)
from ..frame.forms import ShapeForm
from ..frame.surface import PictureFill, Surface
from ..model import Asset
from ..model.kinds import dash_lengths
from ..pixels.canvas import Gradient, Paint, Stroke
from ..timing.playback import Playback
from ..typography.along import TextPath
from ..typography.layout import TextStyle
from .context import Resolver
from .values import LayerValues

_CLEAR = (0.0, 0.0, 0.0, 0.0)


def content_of(scene: Resolver, v: LayerValues) -> Content | None:
    """What a layer shows at its moment, None where it is nothing."""
    kind = v.layer.kind
    if kind in ("carrier", "sound"):
        return None
    if kind == "scene":
        return scene.scene_content(v)
    if kind == "backdrop":
        return BackdropContent(Surface(_paint(scene, v)), scene.scene.width, scene.scene.height)
    if kind == "treatment":
        return TreatmentContent(scene.scene.width, scene.scene.height)
    if kind == "shape" and v("shape.kind") == "drawing":
        return _drawing(scene, v)
    if kind == "shape":
        return ShapeContent(_form(scene, v), _surface(scene, v, drawn=True))
    if kind == "text":
        surface = _surface(scene, v, drawn=False)
        text = TextContent(v("text"), _text_style(scene, v), surface, along=_text_path(v))
        return scene.text_units(v, text) if v.moved else text
    if kind == "clip":
        return _clip(scene, v)
    return _picture(scene, v)


def _text_style(scene: Resolver, v: LayerValues) -> TextStyle:
    return TextStyle(
        scene.font(v("text.font")), v("text.weight"), v("text.size"), v("text.tracking"),
        v("text.leading"), v("text.align"), v("text.grows") == "side" and not v("text.path"),
    )  # fmt: skip


def _text_path(v: LayerValues) -> TextPath | None:
    data = v("text.path")
    if not data:
        return None
    offset = v("text.path-offset") / 100
    gap, reversed = v("text.path-gap"), v("text.path-reversed")
    return TextPath(data, offset, gap, reversed, v("text.path-upright"))


def _picture(scene: Resolver, v: LayerValues) -> PictureContent | None:
    asset = scene.asset(v("picture.asset"))
    if asset is None or asset.kind not in ("picture", "svg"):
        return None
    factor = _fit(scene, asset, v("picture.fit"))
    return PictureContent(
        asset.hash,
        asset.kind == "svg",
        (asset.width, asset.height),
        asset.width * factor,
        asset.height * factor,
        asset.name,
    )


def _fit(scene: Resolver, asset: Asset, how: str) -> float:
    ratios = (scene.scene.width / asset.width, scene.scene.height / asset.height)
    return {"natural": 1.0, "fit": min(ratios), "fill": max(ratios)}[how]


def _clip(scene: Resolver, v: LayerValues) -> ClipContent | None:
    asset = scene.asset(v("clip.asset"))
    if asset is None or asset.kind != "clip":
        return None
    source_s = source_second(v, asset)
    if source_s is None:
        return None
    factor = _fit(scene, asset, v("clip.fit"))
    size = (asset.width * factor, asset.height * factor)
    return ClipContent(asset.hash, frame_moment(asset, source_s), *size, asset.name)


def sound_of(scene: Resolver, v: LayerValues) -> Asset | None:
    """The asset whose sound a layer lets be heard; None where it is silent, or a placed scene."""
    kind = v.layer.kind
    if kind == "sound":
        asset = scene.asset(v("sound.asset"))
    elif kind == "clip" and v("sound.on"):
        asset = scene.asset(v("clip.asset"))
    else:
        return None
    # Of clips that were uploaded before sound was read it is not known whether they have any.
    return asset if asset is not None and (asset.channels or asset.kind == "clip") else None


def playback_of(v: LayerValues, asset: Asset) -> Playback:
    """How a clip's source is played, without freezing and time curve."""
    return playback_between(v, asset.duration_s)


def playback_between(v: LayerValues, length_s: float) -> Playback:
    """How a source of some seconds is played, without freezing and time curve."""
    end = v("time.to") or length_s
    start = min(v("time.from"), max(0.0, end - 0.001))
    return Playback(
        start, min(end, length_s), v("time.offset"), v("time.speed") / 100,
        v("time.reversed"), v("time.after"), round(v("time.times")),
    )  # fmt: skip


def source_second(v: LayerValues, asset: Asset) -> float | None:
    """The second of a clip's source that its layer shows; None where it shows nothing."""
    if v("time.curve"):
        result: float | None = v("time.source")
        return result
    if v("time.frozen"):
        result = v("time.frozen-at")
        return result
    return playback_of(v, asset).at(v.local_s)


def heard_second(v: LayerValues, asset: Asset) -> float | None:
    """The second of a sound, or of a clip's, that is heard; None where nothing is."""
    if v.has("time.curve") and v("time.curve"):
        result: float | None = v("time.source")
        return result
    if v.has("time.frozen") and v("time.frozen"):
        return None
    return playback_of(v, asset).at(v.local_s)


def frame_moment(asset: Asset, source_s: float) -> float:
    """A moment that stands for the source's frame at a second: the middle of the frame."""
    if asset.rate is None:
        return round(min(max(0.0, source_s), max(0.0, asset.duration_s - 1e-4)), 4)
    rate = asset.rate.rate
    number = min(max(0, math.floor((source_s + 1e-6) * rate.fps)), max(0, asset.frame_count - 1))
    return (number + 0.5) * rate.den / rate.num


def _drawing(scene: Resolver, v: LayerValues) -> DrawingContent:
    parts = []
    for part in v.layer.parts:
        prefix = PARTS.prefix(part.id)
        opacity = v(prefix + "opacity") / 100
        if part.on and opacity > 0:
            surface = _surface(scene, v, drawn=False, prefix=prefix)
            parts.append(PartContent(v(prefix + "path"), surface, opacity))
    return DrawingContent(tuple(parts))


def _paint(scene: Resolver, v: LayerValues, prefix: str = "") -> Paint | PictureFill:
    kind = v(prefix + "fill.kind")
    if kind == "flat":
        return v(prefix + "fill.colour")  # type: ignore[no-any-return]
    if kind in ("picture", "layer"):
        return _picture_fill(scene, v, prefix, kind)
    (x0, y0), (x1, y1) = v(prefix + "fill.start"), v(prefix + "fill.end")
    return Gradient(kind, (x0 / 100, y0 / 100), (x1 / 100, y1 / 100), v(prefix + "fill.stops"))


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


def _surface(scene: Resolver, v: LayerValues, *, drawn: bool, prefix: str = "") -> Surface:
    surface = Surface(_paint(scene, v, prefix) if v(prefix + "fill.on") else None)
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
        stroke_paint=_paint(scene, v, prefix) if v(prefix + "stroke.filled") else None,
    )
    if drawn:
        part = (v("drawn.from") / 100, v("drawn.to") / 100, v("drawn.offset") / 100)
        surface = replace(surface, drawn=part)
    return surface


def _form(scene: Resolver, v: LayerValues) -> ShapeForm:
    kind = v("shape.kind")
    if kind in ("rectangle", "ellipse"):
        radius = v("shape.corner-radius") if kind == "rectangle" else 0.0
        size = scene.places.fitted(v) or v("shape.size")
        return ShapeForm(kind, size=size, corner_radius=radius)
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
