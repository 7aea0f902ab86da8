"""What an effect is, and what it is given.

An effect works on an upright raster of its layer: axes along the layer's own, ``scale`` pixels to
one pixel of the layer. Points are given in the layer's space, (0, 0) in the middle of its
content, lengths in its pixels, so that the layer's place turns and enlarges effects with it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import cv2
import numpy as np

from ..geometry.affine import Box, Point
from ..geometry.outline import Outline
from ..model.specs import Kind, Needed, PropertySpec, where
from ..pixels.ink import Ink, ink_of
from ..pixels.raster import Raster, empty

Params = Mapping[str, Any]
Region = tuple[int, int, int, int]  # left, top, right, bottom in working pixels
EVERYWHERE = math.inf
_NO_OUTLINE = Outline.empty()


@dataclass(frozen=True)
class Work:
    """Where an effect works.

    ``origin`` is the layer's (0, 0) in working pixels; ``area`` the working pixels whose result
    is needed; ``box`` the layer's content, ``painted`` the box of what it really paints and
    ``frame`` the scene's frame, in the layer's space.
    ``picture`` gives another layer as it lies over this one, over a region; ``table`` a colour
    table by its hash; ``text`` the outline of a word in a typeface, weight and size, centred on (0,
    0). ``keep`` gives what was made under a key before, or makes it: for fields that depend on
    nothing else; ``keep_again`` keeps only what has been asked for before. Times are seconds from
    the layer's start; ``length_s`` is its length, ``fps`` the scene's frame rate. ``fresh`` is true
    for the first effect, when nothing lies beyond ``painted``; ``continued`` where the layer goes
    on beyond what it is given, as backdrops and treatments do; ``owned`` where a raster belongs to
    this chain of effects alone, so that an effect may change it in place. ``source`` names the
    raster an effect is given, where it has a name.
    """

    scale: float
    origin: Point
    area: Region
    box: Box
    painted: Box
    frame: Box
    time_s: float = 0.0
    fps: float = 25.0
    picture: Callable[[str, Region], np.ndarray | None] = lambda layer, region: None
    table: Callable[[str], np.ndarray | None] = lambda asset: None
    text: Callable[[str, str, float, float], Outline] = lambda text, font, weight, size: _NO_OUTLINE
    length_s: float = 0.0
    fresh: bool = False
    continued: bool = False
    owned: bool = False
    source: bytes = b""
    keep: Callable[[tuple[Any, ...], Callable[[], np.ndarray]], np.ndarray] = lambda key, make: (
        make()
    )
    keep_again: Callable[[tuple[Any, ...], Callable[[], np.ndarray]], np.ndarray] = (
        lambda key, make: make()
    )

    def at(self, point: Point) -> Point:
        """A point of the layer in working pixels."""
        return (self.origin[0] + point[0] * self.scale, self.origin[1] + point[1] * self.scale)

    def px(self, length: float) -> float:
        """A length of the layer in working pixels."""
        return length * self.scale

    def region(self, box: Box, grow: float = 0.0) -> Region:
        """The whole working pixels that a box of the layer touches."""
        (left, top), (right, bottom) = self.at(box[:2]), self.at(box[2:])
        return (
            math.floor(left - grow + 1e-6), math.floor(top - grow + 1e-6),
            math.ceil(right + grow - 1e-6), math.ceil(bottom + grow - 1e-6),
        )  # fmt: skip

    @cached_property
    def content(self) -> Region:
        """The content's working pixels."""
        return self.region(self.box)

    def kept(self, key: tuple[Any, ...], make: Callable[[], np.ndarray]) -> np.ndarray:
        """What was made of the raster given under a key before, or is made now. It is kept once it
        has been asked for again: most rasters are other ones in the next frame."""
        return self.keep_again((self.source, *key), make) if self.source else make()

    def needing(self, area: Region) -> Work:
        """The same work where another region is asked for."""
        return replace(self, area=area)


