"""Masks, mattes, compositing, treatments, perspective, slices, motion blur: what the picture shows."""

import math
from itertools import pairwise

import numpy as np
import pytest
from tests.build import NoAssets, draw, key, layer, project
from tests.looked import alpha, box, clear, masked

from young_comet.core.catalog import check_project
from young_comet.core.frame.pieces import piece_states
from young_comet.core.geometry.affine import Affine
from young_comet.core.model import Effect, Mask, Property
from young_comet.core.paint import MediaLibrary
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import paths_view
from young_comet.errors import DocumentError

SQUARE = "M-20 -20 L20 -20 L20 20 L-20 20 Z"
RED, BLUE = (0, 0, 255, 255), (255, 0, 0, 255)


# Masks


def test_masks_join_as_their_modes_say():
    """Two squares side by side and overlapping, by area: exact to the pixel."""

    def area(mode, inverted=False):
        first, second = Mask(id="a", name="A"), Mask(id="b", name="B", mode=mode, inverted=inverted)
        values = {"mask.a.path": SQUARE, "mask.b.path": SQUARE, "mask.b.position": [20.0, 0.0]}
        return round(alpha(clear(masked(box(), first, second, **values))).sum() / 255)

    whole, shared = 1600, 800
    assert area("union") == 2 * whole - shared
    assert area("minus") == whole - shared
    assert area("intersect") == shared
    assert area("exclude") == 2 * (whole - shared)
    assert area("union", inverted=True) == 200 * 120 - (whole - shared)


def test_the_first_mask_takes_away_from_the_whole_layer():
    for mode, expected in (("minus", 24000 - 1600), ("intersect", 1600), ("union", 1600)):
        document = clear(
            masked(box(), Mask(id="a", name="A", mode=mode), **{"mask.a.path": SQUARE})
        )
        assert round(alpha(document).sum() / 255) == expected, mode
    off = clear(masked(box(), Mask(id="a", name="A", on=False), **{"mask.a.path": SQUARE}))
    assert round(alpha(off).sum() / 255) == 24000


def test_a_mask_has_a_place_opacity_growth_and_a_soft_edge():
    def mine(**values):
        return alpha(clear(masked(box(), Mask(id="a", name="A"), **{"mask.a.path": SQUARE}, **{f"mask.a.{k}": v for k, v in values.items()})))  # fmt: skip

    assert (
        mine(position=[50.0, 10.0])[100, 210] == 255 and mine(position=[50.0, 10.0])[90, 160] == 0
    )
    assert round(mine(scale=[200.0, 100.0]).sum() / 255) == 3200
    assert mine(opacity=40.0)[90, 160] == 102
    grown = mine(grow=10.0).sum() / 255
    assert grown == pytest.approx(60 * 60 - 4 * 100 + np.pi * 100, abs=14)
    assert round(mine(grow=-10.0).sum() / 255) == 400
    soft = mine(feather=[16.0, 0.0])
    assert soft[90, 140] == pytest.approx(134, abs=5) and soft[90, 132] == pytest.approx(44, abs=5)
    assert soft[70, 160] > 250 or soft[71, 160] > 250, "soft along x only"
    turned = mine(rotation=45.0)
    assert turned[90, 160 + 26] == 255 and turned[90 + 17, 160 + 17] == 0


def test_a_half_plane_keeps_the_side_that_it_turns_to():
    mask = Mask(id="a", name="A", form="half-plane")
    picture = alpha(clear(masked(box(), mask, **{"mask.a.position": [10.0, 0.0]})))
    assert picture[90, 175] == 255 and picture[90, 165] == 0
    picture = alpha(clear(masked(box(), mask, **{"mask.a.rotation": 90.0})))
    assert picture[95, 160] == 255 and picture[85, 160] == 0
    soft = alpha(clear(masked(box(), mask, **{"mask.a.feather": [20.0, 20.0]})))
    # A gaussian edge of deviation 10: one deviation inside 84.1 percent are kept.
    assert soft[90, 160] == pytest.approx(133, abs=8) and soft[90, 170] == pytest.approx(219, abs=6)


