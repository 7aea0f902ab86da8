"""How texts are set, held against HarfBuzz asked directly, and against what must be so of any text."""

from __future__ import annotations

import math

import pytest
import uharfbuzz as hb
from bidi import get_display
from hypothesis import given, settings
from hypothesis import strategies as st

from young_comet.core.typography import FontLibrary, bidi
from young_comet.core.typography.breaking import breaks
from young_comet.core.typography.graphemes import graphemes
from young_comet.core.typography.lines import lay_out
from young_comet.core.typography.shipped import SCRIPT_FACES, SHIPPED, shipped_files
from young_comet.core.typography.style import Letters, Stretch, TextBox, TextStyle
from young_comet.core.typography.units import units_of

LIBRARY = FontLibrary()
PANGRAM = "Gullwing Bay: AVATAR, Toyota, fi ffl 0123 & We fly"


def style(font="inter", size=40.0, weight=500.0, align="left", **more):
    letters = {n: more.pop(n) for n in ("tracking", "width", "slant_deg", "raised", "case", "features")
               if n in more}  # fmt: skip
    return TextStyle(Letters(font, weight, size, **letters), align=align, **more)


def harfbuzz(path, text, axes, size, features=None):
    """(glyph, x, y) of each glyph and the width, px, from the left of the line."""
    face = hb.Face(hb.Blob(path.read_bytes()))
    font = hb.Font(face)
    font.set_variations(axes)
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    hb.shape(font, buffer, features or {})
    scale, x, found = size / face.upem, 0.0, []
    for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        found.append((info.codepoint, (x + position.x_offset) * scale, -position.y_offset * scale))
        x += position.x_advance
    return found, x * scale


def set_as(layout):
    left, foot = layout.lines[0].left, layout.lines[0].baseline
    return [(g.id, g.x - left, g.y - foot) for g in layout.glyphs]


@pytest.mark.parametrize("family", [each.id for each in SHIPPED])
@pytest.mark.parametrize(
    ("text", "features"),
    [(PANGRAM, ()), ("e\u0301a\u0308n\u0303 o\u0302", ()), ("1/2 0123456789", (("tnum", 1), ("frac", 1))),
     ("office AVATAR", (("liga", 0), ("kern", 0)))],
)  # fmt: skip
def test_glyphs_stand_where_harfbuzz_alone_has_them(family, text, features):
    """To 1/64 px, where one face has all of a text."""
    paths = shipped_files(family)
    face = LIBRARY.typeface(family).faces[0]
    if not all(face.glyph_of(ord(c)) for c in text):
        pytest.skip("the first file of the face has not all of its letters")
    made = style(family, features=features)
    layout = lay_out(LIBRARY, text, made)
    expected, width = harfbuzz(
        paths[0], text, dict(face.variation(made.letters)), 40.0, dict(features)
    )
    assert layout.width == pytest.approx(width, abs=1 / 64)
    for ours, theirs in zip(set_as(layout), expected, strict=True):
        assert ours[0] == theirs[0]
        assert ours[1:] == pytest.approx(theirs[1:], abs=1 / 64)


@pytest.mark.parametrize(
    ("family", "text"),
    [("noto-sans-hebrew", "שבוע העפיפונים"), ("noto-sans-arabic", "مرحبا بالعالم"),
     ("noto-sans-devanagari", "नमस्ते दुनिया"), ("noto-sans-thai", "ว่าวกลางลม"),
     ("noto-emoji", "🪁 ⛵🎉 👩‍🚀 👍🏽 🏳️‍🌈 🇫🇮 1️⃣")],
)  # fmt: skip
def test_other_scripts_are_shaped_as_harfbuzz_shapes_them(family, text):
    """In faces that no typeface lists: they are asked for what the chosen one lacks. Each word by
    itself, as blanks come from the chosen one."""
    (path,) = shipped_files(family)
    for word in text.split():
        layout = lay_out(LIBRARY, word, style())
        assert not layout.absent and all(g.id for g in layout.glyphs)
        expected, width = harfbuzz(path, word, {"wght": 500}, 40.0)
        assert layout.width == pytest.approx(width, abs=1 / 64)
        ours = sorted(set_as(layout), key=lambda g: (g[1], g[0]))
        theirs = sorted(expected, key=lambda g: (g[1], g[0]))
        for a, b in zip(ours, theirs, strict=True):
            assert a[0] == b[0] and a[1:] == pytest.approx(b[1:], abs=1 / 64)


