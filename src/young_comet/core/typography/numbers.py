"""Numbers that run: a number as a text, put where the words of a text have a mark for it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..timing.timebase import clock_text

MARK = "#"
GROUPS = {"none": "", "comma": ",", "point": ".", "blank": "\u202f", "apostrophe": "\u2019"}
# Beyond this a number is not counted any more.
_MOST = 1e15


@dataclass(frozen=True, slots=True)
class NumberForm:
    """How a number is shown: as a ``number`` or as a ``time`` of seconds. With so many decimals, at
    least so many digits before them, a sign between thousands, a decimal comma, a plus where it is
    positive; times by a pattern of hh, mm, ss and ff, for a rate."""

    shows: str = "number"
    decimals: int = 0
    digits: int = 1
    groups: str = "none"
    comma: bool = False
    plus: bool = False
    pattern: str = "mm:ss"
    fps: float = 25.0


def number_text(value: float, form: NumberForm) -> str:
    """A number as it is shown.

    >>> number_text(1234.5, NumberForm(decimals=2, groups="comma"))
    '1,234.50'
    """
    value = min(_MOST, max(-_MOST, value))
    if form.shows == "time":
        return clock_text(value, form.pattern, form.fps)
    said = f"{abs(value):.{form.decimals}f}"
    whole, _, rest = said.partition(".")
    negative = value < 0 and float(said) != 0
    whole = whole.zfill(form.digits)
    between = GROUPS[form.groups]
    if between:
        head = len(whole) % 3
        parts = [whole[:head]] if head else []
        parts += [whole[at : at + 3] for at in range(head, len(whole), 3)]
        whole = between.join(parts)
    sign = "-" if negative else "+" if form.plus and float(said) != 0 else ""
    return sign + whole + ("," if form.comma else ".") * bool(rest) + rest


@dataclass(frozen=True, slots=True)
class Rolling:
    """A number between two: the ``earlier`` one, which goes, and the one that comes in its place,
    as long, so much of whose way (0..1) is done."""

    earlier: str
    shown: str
    share: float


# As wide as a figure, where figures are of one width.
_FIGURE_SPACE = "\u2007"
_WHOLE = 1e-6


def rolling(value: float, form: NumberForm) -> Rolling:
    """A number whose last digit rolls to the next one, and those before it where they change too.

    >>> rolling(199.25, NumberForm())
    Rolling(earlier='199', shown='200', share=0.25)
    """
    value = min(_MOST, max(-_MOST, value))
    scale, sign = 10**form.decimals, -1 if value < 0 else 1
    steps = abs(value) * scale
    low = math.floor(steps + _WHOLE)
    share = max(0.0, steps - low)
    here = number_text(sign * low / scale, form)
    if share < _WHOLE:
        return Rolling(here, here, 1.0)
    after = number_text(sign * (low + 1) / scale, form)
    return Rolling(here.rjust(len(after), _FIGURE_SPACE), after, share)


@dataclass(frozen=True, slots=True)
class Numbered:
    """A text with its number in the place of its marks; without any it is the number alone."""

    text: str
    places: tuple[int, ...]
    """For each character of the words, and their end, where it is in the text."""

    def span(self, first: int, last: int) -> tuple[int, int]:
        """Where characters of the words are in the text."""
        end = len(self.places) - 1
        return self.places[min(first, end)], self.places[min(last, end)]


def numbered(words: str, shown: str) -> Numbered:
    """Words with a number in the place of each mark.

    >>> numbered("# kites", "12").text
    '12 kites'
    """
    if MARK not in words:
        return Numbered(shown, (0,) + (len(shown),) * len(words))
    parts, places, at = [], [], 0
    for letter in words:
        places.append(at)
        part = shown if letter == MARK else letter
        parts.append(part)
        at += len(part)
    return Numbered("".join(parts), (*places, at))
