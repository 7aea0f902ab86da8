"""Colours: straight-alpha sRGB with components 0..1; hex text in documents."""

from __future__ import annotations

import re

from ...errors import DocumentError

Rgba = tuple[float, float, float, float]

_HEX = re.compile(r"#(?:[0-9a-fA-F]{3,4}|[0-9a-fA-F]{6}|[0-9a-fA-F]{8})")


def parse_colour(text: str, field: str = "colour") -> Rgba:
    """``#rgb``, ``#rgba``, ``#rrggbb`` or ``#rrggbbaa`` (CSS Color 4, hex notation)."""
    if not isinstance(text, str) or not _HEX.fullmatch(text):
        raise DocumentError.expected(field, "a hex colour such as #ff7a45 or #ff7a4580", text)
    digits = text[1:]
    if len(digits) <= 4:
        digits = "".join(d * 2 for d in digits)
    parts = [int(digits[i : i + 2], 16) / 255 for i in range(0, len(digits), 2)]
    return (parts[0], parts[1], parts[2], parts[3] if len(parts) == 4 else 1.0)


def format_colour(colour: Rgba) -> str:
    """Lower-case hex; the alpha only where it is not 1."""
    parts = [round(min(1.0, max(0.0, c)) * 255) for c in colour]
    text = "#" + "".join(f"{p:02x}" for p in parts[:3])
    return text if parts[3] == 255 else text + f"{parts[3]:02x}"


def mix(a: Rgba, b: Rgba, amount: float) -> Rgba:
    """Premultiplied sRGB interpolation (CSS Color 4, section 12.3), clamped to 0..1."""
    alpha = min(1.0, max(0.0, a[3] + (b[3] - a[3]) * amount))
    if alpha <= 0.0:
        return (a[0], a[1], a[2], 0.0) if amount < 0.5 else (b[0], b[1], b[2], 0.0)
    channels = (
        min(1.0, max(0.0, (p * a[3] + (q * b[3] - p * a[3]) * amount) / alpha))
        for p, q in zip(a[:3], b[:3], strict=True)
    )
    return (*channels, alpha)  # type: ignore[return-value]


def argb(colour: Rgba, opacity: float = 1.0) -> int:
    """The colour as one 32-bit number 0xAARRGGBB, its alpha times ``opacity``."""
    r, g, b, a = (round(min(1.0, max(0.0, c)) * 255) for c in (*colour[:3], colour[3] * opacity))
    return (a << 24) | (r << 16) | (g << 8) | b
