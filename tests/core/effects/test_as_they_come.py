"""Every effect as it comes: seen on a title, not all over it, and true to what its help says of the
light."""

from functools import cache

import numpy as np
import pytest
from tests.build import draw, layer, project

from young_comet.core.effects import EFFECTS
from young_comet.core.model import Effect

LUMA = np.array([0.0722, 0.7152, 0.2126])
# Neutral until they are set: corrections of tones, and what needs a table, a layer, corners.
NEUTRAL = {
    "levels", "curves", "brightness-contrast", "hue-saturation", "look-up-table", "displacement",
    "four-corner-warp",
}  # fmt: skip
# Keys are shown on what they are made for: something before a ground of their own colour.
KEYS = {"colour-key": "#ffffff", "chroma-key": "#00b140", "luminance-key": "#101418"}


@cache
def seen(kind=None):
    """A full-HD title before dusk at a quarter of its size, colours (270, 480, 3)."""
    sky = layer(
        "sky", "backdrop", fill__kind="linear", fill__start=[50, 0], fill__end=[50, 100],
        fill__stops=[[0, "#17224d"], [1, "#6b3b73"]],
    )  # fmt: skip
    worn = {"effects": (Effect(id="e", kind=kind),)} if kind else {}
    title = layer(
        "title", "text", text="GULLWING\nBAY", text__font="unbounded", text__weight=800,
        text__size=250.0, position=[960, 540], fill__kind="linear", fill__start=[0, 10],
        fill__end=[100, 90], fill__stops=[[0, "#ffd27a"], [1, "#e8486f"]],
    ).model_copy(update=worn)  # fmt: skip
    return draw(project(sky, title, width=1920, height=1080), 1.0, scale=0.25)[..., :3].astype(int)


@cache
def screened(kind, on):
    """A disc on a ground, both one layer's picture, before a black stage."""
    disc = layer(
        "disc", "shape", shape__kind="ellipse", shape__size=[200, 120], position=[160, 90],
        fill__kind="radial", fill__start=[50, 50], fill__end=[51, 50],
        fill__stops=[[0, "#ff7a45"], [1, KEYS[kind]]],
    ).model_copy(update={"effects": (Effect(id="e", kind=kind),) if on else ()})  # fmt: skip
    return draw(project(disc), 1.0)[..., :3].astype(int)


@pytest.mark.parametrize("kind", [kind for kind in EFFECTS if kind not in NEUTRAL])
def test_an_effect_as_it_comes_is_seen_and_does_with_the_light_what_it_says(kind):
    before, after = seen(), seen(kind)
    if kind in KEYS:
        before, after = screened(kind, False), screened(kind, True)
    changed = (np.abs(after - before).max(2) > 4).mean()
    assert 0.005 <= changed <= 0.6
    ratio = (after @ LUMA).mean() / (before @ LUMA).mean()
    says = EFFECTS[kind].light
    if says == "same":
        assert ratio == pytest.approx(1, abs=0.035)
    elif says == "more":
        assert 1.01 < ratio < 1.3
    elif says == "less":
        assert ratio < 0.995
    else:
        assert 0.7 < ratio < 1.3


def test_what_is_said_of_the_light_stands_in_the_help():
    for kind in EFFECTS.values():
        said = {"same": "Keeps the light", "more": "Adds light", "less": "Takes light away"}
        assert (said.get(kind.light, "") in kind.told) and kind.told.startswith(kind.help)
