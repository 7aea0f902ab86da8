"""What is worked out on fewer pixels, in fewer passes or once for all states, against the plain way."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import NoAssets, key, layer, project
from tests.core.effects.test_light_and_matter import backdrop, shown, wearing

from young_comet.core.effects import blur as blurring
from young_comet.core.effects import generate, rough
from young_comet.core.effects.base import Work
from young_comet.core.geometry.affine import Affine
from young_comet.core.model import Shutter
from young_comet.core.paint import MediaLibrary, Renderer, sheets, slicing
from young_comet.core.pixels.blend import blend
from young_comet.core.pixels.ink import Ink
from young_comet.core.pixels.raster import Raster
from young_comet.core.plan import light as lights
from young_comet.core.plan import sheets as planned
from young_comet.core.resolve import SceneEvaluator


@pytest.mark.parametrize("stretch", [[100, 100], [220, 60]])
@pytest.mark.parametrize("warp", [0.0, 80.0])
def test_smooth_clouds_are_those_of_every_pixel(warp, stretch, monkeypatch):
    sky = wearing(backdrop("#10203040"), "noise-clouds", scale=300.0, octaves=3, warp=warp, stretch=stretch,
                  flow=0.0, offset=[13.3, 7.7])  # fmt: skip
    fewer = shown(sky)
    monkeypatch.setattr(generate, "_SPARSE_PX", 1e9)
    every = shown(sky)
    assert not np.array_equal(fewer, every), "fewer pixels were worked out"
    assert np.abs(fewer - every).mean() < 0.7 and np.abs(fewer - every).max() <= 8
    assert every.std() > 5


@pytest.mark.parametrize("kind", ["cellular", "ridged", "billow"])
def test_creases_are_worked_out_for_every_pixel(kind, monkeypatch):
    sky = wearing(backdrop("#102030"), "noise-clouds", kind=kind, scale=300.0, octaves=1, flow=0.0)
    before = shown(sky)
    monkeypatch.setattr(generate, "_SPARSE_PX", 1e9)
    assert np.array_equal(before, shown(sky))


@pytest.mark.parametrize(
    ("effect", "values"),
    [("zoom-blur", {"amount": 60.0, "centre": [-30.0, 10.0]}), ("spin-blur", {"angle": 50.0})],
)
@pytest.mark.parametrize("place", [[160.0, 90.0], [300.0, 20.0]])
def test_long_blurs_in_two_passes_are_those_of_one(effect, values, place, monkeypatch):
    plain = layer(
        "kite", "shape", shape__size=[150.0, 90.0], position=place, fill__colour="#ffb44a"
    )
    kite = wearing(plain, effect, **values)
    two = shown(kite)
    monkeypatch.setattr(blurring, "_ONE_PASS", 48)
    one = shown(kite)
    assert not np.array_equal(one, two)
    assert np.abs(one - two).mean() < 0.8 and np.abs(one - two).max() <= 24
    assert one.sum() == pytest.approx(two.sum(), rel=0.01), "no light is lost"


@pytest.mark.parametrize("effect", ["zoom-blur", "spin-blur"])
def test_blurs_about_a_centre_far_away_make_no_more_than_is_seen(effect, monkeypatch):
    """A first pass about a centre 30,000 px away would be as wide as its arc: one is gone then."""
    made = []
    before = blurring._accumulated

    def accumulated(raster, region, *args):
        made.append((region[2] - region[0]) * (region[3] - region[1]))
        return before(raster, region, *args)

    monkeypatch.setattr(blurring, "_accumulated", accumulated)
    values = {"amount": 90.0} if effect == "zoom-blur" else {"angle": 300.0}
    plain = layer(
        "kite", "shape", shape__size=[150.0, 90.0], position=[160.0, 90.0], fill__colour="#ffb44a"
    )
    for centre in ([0.0, 0.0], [30000.0, -20000.0]):
        assert shown(wearing(plain, effect, centre=centre, **values)).shape == (180, 320, 3)
    assert made and max(made) <= 8 * 320 * 180


def test_grown_out_and_kept_colours_of_a_rough_edge():
    """An ink stays one; a picture's own colours are carried to where its edge moved outwards."""
    chance = np.random.default_rng(1)
    alpha = np.zeros((90, 120), np.uint8)
    alpha[20:70, 20:100] = 255
    pixels = np.zeros((90, 120, 4), np.uint8)
    pixels[20:70, 20:100] = (*chance.integers(60, 200, 3), 255)
    work = Work(
        1.0, (0.0, 0.0), (0, 0, 120, 90), (20, 20, 100, 70), (20, 20, 100, 70), (0, 0, 120, 90)
    )
    params = {"amount": 12.0, "scale": 14.0, "fine": 35.0, "octaves": 3, "softness": 1.0, "bias": -40.0,
              "flow": 0.0, "seed": 3}  # fmt: skip
    red, green, blue = (float(v) / 255 for v in pixels[40, 40, 2::-1])
    one = rough._rough_edge(Raster(pixels), params, work)
    other = rough._rough_edge(Raster(Ink(alpha, (red, green, blue, 1.0))), params, work)
    assert isinstance(other.source, Ink)
    assert np.abs(one.pixels.astype(int) - other.pixels).max() <= 2
    beyond = one.pixels[..., 3].copy()
    beyond[20:70, 20:100] = 0
    assert (beyond > 200).sum() > 200, "it has grown"
    faint = Ink(alpha // 2, (red, green, blue, 1.0))
    assert rough._rough_edge(Raster(faint), params, work).pixels[..., 3].max() <= 128


def test_a_faint_form_is_gnawed_as_it_will_be_when_it_is_there():
    """Letters that fade in have their own colour and the edge that they will have, however faint."""
    work = Work(1.0, (0.0, 0.0), (0, 0, 200, 90), (0, 0, 200, 90), (0, 0, 200, 90), (0, 0, 200, 90))
    params = {"amount": 8.0, "scale": 14.0, "fine": 35.0, "octaves": 3, "softness": 1.0, "bias": 20.0,
              "flow": 0.0, "seed": 3}  # fmt: skip
    pixels = np.zeros((90, 200, 4), np.uint8)
    pixels[20:70, 20:80] = (40, 60, 200, 255)
    pixels[20:70, 110:180] = (200, 160, 30, 255)
    solid = rough._rough_edge(Raster(pixels), params, work)
    assert rough._rough_edge(Raster(pixels.copy()), params, work).pixels[45, 140].tolist() == [
        200,
        160,
        30,
        255,
    ]
    for share in (0.9, 0.35, 0.1):
        faint = pixels.copy()
        faint[:, 100:] = np.rint(faint[:, 100:] * share)
        found = rough._rough_edge(Raster(faint), params, work)
        x = 100 - found.left
        apart = np.abs(found.pixels[:, x:] - solid.pixels[:, x:] * share)
        assert apart.max() <= 6, share
        assert np.array_equal(found.pixels[:, :x], solid.pixels[:, :x])


def test_forms_under_pieces_by_table_and_by_sorting(monkeypatch):
    chance = np.random.default_rng(2)
    pieces = chance.integers(0, 30, (60, 80)).astype(np.int32)
    forms = chance.integers(0, 6, (60, 80)).astype(np.int32)
    pieces[:5], forms[:5, 40:] = 30, 0
    table = rough._form_under(pieces, forms, 31, 6)
    counts = [
        [((pieces == p) & (forms == f)).sum() if f else 0 for f in range(6)] for p in range(1, 31)
    ]
    for piece, found in enumerate(table[1:]):
        assert counts[piece][found] == max(counts[piece])
    monkeypatch.setattr(rough, "_TABLE", 0)
    sorted_ = rough._form_under(pieces, forms, 31, 6)
    for piece, (a, b) in enumerate(zip(table[1:], sorted_[1:], strict=True)):
        assert counts[piece][a] == counts[piece][b]


@pytest.mark.parametrize("more", [{}, {"rotation": 31.0}, {"tilt": 40.0}, {"scale": [180.0, 70.0]}, {"position": [0.0, 90.0]}])  # fmt: skip
@pytest.mark.parametrize("where", ["screened", "added", "behind"])
def test_light_on_a_smaller_sheet_is_that_of_the_whole(where, more, monkeypatch):
    plain = layer("kite", "shape", **{"shape__size": [90.0, 60.0], "position": [160.0, 90.0],
                  "fill__colour": "#ffb44a", **more})  # fmt: skip
    kite = wearing(plain, "glow", size=18.0, strength=150.0, where=where)
    small = shown(kite)
    for module in (lights, planned):
        monkeypatch.setattr(module, "light_factor", lambda layer, scale: 1)
    whole = shown(kite)
    assert np.abs(small - whole).max() <= 8 and np.abs(small - whole).mean() < 0.6
    assert np.abs(whole - shown(plain)).max() > 40


@pytest.mark.parametrize("where", ["behind", "screened", "added"])
def test_a_glow_on_a_layer_enlarged_fifty_times_is_drawn(where):
    """30,000 px wide: its light is made small, its body only where it is seen."""
    kite = wearing(layer("kite", "shape", shape__size=[600.0, 400.0], position=[160.0, 90.0], scale=[5000.0, 5000.0],
                         fill__colour="#ffb44a"), "glow", size=24.0, strength=100.0, where=where)  # fmt: skip
    evaluator = SceneEvaluator(project(kite), "reveal")
    frame = evaluator.at(1.0)
    part = lights.parted(frame.layers[0])[0]
    library = MediaLibrary(NoAssets())
    planner = planned.SheetPlanner(library, Affine(), (0, 0, 320, 180), (320, 180), 25.0)
    plan = planner.still(part, (0, 0, 320, 180))
    assert plan.how == "placed" and plan.scale < 1.0
    pixels = Renderer(library).render(frame, 320, 180)
    assert not library.faults.count
    # All of it is seen, in its colour or lighter.
    assert (pixels[..., 2] >= 254).all() and (pixels[..., 1] >= 179).all()


@pytest.mark.parametrize("more", [{}, {"tilt": [key(0, 0.0), key(4, 300.0)]}])
def test_states_of_a_moving_layer_share_one_sheet(more, monkeypatch):
    kite = wearing(
        layer("kite", "shape", **{"shape__size": [70.0, 40.0], "fill__colour": "#ffb44a", "scale": [900.0, 900.0],
              "position": [key(0, [-200.0, 40.0]), key(4, [900.0, 160.0])],
              "rotation": [key(0, 0.0), key(4, 260.0)], **more}),
        "drop-shadow", distance=20.0, softness=12.0, opacity=80.0)  # fmt: skip
    document = project(kite, shutter=Shutter(on=True, angle_deg=200.0), width=480, height=270)
    made = []
    before = sheets.LayerPictures._worked

    def worked(self, *args):
        made.append(args[1:])
        return before(self, *args)

    monkeypatch.setattr(sheets.LayerPictures, "_worked", worked)

    def frame():
        evaluator = SceneEvaluator(document, "reveal")
        return Renderer(MediaLibrary(NoAssets())).render(evaluator.at(1.4), 480, 270).astype(int)

    shared = frame()
    assert len(made) == 1, "one sheet for all states"
    made.clear()
    monkeypatch.setattr(sheets.LayerPictures, "shared_area", lambda *args: None)
    each = frame()
    assert len(made) > 1
    assert np.abs(shared - each).max() <= 4 and np.abs(shared - each).mean() < 0.1
    assert (each[..., 2] > 60).sum() > 1000


@pytest.mark.parametrize("opacity", [0.0, 3e-7, 1e-4, 0.4, 40.0])
@pytest.mark.parametrize("kind", ["strips", "tiles", "wedges"])
def test_pieces_of_the_same_faintness_are_cut_out_whole(kind, opacity, monkeypatch):
    """Laid faintly after they are cut, or cut so faint: the same, down to nothing."""
    kite = layer("kite", "shape", shape__size=[160.0, 100.0], position=[160.0, 90.0], fill__colour="#ffb44a",
                 slices__kind=kind, slices__offset=[30.0, 20.0], slices__opacity=opacity,
                 slices__turn=12.0, slices__progress=0.0)  # fmt: skip
    whole = shown(kite)
    before = slicing._cover

    def faintly(states, shares, region, working):
        return before(states, [state.opacity for state in states], region, working)

    assert np.isfinite(whole).all()
    monkeypatch.setattr(slicing, "_cover", faintly)
    monkeypatch.setattr(slicing, "blend", lambda low, top, mode, opacity: blend(low, top, mode))
    assert np.abs(whole - shown(kite)).max() <= 3


def test_pieces_are_kept_while_their_states_are_drawn_only_where_they_stay(monkeypatch):
    """A layer that stands still is cut once for all states but the first; one that grows is not
    kept at all."""
    made = []
    before = slicing._cover

    def cut(*args):
        made.append(1)
        return before(*args)

    monkeypatch.setattr(slicing, "_cover", cut)
    counts = []
    for scale in ([100.0, 100.0], [key(0, [100.0, 100.0]), key(4, [900.0, 900.0])]):
        kite = layer("kite", "shape", shape__size=[200.0, 120.0], position=[160.0, 90.0], fill__colour="#ffb44a",
                     scale=scale, slices__kind="strips", slices__count=3.0, slices__turn=300.0,
                     slices__offset=[400.0, 0.0], slices__progress=[key(0, 0.0), key(1.2, 100.0)])  # fmt: skip
        document = project(kite, shutter=Shutter(on=True, angle_deg=360.0))
        evaluator = SceneEvaluator(document, "reveal")
        frame = evaluator.at(0.6)
        renderer = Renderer(MediaLibrary(NoAssets()))
        made.clear()
        renderer.render(frame, 320, 180)
        counts.append((len(made), len(frame.layers[0].shutter)))
    (still, states), (growing, others) = counts
    assert states > 6 and others > 6
    assert still <= 2 * 3 + 3 and growing > others
