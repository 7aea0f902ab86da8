import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import Files, NoAssets, draw, key, layer, png, project

from young_comet.core.model import Asset
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator, TrackCache
from young_comet.core.views import colour_at, lane_of, layers_at, motion_path, scene_view
from young_comet.errors import NotFoundError

EMBER = (0x45, 0x7A, 0xFF, 255)  # blue, green, red, alpha


def box(**values):
    given = {"shape__size": [100, 60], "fill__colour": "#ff7a45", **values}
    return layer("box", "shape", **given)


def centre_of(pixels):
    ys, xs = np.nonzero(pixels[:, :, 2] > 128)
    return (xs.mean() + 0.5, ys.mean() + 0.5)


def test_a_rectangle_lies_where_its_position_says():
    pixels = draw(project(box(position=[100, 80])))
    assert tuple(pixels[80, 100]) == EMBER
    assert tuple(pixels[51, 51]) == EMBER and tuple(pixels[49, 49]) == (0, 0, 0, 255)
    assert centre_of(pixels) == pytest.approx((100, 80))


def test_without_a_position_a_layer_is_in_the_middle_of_the_frame():
    assert centre_of(draw(project(box()))) == pytest.approx((160, 90))


def test_rotation_and_scale_go_about_the_pivot():
    document = project(box(position=[100, 80], pivot=[-50, -30], rotation=90, scale=[50, 50]))
    # The pivot, the top left corner, stays at (100, 80); the box hangs down to its left.
    assert centre_of(draw(document)) == pytest.approx((100 - 15, 80 + 25), abs=0.6)


def test_two_keys_move_a_rectangle():
    keys = [key(0, [50, 90]), key(2, [250, 90])]
    document = project(box(position=keys))
    assert [round(centre_of(draw(document, t))[0]) for t in (0, 1, 2)] == [50, 150, 250]


def test_spans_include_their_start_and_not_their_end():
    document = project(layer("box", "shape", 1.0, 2.0, shape__size=[100, 60]))
    counts = [len(SceneEvaluator(document, "reveal").frame(n).layers) for n in (24, 25, 49, 50)]
    assert counts == [0, 1, 1, 0]


def test_opacity_of_fill_and_stroke_together_shows_no_seam():
    document = project(box(opacity=50, stroke__width=20, stroke__colour="#ff7a45"))
    pixels = draw(document)
    inside, on_the_edge = pixels[90, 160].astype(int), pixels[90, 160 - 47].astype(int)
    assert np.abs(inside - on_the_edge).max() <= 1


def test_a_stroke_can_keep_its_width_under_scale():
    def stroke_width(fixed):
        document = project(
            box(scale=[200, 200], shape__size=[60, 40], fill__on=False, stroke__width=6,
                stroke__colour="#ffffff", stroke__fixed=fixed)
        )  # fmt: skip
        return int((draw(document)[90, :160, 1] > 128).sum())

    assert (stroke_width(True), stroke_width(False)) == (6, 12)


def test_a_line_is_drawn_on():
    line = {"shape__kind": "line", "shape__start": [-100, 0], "shape__end": [100, 0]}
    keys = [key(0, 0.0), key(1, 100.0)]
    values = {"fill__on": False, "stroke__width": 8, "stroke__colour": "#ffffff"}
    document = project(box(**line, **values, drawn__to=keys))
    widths = [int((draw(document, t)[90, :, 1] > 128).sum()) for t in (0, 0.25, 0.5, 1)]
    assert widths == pytest.approx([0, 50, 100, 200], abs=1)


def test_gradient_stops_colours_and_sizes_can_be_keyed():
    stops = [[[0, "#000000"], [1, "#000000"]], [[0, "#ffffff"], [1, "#ffffff"]]]
    document = project(
        layer("sky", "backdrop", fill__kind="linear",
              fill__stops=[key(0, stops[0]), key(1, stops[1])]),
        box(shape__size=[key(0, [10, 10]), key(1, [110, 10])],
            shape__corner_radius=[key(0, 0.0), key(1, 5.0)],
            fill__colour=[key(0, "#ff0000"), key(1, "#0000ff")]),
    )  # fmt: skip
    half = draw(document, 0.5)
    assert abs(int(half[10, 10, 1]) - 128) <= 1
    assert tuple(half[90, 160]) == (128, 0, 128, 255)
    assert abs(int((half[90, :, 1] < 60).sum()) - 60) <= 2


def test_inks_reach_whatever_uses_them():
    document = project(box(fill__colour="ink:sail"))
    assert tuple(draw(document)[90, 160]) == (255, 0, 255, 255)  # a lost ink is plain to see
    from young_comet.core.model import Ink

    document = document.model_copy(
        update={"inks": (Ink(id="sail", name="Sail", colour="#ff7a45"),)}
    )
    assert tuple(draw(document)[90, 160]) == EMBER


