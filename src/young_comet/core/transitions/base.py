"""What a transition is: two pictures of a frame and a progress in, one picture out."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import cv2
import numpy as np

from ..effects.base import EVERYWHERE, EffectKind, Params, Region, Work, cut, laid_in
from ..model.specs import Kind, PropertySpec
from ..pixels.blend import by_order
from ..pixels.raster import Raster

SECTION = "Transition"
# Under which name the step of a transition is given the picture that gives way.
GIVING = "giving"


@dataclass(frozen=True)
class Joint:
    """Where two pictures of a frame meet: both (h, w, 4) premultiplied BGRA uint8 over the same
    region, working pixels. ``share`` is how far the second has come, eased, 0..1; ``speed`` how
    much of it passes in a frame. ``other`` gives the picture of a layer that a parameter names over
    the region, None where there is none."""

    first: np.ndarray
    second: np.ndarray
    share: float
    speed: float
    params: Params
    scale: float
    other: Callable[[str], np.ndarray | None]
    keep: Callable[[tuple[Any, ...], Callable[[], np.ndarray]], np.ndarray] = lambda key, make: (
        make()
    )
    """Keeps what is the same at every moment under a key of all that it comes of."""

    @property
    def size(self) -> tuple[int, int]:
        """Width and height, px."""
        height, width = self.first.shape[:2]
        return width, height

    @cached_property
    def places(self) -> tuple[np.ndarray, np.ndarray]:
        """Places of the pixels' middles (h, w) float32: from -1 to 1 along the longer side, 0 in
        the middle of the frame."""
        width, height = self.size
        half = max(width, height) / 2
        x = (np.arange(width, dtype=np.float32) + np.float32(0.5 - width / 2)) / np.float32(half)
        y = (np.arange(height, dtype=np.float32) + np.float32(0.5 - height / 2)) / np.float32(half)
        shape = (height, width)
        return np.broadcast_to(x[None, :], shape), np.broadcast_to(y[:, None], shape)

    def along(self, degrees: float) -> np.ndarray:
        """How far pixels lie along a direction (clockwise from the right): 0 where the frame begins
        in it, 1 where it ends, (h, w) float32."""
        x, y = self.places
        turned = math.radians(degrees)
        found = x * np.float32(math.cos(turned)) + y * np.float32(math.sin(turned))
        low, high = float(found.min()), float(found.max())
        return np.asarray((found - np.float32(low)) / np.float32(max(1e-6, high - low)))


Draw = Callable[[Joint], np.ndarray]


@dataclass(frozen=True)
class TransitionKind:
    """A member of the registry. ``draw`` makes the picture between two; one that ``matches`` mixes
    what the two scenes consist of instead. ``eased`` is its usual easing."""

    id: str
    label: str
    help: str
    specs: tuple[PropertySpec, ...]
    draw: Draw
    eased: str = "ease-in-out"
    matches: bool = False

    @cached_property
    def by_id(self) -> Mapping[str, PropertySpec]:
        """Its parameters by their names."""
        return {spec.id: spec for spec in self.specs}

    @cached_property
    def inputs(self) -> tuple[str, ...]:
        """Its parameters that name other layers."""
        return tuple(spec.id for spec in self.specs if spec.kind is Kind.LAYER)

    @cached_property
    def step(self) -> EffectKind:
        """It as a step on the second picture, as sheets are made of steps: given the first as the
        input ``giving``, its share and speed as parameters."""

        def draw(raster: Raster, p: Params, work: Work) -> Raster:
            region: Region = work.region(work.frame)
            if region[2] <= region[0] or region[3] <= region[1]:
                return raster
            first = work.picture(GIVING, region) if p[GIVING] else None
            second = laid_in(raster, region)
            first = np.zeros_like(second) if first is None else first
            joint = Joint(
                first, second, min(1.0, max(0.0, float(p["share"]))), float(p["speed"]), p,
                work.scale, lambda name: work.picture(name, region) if p.get(name) else None,
                work.keep,
            )  # fmt: skip
            made = np.ascontiguousarray(self.draw(joint))
            return cut(Raster(made, region[0], region[1]), work.area)

        named = tuple(
            PropertySpec(name, name, Kind.LAYER, "", SECTION, help=name)
            for name in (GIVING, *self.inputs)
        )
        return EffectKind(
            f"transition:{self.id}", self.label, "transition", self.help, named, draw,
            lambda p, work: EVERYWHERE, fills=True,
        )  # fmt: skip


# Pictures


def laid_over(first: np.ndarray, second: np.ndarray, shown: np.ndarray) -> np.ndarray:
    """The second picture where it is shown (h, w) float32 0..1, the first elsewhere."""
    weight = np.ascontiguousarray(shown, np.float32)
    result: np.ndarray = cv2.blendLinear(second, first, weight, np.float32(1) - weight)
    return result


def laid_by(
    first: np.ndarray, second: np.ndarray, order: np.ndarray, share: float, softness: float
) -> np.ndarray:
    """The second picture where pixels are reached, in an order (h, w) float32 of 0..1: by an edge
    of a width that runs from before the first to behind the last."""
    soft = max(0.004, softness)
    return by_order(first, second, order, share * (1 + soft), soft)


def moved(pixels: np.ndarray, matrix: np.ndarray, border: int = cv2.BORDER_CONSTANT) -> np.ndarray:
    """A picture under a map (2, 3) of its pixels' middles to where they go, transparent beyond."""
    height, width = pixels.shape[:2]
    # OpenCV counts from the middle of the first pixel.
    shift = matrix[:, :2] @ np.array([0.5, 0.5]) - 0.5 + matrix[:, 2]
    placed = np.column_stack([matrix[:, :2], shift])
    result: np.ndarray = cv2.warpAffine(
        pixels, placed, (width, height), flags=cv2.INTER_LINEAR, borderMode=border
    )
    return result


