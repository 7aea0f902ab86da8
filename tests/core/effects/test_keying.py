"""What keys leave: colours without the one that is gone, edges as they were drawn."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from tests.build import Files, draw, layer, project

from young_comet.core.model import Asset, Effect, Property

SIZE = (160, 120)


def picture_of(pixels):
    done, data = cv2.imencode(".png", pixels)
    assert done
    return data.tobytes()


def keyed(pixels, kind, **values):
    """Straight RGBA floats of a keyed picture that fills its scene."""
    height, width = pixels.shape[:2]
    asset = Asset(id="logo", name="logo.png", kind="picture", media_type="image/png",
                  hash="c" * 64, size_bytes=9, width=width, height=height)  # fmt: skip
    la = layer("logo", "picture", picture__asset="logo", position=[width / 2, height / 2])
    props = {f"effect.k.{name.replace('_', '-')}": Property(value=v) for name, v in values.items()}
    la = la.model_copy(
        update={"effects": (Effect(id="k", kind=kind),), "properties": {**la.properties, **props}}
    )
    base = project(width=width, height=height, ground=None)
    scene = base.scenes[0].model_copy(update={"layers": (la,)})
    document = base.model_copy(update={"assets": (asset,), "scenes": (scene,)})
    found = draw(document, reader=Files(**{"c" * 64: picture_of(pixels)})).astype(float)
    return found


def over(cover, colour, ground):
    """A colour over a ground by a cover (h, w) 0..1, BGR."""
    mixed = cover[:, :, None] * np.array(colour) + (1 - cover[:, :, None]) * np.array(ground)
    return np.rint(mixed).astype(np.uint8)


def disc(r=40, x=80.3, y=60.2, parts=8):
    fine = (np.arange(160 * parts) + 0.5) / parts
    inside = (fine[None, :] - x) ** 2 + (fine[: 120 * parts, None] - y) ** 2 <= r * r
    return inside.reshape(120, parts, 160, parts).mean(axis=(1, 3))


NAVY, WHITE, GREEN = (110, 60, 20), (255, 255, 255), (64, 177, 0)


@pytest.mark.parametrize(
    ("kind", "ground", "values"),
    [("colour-key", WHITE, {}), ("chroma-key", GREEN, {"colour": "#00b140", "spill": 0.0})],
)
@pytest.mark.parametrize("colour", [NAVY, (30, 80, 220), (200, 190, 120)])
def test_an_edge_keeps_its_cover_and_loses_the_ground(kind, ground, values, colour):
    """Laid on another ground it is what would have been drawn there, without a rim."""
    cover = disc()
    found = keyed(over(cover, colour, ground), kind, **values)
    assert np.abs(found[:, :, 3] / 255 - cover).max() < 0.06
    for other in ((0, 0, 0), (255, 255, 255), (40, 60, 200)):
        laid = found[:, :, :3] + (1 - found[:, :, 3:] / 255) * np.array(other)
        far = np.abs(laid - over(cover, colour, other))

        assert far.max() <= 14, (other, far.max())


def test_light_parts_within_a_logo_are_no_holes_unless_asked():
    """A white spot in a dark disc on a white ground."""
    image = over(disc(), NAVY, WHITE)
    spot = disc(12)
    image = np.rint(image * (1 - spot[:, :, None]) + 255 * spot[:, :, None]).astype(np.uint8)
    kept = keyed(image, "colour-key")
    assert kept[60, 80].tolist() == [255, 255, 255, 255] and kept[2, 2, 3] == 0
    cut = keyed(image, "colour-key", border=False)
    assert cut[60, 80, 3] == 0 and cut[60, 50, 3] == 255


def test_a_grey_screen_takes_no_colour_from_what_is_kept():
    image = over(disc(), (220, 90, 40), (150, 140, 135))  # blue before a bluish grey
    found = keyed(image, "chroma-key", colour="#878c96", tolerance=3)
    assert np.abs(found[60, 80, :3] - (220, 90, 40)).max() <= 2


def test_the_matte_is_shrunk_softened_cleaned_and_shown():
    image = over(disc(), NAVY, WHITE)

    def area(**values):
        return keyed(image, "colour-key", **values)[:, :, 3].sum() / 255

    exact = np.pi * 40**2
    assert area() == pytest.approx(exact, rel=0.01)
    assert area(shrink=4.0) == pytest.approx(np.pi * 36**2, rel=0.02)
    assert area(shrink=-3.0) == pytest.approx(np.pi * 43**2, rel=0.02)
    assert area(feather=3.0) == pytest.approx(exact, rel=0.02)
    shown = keyed(image, "colour-key", show="matte")
    assert (shown[:, :, 3] == 255).all() and shown[60, 80, 0] == 255 and shown[2, 2, 0] == 0


@pytest.mark.parametrize("kind", ["colour-key", "chroma-key"])
def test_nothing_and_everything_can_be_keyed(kind):
    for colour in (WHITE, NAVY, GREEN):
        flat = np.full((30, 40, 3), colour, np.uint8)
        found = keyed(flat, kind, colour="#ffffff" if kind == "colour-key" else "#00b140")
        assert found[:, :, 3].max() in (0, 255) and found[:, :, 3].min() == found[:, :, 3].max()
