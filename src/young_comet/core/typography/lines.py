"""A text set in lines: broken to the width of its box, and put where its alignment has them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from ..geometry.affine import Affine
from . import bidi
from .breaking import breaks
from .fonts import FontLibrary
from .graphemes import graphemes
from .layout import Cell, Glyph, Line, TextLayout
from .shaping import Cluster, Piece, ShapedGlyph, Shown, as_shown, shape
from .style import Letters, TextBox, TextStyle

# A line is full where it is longer than its box by more than this, px: sums of widths are rounded.
_CLOSE = 0.01
_SHRINK_STEPS = 12
_SOFT_HYPHEN, _HYPHEN = "\u00ad", "-"


def lay_out(library: FontLibrary, text: str, style: TextStyle) -> TextLayout:
    """Sets a text. Lines break where the text has it, and where its box is full."""
    with library.lock:
        layout = _set(library, text, style)
        if layout.overflows and style.box is not None and style.box.shrink:
            return _shrunk(library, text, style, style.box)
        return layout


def _shrunk(library: FontLibrary, text: str, style: TextStyle, box: TextBox) -> TextLayout:
    """As large as fits, and no smaller than the least size."""
    low = min(1.0, box.least_px / max(style.letters.size_px, 1e-6))
    found = _set(library, text, style.scaled(low))
    fits, high = low, 1.0
    if not found.overflows:
        for _ in range(_SHRINK_STEPS):
            factor = (fits + high) / 2
            tried = _set(library, text, style.scaled(factor))
            if tried.overflows:
                high = factor
            else:
                fits, found = factor, tried
    found.shrunk = fits
    return found


@dataclass(slots=True)
class _Spot:
    """A letter before its line has its place."""

    first: int
    last: int
    left: float
    right: float
    runs_left: bool


@dataclass(slots=True)
class _Row:
    """A line before it has its place: characters of what is shown, pieces in the order in which
    they are seen. Its glyphs and letters are from x = 0, y = 0 on its baseline."""

    start: int
    end: int
    pieces: list[Piece]
    shown: Shown
    width: float
    ascent: float
    descent: float
    capital: float
    size_px: float
    indent: float
    begins: bool
    ends: bool
    runs_left: bool
    glyphs: list[tuple[Piece, ShapedGlyph]] = field(default_factory=list)
    cells: list[_Spot] = field(default_factory=list)

    @property
    def first(self) -> int:
        """Its first character of the text."""
        return self.shown.source[self.start]

    @property
    def last(self) -> int:
        """The character after its last one."""
        return self.shown.source[self.end]

    def move(self, by: Callable[[float], float]) -> None:
        """Everything goes to the right by what its place says."""
        for _, g in self.glyphs:
            dx = by(g.middle)
            g.x += dx
            g.middle += dx
        for c in self.cells:
            c.left, c.right = c.left + by(c.left), c.right + by(c.right)


def _set(library: FontLibrary, text: str, style: TextStyle) -> TextLayout:
    letters = (style.letters, *(run.letters for run in style.runs))
    style_at = [0] * (len(text) + 1)
    for number, run in enumerate(style.runs, start=1):
        here = slice(max(0, run.first), min(len(text), run.last))
        style_at[here] = [number] * len(style_at[here])
    varied = {n: each.letters for each in style.varied for n in range(each.first, each.last)}
    rows: list[_Row] = []
    offset = 0
    for paragraph in text.split("\n"):
        shown = as_shown(paragraph, offset, letters, style_at)
        rows += _rows(library, shown, style, letters, style_at[offset], varied)
        offset += len(paragraph) + 1
    return _placed(rows, text, style)


# Rows


def _rows(
    library: FontLibrary, shown: Shown, style: TextStyle, letters: Sequence[Letters], blank: int,
    varied: Mapping[int, Letters],
) -> list[_Row]:  # fmt: skip
    """The lines of a paragraph, shaped one by one; ``blank`` is the style of one without
    letters."""
    base, levels = bidi.levels(shown.text)
    indent = style.indent * style.letters.size_px / 100
    spans = [(0, len(shown.text))]
    if style.box is not None and shown.text:
        whole = shape(library, shown, 0, len(shown.text), letters, levels)
        spans = _broken(whole, shown.text, style.box.width, indent)
    rows = []
    for number, (first, last) in enumerate(spans):
        begins, ends = number == 0, number == len(spans) - 1
        line = shown
        if not ends and shown.text[last - 1] == _SOFT_HYPHEN:
            line = replace(shown, text=shown.text[: last - 1] + _HYPHEN + shown.text[last:])
        own = [*levels[:first], *bidi.of_line(line.text[first:last], base, levels[first:last])]
        pieces = shape(library, line, first, last, letters, own)
        styles = {*shown.styles[first:last]} or {blank}
        ascent, descent, capital, size = _heights(library, [letters[n] for n in styles])
        order = bidi.in_order([piece.level for piece in pieces])
        for number_of, piece in enumerate(pieces):
            if varied:
                piece.vary(varied, line.source, number_of == order[-1])
        row = _Row(
            first, last, [pieces[n] for n in order], line, 0.0,
            ascent, descent, capital, size, indent if begins else 0.0, begins, ends, base % 2 == 1,
        )  # fmt: skip
        _fill(row, style.box is not None)
        rows.append(row)
    return rows


def _heights(library: FontLibrary, letters: list[Letters]) -> tuple[float, float, float, float]:
    """How far letters reach above and below the baseline, their cap height and size: the most of
    each, px."""
    found = []
    for each in letters:
        face = library.typeface(each.font).faces[0]
        ascent, descent, capital = face.extents(face.variation(each))
        size, raised = each.size_px, each.raised * each.size_px / 100
        found.append((ascent * size + raised, descent * size - raised, capital * size, size))
    ascents, descents, capitals, sizes = zip(*found, strict=True)
    return max(ascents), max(descents), max(capitals), max(sizes)


def _broken(
    pieces: list[Piece], text: str, width: float, indent: float
) -> list[tuple[int, int]]:  # fmt: skip
    """The lines (first, before last) of a paragraph whose pieces are shaped: as many words in each
    as fit. Blanks at its end do not count. A word that is longer than a line runs over."""
    before = [0.0] * (len(text) + 1)
    x = 0.0
    for piece in pieces:
        room = piece.letters.tracking * piece.letters.size_px / 1000
        for cluster in piece.clusters:
            for index in range(cluster.first, cluster.last):
                before[index] = x
            x += cluster.right - cluster.left + room
    before[len(text)] = x
    lines: list[tuple[int, int]] = []
    start, fits = 0, 0
    room = width - indent

    def longer(end: int) -> bool:
        while end > start and text[end - 1] == " ":
            end -= 1
        return before[end] - before[start] > room + _CLOSE

    for place in (*breaks(text), len(text)):
        if fits > start and longer(place):
            lines.append((start, fits))
            start, room = fits, width
        fits = place
    lines.append((start, len(text)))
    return lines


def _fill(row: _Row, boxed: bool) -> None:
    """Its glyphs and letters, and its width: in a box without the blanks at its end."""
    x = 0.0
    for piece in row.pieces:
        left = piece.level % 2 == 1
        for g in piece.glyphs:
            g.x += x
            g.middle += x
            row.glyphs.append((piece, g))
        for cluster in piece.clusters:
            row.cells += _cells(cluster, row.shown, x, left)
        x += piece.width
    row.cells = _merged(row.cells)
    row.width = x
    if boxed:
        row.width -= _hanging(row)


def _merged(cells: list[_Spot]) -> list[_Spot]:
    """In the order of the text; what one letter is shown as (a tab, a capital ß) is one."""
    found: list[_Spot] = []
    for cell in sorted(cells, key=lambda cell: cell.first):
        if found and found[-1].first == cell.first:
            before = found[-1]
            before.left, before.right = min(before.left, cell.left), max(before.right, cell.right)
        else:
            found.append(cell)
    return found


def _cells(cluster: Cluster, shown: Shown, x: float, runs_left: bool) -> list[_Spot]:
    """The letters of a cluster: of a ligature each has its share."""
    source = shown.source
    first, last = source[cluster.first], source[cluster.last]
    left, right = x + cluster.left, x + cluster.right
    if cluster.last - cluster.first < 2 or last - first < 2:
        return [_Spot(first, max(first + 1, last), left, right, runs_left)]
    inner = graphemes(shown.text[cluster.first : cluster.last])
    each = (right - left) / len(inner)
    cells = []
    for number, (a, b) in enumerate(inner):
        at = left + each * (len(inner) - 1 - number if runs_left else number)
        span = source[cluster.first + a], source[cluster.first + b]
        cells.append(_Spot(*span, at, at + each, runs_left))
    return cells


def _hanging(row: _Row) -> float:
    """How wide the blanks at the end of a line are; where they come first, they are taken to its
    end."""
    end = row.end
    while end > row.start and row.shown.text[end - 1] == " ":
        end -= 1
    hanging = [cell for cell in row.cells if cell.first >= row.shown.source[end]]
    if end == row.end or not hanging:
        return 0.0
    wide = sum(cell.right - cell.left for cell in hanging)
    if row.runs_left:
        row.move(lambda x: -wide)
    return wide


# Places


def _placed(rows: list[_Row], text: str, style: TextStyle) -> TextLayout:
    """The block of lines."""
    box = style.box
    ink = [_ink(row) if style.by_ink else (0.0, row.width) for row in rows]
    widest = max((b - a + row.indent for (a, b), row in zip(ink, rows, strict=True)), default=0.0)
    width = widest if box is None else box.width
    left = -width / 2
    if style.side:
        left = {"centre": left, "right": -width}.get(style.align, 0.0)
    baselines, y = [], 0.0
    for number, row in enumerate(rows):
        y = y + style.leading * row.size_px / 100 if number else row.ascent
        if number and row.begins:
            y += style.spacing * style.letters.size_px / 100
        baselines.append(y)
    whole = (y + rows[-1].descent) if rows else 0.0
    height = whole if box is None else box.height
    top = -whole / 2 if box is None else _top(rows, baselines, whole, box)
    glyphs: list[Glyph] = []
    lines = []
    for number, (row, (a, b)) in enumerate(zip(rows, ink, strict=True)):
        shift = _start(row, style, left, width, a, b)
        _justify(row, style, width)
        y = top + baselines[number]
        source = row.shown.source
        for piece, g in row.glyphs:
            x, middle, at = g.x + shift, g.middle + shift, source[g.cluster]
            variation, scale, lean = piece.drawn(g)
            glyphs.append(
                Glyph(piece.face, variation, g.id, x, g.y + y, scale, at, middle, number, 0.0, lean)
            )
        cells = tuple(
            Cell(c.first, c.last, c.left + shift, c.right + shift, c.runs_left) for c in row.cells
        )
        heights = (y, row.ascent, row.descent)
        lines.append(Line(row.first, row.last, *heights, shift, row.width, cells, row.runs_left))
    absent = dict.fromkeys(text[g.cluster] for g in glyphs if g.id == 0 and g.cluster < len(text))
    seen = "".join(letter for letter in absent if letter.isprintable() and not letter.isspace())
    layout = TextLayout(glyphs, width, height, lines, absent=seen, left=left)
    if box is not None:
        high = _height_for(rows, baselines, whole, box)
        layout.overflows = high > box.height + 0.5 or widest > box.width + 0.5
    elif style.by_ink and glyphs:
        _centre_ink(layout)
    return layout


def _start(
    row: _Row, style: TextStyle, left: float, width: float, a: float, b: float
) -> float:  # fmt: skip
    """Where a line's own x = 0 goes; a and b are the ends by which it is aligned."""
    align = style.align
    if align == "justified":
        align = "right" if row.runs_left else "left"
    slack = width - (b - a) - row.indent
    begin = {"left": 0.0, "centre": slack / 2, "right": slack}[align]
    return left + begin - a + (0.0 if row.runs_left else row.indent)


