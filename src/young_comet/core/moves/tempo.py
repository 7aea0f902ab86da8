"""When the units that a move goes over set out and how long each takes."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from ..model.specs import Kind, Needed, PropertySpec
from ..timing.spread import ORDERS, Tempo

# What a move can go over.
SPREADS = (
    ("whole", "The whole layer"),
    ("letters", "Letters"),
    ("words", "Words"),
    ("lines", "Lines"),
    ("slices", "Slices"),
    ("copies", "Copies"),
    ("group", "The layers of its group"),
)
TEXT_UNITS = ("letters", "words", "lines")

EACH_S = 0.6
# From one unit to the next: the property that says it, its label and its default in s, and of what.
STEPS = {
    "letters": ("spread.step-letters", "Letter step", 0.035, ("letters",)),
    "words": ("spread.step-words", "Word step", 0.09, ("words",)),
    "lines": ("spread.step-lines", "Line step", 0.14, ("lines",)),
    "slices": ("spread.step-pieces", "Piece step", 0.05, ("slices", "copies")),
    "copies": ("spread.step-pieces", "Piece step", 0.05, ("slices", "copies")),
    "group": ("spread.step-layers", "Layer step", 0.12, ("group",)),
}
TEMPOS = (("timed", "Each takes its time"), ("shared", "Shares of the phase"))


def _seconds(id: str, label: str, default: float, help: str) -> PropertySpec:
    return PropertySpec(
        id, label, Kind.NUMBER, default, "Move", unit="s", minimum=0.0, maximum=60.0, step=0.01,
        decimals=3, help=help, fixed=True,
    )  # fmt: skip


def _choice(id: str, label: str, options: tuple[tuple[str, str], ...], **more: Any) -> PropertySpec:
    chosen = {"default": options[0][0], "section": "Move", **more}
    return PropertySpec(id, label, Kind.CHOICE, options=options, **chosen)


# What a move can go over that pieces, or letters alone, cannot show.
NO_PIECES = ("slices",)
ONLY_PARTS = ("whole", "slices", "copies", "group")


def tempo_specs(
    over: str,
    each_s: float,
    letter_step_s: float | None = None,
    besides: tuple[str, ...] = (),
) -> tuple[PropertySpec, ...]:
    """What a move declares of its spread: over what it goes unless the artist says otherwise, and
    over what it does not go (``besides``), as it would do nothing there."""
    spreads = tuple(option for option in SPREADS if option[0] not in besides)
    spread = Needed(("spread.over",), besides=("whole",))
    timed = Needed(("spread.tempo",), ("timed",))
    steps: dict[str, PropertySpec] = {}
    for name, label, default, of in STEPS.values():
        if letter_step_s is not None and of == ("letters",):
            default = letter_step_s
        spec = _seconds(name, label, default, "How much later the next one sets out")
        steps[name] = replace(spec, shown_when=(Needed(("spread.over",), of), timed))
    each = _seconds("spread.each", "Each takes", each_s, "How long each of them is on its way")
    width = PropertySpec(
        "spread.width", "Overlap", Kind.NUMBER, 3.0, "Move", minimum=0.1, maximum=500.0, step=1.0,
        decimals=1, help="How many are on their way at once", fixed=True,
    )  # fmt: skip
    orders = tuple((o, o.replace("-", " ").capitalize()) for o in ORDERS)
    return (
        _choice(
            "spread.over", "Spread unit", spreads, default=over, help="What moves one after another"
        ),
        replace(
            _choice(
                "spread.tempo", "Tempo", TEMPOS,
                help="Whether each has a time of its own, or a share of the phase's length",
            ),
            shown_when=(spread,),
        ),
        replace(each, shown_when=(spread, timed)),
        *steps.values(),
        replace(width, shown_when=(spread, Needed(("spread.tempo",), ("shared",)))),
        replace(
            _choice("spread.order", "Sequence", orders, help="Which of them go first"),
            shown_when=(spread,),
        ),
    )  # fmt: skip


def tempo_of(params: dict[str, Any], count: int) -> Tempo:
    """The tempo of a move over so many units. What takes no time itself, as letters that are typed,
    comes at the end of its step."""
    step = STEPS.get(str(params.get("spread.over", "whole")))
    step_s = params.get(step[0], 0.0) if step else 0.0
    return Tempo(params.get("spread.each", EACH_S) or step_s, step_s, count)
