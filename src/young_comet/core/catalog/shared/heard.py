"""How something is heard: a sound, a clip's sound, a placed scene's."""

from __future__ import annotations

from dataclasses import replace

from ...model.specs import Kind, Needed, PropertySpec, where
from .time import TIME

_SHAPES = (
    ("even", "Even"), ("power", "Equal power"), ("smooth", "Smooth"), ("decibels", "In decibels"),
)  # fmt: skip


def heard_specs(shown_when: tuple[Needed, ...] = ()) -> tuple[PropertySpec, ...]:
    """The properties of what is heard."""
    ducked = (*shown_when, *where("sound.duck-under", given=True))
    return (
        PropertySpec(
            "sound.gain", "Gain", Kind.NUMBER, 0.0, "Sound", unit="dB", minimum=-96, maximum=24,
            step=0.5, decimals=1, shown_when=shown_when, help="How loud it is; -96 dB is silence",
        ),
        PropertySpec(
            "sound.pan", "Pan", Kind.NUMBER, 0.0, "Sound", unit="%", minimum=-100, maximum=100,
            decimals=0, shown_when=shown_when,
            help="-100 is left, 100 right: what it is panned away from becomes softer",
        ),
        PropertySpec("sound.muted", "Muted", Kind.FLAG, False, "Sound", shown_when=shown_when,
            help="Not heard, in playback and in what is rendered"),
        PropertySpec(
            "sound.fade-in", "Fade-in", Kind.NUMBER, 0.0, "Sound", unit="s", minimum=0, maximum=600,
            decimals=3, step=0.04, fixed=True, shown_when=shown_when,
            help="How long it takes to become loud at its start",
        ),
        PropertySpec(
            "sound.fade-in-shape", "Fade-in shape", Kind.CHOICE, "power", "Sound", options=_SHAPES,
            shown_when=shown_when,
            help="The course of the fade at its start",
        ),
        PropertySpec(
            "sound.fade-out", "Fade-out", Kind.NUMBER, 0.0, "Sound", unit="s", minimum=0,
            maximum=600, decimals=3, step=0.04, fixed=True, shown_when=shown_when,
            help="How long it takes to become silent at its end",
        ),
        PropertySpec(
            "sound.fade-out-shape", "Fade-out shape", Kind.CHOICE, "power", "Sound",
            options=_SHAPES,
            shown_when=shown_when,
            help="The course of the fade at its end",
        ),
        PropertySpec(
            "sound.duck-under", "Ducking layer", Kind.LAYER, "", "Sound", shown_when=shown_when,
            help="While that layer is heard this one is softer",
        ),
        PropertySpec(
            "sound.duck-by", "Ducking depth", Kind.NUMBER, 9.0, "Sound", unit="dB", minimum=0,
            maximum=96,
            decimals=1, step=0.5, shown_when=ducked,
            help="How much softer it becomes",
        ),
        PropertySpec(
            "sound.duck-attack", "Ducking attack", Kind.NUMBER, 0.15, "Sound", unit="s",
            minimum=0.001,
            maximum=10, decimals=3, step=0.01, fixed=True, shown_when=ducked,
            help="How long it takes to become softer, so that it is when the other begins",
        ),
        PropertySpec(
            "sound.duck-release", "Ducking release", Kind.NUMBER, 0.6, "Sound", unit="s",
            minimum=0.001, maximum=10, decimals=3, step=0.01, fixed=True,
            shown_when=ducked,
            help="How long it takes to become loud again",
        ),
    )  # fmt: skip


def pitch_spec(shown_when: tuple[Needed, ...] = ()) -> PropertySpec:
    """Whether another speed leaves the pitch alone."""
    low, high = KEEPS_PITCH
    return PropertySpec(
        "sound.keeps-pitch", "Constant pitch", Kind.FLAG, False, "Sound", shown_when=shown_when,
        help=f"At other speeds, from {low:g} to {high:g} %; beyond them pitch follows speed",
    )  # fmt: skip


# Speeds (%) at which a sound can keep its pitch.
KEEPS_PITCH = (25.0, 300.0)

_AFTER = (
    ("end", "Silence"), ("loop", "Loop"), ("there-and-back", "There and back"),
)  # fmt: skip
# What makes a picture stand still, or move by a curve, is not for sounds.
_PICTURES_ONLY = ("time.frozen", "time.frozen-at", "time.curve", "time.source")

# How a sound is played.
SOUND_TIME = tuple(
    replace(spec, default="end", options=_AFTER) if spec.id == "time.after" else spec
    for spec in TIME
    if spec.id not in _PICTURES_ONLY
)