def test_hidden_layers_do_not_show_and_the_stack_is_painted_from_below():
    low, high = box(), layer("high", "shape", shape__size=[20, 20], fill__colour="#ffffff")
    assert tuple(draw(project(low, high))[90, 160, :3]) == (255, 255, 255)
    hidden = high.model_copy(update={"hidden": True})
    assert tuple(draw(project(low, hidden))[90, 160]) == EMBER


def test_a_transparent_ground_leaves_the_rest_clear():
    pixels = draw(project(box()), transparent=True)
    assert pixels[5, 5, 3] == 0 and pixels[90, 160, 3] == 255


def picture_project(**values):
    data = png(40, 30)
    asset = Asset(
        id="kite", name="Kite", kind="picture", media_type="image/png", hash="a" * 64,
        size_bytes=len(data), width=40, height=30,
    )  # fmt: skip
    document = project(layer("kite", "picture", picture__asset="kite", **values))
    return document.model_copy(update={"assets": (asset,)}), Files(**{"a" * 64: data})


@pytest.mark.parametrize(
    ("fit", "area"), [("natural", 40 * 30), ("fit", 240 * 180), ("fill", 320 * 180)]
)
def test_pictures_are_placed_at_their_size_fitted_or_filling(fit, area):
    document, files = picture_project(picture__fit=fit)
    covered = (draw(document, reader=files)[:, :, 2] > 128).sum()
    assert covered == pytest.approx(area, rel=0.02)


def test_a_lost_picture_leaves_the_rest_of_the_scene():
    document = project(box(), layer("kite", "picture", picture__asset="gone"))
    assert tuple(draw(document)[90, 160]) == EMBER


SCENES = st.lists(
    st.tuples(st.floats(20, 300), st.floats(20, 160), st.floats(-180, 180), st.floats(20, 100)),
    min_size=1,
    max_size=5,
)


@given(SCENES, st.permutations([0.0, 0.4, 0.8, 1.2, 1.6]))
def test_frames_are_the_same_whatever_was_drawn_before(items, order):
    layers = [
        layer(f"l{i}", "shape", position=[key(0, [x, y]), key(2, [y, x])] if i % 2 else [x, y],
              rotation=r, opacity=o, fill__colour=f"#{40 * i + 30:02x}8040")
        for i, (x, y, r, o) in enumerate(items)
    ]  # fmt: skip
    document = project(layer("sky", "backdrop", fill__kind="radial"), *layers)
    evaluator = SceneEvaluator(document, "reveal")
    kept = Renderer(MediaLibrary(NoAssets()))
    for time_s in order:
        frame = evaluator.at(time_s)
        fresh = Renderer(MediaLibrary(NoAssets())).render(frame, 160, 90)
        assert (kept.render(frame, 160, 90) == fresh).all()


def test_equal_frames_have_equal_signatures_and_other_frames_others():
    document = project(box(position=[key(0, [50, 90]), key(1, [250, 90])]))
    evaluator = SceneEvaluator(document, "reveal")
    signatures = [evaluator.frame(n).signature for n in range(40)]
    assert len(set(signatures[:26])) == 26
    assert len(set(signatures[25:])) == 1


def test_half_scale_is_the_same_picture_smaller():
    text = layer("name", "text", text="Kite\nWeek", text__size=60, position=[150, 90], rotation=8)
    document = project(layer("sky", "backdrop", fill__kind="linear"), box(rotation=20), text)
    full = draw(document).astype(float)
    half = draw(document, scale=0.5).astype(float)
    shrunk = full.reshape(90, 2, 160, 2, 4).mean(axis=(1, 3))
    assert np.abs(half - shrunk).mean() < 1.5


def test_what_is_under_a_point():
    document = project(
        layer("sky", "backdrop"),
        box(position=[100, 90], rotation=45),
        layer(
            "line", "shape", shape__kind="line", fill__on=False, stroke__width=2, position=[160, 20]
        ),
        layer("locked", "shape", position=[250, 90]).model_copy(update={"locked": True}),
    )
    evaluator, library = SceneEvaluator(document, "reveal"), MediaLibrary(NoAssets())
    at = lambda x, y: layers_at(evaluator, library, 0.0, (x, y))  # noqa: E731
    assert at(100, 90) == ["box", "sky"]
    assert at(60, 55) == ["sky"]  # inside the upright box, outside the turned one
    assert at(160, 23) == ["line", "sky"]
    assert at(250, 90) == ["sky"]
    colour = colour_at(evaluator, Renderer(library), 0.0, (100, 90))
    assert [round(c * 255) for c in colour] == [0xFF, 0x7A, 0x45, 255]
    assert colour_at(evaluator, Renderer(library), 0.0, (-5, 900)) == (0, 0, 0, 0)


