"""The dusk sky behind both scenes."""

from __future__ import annotations

from typing import Any

from .parts import key, layer


def dusk_sky(length_s: float, *, glow: float = 1.0) -> list[dict[str, Any]]:
    """Gradient, a low sun's glow and two drifting banks of clouds, from below up."""
    return [
        layer(
            "sky", "Dusk sky", "backdrop", 0, length_s,
            fill__kind="linear",
            fill__stops=[
                [0.0, "#10193f"], [0.38, "#3b2f6b"], [0.68, "#a14d76"], [0.86, "#ec8455"],
                [1.0, "#ffc078"],
            ],
            fill__start=[46.0, 0.0],
            fill__end=[54.0, 104.0],
        ),
        layer(
            "sun-glow", "Low sun", "shape", 0, length_s,
            shape__kind="ellipse",
            shape__size=[1900, 1900],
            position=[1310, 1120],
            opacity=72 * glow,
            fill__kind="radial",
            fill__start=[50, 50],
            fill__end=[100, 50],
            fill__stops=[
                [0.0, "#fff0c8d8"], [0.22, "#ffd08a88"], [0.6, "#ff8f5a22"], [1.0, "#ff7a4500"],
            ],
        ),
        layer(
            "clouds-far", "Far clouds", "picture", 0, length_s,
            picture__asset="cloud-far",
            position=[
                key(0, [560, 850], "linear"),
                key(length_s, [640, 850]),
            ],
            opacity=70,
        ),
        layer(
            "clouds-passing", "Passing clouds", "clip", 0, length_s,
            clip__asset="passing-clouds",
            time__speed=16.0,
            time__after="loop",
            position=[960, 690],
            scale=[300, 260],
            opacity=38,
        ),
        layer(
            "clouds-near", "Near clouds", "picture", 0, length_s,
            picture__asset="cloud-near",
            position=[
                key(0, [1330, 1010], "linear"),
                key(length_s, [1180, 1010]),
            ],
            opacity=88,
        ),
    ]  # fmt: skip
