"""Outlines written as SVG path data (SVG 2, chapter 9)."""

from __future__ import annotations

import math
from collections.abc import Sequence

import skia

from .outline import Outline


def write_svg_path(outline: Outline) -> str:
    """The data of an outline: M, L, Q, C and Z with absolute points to seven digits."""
    words: list[str] = []
    verbs = skia.Path.Iter(outline.skia_path, False)
    while True:
        verb, points = verbs.next()
        match verb:
            case skia.Path.kMove_Verb:
                words.append("M" + _points(points[:1]))
            case skia.Path.kLine_Verb:
                words.append("L" + _points(points[1:2]))
            case skia.Path.kQuad_Verb:
                words.append("Q" + _points(points[1:3]))
            case skia.Path.kConic_Verb:
                # Four quadratic curves are nearer to an arc than a thousandth of it.
                quads = skia.Path.ConvertConicToQuads(*points[:3], verbs.conicWeight(), 2)
                words += ["Q" + _points(quads[n : n + 2]) for n in range(1, len(quads) - 1, 2)]
            case skia.Path.kCubic_Verb:
                words.append("C" + _points(points[1:4]))
            case skia.Path.kClose_Verb:
                words.append("Z")
            case _:
                return "".join(words)


def is_even_odd(outline: Outline) -> bool:
    """Whether what lies within an even number of contours is outside (`fill-rule: evenodd`)."""
    return bool(outline.skia_path.getFillType() == skia.PathFillType.kEvenOdd)


def number(value: float) -> str:
    """A number as SVG has it, as short as seven digits can be, without an exponent."""
    if not math.isfinite(value) or abs(value) < 1e-7:
        return "0"
    digits = max(0, min(9, 6 - math.floor(math.log10(abs(value)))))
    text = f"{value:.{digits}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def _points(points: Sequence[skia.Point]) -> str:
    return " ".join(f"{number(p.x())} {number(p.y())}" for p in points)
