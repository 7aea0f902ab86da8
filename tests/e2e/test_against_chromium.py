"""Our curves against the browser's own: CSS easings, and travel along SVG paths."""

import random

import pytest

from young_comet.core.geometry.bezier import PathSegment
from young_comet.core.timing import parse_easing

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