def test_all_scripts_have_a_face_and_a_licence():
    for family in (each.id for each in SCRIPT_FACES):
        (path,) = shipped_files(family)
        assert (
            "Open Font License" in (path.parent / "LICENSE").read_text()
            or "OFL" in (path.parent / "LICENSE").read_text()
        )


@pytest.mark.parametrize("emoji", ["🪁", "👩‍🚀", "👨‍👩‍👧", "🏳️‍🌈", "👍🏽", "🇫🇮", "1️⃣", "❤️"])
def test_an_emoji_is_one_letter_with_an_outline(emoji):
    """However many characters it is made of: one cell for the caret, one unit for fronts."""
    spans = [(0, 1), (1, 1 + len(emoji)), (1 + len(emoji), 2 + len(emoji))]
    assert list(units_of(f"a{emoji}b", "letters")) == spans
    layout = lay_out(LIBRARY, f"a{emoji}b", style())
    assert not layout.absent
    cells = [(cell.first, cell.last) for cell in layout.lines[0].cells]
    assert cells == spans
    ink = layout.outline_between(1, 1 + len(emoji))
    left, top, right, foot = ink.bounds
    assert 20 < right - left < 70 and 20 < foot - top < 70


def test_a_sign_is_an_emoji_where_it_asks_to_be_one():
    plain, asked = (lay_out(LIBRARY, text, style()).glyphs[0].face for text in ("❤", "❤️"))
    emoji = LIBRARY.typeface("noto-emoji").faces[0]
    assert asked is emoji and plain is not emoji
    digit = lay_out(LIBRARY, "1", style()).glyphs[0].face
    assert digit is not emoji, "a digit alone stays one"


STEERING = "\u200e\u200f\u2066\u2067\u2068\u2069"
MIXED = st.text(alphabet="ab 12,.-()[]אבג دمر%" + STEERING, max_size=24)
# Isolates within each other, each with its end.
ISOLATED = st.recursive(
    st.text(alphabet="ab 12,.-()[]אבג دمر%", max_size=6),
    lambda inner: st.builds(
        "".join,
        st.lists(
            st.one_of(
                st.text(alphabet="ab 1-()[]אדم", max_size=4),
                st.builds("{0}{1}\u2069".format, st.sampled_from("\u2066\u2067\u2068"), inner),
            ),
            max_size=4,
        ),
    ),
    max_leaves=6,
)


@given(st.one_of(MIXED, ISOLATED))
@settings(max_examples=400)
def test_the_order_of_mixed_letters_is_that_of_another_algorithm(text):
    """Our order by ICU's levels against python-bidi's display of the same line, which follows
    another library (paired brackets and isolates included)."""
    base, found = bidi.levels(text)
    levels = bidi.of_line(text, base, found)
    seen = "".join(text[i] for i in bidi.in_order(levels))
    steering = str.maketrans("", "", STEERING)
    assert seen.translate(steering) == get_display(text).translate(steering)


def test_brackets_about_what_runs_right_belong_to_it():
    """The first example of rule N0 in UAX 9: both brackets have the direction of what is around
    them, where only the opening one had it by what stands beside it."""
    base, found = bidi.levels("אב (גד[&hi]) xy")
    assert base == 1
    assert [found[at] for at in (3, 6, 10, 11)] == [1, 1, 1, 1]
    assert bidi.levels("a (אב) b")[1] == (0, 0, 0, 1, 1, 0, 0, 0)


def test_levels_count_characters_where_icu_counts_units():
    assert bidi.levels("a\U0001f600א\U0001f600b")[1] == (0, 0, 1, 0, 0)
    assert bidi.levels("א\ud800")[0] == 1
    assert len(bidi.levels("א" + "(b" * 10_001)[1]) == 20_003, "too long to be ordered: one way"


ANY = st.text(alphabet="ab \n\t-1.fiWאבé\u0301\u200d\U0001f600", max_size=30)


@given(ANY, st.sampled_from(["left", "centre", "right", "justified"]), st.booleans(),
       st.sampled_from([None, TextBox(90.0, 60.0), TextBox(5.0, 5.0, shrink=True),
                        TextBox(400.0, 300.0, vertical="bottom", by="cap")]))  # fmt: skip
