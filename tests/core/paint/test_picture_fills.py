"""Shapes, texts, drawings and strokes filled with pictures, footage and other layers."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from tests.build import Files, draw, key, layer
from tests.looked import alpha, box, clear

from young_comet.core.model import Asset, Part, Property, Shutter

HASH = "c" * 64


def picture(width=64, height=48):
    """Red grows to the right, green downwards; blue marks the top left quarter. BGR."""
    x = np.linspace(0, 255, width)[None, :].repeat(height, 0)
    y = np.linspace(0, 255, height)[:, None].repeat(width, 1)
    b = np.zeros_like(x)
    b[: height // 2, : width // 2] = 255
    return np.dstack([b, y, x]).astype(np.uint8)


def filled(*layers, size=(64, 48), **more):
    asset = Asset(id="sail", name="sail.png", kind="picture", media_type="image/png", hash=HASH,
                  size_bytes=9, width=size[0], height=size[1])  # fmt: skip
    document = clear(**more)
    scene = document.scenes[0].model_copy(update={"layers": layers})
    document = document.model_copy(update={"assets": (asset,), "scenes": (scene,)})
    return document


def shown(document, **more):
    _, data = cv2.imencode(".png", picture())
    return draw(document, reader=Files(**{HASH: data.tobytes()}), **more)


def panel(**values):
    more = {"fill__kind": "picture", "fill__picture": "sail"}
    return box(**{**more, **values})


def expected(x, y, left, top, width, height):
    """The picture's colour where a point of the frame falls on it, laid into a box. BGR."""
    u, v = (x - left) / width, (y - top) / height
    return (255 * (u < 0.5 and v < 0.5), 255 * v, 255 * u)


def near(pixel, colour, by=10):
    return np.abs(pixel[:3].astype(float) - colour).max() <= by


POINTS = [(80, 50), (120, 120), (200, 60), (240, 140)]


@pytest.mark.parametrize(
    ("fit", "laid"),
    [("stretch", (60, 30, 200, 120)), ("fill", (60, 15, 200, 150)), ("fit", (80, 30, 160, 120))],
)
def test_a_picture_meets_its_box(fit, laid):
    """The box is 200 x 120 about (160, 90), the picture 4:3."""
    pixels = shown(filled(panel(fill__fit=fit)))
    for x, y in POINTS:
        inside = laid[0] + 3 < x < laid[0] + laid[2] - 3
        if inside:
            assert near(pixels[y, x], expected(x + 0.5, y + 0.5, *laid)), (x, y)
    if fit == "fit":
        assert pixels[90, 70, 3] == 0 and pixels[90, 250, 3] == 0
    else:
        assert pixels[90, 62, 3] == 255
    assert pixels[25, 160, 3] == 0


def test_a_tiled_picture_goes_on_beside_itself():
    pixels = shown(filled(panel(fill__fit="tile")))
    for x, y in ((160, 90), (150, 80), (180, 100)):
        for dx, dy in ((64, 0), (-64, 0), (0, 48), (64, -48)):
            assert np.abs(pixels[y, x].astype(int) - pixels[y + dy, x + dx]).max() <= 2
    half = shown(filled(panel(fill__fit="tile", fill__scale=[50.0, 50.0])))
    assert np.abs(half[90, 160].astype(int) - half[90, 192]).max() <= 2


def test_its_place_has_keys():
    moved = panel(fill__fit="stretch", fill__place=[key(0, [0.0, 0.0]), key(1, [40.0, 0.0])])
    for time_s, dx in ((0.0, 0), (0.5, 20), (1.0, 40)):
        pixels = shown(filled(moved), time_s=time_s)
        assert near(pixels[120, 200], expected(200.5 - dx, 120.5, 60, 30, 200, 120)), time_s


@pytest.mark.parametrize(
    "values", [{}, {"rotation": 30.0}, {"scale": [50.0, 50.0]}, {"turn": 40.0}]
)
def test_with_the_layer_it_goes_along_and_in_the_scene_it_stays(values):
    """In the scene the layer is a window: what is seen at a point does not depend on its place."""
    colours = []
    for x in (120.0, 160.0, 190.0):
        window = panel(at=(x, 90.0), fill__space="scene", fill__fit="stretch", **values)
        pixels = shown(filled(window))
        colours.append(pixels[110, 150].astype(int))
        if "turn" not in values:
            assert near(pixels[110, 150], expected(150.5, 110.5, 0, 0, 320, 180), 6)
    if "turn" not in values:
        assert np.ptp(np.array(colours), axis=0).max() <= 6
    along = [
        shown(filled(panel(at=(x, 90.0), fill__fit="stretch", **values)))[90, int(x)].astype(int)
        for x in (120.0, 160.0)
    ]
    assert np.abs(along[0] - along[1]).max() <= (40 if "turn" in values else 4)


