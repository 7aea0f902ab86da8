"""Light that a layer gives: never less than was there, laid as it says."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import draw, layer, project

from young_comet.core.model import Effect, Property

GROUND = "#f2c14e"


def glowing(where, *, ground=GROUND, size=60.0, opacity=100.0, effects=("glow",), **more):
    """A red disc of 60 px on a ground, in a frame of 320 x 180."""
    disc = layer("sun", "shape", shape__kind="ellipse", shape__size=[60, 60], position=[160, 90],
                 fill__colour="#e84a2a", opacity=opacity)  # fmt: skip
    values = {"where": where, "size": size, **more}
    props = dict(disc.properties)
    for n, kind in enumerate(effects):
        if kind == "glow":
            props |= {f"effect.e{n}.{k}": Property(value=v) for k, v in values.items()}
    kinds = tuple(Effect(id=f"e{n}", kind=kind) for n, kind in enumerate(effects))
    disc = disc.model_copy(update={"effects": kinds, "properties": props})
    return draw(project(disc, ground=ground)).astype(int)[:, :, :3]


PLAIN = draw(project(ground=GROUND)).astype(int)[:, :, :3]


@pytest.mark.parametrize("only", [False, True])
@pytest.mark.parametrize("where", ["screened", "added", "behind"])
def test_no_light_is_taken_from_a_bright_ground(where, only):
    found = glowing(where, only=only)
    outside = np.hypot(*(np.mgrid[0:180, 0:320] + 0.5 - np.array([90, 160])[:, None, None])) > 32
    assert (found - PLAIN)[outside].min() >= -1
    assert (found - PLAIN)[outside].max() >= 3


def test_added_and_screened_are_what_they_say_around_the_layer():
    """Over black the light is seen as it is; over another ground it is screened or added."""
    light = glowing("added", ground="#000000")
    column = slice(100, 125)  # beside the disc
    for where, formula in (
        ("added", lambda s, d: np.minimum(255, s + d)),
        ("screened", lambda s, d: s + d - s * d / 255),
        ("behind", lambda s, d: s + d - s * d / 255),
    ):
        found = glowing(where)[90, column]
        assert np.abs(found - formula(light[90, column], PLAIN[90, column])).max() <= 2, where


def test_behind_leaves_the_layer_as_it_is_and_only_the_glow_leaves_it_out():
    disc = glowing("behind")[90, 160]
    assert disc.tolist() == [0x2A, 0x4A, 0xE8]
    assert glowing("added")[90, 160].sum() > disc.sum()
    only = glowing("added", only=True, ground="#000000")
    whole = glowing("added", ground="#000000")
    assert np.abs(only[90, 100:125] - whole[90, 100:125]).max() <= 1
    assert only[90, 160].sum() < whole[90, 160].sum()


def test_light_fades_with_the_layer_and_goes_with_several_glows():
    full, half = glowing("added", ground="#000000"), glowing("added", ground="#000000", opacity=50)
    assert np.abs(half[90, 100:125] * 2 - full[90, 100:125]).max() <= 4
    twice = glowing("added", effects=("glow", "glow"))
    assert (twice - glowing("added"))[90, 100:125].min() >= 0
    # What comes after a glow works on layer and light as one picture.
    assert np.isfinite(glowing("added", effects=("glow", "gaussian-blur"))).all()


def test_a_reflection_begins_where_what_is_seen_ends():
    """A picture whose lower half is empty is mirrored at its paint, not at its box."""
    import cv2
    from tests.build import Files, draw, layer, project

    from young_comet.core.model import Asset, Effect, Property

    pixels = np.zeros((80, 60, 4), np.uint8)
    pixels[10:40] = 255
    data = cv2.imencode(".png", pixels)[1].tobytes()
    asset = Asset(id="bow", name="bow.png", kind="picture", media_type="image/png", hash="d" * 64,
                  size_bytes=9, width=60, height=80)  # fmt: skip
    made = layer("bow", "picture", picture__asset="bow", position=[160, 60])
    props = {
        "effect.r.gap": 0.0,
        "effect.r.opacity": 100.0,
        "effect.r.height": 4000.0,
        "effect.r.softness": 0.0,
    }
    made = made.model_copy(update={"effects": (Effect(id="r", kind="reflection"),),
                                   "properties": {**made.properties, **{k: Property(value=v) for k, v in props.items()}}})  # fmt: skip
    base = project(ground=None)
    scene = base.scenes[0].model_copy(update={"layers": (made,)})
    document = base.model_copy(update={"assets": (asset,), "scenes": (scene,)})
    column = draw(document, reader=Files(**{"d" * 64: data}))[:, 160, 3]
    # The paint lies from 30 to 60: its mirror follows at once, down to 90.
    seen = np.nonzero(column > 128)[0]
    assert (seen.min(), seen.max()) == (30, 89) and len(seen) == 60
