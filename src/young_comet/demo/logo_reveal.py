"""The logo reveal: the kite flies in, settles on its string, the name follows."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..core.model import Asset, Layer, Project, RateModel, SavedEasing, Scene
from ..core.motion import fit_motion
from ..core.resolve import SceneEvaluator
from .parts import FLIGHT, again, key, layer, looks, moved, scene, stack
from .sky import dusk_sky

ID = "logo-reveal"
LENGTH_S = 4.8
LANDING_S = 1.76


def logo_reveal() -> list[dict[str, Any]]:
    """The edits that build the scene."""
    end = LENGTH_S
    marks = (("gust", "gust", 0.12), ("hit", "hit", LANDING_S), ("tag", "tag", 2.44))
    return [
        scene(ID, "Logo reveal", end),
        {"kind": "change-scene", "scene": ID, "shutter": {"on": True, "angle_deg": 180}},
        stack(ID, [*dusk_sky(end), _sunbeams(end), *_kite(end), *_name(end), _grade(end)]),
        *({"kind": "add-mark", "scene": ID, "id": i, "name": n, "time_s": t} for i, n, t in marks),
    ]


def _sunbeams(end: float) -> dict[str, Any]:
    """Light behind the kite when it lands, seen only outside the clouds."""
    return looks(
        layer(
            "sunbeams", "Sunbeams", "backdrop", 1.4, end, fill__colour="#00000000",
            opacity=[key(0, 0, "ease-out"), key(0.6, 62, "ease-in-out"), key(2.6, 30)],
            matte__layer="clouds-near", matte__inverted=True,
        ),
        effects=(
            ("rays", {"centre": [-484, -168], "length": 1050, "count": 11, "falloff": 40,
                      "sharpness": 55, "flow": 0.18, "colour": "#ffd79a", "cover": "box"}),
        ),
    )  # fmt: skip


def _grade(end: float) -> dict[str, Any]:
    """A grade over everything."""
    return looks(
        layer("grade", "Grade", "treatment", 0, end),
        effects=(
            ("curves", {"rgb": [[0, 0.015], [0.25, 0.215], [0.75, 0.79], [1, 1]]}),
            ("vignette", {"amount": 40, "size": 45, "softness": 70}),
            # Three frames of kick when it lands.
            (
                "zoom-blur",
                {
                    "centre": [-484, -168],
                    "amount": [
                        key(LANDING_S - 0.04, 0, "linear"),
                        key(LANDING_S, 7, "ease-out"),
                        key(LANDING_S + 0.12, 0),
                    ],
                },
            ),
        ),
    )


# The kite's lower tip in its own space, and how far below it things hang when it rests.
TIP = (-26.0, 272.0)


def _kite(end: float) -> list[dict[str, Any]]:
    emblem = _emblem(end)
    lit = looks(emblem, effects=(
        ("glow", {"size": 46, "strength": [
            key(1.4, 0, "ease-out"), key(1.7, 120, "ease-in-out"), key(3.2, 34)]}),
    ))  # fmt: skip
    return [
        layer(
            "string", "String", "shape", 1.6, end,
            shape__kind="path",
            shape__path="M-12.6 -233 C-34.6 -137 49.4 -47 27.4 39 C5.4 119 -46.6 133 -26.6 233",
            # Its upper end hides behind the kite's lower tip and goes where that goes.
            position=hanging(emblem, 1.6, (3.5, 192.7)),
            fill__on=False,
            stroke__width=5,
            stroke__colour="ink:sailcloth",
            stroke__cap="round",
            drawn__to=[key(0, 0, "cubic-bezier(0.4, 0, 0.15, 1)"), key(0.9, 100)],
            opacity=[key(0, 0, "linear"), key(0.12, 94)],
        ),
        _bow("bow-1", "Amber bow", "bow-amber", 1.8, end, hanging(emblem, 1.8, (15.5, 101.7)), 12),
        _bow("bow-2", "Teal bow", "bow-teal", 1.96, end, hanging(emblem, 1.96, (33.5, 219.7)), -14),
        lit,
    ]  # fmt: skip


def _emblem(end: float) -> dict[str, Any]:
    rest, drift = (476, 392), (484, 384)
    return layer(
        "emblem", "Kite emblem", "picture", 0, end,
        picture__asset="kite-emblem",
        pivot=[0, -80],
        position=[
            key(0, [1990, 40], "easing:flight", handle_out=[-420, 740]),
            key(1.68, [rest[0], rest[1] - 30], "spring(0.35)", handle_in=[560, 420]),
            key(3.0, rest, "ease-in-out", join="smooth"),
            key(4.4, drift, "ease-in-out", join="smooth"),
            key(5.9, rest),
        ],
        rotation=[
            key(0, 70, "cubic-bezier(0.3, 0, 0.5, 1)"), key(0.86, -34, "ease-in-out"),
            key(1.64, 17, "spring(0.55)"), key(3.0, 4, "ease-in-out"),
            key(4.4, 7, "ease-in-out"), key(5.8, 4),
        ],
        scale=[
            key(0, [30, 30], "cubic-bezier(0.4, 0, 0.3, 1)"),
            key(1.62, [114, 114], "spring(0.3)"),
            key(2.6, [102, 102]),
        ],
    )  # fmt: skip


def hanging(emblem: dict[str, Any], start_s: float, below: tuple[float, float]) -> list[Any]:
    """Keys from a layer's start on that follow the kite's lower tip at a distance."""
    frame = Scene(
        id="try", name="Try", width=1920, height=1080, rate=RateModel(num=25),
        length_s=LENGTH_S, layers=(Layer.model_validate(emblem),),
    )  # fmt: skip
    asset = Asset(
        id="kite-emblem", name="Kite", kind="svg", media_type="image/svg+xml", hash="0" * 64,
        size_bytes=0, width=480, height=560,
    )  # fmt: skip
    house = tuple(SavedEasing(id=i, name=i, easing=e) for i, e in (("flight", FLIGHT),))
    project = Project(id="try", name="Try", scenes=(frame,), assets=(asset,), easings=house)
    evaluator = SceneEvaluator(project, "try")
    times = np.arange(0.0, LENGTH_S - start_s, 0.02)
    tips = []
    for t in times:
        resolved = evaluator.layer(frame.layers[0], start_s + float(t))
        assert resolved is not None
        x, y = resolved.matrix(TIP)
        tips.append((x + below[0], y + below[1]))
    return [
        {
            "time_s": round(k.time_s, 4), "value": [round(v, 2) for v in k.value],
            "easing": k.easing.text, "handle_in": k.handle_in, "handle_out": k.handle_out,
        }
        for k in fit_motion(times, np.array(tips), 1.5)
    ]  # fmt: skip


def _bow(
    id: str, name: str, asset: str, start_s: float, end: float, position: list[Any], angle: float
) -> dict[str, Any]:
    return layer(
        id, name, "picture", start_s, end,
        picture__asset=asset,
        position=position,
        scale=[key(0, [0, 0], "spring(0.5)"), key(0.9, [78, 78])],
        rotation=again(
            "there-and-back",
            [key(0.4, -angle, "ease-in-out"), key(1.5, angle, "ease-in-out")],
        ),
    )  # fmt: skip


def _name(end: float) -> list[dict[str, Any]]:
    name = layer(
            "name", "Gullwing", "text", LANDING_S, end,
            text="GULLWING",
            text__font="unbounded",
            text__weight=800,
            text__size=132,
            text__tracking=6,
            fill__colour="ink:sailcloth",
            position=[1230, 436],
        )  # fmt: skip
    rule = layer(
            "rule", "Rule", "shape", 2.2, end,
            shape__kind="line",
            shape__start=[-462, 0],
            shape__end=[462, 0],
            position=[1230, 538],
            fill__on=False,
            stroke__width=4,
            stroke__cap="round",
            stroke__colour="ink:amber",
            drawn__to=[key(0, 0, "easing:settle"), key(0.9, 100)],
        )  # fmt: skip
    week = layer(
            "week", "Bay Kite Week", "text", 2.44, end,
            text="BAY KITE WEEK",
            text__font="montserrat",
            text__weight=600,
            text__size=66,
            text__tracking=[key(0, 640, "easing:settle"), key(1.2, 462)],
            fill__colour="ink:sailcloth",
            position=[key(0, [1230, 652], "easing:settle"), key(1.0, [1230, 622])],
        )  # fmt: skip
    # Letters rise from behind their line, close upon each other.
    name = moved(name, ("arrive", "slide", {
        "side": "bottom", "spread.over": "letters", "spread.each": 0.75,
        "spread.step-letters": 0.04,
    }))  # fmt: skip
    return [
        looks(name, effects=(
            ("glint", {"angle": 20, "width": 110, "strength": 80, "colour": "#fff1d0",
                       "progress": [key(1.5, 0, "ease-in-out"), key(2.7, 100)]}),
        )),
        rule,
        looks(week, effects=(
            ("noise-wipe", {"shown": [key(0, 0, "ease-out"), key(0.9, 100)], "led": 82,
                            "scale": 60, "softness": 24}),
        )),
    ]  # fmt: skip
