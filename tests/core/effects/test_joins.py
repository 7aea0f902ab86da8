"""How outlines turn round corners, held against the strokes of Skia."""

import math

import cv2
import numpy as np
import pytest
import skia

from young_comet.core.effects.alphas import rings
from young_comet.core.effects.joins import bends_of

WIDTH, HEIGHT, LINE = 400, 300, 12
_TURN = [(110 if n % 2 == 0 else 50, math.radians(n * 36 + 7)) for n in range(10)]
FORMS = {
    "star": [(200 + r * math.cos(t), 150 + r * math.sin(t)) for r, t in _TURN],
    "box": [(80.3, 60.2), (300.3, 60.2), (300.3, 220.7), (80.3, 220.7)],
    "diamond": [(200, 40), (340, 150), (200, 260), (60, 150)],
    "hook": [(80, 60), (300, 75), (295, 130), (150, 125), (140, 240), (70, 235)],
}
JOINS = {
    "round": skia.Paint.kRound_Join, "miter": skia.Paint.kMiter_Join,
    "bevel": skia.Paint.kBevel_Join,
}  # fmt: skip


def drawn(points, **pen):
    path = skia.Path()
    path.addPoly([skia.Point(*p) for p in points], True)
    pixels = np.zeros((HEIGHT, WIDTH, 4), np.uint8)
    info = skia.ImageInfo.MakeN32Premul(WIDTH, HEIGHT)
    paint = skia.Paint(AntiAlias=True, Color=0xFFFFFFFF, **pen)
    skia.Surface.MakeRasterDirect(info, pixels).getCanvas().drawPath(path, paint)
    return pixels[..., 3].copy()


@pytest.mark.parametrize("form", FORMS)
def test_corners_are_found_where_they_are(form):
    points = FORMS[form]
    found = bends_of(drawn(points)).corners
    assert len(found) == len(points)
    for x, y in points:
        nearest = min(found, key=lambda c: math.hypot(c.at[0] - x, c.at[1] - y))
        assert math.hypot(nearest.at[0] - x, nearest.at[1] - y) < 0.5
        before, at = points[points.index((x, y)) - 1], points.index((x, y))
        after = points[(at + 1) % len(points)]
        cross = (x - before[0]) * (after[1] - y) - (y - before[1]) * (after[0] - x)
        assert nearest.convex == (cross > 0)  # the forms go round clockwise


@pytest.mark.parametrize("join", JOINS)
@pytest.mark.parametrize("form", FORMS)
def test_an_outline_is_the_stroke_of_the_form(form, join):
    """Outside and inside: pixels that are off by a quarter are a few along the edges."""
    alpha = drawn(FORMS[form])
    stroke = drawn(
        FORMS[form], Style=skia.Paint.kStroke_Style, StrokeWidth=2 * LINE, StrokeMiter=4,
        StrokeJoin=JOINS[join],
    )  # fmt: skip
    outside = np.maximum(alpha, rings(alpha, LINE, LINE, 0, 1, filled=True, join=join))
    inside = cv2.subtract(alpha, rings(alpha, 0.0, LINE, 0, 1, join=join))
    length = sum(math.dist(a, b) for a, b in zip(FORMS[form], FORMS[form][1:], strict=False))
    both = (np.maximum(alpha, stroke), cv2.subtract(alpha, stroke))
    for mine, theirs in zip((outside, inside), both, strict=True):
        off = np.abs(mine.astype(int) - theirs)
        assert off.sum() / 255 < 0.16 * length
    # Each join is nearer to its own stroke than the others are.
    others = [np.maximum(alpha, rings(alpha, LINE, LINE, 0, 1, filled=True, join=other))
              for other in JOINS if other != join]  # fmt: skip
    own = np.abs(outside.astype(int) - np.maximum(alpha, stroke)).sum()
    assert all(own < np.abs(o.astype(int) - np.maximum(alpha, stroke)).sum() for o in others)


def test_round_forms_have_no_corners_and_hostile_ones_do_no_harm():
    y, x = np.mgrid[0:120, 0:120]
    disc = (np.clip(50.5 - np.hypot(x - 60, y - 60), 0, 1) * 255).astype(np.uint8)
    for corner in bends_of(disc).corners:
        turn = math.degrees(math.acos(np.dot(corner.first, corner.second)))
        assert turn < 30
    noise = np.random.default_rng(3).integers(0, 255, (64, 80), np.uint8)
    for alpha in (noise, np.zeros((0, 0), np.uint8), np.zeros((9, 9), np.uint8),
                  np.full((1, 1), 255, np.uint8), np.full((5, 300), 40, np.uint8)):  # fmt: skip
        for join in JOINS:
            ring = rings(alpha, 5.0, 5.0, 2.0, 3, join=join)
            assert ring.shape == alpha.shape


def test_a_bevel_leaves_what_another_side_outlines():
    """A corner close to a wall: the wall's outline stays whole where the corner is bevelled."""
    alpha = np.zeros((120, 160), np.uint8)
    alpha[30:90, 20:80] = 255
    alpha[10:110, 90:100] = 255
    cover = np.maximum(alpha, rings(alpha, 8.0, 8.0, 0, 1, filled=True, join="bevel"))
    assert (cover[12:108, 82:90] == 255).all()
