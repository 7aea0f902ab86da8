"""What a layer shows at a moment, from the values of its properties."""

from __future__ import annotations

from dataclasses import replace

from ...errors import YoungCometError
from ..audio import Ears
from ..catalog import PARTS
from ..expressions import ExpressionError
from ..frame.contents import (
    BackdropContent,
    ClipContent,
    Content,
    DrawingContent,
    PartContent,
    PictureContent,
    ShapeContent,
    TreatmentContent,
)
from ..frame.forms import ShapeForm
from ..frame.surface import Surface
from ..model import Asset
from ..timing.playback import Playback
from .context import Resolver
from .surfaces import frame_moment, paint_of, surface_of
from .texts import text_of
from .values import LayerValues


def content_of(scene: Resolver, v: LayerValues) -> Content | None:
    """What a layer shows at its moment, None where it is nothing."""
    kind = v.layer.kind
    if kind in ("carrier", "sound"):
        return None
    if kind == "scene":
        return scene.scene_content(v)
    if kind == "backdrop":
        return BackdropContent(Surface(paint_of(scene, v)), scene.scene.width, scene.scene.height)
    if kind == "treatment":
        return TreatmentContent(scene.scene.width, scene.scene.height)
    if kind == "shape" and v("shape.kind") == "drawing":
        return _drawing(scene, v)
    if kind == "shape":
        surface = surface_of(scene, v, drawn=True)
        if v("shape.kind") == "line":  # it has no inside, nor anything beneath
            surface = replace(surface, side="centre")
        return ShapeContent(_form(scene, v), surface)
    if kind == "text":
        text = text_of(scene, v)
        return scene.text_units(v, text) if v.moved or text.earlier else text
    if kind == "clip":
        return _clip(scene, v)
    return _picture(scene, v)


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
    source_s = beyond_span(scene, v, asset.duration_s)
    if source_s is None:
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


def beyond_span(scene: Resolver, v: LayerValues, length_s: float) -> float | None:
    """The second of a source of some seconds that is shown before its layer's start, or after its
    end, while it crosses with another: it goes on as far as there is more of it, then its last
    picture stays. None within the span, and where time is bent or stands anyway."""
    span = v.layer.end_s - v.layer.start_s
    if -1e-6 < v.local_s < span - 1e-6 or not scene.crosses(v.layer.id):
        return None
    if v("time.curve") or v("time.frozen"):
        return None
    played = playback_between(v, length_s)
    last = played.at(min(max(0.0, v.local_s), max(0.0, span - 1e-5)))
    if last is None or played.backwards or played.after in ("loop", "there-and-back"):
        return last
    place = played.from_s + played.offset_s + v.local_s * played.speed
    stands = v.local_s > 0 and played.offset_s + span * played.speed > played.length_s + 1e-6
    return last if stands else min(max(0.0, place), max(0.0, length_s - 1e-5))


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


def _drawing(scene: Resolver, v: LayerValues) -> DrawingContent:
    parts = []
    for part in v.layer.parts:
        prefix = PARTS.prefix(part.id)
        opacity = v(prefix + "opacity") / 100
        if part.on and opacity > 0:
            surface = surface_of(scene, v, drawn=False, prefix=prefix)
            parts.append(PartContent(v(prefix + "path"), surface, opacity))
    return DrawingContent(tuple(parts))


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


def level_of(
    evaluator: Resolver, v: LayerValues, library: object, band_hz: tuple[float, float]
) -> float:
    """How loud what is played of a layer's file is between two frequencies, 0 to 1; 0 where it is
    not heard. ExpressionError where it cannot be read."""
    asset = sound_of(evaluator, v)
    second = None if asset is None or v("sound.muted") else heard_second(v, asset)
    if asset is None or second is None or not isinstance(library, Ears):
        return 0.0
    try:
        return library.bands(asset.hash).level(second, *band_hz)
    except YoungCometError as error:
        raise ExpressionError(f"{v.layer.name!r} cannot be listened to: {error}") from error
