"""A small picture of every effect, for choosing one."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..catalog import check_project, effect_kind
from ..model import Effect, Layer, Project, Property, RateModel, Scene
from .evaluate import SceneEvaluator
from .library import MediaLibrary
from .renderer import Renderer

WIDTH, HEIGHT = 320, 180
MOMENT_S = 0.7

# What shows an effect better than its defaults; effects that correct start out neutral.
_SHOWN: dict[str, dict[str, Any]] = {
    "levels": {"black": 70, "white": 190},
    "curves": {"rgb": ((0, 0), (0.3, 0.08), (0.7, 0.95), (1, 1))},
    "brightness-contrast": {"brightness": 15, "contrast": 60},
    "hue-saturation": {"hue": 110},
    "temperature": {"temperature": -80},
    "vignette": {"amount": 90, "size": 25},
    "grain": {"amount": 45},
    "displacement": {"layer": "sun", "amount": (90, 0)},
    "four-corner-warp": {
        "top-left": (30, -24), "top-right": (-16, 22), "bottom-right": (20, 20),
        "bottom-left": (-24, -16),
    },
    "glow": {"size": 14, "strength": 160},
    "reflection": {"height": 60},
    "zoom-blur": {"amount": 40},
    "focus-sweep": {"sharp": 60, "ramp": 60, "size": 12},
    "gaussian-blur": {"size": (6, 6)},
    "rough-edge": {"amount": 8},
    "counter": {"size": 40},
    "particles": {"area": (260, 20), "speed": 260, "gravity": 160},
    "lens-flare": {"size": 110, "centre": (40, -20)},
    "wave": {"length": 90, "height": 10},
    "ripple": {"length": 50, "height": 8, "radius": 160},
    "swirl": {"radius": 160, "angle": 100},
    "bulge": {"radius": 130},
    "long-shadow": {"length": 120},
    "noise-displacement": {"amount": (16, 16), "scale": 60},
    "streaks": {"length": 60, "width": 8},
    "texture": {"contrast": 160},
    "rays": {"length": 220},
    "colour-key": {"colour": "#f0a04b", "tolerance": 22},
    "chroma-key": {"colour": "#e8704f", "tolerance": 10},
    "luminance-key": {"level": 62},
    "colour-fringe": {"amount": 5},
    "noise-clouds": {"scale": 70},
    "pixelate": {"size": (9, 9)},
}  # fmt: skip


def sample_project(kind_id: str) -> Project:
    """A scene that shows one effect on a word before a dusk sky."""
    kind = effect_kind(kind_id)
    values = {k: Property(value=v) for k, v in _SHOWN.get(kind_id, {}).items()}
    own = {f"effect.e.{k}": v for k, v in values.items() if k in kind.by_id}

    def layer(id: str, layer_kind: str, **more: Any) -> Layer:
        fields = {"id": id, "name": id, "kind": layer_kind, "start_s": 0, "end_s": 4}
        return Layer.model_validate({**fields, **more})

    def plain(**properties: Any) -> dict[str, Any]:
        return {k.replace("__", "."): Property(value=v) for k, v in properties.items()}

    word = layer(
        "word", "text", effects=(Effect(id="e", kind=kind_id),),
        properties={
            **plain(
                text="Bay", text__font="unbounded", text__weight=800, text__size=112,
                position=(WIDTH / 2, HEIGHT / 2 + 4), fill__kind="linear", fill__start=(0, 10),
                fill__end=(100, 90), fill__stops=((0, "#ffd27a"), (1, "#e8486f")),
            ),
            **own,
        },
    )  # fmt: skip
    sky = layer("sky", "backdrop", properties=plain(
        fill__kind="linear", fill__stops=((0, "#1d2750"), (0.6, "#4d3b6b"), (1, "#7c4a6d")),
    ))  # fmt: skip
    sun = layer("sun", "shape", hidden=True, properties={
        **plain(shape__kind="ellipse", shape__size=(230, 230), position=(WIDTH / 2, HEIGHT / 2)),
        **plain(fill__kind="radial", fill__start=(50, 50), fill__end=(100, 50)),
        **plain(fill__stops=((0, "#ffffff"), (1, "#00000000"))),
    })  # fmt: skip
    scene = Scene(
        id="sample", name="Sample", width=WIDTH, height=HEIGHT, rate=RateModel(num=25),
        length_s=4, layers=(sky, sun, word),
    )  # fmt: skip
    return check_project(Project(id="sample", name="Sample", scenes=(scene,)))


def effect_sample(kind_id: str, library: MediaLibrary) -> np.ndarray:
    """The picture (180, 320, 4) of an effect."""
    evaluator = SceneEvaluator(sample_project(kind_id), "sample")
    return Renderer(library, limit_bytes=2**20).render(evaluator.at(MOMENT_S), WIDTH, HEIGHT)
