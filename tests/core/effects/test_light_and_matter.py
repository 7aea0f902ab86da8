"""Light and matter by their formulas: glows, rays, bevels, glints, textures, colours between points."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest
from tests.build import draw, layer, project

from young_comet.core.effects import EFFECTS
from young_comet.core.model import Effect, Property
from young_comet.core.pixels.oklab import oklab_of, srgb_of_oklab

LUMA = np.array([0.0722, 0.7152, 0.2126])


def wearing(base, effect, **values):
    given = {f"effect.e.{k.replace('_', '-')}": Property(value=v) for k, v in values.items()}
    return base.model_copy(update={
        "effects": (Effect(id="e", kind=effect),), "properties": {**base.properties, **given},
    })  # fmt: skip


def square(size=(120, 80), colour="#2f9fb3", **more):
    return layer(
        "kite", "shape", shape__size=list(size), position=[160, 90], fill__colour=colour, **more
    )


def backdrop(colour="#00000000"):
    return layer("sky", "backdrop", fill__colour=colour)


def shown(*layers, ground="#000000", **more):
    return draw(project(*layers, ground=ground, **more), 1.0).astype(float)[..., :3]


# Oklab


@pytest.mark.parametrize(
    ("rgb", "lab"),
    [  # of CSS Color 4 and of the article that introduced it
        ((1.0, 1.0, 1.0), (1.0, 0.0, 0.0)),
        ((1.0, 0.0, 0.0), (0.627955, 0.224863, 0.125846)),
        ((0.0, 1.0, 0.0), (0.86644, -0.233888, 0.179498)),
        ((0.0, 0.0, 1.0), (0.452014, -0.032457, -0.311528)),
    ],
)
def test_oklab_is_that_of_the_standard_and_comes_back(rgb, lab):
    assert oklab_of(rgb) == pytest.approx(lab, abs=2e-4)
    back = srgb_of_oklab(np.array([[oklab_of(rgb)]], np.float32))[0, 0]
    assert back == pytest.approx(rgb, abs=2e-3)


def test_colours_between_points_do_not_go_grey():
    """Half way between orange and teal there is more colour than sRGB has there."""
    points = [(0.0, 50.0, 40.0, "#ff7a45"), (100.0, 50.0, 40.0, "#2f9fb3")]
    found = shown(wearing(backdrop("#ffffff"), "point-gradient", points=points))[90]
    row = found[:, ::-1] / 255
    chroma = [math.hypot(*oklab_of(tuple(colour))[1:]) for colour in row[::8]]
    plain = [
        math.hypot(
            *oklab_of(tuple(a + (b - a) * t for a, b in zip(row[0], row[-1], strict=True)))[1:]
        )
        for t in np.linspace(0, 1, len(chroma))
    ]
    assert min(chroma) > 1.5 * min(plain)
    # No seam: no step between neighbours is much larger than the largest of a straight way.
    steps = np.abs(np.diff(row, axis=0)).max(axis=1)
    assert steps.max() < 4 * np.abs(row[-1] - row[0]).max() / len(row) + 2 / 255


# Glow


@pytest.mark.parametrize("size", [4.0, 12.0])
def test_a_glow_is_three_gaussians_behind_the_layer(size):
    """Beside it what is seen is 0.45 G(s / 4) + 0.30 G(s) + 0.25 G(3 s) of its own form."""
    base = square(colour="#ffffff")
    found = shown(wearing(base, "glow", size=size))
    alpha = shown(base)[..., 1]
    big = cv2.copyMakeBorder(alpha, 200, 200, 200, 200, cv2.BORDER_CONSTANT)
    halo = sum(
        share * cv2.GaussianBlur(big, (0, 0), size * part)
        for part, share in ((0.25, 0.45), (1.0, 0.30), (3.0, 0.25))
    )[200:-200, 200:-200]
    beside = alpha == 0
    assert np.abs(found[..., 1] - halo)[beside].max() <= 4
    assert np.array_equal(found[alpha == 255], shown(base)[alpha == 255])


def test_a_screened_glow_hardly_repaints_what_it_is_around():
    base = square()
    change = np.abs(shown(wearing(base, "glow", where="screened")) - shown(base))[60:120, 110:210]
    assert 0 < change.max() <= 0.1 * 255


# Rays


def test_rays_fall_along_their_shafts_from_a_white_heart():
    rays = wearing(backdrop(), "rays", length=600.0, flow=0.0, falloff=45.0)
    found = shown(rays, width=640, height=640)
    assert found[320, 320].min() > 240
    luma = found @ LUMA
    angles = np.linspace(0, 2 * math.pi, 720, endpoint=False)
    rings = {
        r: np.array(
            [luma[round(320 + r * math.sin(a)), round(320 + r * math.cos(a))] for a in angles]
        )
        for r in (100, 160)
    }
    strong = rings[100] > np.percentile(rings[100], 80)
    falls = (rings[160][strong] / rings[100][strong]).mean()
    assert falls == pytest.approx(math.exp(-60 / (0.33 * 600)), abs=0.08)
    # Shafts, and not a haze: bright and dark sides all around.
    assert rings[160].max() > 2 * rings[160].min()
    # Towards its end it has the colour that was chosen.
    far = found[320 + 200, 320] if found[520, 320].sum() > 60 else found[320, 520]
    assert far[0] < far[1] < far[2]


def test_rays_do_not_depend_on_the_part_of_the_picture_that_is_asked_for():
    rays = wearing(backdrop(), "rays", flow=0.0)
    whole = shown(rays)
    smaller = draw(project(rays, ground="#000000"), 1.0, scale=0.5).astype(float)[..., :3]
    assert np.abs(cv2.resize(whole, (160, 90), interpolation=cv2.INTER_AREA) - smaller).mean() < 4


# Edges and glints


def test_an_edge_is_lit_from_where_the_light_comes():
    base = square(colour="#808080")
    found = shown(wearing(base, "edge-light", angle=180.0, size=8.0, shade=60.0))[..., 1]
    assert found[90, 101:106].max() > 150 and found[90, 214:219].min() < 105
    assert np.abs(found[75:105, 120:200] - 128).max() <= 2  # the face is flat


def test_a_bevel_is_no_wider_than_half_a_stem():
    thin = square(size=(120, 8), colour="#808080")
    found = shown(wearing(thin, "edge-light", angle=270.0, size=60.0, shade=60.0))[..., 1]
    column = found[84:97, 160]
    # Lit above and shaded below: two sides, and none that fills the other.
    assert column[:5].max() > 140 and column[8:].min() < 118


@pytest.mark.parametrize("colour", ["#ffffff", "#2f9fb3", "#101010"])
def test_a_glint_is_seen_on_light_and_dark_and_gone_at_both_ends(colour):
    base = square(colour=colour)
    rest = shown(base)
    for progress in (0.0, 100.0):
        assert np.array_equal(shown(wearing(base, "glint", width=30.0, progress=progress)), rest)
    half = shown(wearing(base, "glint", width=30.0, progress=50.0))
    assert np.abs(half - rest).max() > 15
    assert np.array_equal(half[:, :90], rest[:, :90])


# Shadows


def test_a_shadow_is_darker_where_things_touch():
    base = square(colour="#ffffff")
    bare = wearing(base, "drop-shadow", contact=0.0, colour="#000000", opacity=80.0)
    touching = wearing(base, "drop-shadow", contact=60.0, colour="#000000", opacity=80.0)
    plain, close = (shown(each, ground="#ffffff")[..., 1] for each in (bare, touching))
    # On the side from where the light comes, too: right beside the edge.
    assert close[90, 99] < plain[90, 99] - 10 and close[131, 160] < plain[131, 160] - 10
    assert np.abs(close[160:170, 140:200] - plain[160:170, 140:200]).max() <= 1
    assert close.max() <= 255 and (close <= plain + 1).all()


# Textures and grain

MATERIALS = [id for id, _ in EFFECTS["texture"].by_id["kind"].options]


@pytest.mark.parametrize("scale", [6.0, 10.0, 30.0])
@pytest.mark.parametrize("kind", MATERIALS)
def test_a_texture_keeps_the_mean_of_what_it_lies_on(kind, scale):
    plain = shown(backdrop("#c96b4c"), width=640, height=360) @ LUMA
    found = shown(
        wearing(backdrop("#c96b4c"), "texture", kind=kind, scale=scale), width=640, height=360
    )
    luma = found @ LUMA
    assert luma.mean() == pytest.approx(plain.mean(), rel=0.04)
    assert luma.std() > 0.4
    if kind == "paper":
        assert np.percentile(np.abs(luma / plain - 1), 99) <= 0.06


def test_grain_is_strongest_in_the_mid_tones():
    spread = {}
    for tone in (16, 128, 240):
        ground = "#" + f"{tone:02x}" * 3
        found = shown(wearing(layer("grain", "treatment"), "grain", amount=20.0), ground=ground)
        assert found.mean() == pytest.approx(tone, abs=1.5)
        spread[tone] = found.std()
    assert spread[128] > 1.7 * spread[16] and spread[128] > 1.7 * spread[240]


# Shadows, edges, screens, clouds, flares


def test_a_long_shadow_fades_out_evenly_from_the_form():
    ground = layer("ground", "backdrop", fill__colour="#ffffff")
    cast = wearing(
        square((40, 40)), "long-shadow", angle=0.0, length=100.0, opacity=100.0, colour="#000000"
    )
    for fade, end in ((100.0, 1.0), (50.0, 0.5), (0.0, 0.0)):
        faded = wearing(cast, "long-shadow", angle=0.0, length=100.0, opacity=100.0,
                        colour="#000000", fade=fade)  # fmt: skip
        row = shown(ground, faded)[90, 182:276, 0] / 255
        expected = np.linspace(0, 1, len(row)) * fade / 100
        assert row == pytest.approx(expected, abs=0.05)
        assert row[-1] == pytest.approx(end, abs=0.06)


def test_spill_is_held_down_to_the_larger_channel_or_the_mean():
    """Turquoise is no spill of a green screen; light green on grey is."""

    def keyed(colour, **more):
        return shown(wearing(square(colour=colour), "chroma-key", tolerance=3.0, softness=1.0,
                             **more))[90, 160]  # fmt: skip

    assert keyed("#2f9fb3") == pytest.approx([0xB3, 0x9F, 0x2F], abs=1)
    assert keyed("#2f9fb3", limit="mean") == pytest.approx([0xB3, (0xB3 + 0x2F) / 2, 0x2F], abs=1)
    assert keyed("#a0c0a8") == pytest.approx([0xA8, 0xA8, 0xA0], abs=1)


def test_a_rough_edge_leaves_no_crumbs_and_keeps_small_letters():
    rough = wearing(square((200, 100)), "rough-edge", amount=24.0, scale=10.0, bias=60.0, fine=40.0)
    pieces = cv2.connectedComponentsWithStats((shown(rough).max(2) > 29).astype(np.uint8))
    assert pieces[0] == 2  # the ground and one form
    dots = layer("kite", "text", text="i i i", text__size=60.0, position=[160, 90],
                 text__font="archivo", text__weight=900)  # fmt: skip
    kept = wearing(dots, "rough-edge", amount=3.0, scale=30.0)
    assert cv2.connectedComponents((shown(kept).max(2) > 60).astype(np.uint8))[0] == 7


@pytest.mark.parametrize("kind", ["smooth", "cellular", "ridged", "billow"])
def test_clouds_warp_by_moving_the_places_of_noise(kind):
    """Against the noise looked up where the warp says; without warp it is the noise itself."""
    from young_comet.core.pixels import noise

    plain = wearing(backdrop("#000000"), "noise-clouds", kind=kind, warp=0.0, flow=0.0, scale=60.0,
                    contrast=60.0, level=50.0, dark="#000000", light="#ffffff", octaves=3.0)  # fmt: skip
    still = shown(plain)[..., 0]
    warped = shown(wearing(plain, "noise-clouds", **{"kind": kind, "warp": 100.0, "flow": 0.0,
                   "scale": 60.0, "contrast": 60.0, "level": 50.0, "dark": "#000000", "light": "#ffffff",
                   "octaves": 3.0}))[..., 0]  # fmt: skip
    area, middle = (0, 0, 320, 180), (160.0, 90.0)
    bends = [
        np.clip(noise.fractal(area, middle, 78.0, octaves=2, seed=s), -1, 1) * 33.0
        for s in (1 + 401, 1 + 577)
    ]
    y, x = np.mgrid[0:180, 0:320]
    wide = noise.fractal((-60, -60, 380, 240), middle, 60.0, octaves=3, seed=1, roughness=0.52,
                         kind=kind)  # fmt: skip
    field = cv2.remap(wide, (x + bends[0] + 60).astype(np.float32),
                      (y + bends[1] + 60).astype(np.float32), cv2.INTER_LINEAR)  # fmt: skip
    expected = np.clip(field * 0.3 + 0.5, 0, 1) * 255
    assert np.abs(warped - expected).mean() < 2.5
    assert np.abs(warped - still).mean() > 8


def test_clouds_lie_over_what_is_there_as_they_come():
    sky = wearing(backdrop("#204060"), "noise-clouds", flow=0.0, scale=60.0)
    values = shown(sky)[..., 2]
    assert values.min() < 0x40 and values.max() > 0xB0


def test_rings_of_a_flare_lie_on_the_line_through_the_middle_and_have_bright_rims():
    flare = wearing(backdrop(), "lens-flare", centre=(-100.0, 0.0), size=60.0, strength=100.0)
    light = shown(flare) @ LUMA
    bare = wearing(backdrop(), "lens-flare", centre=(-100.0, 0.0), size=60.0, ghosts=0.0)
    rings = light - shown(bare) @ LUMA
    assert rings[90].max() > 8  # along the line
    beyond = rings[:, 170:]
    assert beyond.max() > 4  # also on the other side of the middle
    assert np.abs(beyond - beyond[::-1]).mean() < 0.25  # even about the line
    # The largest ring on the other side is brighter at its rim than in its middle.
    column, radius = rings[:, 60 + 190], 60 * 0.3 * 2
    rim = max(column[round(90 - radius * 0.965) + n] for n in range(-2, 3))
    assert rim > 1.8 * column[round(90 - radius / 2)] > 0
