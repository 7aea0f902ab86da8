"""A document with many keys, marks and a clip, and an example of every timing operation."""

from __future__ import annotations

from tests.build import Context, key, layer, project

from young_comet.core.model import Asset, Mark, RateModel
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit

CONTEXT = Context()
S = {"scene": "reveal"}
FRAME_S = 1 / 25
CLOUDS = Asset(
    id="clouds", name="clouds.mp4", kind="clip", media_type="video/mp4", hash="d" * 64,
    size_bytes=9, width=128, height=64, duration_s=2.0, frame_count=50, rate=RateModel(num=25),
)  # fmt: skip


def desk():
    base = project(
        layer("box", "shape", shape__size=[40, 40], position=[
            key(0, [20, 20], "ease-in-out"), key(1, [200, 60], "ease-out"), key(2, [260, 160])],
            rotation=[key(0, 0, "ease-in"), key(0.5, 30, "back-out(0.2)"), key(1.5, -10, "hold"), key(2, 0)]),
        layer("ring", "shape", 0.4, 3.6, shape__kind="ellipse", position=[250, 90],
              scale=[key(0, [0, 0], "spring(0.4)"), key(0.8, [100, 100])]),
        layer("name", "text", 1.0, 3.2, text="Gullwing", text__size=30, position=[90, 150],
              opacity=[key(0, 0), key(0.4, 100)]),
        layer("clip", "clip", 1.0, 2.6, clip__asset="clouds", time__from=0.2),
        layer("curve", "shape", shape__kind="path", shape__path="M-80 0 C-40 -80 40 80 80 0", position=[160, 90],
              fill__on=False, stroke__width=4),
    )  # fmt: skip
    marks = (Mark(id="gust", name="Gust", time_s=1.0), Mark(id="hit", name="Hit", time_s=2.0))
    scene = base.scenes[0].model_copy(update={"marks": marks})
    return base.model_copy(update={"assets": (CLOUDS,), "scenes": (scene,)})


def do(base, *edits):
    """The document after some edits of the scene."""
    for data in edits:
        base = apply_edit(base, parse_edit({**S, **data}), CONTEXT).project
    return base


def saved():
    add = {
        "kind": "add-easing",
        "id": "gull",
        "name": "Gull",
        "easing": "cubic-bezier(0.2, 0, 0, 1)",
    }
    base = apply_edit(desk(), parse_edit(add), CONTEXT).project
    ease = {"kind": "ease-keys", "easing": "easing:gull", "keys": targets("box", "rotation", "k0")}
    return do(base, ease, {"kind": "split-property", "targets": [{"layer": "ring", "property": "scale"}]},
              {"kind": "fly-path", "layer": "name", "samples": FLIGHT})  # fmt: skip


def targets(layer_id, property_id, *ids):
    return [{"layer": layer_id, "property": property_id, "key": key_id} for key_id in ids]


