"""Slices, letters, words and copies turned in space, against the projection worked out by hand."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest
from tests.build import draw, key, layer
from tests.looked import alpha, box, clear

from young_comet.core.model import Move, Property, Shutter
from young_comet.core.moves import MOVES

FRAME = (320, 180)
EYE = clear(box()).scenes[0].eye_px


def seen(corners, hinge, tilt=0.0, turn=0.0, eye=(160.0, 90.0)):
    """Corners turned about x, then y, through a hinge, as an eye before a point sees them."""
    ct, st = math.cos(math.radians(tilt)), math.sin(math.radians(tilt))
    cy, sy = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    found = []
    for x, y in corners:
        x, y = x - hinge[0], y - hinge[1]
        y, z = y * ct, y * st
        x, z = x * cy + z * sy, z * cy - x * sy
        near = EYE / (EYE - z)
        x, y = x + hinge[0] - eye[0], y + hinge[1] - eye[1]
        found.append((eye[0] + x * near, eye[1] + y * near))
    return found


def filled(*polygons):
    """How much of each pixel polygons cover, 0..255, of 16 x 16 samples."""
    fine = np.zeros((FRAME[1] * 16, FRAME[0] * 16), np.uint8)
    for polygon in polygons:
        at = np.rint((np.array(polygon) * 16 - 0.5) * 16).astype(np.int32)
        cv2.fillPoly(fine, [at], 255, shift=4)
    return cv2.resize(fine, FRAME, interpolation=cv2.INTER_AREA).astype(float)


def quad(x0, x1, y0=30.0, y1=150.0):
    return [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]


def strips(**values):
    more = {"slices__kind": "strips", "slices__count": 5.0, "slices__offset": [0.0, 0.0],
            "slices__opacity": 100.0, "slices__profile": "linear", "slices__progress": 0.0}  # fmt: skip
    return box(**{**more, **values})


def near(ours, theirs, mean=2.5):
    """Edges that are warped are softer by up to half a pixel; on the whole nothing differs."""
    apart = np.abs(ours.astype(float) - theirs)
    soft = cv2.GaussianBlur(ours.astype(float) - theirs, (0, 0), 2)
    assert apart.mean() < mean and np.abs(soft).max() < 22, (apart.mean(), np.abs(soft).max())


@pytest.mark.parametrize("axis", ["turn", "tilt"])
@pytest.mark.parametrize("pivot", [0.0, -50.0, 50.0])
@pytest.mark.parametrize("angle", [35.0, -60.0, -250.0])
def test_strips_turn_in_perspective_about_their_pivots(axis, pivot, angle):
    at = [pivot, 0.0] if axis == "turn" else [0.0, pivot]
    ours = alpha(clear(strips(**{f"slices__{axis}": angle, "slices__pivot": at})))
    quads = []
    for index in range(5):
        x0 = 60.0 + 40 * index
        hinge = (x0 + 20 + at[0] / 100 * 40, 90 + at[1] / 100 * 120)
        quads.append(seen(quad(x0, x0 + 40), hinge, **{axis: angle}))
    near(ours, filled(*quads))


def test_five_strips_turn_in_one_after_another_without_being_cut_into_layers():
    """From -270 degrees, one at a time: half way the first two rest, the third is under way."""
    made = strips(slices__turn=-270.0, slices__width=1.0, slices__progress=50.0)
    quads = [quad(60, 140)]
    for index, angle in ((2, -135.0), (3, -270.0), (4, -270.0)):
        x0 = 60.0 + 40 * index
        quads.append(seen(quad(x0, x0 + 40), (x0 + 20, 90.0), turn=angle))
    near(alpha(clear(made)), filled(*quads))


def test_a_piece_nearer_to_the_eye_lies_above_those_behind_it():
    """The left half, hinged at the cut, comes forward over the right, and goes back under it."""
    for angle, above in ((170.0, True), (-170.0, False)):
        made = strips(slices__count=2.0, slices__turn=angle, slices__pivot=[50.0, 0.0],
                      slices__order="back", slices__width=1.0, slices__progress=50.0,
                      fill__kind="linear", fill__start=[0.0, 50.0], fill__end=[100.0, 50.0],
                      fill__stops=[[0.0, "#ff0000"], [0.5, "#ff0000"], [0.5, "#0000ff"], [1.0, "#0000ff"]])  # fmt: skip
        pixel = draw(clear(made))[90, 200].astype(int)
        assert bool(pixel[2] > 240) is above and bool(pixel[0] > 240) is not above


@pytest.mark.parametrize("pivot", ["middle", "left", "bottom"])
def test_a_turned_layer_turns_its_pieces_with_it(pivot):
    """Pieces in a layer that is turned itself: angles about one axis through one line add up."""
    one = strips(slices__count=1.0, slices__turn=40.0, turn=25.0)
    whole = box(turn=65.0)
    near(alpha(clear(one)), alpha(clear(whole)).astype(float), 1.5)


def worn(base, kind, phase="arrive", **values):
    props = {f"move.m.{k.replace('__', '.')}": Property(value=v) for k, v in values.items()}
    move = Move(id="m", kind=kind, phase=phase)
    return base.model_copy(
        update={"moves": (move,), "arrive_s": 1.0, "properties": {**base.properties, **props}}
    )


@pytest.mark.parametrize("axis", ["x", "y"])
@pytest.mark.parametrize("hinge", ["middle", "left", "right", "top", "bottom"])
def test_a_move_turns_slices_as_it_turns_layers(axis, hinge):
    """Five strips that turn in together are five boxes that do."""
    values = {"axis": axis, "angle": 80.0, "hinge": hinge, "easing": "linear"}
    cut = worn(box(slices__kind="strips", slices__count=5.0), "turn-in", **values,
               spread__over="slices", spread__tempo="shared", spread__width=1.0)  # fmt: skip
    five = [
        worn(box(id=f"s{n}", size=(40.0, 120.0), at=(80.0 + 40 * n, 90.0)), "turn-in", **values)
        for n in range(5)
    ]
    # The last strip is half way when the front is nine tenths through; the others rest.
    ours = alpha(clear(cut), time_s=0.9)
    still = [box(id=f"s{n}", size=(40.0, 120.0), at=(80.0 + 40 * n, 90.0)) for n in range(4)]
    rest = [*still, five[4]]
    theirs = alpha(clear(*rest), time_s=0.5).astype(float)
    near(ours, theirs, 1.0)


@pytest.mark.parametrize("over", ["letters", "words", "lines", "whole"])
def test_letters_and_words_turn_in_perspective(over):
    """One letter, word or line that turns is a text of its own that turns."""

    def text(**more):
        return layer("kite", "text", text="I", text__size=100.0, fill__colour="#ffffff",
                     position=[160.0, 90.0], **more)  # fmt: skip

    turned = worn(text(), "turn-in", angle=120.0, easing="linear", spread__over=over,
                  spread__tempo="shared")  # fmt: skip
    ours = alpha(clear(turned), time_s=0.5)
    upright = alpha(clear(text()))
    x0, x1 = ends(upright[90])
    y0, y1 = ends(upright[:, 160])
    hinge = ((x0 + x1) / 2, (y0 + y1) / 2)
    near(ours, filled(seen(quad(x0, x1, y0, y1), hinge, turn=60.0)), 1.0)
    # Seen from the side: an eye that is not before it.
    aside = worn(text(), "turn-in", angle=120.0, easing="linear", spread__over=over,
                  spread__tempo="shared")  # fmt: skip
    aside.properties["position"] = Property(value=[280.0, 40.0])
    quads = seen(
        quad(x0 + 120, x1 + 120, y0 - 50, y1 - 50), (hinge[0] + 120, hinge[1] - 50), turn=60.0
    )
    near(alpha(clear(aside), time_s=0.5), filled(quads), 1.0)


def test_copies_turn_in_perspective_one_after_another():
    dots = worn(box(size=(30.0, 60.0), at=(60.0, 90.0), copies__count=3.0, copies__position=[80.0, 0.0]),
                "turn-in", angle=90.0, easing="linear", spread__over="copies", spread__tempo="shared", spread__width=1.0)  # fmt: skip
    quads = [quad(45, 75, 60.0, 120.0), seen(quad(125, 155, 60.0, 120.0), (140.0, 90.0), turn=45.0)]
    near(alpha(clear(dots), time_s=0.5), filled(*quads), 1.0)


def test_motion_blur_of_turning_strips_is_the_mean_of_moments():
    turning = strips(slices__turn=-270.0, slices__width=5.0,
                     slices__progress=[key(0, 0.0, "linear"), key(1, 100.0, "linear")])  # fmt: skip
    blurred = alpha(clear(turning, shutter=Shutter(on=True, angle_deg=360.0)), time_s=0.4).astype(
        float
    )
    moments = 0.4 + (np.arange(128) + 0.5) / 128 / 25 - 0.02
    total = np.zeros(FRAME[::-1])
    for moment in moments:
        total += alpha(clear(turning), time_s=float(moment))
    apart = np.abs(blurred - total / len(moments))
    assert apart.max() < 8 and apart.mean() < 1.0, (apart.max(), apart.mean())


def ends(line):
    """Where a bar begins and ends on a line of pixels, to a part of one."""
    full = np.nonzero(line == 255)[0]
    return full[0] - line[full[0] - 1] / 255, full[-1] + 1 + line[full[-1] + 1] / 255


PLACED = [kind for kind in MOVES.values() if "shape" in kind.fits]


@pytest.mark.parametrize("kind", PLACED, ids=lambda k: k.id)
@pytest.mark.parametrize("over", ["slices", "letters", "copies"])
def test_every_move_over_units_starts_away_and_comes_to_rest(kind, over):
    base = {
        "slices": box(slices__kind="wedges", slices__count=4.0, stroke__width=4.0),
        "letters": layer("kite", "text", text="Gull", text__size=60.0, position=[160.0, 90.0]),
        "copies": box(size=(30.0, 60.0), copies__count=3.0, copies__position=[30.0, 0.0]),
    }[over]
    if base.kind not in kind.fits:
        pytest.skip("not for texts")
    if over not in dict(kind.by_id["spread.over"].options if "spread.over" in kind.by_id else ()):
        over = "whole"  # it is not offered
    phase = "dwell" if kind.dwells else "arrive"
    made = (
        worn(base, kind.id, phase, spread__over=over)
        if not kind.dwells
        else worn(base, kind.id, phase)
    )
    for time_s in (0.0, 0.3, 0.77, 1.0, 1.9):
        assert np.isfinite(draw(clear(made), time_s=time_s)).all()
    if not kind.dwells:
        rest = draw(clear(base), time_s=1.5)
        assert np.array_equal(draw(clear(made), time_s=1.5), rest)


@pytest.mark.parametrize(
    "scale", [[0.0, 0.0], [1e-3, 100.0], [100.0, 0.0], [3000.0, 3000.0], [-100.0, 100.0]]
)
@pytest.mark.parametrize("turn", [90.0, 180.0, 1e5, 0.001])
def test_sizes_and_angles_at_their_limits(scale, turn):
    made = strips(scale=scale, slices__turn=turn, slices__tilt=turn, slices__pivot=[1e4, -1e4],
                  slices__progress=30.0)  # fmt: skip
    assert draw(clear(made)).shape == (180, 320, 4)