Draw = Callable[[Raster, Params, Work], Raster]
Reach = Callable[[Params, Work], float]


_LIGHT_TOLD = {
    "same": "Keeps the light of the picture.", "more": "Adds light.", "less": "Takes light away.",
    "other": "",
}  # fmt: skip


@dataclass(frozen=True)
class EffectKind:
    """A member of the registry.

    ``draw`` gets a raster, the values of its parameters by name, and the Work. ``reach`` tells
    how many working pixels beyond a result's place its input counts (EVERYWHERE where there is
    no limit). ``timed`` effects change by themselves: they are given the time. ``fills`` ones
    draw where the layer has nothing. ``grid`` ones are bound to the pixels of the output, so a
    smaller preview cannot look the same. ``inputs`` names parameters that are other layers.
    ``roomy`` ones spread what they are given: as the first they are given a raster with as much
    room about the content as they reach. ``spatial`` ones only move and mix pixels: they take a
    raster of one colour as such (``pixels/ink.py``). ``light`` tells what it does, as it comes, to
    the mean luminance of a picture: "same" keeps it (within 3.5 %), "more" and "less" say which way
    it goes, "other" that it goes by what is chosen.
    """

    id: str
    label: str
    family: str
    help: str
    specs: tuple[PropertySpec, ...]
    draw: Draw
    reach: Reach = lambda p, work: 0.0
    timed: bool = False
    fills: bool = False
    grid: bool = False
    roomy: bool = False
    spatial: bool = False
    light: str = "other"

    @property
    def told(self) -> str:
        """Its help with what it does to the light."""
        return f"{self.help} {_LIGHT_TOLD[self.light]}".strip()

    @cached_property
    def inputs(self) -> tuple[str, ...]:
        return tuple(spec.id for spec in self.specs if spec.kind is Kind.LAYER)

    @cached_property
    def by_id(self) -> dict[str, PropertySpec]:
        index = {}
        for spec in self.specs:
            index[spec.id] = spec
        return index


# Rasters


def cut(raster: Raster, region: Region) -> Raster:
    """The part of a raster within a region; empty where they do not meet."""
    left, top = max(raster.left, region[0]), max(raster.top, region[1])
    right = min(raster.left + raster.width, region[2])
    bottom = min(raster.top + raster.height, region[3])
    if right <= left or bottom <= top:
        return Raster(empty(0, 0), region[0], region[1])
    if (left, top, right - left, bottom - top) == (
        raster.left, raster.top, raster.width, raster.height,
    ):  # fmt: skip
        return raster
    rows = slice(top - raster.top, bottom - raster.top)
    columns = slice(left - raster.left, right - raster.left)
    ink = ink_of(raster)
    if ink is not None:
        alpha = np.ascontiguousarray(ink.alpha[rows, columns])
        return Raster(Ink(alpha, ink.colour), left, top)
    return Raster(np.ascontiguousarray(raster.pixels[rows, columns]), left, top)


def laid_in(raster: Raster, region: Region) -> np.ndarray:
    """New pixels of exactly that region with the raster at its place, else transparent."""
    left, top = raster.left - region[0], raster.top - region[1]
    right = region[2] - raster.left - raster.width
    bottom = region[3] - raster.top - raster.height
    if not raster.is_empty and min(left, top, right, bottom) >= 0:
        return cv2.copyMakeBorder(raster.pixels, top, bottom, left, right, cv2.BORDER_CONSTANT)
    result = empty(max(0, region[2] - region[0]), max(0, region[3] - region[1]))
    part = cut(raster, region)
    if not part.is_empty:
        y, x = part.top - region[1], part.left - region[0]
        result[y : y + part.height, x : x + part.width] = part.pixels
    return result


def pixels_in(raster: Raster, region: Region) -> np.ndarray:
    """The pixels of exactly that region, transparent beyond the raster: the raster's own where it
    is that region, else new ones."""
    return raster.pixels if region_of(raster) == region else laid_in(raster, region)