def test_a_mask_may_lie_in_the_scene_or_follow_another_layer():
    moving = [key(0, [120.0, 90.0]), key(2, [200.0, 90.0])]
    line = layer(
        "line", "shape", shape__kind="line", fill__on=False, stroke__width=2.0, position=moving
    )
    panel = box()
    follow = masked(
        panel, Mask(id="a", name="A", form="half-plane", space="follow", follows="line")
    )
    document = clear(line.model_copy(update={"hidden": True}), follow)
    for time_s, edge in ((0, 120), (1, 160), (2, 200)):
        row = alpha(document, time_s=time_s)[90]
        assert row[edge - 3] == 0 and row[edge + 3] == 255
    drifting = box().model_copy(
        update={"properties": {**box().properties, "position": Property(keys=tuple(moving))}}
    )
    held = masked(
        drifting,
        Mask(id="a", name="A", space="scene"),
        **{"mask.a.path": SQUARE, "mask.a.position": [160.0, 90.0]},
    )
    for time_s in (0, 1, 2):
        row = alpha(clear(held), time_s=time_s)[90]
        assert row[158] == 255 and row[138] == 0 and row[182] == 0


@pytest.mark.parametrize("form", ["path", "half-plane"])
@pytest.mark.parametrize("turned", [{"tilt": 40.0}, {"turn": -35.0, "rotation": 20.0}])
def test_a_mask_in_the_scene_stays_there_on_a_layer_in_perspective(form, turned):
    """What is seen of the layer is cut where the mask lies in the scene."""
    panel = box(**turned)
    whole = alpha(clear(panel)).astype(int)
    values = {"mask.a.position": [150.0, 80.0], "mask.a.rotation": 30.0}
    if form == "path":
        values["mask.a.path"] = SQUARE
    mask = Mask(id="a", name="A", form=form, space="scene")
    seen = alpha(clear(masked(panel, mask, **values))).astype(int)
    y, x = np.mgrid[0:180, 0:320] + 0.5
    c, s = math.cos(math.radians(30)), math.sin(math.radians(30))
    u, v = c * (x - 150) + s * (y - 80), -s * (x - 150) + c * (y - 80)
    inside = u if form == "half-plane" else 20 - np.maximum(abs(u), abs(v))
    assert np.abs(seen - whole)[inside > 1.5].max() <= 1
    assert seen[inside < -1.5].max() == 0
    assert (seen > 200).sum() > 500


def test_what_is_drawn_over_a_tilted_layer_is_right_about_its_pivot():
    panel = masked(box(tilt=40.0, pivot=[30.0, -20.0]), Mask(id="a", name="A"), **{"mask.a.path": SQUARE})  # fmt: skip
    evaluator = SceneEvaluator(clear(panel), "reveal")
    (view,) = paths_view(evaluator, evaluator.scene.layers[0], 0.0)
    lens = evaluator.at(0.0).layers[0].lens
    there = Affine(*view["matrix"])
    assert there((30.0, -20.0)) == pytest.approx(lens((30.0, -20.0)))
    x, y = lens((33.0, -20.0))
    assert there((33.0, -20.0)) == (pytest.approx(x, abs=0.02), pytest.approx(y, abs=0.02))


def test_path_keys_morph():
    far = "M0 -40 L40 0 L0 40 L-40 0 Z"
    mask = masked(box(), Mask(id="a", name="A"), **{"mask.a.path": [key(0, SQUARE), key(1, far)]})
    first, last = alpha(clear(mask)), alpha(clear(mask), time_s=1)
    assert round(first.sum() / 255) == 1600 and round(last.sum() / 255) == pytest.approx(
        3200, abs=2
    )
    # On its way the square turns as a whole: its area lies between, without folding over.
    areas = [alpha(clear(mask), time_s=t).sum() / 255 for t in np.linspace(0, 1, 9)]
    assert all(a <= b + 1 for a, b in pairwise(areas))


