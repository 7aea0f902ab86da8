"""Widths, line breaks and the order of letters against Chromium setting the same faces."""

import base64
import random

import pytest

from young_comet.core.typography import FontLibrary
from young_comet.core.typography.lines import lay_out
from young_comet.core.typography.shipped import FALLBACKS, SHIPPED, shipped_files
from young_comet.core.typography.style import Letters, TextBox, TextStyle

LIBRARY = FontLibrary()
SIZE = 40.0
WEIGHT = 500

LOAD = """async ([name, files]) => {
  for (const data of files) {
    const face = new FontFace(name, `url(data:font/ttf;base64,${data})`, { weight: "1 1000" });
    document.fonts.add(await face.load());
  }
}"""
WIDTHS = """([family, size, weight, texts]) => texts.map((text) => {
  document.body.innerHTML = "";
  const span = document.createElement("span");
  span.style.cssText = `font: ${weight} ${size}px ${family}; white-space: pre; text-rendering: geometricPrecision; font-optical-sizing: auto; position: absolute; unicode-bidi: plaintext`;
  span.textContent = text;
  document.body.append(span);
  return span.getBoundingClientRect().width;
})"""
# The number of characters in each line of each paragraph.
LINES = """([family, size, weight, width, texts]) => texts.map((text) => {
  document.body.innerHTML = "";
  const box = document.createElement("div");
  box.style.cssText = `font: ${weight} ${size}px/1.4 ${family}; width: ${width}px; text-rendering: geometricPrecision; white-space: pre-wrap; position: absolute; unicode-bidi: plaintext`;
  box.textContent = text;
  document.body.append(box);
  const range = document.createRange();
  const ends = [];
  let top = null;
  for (let at = 0; at < text.length; at += 1) {
    if (text[at] === " ") continue;
    range.setStart(box.firstChild, at);
    range.setEnd(box.firstChild, at + 1);
    const rect = [...range.getClientRects()].at(-1);
    if (!rect) continue;
    if (top !== null && rect.top > top + size * 0.7) ends.push(at);
    if (top === null || rect.top > top + size * 0.7) top = rect.top;
  }
  return ends;
})"""
# Where each letter begins, px from the left of the text.
PLACES = """([family, size, weight, text]) => {
  document.body.innerHTML = "";
  const span = document.createElement("span");
  span.style.cssText = `font: ${weight} ${size}px ${family}; white-space: pre; text-rendering: geometricPrecision; position: absolute; left: 0; unicode-bidi: plaintext`;
  span.textContent = text;
  document.body.append(span);
  const range = document.createRange();
  return [...text].map((_, at) => {
    range.setStart(span.firstChild, at);
    range.setEnd(span.firstChild, at + 1);
    const rect = range.getBoundingClientRect();
    return [rect.left, rect.right];
  });
}"""

SAMPLES = [
    "Gullwing Bay Kite Week", "HOLD until the wind", "AVATAR Toyota We fly", "0123456789 12:45",
    "fi fl ffi office", "Åse Lindqvist, Gödel", "e\u0301 a\u0308 o\u0302 n\u0303 combined",
    "Ветер и змей", "Άνεμος και χαρταετός",
]  # fmt: skip
OTHERS = [
    "שבוע העפיפונים", "kite שלום wind", "שלום kite 2026 עולם", "مهرجان الطائرات الورقية",
    "Bay مرحبا 12 Week", "שבוע (Kite Week) העפיפונים", "wind (רוח [bay] 12) north",
    "kite \u2067שלום 12 (bay)!\u2069 week", "पतंग सप्ताह", "สัปดาห์ว่าว",
]  # fmt: skip


def encoded(family):
    return [base64.b64encode(file.read_bytes()).decode() for file in shipped_files(family)]


@pytest.fixture
def families(page):
    """Loads shipped families into a blank page; gives the list of CSS."""
    page.goto("about:blank")
    loaded = set()

    def load(*names):
        for name in names:
            if name not in loaded:
                # Later faces of a family win in CSS, where the first one wins with us.
                page.evaluate(LOAD, [name, encoded(name)[::-1]])
                loaded.add(name)
        return ", ".join(f'"{name}"' for name in names)

    return load


def width_of(font, text, **more):
    return lay_out(LIBRARY, text, TextStyle(Letters(font, WEIGHT, SIZE), **more)).width


@pytest.mark.parametrize("font", [each.id for each in SHIPPED])
def test_widths_are_those_of_chromium_in_every_shipped_face(page, families, font):
    css = families(font, *(name for name in FALLBACKS if name != font))
    texts = [*SAMPLES, *OTHERS]
    theirs = page.evaluate(WIDTHS, [css, SIZE, WEIGHT, texts])
    for text, width in zip(texts, theirs, strict=True):
        assert width_of(font, text) == pytest.approx(width, rel=0.005), text


@pytest.mark.parametrize("text", [each for each in OTHERS if "ัป" not in each and "ग" not in each])
def test_letters_of_mixed_direction_stand_where_chromium_has_them(page, families, text):
    css = families("inter", *FALLBACKS[1:])
    theirs = page.evaluate(PLACES, [css, SIZE, WEIGHT, text])
    layout = lay_out(LIBRARY, text, TextStyle(Letters("inter", WEIGHT, SIZE), align="left"))
    (line,) = layout.lines
    left = line.left
    cells = {cell.first: cell for cell in line.cells}
    for at, (low, high) in enumerate(theirs):
        cell = cells.get(at)
        if cell is None or cell.last - cell.first > 1 or high - low < 0.5:
            continue  # part of another letter
        assert (cell.left - left, cell.right - left) == pytest.approx((low, high), abs=1.0), at


WORDS = [
    "wind",
    "kite",
    "string",
    "gull",
    "harbour",
    "Gullwing",
    "lift",
    "tail",
    "bow",
    "(mostly)",
    "half-way",
    "well-known",
    "12,5",
    "3.14",
    "e.g.",
    "sea/shore",
    "“quoted”",
    "it's",
    "Saturday!",
    "now?",
    "A–Z",
    "end…",
    "50%",
    "€20",
    "#3",
    "up;",
    "down:",
    "C++",
    "long-distance-flight",
    "naïve",
    "über",
    "Ветер",
    "змей",
    "1/2",
    "[sic]",
    "and/or",
    "the",
    "of",
    "a",
    "to",
    "in",
    "for",
    "on",
    "at",
    "by",
]


def paragraph(number):
    chance = random.Random(number)
    return " ".join(chance.choice(WORDS) for _ in range(chance.randint(12, 40)))


@pytest.mark.parametrize("width", [180.0, 320.0, 520.0, 760.0])
def test_lines_break_where_chromium_breaks_them(page, families, width):
    css = families("inter", *FALLBACKS[1:])
    texts = [paragraph(number) for number in range(30)]
    theirs = page.evaluate(LINES, [css, 24, WEIGHT, width, texts])
    style = TextStyle(Letters("inter", WEIGHT, 24), align="left", box=TextBox(width, 4000))
    wrong = []
    for text, ends in zip(texts, theirs, strict=True):
        ours = [line.first for line in lay_out(LIBRARY, text, style).lines[1:]]
        if ours != ends:
            wrong.append((text, ours, ends))
    assert not wrong, wrong[0]
    assert sum(map(len, theirs)) > 40