def test_the_view_tells_boxes_and_values():
    document = project(box(position=[key(0, [50, 90]), key(1, [250, 90])], scale=[200, 100]))
    view = scene_view(SceneEvaluator(document, "reveal"), MediaLibrary(NoAssets()), 0.5)["box"]
    assert view["values"]["position"] == [150, 90]
    assert view["corners"][0] == pytest.approx((50, 60)) and view["corners"][2] == pytest.approx(
        (250, 120)
    )
    assert "opacity" not in view["values"]


def test_lanes_carry_the_curve_and_the_comets():
    keys = [key(0, 0.0, "ease-in-out"), key(2, 100.0, "hold"), key(3, 20.0)]
    document = project(layer("box", "shape", 1.0, 4.0, opacity=keys))
    evaluator = SceneEvaluator(document, "reveal")
    lane = lane_of(evaluator, evaluator.scene.layers[0], "opacity")
    assert (lane["low"], lane["high"]) == (0, 100)
    at = dict(zip(lane["times"], lane["curves"][0], strict=True))
    assert at[1.0] == 0 and at[3.0] == 100 and at[3.99999] == 100 and at[4.0] == 20
    first, second, third = lane["keys"]
    assert first["leave"] > 0.3 and second["arrive"] > 0.3
    assert second["hold"] and not third["hold"] and third["arrive"] == 0
    assert lane_of(evaluator, evaluator.scene.layers[0], "rotation") is None


def test_motion_paths_have_a_point_for_each_frame():
    document = project(box(position=[key(0.2, [50, 90]), key(1, [250, 90])]))
    evaluator = SceneEvaluator(document, "reveal")
    path = motion_path(evaluator, evaluator.scene.layers[0])
    assert path["first_frame"] == 5 and len(path["points"]) == 22
    assert path["points"][0] == [50, 90] and path["points"][10] == [150, 90]
    assert motion_path(evaluator, layer("still", "shape")) is None


def test_tracks_are_kept_by_the_property_itself():
    document = project(box(opacity=[key(0, 0.0), key(1, 100.0)]))
    cache = TrackCache()
    first = SceneEvaluator(document, "reveal", cache).track(document.scenes[0].layers[0], "opacity")
    again = SceneEvaluator(document, "reveal", cache).track(document.scenes[0].layers[0], "opacity")
    assert first is again


def test_an_unknown_scene_is_named():
    with pytest.raises(NotFoundError, match="nowhere"):
        SceneEvaluator(project(), "nowhere")


def test_the_dropper_reads_what_an_effect_is_given():
    """A key's colour is that of the layer before the key, not of the ground that shows through it."""
    from young_comet.core.model import Effect, Property
    from young_comet.core.pixels.colour import format_colour
    from young_comet.core.views import colour_before

    def with_effects(base, *kinds, **values):
        effects = tuple(Effect(id=f"e{i}", kind=kind) for i, kind in enumerate(kinds))
        props = {k: Property(value=v) for k, v in values.items()}
        return base.model_copy(
            update={"effects": effects, "properties": {**base.properties, **props}}
        )

    screen = with_effects(
        box(fill__colour="#00b140", position=[100, 90], rotation=30, opacity=40.0),
        "invert", "chroma-key", "invert",
        **{"effect.e1.colour": "#ff4ebf"},
    )  # fmt: skip
    ground = layer("sky", "backdrop", fill__colour="#123b5d")
    over = with_effects(layer("grade", "treatment"), "invert", "colour-key")
    document = project(ground, screen, over)
    ev, renderer = SceneEvaluator(document, "reveal"), Renderer(MediaLibrary(NoAssets()))

    def read(layer_id, effect, at=(100, 90)):
        found = colour_before(ev, renderer, 0.0, at, ev.find(layer_id), effect)
        return format_colour(found)

    assert read("box", "e0") == "#00b140" and read("box", "e1") == "#ff4ebf"
    assert read("box", "e1", (300, 10)) == "#00000000"
    assert read("box", "e2") == "#00000000"  # it is keyed out by then
    assert read("grade", "e0", (300, 10)) == "#123b5d"
    assert read("grade", "e1", (300, 10)) == "#edc4a2"
    assert read("box", "e0", (-50, 90)) == "#00000000"


@pytest.mark.parametrize(
    "kind", ["shape", "text", "picture", "clip", "scene", "backdrop", "carrier", "treatment"]
)
def test_the_dropper_reads_every_kind_anywhere(kind):
    from young_comet.core.model import Effect
    from young_comet.core.views import colour_before

    for values in ({}, {"scale": [0.0, 0.0]}, {"position": [4000.0, -900.0]}, {"turn": 90.0}):
        placed = values if kind not in ("backdrop", "treatment") else {}
        made = layer("one", kind, **placed).model_copy(
            update={"effects": (Effect(id="k", kind="colour-key"),)}
        )
        ev = SceneEvaluator(project(made), "reveal")
        for at in ((0, 0), (160, 90), (-1e6, 1e6)):
            found = colour_before(ev, Renderer(MediaLibrary(NoAssets())), 0.0, at, made, "k")
            assert len(found) == 4 and all(0 <= c <= 1 for c in found)
