"""Motion blur of what moves in a layer that stays: its masks, its pieces. Held against the mean of
many sharp moments."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import NoAssets, key, layer
from tests.looked import alpha, box, clear, masked

from young_comet.core.catalog import check_project
from young_comet.core.geometry.affine import Affine
from young_comet.core.model import Effect, Mask, Move, Shutter
from young_comet.core.moves import MOVES
from young_comet.core.paint import MediaLibrary, Renderer, masking, sheets
from young_comet.core.plan.masks import let_through
from young_comet.core.resolve import SceneEvaluator
from young_comet.errors import DocumentError

OPEN = Shutter(on=True, angle_deg=360.0, offset_deg=-180.0)
ROUND = "M-60 0C-60 -33 -33 -60 0 -60S60 -33 60 0S33 60 0 60S-60 33 -60 0Z"


def against_many_moments(panel, time_s, count=200):
    """Differences from the mean of sharp pictures while the shutter is open."""
    picture = alpha(clear(panel, shutter=OPEN), time_s=time_s).astype(float)
    moments = [
        alpha(clear(panel), time_s=time_s + (i + 0.5) / count / 25 - 0.02).astype(float)
        for i in range(count)
    ]
    return np.abs(picture - np.mean(moments, axis=0))


def half(**more):
    return Mask(id="a", name="A", form="half-plane", **more)


def path(id="a", **more):
    return Mask(id=id, name=id.upper(), **more)


SLIDES = [key(0, [-90.0, 0.0]), key(0.2, [90.0, 0.0])]
MASKED = {
    "half-plane": ((half(),), {"mask.a.position": SLIDES}),
    "turns": ((half(),), {"mask.a.rotation": [key(0, 0.0), key(1, 500.0)]}),
    "grows": ((path(),), {"mask.a.path": ROUND, "mask.a.scale": [key(0, [10.0, 10.0]), key(0.4, [200.0, 200.0])]}),
    "soft": ((path(),), {"mask.a.path": ROUND, "mask.a.feather": [16.0, 16.0], "mask.a.position": SLIDES}),
    "takes-away": ((path(mode="minus"),), {"mask.a.path": ROUND, "mask.a.position": SLIDES}),
    "inverted": ((path(inverted=True),), {"mask.a.path": ROUND, "mask.a.position": SLIDES}),
    "in-the-scene": ((path(space="scene"),), {"mask.a.path": ROUND, "mask.a.position": [key(0, [0.0, 90.0]), key(0.2, [320.0, 90.0])]}),
    "two-that-meet": (
        (path(), path("b", mode="intersect")),
        {"mask.a.path": ROUND, "mask.a.position": SLIDES, "mask.b.path": ROUND,
         "mask.b.position": [key(0, [90.0, 0.0]), key(0.2, [-90.0, 0.0])]},
    ),
    "one-stays": (
        (path(), path("b", mode="minus")),
        {"mask.a.path": ROUND, "mask.b.path": ROUND, "mask.b.position": SLIDES},
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", MASKED)
@pytest.mark.parametrize("effect", [None, "gaussian-blur", "drop-shadow"])
def test_moving_masks_agree_with_many_sharp_moments(name, effect):
    masks, values = MASKED[name]
    panel = masked(box(), *masks, **values)
    if effect:
        panel = panel.model_copy(update={"effects": (Effect(id="e", kind=effect),)})
    far = against_many_moments(panel, 0.12)
    # A mask has a moment every 3 px: edges are stairs of 21 levels, half of that off at most.
    assert far.max() <= 14 and far.mean() < 0.5


@pytest.mark.parametrize(
    ("kind", "tilt"), [("text", 0.0), ("text", 40.0), ("shape", 40.0), ("backdrop", 0.0)]
)
@pytest.mark.parametrize("name", ["grows", "in-the-scene", "soft"])
def test_masks_move_over_every_kind_turned_in_space_or_not(kind, tilt, name):
    masks, values = MASKED[name]
    more = {
        "text": {"text": "Kites", "text__size": 110.0},
        "shape": {"shape__size": [220.0, 130.0]},
    }
    if kind != "backdrop":
        more[kind] |= {"tilt": tilt, "position": [160.0, 90.0]}
    panel = layer("panel", kind, fill__colour="#ffffff", **more.get(kind, {}))
    far = against_many_moments(masked(panel, *masks, **values), 0.12, 60)
    assert far.max() <= 14 and far.mean() < 0.7


def test_masks_of_an_open_shutter_bound_what_all_of_them_let_through():
    panel = masked(
        box(), path(), **{"mask.a.path": "M-4 -4L4 -4L4 4L-4 4Z", "mask.a.position": SLIDES}
    )
    document = clear(panel, shutter=OPEN)
    (found,) = SceneEvaluator(document, document.scenes[0].id).at(0.12).layers
    several = found.__class__(**{**found.__dict__, "shutter": (),
                                 "mask_moments": tuple(s.masks for s in found.shutter)})  # fmt: skip
    view = Affine.scaling(8, 8)
    bounds = let_through(several, view)
    region = (-1200, -400, 1200, 400)
    seen = np.argwhere(masking.mask_coverage(several, view, region) > 0)
    (top, left), (bottom, right) = seen.min(axis=0) - (400, 1200), seen.max(axis=0) - (399, 1199)
    assert bounds[0] <= left and bounds[1] <= top and right <= bounds[2] and bottom <= bounds[3]
    assert right - left > 8 * 36


# What pieces do within 0.4 s; each of them lies about (160, 90).
AWAY = {"slices__kind": "strips", "slices__count": 3.0, "slices__opacity": 100.0,
        "slices__offset": [0.0, 90.0], "slices__profile": "linear"}  # fmt: skip
GOES = {"slices__progress": [key(0, 0.0), key(0.4, 100.0)]}
PIECES = {
    "slide": {**AWAY, **GOES},
    "slide-apart": {**AWAY, **GOES, "slices__alternate": True, "slices__angle": 20.0},
    "rush": {**AWAY, **GOES, "slices__profile": "ease-in", "slices__offset": [60.0, 200.0]},
    "turn": {**AWAY, **GOES, "slices__rotation": 60.0},
    "tilt": {**AWAY, **GOES, "slices__tilt": 70.0},
    "fade": {**AWAY, **GOES, "slices__opacity": 0.0},
    "with-the-layer": {**AWAY, **GOES, "position": [key(0, [120.0, 90.0]), key(0.4, [200.0, 90.0])]},
    "as-it-grows": {**AWAY, **GOES, "scale": [key(0, [98.0, 98.0]), key(0.4, [102.0, 102.0])]},
    "as-it-grows-fast": {**AWAY, **GOES, "scale": [key(0, [50.0, 50.0]), key(0.4, [150.0, 150.0])]},
    "turned": {**AWAY, **GOES, "rotation": 30.0},
    "tiles": {**AWAY, **GOES, "slices__kind": "tiles", "slices__grid": [3.0, 2.0]},
}  # fmt: skip
KINDS = {
    "shape": {"shape__size": [150.0, 90.0], "fill__colour": "#ffffff"},
    "text": {"text": "Bay", "text__size": 90.0},
}


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("name", PIECES)
@pytest.mark.parametrize("time_s", [0.06, 0.2])
def test_moving_pieces_agree_with_many_sharp_moments(kind, name, time_s):
    panel = layer("panel", kind, **{"position": [160.0, 90.0], **KINDS[kind], **PIECES[name]})
    far = against_many_moments(panel, time_s)
    assert far.mean() < 0.6
    assert np.percentile(far, 99.5) <= 24


@pytest.mark.parametrize(
    "scale",
    [[0.0, 0.0], [0.001, 100.0], [100.0, 0.001], [0.0, 100.0], [1500.0, 1500.0], [-100.0, 5.0]],
)
@pytest.mark.parametrize("at", [[160.0, 90.0], [-60.0, 90.0], [900.0, 90.0]])
@pytest.mark.parametrize("kind", KINDS)
def test_pieces_of_what_is_squeezed_huge_or_nowhere_go_with_their_layer(kind, at, scale):
    goes = [key(0, at), key(0.4, [at[0] + 60, at[1] + 20])]
    values = {**KINDS[kind], **PIECES["turn"], "position": goes, "scale": scale}
    document = clear(layer("panel", kind, **values), shutter=OPEN)
    evaluator, renderer = SceneEvaluator(document, "reveal"), Renderer(MediaLibrary(NoAssets()))
    for time_s in (0.0, 0.12, 0.4):
        picture = renderer.render(evaluator.at(time_s), 320, 180, transparent=True)
        assert renderer.faults == ()
        assert (picture[..., :3].max(axis=2) <= picture[..., 3]).all()


def test_pieces_that_go_crooked_ways_need_few_pictures():
    """They are drawn at a few moments, not at each of 28, and smeared between them."""
    panel = layer(
        "panel", "text", text="Bay", text__size=90.0, position=[160.0, 90.0], **PIECES["rush"]
    )
    document = clear(panel, shutter=OPEN)
    frame = SceneEvaluator(document, document.scenes[0].id).at(0.2)
    assert len(frame.layers[0].shutter) > 20
    drawn = []
    library = MediaLibrary(NoAssets())
    renderer = Renderer(library)
    once = sheets.sliced
    try:
        sheets.sliced = lambda *given: drawn.append(1) or once(*given)
        renderer.render(frame, 320, 180, transparent=True)
    finally:
        sheets.sliced = once
    assert 1 <= len(drawn) <= 8


@pytest.mark.parametrize("kind", ["shape", "text", "backdrop"])
@pytest.mark.parametrize("phase", ["arrive", "dwell", "leave"])
def test_no_move_fails_where_it_begins_or_ends_while_the_shutter_is_open(kind, phase):
    """Some bring a mask, which is there at one end of the exposure and not at the other."""
    seen = 0
    for move in (each for each in MOVES.values() if phase in each.phases):
        panel = layer("panel", kind, fill__colour="#ffffff").model_copy(
            update={
                "moves": (Move(id="m", kind=move.id, phase=phase),),
                "arrive_s": 0.5,
                "leave_s": 0.5,
            }
        )
        try:
            document = check_project(clear(panel, shutter=OPEN))
        except DocumentError:
            continue  # it does not fit such a layer
        evaluator, renderer = SceneEvaluator(document, "reveal"), Renderer(MediaLibrary(NoAssets()))
        for number in (0, 1, 12, 13, 86, 87, 88, 99):
            renderer.render(evaluator.frame(number), 160, 90, transparent=True)
            assert renderer.faults == (), (move.id, number)
            seen += 1
    assert seen