def shifted(pixels: np.ndarray, x: float, y: float) -> np.ndarray:
    """A picture moved by px, transparent behind it."""
    return moved(pixels, np.array([[1.0, 0.0, x], [0.0, 1.0, y]]))


def turned(
    joint: Joint,
    pixels: np.ndarray,
    scale: float,
    degrees: float,
    border: int = cv2.BORDER_CONSTANT,
) -> np.ndarray:
    """A picture scaled and turned about the middle of the frame."""
    width, height = joint.size
    c, s = scale * math.cos(math.radians(degrees)), scale * math.sin(math.radians(degrees))
    x, y = width / 2, height / 2
    matrix = np.array([[c, -s, x - c * x + s * y], [s, c, y - s * x - c * y]])
    return moved(pixels, matrix, border)


def smooth(value: float, low: float, high: float) -> float:
    """From 0 at ``low`` to 1 at ``high``, level at both."""
    t = min(1.0, max(0.0, (value - low) / max(1e-9, high - low)))
    return t * t * (3 - 2 * t)


# Parameters


def spec(
    id: str, label: str, kind: Kind, default: Any, *, help: str, **more: Any
) -> PropertySpec:  # fmt: skip
    """A parameter; it has one value for all of a transition."""
    return PropertySpec(id, label, kind, default, SECTION, help=help, fixed=True, **more)


def direction(default: float = 0.0, help: str = "Where it goes, clockwise from the right") -> PropertySpec:  # fmt: skip  # noqa: E501
    """An angle."""
    return spec(
        "angle", "Transition direction", Kind.NUMBER, default, unit="°", minimum=-36000,
        maximum=36000, widget="dial", help=help,
    )  # fmt: skip


def share_of(id: str, label: str, default: float, help: str, high: float = 100) -> PropertySpec:
    """A percentage."""
    return spec(
        id, label, Kind.NUMBER, default, unit="%", minimum=0, maximum=high, help=help
    )  # fmt: skip


SOFTNESS = share_of("softness", "Transition softness", 8, "How wide the edge is")
SMEAR = share_of("smear", "Transition smear", 50, "How long the shutter is open, of a frame", 200)
COLOUR = spec(
    "colour", "Transition colour", Kind.COLOUR, "#0f1013", help="The colour it goes through"
)


def places() -> tuple[tuple[str, str], ...]:
    """Where a transition may lie about the joint."""
    return (("centred", "About the joint"), ("before", "Before it"), ("after", "After it"))


# What all have.
def common(eased: str) -> tuple[PropertySpec, ...]:
    """The parameters of every transition."""
    return (
        spec("easing", "Transition easing", Kind.EASING, eased, help="How it goes from 0 to 1"),
        spec("lies", "Transition place", Kind.CHOICE, "centred", options=places(),
             help="When it happens: about the moment at which the layers meet, before or after"),
    )  # fmt: skip
