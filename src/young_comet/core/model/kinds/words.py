"""Texts of all sorts, choices and switches."""

from __future__ import annotations

import re
from typing import Any

from ....errors import DocumentError
from ...timing import parse_easing
from .base import MAX_TEXT, Kind, Limits

_DASH = re.compile(r"\s*(?:\d+(?:\.\d+)?(?:[\s,]+|$))*")


def as_text(value: Any) -> str:
    """An expression's value as it is shown in a text: whole numbers without a point."""
    if isinstance(value, str):
        return value
    if isinstance(value, tuple):
        return ", ".join(as_text(item) for item in value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    rounded = round(value, 6)
    return str(int(rounded)) if rounded == int(rounded) else f"{rounded:.6f}".rstrip("0")


def check_easing(text: str) -> str:
    """The text if it is an easing or names one of the project's own."""
    if not re.fullmatch(r"easing:[A-Za-z0-9][A-Za-z0-9_-]{0,63}", text):
        parse_easing(text)
    return text


def dash_lengths(text: str, field: str = "dash") -> tuple[float, ...]:
    """The lengths in a dash text, e.g. "24 12"; empty for a whole line."""
    if not _DASH.fullmatch(text):
        raise DocumentError.expected(field, "lengths in px such as 24 12", text)
    lengths = tuple(float(part) for part in re.split(r"[\s,]+", text.strip()) if part)
    if len(lengths) > 32 or (lengths and sum(lengths) < 0.1):
        raise DocumentError.expected(field, "up to 32 lengths that are not all 0", text)
    return lengths


_FEATURE = re.compile(r"""["']?([A-Za-z0-9]{4})["']?(?:\s+(on|off|\d{1,3}))?""")


def features_of(text: str, field: str = "features") -> tuple[tuple[str, int], ...]:
    """OpenType features as CSS lists them in font-feature-settings: tags with commas between them,
    each with on, off or a number after it.

    >>> features_of("smcp, liga off, ss01 2")
    (('smcp', 1), ('liga', 0), ('ss01', 2))
    """
    found: dict[str, int] = {}
    for part in text.split(","):
        if not part.strip():
            continue
        match = _FEATURE.fullmatch(part.strip())
        if match is None:
            raise DocumentError.expected(
                field, "OpenType features such as smcp, liga off, ss01 2", part.strip()
            )
        tag, value = match.groups()
        found[tag] = {None: 1, "on": 1, "off": 0}.get(value, -1)
        if found[tag] < 0:
            found[tag] = int(value)
    if len(found) > 64:
        raise DocumentError.expected(field, "at most 64 features", str(len(found)))
    return tuple(found.items())


# So many letters of a text are enough to know it again.
_SAID = 24


class TextKind(Kind):
    """A line of text."""

    id = "text"


class WordsKind(Kind):
    """What a text says: its keys hold until the next."""

    id = "words"
    reckoned = holds = True

    def from_expression(self, value: Any, spec: Limits) -> str:
        return as_text(value)[:MAX_TEXT]

    def said(self, value: Any, spec: Limits) -> str:
        line = " ".join(value.split())
        return f"“{line}”" if len(line) <= _SAID else f"“{line[: _SAID - 1]}…”"


class EasingKind(Kind):
    """An easing as its text, or ``easing:ID`` of one that the project keeps."""

    id = "easing"

    def check(self, spec: Limits, value: Any, field: str) -> str:
        return check_easing(super().check(spec, value, field))


class DashKind(Kind):
    """Lengths of dashes and gaps, px: "24 12"."""

    id = "dash"

    def check(self, spec: Limits, value: Any, field: str) -> str:
        text: str = super().check(spec, value, field)
        dash_lengths(text, field)
        return text


class FeaturesKind(Kind):
    """OpenType features: "smcp, liga off"."""

    id = "features"
    holds = True

    def check(self, spec: Limits, value: Any, field: str) -> str:
        text: str = super().check(spec, value, field)
        words = {0: " off", 1: ""}
        return ", ".join(
            f"{tag}{words.get(value, f' {value}')}" for tag, value in features_of(text, field)
        )


class ChoiceKind(Kind):
    """One of the declaration's options."""

    id = "choice"

    def check(self, spec: Limits, value: Any, field: str) -> str:
        text: str = super().check(spec, value, field)
        if text not in (known := [option for option, _ in spec.options]):
            raise DocumentError.expected(field, "one of " + ", ".join(known), text)
        return text

    def said(self, value: Any, spec: Limits) -> str:
        return dict(spec.options).get(value, "").lower()


class FlagKind(Kind):
    """True or false."""

    id = "flag"

    def check(self, spec: Limits, value: Any, field: str) -> bool:
        if not isinstance(value, bool):
            raise DocumentError.expected(field, "true or false", value)
        return value

    def said(self, value: Any, spec: Limits) -> str:
        return "on" if value else "off"
