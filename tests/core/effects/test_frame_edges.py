"""What lies beyond the frame counts: inside it an effect gives what it gives in a larger frame."""

import hashlib

import numpy as np
import pytest
from tests.build import Files, draw, layer, png, project

from young_comet.core.effects import EFFECTS, EVERYWHERE
from young_comet.core.effects.base import Work
from young_comet.core.model import Asset, Effect, Property

WIDTH, HEIGHT, BEYOND = 200, 120, 128  # beyond is a whole number of blocks of any blur
PLAIN = Work(
    1.0,
    (0.0, 0.0),
    (0, 0, WIDTH, HEIGHT),
    (-60, -45, 60, 45),
    (-60, -45, 60, 45),
    (0, 0, WIDTH, HEIGHT),
)
# They are placed by the content's box or grown from its edge, which both frames show alike, but are
# drawn where the layer has nothing, by the frame's own raster of pixels.
FILLING = {kind.id for kind in EFFECTS.values() if kind.fills or kind.grid}


# Those that reach far by themselves, made smaller.
SMALLER = {"glow": {"size": 8.0}}


def defaults(kind):
    return {**{spec.id: spec.default for spec in kind.specs}, **SMALLER.get(kind.id, {})}


def reaching():
    found = []
    for kind in EFFECTS.values():
        if kind.id in FILLING or kind.inputs:
            continue
        reach = kind.reach(defaults(kind), PLAIN)
        if 0 < reach < BEYOND and reach != EVERYWHERE:
            found.append(kind.id)
    return found


def with_effect(base, effect, **values):
    properties = {
        **base.properties,
        **{
            f"effect.e.{k}": Property(value=v)
            for k, v in {**SMALLER.get(effect, {}), **values}.items()
        },
    }
    return base.model_copy(
        update={"effects": (Effect(id="e", kind=effect),), "properties": properties}
    )


def across(kind, at):
    """A layer across the left edge, or one that is larger than the frame."""
    x, y = at
    stops = [[0, "#ff7a45"], [1, "#2f9fb3"]]
    if kind == "across":
        return layer(
            "x",
            "shape",
            shape__size=[120, 90],
            position=[x + 5, y + 60],
            fill__kind="linear",
            fill__stops=stops,
        )
    return layer(
        "x", "shape", shape__size=[1000, 1000], position=[x + 100, y + 60], fill__colour="#c0c0c0"
    )


@pytest.mark.parametrize("kind", ["across", "larger"])
@pytest.mark.parametrize("effect", reaching())
def test_inside_the_frame_it_gives_what_it_gives_in_a_larger_one(effect, kind):
    small = draw(
        project(with_effect(across(kind, (0, 0)), effect), width=WIDTH, height=HEIGHT, ground=None),
        0.5,
    )
    large = draw(
        project(
            with_effect(across(kind, (BEYOND, BEYOND)), effect),
            width=WIDTH + 2 * BEYOND,
            height=HEIGHT + 2 * BEYOND,
            ground=None,
        ),
        0.5,
    )[BEYOND : BEYOND + HEIGHT, BEYOND : BEYOND + WIDTH]
    # Fields of warps are computed on a grid whose phase is the region's: a level or two.
    assert int(np.abs(small.astype(int) - large.astype(int)).max()) <= 3


def test_the_blurs_and_styles_are_among_them():
    assert {
        "gaussian-blur",
        "directional-blur",
        "focus-sweep",
        "colour-fringe",
        "glow",
        "drop-shadow",
    } <= set(reaching())


@pytest.mark.parametrize(
    ("effect", "values"),
    [("gaussian-blur", {"size": [12, 12]}), ("directional-blur", {}), ("focus-sweep", {}), ("zoom-blur", {"amount": 60}),
     ("spin-blur", {"angle": 40}), ("colour-fringe", {})],
)  # fmt: skip
def test_a_flat_backdrop_stays_flat_to_its_corners(effect, values):
    backdrop = with_effect(layer("sky", "backdrop", fill__colour="#c0c0c0"), effect, **values)
    pixels = draw(project(backdrop, width=640, height=360, ground=None), 0.5)
    assert (pixels == [192, 192, 192, 255]).all()


def test_a_shape_larger_than_the_frame_is_opaque_in_its_corners():
    shape = layer("x", "shape", shape__size=[1000, 1000], position=[160, 90])
    pixels = draw(project(with_effect(shape, "gaussian-blur", size=[12, 12]), ground=None))
    assert int(pixels[..., 3].min()) == 255


@pytest.mark.parametrize("rotation", [0.0, 10.0])
@pytest.mark.parametrize("edges", ["repeat", "mirror"])
def test_stretched_and_mirrored_edges_of_a_picture_stay_hard(edges, rotation):
    data = png(1280, 720, (128, 128, 128))
    name = hashlib.sha256(data).hexdigest()
    asset = Asset(
        id="bay",
        name="bay",
        kind="picture",
        media_type="image/png",
        hash=name,
        size_bytes=1,
        width=1280,
        height=720,
    )
    picture = layer("x", "picture", picture__asset="bay", picture__fit="fill", rotation=rotation)
    document = project(
        with_effect(picture, "gaussian-blur", size=[14, 14], edges=edges),
        width=640,
        height=360,
        ground=None,
    )
    pixels = draw(document.model_copy(update={"assets": (asset,)}), reader=Files(**{name: data}))
    middle = pixels[180] if rotation else pixels.reshape(-1, 4)
    assert (middle == [128, 128, 128, 255]).all()


def test_an_edge_between_pixels_stays_where_it_is():
    shape = layer("x", "shape", shape__size=[100.5, 60], position=[160, 90], fill__colour="#ffffff")
    hard, soft = (
        draw(project(each, ground=None))
        for each in (shape, with_effect(shape, "gaussian-blur", size=[10, 10], edges="repeat"))
    )
    assert int(np.abs(hard[..., 3].astype(int) - soft[..., 3]).max()) <= 2


@pytest.mark.parametrize(
    ("effect", "values"), [("zoom-blur", {"amount": 120}), ("spin-blur", {"angle": 90})]
)
def test_treatments_leave_no_holes_at_the_edges(effect, values):
    treatment = with_effect(layer("t", "treatment"), effect, **values)
    kite = layer("kite", "shape", shape__size=[60, 60], fill__colour="#ff0000", position=[160, 90])
    pixels = draw(project(kite, treatment, ground="#304050"))
    assert int(pixels[..., 3].min()) == 255
    assert (pixels[[0, 0, -1, -1], [0, -1, 0, -1]] == [0x50, 0x40, 0x30, 255]).all()
