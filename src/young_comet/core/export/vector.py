"""A frame as SVG 1.1: shapes, drawings and texts as paths, everything else as pictures.

What is plain stays sharp at any size. What only pixels can show (effects, masks, footage, motion
blur, perspective) is a picture in the place of its layer; a treatment, or a blending that CSS does
not know, makes one picture of all that lies below.
"""

from __future__ import annotations

import base64
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from itertools import pairwise
from xml.sax.saxutils import quoteattr

import numpy as np

from ..frame.contents import (
    BackdropContent,
    Content,
    DrawingContent,
    ShapeContent,
    TextContent,
    Texts,
    TreatmentContent,
)
from ..frame.lettered import Painted, backs, on_their_way, resting
from ..frame.resolved import ResolvedFrame, ResolvedLayer, SceneContent
from ..frame.surface import PictureFill, Surface, paint_in_box
from ..geometry.affine import Affine, Box
from ..geometry.outline import Outline, from_svg_path, rectangle
from ..geometry.path_data import is_even_odd, number, write_svg_path
from ..pixels.canvas import Gradient, Paint, Stroke
from ..pixels.colour import Rgba, format_colour, mix
from .still import encode_png

# Pixels of a frame, (h, w, 4) premultiplied BGRA, its ground left out where it has none.
Draw = Callable[[ResolvedFrame], np.ndarray]

# What `mix-blend-mode` knows (W3C Compositing and Blending, Levels 1 and 2).
_CSS_BLENDS = frozenset(
    (
        "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge",
        "color-burn", "hard-light", "soft-light", "difference", "exclusion", "hue", "saturation",
        "color", "luminosity", "plus-lighter",
    )
)  # fmt: skip
# Letters that no XML may have (XML 1.0, section 2.2).
_NOT_XML = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
# Stops that stand for colours mixed as they are seen, where SVG mixes them apart from their alpha.
_STEPS = 12


def pictured(frame: ResolvedFrame) -> tuple[str, ...]:
    """The ids of the layers of a frame that an SVG can only hold as pictures."""
    flat = _flattened(frame)
    return tuple(
        layer.id for n, layer in enumerate(frame.layers) if n < flat or not _is_drawn(layer)
    )


def write_svg(frame: ResolvedFrame, size: tuple[int, int], texts: Texts, draw: Draw) -> bytes:
    """The file: as large as ``size`` px, in units of the scene. ``draw`` gives the pictures that
    are needed."""
    writer = _Writer(frame, texts, draw)
    body = "\n".join(writer.stack())
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{size[0]}" height="{size[1]}" '
        f'viewBox="0 0 {frame.width} {frame.height}" style="isolation:isolate">'
    )
    return f"{head}\n{body}\n</svg>\n".encode()


def _flattened(frame: ResolvedFrame) -> int:
    """How many of the lowest layers must become one picture."""
    flat = 0
    for place, layer in enumerate(frame.layers, 1):
        through = isinstance(layer.content, TreatmentContent) or layer.composite != "over"
        if through or layer.blend not in _CSS_BLENDS:
            flat = place
    return flat


def _is_drawn(layer: ResolvedLayer) -> bool:
    """Whether a layer can be written as paths."""
    looks = (layer.masks, layer.effects, layer.slices, layer.lens, layer.mattes,
             layer.inner_mattes, layer.shutter)  # fmt: skip
    return not any(looks) and _is_plain(layer.content)


def _is_plain(content: Content) -> bool:
    match content:
        case BackdropContent(surface=surface) | ShapeContent(surface=surface):
            return _is_even(surface)
        case TextContent():
            return _is_lettered(content)
        case DrawingContent(parts=parts):
            return all(_is_even(part.surface) for part in parts)
        case SceneContent(frame=frame):
            return not _flattened(frame) and all(map(_is_drawn, frame.layers))
    return False


def _is_lettered(content: TextContent) -> bool:
    """Whether all of a text is paths: nothing is turned in space, soft or wiped."""
    surfaces = (content.surface, *(dress.surface for dress in content.dresses))
    if content.cursor or not all(map(_is_even, surfaces)):
        return False
    for unit in content.units:
        places = (unit.place, *(each.place for each in unit.within))
        in_space = content.eye is not None and any(place.in_space for place in places)
        if in_space or unit.look.blur_px or unit.wipes:
            return False
    return True


