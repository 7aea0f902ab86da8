"""Letters to glyphs: a line taken apart by style, face, script and direction, and each piece shaped
by HarfBuzz."""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

import uharfbuzz as hb
from fontTools import unicodedata as scripts

from .fonts import Face, FontLibrary, Typeface, Variation
from .graphemes import graphemes
from .shipped import EMOJI
from .style import Letters

# Letters that belong to whatever is before them, as far as face and script go.
_JOINERS = frozenset("\u200c\u200d\ufe0e\ufe0f")
# Asks that the letter before it be seen as an emoji.
_AS_EMOJI = "\ufe0f"
_NO_SCRIPT = frozenset(("Zyyy", "Zinh", "Zzzz"))
# Controls that are not letters; a tab is a gap of its own.
_TAB = "    "


@dataclass(frozen=True, slots=True)
class Shown:
    """A paragraph as it is shown: in its case, tabs as spaces, without what has no picture.
    ``source`` gives for each character, and the end, which of the text it comes from; ``styles``
    for each character the number of its letters' style."""

    text: str
    source: tuple[int, ...]
    styles: tuple[int, ...]


def as_shown(
    paragraph: str, offset: int, letters: Sequence[Letters], style_at: Sequence[int]
) -> Shown:
    """A paragraph that begins at the text's character ``offset``; ``style_at`` gives the style of
    each character of the whole text."""
    shown: list[str] = []
    source: list[int] = []
    styles: list[int] = []
    plain = all(each.case == "typed" for each in letters)
    for index, character in enumerate(paragraph):
        style = style_at[offset + index]
        if not plain:
            before = paragraph[index - 1] if index else " "
            begins = not (before.isalnum() or before in "'’")
            as_cased = _cased(character, letters[style].case, begins)
        else:
            as_cased = character
        if character == "\t":
            as_cased = _TAB
        elif character < " " or character == "\x7f":
            as_cased = "\u200b"  # a control: nothing is seen, and a caret can stand there
        shown.append(as_cased)
        source += [offset + index] * len(as_cased)
        styles += [style] * len(as_cased)
    source.append(offset + len(paragraph))
    return Shown("".join(shown), tuple(source), tuple(styles))


def _cased(character: str, case: str, first: bool) -> str:
    if case == "upper":
        return character.upper()
    if case == "lower":
        return character.lower()
    if case == "title" and first:
        return character.title()
    return character


@dataclass(slots=True)
class ShapedGlyph:
    """A glyph from its piece's left end, px, y down; ``cluster`` is a character of what is shown,
    and ``middle`` the middle of that cluster. One on its way has ``letters`` other than its
    piece."""

    id: int
    x: float
    y: float
    cluster: int
    middle: float = 0.0
    letters: Letters | None = None


@dataclass(slots=True)
class Cluster:
    """Characters (first, before last) that are drawn together, and where: px from the piece's left
    end."""

    first: int
    last: int
    left: float
    right: float


@dataclass(slots=True)
class Piece:
    """A shaped stretch of one style, face, script and direction."""

    first: int
    last: int
    letters: Letters
    face: Face
    variation: Variation
    level: int
    width: float = 0.0
    glyphs: list[ShapedGlyph] = field(default_factory=list)
    clusters: list[Cluster] = field(default_factory=list)

    @property
    def scale(self) -> float:
        """From units of the em to px."""
        scale: float = self.letters.size_px / self.face.upem
        return scale

    def drawn(self, glyph: ShapedGlyph) -> tuple[Variation, float, float]:
        """With which axes a glyph is drawn, from units of the em to px, and how far it leans by
        itself where the face has no axis for that: px to the right for each px up."""
        letters = glyph.letters or self.letters
        variation = self.variation
        if glyph.letters is not None:
            variation = self.face.variation(letters)
        lean = 0.0
        if letters.slant_deg and "slnt" not in self.face.axes:
            lean = math.tan(math.radians(letters.slant_deg))
        return variation, letters.size_px / self.face.upem, lean

    def vary(self, found: Mapping[int, Letters], source: Sequence[int], ends: bool) -> None:
        """Draws clusters in other letters, by their characters of the text; what follows makes
        room. The last cluster of a line, which the piece has where it ``ends`` it, has no room
        after it."""
        shift = 0.0
        placed: dict[int, list[ShapedGlyph]] = {c.first: [] for c in self.clusters}
        for glyph in self.glyphs:
            placed[glyph.cluster].append(glyph)
        ordered = sorted(self.clusters, key=lambda cluster: cluster.left)
        for cluster in ordered:
            letters = found.get(source[cluster.first])
            left = cluster.left
            cluster.left += shift
            if letters is None or letters == self.letters:
                for glyph in placed[cluster.first]:
                    glyph.x += shift
                    glyph.middle += shift
                cluster.right += shift
                continue
            own = self.letters
            ratio = letters.size_px / max(own.size_px, 1e-6)
            wider = 0.0
            for glyph in placed[cluster.first]:
                wider += self._advance(glyph.id, letters) - self._advance(glyph.id, own)
            lift = letters.raised * letters.size_px - own.raised * own.size_px
            for glyph in placed[cluster.first]:
                glyph.letters = letters
                glyph.x = left + shift + (glyph.x - left) * ratio
                glyph.y = glyph.y * ratio - lift / 100
                glyph.middle += shift + wider / 2
            cluster.right += shift + wider
            shift += wider
            if not (ends and cluster is ordered[-1]):
                track = letters.tracking * letters.size_px - own.tracking * own.size_px
                shift += track / 1000
        self.width += shift

    def _advance(self, glyph: int, letters: Letters) -> float:
        """The face's own advance of a glyph in some letters, px."""
        font = self.face.font(self.face.variation(letters))
        advance: float = font.get_glyph_h_advance(glyph) * letters.size_px / self.face.upem
        return advance