def _justify(row: _Row, style: TextStyle, width: float) -> None:
    """A line that is not the last of its paragraph is spread to the width of its box by its
    blanks."""
    if style.align != "justified" or style.box is None or row.ends:
        return
    slack = width - row.width - row.indent
    text = row.shown.text
    end = row.end
    while end > row.start and text[end - 1] == " ":
        end -= 1
    blank = {row.shown.source[i] for i in range(row.start, end) if text[i] == " "}
    gaps = sorted((c.right, c.first) for c in row.cells if c.first in blank)
    if slack <= 0 or not gaps:
        return
    each = slack / len(gaps)
    # What is set from the right begins there: the first word stays, and all others go left.
    begin = -slack if row.runs_left else 0.0
    row.move(lambda x: begin + each * sum(1 for right, _ in gaps if right <= x + 1e-6))
    row.width = width - row.indent


def _ink(row: _Row) -> tuple[float, float]:
    """The ends of what is seen of a line; its set ends where nothing is."""
    ends = []
    for piece, g in row.glyphs:
        variation, scale, lean = piece.drawn(g)
        outline = piece.face.outline(g.id, variation)
        if not outline.is_empty:
            placed = Affine(scale, 0.0, -lean * scale, scale, g.x, g.y)
            left, _, right, _ = placed.box(outline.bounds)
            ends.append((left, right))
    if not ends:
        return (0.0, row.width)
    return min(left for left, _ in ends), max(right for _, right in ends)


def _centre_ink(layout: TextLayout) -> None:
    """Its middle and its height are those of what is seen."""
    bounds = layout.outline.bounds
    if layout.outline.is_empty:
        return
    down = -(bounds[1] + bounds[3]) / 2
    layout.glyphs = [replace(g, y=g.y + down) for g in layout.glyphs]
    layout.lines = [replace(line, baseline=line.baseline + down) for line in layout.lines]
    layout.height = bounds[3] - bounds[1]
    vars(layout).pop("outline", None)


def _height_for(rows: list[_Row], baselines: list[float], whole: float, box: TextBox) -> float:
    if box.by == "line" or not rows:
        return whole
    high = baselines[-1] - baselines[0]
    return high + rows[0].capital if box.by == "cap" else high


def _top(rows: list[_Row], baselines: list[float], whole: float, box: TextBox) -> float:
    """Where the first line's top is, from the middle of the box."""
    high = _height_for(rows, baselines, whole, box)
    above = 0.0
    if box.by != "line" and rows:
        above = baselines[0] - (rows[0].capital if box.by == "cap" else 0.0)
    free = box.height - high
    begin = {"top": 0.0, "middle": free / 2, "bottom": free}[box.vertical]
    return -box.height / 2 + begin - above