def region_of(raster: Raster) -> Region:
    """The region that a raster covers."""
    return (raster.left, raster.top, raster.left + raster.width, raster.top + raster.height)


def grown(region: Region, by: float) -> Region:
    """A region grown by so much on every side."""
    n = math.ceil(by)
    return (region[0] - n, region[1] - n, region[2] + n, region[3] + n)


def moved(region: Region, dx: float, dy: float) -> Region:
    """A region moved by so much."""
    return (
        math.floor(region[0] + dx), math.floor(region[1] + dy),
        math.ceil(region[2] + dx), math.ceil(region[3] + dy),
    )  # fmt: skip


def meet(a: Region, b: Region) -> Region:
    """What two regions share; of no size where they do not meet."""
    left, top = max(a[0], b[0]), max(a[1], b[1])
    return (left, top, max(left, min(a[2], b[2])), max(top, min(a[3], b[3])))


def join(a: Region, b: Region) -> Region:
    """The region around two; one without size does not count."""
    if a[0] >= a[2] or a[1] >= a[3]:
        return b
    if b[0] >= b[2] or b[1] >= b[3]:
        return a
    return (min(a[0], b[0]), min(a[1], b[1]), max(a[2], b[2]), max(a[3], b[3]))


def size_of(region: Region) -> int:
    """How many pixels a region has."""
    return max(0, region[2] - region[0]) * max(0, region[3] - region[1])


def own_pixels(raster: Raster, work: Work) -> np.ndarray:
    """The raster's pixels to be changed: its own where they may be, else a copy."""
    return raster.pixels if work.owned else raster.pixels.copy()


def in_blocks(region: Region) -> Region:
    """The region with a width and height of whole blocks, as blurs take them: then they need
    not add what is missing to the last block, and take it off again."""
    left, top, right, bottom = region
    return (left, top, right + (left - right) % 16, bottom + (top - bottom) % 16)


def room_for(raster: Raster, by: float, work: Work) -> Region:
    """The raster's region grown by a reach, as far as it counts: what lies within reach of the area
    that is needed has a part in it, also beyond the frame. A fresh raster may have room about what
    is painted already."""
    own = region_of(raster)
    if work.fresh and not work.continued:
        own = meet(own, work.region(work.painted, 1))
    return meet(in_blocks(grown(own, by)), in_blocks(grown(work.area, by)))


# Declarations

# What parameters of these names do, wherever their declaration has no line of its own.
_HELP = {
    "amount": "How strong it is",
    "angle": "Its direction, clockwise from the right",
    "centre": "Its middle, from the middle of the layer's content",
    "colour": "The colour it is drawn in",
    "contrast": "How far light and dark lie apart",
    "length": "How far it reaches",
    "octaves": "How many layers of ever finer noise make it up",
    "opacity": "How much of it is seen",
    "radius": "How far it reaches from its middle",
    "size": "How large it is",
    "softness": "How wide its edge is softened",
    "strength": "How strong it is",
    "width": "How wide it is",
}


def number(
    id: str, label: str, default: float, unit: str = "", low: float = -1e6, high: float = 1e6,
    *, whole: bool = False, step: float = 1.0, help: str = "",
    when: tuple[Needed, ...] = (),
    decimals: int | None = None, widget: str = "",
) -> PropertySpec:  # fmt: skip
    """A number with limits, both included."""
    places = (0 if whole else 1) if decimals is None else decimals
    return PropertySpec(
        id, label, Kind.NUMBER, float(default), "Effect", unit=unit, minimum=low, maximum=high,
        whole=whole, step=step, decimals=places, help=help or _HELP.get(id, ""), shown_when=when,
        widget=widget,
    )  # fmt: skip


def percent(
    id: str, label: str, default: float, low: float = 0.0, high: float = 100.0,
    *, help: str = "", when: tuple[Needed, ...] = (),
) -> PropertySpec:  # fmt: skip
    """A declaration of a percentage."""
    return number(id, label, default, "%", low, high, help=help, when=when)