def shape(
    library: FontLibrary, shown: Shown, first: int, last: int,
    letters: Sequence[Letters], levels: Sequence[int],
) -> list[Piece]:  # fmt: skip
    """The pieces of a stretch of a paragraph in the order of the text, each from x = 0. Tracking
    goes between clusters, of neighbouring pieces too: a piece begins with it where it is not the
    first."""
    pieces: list[Piece] = []
    for start, end, style, face, script, level in _items(
        library, shown, first, last, letters, levels
    ):
        own = letters[style]
        piece = Piece(start, end, own, face, face.variation(own), level)
        _shape(piece, shown.text, script)
        pieces.append(piece)
    _track(pieces)
    return pieces


def _shape(piece: Piece, text: str, script: str) -> None:
    buffer = hb.Buffer()
    # What is before and after tells Arabic letters which form they have.
    buffer.add_str(text, piece.first, piece.last - piece.first)
    buffer.direction = "rtl" if piece.level % 2 else "ltr"
    if script:
        buffer.script = script
    buffer.guess_segment_properties()
    buffer.cluster_level = hb.BufferClusterLevel.MONOTONE_GRAPHEMES
    hb.shape(piece.face.font(piece.variation), buffer, _features(piece.letters))
    scale = piece.scale
    raised = piece.letters.raised * piece.letters.size_px / 100
    x = 0.0
    bounds: dict[int, list[float]] = {}
    for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        gx, gy = x + position.x_offset * scale, -position.y_offset * scale - raised
        piece.glyphs.append(ShapedGlyph(info.codepoint, gx, gy, info.cluster))
        after = x + position.x_advance * scale
        span = bounds.setdefault(info.cluster, [x, after])
        span[0], span[1] = min(span[0], x), max(span[1], after)
        x = after
    piece.width = x
    starts = sorted(bounds)
    for index, start in enumerate(starts):
        end = starts[index + 1] if index + 1 < len(starts) else piece.last
        piece.clusters.append(Cluster(start, end, *bounds[start]))
    for glyph in piece.glyphs:
        left, right = bounds[glyph.cluster]
        glyph.middle = (left + right) / 2


def _track(pieces: list[Piece]) -> None:
    """Room between clusters; none before the first and after the last of the stretch."""
    before = False
    for piece in pieces:
        room = piece.letters.tracking * piece.letters.size_px / 1000
        if room:
            seen = sorted(piece.clusters, key=lambda cluster: cluster.left)
            shift = {}
            far = room if before else 0.0
            # In a piece from the right what is before it lies to its right.
            for number, cluster in enumerate(seen):
                here = room * number + (0.0 if piece.level % 2 else far)
                shift[cluster.first] = here
                cluster.left += here
                cluster.right += here
            for glyph in piece.glyphs:
                glyph.x += shift[glyph.cluster]
                glyph.middle += shift[glyph.cluster]
            piece.width += room * max(0, len(seen) - 1) + far
        before = True


