"""Masks, mattes, compositing, treatments, perspective, slices, motion blur: what the picture shows."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import NoAssets, draw, key, layer, project

from young_comet.core.catalog import check_project
from young_comet.core.model import Effect, Mask, Property, Shutter
from young_comet.core.render import MediaLibrary, Renderer, SceneEvaluator, shared_out
from young_comet.errors import DocumentError

SQUARE = "M-20 -20 L20 -20 L20 20 L-20 20 Z"
RED, BLUE = (0, 0, 255, 255), (255, 0, 0, 255)


def box(id="panel", size=(200.0, 120.0), colour="#ff0000", at=(160.0, 90.0), **more):
    values = {"position": list(at), **more}
    return layer(id, "shape", shape__size=list(size), fill__colour=colour, **values)


def masked(base, *masks, **values):
    properties = {k: Property(value=v) if not isinstance(v, list) or not v or not hasattr(v[0], "time_s") else Property(keys=tuple(v))
                  for k, v in values.items()}  # fmt: skip
    return base.model_copy(update={"masks": masks, "properties": {**base.properties, **properties}})


def alpha(document, **more):
    return draw(document, **more)[..., 3]


def clear(*layers, **more):
    return project(*layers, ground=None, **more)


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


# Motion blur


def moving(shutter=True, **more):
    panel = layer("panel", "shape", shape__size=[20.0, 20.0], fill__colour="#ffffff",
                  position=[key(0, [60.0, 90.0]), key(1, [260.0, 90.0])], **more)  # fmt: skip
    return clear(panel, shutter=Shutter(on=shutter, angle_deg=360.0, offset_deg=-180.0))


def test_a_straight_shift_is_smeared_over_its_way():
    """8 px a frame, the shutter open for a whole frame: edges are ramps of 8 px."""
    row = alpha(moving(), time_s=0.6)[90].astype(float)
    assert row.sum() / 255 == pytest.approx(20, abs=0.3)
    assert np.count_nonzero((row > 4) & (row < 251)) == pytest.approx(16, abs=3)
    sharp = alpha(moving(False), time_s=0.6)[90]
    assert np.count_nonzero((sharp > 4) & (sharp < 251)) <= 2
    assert np.array_equal(alpha(moving(), time_s=2.0), alpha(moving(False), time_s=2.0)), "at rest"


def against_many_moments(panel, time_s):
    """Differences from the mean of 200 sharp pictures while the shutter is open."""
    blurred = clear(panel, shutter=Shutter(on=True, angle_deg=360.0, offset_deg=-180.0))
    picture = alpha(blurred, time_s=time_s).astype(float)
    moments = [
        alpha(clear(panel), time_s=time_s + (i + 0.5) / 200 / 25 - 0.02).astype(float)
        for i in range(200)
    ]
    return np.abs(picture - np.mean(moments, axis=0))


def test_motion_blur_agrees_with_many_sharp_moments():
    """A turning and growing layer, within 12 levels."""
    panel = layer("panel", "shape", shape__size=[90.0, 30.0], fill__colour="#ffffff", position=[160.0, 90.0],
                  rotation=[key(0, 0.0), key(1, 180.0)], scale=[key(0, [60.0, 60.0]), key(1, [140.0, 140.0])])  # fmt: skip
    far = against_many_moments(panel, 0.4)
    assert far.max() <= 12 and far.mean() < 0.4


def test_a_shape_that_grows_fast_has_moments_enough():
    """Its sides go 56 px a frame: steps of 6 px are 27 levels high, half of that off at most."""
    panel = layer("panel", "shape", fill__colour="#ffffff", position=[160.0, 90.0],
                  shape__size=[key(0, [20.0, 40.0]), key(0.1, [300.0, 40.0])])  # fmt: skip
    far = against_many_moments(panel, 0.04)
    assert far.max() <= 15


def test_a_layer_may_have_its_own_mind_about_motion_blur():
    off = alpha(moving(True, motion_blur="off"), time_s=0.6)
    assert np.array_equal(off, alpha(moving(False), time_s=0.6))
    assert np.array_equal(
        alpha(moving(False, motion_blur="on"), time_s=0.6), alpha(moving(True), time_s=0.6)
    )


def test_moving_masks_and_pieces_are_smeared_too():
    mask = masked(
        box(),
        Mask(id="a", name="A", form="half-plane"),
        **{"mask.a.position": [key(0, [-90.0, 0.0]), key(1, [90.0, 0.0])]},
    )
    shutter = Shutter(on=True, angle_deg=360.0, offset_deg=-180.0)
    row = alpha(clear(mask, shutter=shutter), time_s=0.6)[90]
    assert np.count_nonzero((row > 4) & (row < 251)) >= 5
    cut = box(slices__kind="strips", slices__count=2.0, slices__offset=[0.0, 300.0], slices__opacity=100.0,
              slices__progress=[key(0, 0.0), key(1, 100.0)])  # fmt: skip
    column = alpha(clear(cut, shutter=shutter), time_s=0.3)[:, 110]
    sharp = alpha(clear(cut), time_s=0.3)[:, 110]
    assert np.count_nonzero((column > 4) & (column < 251)) > np.count_nonzero(
        (sharp > 4) & (sharp < 251)
    )


# The engine


def busy_scene():
    sky = layer("sky", "backdrop", fill__kind="linear")
    glow = box(
        "glow",
        (60.0, 40.0),
        position=[key(0, [60.0, 60.0]), key(2, [240.0, 120.0])],
        **{"effect.e.size": 9.0},
    )
    glow = glow.model_copy(update={"effects": (Effect(id="e", kind="glow"),)})
    tilted = box(
        "tilted",
        (90.0, 50.0),
        "#00ff00",
        (110.0, 80.0),
        rotation=[key(0, 0.0), key(3, 90.0)],
        tilt=20.0,
        matte__layer="glow",
        matte__inverted=True,
    )
    knock = box("knock", (20.0, 20.0), at=(150.0, 90.0), composite="atop", blend="screen")
    grade = layer("grade", "treatment").model_copy(
        update={"effects": (Effect(id="e", kind="vignette"), Effect(id="f", kind="grain"))}
    )
    return project(sky, glow, tilted, knock, grade, shutter=Shutter(on=True))


def test_frames_are_the_same_whatever_was_kept_or_asked_before():
    document = busy_scene()
    evaluator = SceneEvaluator(document, "reveal")
    used = Renderer(MediaLibrary(NoAssets()))
    order = [3, 40, 3, 41, 42, 10, 41, 3, 60, 59, 58, 40]
    for number in order:
        fresh = Renderer(MediaLibrary(NoAssets()))
        mine = used.render(SceneEvaluator(document, "reveal").frame(number), 320, 180)
        assert np.array_equal(mine, fresh.render(evaluator.frame(number), 320, 180)), number


def test_a_tiny_cache_changes_nothing_but_the_speed():
    document = busy_scene()
    evaluator = SceneEvaluator(document, "reveal")
    small, large = (Renderer(MediaLibrary(NoAssets()), limit_bytes=n) for n in (1, 10**8))
    for number in (0, 1, 2, 1):
        frame = evaluator.frame(number)
        assert np.array_equal(small.render(frame, 320, 180), large.render(frame, 320, 180))


@given(st.integers(512, 20000), st.integers(1, 17))
def test_memory_is_shared_out_below_its_ceiling(total_mb, processes):
    limits = shared_out(total_mb, processes)
    kept = (limits.media + limits.frames + limits.small) / 2**20
    assert min(limits.media, limits.frames, limits.small) > 0
    assert kept <= max(24.001, total_mb / processes - 190)


def test_signatures_tell_pictures_apart_and_only_pictures():
    def signature(*layers):
        return SceneEvaluator(project(*layers), "reveal").at(0.0).signature

    assert signature(box()) == signature(box("other"))
    assert signature(box()) != signature(box(blend="screen"))
    assert signature(box()) != signature(masked(box(), Mask(id="a", name="A")))
    assert signature(masked(box(), Mask(id="a", name="A"))) == signature(
        masked(box(), Mask(id="b", name="B"))
    )
    sail = box("sail", (10.0, 10.0)).model_copy(update={"hidden": True})
    other = box("sail", (12.0, 10.0)).model_copy(update={"hidden": True})
    assert signature(sail, box(matte__layer="sail")) != signature(other, box(matte__layer="sail"))


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
