"""A text that is set: its glyphs, its lines, and where a caret can stand."""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from ..geometry.affine import Affine, Box, Point
from ..geometry.outline import Cubic, Outline, polygons, rectangle, skia_matrix
from .fonts import Face, Variation


# Not frozen, as a long text has thousands of them and a frozen one takes three times as long to
# make; nobody changes one that is set.
@dataclass(slots=True)
class Glyph:
    """One shaped glyph; (x, y) is its origin on the baseline, px, in the layer's space, and
    ``turned_deg`` the direction of the baseline. ``middle`` is the x of the middle of its cluster
    (a letter with its accents), ``row`` the number of its line. It leans ``lean`` px to the right
    for each px up."""

    face: Face
    variation: Variation
    id: int
    x: float
    y: float
    scale: float
    cluster: int
    middle: float
    row: int
    turned_deg: float = 0.0
    lean: float = 0.0

    @property
    def place(self) -> Affine:
        """From a space with its origin on the baseline, px, into the layer's."""
        shift = Affine.shift(self.x, self.y)
        return shift @ Affine.rotation(self.turned_deg) if self.turned_deg else shift

    @property
    def matrix(self) -> Affine:
        """From the face's units into the layer's space."""
        scale, lean = self.scale, -self.lean * self.scale
        if not self.turned_deg:
            return Affine(scale, 0.0, lean, scale, self.x, self.y)
        return self.place @ Affine(scale, 0.0, lean, scale)


@dataclass(slots=True)
class Cell:
    """A letter (grapheme cluster): its characters (first, before last), and where it stands in its
    line, px; one that ``runs_left`` begins at its right."""

    first: int
    last: int
    left: float
    right: float
    runs_left: bool = False


@dataclass(frozen=True, slots=True)
class Line:
    """A line of a set text: its characters, without the break after it, its baseline and how far it
    reaches above and below it, px, its left end and width, and its letters in the order of the
    text. ``runs_left`` says the direction of its paragraph."""

    first: int
    last: int
    baseline: float
    ascent: float
    descent: float
    left: float
    width: float
    cells: tuple[Cell, ...] = ()
    runs_left: bool = False


