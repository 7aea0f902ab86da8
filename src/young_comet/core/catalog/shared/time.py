"""Which part of its source a layer plays, and how."""

from __future__ import annotations

from ...model.specs import Kind, PropertySpec, where

_PLAYED_AGAIN = ("loop", "there-and-back")

TIME = (
    PropertySpec(
        "time.speed", "Speed", Kind.NUMBER, 100.0, "Time", unit="%", minimum=1, maximum=10000,
        fixed=True, help="100 is as fast as it was made",
    ),
    PropertySpec("time.reversed", "Reversed", Kind.FLAG, False, "Time",
        help="The source is played from its end to its start"),
    PropertySpec(
        "time.from", "Source start", Kind.NUMBER, 0.0, "Time", unit="s", minimum=0, maximum=36000,
        decimals=3, step=0.1, fixed=True, help="Where the part of the source begins that is used",
    ),
    PropertySpec(
        "time.to", "Source end", Kind.NUMBER, 0.0, "Time", unit="s", minimum=0, maximum=36000,
        decimals=3, step=0.1, fixed=True, help="Where that part ends; 0 is the source's own end",
    ),
    PropertySpec(
        "time.offset", "Slip offset", Kind.NUMBER, 0.0, "Time", unit="s", minimum=-36000,
        maximum=36000, decimals=3, step=0.04, fixed=True,
        help="How far into that part the layer starts",
    ),
    PropertySpec(
        "time.after", "After the end", Kind.CHOICE, "stay", "Time",
        options=(
            ("stay", "Its last frame stays"), ("end", "Nothing is shown"),
            ("loop", "Loop"), ("there-and-back", "There and back"),
        ),
        help="What happens when the source is over: it holds, goes out, begins anew or comes back",
    ),
    PropertySpec(
        "time.times", "Play count", Kind.NUMBER, 0.0, "Time", minimum=0, maximum=10000, whole=True,
        decimals=0, fixed=True, shown_when=where("time.after", *_PLAYED_AGAIN),
        help="How often it is played; 0 is for ever",
    ),
    PropertySpec("time.frozen", "Freeze frame", Kind.FLAG, False, "Time",
        help="One frame of the source is shown all the time"),
    PropertySpec(
        "time.frozen-at", "Frozen second", Kind.NUMBER, 0.0, "Time", unit="s", minimum=0,
        maximum=36000, decimals=3, step=0.04, fixed=True, shown_when=where("time.frozen", True),
        help="The second of the source that is shown all the time",
    ),
    PropertySpec(
        "time.curve", "Time curve", Kind.FLAG, False, "Time",
        help="The source's second as a value with keys and easings",
    ),
    PropertySpec(
        "time.source", "Source second", Kind.NUMBER, 0.0, "Time", unit="s", minimum=0,
        maximum=36000, decimals=3, step=0.04, shown_when=where("time.curve", True),
        help="The second of the source that is shown, as a value with keys",
    ),
)  # fmt: skip
