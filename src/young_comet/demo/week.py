"""The week in short: scenes of the demo one after the other, each joined to the next by a
transition. The kite of the title becomes that of the logo, and that the one of the badge: they are
matched by their picture."""

from __future__ import annotations

from typing import Any

from .parts import layer, scene, stack

ID = "week-in-short"

Joined = tuple[str, float, dict[str, Any]]
# What is shown, from which of its seconds and for how long, and how it takes over from the one
# before it: the transition, its length and what it is set to.
_PLACED: tuple[tuple[str, str, str, float, float, Joined | None], ...] = (
    ("evening", "Evening", "evening-programme", 1.4, 2.6, None),
    ("races", "Races", "race-day", 0.7, 2.6, ("slices-by-turns", 1.0, {"count": 9})),
    ("workshop", "Workshop", "kite-workshop", 1.6, 2.8,
     ("iris", 0.9, {"form": "kite", "softness": 1, "centre": [72, 44]})),
    ("title", "Title", "kinetic-title", 6.5, 2.0, ("ink", 1.2, {"scale": 420, "lead": 60})),
    ("reveal", "Reveal", "logo-reveal", 2.5, 2.1, ("matched", 1.2, {})),
    ("badge", "Badge", "badge-halves", 2.0, 3.8, ("matched", 1.1, {})),
)  # fmt: skip


def week_in_short() -> list[dict[str, Any]]:
    """The edits that build the scene."""
    layers, joins = [], []
    at, before = 0.0, ""
    for id, name, placed, from_s, length_s, joined in _PLACED:
        end = round(at + length_s, 2)
        layers.append(
            layer(id, name, "scene", at, end, scene__id=placed, time__from=from_s)
        )  # fmt: skip
        if joined:
            kind, takes, values = joined
            joins.append({"kind": "join-layers", "scene": ID, "layers": [before, id],
                          "transition": kind, "length_s": takes, "values": values})  # fmt: skip
        at, before = end, id
    return [scene(ID, "The week in short", at), stack(ID, layers), *joins]
