"""Easings from their texts, and the list of them that menus and galleries show."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from ....errors import DocumentError
from .base import Easing, Reversed
from .css import CubicBezier, Hold, Linear, Steps, linear_stops
from .families import FAMILIES, MODES, Family, family_names
from .spring import SoftSpring, Spring

KEYWORDS: dict[str, Easing] = {
    "linear": Linear(),
    "ease": CubicBezier(0.25, 0.1, 0.25, 1.0, "ease"),
    "ease-in": CubicBezier(0.42, 0.0, 1.0, 1.0, "ease-in"),
    "ease-out": CubicBezier(0.0, 0.0, 0.58, 1.0, "ease-out"),
    "ease-in-out": CubicBezier(0.42, 0.0, 0.58, 1.0, "ease-in-out"),
    "hold": Hold(),
}
_ALIASES: dict[str, Easing] = {
    "step-start": Steps(1, "jump-start"),
    "step-end": Steps(1, "jump-end"),
}
REFERENCE = "easing:"
MAX_TEXT = 4000
_CALL = re.compile(r"\s*([a-z-]+)\s*\((.*)\)\s*", re.DOTALL)


def easing_names() -> tuple[str, ...]:
    """The keywords, in the order menus show them."""
    return tuple(KEYWORDS)


@dataclass(frozen=True, slots=True)
class GalleryEntry:
    """An easing as the gallery offers it."""

    section: str
    label: str
    text: str


def gallery() -> tuple[GalleryEntry, ...]:
    """All ready-made easings, in sections."""
    entries = [GalleryEntry("Basic", name, name) for name in KEYWORDS]
    for name in family_names():
        family = name.split("-")[0]
        section = "Swinging" if family in ("back", "elastic", "bounce") else "Families"
        entries.append(GalleryEntry(section, name, parse_easing(name).text))
    entries += [
        GalleryEntry("Springs", "soft spring", "spring(0.2)"),
        GalleryEntry("Springs", "spring", "spring(0.45)"),
        GalleryEntry("Springs", "lively spring", "spring(0.7)"),
        GalleryEntry("Springs", "heavy spring", "spring(120, 14, 1)"),
        GalleryEntry("Steps", "4 steps", "steps(4, jump-end)"),
        GalleryEntry("Steps", "8 steps", "steps(8, jump-end)"),
        GalleryEntry("Steps", "stepped stops", "linear(0, 0.3 20%, 0.3 40%, 1)"),
    ]
    return tuple(entries)


@lru_cache(maxsize=8192)
def parse_easing(text: str) -> Easing:
    """The easing meant by its text; DocumentError says what is known if it means none.

    Known are the CSS texts, ``hold``, the families (``back-out(0.2)``), ``spring(bounciness)``,
    ``spring(bounciness, 0.8s)``, ``spring(stiffness, damping, mass)`` and ``reversed(...)``.
    """
    text = text.strip()
    if len(text) > MAX_TEXT:
        raise DocumentError("expected at most 4000 characters", field="easing")
    if easing := KEYWORDS.get(text) or _ALIASES.get(text) or _family(text, ""):
        return easing
    if match := _CALL.fullmatch(text):
        try:
            easing = _call(match[1], match[2])
        except (ValueError, OverflowError):
            easing = None
        if easing is not None:
            return easing
    raise DocumentError.expected(
        "easing",
        f"one of {', '.join(KEYWORDS)}, a family such as sine-in-out or back-out(0.1), "
        "cubic-bezier(x1, y1, x2, y2), steps(n), linear(0, 0.5 20%, 1), spring(bounciness) "
        "or spring(stiffness, damping, mass)",
        text,
    )


def _call(name: str, arguments: str) -> Easing | None:
    if name == "reversed":
        inner = parse_easing(arguments)
        if isinstance(inner, Reversed):
            return inner.inner
        return inner.reversed()
    if name == "linear":
        return linear_stops(arguments)
    if "(" in arguments or ")" in arguments:
        return None
    parts = [part.strip() for part in arguments.split(",")]
    if name == "steps":
        if len(parts) not in (1, 2):
            return None
        return Steps(int(parts[0]), *parts[1:])
    if name == "spring":
        return _spring(parts)
    if name == "cubic-bezier":
        x1, y1, x2, y2 = (float(part) for part in parts)
        return CubicBezier(x1, y1, x2, y2)
    return _family(name, arguments)


def _spring(parts: list[str]) -> Easing | None:
    if len(parts) == 2 and parts[1].endswith("s"):
        return SoftSpring(float(parts[0]), float(parts[1][:-1]))
    numbers = [float(part) for part in parts]
    if len(numbers) == 1:
        return SoftSpring(numbers[0])
    return Spring(*numbers) if len(numbers) == 3 else None


def _family(name: str, arguments: str) -> Easing | None:
    family, _, mode = name.partition("-")
    if family not in FAMILIES or mode not in MODES:
        return None
    parts = [part for part in arguments.split(",") if part.strip()]
    return Family(family, mode, tuple(float(part) for part in parts))


def resolve_easing(text: str, saved: Mapping[str, str]) -> Easing:
    """As ``parse_easing``, where ``easing:ID`` means one of a project's own, by their texts.

    One that is gone counts as linear, so that a picture can still be drawn.
    """
    if text.startswith(REFERENCE):
        return parse_easing(saved.get(text[len(REFERENCE) :], "linear"))
    return parse_easing(text)
