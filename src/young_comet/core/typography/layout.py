"""Text shaped and set in lines."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property

import uharfbuzz as hb

from ..geometry.affine import Affine, Box, Point
from ..geometry.outline import Outline, skia_matrix
from .fonts import Face, FontLibrary, Typeface


@dataclass(frozen=True, slots=True)
class TextStyle:
    """Size in px, tracking in 1/1000 em, leading in percent of the size; align left, centre or
    right. ``font`` is an id of the FontLibrary. What is set to a ``side`` has x = 0 at that side,
    and grows away from it; else the middle of its box is there."""

    font: str
    weight: float
    size_px: float
    tracking: float
    leading: float
    align: str
    side: bool = False


@dataclass(frozen=True, slots=True)
class Glyph:
    """One shaped glyph; (x, y) is its origin on the baseline, px, in the layer's space, and
    ``turned_deg`` the direction of the baseline. ``middle`` is the x of the middle of its cluster
    (a letter with its accents), ``row`` the number of its line."""

    face: Face
    variation: tuple[tuple[str, float], ...]
    id: int
    x: float
    y: float
    scale: float
    cluster: int
    middle: float
    row: int
    turned_deg: float = 0.0

    @property
    def place(self) -> Affine:
        """From a space with its origin on the baseline, px, into the layer's."""
        shift = Affine.shift(self.x, self.y)
        return shift @ Affine.rotation(self.turned_deg) if self.turned_deg else shift

    @property
    def matrix(self) -> Affine:
        """From the face's units into the layer's space."""
        return self.place @ Affine.scaling(self.scale, self.scale)


