"""SVG files as Chromium draws them, against ours: as pictures, and read as shapes."""

import base64
import io
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from tests.build import NoAssets, layer, project

from young_comet.core.media import draw_svg, layer_parts, shapes_of
from young_comet.core.model import Part, Property
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.pixels.colour import parse_colour
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import gradient_bar

DRAWINGS = Path(__file__).parents[1] / "drawings"
FILES = sorted(path.stem for path in DRAWINGS.glob("*.svg"))
WIDTH, HEIGHT, SCALE = 240, 160, 2


def theirs(browser, data):
    """Premultiplied RGBA as the browser draws a file, twice as large as it is."""
    page = browser.new_page(device_scale_factor=SCALE)
    url = "data:image/svg+xml;base64," + base64.b64encode(data).decode()
    page.set_content(
        f'<body style="margin:0"><img src="{url}" width="{WIDTH}" height="{HEIGHT}" style="display:block"></body>'
    )
    page.wait_for_function("() => document.images[0].complete")
    clip = {"x": 0, "y": 0, "width": WIDTH, "height": HEIGHT}
    shot = page.screenshot(clip=clip, omit_background=True)
    page.close()
    found = np.asarray(Image.open(io.BytesIO(shot)).convert("RGBA")).astype(float)
    found[..., :3] *= found[..., 3:] / 255
    return found


def as_layer(data):
    """A file read as shapes and drawn as a layer, and what is not kept."""
    found = shapes_of(data)
    parts, properties = layer_parts(found)
    base = layer("kite", "shape", shape__kind="drawing", position=[WIDTH / 2, HEIGHT / 2])
    values = {name: Property(value=each["value"]) for name, each in properties.items()}
    made = base.model_copy(
        update={
            "parts": tuple(Part(**part) for part in parts),
            "properties": {**base.properties, **values},
        }
    )
    document = project(made, ground=None)
    scene = document.scenes[0].model_copy(update={"width": WIDTH, "height": HEIGHT})
    document = document.model_copy(update={"scenes": (scene,)})
    frame = SceneEvaluator(document, "reveal").at(0.0)
    return Renderer(MediaLibrary(NoAssets())).render(
        frame, WIDTH * SCALE, HEIGHT * SCALE
    ), found.notes


@pytest.mark.parametrize("name", FILES)
def test_a_drawing_is_chromiums_as_a_picture_and_as_shapes(browser, name):
    """Edges are smoothed otherwise; apart from them nothing differs: on the mean by less than half
    a level, by more than 24 levels in less than 0.4 % of all pixels."""
    data = (DRAWINGS / f"{name}.svg").read_bytes()
    expected = theirs(browser, data)
    assert expected[..., 3].max() == 255
    shapes, notes = as_layer(data)
    assert notes == tuple(n for n in notes if "nonsense" in n)
    for ours in (draw_svg(data, SCALE), shapes):
        apart = np.abs(ours[..., [2, 1, 0, 3]].astype(float) - expected).max(axis=2)
        assert apart.mean() < 0.5 and (apart > 24).mean() < 0.004, (apart.mean(), apart.max())


COLOURS = [
    "oklch(70% 0.15 200)", "oklab(0.5 0.1 -0.1 / 40%)", "lab(50% 40 30)", "lch(60 50 120)",
    "hwb(200 20% 30%)", "hsl(0.4turn 60% 40% / 0.5)", "color(display-p3 0.2 0.7 0.3)",
    "color(srgb-linear 0.5 0.2 0.1)", "color(rec2020 0.3 0.5 0.4)", "color(a98-rgb 0.3 0.6 0.2)",
    "color(xyz 0.2 0.3 0.1)", "color(xyz-d50 0.2 0.3 0.1)", "rgb(120 30 200 / 30%)", "#e4572e80",
    "color-mix(in oklab, #e4572e 30%, #123b5d)", "color-mix(in srgb, red, blue 25%)",
    "color-mix(in hsl, #e4572e, #1d7874 40%)", "color-mix(in oklch longer hue, #e4572e, #1d7874)",
    "color-mix(in lch, #e4572e 20%, #1d7874 30%)", "color-mix(in hwb, #f2c14e, rgb(0 0 255 / 20%))",
    "color-mix(in xyz, #f2c14e, #123b5d)", "color-mix(in srgb-linear, #f2c14e 80%, transparent)",
    "color-mix(in lab, color-mix(in oklab, red, lime), #123b5d)", "rebeccapurple", "transparent",
]  # fmt: skip
PAINT = """(colours) => colours.map((each) => {
  const ctx = new OffscreenCanvas(1, 1).getContext("2d");
  ctx.fillStyle = "#010203";
  ctx.fillStyle = each;
  ctx.fillRect(0, 0, 1, 1);
  return [...ctx.getImageData(0, 0, 1, 1).data];
})"""


def test_colours_of_css_are_chromiums(page):
    from young_comet.core.media.vector.colours import css_colour

    page.goto("about:blank")
    for text, found in zip(COLOURS, page.evaluate(PAINT, COLOURS), strict=True):
        ours = css_colour(text)
        assert ours is not None, text
        alpha = found[3] / 255
        assert abs(ours[3] - alpha) < 0.005, text
        for mine, other in zip(ours[:3], found[:3], strict=True):
            assert abs(mine * alpha - other / 255 * alpha) < 0.012, (text, ours, found)


@pytest.mark.parametrize("ends", [
    ("#ff7a45", "#2f9fb3"), ("#0000ff", "#ffff00"), ("#1d2750", "#ffd27a"), ("#e8486f", "#3ad07a"),
])  # fmt: skip
def test_colours_are_mixed_evenly_as_css_does_in_oklab(browser, ends):
    page = browser.new_page()
    page.set_content(
        "<body style='margin:0'><div style='width:192px;height:8px;"
        f"background:linear-gradient(90deg in oklab, {ends[0]}, {ends[1]})'></div></body>"
    )
    shot = page.screenshot(clip={"x": 0, "y": 0, "width": 192, "height": 8})
    page.close()
    found = np.asarray(Image.open(io.BytesIO(shot)).convert("RGB")).astype(int)[4]
    stops = tuple((float(at), parse_colour(colour)) for at, colour in enumerate(ends))
    mine = gradient_bar(stops, "even")[0, :, 2::-1].astype(int)
    assert np.abs(found - mine).max() <= 4
