"""Layers that meet, and examples of the operations on how one takes over from another."""

from tests.build import layer, project

from young_comet.core.model import Property, Transition

S = {"scene": "reveal"}


def crossing():
    """Two backdrops that cross, a third that overlaps the second, a fourth after a gap."""
    held = (Transition(id="t", kind="wipe", before="dawn", length_s=0.6),)
    day = layer("day", "backdrop", 1.0, 2.0)
    values = {
        "transition.t.angle": Property(value=30.0),
        "transition.t.softness": Property(value=4.0),
    }
    day = day.model_copy(update={"transitions": held, "properties": {**day.properties, **values}})
    return project(
        layer("dawn", "backdrop", 0, 1.0), day, layer("dusk", "backdrop", 1.7, 3.0),
        layer("night", "backdrop", 3.4, 4.0), layer("bed", "sound", 0, 4.0), ground=None,
    )  # fmt: skip


TRANSITION_EXAMPLES = [
    {"kind": "join-layers", **S, "layers": ["day", "dusk"], "transition": "push"},
    {"kind": "join-layers", **S, "layers": ["dawn", "day"], "transition": "ink", "length_s": 0.4,
     "values": {"scale": 90}},
    {"kind": "join-layers", **S, "layers": ["dawn", "day", "dusk"], "transition": "cross-fade"},
    {"kind": "pair-layers", **S, "layer": "day", "of": "kite", "to": "bow"},
    {"kind": "change-member", "family": "transition", **S, "layer": "day", "member": "t",
     "set": {"length_s": 0.2}},
    {"kind": "remove-members", "family": "transition", **S, "layer": "day", "members": ["t"]},
    {"kind": "split-layers", **S, "time_s": 0.4, "ids": {"dawn": "dawn-2"}},
]  # fmt: skip
