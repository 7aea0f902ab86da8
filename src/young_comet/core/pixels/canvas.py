"""Drawing into rasters. With ``geometry.outline`` the only door to Skia."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import skia

from .colour import Rgba, argb

# Skia's flag for mixing premultiplied colours inside gradients.
_PREMUL = 1


@dataclass(frozen=True, slots=True)
class Gradient:
    """``kind`` linear, radial or conic, from ``start`` to ``end`` in the drawn space.

    Linear runs from start to end; radial is a circle about start through end; conic turns
    clockwise about start, beginning in the direction of end. Stops: (offset 0..1, colour).
    """

    kind: str
    start: tuple[float, float]
    end: tuple[float, float]
    stops: tuple[tuple[float, Rgba], ...]


Paint = Rgba | Gradient


@dataclass(frozen=True, slots=True)
class Stroke:
    """Pen settings; widths and dashes in the drawn space. ``dash`` alternates on and off."""

    width: float
    cap: str = "butt"
    join: str = "miter"
    dash: tuple[float, ...] = ()
    dash_offset: float = 0.0


SKIA_MODES = {
    "normal": skia.BlendMode.kSrcOver,
    "multiply": skia.BlendMode.kMultiply,
    "screen": skia.BlendMode.kScreen,
    "overlay": skia.BlendMode.kOverlay,
    "darken": skia.BlendMode.kDarken,
    "lighten": skia.BlendMode.kLighten,
    "color-dodge": skia.BlendMode.kColorDodge,
    "color-burn": skia.BlendMode.kColorBurn,
    "hard-light": skia.BlendMode.kHardLight,
    "soft-light": skia.BlendMode.kSoftLight,
    "difference": skia.BlendMode.kDifference,
    "exclusion": skia.BlendMode.kExclusion,
    "hue": skia.BlendMode.kHue,
    "saturation": skia.BlendMode.kSaturation,
    "color": skia.BlendMode.kColor,
    "luminosity": skia.BlendMode.kLuminosity,
    "plus-lighter": skia.BlendMode.kPlus,
}

_CAPS = {
    "butt": skia.Paint.kButt_Cap,
    "round": skia.Paint.kRound_Cap,
    "square": skia.Paint.kSquare_Cap,
}
_JOINS = {
    "miter": skia.Paint.kMiter_Join,
    "round": skia.Paint.kRound_Join,
    "bevel": skia.Paint.kBevel_Join,
}


class Canvas:
    """Draws onto an existing (h, w, 4) array in place.

    Outlines are given in the drawn space together with the matrix (skia.Matrix) to pixels.
    """

    def __init__(self, pixels: np.ndarray) -> None:
        height, width = pixels.shape[:2]
        info = skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
        self._pixels = pixels  # Skia writes into this memory: it must outlive the surface
        self._surface = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0])
        self._canvas = self._surface.getCanvas()
        # The standard deviation by which what is filled and stroked is blurred, in the drawn space.
        self.blur = 0.0

    def clear(self, colour: Rgba) -> None:
        """Makes everything one colour."""
        self._canvas.clear(argb(colour))

    def fill_all(
        self, paint: Paint, matrix: skia.Matrix, opacity: float = 1.0, mode: str = "normal"
    ) -> None:
        """Covers everything; the matrix places a gradient."""
        sk = self._soft(_fill(paint, opacity))
        sk.setBlendMode(SKIA_MODES[mode])
        self._canvas.save()
        self._canvas.resetMatrix()
        if isinstance(paint, Gradient) and sk.getShader() is not None:
            sk.setShader(sk.getShader().makeWithLocalMatrix(matrix))
        self._canvas.drawPaint(sk)
        self._canvas.restore()

    def fill(
        self,
        path: skia.Path,
        paint: Paint,
        matrix: skia.Matrix,
        opacity: float,
        mode: str = "normal",
    ) -> None:
        """Fills a path, blended by a mode of the W3C."""
        sk = self._soft(_fill(paint, opacity))
        sk.setBlendMode(SKIA_MODES[mode])
        self._canvas.setMatrix(matrix)
        self._canvas.drawPath(path, sk)

    def stroke(
        self, path: skia.Path, stroke: Stroke, paint: Paint, matrix: skia.Matrix, opacity: float
    ) -> None:
        """Strokes an outline."""
        self._canvas.setMatrix(matrix)
        self._canvas.drawPath(path, self._soft(_pen(stroke, paint, opacity)))

    def _soft(self, paint: skia.Paint) -> skia.Paint:
        if self.blur > 0.01:
            paint.setMaskFilter(skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, self.blur))
        return paint

    def picture(self, pixels: np.ndarray, left: int, top: int, opacity: float = 1.0) -> None:
        """Source-over of another raster, pixel on pixel."""
        if pixels.size == 0:
            return
        height, width = pixels.shape[:2]
        info = skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
        image = skia.Image.MakeFromRaster(skia.Pixmap(info, pixels, pixels.strides[0]))
        self._canvas.resetMatrix()
        self._canvas.drawImage(
            image, left, top, skia.SamplingOptions(), skia.Paint(Alphaf=min(1.0, max(0.0, opacity)))
        )

    def clip(self, path: skia.Path, matrix: skia.Matrix, *, outside: bool = False) -> None:
        """What is drawn until ``unclip`` is seen within an outline only, or ``outside`` of it."""
        self._canvas.save()
        self._canvas.setMatrix(matrix)
        how = skia.ClipOp.kDifference if outside else skia.ClipOp.kIntersect
        self._canvas.clipPath(path, how, True)

    @property
    def depth(self) -> int:
        """How many clips and layers are open."""
        count: int = self._canvas.getSaveCount()
        return count

    def close_to(self, depth: int) -> None:
        """Ends the clips and layers that were begun since it had that depth."""
        self._canvas.restoreToCount(depth)

    def unclip(self) -> None:
        """Ends the last ``clip``."""
        self._canvas.restore()

    def keep(self, paint: Paint, matrix: skia.Matrix) -> None:
        """Of what was drawn since the layer began only as much stays as a paint covers."""
        sk = _fill(paint, 1.0)
        sk.setBlendMode(skia.BlendMode.kDstIn)
        self._canvas.resetMatrix()
        if isinstance(paint, Gradient) and sk.getShader() is not None:
            sk.setShader(sk.getShader().makeWithLocalMatrix(matrix))
        self._canvas.drawPaint(sk)

    def begin_layer(self, bounds: tuple[float, float, float, float], opacity: float) -> None:
        """What is drawn until ``end_layer`` is composited as one picture of that opacity."""
        self._canvas.resetMatrix()
        self._canvas.saveLayerAlpha(skia.Rect(*bounds), round(min(1.0, max(0.0, opacity)) * 255))

    def end_layer(self) -> None:
        """Lays what was drawn since the layer began."""
        self._canvas.restore()


def _fill(paint: Paint, opacity: float) -> skia.Paint:
    result = skia.Paint(AntiAlias=True)
    _colour(result, paint, opacity)
    return result


def _pen(stroke: Stroke, paint: Paint, opacity: float) -> skia.Paint:
    result = skia.Paint(
        AntiAlias=True,
        Style=skia.Paint.kStroke_Style,
        StrokeWidth=stroke.width,
        StrokeCap=_CAPS[stroke.cap],
        StrokeJoin=_JOINS[stroke.join],
    )
    if stroke.dash:
        dash = list(stroke.dash) * (2 if len(stroke.dash) % 2 else 1)
        result.setPathEffect(skia.DashPathEffect.Make(dash, stroke.dash_offset))
    _colour(result, paint, opacity)
    return result


def _colour(target: skia.Paint, paint: Paint, opacity: float) -> None:
    if not isinstance(paint, Gradient):
        target.setColor(argb(paint, opacity))
        return
    shader = _shader(paint)
    if shader is None:  # a gradient without extent is its last stop (SVG 2, section 14.2)
        target.setColor(argb(paint.stops[-1][1], opacity))
        return
    target.setShader(shader)
    target.setAlphaf(min(1.0, max(0.0, opacity)))
    target.setDither(True)


def _shader(gradient: Gradient) -> skia.Shader | None:
    (x0, y0), (x1, y1) = gradient.start, gradient.end
    if abs(x1 - x0) + abs(y1 - y0) < 1e-6 or len(gradient.stops) < 2:
        return None
    stops = sorted(gradient.stops, key=lambda stop: stop[0])
    colours = [argb(colour) for _, colour in stops]
    offsets = [offset for offset, _ in stops]
    clamp = skia.TileMode.kClamp
    if gradient.kind == "linear":
        ends = [skia.Point(x0, y0), skia.Point(x1, y1)]
        return skia.GradientShader.MakeLinear(ends, colours, offsets, clamp, _PREMUL)
    if gradient.kind == "radial":
        radius = float(np.hypot(x1 - x0, y1 - y0))
        return skia.GradientShader.MakeRadial(
            skia.Point(x0, y0), radius, colours, offsets, clamp, _PREMUL
        )
    angle = float(np.degrees(np.arctan2(y1 - y0, x1 - x0)))
    turn = skia.Matrix().setRotate(angle, x0, y0)
    return skia.GradientShader.MakeSweep(x0, y0, colours, offsets, clamp, 0, 360, _PREMUL, turn)