@lru_cache(maxsize=256)
def _features(letters: Letters) -> dict[str, bool | int]:
    """What HarfBuzz is asked for. Ligatures would tear apart under tracking (CSS Text 4)."""
    wanted: dict[str, bool | int] = {"liga": False, "clig": False} if letters.tracking else {}
    return wanted | dict(letters.features)


def _items(
    library: FontLibrary, shown: Shown, first: int, last: int,
    letters: Sequence[Letters], levels: Sequence[int],
) -> Iterator[tuple[int, int, int, Face, str, int]]:  # fmt: skip
    """Stretches (first, before last, style, face, script, level) that can be shaped at once."""
    text = shown.text
    start = first
    now: tuple[int, Face, str, int] | None = None
    if first < last and text.isascii() and _uniform(shown.styles, first, last):
        style = shown.styles[first]
        face = library.typeface(letters[style].font).faces[0]
        if all(face.glyph_of(ord(c)) for c in set(text[first:last])):
            yield (first, last, style, face, "Latn", levels[first])
            return
    opened: list[str] = []  # the scripts of brackets that wait for their closing ones
    for a, b in graphemes(text[first:last]):
        a, b = a + first, b + first
        style, level = shown.styles[a], levels[a]
        lead = text[a]
        script = _script(lead)
        closes = unicodedata.category(lead) == "Pe" and opened
        if now is None:
            face = _face_for(library, letters[style].font, text[a:b])
        else:
            blank = lead in _JOINERS or unicodedata.combining(lead)
            stays = style == now[0] and blank and now[1].glyph_of(ord(lead)) is not None
            face = now[1] if stays else _face_for(library, letters[style].font, text[a:b])
            if script in _NO_SCRIPT:
                # A closing bracket has the script of its opening one (UAX 24, 5.1).
                script = opened.pop() if closes else now[2]
        if script in _NO_SCRIPT:
            script = ""
        if now is not None and not now[2] and script:
            now = (now[0], now[1], script, now[3])  # what came before takes the first script
            opened = [each or script for each in opened]
        if unicodedata.category(lead) == "Ps":
            opened.append(script)
        here = (style, face, script, level)
        if now is not None and here != now:
            yield (start, a, *now)
            start = a
        now = here
    if now is not None:
        yield (start, last, *now)


def _uniform(styles: Sequence[int], first: int, last: int) -> bool:
    return styles[first] == styles[last - 1] and len(set(styles[first:last])) == 1


@lru_cache(maxsize=4096)
def _script(character: str) -> str:
    return str(scripts.script(character))


def _face_for(library: FontLibrary, font: str, cluster: str) -> Face:
    """As ``_found_face``; what has been looked up is kept."""
    key = (font, cluster[:8], library.opened_late)
    face = library.faces_found.get(key)
    if face is None:
        face = _found_face(library, font, cluster)
        if len(library.faces_found) > 20_000:
            library.faces_found.clear()
        library.faces_found[key] = face
    return face


def _found_face(library: FontLibrary, font: str, cluster: str) -> Face:
    """The first face that has all letters of a cluster, else its first letter; else the first. What
    asks to be seen as an emoji (UTS 51, variation selector 16) is one where there is one."""
    typeface = library.typeface(font)
    lead = next((c for c in cluster if c not in _JOINERS), cluster[0])
    if _AS_EMOJI in cluster:
        drawn = library.typeface(EMOJI).faces[0]
        if drawn.glyph_of(ord(lead)) and _has(drawn, cluster):
            return drawn
    for index, face in enumerate(typeface.faces):
        if face.glyph_of(ord(lead)) and (len(cluster) == 1 or _has(face, cluster)):
            return typeface.faces[index]
    found: Face | None = None
    for family in _asked(library, typeface):
        face_or_none = family.face_for(ord(lead))
        if face_or_none is None:
            continue
        if len(cluster) == 1 or _has(face_or_none, cluster):
            return face_or_none
        found = found or face_or_none
    return found or typeface.faces[0]


def _asked(library: FontLibrary, typeface: Typeface) -> Iterator[Typeface]:
    yield typeface
    yield from library.fallbacks()


def _has(face: Face, cluster: str) -> bool:
    """Whether a face has all that a cluster needs: letter and marks, or both as one."""
    head = cluster[:64]
    return any(
        all(c in _JOINERS or face.glyph_of(ord(c)) for c in letters)
        for letters in (head, unicodedata.normalize("NFC", head))
    )