@dataclass
class TextLayout:
    """A block of lines with (0, 0) at the middle of its box's height, and ``left`` where its box
    begins: half its width before (0, 0) unless it grows from a side.

    The box is as wide as the longest line and reaches from the first line's ascender to the
    last line's descender, or it is the box that the lines are broken to. A text along a path has
    another (``around``). ``absent`` are the letters that no typeface has: a box stands in their
    place. ``overflows`` where its lines do not fit into its box; ``shrunk`` is by how much letters
    were made smaller for it.
    """

    glyphs: list[Glyph]
    width: float
    height: float
    lines: list[Line] = field(default_factory=list)
    around: Box | None = None
    absent: str = ""
    left: float | None = None
    overflows: bool = False
    shrunk: float = 1.0
    # On a path: from where a letter stands in its line to where it is, by its first character.
    cell_places: dict[int, Affine] = field(default_factory=dict)
    # And from where anything would be on its lines to where it is, points (n, 2).
    bend: Callable[[np.ndarray], np.ndarray] | None = field(default=None, repr=False)
    _stretches: dict[tuple[int, int], Outline] = field(default_factory=dict, repr=False)
    _rests: dict[tuple[int, int], Box | None] = field(default_factory=dict, repr=False)
    _forms: dict[tuple[int, int], Outline | None] = field(default_factory=dict, repr=False)
    _in_place: tuple[TextLayout, TextLayout] | None = field(default=None, repr=False)

    @property
    def baselines(self) -> list[float]:
        """Where its lines stand, px."""
        return [line.baseline for line in self.lines]

    @property
    def box(self) -> Box:
        """The box of its lines."""
        if self.around is not None:
            return self.around
        left = -self.width / 2 if self.left is None else self.left
        return (left, -self.height / 2, left + self.width, self.height / 2)

    def line_of(self, index: int) -> Line | None:
        """The line that a character stands in."""
        at = bisect_right(self.lines, index, key=lambda line: line.first) - 1
        return self.lines[at] if at >= 0 and index < self.lines[at].last else None

    def resting_box(self, first: int, last: int) -> Box | None:
        """Where some characters (the last excluded) rest: as wide as they are and as high as their
        lines, and all of their ink; None on a path, or where there are none. It is kept."""
        return None if self.cell_places else self.flat_box(first, last)

    def flat_box(self, first: int, last: int) -> Box | None:
        """As ``resting_box``; on a path, where they would be if it were the line that they are set
        in."""
        if (first, last) not in self._rests:
            boxes = [self._cell_box(line, cell) for line, cell in self._cells(first, last)]
            if boxes and not self.cell_places:
                ink = self.outline_between(first, last)
                boxes += [] if ink.is_empty else [ink.bounds]
            self._rests[first, last] = box_about(boxes) if boxes else None
        return self._rests[first, last]

    def place_of(self, first: int) -> Affine:
        """From where the letter that begins there stands in its line to where it is."""
        return self.cell_places.get(first, _IN_PLACE)

    def resting_form(self, first: int, last: int) -> Outline | None:
        """The room in which some characters rest: their ``flat_box``, bent along their path if they
        stand on one. It is kept."""
        if (first, last) not in self._forms:
            box = self.flat_box(first, last)
            self._forms[first, last] = None if box is None else self.bent(box_outline(box))
        return self._forms[first, last]

    def bent(self, outline: Outline) -> Outline:
        """What is drawn beside its lines, as it goes along its path: in steps of a few px."""
        if self.bend is None:
            return outline
        contours = []
        for cubics in outline.cubics():
            flat = np.concatenate([_stepped(cubic) for cubic in cubics])
            contours.append([(float(x), float(y)) for x, y in self.bend(flat)])
        return polygons(contours)

    def form_of(self, first: int, last: int, part: Callable[[Box], Box]) -> Outline | None:
        """Parts of the rooms of some letters, each where that is; None where there are none."""
        found = Outline.empty()
        for line, cell in self._cells(first, last):
            room = box_outline(part(self._cell_box(line, cell))).mapped(self.place_of(cell.first))
            found.skia_path.addPath(room.skia_path)
        return None if found.is_empty else found

    def _cells(self, first: int, last: int) -> Iterator[tuple[Line, Cell]]:
        for line in self.lines:
            # Cells are in the order of the text.
            a = bisect_right(line.cells, first, key=lambda cell: cell.last)
            b = bisect_left(line.cells, last, key=lambda cell: cell.first)
            yield from ((line, cell) for cell in line.cells[a:b])

    def _cell_box(self, line: Line, cell: Cell) -> Box:
        """A letter's room in its line; on a path with its ink, which goes with it."""
        left, right = min(cell.left, cell.right), max(cell.left, cell.right)
        room = (left, line.baseline - line.ascent, right, line.baseline + line.descent)
        ink = self.outline_between(cell.first, cell.last) if self.cell_places else Outline.empty()
        if ink.is_empty:
            return room
        return box_about([room, ink.mapped(self.place_of(cell.first).inverse()).bounds])

    def outline_between(self, first: int, last: int) -> Outline:
        """The glyphs of a stretch of characters (the last excluded) as one path, which is kept."""
        found = self._stretches.get((first, last))
        if found is None:
            found = _joined(self.glyphs[n] for n in self._of(first, last))
            self._stretches[(first, last)] = found
        return found

    def _of(self, first: int, last: int) -> Iterator[int]:
        """The numbers of a stretch's glyphs, in their order."""
        clusters, numbers = self._by_cluster
        a, b = bisect_left(clusters, first), bisect_left(clusters, last)
        yield from sorted(numbers[a:b])

    @cached_property
    def _by_cluster(self) -> tuple[list[int], list[int]]:
        numbers = sorted(range(len(self.glyphs)), key=lambda n: self.glyphs[n].cluster)
        return [self.glyphs[n].cluster for n in numbers], numbers

    def outline_of(self, chosen: Callable[[int], bool]) -> Outline:
        """The glyphs of some characters as one path."""
        return _joined(g for g in self.glyphs if chosen(g.cluster))

    def with_letters_of(self, other: TextLayout, changed: Callable[[int], bool]) -> TextLayout:
        """The same lines with the glyphs of another setting where a character is ``changed``, each
        over the middle of the room that this one gives it: so nothing shivers while letters change.
        The last one made is kept."""
        if self._in_place is not None and self._in_place[0] is other:
            return self._in_place[1]
        rooms = {g.cluster: g for g in self.glyphs}
        glyphs = [g for g in self.glyphs if not changed(g.cluster)]
        for g in other.glyphs:
            room = rooms.get(g.cluster)
            if room is not None and changed(g.cluster):
                x = room.middle + g.x - g.middle
                glyphs.append(replace(g, x=x, y=room.y, middle=room.middle, row=room.row))
        found = replace(
            self, glyphs=glyphs, _stretches={}, _rests={}, _forms={}, _in_place=None,
            absent="".join(dict.fromkeys(self.absent + other.absent)),
        )  # fmt: skip
        self._in_place = (other, found)
        return found

    def turned_deg(self, first: int, last: int) -> float:
        """The direction of the baseline at the middle of some characters (the last excluded)."""
        glyphs = [self.glyphs[n] for n in self._of(first, last)]
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


# What is bent along a path goes in steps so long, px.
_STEP = 3.0


def _stepped(cubic: Cubic) -> np.ndarray:
    """Points (n, 2) along a cubic, without its end."""
    a, b, c, d = (np.array(point) for point in cubic)
    far = sum(float(np.hypot(*(q - p))) for p, q in ((a, b), (b, c), (c, d)))
    s = (np.arange(max(1, math.ceil(far / _STEP))) / max(1, math.ceil(far / _STEP)))[:, None]
    r = 1 - s
    found: np.ndarray = r**3 * a + 3 * r * r * s * b + 3 * r * s * s * c + s**3 * d
    return found


_IN_PLACE = Affine()


def box_about(boxes: Sequence[Box]) -> Box:
    """The box about some, at least one."""
    lefts, tops, rights, feet = zip(*boxes, strict=True)
    return (min(lefts), min(tops), max(rights), max(feet))


def box_outline(box: Box) -> Outline:
    """A box as an outline."""
    left, top, right, bottom = box
    middle = Affine.shift((left + right) / 2, (top + bottom) / 2)
    return rectangle(right - left, bottom - top).mapped(middle)


def _joined(glyphs: Iterable[Glyph]) -> Outline:
    result = Outline.empty()
    for g in glyphs:
        outline = g.face.outline(g.id, g.variation)
        result.skia_path.addPath(outline.skia_path, skia_matrix(g.matrix))
    return result
