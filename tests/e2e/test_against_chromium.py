"""Our curves against the browser's own: CSS easings, travel along SVG paths, letters on them."""

import base64
import random

import pytest

from young_comet.core.geometry.bezier import PathSegment
from young_comet.core.geometry.trail import trail
from young_comet.core.timing import parse_easing
from young_comet.core.typography import FontLibrary, TextPath, led_along
from young_comet.core.typography.lines import lay_out
from young_comet.core.typography.shipped import shipped_files
from young_comet.core.typography.style import plainly

# Progress that Chromium's animation engine gives for an easing at some moments.
PROGRESS = """([easings, times]) => {
  const element = document.body.appendChild(document.createElement("div"));
  return easings.map((easing) => {
    const animation = element.animate([{ opacity: 0 }, { opacity: 1 }], { duration: 1000, easing, fill: "both" });
    animation.pause();
    const found = times.map((time) => { animation.currentTime = time * 1000; return animation.effect.getComputedTiming().progress; });
    animation.cancel();
    return found;
  });
}"""
POINTS = """([paths, fractions]) => paths.map((d) => {
  const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
  path.setAttribute("d", d);
  const length = path.getTotalLength();
  return [length, fractions.map((each) => { const p = path.getPointAtLength(each * length); return [p.x, p.y]; })];
})"""


# Where Chromium sets the letters of a text on a path (SVG 2, 11.8), and how it turns them.
LETTERS = """async ([face, size, words, d, offset]) => {
  const font = new FontFace("Led", `url(data:font/ttf;base64,${face})`);
  document.fonts.add(await font.load());
  document.body.innerHTML = `<svg width="900" height="700"><path id="way" d="${d}"/>
    <text y="100" font-family="Led" font-size="${size}" text-rendering="geometricPrecision">${words}</text>
    <text font-family="Led" text-rendering="geometricPrecision" font-size="${size}"><textPath href="#way" startOffset="${offset}">${words}</textPath></text></svg>`;
  const [plain, led] = document.querySelectorAll("text");
  await document.fonts.ready;
  return [...words].map((_, i) => {
    const { x, y } = led.getStartPositionOfChar(i);
    return [plain.getStartPositionOfChar(i).x, x, y, led.getRotationOfChar(i)];
  });
}"""


@pytest.mark.parametrize(
    ("d", "offset"),
    [("M60 500 C250 60 500 60 820 520", 0.0), ("M60 300 C250 500 500 90 820 320", 90.0),
     ("M450 120 A230 230 0 1 1 449 120", 40.0)],
)  # fmt: skip
def test_letters_on_a_path_stand_where_chromium_sets_them(page, d, offset):
    page.goto("about:blank")
    (file,) = shipped_files("permanent-marker")
    face = base64.b64encode(file.read_bytes()).decode()
    words = "GULLWING BAY"
    theirs = page.evaluate(LETTERS, [face, 48, words, d, offset])
    style = plainly("permanent-marker", 400.0, 48.0, "left")
    layout = lay_out(FontLibrary(), words, style)
    led = led_along(layout, TextPath(d, offset / trail(d).length), "left")
    compared = 0
    for index, (straight, x, y, turned) in enumerate(theirs):
        glyph = led.glyphs[index]
        if abs(layout.glyphs[index].x + layout.width / 2 - straight) > 0.02:
            continue  # shifted within its advance by kerning, which Chromium does not tell
        compared += 1
        assert (glyph.x, glyph.y) == (pytest.approx(x, abs=0.5), pytest.approx(y, abs=0.5)), index
        assert (glyph.turned_deg - turned + 180) % 360 - 180 == pytest.approx(0, abs=0.2), index
    assert compared >= 10


def test_css_easings_agree_with_chromium(page):
    rng = random.Random(11)
    page.goto("about:blank")
    curves = [
        f"cubic-bezier({rng.random():.4f}, {rng.uniform(-1.5, 2):.4f}, {rng.random():.4f}, {rng.uniform(-1.5, 2):.4f})"
        for _ in range(50)
    ]
    texts = [*curves, "ease", "ease-in", "ease-out", "ease-in-out", "linear", "steps(5, jump-start)",
             "steps(4, jump-both)", "steps(3, jump-none)", "linear(0, 0.3 20%, 0.3 40%, 1.2 70%, 1)"]  # fmt: skip
    times = [round(rng.random() * 0.998 + 0.001, 6) for _ in range(20)]
    theirs = page.evaluate(PROGRESS, [texts, times])
    for text, row in zip(texts, theirs, strict=True):
        easing = parse_easing(text)
        assert [easing.at(t) for t in times] == pytest.approx(row, abs=1e-4), text


def test_travel_along_paths_agrees_with_chromium(page):
    rng = random.Random(5)
    page.goto("about:blank")
    curves = [[(rng.uniform(0, 1200), rng.uniform(0, 800)) for _ in range(4)] for _ in range(30)]
    paths = ["M{} {} C{} {} {} {} {} {}".format(*(v for p in curve for v in p)) for curve in curves]
    fractions = [i / 16 for i in range(17)]
    for curve, (length, points) in zip(
        curves, page.evaluate(POINTS, [paths, fractions]), strict=True
    ):
        segment = PathSegment(*curve)
        assert segment.length == pytest.approx(length, rel=2e-4)
        for fraction, point in zip(fractions, points, strict=True):
            assert segment.at(fraction) == pytest.approx(tuple(point), abs=0.35)