def test_every_letter_of_any_text_has_its_place_once(text, align, by_ink, box):
    made = style(
        align=align, by_ink=by_ink, box=box, runs=(Stretch(2, 5, Letters("caveat", 700, 55)),)
    )
    layout = lay_out(LIBRARY, text, made)
    spans = [(cell.first, cell.last) for line in layout.lines for cell in line.cells]
    assert spans == sorted(spans)
    covered = [index for a, b in spans for index in range(a, b)]
    assert covered == [index for index, c in enumerate(text) if c != "\n"]
    for a, b in zip(layout.lines, layout.lines[1:], strict=False):
        assert a.last <= b.first <= a.last + 1 and a.baseline < b.baseline
    assert all(math.isfinite(v) for g in layout.glyphs for v in (g.x, g.y, g.middle))


@given(st.text(max_size=40))
def test_letters_are_whole_graphemes(text):
    spans = graphemes(text)
    assert "".join(text[a:b] for a, b in spans) == text
    assert [index for a, b in units_of(text, "letters") for index in range(a, b)] == [
        index for a, b in spans if not text[a:b].isspace() for index in range(a, b)
    ]


@pytest.mark.parametrize(
    ("text", "count"),
    [("e\u0301", 1), ("👩\u200d🚀", 1), ("🇩🇪🇫🇷", 2), ("नि", 1), ("각", 1), ("\r\n", 1), ("กำ", 1)],
)  # fmt: skip
def test_what_a_person_calls_one_letter_is_one(text, count):
    assert len(graphemes(text)) == count


def test_lines_fill_their_box_and_no_more():
    text = "the wind off the bay lifts every kite that asks to be let go of"
    for width in (150.0, 260.0, 500.0):
        layout = lay_out(LIBRARY, text, style(box=TextBox(width, 2000.0)))
        assert all(line.width <= width + 0.01 for line in layout.lines)
        assert layout.width == width and not layout.overflows
        for line, after in zip(layout.lines, layout.lines[1:], strict=False):
            # The next word would not have fitted.
            word = text[after.first :].split()[0]
            longer = lay_out(LIBRARY, text[line.first : after.first] + word, style())
            assert longer.width > width
    assert breaks("well-known and/or C++") == (5, 11, 18)


def test_a_box_that_is_too_small_is_told_and_may_shrink_its_words():
    text = "the wind off the bay lifts every kite"
    tight = TextBox(200.0, 100.0)
    assert lay_out(LIBRARY, text, style(box=tight)).overflows
    shrunk = lay_out(LIBRARY, text, style(box=TextBox(200.0, 100.0, shrink=True, least_px=5)))
    assert not shrunk.overflows and 0.3 < shrunk.shrunk < 1
    larger = style(size=40 * shrunk.shrunk * 1.02, box=tight)
    assert lay_out(LIBRARY, text, larger).overflows, "as large as fits"
    least = lay_out(LIBRARY, text, style(box=TextBox(200.0, 20.0, shrink=True, least_px=30)))
    assert least.overflows and least.shrunk == pytest.approx(30 / 40)


@pytest.mark.parametrize(("vertical", "share"), [("top", 0.0), ("middle", 0.5), ("bottom", 1.0)])
def test_words_lie_in_their_box_by_lines_capitals_or_baselines(vertical, share):
    face = LIBRARY.typeface("inter").faces[0]
    ascent, descent, capital = face.extents(face.variation(Letters("inter", 500, 40)))
    for by, above, below in (
        ("line", ascent * 40, descent * 40), ("cap", capital * 40, 0.0), ("baseline", 0.0, 0.0),
    ):  # fmt: skip
        box = TextBox(400.0, 300.0, vertical=vertical, by=by)
        first, last = lay_out(LIBRARY, "HOLD\nON", style(box=box)).baselines
        top, foot = first - above, last + below
        free = 300 - (foot - top)
        assert top == pytest.approx(-150 + share * free)


def test_justified_lines_reach_both_sides_but_for_the_last():
    text = "the wind off the bay lifts every kite that asks"
    layout = lay_out(LIBRARY, text, style(align="justified", box=TextBox(300.0, 400.0)))
    for line in layout.lines[:-1]:
        seen = [c for c in line.cells if text[c.first] != " "]
        assert seen[0].left == pytest.approx(line.left, abs=0.01)
        assert max(c.right for c in seen) - line.left == pytest.approx(300.0, abs=0.01)
    assert layout.lines[-1].width < 290


