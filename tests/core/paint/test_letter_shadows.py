"""Shadows of letters, and boxes behind them in gradients: against pictures moved and blurred by
another library."""

import cv2
import numpy as np
import pytest
from tests.build import LIBRARY, draw, key, layer, project

from young_comet.core.catalog import check_project
from young_comet.core.model import Front, Property, Run
from young_comet.core.resolve import SceneEvaluator

USUAL = {"text": "Kite", "text__font": "archivo", "text__size": 70.0, "position": [160.0, 90.0],
         "fill__colour": "#00ff00"}  # fmt: skip
SHADED = {"shadow__opacity": 100.0, "shadow__colour": "#ff0000", "shadow__offset": [12.0, 9.0],
          "shadow__blur": 0.0}  # fmt: skip


def titled(fronts=(), runs=(), own=None, **more):
    made = layer("title", "text", **{**USUAL, **more})
    properties = {**made.properties, **{k: Property(value=v) for k, v in (own or {}).items()}}
    worn = {"properties": properties, "fronts": fronts, "runs": runs}
    return check_project(project(made.model_copy(update=worn)))


def test_a_hard_shadow_is_the_letters_moved_below_them():
    bare = draw(titled())[..., 1].astype(float)
    pixels = draw(titled(**SHADED)).astype(float)
    moved = np.zeros_like(bare)
    moved[9:, 12:] = bare[:-9, :-12]
    assert np.abs(pixels[..., 1] - bare).max() <= 2, "the letters are as without it"
    assert np.abs(pixels[..., 2] - moved * (1 - bare / 255)).max() <= 3


@pytest.mark.parametrize("sigma", [3.0, 8.0])
def test_a_soft_shadow_is_softened_as_another_library_does(sigma):
    letters = draw(titled(fill__colour="#ff0000"))[..., 2].astype(np.float32)
    soft = draw(
        titled(**{**SHADED, "shadow__offset": [0.0, 0.0], "shadow__blur": sigma}, fill__on=True)
    )
    expected = cv2.GaussianBlur(letters, (0, 0), sigma)
    bare = draw(titled())[..., 1].astype(np.float32) / 255
    apart = np.abs(soft[..., 2] - expected * (1 - bare))
    assert apart.mean() < 1.5 and np.percentile(apart, 99) < 16


def test_how_dark_it_is_is_a_share_and_goes_along_with_the_opacity():
    half = draw(titled(**{**SHADED, "shadow__opacity": 50.0}))[..., 2]
    assert half.max() == pytest.approx(128, abs=2)
    quarter = draw(titled(**{**SHADED, "shadow__opacity": 50.0}, opacity=50.0))[..., 2]
    assert quarter.max() == pytest.approx(64, abs=3)
    assert not draw(titled(**{**SHADED, "shadow__opacity": 0.0}))[..., 2].any()


def test_shadows_fall_below_all_letters_and_in_the_layer_s_own_space():
    tight = draw(titled(**SHADED, text__tracking=-200.0))
    bare = draw(titled(text__tracking=-200.0))
    assert np.abs(tight[..., 1].astype(int) - bare[..., 1]).max() <= 2
    # A letter that is turned casts it the same way as the others.
    front = (Front(id="f"),)
    own = {"front.f.rotation": 180.0, "front.f.progress": 0.0}
    turned = draw(titled(front, own=own, **SHADED, text="H"))
    straight = draw(titled(**SHADED, text="H"))
    assert np.abs(turned.astype(int) - straight).mean() < 2.5


def test_a_run_casts_its_own():
    own = {
        "run.r.shadow.opacity": 100.0,
        "run.r.shadow.colour": "#ff0000",
        "run.r.shadow.blur": 0.0,
    }
    pixels = draw(titled(runs=(Run(id="r", first=3, last=4),), own=own))
    columns = np.flatnonzero((pixels[..., 2] > 100).any(axis=0))
    assert len(columns) and columns[0] > 190, "only the last letter's"


@pytest.mark.parametrize("more", [
    {"text": ""}, {"text__size": 3000.0}, {"scale": [0.0, 0.0]}, {"position": [-600.0, 90.0]},
    {"tilt": 60.0}, {"text__path": "M20 90 C90 20 200 160 300 90"}, {"slices__kind": "strips"},
    {"stroke__width": 5.0, "stroke__outer": 3.0}, {"fill__on": False, "stroke__width": 3.0},
    {"shadow__blur": 500.0}, {"shadow__offset": [1e4, -1e4]}, {"fill__across": "letter"},
    {"fill__kind": "linear", "opacity": 30.0},
])  # fmt: skip
def test_every_text_casts_one_and_its_box_holds_it(more):
    document = titled(**{**SHADED, "shadow__blur": 4.0, **more})
    assert draw(document).shape == (180, 320, 4)
    evaluator = SceneEvaluator(document, "reveal")
    content = evaluator.layer(evaluator.find("title"), 0.0)
    bare = titled(**{**more})
    evaluator = SceneEvaluator(bare, "reveal")
    plain = evaluator.layer(evaluator.find("title"), 0.0)
    if content is None or plain is None or not more.get("text", "Kite"):
        return
    library = LIBRARY
    outer, inner = (c.content.painted_box(library, 1.0) for c in (content, plain))
    assert (
        outer[0] < inner[0] and outer[1] < inner[1] and outer[2] > inner[2] and outer[3] > inner[3]
    )


def test_a_shadow_has_keys_and_fades_in_without_a_jump():
    keyed = titled(**{**SHADED, "shadow__opacity": [key(0, 0.0), key(1, 100.0)]})
    levels = [int(draw(keyed, time_s=t)[..., 2].max()) for t in (0.0, 0.04, 0.5, 1.0)]
    assert levels[0] == 0 and levels[1] < 20 and levels[2] == pytest.approx(128, abs=3)
    assert levels == sorted(levels)


@pytest.mark.parametrize("angle", [0.0, 90.0, 180.0])
def test_a_box_is_painted_across_in_a_gradient(angle):
    box = {"behind__across": "block", "behind__kind": "linear", "behind__angle": angle,
           "behind__stops": [[0.0, "#000000"], [1.0, "#0000ff"]], "behind__radius": 0.0,
           "fill__on": False}  # fmt: skip
    blue = draw(titled(**box))[..., 0].astype(int)
    rows, columns = (np.flatnonzero((blue > 40).any(axis=axis)) for axis in (1, 0))
    line = (
        blue[(rows[0] + rows[-1]) // 2] if angle != 90 else blue[:, (columns[0] + columns[-1]) // 2]
    )
    inside = line[line > 40][2:-2]
    steps = np.diff(inside)
    assert (steps >= -1).all() if angle != 180 else (steps <= 1).all()
    assert inside.max() > 240
