"""The poses of moves that arrive and leave: how what moves is on its way."""

from __future__ import annotations

from .base import REST, Moment, Params, Pose, Wipe, way

# What fades while it moves has faded in after this share of its time, and begins to fade when so
# much is left of its way out: opacity follows the time, not the way, which is nearly over by then.
_FADE_IN, _FADE_OUT = 0.4, 0.6


def _faded(p: float) -> float:
    return min(1.0, max(0.0, p))


def _shown(m: Moment, sooner: float = 1.0) -> float:
    """The opacity of what is on its way; ``sooner`` so many times."""
    return _faded(m.share * sooner / (_FADE_OUT if m.leaving else _FADE_IN))


def _far(params: Params, m: Moment) -> float:
    """The distance of a move in px."""
    em = params["measure"] == "em"
    far: float = params["distance-em"] * m.em if em else params["distance"]
    return float(far * params["strength"] / 100)


def fade(p: float, params: Params, m: Moment) -> Pose:
    """Out of nothing."""
    return Pose(opacity=_faded(p))


def lift(p: float, params: Params, m: Moment) -> Pose:
    """Up into its place."""
    return Pose(offset=(0.0, _far(params, m) * (1 - p)), opacity=_shown(m))


def sink(p: float, params: Params, m: Moment) -> Pose:
    """Down into its place."""
    return Pose(offset=(0.0, -_far(params, m) * (1 - p)), opacity=_shown(m))


def slide(p: float, params: Params, m: Moment) -> Pose:
    """From just outside itself, seen only within its own box; or from outside the frame."""
    dx, dy = way(params)
    if params["start"] == "edge":
        return Pose(
            offset=(dx * m.size[0] * (1 - p), dy * m.size[1] * (1 - p)),
            clipped=p < 1,
        )
    far = (m.frame[0] + m.size[0], m.frame[1] + m.size[1])
    return Pose(offset=(dx * far[0] * (1 - p), dy * far[1] * (1 - p)))


POINTS = {
    "middle": (0.0, 0.0), "left": (-0.5, 0.0), "right": (0.5, 0.0), "top": (0.0, -0.5),
    "bottom": (0.0, 0.5),
}  # fmt: skip


def grow(p: float, params: Params, m: Moment) -> Pose:
    """Out of a point of its box: what is not the middle moves as it grows."""
    start = params["start"] / 100
    s = start + (1 - start) * p
    u, v = POINTS[params["from"]]
    offset = (u * m.size[0] * (1 - s), v * m.size[1] * (1 - s))
    return Pose(offset=offset, scale=(s, s), opacity=_shown(m))


def widen(p: float, params: Params, m: Moment) -> Pose:
    """From its middle line outwards."""
    across = params["axis"] == "width"
    s = max(0.0, p)
    return Pose(scale=(s, 1.0) if across else (1.0, s))


# What springs away swells at most so much before it goes.
_SWELL = 0.05


def spring_in(p: float, params: Params, m: Moment) -> Pose:
    """Swinging to its size."""
    s = max(0.0, min(p, 1 + _SWELL) if m.leaving else p)
    tilt = params["lean"] * (1 - p)
    return Pose(scale=(s, s), rotation_deg=tilt, opacity=_shown(m, 2))


def drop(p: float, params: Params, m: Moment) -> Pose:
    """From above."""
    far = params["height"] / 100 * m.frame[1] * params["strength"] / 100
    return Pose(offset=(0.0, -far * (1 - p)), opacity=_shown(m, 2))


def unroll(p: float, params: Params, m: Moment) -> Pose:
    """By an edge that passes."""
    return Pose(wipe=Wipe("linear", _faded(p), params["angle"], params["softness"]))


def open(p: float, params: Params, m: Moment) -> Pose:
    """From its centre line."""
    angle = 90.0 if params["axis"] == "height" else 0.0
    return Pose(wipe=Wipe("centre", _faded(p), angle, params["softness"]))


def iris(p: float, params: Params, m: Moment) -> Pose:
    """By a growing circle."""
    return Pose(wipe=Wipe("iris", _faded(p), 0.0, params["softness"]))


def focus(p: float, params: Params, m: Moment) -> Pose:
    """Out of a blur."""
    away = max(0.0, 1 - p)
    s = 1 + (params["scale"] / 100 - 1) * away
    return Pose(
        blur_px=params["blur"] * params["strength"] / 100 * away,
        opacity=_shown(m),
        scale=(s, s),
    )


def turn_in(p: float, params: Params, m: Moment) -> Pose:
    """Turned towards the eye."""
    angle, pivot = params["angle"] * (1 - p), POINTS[params["hinge"]]
    if params["axis"] == "y":
        return Pose(turn_deg=angle, pivot=pivot, opacity=_shown(m))
    return Pose(tilt_deg=angle, pivot=pivot, opacity=_shown(m))


def spin(p: float, params: Params, m: Moment) -> Pose:
    """Turned into its place."""
    s = max(0.0, 1 - (1 - p) * params["shrunk"] / 100)
    return Pose(
        rotation_deg=-params["angle"] * (1 - p),
        scale=(s, s),
        pivot=POINTS[params["hinge"]],
        opacity=_shown(m),
    )


def draw_on(p: float, params: Params, m: Moment) -> Pose:
    """Along its stroke."""
    return Pose(drawn=_faded(p))


def type_on(p: float, params: Params, m: Moment) -> Pose:
    """There or not."""
    return Pose(opacity=1.0 if p >= 1 else 0.0, cursor=params["cursor"])


def scramble(p: float, params: Params, m: Moment) -> Pose:
    """Other letters first."""
    return Pose(scrambled=1 - _faded(p), opacity=_faded(p * 6))


def flicker(p: float, params: Params, m: Moment) -> Pose:
    """Dark, and now and then lit by chance."""
    if p >= 1:
        return REST
    return Pose(opacity=params["dark"] / 100 * _faded(p * 4), flickers=params["rate"])


def tracking(p: float, params: Params, m: Moment) -> Pose:
    """Letters come together."""
    k = params["strength"] / 100 * (1 - p)
    return Pose(
        tracking=params["tracking"] * k, blur_px=max(0.0, params["blur"] * k), opacity=_shown(m)
    )


def alternate(p: float, params: Params, m: Moment) -> Pose:
    """From two sides by turns."""
    sign = 1.0 if m.nth % 2 == 0 else -1.0
    away = 1 - p
    if params["how"] == "turn":
        return Pose(turn_deg=sign * 90 * away, opacity=_shown(m))
    dx, dy = way(params)
    far = _far(params, m) * away * sign
    return Pose(offset=(dx * far, dy * far), opacity=_shown(m))
