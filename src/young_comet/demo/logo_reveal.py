"""The logo reveal: the kite flies in, settles on its string, the name follows."""

from __future__ import annotations

from typing import Any

from .parts import FLIGHT, OVERSHOOT, SETTLE, key, layer, scene, stack
from .sky import dusk_sky

ID = "logo-reveal"
LENGTH_S = 6.0
LANDING_S = 1.76


def logo_reveal() -> list[dict[str, Any]]:
    """The edits that build the scene."""
    end = LENGTH_S
    return [scene(ID, "Logo reveal", end), stack(ID, [*dusk_sky(end), *_kite(end), *_name(end)])]


def _kite(end: float) -> list[dict[str, Any]]:
    # The kite's lower tip at rest; string and bows hang from it and drift as it does.
    rest, drift = (476, 392), (484, 384)
    return [
        layer(
            "string", "String", "shape", 1.6, end,
            shape__kind="path",
            shape__path="M12 -36 C-10 60 74 150 52 236 C30 316 -22 330 -2 430",
            # Its upper end hides behind the kite's lower tip, which these keys follow.
            position=[
                key(0, [378, 946], "linear"), key(0.1, [361, 936], "ease-in"),
                key(0.3, [379, 926], "linear"), key(0.4, [398, 927], "ease-out"),
                key(0.6, [428, 941], "ease-in-out"), key(2.4, [422, 933], "ease-in-out"),
                key(4.2, [432, 944]),
            ],
            fill__on=False,
            stroke__width=5,
            stroke__colour="ink:sailcloth",
            stroke__cap="round",
            drawn__to=[key(0, 0, "cubic-bezier(0.4, 0, 0.15, 1)"), key(0.9, 100)],
            opacity=[key(0, 0, "linear"), key(0.12, 94)],
        ),
        _bow("bow-1", "Amber bow", "bow-amber", 1.8, end, (440, 850), 12),
        _bow("bow-2", "Teal bow", "bow-teal", 1.96, end, (458, 968), -14),
        layer(
            "emblem", "Kite emblem", "picture", 0.12, end,
            picture__asset="kite-emblem",
            pivot=[0, -80],
            position=[
                key(0, [2100, -120], FLIGHT, handle_out=[-380, 880]),
                key(1.6, [rest[0], rest[1] - 26], "ease-in-out", handle_in=[560, 420]),
                key(2.2, rest, "ease-in-out"),
                key(4.0, drift, "ease-in-out"),
                key(5.8, rest),
            ],
            rotation=[
                key(0, 70, "cubic-bezier(0.3, 0, 0.5, 1)"), key(0.78, -34, "ease-in-out"),
                key(1.6, 14, "ease-in-out"), key(2.2, 4, "ease-in-out"),
                key(4.0, 7, "ease-in-out"), key(5.8, 4),
            ],
            scale=[
                key(0, [30, 30], "cubic-bezier(0.4, 0, 0.3, 1)"),
                key(1.5, [112, 112], "ease-in-out"),
                key(2.0, [102, 102]),
            ],
        ),
    ]  # fmt: skip


def _bow(
    id: str, name: str, asset: str, start_s: float, end: float, at: tuple[int, int], angle: float
) -> dict[str, Any]:
    x, y = at
    return layer(
        id, name, "picture", start_s, end,
        picture__asset=asset,
        position=[
            key(2.1 - start_s, [x, y], "ease-in-out"),
            key(4.0 - start_s, [x - 6, y - 8], "ease-in-out"),
            key(5.8 - start_s, [x, y]),
        ],
        scale=[key(0, [0, 0], OVERSHOOT), key(0.44, [78, 78])],
        rotation=[
            key(0, -4 * angle, SETTLE), key(0.6, angle, "ease-in-out"),
            key(2.3, angle / 2, "ease-in-out"), key(4.0, angle * 1.1),
        ],
    )  # fmt: skip


def _name(end: float) -> list[dict[str, Any]]:
    return [
        layer(
            "name", "Gullwing", "text", LANDING_S, end,
            text="GULLWING",
            text__font="unbounded",
            text__weight=800,
            text__size=132,
            text__align="left",
            text__tracking=[key(0, 190, SETTLE), key(1.3, 6)],
            fill__colour="ink:sailcloth",
            position=[key(0, [1230, 470], SETTLE), key(1.2, [1230, 436])],
            opacity=[key(0, 0, "ease-out"), key(0.56, 100)],
        ),
        layer(
            "rule", "Rule", "shape", 2.2, end,
            shape__kind="line",
            shape__start=[-462, 0],
            shape__end=[462, 0],
            position=[1230, 538],
            fill__on=False,
            stroke__width=4,
            stroke__cap="round",
            stroke__colour="ink:amber",
            drawn__to=[key(0, 0, SETTLE), key(0.9, 100)],
        ),
        layer(
            "week", "Bay Kite Week", "text", 2.44, end,
            text="BAY KITE WEEK",
            text__font="montserrat",
            text__weight=600,
            text__size=66,
            text__tracking=[key(0, 640, SETTLE), key(1.2, 462)],
            fill__colour="ink:amber",
            position=[key(0, [1230, 652], SETTLE), key(1.0, [1230, 622])],
            opacity=[key(0, 0, "ease-out"), key(0.6, 100)],
        ),
    ]  # fmt: skip
