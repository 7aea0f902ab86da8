"""Rational frame rates and timecode.

A frame's time is computed from its number by one exact fraction, so nothing drifts:
frame 17982 of 29.97 fps is 17982 * 1001 / 30000 s, not a sum of 17982 rounded steps.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from fractions import Fraction

from ...errors import DocumentError

# Two times closer than this (s) are the same moment: far below any frame, far above float noise.
SAME_MOMENT_S = 1e-6


@dataclass(frozen=True, slots=True)
class Rate:
    """Frames per second as ``num / den``, for example 30000/1001."""

    num: int
    den: int = 1

    def __post_init__(self) -> None:
        if self.num <= 0 or self.den <= 0 or not 1 <= self.num / self.den <= 240:
            raise DocumentError.expected(
                "frame rate",
                "a fraction between 1 and 240 frames per second",
                f"{self.num}/{self.den}",
            )

    @property
    def fps(self) -> float:
        """Frames a second."""
        return self.num / self.den

    @property
    def nominal(self) -> int:
        """The whole number of frames that timecode counts in a second (30 for 29.97)."""
        return round(self.num / self.den)

    @property
    def label(self) -> str:
        """As it is written: 25, 29.97."""
        return f"{self.fps:.3f}".rstrip("0").rstrip(".")

    def time_of(self, frame: int) -> float:
        """Start of a frame, seconds."""
        return frame * self.den / self.num

    def frame_at(self, time_s: float) -> int:
        """Number of the frame that is on at a time; a frame includes its start, not its end."""
        return math.floor((time_s + SAME_MOMENT_S) * self.num / self.den)

    def nearest_frame(self, time_s: float) -> int:
        """The frame that begins nearest to a time."""
        return math.floor(time_s * self.num / self.den + 0.5)

    def snap(self, time_s: float) -> float:
        """The nearest frame start, seconds."""
        return self.time_of(self.nearest_frame(time_s))

    def frame_count(self, length_s: float) -> int:
        """Frames whose start lies inside a length; at least one."""
        return max(1, math.ceil((length_s - SAME_MOMENT_S) * self.num / self.den))

    @classmethod
    def parse(cls, text: str) -> Rate:
        """``"25"``, ``"29.97"``, ``"30000/1001"``; the NTSC decimals mean their fractions."""
        text = text.strip()
        for rate in COMMON_RATES:
            if text in (rate.label, f"{rate.fps:.2f}", f"{rate.num}/{rate.den}"):
                return rate
        try:
            value = Fraction(text).limit_denominator(1001)
        except (ValueError, ZeroDivisionError):
            raise DocumentError.expected(
                "frame rate", "a number such as 25 or 30000/1001", text
            ) from None
        return cls(value.numerator, value.denominator)


COMMON_RATES: tuple[Rate, ...] = (
    Rate(24000, 1001), Rate(24), Rate(25), Rate(30000, 1001),
    Rate(30), Rate(50), Rate(60000, 1001), Rate(60),
)  # fmt: skip


def format_timecode(time_s: float, rate: Rate, *, hours: bool = False) -> str:
    """Non-drop timecode ``mm:ss:ff``, or ``hh:mm:ss:ff`` when asked or needed."""
    frame = rate.nearest_frame(abs(time_s))
    seconds, frames = divmod(frame, rate.nominal)
    minutes, seconds = divmod(seconds, 60)
    whole_hours, minutes = divmod(minutes, 60)
    sign = "-" if time_s < 0 and frame else ""
    short = f"{minutes:02d}:{seconds:02d}:{frames:02d}"
    return f"{sign}{whole_hours:02d}:{short}" if hours or whole_hours else sign + short


def clock_text(seconds: float, pattern: str, fps: float) -> str:
    """A time as a text: hh, mm, ss, ff of a pattern stand for hours, minutes, seconds, frames; the
    largest of them that is there takes the rest. Negative times have a minus."""
    frames = math.floor(abs(seconds) * fps + 1e-6)
    a_second = max(1, round(fps))
    total = math.floor(abs(seconds) + 1e-6)
    parts = {"ff": min(frames - math.floor(total * fps + 1e-6), a_second - 1)}
    parts["ss"] = total % 60 if "mm" in pattern or "hh" in pattern else total
    parts["mm"] = (total // 60) % 60 if "hh" in pattern else total // 60
    parts["hh"] = total // 3600
    for name, part in parts.items():
        pattern = pattern.replace(name, f"{max(0, part):02d}")
    return f"-{pattern}" if seconds < 0 else pattern


_TIMECODE = re.compile(r"(?:(?:(\d+):)?(\d+):)?(\d+):(\d+)")
_PARTS = re.compile(r"(?:(\d+)h)?\s*(?:(\d+)m)?\s*(?:(\d+)s)?\s*(?:(\d+)f)?")
_AMOUNT = re.compile(r"(\d+(?:\.\d*)?|\.\d+)\s*(s|f|ms|)")


def parse_time(text: str, rate: Rate, *, now_s: float = 0.0) -> float:
    """Seconds meant by ``2.5s``, ``2.5``, ``60f``, ``400ms``, ``2:10`` (seconds and frames),
    ``1:02:10``, ``2s10f``, ``+29f`` or ``-1s``.

    A leading sign counts from ``now_s``. Raises DocumentError for anything else.
    """
    raw = text
    text = text.strip().lower()
    sign = 0
    if text[:1] in "+-" and text:
        sign = 1 if text[0] == "+" else -1
        text = text[1:].strip()
    parts = _PARTS.fullmatch(text)
    several = parts if parts and any(part for part in parts.groups()) else None
    if match := _TIMECODE.fullmatch(text) or several:
        hours, minutes, seconds, frames = (int(part or 0) for part in match.groups())
        if match[0].count(":") == 1 and frames >= rate.nominal:
            raise DocumentError.expected(
                "time", f"seconds and frames, of which a second has {rate.nominal}", raw
            )
        count = ((hours * 60 + minutes) * 60 + seconds) * rate.nominal + frames
        value = rate.time_of(count)
    elif match := _AMOUNT.fullmatch(text):
        number, unit = float(match[1]), match[2]
        value = number * rate.den / rate.num if unit == "f" else number
        value = value / 1000 if unit == "ms" else value
    else:
        raise DocumentError.expected("time", "a time such as 2.5s, 60f, 2:10, 2s10f or +29f", raw)
    return now_s + sign * value if sign else value
