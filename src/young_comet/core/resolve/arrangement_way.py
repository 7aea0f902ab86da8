"""Ways between arrangements: keys along a step, arcs of circles, the path of a layer."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from ...errors import YoungCometError
from ..geometry.affine import Point
from ..geometry.contours import parse_contours, write_contours
from ..geometry.trail import Trail, trail
from ..model import Keyframe, Layer

# Two moments nearer than this are one, s.
ONE_S = 1e-6


class Line:
    """The keys of a property while they are put together; times of the scene come in."""

    def __init__(self, start_s: float, value: Any) -> None:
        self.start_s = start_s
        self.made: list[Keyframe] = []
        self.value = value
        self._put(0.0, value, "hold")

    def _put(self, time_s: float, value: Any, easing: str, into: Any = None) -> None:
        local = round(time_s - self.start_s, 9)
        key = Keyframe.model_construct(
            id="", time_s=local, value=value, easing=easing, handle_in=into, handle_out=None,
            join="free",
        )  # fmt: skip
        if self.made and local - self.made[-1].time_s <= ONE_S:
            last = self.made.pop()
            key = key.model_copy(
                update={"time_s": last.time_s, "handle_in": into or last.handle_in}
            )
        self.made.append(key)
        self.value = value

    def jump(self, time_s: float, value: Any) -> None:
        """From then on another value."""
        self._put(time_s, value, "hold")

    def way(self, start: float, end: float, value: Any, easing: str, handles: Any) -> None:
        """On the way to a value between two times."""
        out, into = handles or (None, None)
        self._put(start, self.value, easing)
        self.made[-1] = self.made[-1].model_copy(update={"handle_out": out})
        self._put(end, value, "hold", into)

    def through(self, start: float, end: float, points: Sequence[Point]) -> None:
        """Through points at even times."""
        for index, point in enumerate(points):
            at = start + (end - start) * index / (len(points) - 1)
            self._put(at, point, "linear" if index < len(points) - 1 else "hold")

    def keys(self) -> tuple[Keyframe, ...]:
        """All keys, without a first one that the second repeats."""
        made = self.made
        if len(made) > 1 and made[0].value == made[1].value:
            made = made[1:]
        return tuple(key.model_copy(update={"id": f"a{n}"}) for n, key in enumerate(made))


def arc_handles(a: Point, b: Point, bend: float) -> tuple[Point, Point] | None:
    """The handles (out of the first point, into the second) of a cubic that is nearest to an arc
    of a circle through both: its height is ``bend`` times half the way, to the left of it where
    that is above 0; None where the two are one.

    A cubic's handles for an arc of angle w and radius r are 4/3 tan(w/4) r long (Riskus,
    Information Technology and Control 35, 2006); the height says tan(w/4) = bend.
    """
    way = complex(b[0] - a[0], b[1] - a[1])
    if abs(way) < 1e-9 or abs(bend) < 1e-9:
        return None
    quarter = math.atan(bend)
    radius = abs(way) / (2 * math.sin(2 * quarter)) if abs(math.sin(2 * quarter)) > 1e-9 else 0.0
    length = 4 / 3 * math.tan(quarter) * radius
    along = way / abs(way)
    # On the screen y goes down: what is to the left of the way is above one that leads right.
    out = along * complex(math.cos(2 * quarter), -math.sin(2 * quarter)) * length
    into = along * complex(math.cos(2 * quarter), math.sin(2 * quarter)) * -length
    return (out.real, out.imag), (into.real, into.imag)


def path_of(layer: Layer) -> str:
    """The path that a layer is drawn by, as SVG path data: a shape's, that which a text follows,
    the first part's of a drawing; "" where it has none. Of keys the first counts."""
    names = ["shape.path", "text.path"]
    names += [f"part.{part.id}.path" for part in layer.parts]
    for name in names:
        prop = layer.properties.get(name)
        value = None if prop is None else (prop.keys[0].value if prop.keys else prop.value)
        if isinstance(value, str) and value:
            return value
    return ""


def first_contour(data: str) -> Trail | None:
    """The first contour of SVG path data as a trail; None where there is none, or it is no path."""
    try:
        contours = parse_contours(data)
        return trail(write_contours(contours[:1])) if contours else None
    except YoungCometError:
        return None