def angle(id: str, label: str, default: float, *, help: str = "") -> PropertySpec:
    """Degrees clockwise from the right; a dial in the panel."""
    return number(id, label, default, "°", help=help, widget="dial")


def place(id: str, label: str, default: Point = (0.0, 0.0), *, help: str = "") -> PropertySpec:
    """A point of the layer, px from the middle of its content; a handle on the stage."""
    return PropertySpec(
        id, label, Kind.POINT, default, "Effect", unit="px", minimum=-1e6, maximum=1e6,
        widget="place", help=help or _HELP.get(id, ""),
    )  # fmt: skip


def pair(
    id: str, label: str, default: Point, unit: str = "px", low: float = -1e6, high: float = 1e6,
    *, help: str = "", linked: bool = False,
) -> PropertySpec:  # fmt: skip
    """Two numbers of one kind, such as an amount along x and along y."""
    return PropertySpec(
        id, label, Kind.POINT, default, "Effect", unit=unit, minimum=low, maximum=high,
        help=help or _HELP.get(id, ""), widget="linked" if linked else "",
    )  # fmt: skip


def colour(
    id: str, label: str, default: str, *, when: tuple[Needed, ...] = (),
    help: str = "", widget: str = "",
) -> PropertySpec:  # fmt: skip
    """A colour; with the widget "given" one that is found in what the effect is given."""
    return PropertySpec(
        id, label, Kind.COLOUR, default, "Effect", shown_when=when,
        help=help or _HELP.get(id, ""), widget=widget,
    )  # fmt: skip


def layer(id: str, label: str, *, help: str = "") -> PropertySpec:
    """Another layer of the scene."""
    return PropertySpec(id, label, Kind.LAYER, "", "Effect", help=help)


def flag(id: str, label: str, default: bool = False, *, help: str = "") -> PropertySpec:
    """A declaration of a switch."""
    return PropertySpec(id, label, Kind.FLAG, default, "Effect", help=help)


def choice(
    id: str, label: str, options: tuple[tuple[str, str], ...], default: str = "", *, help: str = "",
    when: tuple[Needed, ...] = (),
) -> PropertySpec:  # fmt: skip
    """One of some; the first is the default unless told otherwise."""
    return PropertySpec(
        id, label, Kind.CHOICE, default or options[0][0], "Effect", options=options, help=help,
        shown_when=when,
    )  # fmt: skip


SEED = number("seed", "Seed", 1, "", 0, 99999, whole=True, help="Another number, another chance")


NOISE_TYPES = (("smooth", "Smooth"), ("cellular", "Cellular"), ("ridged", "Ridged"))
NOISE = choice("kind", "Noise type", NOISE_TYPES, help="The character of the noise")
CLOUDS = choice(
    "kind", "Noise type", (*NOISE_TYPES, ("billow", "Billowing")), help="The character of the noise"
)
CONTRAST = percent("contrast", "Contrast", 0, -100, 100, help="How unlike they are")


def flow(default: float = 0.0) -> PropertySpec:
    """A declaration of how fast something changes by itself."""
    return number(
        "flow", "Flow", default, "/s", -100, 100, step=0.1, decimals=2,
        help="How fast it changes by itself; 0 stands still",
    )  # fmt: skip


EDGE_OPTIONS = (
    ("transparent", "Transparent"), ("colour", "A colour"), ("stretch", "Stretched edge"),
    ("repeat", "Repeated"), ("mirror", "Mirrored"),
)  # fmt: skip


def edges(default: str = "transparent") -> tuple[PropertySpec, PropertySpec]:
    """What lies beyond the layer's own edge."""
    return (
        choice(
            "edges",
            "Edge handling",
            EDGE_OPTIONS,
            default,
            help="What lies beyond the layer's own edge",
        ),
        colour(
            "edge-colour",
            "Edge colour",
            "#000000",
            when=where("edges", "colour"),
            help="The colour beyond the layer's own edge",
        ),
    )