def test_texts_drawings_and_strokes_are_filled():
    text = layer("kite", "text", text="BAY", text__size=120.0, text__font="unbounded", text__weight=900.0,
                 position=[160, 90], fill__kind="picture", fill__picture="sail", fill__fit="stretch")  # fmt: skip
    pixels = shown(filled(text))
    solid = pixels[..., 3] == 255
    assert solid.sum() > 5000 and pixels[solid][:, 2].max() > 180 and pixels[solid][:, 2].min() < 70
    same = alpha(filled(layer("kite", "text", text="BAY", text__size=120.0, text__font="unbounded",
                              text__weight=900.0, position=[160, 90])))  # fmt: skip
    assert np.abs(pixels[..., 3].astype(int) - same).max() <= 12
    ring = box(fill__on=False, stroke__width=20.0, stroke__filled=True, fill__kind="picture", fill__picture="sail", fill__fit="stretch")  # fmt: skip
    pixels = shown(filled(ring))
    assert pixels[90, 160, 3] == 0 and near(
        pixels[120, 255], expected(255.5, 120.5, 60, 30, 200, 120)
    )
    graded = box(fill__on=False, stroke__width=20.0, stroke__filled=True, fill__kind="linear", fill__start=[0.0, 50.0],
                 fill__end=[100.0, 50.0], fill__stops=[[0.0, "#000000"], [1.0, "#ffffff"]], fill__mixing="plain")  # fmt: skip
    pixels = shown(filled(graded))
    assert (
        pixels[90, 62, 0] < 20
        and pixels[90, 257, 0] > 235
        and abs(int(pixels[31, 160, 0]) - 128) < 6
    )
    drawing = layer("kite", "shape", shape__kind="drawing", position=[160.0, 90.0])
    props = {
        "part.p.path": "M-100 -60 H100 V60 H-100 Z",
        "part.p.fill.kind": "picture",
        "part.p.fill.picture": "sail",
        "part.p.fill.fit": "stretch",
    }
    drawing = drawing.model_copy(
        update={
            "parts": (Part(id="p", name="Sail"),),
            "properties": {
                **drawing.properties,
                **{k: Property(value=v) for k, v in props.items()},
            },
        }
    )
    assert near(shown(filled(drawing))[120, 200], expected(200.5, 120.5, 60, 30, 200, 120))


def test_another_layer_fills_a_text_where_it_lies():
    """Two halves of a hidden panel show through letters where they lie in the scene."""
    left = box("left", size=(160.0, 180.0), at=(80.0, 90.0), colour="#00ff00", rotation=0.0)
    left = left.model_copy(update={"hidden": True})
    window = panel(fill__kind="layer", fill__layer="left", fill__space="scene")
    pixels = shown(filled(left, window))
    assert tuple(pixels[90, 150]) == (0, 255, 0, 255) and pixels[90, 170, 3] == 0
    along = panel(fill__kind="layer", fill__layer="left", fill__fit="stretch")
    assert tuple(shown(filled(left, along))[90, 250]) == (0, 255, 0, 255)


def test_layers_that_fill_each_other_come_to_an_end():
    a = panel(id="a", fill__kind="layer", fill__layer="b", at=(100.0, 90.0))
    b = panel(
        id="b",
        fill__kind="layer",
        fill__layer="a",
        align__x="left",
        align__to="layer",
        align__layer="a",
    )
    itself = panel(id="c", fill__kind="layer", fill__layer="c")
    gone = panel(id="d", fill__kind="layer", fill__layer="nobody")
    for layers in ((a, b), (b, a), (itself,), (gone,)):
        assert shown(filled(*layers)).shape == (180, 320, 4)
    assert alpha(filled(gone)).max() == 0


@pytest.mark.parametrize("values", [
    {"scale": [0.0, 0.0]}, {"position": [4000.0, -900.0]}, {"turn": 90.0}, {"fill__scale": [0.0, 100.0]},
    {"fill__scale": [1e5, 1e5]}, {"fill__place": [1e6, -1e6]}, {"fill__turned": 1e6}, {"shape__size": [0.0, 0.0]},
    {"fill__fit": "tile", "fill__scale": [0.1, 0.1]}, {"fill__fit": "tile", "fill__scale": [1e5, 1.0]},
    {"fill__picture": "nobody"}, {"skew": [70.0, 10.0]}, {"scale": [-100.0, 100.0]},
])  # fmt: skip
@pytest.mark.parametrize("space", ["layer", "scene"])
def test_fills_at_their_limits(values, space):
    more = {k: v for k, v in values.items() if k not in ("position", "shape__size")}
    if "shape__size" in values:
        more["size"] = tuple(values["shape__size"])
    at = tuple(values.get("position", (160.0, 90.0)))
    made = panel(at=at, fill__space=space, **more)
    assert shown(filled(made)).shape == (180, 320, 4)
    moving = filled(
        panel(
            at=at,
            fill__space=space,
            rotation=[key(0, 0.0), key(1, 300.0)],
            **{k: v for k, v in more.items() if k != "rotation"},
        ),
        shutter=Shutter(on=True),
    )
    assert shown(moving, time_s=0.5).shape == (180, 320, 4)


def test_a_file_that_is_missing_is_told_and_marked():
    pixels = draw(filled(panel(fill__fit="stretch")))
    assert pixels[90, 160, 3] > 0  # a marked box in its place


def test_a_filled_box_has_the_edges_of_a_plain_one():
    """At parts of a pixel: a picture's own edge does not thin out the outline's."""
    for at in ((160.3, 90.6), (160.5, 90.5)):
        for fit in ("fill", "stretch"):
            ours = shown(filled(panel(at=at, fill__fit=fit)))[..., 3].astype(int)
            plain = alpha(clear(box(at=at))).astype(int)
            assert np.abs(ours - plain).max() <= 2