def test_wrong_masks_and_effects_name_the_layer():
    with pytest.raises(DocumentError, match="Panel"):
        clear(masked(box(), Mask(id="a", name="A", space="follow")))
    with pytest.raises(DocumentError, match="effect"):
        clear(box().model_copy(update={"effects": (Effect(id="e", kind="sparkle-dust"),)}))
    with pytest.raises(DocumentError, match=r"effect\.e\.size"):
        clear(box().model_copy(update={"properties": {"effect.e.size": Property(value=(1, 1))}}))
    with pytest.raises(DocumentError, match="Path"):
        clear(masked(box(), Mask(id="a", name="A"), **{"mask.a.path": "M0 0 L"}))
    with pytest.raises(DocumentError, match="two masks"):
        clear(masked(box(), Mask(id="a", name="A"), Mask(id="a", name="B")))


# Mattes and compositing


def matte(kind, *, by="alpha", inverted=False, ramp=None):
    sail = layer(
        "sail",
        "shape",
        shape__size=[80.0, 60.0],
        position=[160.0, 90.0],
        fill__colour=ramp or "#ffffff80",
    )
    panel = box(matte__layer="sail", matte__by=by, matte__inverted=inverted)
    return clear(sail.model_copy(update={"hidden": kind == "hidden"}), panel)


def test_a_matte_shows_a_layer_through_alpha_or_luminance_or_outside():
    shown = alpha(matte("hidden"))
    assert shown[90, 160] == 128 and shown[90, 70] == 0
    outside = alpha(matte("hidden", inverted=True))
    assert outside[90, 160] == 127 and outside[90, 70] == 255
    green = alpha(matte("hidden", by="luminance", ramp="#00ff00"))
    assert green[90, 160] == pytest.approx(182, abs=1)
    assert alpha(matte("seen"))[90, 160] > 128, "a matte may be seen as well"


def test_several_layers_share_a_matte_which_may_itself_have_one():
    tiny = box("tiny", (20.0, 20.0)).model_copy(update={"hidden": True})
    sail = box("sail", (80.0, 60.0), matte__layer="tiny").model_copy(update={"hidden": True})
    one, two = box("one", matte__layer="sail"), box("two", at=(165.0, 90.0), matte__layer="sail")
    picture = alpha(clear(tiny, sail, one, two))
    assert round(picture.sum() / 255) == 400


def test_layers_that_are_each_others_matte_end_somewhere():
    one, two = box("one", matte__layer="two"), box("two", (40.0, 40.0), matte__layer="one")
    assert round(alpha(clear(one, two)).sum() / 255) == 1600


def test_a_matte_that_is_off_hides_what_it_shows():
    sail = layer("sail", "shape", 2.0, 4.0, shape__size=[80.0, 60.0]).model_copy(
        update={"hidden": True}
    )
    assert alpha(clear(sail, box(matte__layer="sail"))).max() == 0
    assert alpha(clear(sail, box(matte__layer="sail")), time_s=3.0)[90, 160] == 255
    assert alpha(clear(box(matte__layer="nowhere")))[90, 160] == 255


def test_within_the_layer_below():
    low = box("low", (60.0, 40.0), "#0000ff")
    picture = draw(
        clear(
            low,
            box("high", matte__below=True),
            box("higher", (30.0, 90.0), "#00ff00", matte__below=True),
        )
    )
    assert tuple(picture[90, 132]) == RED and tuple(picture[90, 160]) == (0, 255, 0, 255)
    assert picture[120, 160, 3] == 0 and round(picture[..., 3].sum() / 255) == 2400


def test_atop_and_cut_out_leave_the_backdrop_alone():
    sky = layer("sky", "backdrop", fill__colour="#0000ff")
    low, high = box("low", (60.0, 40.0), "#00ff00"), box("high", composite="atop")
    picture = draw(project(sky, low, high))
    assert tuple(picture[90, 160]) == RED and tuple(picture[90, 100]) == BLUE
    hole = box("hole", (20.0, 20.0), composite="knock-out")
    picture = draw(project(sky, low, hole))
    assert tuple(picture[90, 160]) == BLUE and tuple(picture[90, 185]) == (0, 255, 0, 255)
    assert alpha(clear(low, hole))[90, 160] == 0


def test_blend_modes_stand_in_the_picture():
    low = box("low", colour="#808080")
    picture = draw(clear(low, box("high", (60.0, 40.0), "#ff8000", blend="multiply")))
    assert tuple(picture[90, 160]) == pytest.approx((0, 64, 128, 255), abs=1)
    assert tuple(picture[90, 80]) == (128, 128, 128, 255)