@dataclass
class TextLayout:
    """A block of lines with (0, 0) at the middle of its box's height, and ``left`` where its box
    begins: half its width before (0, 0) unless it grows from a side.

    The box is as wide as the longest line and reaches from the first line's ascender to the
    last line's descender. A text along a path has another (``around``). ``absent`` are the letters
    that the typeface does not have: a box stands in their place.
    """

    glyphs: list[Glyph]
    width: float
    height: float
    baselines: list[float] = field(default_factory=list)
    around: Box | None = None
    absent: str = ""
    left: float | None = None

    @property
    def box(self) -> Box:
        """The box of its lines."""
        if self.around is not None:
            return self.around
        left = -self.width / 2 if self.left is None else self.left
        return (left, -self.height / 2, left + self.width, self.height / 2)

    def outline_of(self, chosen: Callable[[int], bool]) -> Outline:
        """The glyphs of some characters as one path."""
        return _joined(g for g in self.glyphs if chosen(g.cluster))

    def turned_deg(self, first: int, last: int) -> float:
        """The direction of the baseline at the middle of some characters (the last excluded)."""
        glyphs = [g for g in self.glyphs if first <= g.cluster < last]
        return glyphs[len(glyphs) // 2].turned_deg if glyphs else 0.0

    def touches(self, point: Point, size_px: float) -> bool:
        """Whether a point of the layer's space lies on or about a letter of a size."""
        for g in self.glyphs:
            x, y = g.place.inverse()(point)
            if -0.2 * size_px <= x <= 0.9 * size_px and -size_px <= y <= 0.35 * size_px:
                return True
        return False

    def pen_after(self, seen: Callable[[int], bool]) -> Affine:
        """Where a pen stands that has written the characters that are seen: from a space with its
        origin at the pen on the baseline into the layer's."""
        written = [g for g in self.glyphs if seen(g.cluster)]
        if not written:
            return self.glyphs[0].place if self.glyphs else Affine()
        last = max(written, key=lambda g: g.cluster)
        after = [g for g in self.glyphs if g.cluster > last.cluster and g.row == last.row]
        if after:
            return after[0].place
        outline = last.face.outline(last.id, last.variation)
        width = (outline.bounds[2] if not outline.is_empty else 0.3) * last.scale
        return last.place @ Affine.shift(width, 0)

    @cached_property
    def outline(self) -> Outline:
        """All glyphs as one path."""
        return _joined(self.glyphs)

    @cached_property
    def merged_outline(self) -> Outline:
        """As ``outline``, with overlapping contours united: what a stroke follows."""
        return self.outline.merged()


def _joined(glyphs: Iterable[Glyph]) -> Outline:
    result = Outline.empty()
    for g in glyphs:
        outline = g.face.outline(g.id, g.variation)
        result.skia_path.addPath(outline.skia_path, skia_matrix(g.matrix))
    return result


def lay_out(library: FontLibrary, text: str, style: TextStyle) -> TextLayout:
    """Sets a text; line breaks are where the text has them."""
    with library.lock:
        return _lay_out(library, text, style)


def _lay_out(library: FontLibrary, text: str, style: TextStyle) -> TextLayout:
    typeface = library.typeface(style.font)
    first = typeface.faces[0]
    variation = first.variation(style.weight, style.size_px)
    extents = first.font(variation).get_font_extents("ltr")
    to_px = style.size_px / first.upem
    ascent, descent = extents.ascender * to_px, -extents.descender * to_px
    pitch = style.size_px * style.leading / 100
    lines = []
    offset = 0
    for line in text.split("\n"):
        lines.append(_shape_line(library, typeface, line.replace("\t", "    "), style, offset))
        offset += len(line) + 1
    width = max((line_width for _, line_width in lines), default=0.0)
    height = ascent + descent + pitch * (len(lines) - 1)
    left = -width / 2
    if style.side:
        left = {"left": 0.0, "centre": left, "right": -width}[style.align]
    glyphs: list[Glyph] = []
    baselines = []
    for row, (line_glyphs, line_width) in enumerate(lines):
        slack = {"left": 0.0, "centre": (width - line_width) / 2, "right": width - line_width}
        x0 = left + slack[style.align]
        y0 = -height / 2 + ascent + row * pitch
        baselines.append(y0)
        for g in line_glyphs:
            glyphs.append(replace(g, x=g.x + x0, y=g.y + y0, middle=g.middle + x0, row=row))
    absent = dict.fromkeys(text[g.cluster] for g in glyphs if g.id == 0 and g.cluster < len(text))
    shown = "".join(letter for letter in absent if letter.isprintable() and not letter.isspace())
    return TextLayout(glyphs, width, height, baselines, absent=shown, left=left)


def _shape_line(
    library: FontLibrary, typeface: Typeface, line: str, style: TextStyle, offset: int
) -> tuple[list[Glyph], float]:
    """Glyphs of one line from x = 0, and its width without the last letter's tracking."""
    glyphs: list[Glyph] = []
    ends: dict[int, float] = {}
    x = 0.0
    tracking = style.tracking * style.size_px / 1000
    # Ligatures would tear apart under tracking (CSS Text 4, letter-spacing).
    features = {"liga": False, "clig": False} if tracking else {}
    cluster = -1
    for start, end, face in _runs(library, typeface, line):
        variation = face.variation(style.weight, style.size_px)
        buffer = hb.Buffer()
        buffer.add_str(line[start:end])
        buffer.guess_segment_properties()
        hb.shape(face.font(variation), buffer, features)
        scale = style.size_px / face.upem
        for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
            here = start + info.cluster
            if cluster not in (-1, here):
                x += tracking
            cluster = here
            gx, gy = x + position.x_offset * scale, -position.y_offset * scale
            glyphs.append(
                Glyph(face, variation, info.codepoint, gx, gy, scale, offset + here, x, 0)
            )
            x += position.x_advance * scale
            ends[offset + here] = x
    # So far the middle says where a glyph's own advance begins.
    starts: dict[int, float] = {}
    for g in glyphs:
        starts.setdefault(g.cluster, g.middle)
    middles = {cluster: (starts[cluster] + ends[cluster]) / 2 for cluster in starts}
    return [replace(g, middle=middles[g.cluster]) for g in glyphs], x


def _runs(library: FontLibrary, typeface: Typeface, line: str) -> list[tuple[int, int, Face]]:
    """Stretches of a line that one face covers: the family first, then the fallbacks."""
    runs: list[tuple[int, int, Face]] = []
    for index, character in enumerate(line):
        joins = unicodedata.combining(character) or character in "\u200d\ufe0e\ufe0f"
        if runs and (joins or (character == " " and runs[-1][2].glyph_of(32))):
            face = runs[-1][2]
        else:
            face = _face_for(library, typeface, ord(character))
        if runs and runs[-1][2] is face:
            runs[-1] = (runs[-1][0], index + 1, face)
        else:
            runs.append((index, index + 1, face))
    return runs


def _face_for(library: FontLibrary, typeface: Typeface, codepoint: int) -> Face:
    for family in (typeface, *library.fallbacks()):
        if face := family.face_for(codepoint):
            return face
    return typeface.faces[0]