def _is_even(surface: Surface) -> bool:
    """Whether SVG knows its paints: it has no conic gradients, and soft shadows are pictures."""
    if surface.shadow is not None:
        return False
    paints = (surface.fill, surface.stroke_paint)
    return not any(
        isinstance(paint, PictureFill) or (isinstance(paint, Gradient) and paint.kind == "conic")
        for paint in paints
    )


@dataclass
class _Writer:
    """Writes one frame; ``ids`` counts what is referred to, over all frames within frames."""

    frame: ResolvedFrame
    texts: Texts
    draw: Draw
    ids: Iterator[int] = field(default_factory=lambda: iter(range(1, 10**9)))

    def stack(self) -> Iterator[str]:
        """The elements of the frame, the lowest first."""
        frame, flat = self.frame, _flattened(self.frame)
        if flat:
            below = replace(frame, layers=frame.layers[:flat])
            yield from self._image(self.draw(below), "normal")
        elif frame.ground is not None:
            paint = self._attribute("fill", frame.ground)
            yield f'<rect width="{frame.width}" height="{frame.height}"{paint}/>'
        for layer in frame.layers[flat:]:
            if _is_drawn(layer):
                yield from self._layer(layer)
            else:
                alone = replace(layer, blend="normal")
                pixels = self.draw(replace(frame, ground=None, layers=(alone,)))
                yield from self._image(pixels, layer.blend)

    def _image(self, pixels: np.ndarray, blend: str) -> Iterator[str]:
        """A picture of what is not clear, in its place."""
        rows, columns = (np.flatnonzero(pixels[..., 3].any(axis=n)) for n in (1, 0))
        if not len(rows):
            return
        top, bottom, left, right = rows[0], rows[-1] + 1, columns[0], columns[-1] + 1
        data = encode_png(np.ascontiguousarray(pixels[top:bottom, left:right]))
        across = self.frame.width / pixels.shape[1]
        down = self.frame.height / pixels.shape[0]
        place = {
            "x": left * across, "y": top * down, "width": (right - left) * across,
            "height": (bottom - top) * down,
        }  # fmt: skip
        at = "".join(f' {name}="{number(float(value))}"' for name, value in place.items())
        href = f"data:image/png;base64,{base64.b64encode(data).decode()}"
        yield f'<image{at} preserveAspectRatio="none"{_blended(blend)} href="{href}"/>'

    def _layer(self, layer: ResolvedLayer) -> Iterator[str]:
        if layer.opacity <= 0:
            return
        faint = "" if layer.opacity >= 1 else f' opacity="{number(layer.opacity)}"'
        inner = "\n".join(self._content(layer.content, layer.matrix))
        if inner:
            yield f"<g{faint}{_blended(layer.blend)}{_read(layer.content)}>\n{inner}\n</g>"

    def _content(self, content: Content, matrix: Affine) -> Iterator[str]:
        match content:
            case BackdropContent():
                yield from self._backdrop(content, matrix)
            case ShapeContent():
                outline = content.outline(self.texts)
                box = content.box(self.texts)
                yield from self._surface(content.surface, outline, outline, box, matrix, 1.0)
            case DrawingContent():
                for part in content.parts:
                    outline = from_svg_path(part.path)
                    yield from self._surface(
                        part.surface, outline, outline, outline.bounds, matrix, part.opacity
                    )
            case TextContent():
                yield from self._text(content, matrix)
            case SceneContent():
                yield from self._scene(content, matrix)

    def _backdrop(self, content: BackdropContent, matrix: Affine) -> Iterator[str]:
        """A fill of the whole frame, laid out in the layer's box."""
        fill = content.surface.fill
        assert fill is not None and not isinstance(fill, PictureFill)
        paint = paint_in_box(fill, content.box(self.texts))
        defs, value = self._paint("fill", paint, matrix)
        yield f'{defs}<rect width="{self.frame.width}" height="{self.frame.height}"{value}/>'

    def _text(self, content: TextContent, matrix: Affine) -> Iterator[str]:
        layout = content.layout(self.texts)
        for each in (*backs(content, layout), *resting(content, layout)):
            yield from self._painted(each, matrix, 1.0)
        for piece in on_their_way(content, layout, self.texts):
            place = piece.place
            assert isinstance(place, Affine)
            if abs(place.a * place.d - place.b * place.c) <= 1e-12:
                continue
            drawn = [
                element
                for each in piece.painted
                for element in self._painted(each, matrix @ place, piece.opacity)
            ]
            for within, there in ((piece.half, matrix @ place), (piece.window, matrix)):
                if within is not None:
                    drawn = [self._within(within, there, drawn)]
            yield from drawn

    def _within(self, outline: Outline, matrix: Affine, drawn: list[str]) -> str:
        """Elements that are seen within an outline only."""
        clip = f"within{next(self.ids)}"
        path = f'<clipPath id="{clip}"><path{_placed(matrix)}{_path(outline)}/></clipPath>'
        return f'{path}<g clip-path="url(#{clip})">' + "".join(drawn) + "</g>"

    def _painted(self, each: Painted, matrix: Affine, opacity: float) -> Iterator[str]:
        yield from self._surface(each.surface, each.area, each.edge, each.box, matrix, opacity)

    def _scene(self, content: SceneContent, matrix: Affine) -> Iterator[str]:
        frame = content.frame
        inner = _Writer(frame, self.texts, self.draw, self.ids)
        clip = f"within{next(self.ids)}"
        there = matrix @ Affine.shift(-content.width / 2, -content.height / 2)
        there = there @ Affine.scaling(content.width / frame.width, content.height / frame.height)
        box = f'<rect width="{frame.width}" height="{frame.height}"/>'
        yield f'<clipPath id="{clip}">{box}</clipPath>'
        body = "\n".join(inner.stack())
        yield (
            f'<g{_placed(there)} clip-path="url(#{clip})" style="isolation:isolate">\n{body}\n</g>'
        )

    def _surface(
        self, surface: Surface, area: Outline, edge: Outline, box: Box, matrix: Affine,
        opacity: float,
    ) -> Iterator[str]:  # fmt: skip
        """Fill and stroke of an outline, as one where they are faint together."""
        drawn: list[str] = []
        fill = surface.fill
        if fill is not None and not area.is_empty:
            assert not isinstance(fill, PictureFill)
            defs, value = self._paint("fill", paint_in_box(fill, box), Affine())
            drawn.append(f"{defs}<path{_placed(matrix)}{value}{_path(area)}/>")
        if surface.stroke is not None:
            stroke = self._sided(surface, area, self._stroke(surface, edge, box, matrix), matrix)
            drawn.insert(0 if surface.lies_under else len(drawn), stroke)
        if outer := surface.outer:
            drawn.insert(0, self._stroke(outer, edge, box, matrix))
        drawn = [each for each in drawn if each]
        if not drawn or opacity <= 0:
            return
        if opacity >= 1:
            yield from drawn
        else:
            yield f'<g opacity="{number(opacity)}">' + "".join(drawn) + "</g>"

    def _sided(self, surface: Surface, area: Outline, stroke: str, matrix: Affine) -> str:
        """A stroke of which only one side of the outline is seen."""
        if not stroke or not surface.clipped:
            return stroke
        within = area.merged()
        if surface.side == "outside":
            left, top, right, bottom = area.bounds
            far = 10 * (surface.pen.width if surface.pen else 0.0) + right - left + bottom - top
            middle = Affine.shift((left + right) / 2, (top + bottom) / 2)
            around = rectangle(right - left + 2 * far, bottom - top + 2 * far).mapped(middle)
            within = around.joined(within, "minus")
        return self._within(within, matrix, [stroke])

    def _stroke(self, surface: Surface, edge: Outline, box: Box, matrix: Affine) -> str:
        stroke = surface.pen
        assert stroke is not None
        if surface.drawn != (0.0, 1.0, 0.0):
            edge = edge.drawn(*surface.drawn)
        if edge.is_empty or stroke.width <= 0:
            return ""
        paint: Paint | PictureFill = surface.stroke_paint or surface.stroke_colour
        assert not isinstance(paint, PictureFill)
        within = Affine()
        if surface.fixed_width:  # stroked in the scene: the layer's scale is no matter
            edge, within, matrix = edge.mapped(matrix), matrix, Affine()
        defs, value = self._paint("stroke", paint_in_box(paint, box), within)
        pen = _pen(stroke)
        return f'{defs}<path{_placed(matrix)} fill="none"{value}{pen}{_path(edge)}/>'

    def _paint(self, name: str, paint: Paint, matrix: Affine) -> tuple[str, str]:
        """The definition that a paint needs, and the attributes that name it; ``matrix`` maps the
        paint's space to that of what is painted."""
        if not isinstance(paint, Gradient):
            return "", self._attribute(name, paint)
        (x0, y0), (x1, y1) = paint.start, paint.end
        if abs(x1 - x0) + abs(y1 - y0) < 1e-6 or len(paint.stops) < 2:
            return "", self._attribute(name, paint.stops[-1][1])
        key = f"paint{next(self.ids)}"
        stops = "".join(
            f'<stop offset="{number(at)}"{self._attribute("stop", colour)}/>'
            for at, colour in _stops(paint)
        )
        if paint.kind == "linear":
            tag, where = "linearGradient", {"x1": x0, "y1": y0, "x2": x1, "y2": y1}
        else:
            tag, where = "radialGradient", {"cx": x0, "cy": y0, "r": np.hypot(x1 - x0, y1 - y0)}
        at = "".join(f' {each}="{number(float(value))}"' for each, value in where.items())
        moved = _placed(matrix, "gradientTransform")
        return (
            f'<{tag} id="{key}" gradientUnits="userSpaceOnUse"{at}{moved}>{stops}</{tag}>',
            f' {name}="url(#{key})"',
        )

    def _attribute(self, name: str, colour: Rgba) -> str:
        """A flat colour as attributes."""
        opaque = format_colour((*colour[:3], 1.0))
        named = f"{name}-color" if name == "stop" else name
        clear = "" if colour[3] >= 1 else f' {name}-opacity="{number(colour[3])}"'
        return f' {named}="{opaque}"{clear}'