def test_a_treatment_changes_all_below_within_its_masks_and_opacity():
    panel = box(colour="#ffffff", size=(320.0, 180.0))
    grade = layer("grade", "treatment", opacity=50.0).model_copy(
        update={"effects": (Effect(id="e", kind="invert"),)}
    )
    over = box("over", (10.0, 10.0), "#00ff00")
    picture = draw(project(panel, grade, over))
    assert picture[20, 20, 0] == pytest.approx(128, abs=1) and tuple(picture[90, 160]) == (
        0,
        255,
        0,
        255,
    )
    part = masked(grade, Mask(id="a", name="A", form="half-plane"), opacity=100.0)
    picture = draw(project(panel, part))
    assert picture[90, 100, 0] == 255 and picture[90, 220, 0] == 0


def test_a_treatments_blur_keeps_the_frames_edges_opaque():
    sky = layer("sky", "backdrop", fill__colour="#ffffff")
    soft = layer("soft", "treatment", **{"effect.e.size": [20.0, 20.0]})
    soft = soft.model_copy(update={"effects": (Effect(id="e", kind="gaussian-blur"),)})
    picture = draw(project(sky, soft))
    assert picture.min() >= 254


# Perspective


def test_a_turned_layer_is_nearer_on_one_side():
    picture = alpha(clear(box(turn=60.0)))
    left, right = (np.count_nonzero(picture[:, x] > 127) for x in (130, 190))
    assert right != left and 100 < left < 140 and 100 < right < 140
    assert alpha(clear(box(turn=90.0))).max() <= 20, "edge on there is nothing to see"
    flat, tilted = alpha(clear(box())), alpha(clear(box(tilt=55.0)))
    assert tilted.sum() < 0.7 * flat.sum()


def test_the_viewing_distance_sets_how_strong_it_is():
    def lean(distance):
        picture = alpha(clear(box(tilt=50.0), viewing_distance_px=distance))
        rows = np.flatnonzero(picture.max(axis=1) > 127)
        top, bottom = (np.count_nonzero(picture[y] > 127) for y in (rows[2], rows[-3]))
        return abs(bottom - top)

    assert lean(300.0) > 3 * lean(3000.0)


def test_tilted_edges_are_smooth():
    picture = alpha(clear(box(turn=50.0, rotation=7.0)))
    assert np.count_nonzero((picture > 20) & (picture < 235)) > 150


# Slices


KINDS = ("strips", "tiles", "wedges", "lines")


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("angle", [0.0, 33.0])
def test_pieces_in_place_show_no_seam(kind, angle):
    """Nearly all pieces rest: where they do, the picture is as if it had never been cut."""
    values = {
        "slices__kind": kind,
        "slices__angle": angle,
        "slices__lines": "M-300 -20 L300 30 M-20 -200 L30 200",
    }
    whole = draw(clear(box()))
    cut = draw(
        clear(
            box(
                **values,
                slices__progress=99.999,
                slices__width=1.0,
                slices__profile="linear",
                slices__offset=[0.0, 0.0],
                slices__opacity=100.0,
            )
        )
    )
    assert np.abs(cut.astype(int) - whole).max() <= 3
    assert np.array_equal(draw(clear(box(**values))), whole)
    # Half way of fading in, nearly all alike: no pixel is less than the least of the pieces.
    faded = clear(box(**values, slices__width=100.0, slices__profile="linear",
                      slices__progress=50.0, slices__offset=[0.0, 0.0], slices__opacity=0.0))  # fmt: skip
    (found,) = SceneEvaluator(faded, "reveal").at(0.0).layers
    own = found.content.box(MediaLibrary(NoAssets()))
    states = piece_states(found.slices, own)
    least, most = (255 * f(s.opacity for s in states) for f in (min, max))
    for scale in (1.0, 0.34):
        half = draw(faded, scale=scale)[:, :, 3]
        inside = draw(clear(box()), scale=scale)[:, :, 3] == 255
        assert least - 1.5 <= half[inside].min() and half[inside].max() <= most + 1.5