FLIGHT = [[1.0 + i / 50, 20 + 3 * i, 100 + ((i % 7) - 3) + i * i / 90] for i in range(60)]
BOX = targets("box", "rotation", "k0", "k500", "k1500", "k2000")
PATH = targets("box", "position", "k1000")
DESK_EXAMPLES = [
    {"kind": "copy-keys", **S, "moves": [{**BOX[1], "time_s": 3.0}]},
    {"kind": "paste-keys", **S, "time_s": 0.5, "times": 3, "every": {"unit": "frames", "count": 10},
     "tracks": [{"layer": "name", "property": "rotation", "keys": [
         {"at_s": 0, "value": 0}, {"at_s": 0.2, "value": 20, "easing": "bounce-out"}]}]},
    {"kind": "paste-keys", **S, "time_s": 0.0, "times": 9, "every": {"unit": "marks"},
     "tracks": [{"layer": "ring", "property": "opacity", "keys": [{"at_s": 0, "value": 50}]}]},
    {"kind": "stretch-keys", **S, "keys": BOX, "about_s": 0, "factor": 1.5},
    {"kind": "reverse-keys", **S, "keys": BOX},
    {"kind": "mirror-keys", **S, "keys": BOX},
    {"kind": "mirror-keys", **S, "axis": "x", "keys": targets("box", "position", "k0", "k1000", "k2000")},
    {"kind": "distribute-keys", **S, "keys": BOX},
    {"kind": "change-key-values", **S, "keys": BOX, "how": "add", "value": 15},
    {"kind": "change-key-values", **S, "keys": PATH, "how": "multiply", "value": 2, "part": 0},
    {"kind": "change-keys", **S, "rows": [{**BOX[1], "time_s": 0.61, "value": 44, "easing": "sine-in-out"}]},
    {"kind": "repeat-keys", **S, "mode": "loop", "targets": [{"layer": "box", "property": "rotation"}]},
    {"kind": "repeat-keys", **S, "mode": "build-on", "times": 3,
     "targets": [{"layer": "ring", "property": "scale"}]},
    {"kind": "ease-keys", **S, "keys": BOX[1:2], "easing": "cubic-bezier(0.9, 0, 0.1, 1)", "side": "around"},
    {"kind": "drag-handle", **S, "layer": "box", "property": "rotation", "key": "k0", "side": "leave",
     "reach": 0.6, "value": 12},
    {"kind": "join-keys", **S, "keys": PATH, "join": "smooth"},
    {"kind": "join-keys", **S, "keys": PATH, "join": "matched"},
    {"kind": "split-property", **S, "targets": [{"layer": "box", "property": "position"}]},
    {"kind": "set-pace", **S, "targets": [{"layer": "box", "property": "position"}], "pace": "even"},
    {"kind": "bend-path", **S, "layer": "box", "key": "k1000", "handle_out": [40, 0]},
    {"kind": "round-path", **S, "keys": PATH},
    {"kind": "take-keys", **S, "keys": PATH},
    {"kind": "fly-path", **S, "layer": "name", "samples": FLIGHT, "tolerance": 6},
    {"kind": "take-path", **S, "layer": "name", "source": "curve", "start_s": 1.0, "duration_s": 1.5},
    {"kind": "take-path", **S, "layer": "name", "points": [[0, 0], [30, 10], [60, 40], [70, 90], [60, 120]],
     "start_s": 1.0, "duration_s": 1.5},
    {"kind": "move-path", **S, "layer": "box", "by": [10, -5]},
    {"kind": "move-way", **S, "layer": "box", "by": [10, -5], "time_s": 1.0},
    {"kind": "bend-way", **S, "layer": "box", "key": "k1000", "side": "in", "by": [4, -5], "time_s": 1.0},
    {"kind": "move-way-keys", **S, "keys": [{"layer": "box", "property": "position", "key": "k1000"}], "by": [4, -5], "time_s": 1.0},
    {"kind": "stagger", **S, "layers": ["box", "ring", "name"], "frames": 5, "order": "stack-down"},
    {"kind": "stagger", **S, "layers": ["box", "ring", "name"], "frames": 3, "what": "keys", "order": "shuffled", "seed": 4},
    {"kind": "extend-layers", **S, "layers": ["name"]},
    {"kind": "slip-layers", **S, "layers": ["clip", "name"], "by_s": 0.2},
    {"kind": "split-layers", **S, "time_s": 1.6, "ids": {"clip": "clip2", "box": "box2"}},
    {"kind": "fit-speed", **S, "layers": ["clip"], "length_s": 0.9},
    {"kind": "freeze-layers", **S, "layers": ["clip"], "time_s": 1.8},
    {"kind": "time-curve", **S, "layer": "clip", "on": True},
    {"kind": "set-spans", **S, "mode": "trim", "ripple": True,
     "spans": [{"layer": "name", "start_s": 1.0, "end_s": 2.0}]},
    {"kind": "add-mark", **S, "time_s": 1.53},
    {"kind": "write-text", **S, "layer": "name", "text": "Gullwing Bay\nKite Week", "time_s": 1.0},
    {"kind": "add-phrases", **S, "phrases": [{"text": "Hold on"}, {"text": "to the wind"}], "at_s": 0.5,
     "timing": "even", "like": "name", "ready": "rise", "tied": True},
    {"kind": "wear-passage", **S, "layers": ["name"], "passage": "waterline"},
    {"kind": "wear-front", **S, "layers": ["name"], "ready": "turning"},
    {"kind": "edit-text", **S, "layer": "name", "first": 1, "last": 4, "text": "olden w", "time_s": 1.0,
     "runs": [{"first": 0, "last": 5, "properties": {"weight": {"value": 900.0}}}]},
    {"kind": "style-stretch", **S, "layer": "name", "first": 2, "last": 5, "time_s": 1.0,
     "set": {"weight": 800, "fill.colour": "#ffb44a", "raised": 20}},
    {"kind": "write-text", **S, "layer": "name", "text": "A very long name of a kite " * 9, "time_s": 1.0, "fits": True},
    {"kind": "change-mark", **S, "mark": "gust", "name": "First gust", "time_s": 1.2},
    {"kind": "change-mark", **S, "mark": "gust", "note": "The sail could open later."},
    {"kind": "notes-to-marks", **S, "file": {"kind": "young-comet-notes", "scene": "reveal", "by": "Mara",
     "notes": [{"at_s": 0.31, "text": "Softer, please"}, {"at_s": 2.0, "text": "A longer hold"}]}},
    {"kind": "remove-marks", **S, "marks": ["gust", "hit"]},
    {"kind": "set-range", **S, "start_s": 0.5, "end_s": 2.5},
    {"kind": "add-easing", "id": "gull", "name": "Gull", "easing": "spring(0.3)"},
]  # fmt: skip
SAVED_EXAMPLES = [
    {"kind": "change-easing", "id": "gull", "easing": "bounce-out"},
    {"kind": "remove-easing", "id": "gull"},
    {"kind": "join-property", **S, "targets": [{"layer": "ring", "property": "scale"}]},
    {"kind": "refit-path", **S, "layer": "name", "tolerance": 40},
]


def layer_of(document, layer_id):
    return next(la for la in document.scenes[0].layers if la.id == layer_id)


def prop(document, layer_id, property_id):
    return layer_of(document, layer_id).properties[property_id]


def value_at(document, layer_id, property_id, time_s):
    evaluator = SceneEvaluator(document, "reveal")
    return evaluator.values(layer_of(document, layer_id), time_s)(property_id)


def facts(document):
    """Times, values, easings and handles of all keys, rounded, whatever their ids."""

    def rounded(value):
        if isinstance(value, tuple):
            return tuple(rounded(part) for part in value)
        return round(value, 6) + 0.0 if isinstance(value, float) else value

    return {
        (layer.id, name): [
            (
                round(k.time_s, 6) + 0.0,
                rounded(k.value),
                k.easing,
                rounded(k.handle_in),
                rounded(k.handle_out),
            )
            for k in each.keys
        ]
        for layer in document.scenes[0].layers
        for name, each in layer.properties.items()
        if each.keys
    }


def starts(document):
    return {la.id: round(la.start_s / FRAME_S) for la in document.scenes[0].layers}
