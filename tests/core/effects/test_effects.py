"""Every effect of the registry: defaults, extremes, determinism, reach, scale, keys."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
from tests.build import NoAssets, draw, key, layer, project

from young_comet.core.catalog import EFFECTS as FAMILY
from young_comet.core.catalog import check_project
from young_comet.core.effects import EFFECTS, EVERYWHERE
from young_comet.core.effects.base import cut, laid_in
from young_comet.core.model import Effect, Kind, Property
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.pixels.colour import format_colour
from young_comet.core.pixels.raster import Raster
from young_comet.core.registry import Registry
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views.samples import _SHOWN, sample_project
from young_comet.errors import DocumentError

ALL = list(EFFECTS)
# These correct colours and are neutral as they come, or need a layer, a table, a shape to act on.
NEUTRAL = {
    "levels", "curves", "brightness-contrast", "hue-saturation", "displacement", "look-up-table",
    "four-corner-warp", "colour-key", "chroma-key",
}  # fmt: skip
# They make pictures where nothing was, or may bring a pixel from anywhere.
FILLING = {
    "checker", "counter", "dots", "grid", "invert", "kaleidoscope", "lens-flare", "noise-clouds",
    "particles", "point-gradient", "rays", "stripes", "texture", "tile",
}  # fmt: skip
FAR = {"colour-key", 
    "four-corner-warp", "mirror", "polar", "reflection", "shear", "spin-blur", "zoom-blur",
}  # fmt: skip
# Bound to the pixels of the output: reduced they cannot look the same.
GRAINY = {kind.id for kind in EFFECTS.values() if kind.grid} | {"streaks", "rough-edge"}
SHOWN = {**_SHOWN, "look-up-table": {}, "colour-key": {"colour": "#ff7a45", "tolerance": 20},
         "chroma-key": {"colour": "#ff7a45", "tolerance": 15}}  # fmt: skip


def with_effect(kind, values=None, *, width=320, height=180, keys=None):
    """A disc and a word with an effect on a transparent ground."""
    values = {**SHOWN.get(kind, {}), **(values or {})}
    properties = {f"effect.e.{name}": value for name, value in values.items()}
    properties |= {f"effect.e.{name}": value for name, value in (keys or {}).items()}
    sun = layer("sun", "shape", shape__kind="ellipse", shape__size=[150, 150], position=[160, 90],
                fill__kind="radial", fill__start=[50, 50], fill__end=[100, 50],
                fill__stops=[[0, "#ffffff"], [1, "#000000"]]).model_copy(update={"hidden": True})  # fmt: skip
    disc = layer("disc", "shape", shape__kind="ellipse", shape__size=[150, 110], position=[160, 90],
                 fill__kind="linear", fill__stops=[[0, "#ff7a45"], [0.5, "#2f9fb3"], [1, "#f8f1e4"]],
                 fill__start=[0, 0], fill__end=[100, 100], fill__mixing="plain", **properties)  # fmt: skip
    disc = disc.model_copy(update={"effects": (Effect(id="e", kind=kind),)})
    return project(sun, disc, width=width, height=height, ground=None)


def plain():
    return draw(with_effect("crop", {"left-top": [0, 0], "right-bottom": [0, 0]}), 0.7)


@pytest.mark.parametrize("kind", ALL)
def test_an_effect_does_something_and_always_the_same(kind):
    first, second = draw(with_effect(kind), 0.7), draw(with_effect(kind), 0.7)
    assert np.array_equal(first, second)
    assert first.shape == (180, 320, 4)
    assert (first[..., :3] <= first[..., 3:].astype(int) + 1).all(), (
        "colours brighter than their alpha"
    )
    if kind not in ("look-up-table",):
        assert np.abs(first.astype(int) - plain()).max() > 8


@pytest.mark.parametrize("kind", sorted(NEUTRAL - {"colour-key", "chroma-key"}))
def test_corrections_are_neutral_until_they_are_set(kind):
    values = dict.fromkeys(SHOWN.get(kind, {}))
    document = with_effect(kind)
    mine = dict(document.scenes[0].layers[1].properties)
    for name in values:
        mine.pop(f"effect.e.{name}")
    disc = document.scenes[0].layers[1].model_copy(update={"properties": mine})
    scene = document.scenes[0].model_copy(update={"layers": (document.scenes[0].layers[0], disc)})
    document = document.model_copy(update={"scenes": (scene,)})
    assert np.abs(draw(document, 0.7).astype(int) - plain()).max() <= 1


def reach_of(kind, document):
    """How far an effect with its parameters reaches in a picture of 900 x 180."""
    renderer = Renderer(MediaLibrary(NoAssets()))
    resolved = SceneEvaluator(document, "reveal").at(0.7).layers[-1]
    return EFFECTS[kind].reach(dict(resolved.effects[0].params), _work(resolved, renderer))


def test_only_these_fill_or_reach_everywhere():
    assert {kind for kind, member in EFFECTS.items() if member.fills} == FILLING
    far = {k for k in ALL if reach_of(k, with_effect(k, width=900)) == EVERYWHERE}
    assert far - FILLING == FAR


@pytest.mark.parametrize("kind", [kind for kind in ALL if kind not in FILLING | FAR])
def test_nothing_changes_beyond_an_effects_reach(kind):
    """The disc in the left half: what lies farther away than the reach stays transparent."""
    document = with_effect(kind, width=900)
    pixels = draw(document, 0.7)
    reach = reach_of(kind, document)
    assert pixels[:, :235, 3].max() > 0 or kind in ("crop",)
    beyond = pixels[:, 160 + 75 + int(reach) + 4 :, 3]
    assert beyond.size and int(beyond.max()) == 0


def _work(resolved, renderer):
    from young_comet.core.geometry.affine import Affine
    from young_comet.core.paint.compose import FrameStudio
    from young_comet.core.paint.sheets import LayerPictures
    from young_comet.core.pixels.cache import SizedCache

    pictures = LayerPictures(
        FrameStudio(renderer.library), SizedCache(1), Affine(), (0, 0, 900, 180), (900, 180)
    )
    return pictures.work(resolved, resolved.matrix, (0, 0, 900, 180))


@pytest.mark.parametrize("kind", [k for k in ALL if k not in GRAINY])
def test_half_scale_looks_like_full_scale_reduced(kind):
    document = with_effect(kind, width=640, height=360)
    shift = [layer_.model_copy(update={"properties": {**layer_.properties, "position": Property(value=(320.0, 180.0)), "scale": Property(value=(200.0, 200.0))}})
             for layer_ in document.scenes[0].layers]  # fmt: skip
    scene = document.scenes[0].model_copy(update={"layers": tuple(shift)})
    document = check_project(document.model_copy(update={"scenes": (scene,)}))
    full, half = draw(document, 0.7), draw(document, 0.7, scale=0.5)
    reduced = cv2.resize(full, (320, 180), interpolation=cv2.INTER_AREA)
    assert ssim(on_grey(half), on_grey(reduced)) > 0.97


def on_grey(pixels):
    """Composed on a middle grey, as luma."""
    alpha = pixels[..., 3:].astype(np.float64) / 255
    colours = pixels[..., :3] + 128 * (1 - alpha)
    return colours @ np.array([0.0722, 0.7152, 0.2126])


def ssim(a, b):
    """Mean structural similarity (Wang et al. 2004), gaussian windows of deviation 1.5."""

    def blur(x):
        return cv2.GaussianBlur(x, (11, 11), 1.5)

    mu_a, mu_b = blur(a), blur(b)
    var_a, var_b = blur(a * a) - mu_a**2, blur(b * b) - mu_b**2
    cov = blur(a * b) - mu_a * mu_b
    c1, c2 = (0.01 * 255) ** 2, (0.03 * 255) ** 2
    index = ((2 * mu_a * mu_b + c1) * (2 * cov + c2)) / (
        (mu_a**2 + mu_b**2 + c1) * (var_a + var_b + c2)
    )
    return float(index.mean())


@pytest.mark.parametrize("kind", ALL)
def test_extremes_of_every_parameter_are_drawn(kind):
    """Each parameter at its limits, the others as they are: no crash, a picture of its size."""
    for spec in EFFECTS[kind].specs:
        for value in extremes(spec):
            pixels = draw(with_effect(kind, {spec.id: value}), 0.7, scale=0.25)
            assert pixels.shape == (45, 80, 4), spec.id


def extremes(spec):
    if spec.kind is Kind.NUMBER:
        return [max(spec.minimum, -1e4), min(spec.maximum, 1e4)]
    if spec.kind is Kind.POINT:
        low, high = max(spec.minimum, -5000), min(spec.maximum, 5000)
        return [[low, low], [high, low], [high, high]]
    if spec.kind is Kind.CHOICE:
        return [option for option, _ in spec.options]
    if spec.kind is Kind.FLAG:
        return [True, False]
    if spec.kind is Kind.COLOUR:
        return ["#00000000", "#ffffff"]
    if spec.kind is Kind.LAYER:
        return ["", "sun", "disc", "nowhere"]
    if spec.kind is Kind.STOPS:
        return [[[0, "#000000"], [0, "#ffffff"]], [[0, "#00000000"], [1, "#ffffff"]]]
    if spec.kind is Kind.SPOTS:
        return [[[0, 0, 0, "#ffffff"]], [[-500, 900, 1000, "#ff000000"]] * 3]
    if spec.kind is Kind.CURVE:
        return [[[0, 1], [1, 0]], [[0, 0], [0.0002, 1], [1, 0.5]]]
    return []


@pytest.mark.parametrize("kind", ALL)
def test_keys_on_every_parameter_that_can_have_them(kind):
    """Between two keys the value lies between theirs, and the picture follows."""
    member = EFFECTS[kind]
    specs = FAMILY.specs(Effect(id="e", kind=kind))
    for spec in member.specs:
        if not spec.animatable:
            continue
        own = SHOWN.get(kind, {}).get(spec.id, spec.default)
        other = other_value(spec, own)
        document = with_effect(kind, keys={spec.id: [key(0, own), key(2, other)]})
        evaluator = SceneEvaluator(document, "reveal")
        values = [
            evaluator.values(document.scenes[0].layers[1], t)(f"effect.e.{spec.id}")
            for t in (0, 1, 2)
        ]
        assert specs[f"effect.e.{spec.id}"].animatable
        assert values[0] != values[2] and values[1] not in (values[0], values[2]), spec.id
        still = with_effect(kind, {spec.id: plain_value(values[1])})
        moved = draw(document, 1.0, scale=0.25).astype(int)
        # A document's colours have 8 bits, those between two keys more.
        near = 3 if spec.kind in (Kind.COLOUR, Kind.STOPS, Kind.SPOTS) else 0
        if near and member.family == "key":  # a soft edge in colours is steep in alpha
            near = 24
        assert np.abs(moved - draw(still, 1.0, scale=0.25)).max() <= near, spec.id


def plain_value(value):
    """An evaluated value as a document holds it: colours as text."""
    if isinstance(value, tuple):
        if len(value) == 4 and all(isinstance(v, float) and 0 <= v <= 1 for v in value):
            return format_colour(value)
        return [plain_value(each) for each in value]
    return value


def other_value(spec, own):
    if spec.kind is Kind.NUMBER:
        return spec.maximum if own != spec.maximum and spec.maximum < 1e5 else own / 2 + 1
    if spec.kind is Kind.POINT:
        near = [min(spec.maximum, v + 30) for v in own]
        return near if near != list(own) else [v / 2 for v in own]
    if spec.kind is Kind.COLOUR:
        return "#123456" if own != "#123456" else "#654321"
    if spec.kind is Kind.STOPS:
        return [[0, "#123456"], [1, "#fedcba"]]
    if spec.kind is Kind.SPOTS:
        return [[50, 50, 60, "#123456"]]
    return [[0, 0.2], [1, 0.7]]


@pytest.mark.parametrize("kind", [k for k in ALL if k not in FILLING])
def test_where_there_is_nothing_nothing_comes_but_from_generators(kind):
    document = with_effect(kind)
    disc = document.scenes[0].layers[1]
    gone = disc.model_copy(
        update={"properties": {**disc.properties, "fill.on": Property(value=False)}}
    )
    scene = document.scenes[0].model_copy(update={"layers": (document.scenes[0].layers[0], gone)})
    pixels = draw(document.model_copy(update={"scenes": (scene,)}), 0.7)
    assert int(pixels[..., 3].max()) == 0


@pytest.mark.parametrize("kind", [k for k in ALL if EFFECTS[k].timed])
def test_flows_live_without_a_key_and_stand_still_at_zero(kind):
    names = EFFECTS[kind].by_id
    flowing = {"flow": 5.0} if "flow" in names else {}
    moving = with_effect(kind, flowing)
    assert not np.array_equal(draw(moving, 0.5), draw(moving, 1.33))
    if flowing:
        still = with_effect(kind, {"flow": 0.0})
        assert np.array_equal(draw(still, 0.5), draw(still, 1.33))


def test_every_effect_has_a_sample_with_its_own_parameters():
    for kind, values in _SHOWN.items():
        assert set(values) <= set(EFFECTS[kind].by_id), kind
    assert sample_project("glow").scenes[0].layers[-1].effects[0].kind == "glow"


def test_an_id_is_there_once_and_copies_are_apart():
    copy = EFFECTS.copy()
    with pytest.raises(ValueError, match="there is an effect 'glow' already"):
        copy.add(EFFECTS["glow"])
    copy.add(replace(EFFECTS["glow"], id="halo"))
    assert EFFECTS.get("halo") is None and copy.get("halo") and list(copy)[:-1] == list(EFFECTS)
    assert Registry("an effect").get("glow") is None
    with pytest.raises(DocumentError, match="an effect: expected one of glow, got 'x'"):
        Registry("an effect", [EFFECTS["glow"]]).known("x")


def test_declarations_are_sound():
    for kind in EFFECTS.values():
        ids = [spec.id for spec in kind.specs]
        assert len(set(ids)) == len(ids) and kind.label and kind.help.endswith("."), kind.id
        for spec in kind.specs:
            for needed in spec.shown_when:
                for other in needed.of:
                    known = {option for option, _ in kind.by_id[other].options}
                    assert {*needed.values, *needed.besides} <= known, spec.id
            if spec.kind is Kind.NUMBER:
                assert spec.minimum <= spec.default <= spec.maximum, (kind.id, spec.id)


def test_rasters_are_cut_and_laid_at_their_places():
    pixels = np.arange(4 * 6 * 4, dtype=np.uint8).reshape(4, 6, 4)
    raster = Raster(pixels, 10, 20)
    part = cut(raster, (12, 19, 14, 22))
    assert (part.left, part.top, part.width, part.height) == (12, 20, 2, 2)
    assert np.array_equal(part.pixels, pixels[0:2, 2:4])
    whole = laid_in(raster, (8, 18, 20, 30))
    assert np.array_equal(whole[2:6, 2:8], pixels) and whole[:2].max() == 0
    assert cut(raster, (0, 0, 5, 5)).pixels.size == 0


# What single effects do


def grid_disc(kind, **values):
    return draw(with_effect(kind, values), 0.7).astype(int)


def test_waves_are_damped_and_formed():
    """By the formulas, through the maps that they bend with."""
    from young_comet.core.effects.distort import _damped, _formed

    t = np.linspace(-7, 7, 200)
    for form in ("sine", "triangle", "square"):
        for contrast in (-100, -30, 0, 60, 100):
            wave = _formed(t, {"form": form, "contrast": contrast})
            assert np.abs(wave).max() <= 1 and np.allclose(
                wave, -_formed(-t, {"form": form, "contrast": contrast})
            )
    assert _formed(np.array([0.5]), {"form": "sine", "contrast": 0})[0] == pytest.approx(
        np.sin(0.5)
    )
    steep = _formed(np.array([0.5]), {"form": "sine", "contrast": 100})[0]
    assert steep == pytest.approx(np.sin(0.5) ** 0.25)
    assert _damped(np.array([0.0, 1.0, 2.0]), 100) == pytest.approx([1, 0.1, 0.01])
    for kind in ("wave", "ripple"):
        plain, calm = grid_disc(kind, height=20), grid_disc(kind, height=20, damping=100.0)
        still = draw(with_effect("wave", {"height": 0}), 0.7).astype(int)
        assert 0 < np.abs(calm - still).sum() < np.abs(plain - still).sum()


@pytest.mark.parametrize("form", ["round", "lens", "dent", "line"])
def test_bulges_of_every_form_leave_what_lies_beyond_them(form):
    shown = grid_disc("bulge", form=form, radius=40.0, amount=60.0, angle=0.0)
    none = grid_disc("bulge", form=form, radius=40.0, amount=0.0)
    assert np.abs(shown - none).max() > 10
    y, x = np.mgrid[0:180, 0:320]
    beyond = (np.abs(y - 90) if form == "line" else np.hypot(x - 160, y - 90)) > 42
    assert np.abs(shown - none)[beyond].max() <= 2


def test_ridges_lie_where_smooth_noise_passes_nought():
    from young_comet.core.pixels.noise import fractal

    smooth = fractal((0, 0, 200, 150), (0.0, 0.0), 40.0, octaves=3, seed=4)
    ridged = fractal((0, 0, 200, 150), (0.0, 0.0), 40.0, octaves=3, seed=4, kind="ridged")
    assert ridged.max() <= 1 and ridged[np.abs(smooth) < 0.01].min() > 0.97
    assert ridged[np.abs(smooth) > 0.5].max() < 0


@pytest.mark.parametrize(
    ("values", "time_s", "text"),
    [({"from": 10, "to": 0}, 0, "00:10"), ({"from": 10, "to": 0}, 2.0, "00:05"),
     ({"from": 10, "to": 0, "driven": "clock"}, 2.5, "00:07"),
     ({"from": 0, "to": 2, "driven": "clock", "pattern": "ss:ff"}, 1.48, "01:12"),
     ({"from": 0, "to": 2, "driven": "clock"}, 3.5, "00:02"),
     ({"from": 3725, "to": 3600, "driven": "progress", "progress": 0, "pattern": "hh:mm:ss"}, 1, "01:02:05")],
)  # fmt: skip
def test_a_counter_goes_up_and_down_between_two_times(values, time_s, text):
    from types import SimpleNamespace

    from young_comet.core.effects.counters import counter_text

    p = {"what": "clock", "driven": "span", "pattern": "mm:ss", "progress": 0, **values}
    work = SimpleNamespace(time_s=time_s, length_s=4.0, fps=25.0)
    assert counter_text(p, work) == text
