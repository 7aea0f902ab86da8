"""Counters and timecode."""

from __future__ import annotations

import math

import numpy as np

from ..geometry.affine import Affine
from ..geometry.outline import skia_matrix
from ..model.specs import Kind, PropertySpec, where
from ..pixels.canvas import Canvas
from ..pixels.raster import empty
from ..timing import clock_text
from .base import (
    EffectKind,
    Params,
    Region,
    Work,
    choice,
    colour,
    number,
    percent,
    place,
)
from .laid import generator, laid_on

_RUNS = where("what", "number", "clock")
_CLOCKS = ("mm:ss", "ss", "ss:ff", "mm:ss:ff", "hh:mm:ss", "hh:mm:ss:ff")


def counter_text(p: Params, work: Work) -> str:
    """What a counter shows at its time."""
    moment = work.time_s
    if p["what"] in ("number", "clock"):
        share = 0.0 if work.length_s <= 0 else min(1.0, max(0.0, moment / work.length_s))
        share = p["progress"] / 100 if p["driven"] == "progress" else share
        value = p["from"] + (p["to"] - p["from"]) * share
        if p["what"] == "number":
            return f"{value:,.{round(p['decimals'])}f}"
        if p["driven"] == "clock":  # in real time, up or down, until it is there
            way = math.copysign(moment, p["to"] - p["from"])
            low, high = sorted((p["from"], p["to"]))
            value = min(high, max(low, p["from"] + way))
        return clock_text(value, p["pattern"], work.fps)
    if p["what"] == "frame":
        return str(math.floor(moment * work.fps + 1e-6))
    frames = math.floor(abs(moment) * work.fps + 1e-6)
    per = max(1, round(work.fps))
    seconds, ff = divmod(frames, per)
    minutes, ss = divmod(seconds, 60)
    hours, mm = divmod(minutes, 60)
    return f"{hours:02d}:{mm:02d}:{ss:02d}:{ff:02d}"


def _counter(p: Params, work: Work, region: Region) -> np.ndarray:
    pixels = empty(region[2] - region[0], region[3] - region[1])
    text = p["before"] + counter_text(p, work) + p["after"]
    outline = work.text(text, p["font"], 600.0, p["size"])
    x, y = work.at(p["place"])
    matrix = Affine.shift(x - region[0], y - region[1]) @ Affine.scaling(work.scale, work.scale)
    Canvas(pixels).fill(outline.skia_path, p["colour"], skia_matrix(matrix), 1.0)
    return pixels


COUNTERS = (
    EffectKind(
        "counter", "Timecode and counter", "generate", "Shows time, frames, or a number that runs.",
        (
            choice(
                "what", "Counter type",
                (("timecode", "Timecode"), ("frame", "Frame"), ("number", "A number"),
                 ("clock", "A time, up or down")), help="What is counted: numbers, a time, a date",
            ),
            PropertySpec("font", "Typeface", Kind.FONT, "jetbrains-mono", "Effect",
                help="The face that its figures are set in"),
            number("size", "Font size", 64, "px", 1, 2000,
                help="Height of an em"), place("place", "Figure position",
                help="Where the figures stand"),
            colour("colour", "Colour", "#f8f1e4"),
            number("from", "Start value", 0, when=_RUNS, help="Of a time, seconds"),
            number("to", "End value", 100, when=_RUNS, help="Of a time, seconds"),
            choice(
                "pattern", "Time format", tuple((each, each) for each in _CLOCKS),
                when=where("what", "clock"), help="How the time is written",
            ),
            number("decimals", "Decimals", 0, "", 0, 6, whole=True, when=where("what", "number"),
                help="Figures behind the point"),
            choice(
                "driven", "Counter driver",
                (("span", "The layer's span"), ("progress", "Progress"),
                 ("clock", "The clock (a time)")),
                when=_RUNS,
                help="By the time, or by a progress with keys",
            ),
            percent("progress", "Progress", 0, help="0 is the start value, 100 the end value"),
            PropertySpec("before", "Prefix", Kind.TEXT, "", "Effect",
                help="What is written before the figures"),
            PropertySpec("after", "Suffix", Kind.TEXT, "", "Effect",
                help="What is written behind the figures"), *laid_on("frame"),
        ),
        generator(_counter), timed=True, fills=True,
    ),
)  # fmt: skip