@pytest.mark.parametrize("kind", KINDS)
def test_pieces_that_are_away_are_where_they_should_be(kind):
    gone = box(
        slices__kind=kind, slices__progress=0.0, slices__offset=[0.0, 40.0], slices__opacity=100.0
    )
    assert alpha(clear(gone))[30 + 35, 160] == 0 and alpha(clear(gone))[150, 160] == 255
    hidden = box(slices__kind=kind, slices__progress=0.0)
    assert alpha(clear(hidden)).max() == 0


def test_a_travelling_front_brings_one_piece_after_the_other():
    def row(progress, order="forward"):
        cut = box(
            slices__kind="strips",
            slices__count=10.0,
            slices__width=1.0,
            slices__progress=progress,
            slices__order=order,
            slices__profile="linear",
            slices__offset=[0.0, 400.0],
        )
        return [alpha(clear(cut))[90, 70 + 20 * i] for i in range(10)]

    assert row(50.0)[:5] == [255] * 5 and row(50.0)[6:] == [0] * 4
    back = row(50.0, "back")
    assert back[5:] == [255] * 5 and back[:4] == [0] * 4
    middle = row(45.0, "outwards")
    assert middle[4] == middle[5] == 255 and middle[0] == middle[9] == 0


def test_a_version_2_document_keeps_its_paths_where_they_were():
    old = {
        "schema_version": 2, "id": "kites", "name": "Kites",
        "scenes": [{"id": "reveal", "name": "Reveal", "width": 320, "height": 180, "rate": {"num": 25}, "length_s": 4,
                    "layers": [{"id": "tail", "name": "Tail", "kind": "shape", "start_s": 0, "end_s": 4, "properties": {
                        "shape.kind": {"value": "path"}, "shape.path": {"value": "M100 100 L140 100 L140 120 L100 120 Z"}}}]}],
    }  # fmt: skip
    from young_comet.core.model import load_project

    document = check_project(load_project(old))
    picture = alpha(
        document.model_copy(
            update={"scenes": (document.scenes[0].model_copy(update={"ground": None}),)}
        )
    )
    rows, columns = np.flatnonzero(picture.max(axis=1)), np.flatnonzero(picture.max(axis=0))
    assert (columns[0], columns[-1], rows[0], rows[-1]) == (140, 179, 80, 99), (
        "about the frame's middle"
    )


# What has no size


@pytest.mark.parametrize("scale", [[0.0, 0.0], [0.01, 0.01], [0.0, 100.0]])
def test_a_half_plane_that_follows_what_has_no_size_hides_what_it_should(scale):
    """Its edge goes through the followed layer's place, towards its own right."""
    held = layer("held", "carrier", position=[120.0, 90.0], scale=scale)
    panel = layer("panel", "shape", shape__size=[300.0, 100.0], fill__colour="#ffffff")
    mask = Mask(id="m", name="Half", form="half-plane", space="follow", follows="held")
    row = alpha(clear(held, panel.model_copy(update={"masks": (mask,)})))[90].astype(int)
    shown = row > 128
    assert shown.any() and not shown.all()
    edge = np.flatnonzero(np.diff(shown.astype(int)))
    assert abs(edge - 119.5).min() <= 1


def test_what_has_no_size_is_not_seen_and_others_go_on():
    """Neither drawn nor a matte; what rides on it, is aligned to it or fits it can be drawn."""
    none = layer("none", "shape", shape__size=[80.0, 80.0], fill__colour="#ffffff",
                 stroke__width=8.0, stroke__fixed=True, scale=[0.0, 0.0], rotation=30.0)  # fmt: skip
    assert alpha(clear(none)).max() == 0
    rider = layer("rider", "shape", shape__size=[20.0, 20.0], fill__colour="#ffffff").model_copy(
        update={"rides": "none"}
    )
    assert alpha(clear(none, rider)).max() == 0
    beside = layer("beside", "shape", shape__size=[20.0, 20.0], fill__colour="#ffffff",
                   align__x="centre", align__to="layer", align__layer="none", fit__layer="none")  # fmt: skip
    assert np.isfinite(alpha(clear(none, beside)).astype(float)).all()
    cut = layer(
        "cut", "shape", shape__size=[90.0, 90.0], fill__colour="#ffffff", matte__layer="none"
    )
    assert alpha(clear(none, cut)).max() == 0
