"""The festival's pictures, drawn as SVG by this module."""

from __future__ import annotations

import math
import random

EMBER, AMBER, TEAL, DEEP, CREAM = "#ff7a45", "#ffb44a", "#2f9fb3", "#19677d", "#f8f1e4"


def emblem() -> str:
    """The four-panel kite, 480 x 560 px, its spars crossing at (240, 200)."""
    top, right, bottom, left, cross = (262, 8), (434, 186), (214, 552), (46, 170), (240, 200)

    def panel(a: tuple[int, int], b: tuple[int, int], colour: str) -> str:
        points = " ".join(f"{x},{y}" for x, y in (a, b, cross))
        return f'<polygon points="{points}" fill="{colour}" stroke="{colour}" stroke-width="1"/>'

    panels = [
        panel(left, top, AMBER),
        panel(top, right, EMBER),
        panel(right, bottom, DEEP),
        panel(bottom, left, TEAL),
    ]
    spars = (
        f'<path d="M{top[0]} {top[1]} L{cross[0]} {cross[1]} L{bottom[0]} {bottom[1]} '
        f'M{left[0]} {left[1]} L{cross[0]} {cross[1]} L{right[0]} {right[1]}" '
        f'fill="none" stroke="{CREAM}" stroke-opacity="0.55" stroke-width="3"/>'
    )
    return _svg(480, 560, "".join(panels) + spars)


def bow(left: str, right: str) -> str:
    """One bow of the kite's tail, 120 x 72 px."""
    return _svg(
        120,
        72,
        f'<path d="M60 36 L8 6 Q2 36 8 66 Z" fill="{left}"/>'
        f'<path d="M60 36 L112 6 Q118 36 112 66 Z" fill="{right}"/>'
        f'<circle cx="60" cy="36" r="7" fill="{CREAM}"/>',
    )


def cloud_bank(seed: int, width: int, height: int, colours: tuple[str, str]) -> str:
    """A bank of soft clouds: overlapping discs on a flat base, lit from above."""
    rng = random.Random(seed)
    base = height * 0.74
    discs = []
    x = height * 0.5
    while x < width - height * 0.5:
        near_edge = min(x, width - x) / (width / 2)
        radius = height * (0.12 + 0.26 * math.sqrt(near_edge) * rng.uniform(0.55, 1.0))
        y = base - radius * rng.uniform(0.35, 0.75)
        discs.append(f'<circle cx="{x:.0f}" cy="{y:.0f}" r="{radius:.0f}"/>')
        x += radius * rng.uniform(0.75, 1.15)
    flat = (
        f'<rect x="{height * 0.22:.0f}" y="{base - height * 0.16:.0f}" '
        f'width="{width - height * 0.44:.0f}" height="{height * 0.2:.0f}" rx="{height * 0.1:.0f}"/>'
    )
    blur = height * 0.016
    light = (
        f'<linearGradient id="l" gradientUnits="userSpaceOnUse" x1="0" y1="{height * 0.12:.0f}" '
        f'x2="0" y2="{base:.0f}"><stop offset="0" stop-color="{colours[0]}"/>'
        f'<stop offset="1" stop-color="{colours[1]}"/></linearGradient>'
    )
    # The undersides melt away: the whole bank is faded together, so no disc shows through.
    fade = (
        f'<linearGradient id="f" gradientUnits="userSpaceOnUse" x1="0" y1="{height * 0.3:.0f}" '
        f'x2="0" y2="{height * 0.8:.0f}"><stop offset="0" stop-color="#fff"/>'
        f'<stop offset="1" stop-color="#000"/></linearGradient>'
        f'<mask id="m" maskUnits="userSpaceOnUse" x="0" y="0" width="{width}" height="{height}">'
        f'<rect width="{width}" height="{height}" fill="url(#f)"/></mask>'
        f'<filter id="s" x="-5%" y="-10%" width="110%" height="120%">'
        f'<feGaussianBlur stdDeviation="{blur:.1f}"/></filter>'
    )
    discs_and_base = f'<g fill="url(#l)" filter="url(#s)">{"".join(discs)}{flat}</g>'
    return _svg(width, height, f'<defs>{light}{fade}</defs><g mask="url(#m)">{discs_and_base}</g>')


def _svg(width: int, height: int, body: str) -> str:
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}" '
        f'viewBox="0 0 {width} {height}">{body}</svg>'
    )