def test_set_by_ink_a_text_is_in_the_middle_to_the_eye():
    for text in ("Jf", "(AY)", "fly\nTo", "ÅNG"):
        layout = lay_out(LIBRARY, text, style("playfair-display", align="centre", by_ink=True))
        left, top, right, bottom = layout.outline.bounds
        assert (left + right, top + bottom) == (
            pytest.approx(0, abs=0.02),
            pytest.approx(0, abs=0.02),
        )
        assert layout.box == pytest.approx(layout.outline.bounds, abs=0.02)


def test_spacing_indent_and_the_largest_letters_part_the_lines():
    plain = lay_out(LIBRARY, "Kite\nWeek", style())
    wide = lay_out(LIBRARY, "Kite\nWeek", style(spacing=50.0, indent=100.0))
    gap = [b.baselines[1] - b.baselines[0] for b in (plain, wide)]
    assert gap[1] - gap[0] == pytest.approx(20)
    assert wide.glyphs[0].x - wide.box[0] == pytest.approx(40 + plain.glyphs[0].x - plain.box[0])
    run = Stretch(5, 9, Letters("inter", 500, 80))
    large = lay_out(LIBRARY, "Kite\nWeek", style(runs=(run,)))
    assert large.baselines[1] - large.baselines[0] == pytest.approx(96)


def test_case_is_shown_and_letters_stay_those_that_were_typed():
    layout = lay_out(LIBRARY, "straße", style(case="upper"))
    assert len(layout.glyphs) == 7 and [c.first for c in layout.lines[0].cells] == [
        0,
        1,
        2,
        3,
        4,
        5,
    ]
    assert layout.width == pytest.approx(lay_out(LIBRARY, "STRASSE", style()).width)
    titled = lay_out(LIBRARY, "let's go", style(case="title"))
    assert titled.width == pytest.approx(lay_out(LIBRARY, "Let's Go", style()).width)


def test_letters_lean_by_their_slant_where_no_axis_does_it():
    upright, leaning = (
        lay_out(LIBRARY, "I", style("oswald", slant_deg=angle)).outline.bounds for angle in (0, 45)
    )
    high = upright[3] - upright[1]
    assert (leaning[2] - leaning[0]) - (upright[2] - upright[0]) == pytest.approx(high, abs=0.1)


@pytest.mark.parametrize(
    "text", ["a" + "\u0301" * 9_999, "line\n" * 1000, "\x00\x01\x1b\x7f", "\u202e\u2066abc", "\ufdfa" * 50,
             "x" * 10_000, " " * 5000, "\u00ad" * 200]
)  # fmt: skip
def test_hostile_texts_are_set_in_bounded_time(text):
    for box in (None, TextBox(300.0, 200.0, shrink=True)):
        layout = lay_out(LIBRARY, text, style(box=box))
        assert all(math.isfinite(g.x) for g in layout.glyphs)


def test_a_soft_hyphen_is_seen_only_where_it_breaks():
    word = "kite\u00adflying"
    assert lay_out(LIBRARY, word, style()).width == pytest.approx(
        lay_out(LIBRARY, "kiteflying", style()).width, abs=0.5
    )
    narrow = lay_out(LIBRARY, word, style(box=TextBox(110.0, 200.0)))
    assert len(narrow.lines) == 2
    assert narrow.lines[0].width == pytest.approx(lay_out(LIBRARY, "kite-", style()).width, abs=0.5)


@given(st.text(alphabet="abc שלו\n", max_size=40), st.integers(0, 40), st.integers(1, 12))
def test_where_letters_rest_is_around_all_of_their_cells_and_ink(text, first, count):
    """Brute force, in mixed directions and several lines."""
    layout = lay_out(LIBRARY, text, style())
    last = first + count
    cells = [
        (cell.left, line.baseline - line.ascent, cell.right, line.baseline + line.descent)
        for line in layout.lines
        for cell in line.cells
        if cell.first < last and cell.last > first
    ]
    found = layout.resting_box(first, last)
    if not cells:
        assert found is None
        return
    ink = layout.outline_between(first, last)
    cells += [] if ink.is_empty else [ink.bounds]
    lefts, tops, rights, feet = zip(*cells, strict=True)
    assert found == (min(lefts), min(tops), max(rights), max(feet))
    assert layout.resting_box(first, last) is found