def _stops(gradient: Gradient) -> Iterator[tuple[float, Rgba]]:
    """Stops in their order. Where alpha changes, colours are mixed premultiplied, as they are
    seen: between such stops lie further ones."""
    stops = sorted(gradient.stops, key=lambda stop: stop[0])
    for (low, a), (high, b) in pairwise(stops):
        yield low, a
        if a[3] == b[3] or high <= low:
            continue
        for step in range(1, _STEPS):
            share = step / _STEPS
            yield low + (high - low) * share, mix(a, b, share)
    yield stops[-1]


def _pen(stroke: Stroke) -> str:
    values: Mapping[str, str] = {
        "stroke-width": number(stroke.width), "stroke-linecap": stroke.cap,
        "stroke-linejoin": stroke.join, "stroke-miterlimit": "4",
    }  # fmt: skip
    pen = "".join(f' {name}="{value}"' for name, value in values.items())
    if stroke.dash:
        dash = " ".join(map(number, stroke.dash))
        pen += f' stroke-dasharray="{dash}" stroke-dashoffset="{number(stroke.dash_offset)}"'
    return pen


def _path(outline: Outline) -> str:
    """An outline as attributes."""
    rule = ' fill-rule="evenodd"' if is_even_odd(outline) else ""
    return f'{rule} d="{write_svg_path(outline)}"'


def _placed(matrix: Affine, name: str = "transform") -> str:
    if matrix == Affine():
        return ""
    return f' {name}="matrix({" ".join(map(number, matrix.as_tuple()))})"'


def _blended(mode: str) -> str:
    return "" if mode == "normal" else f' style="mix-blend-mode:{mode}"'


def _read(content: Content) -> str:
    """What a text says, for those that read the file."""
    if not isinstance(content, TextContent):
        return ""
    return f" aria-label={quoteattr(_NOT_XML.sub('', content.text))}"
