"""A scene with arrangements, and examples of the operations on them."""

import numpy as np
from tests.build import CONTEXT, LIBRARY, key, layer, project

from young_comet.core.model import Arrangement, Property, Stand, Step
from young_comet.core.model.arrangements import holds_of
from young_comet.core.model.schema import load_project
from young_comet.core.paint import Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.apply import revert

S = {"scene": "reveal"}


def row(*stands, holds=(1.0, 0.6, 1.0), steps=None, names=("Gust", "Hold", "Let go")):
    """Three arrangements: what each says of layers, a list of stands each."""
    steps = steps or (Step(length_s=0.4), Step(length_s=0.6), Step())
    ids = ("gust", "hold", "go")
    return tuple(
        Arrangement(id=i, name=n, hold_s=h, step=s, stands=tuple(st))
        for i, n, h, s, st in zip(ids, names, holds, steps, stands, strict=True)
    )


def arranged(**more):
    """A badge of two halves and a name in three arrangements; a star that its own keys move, and one
    that goes and comes again."""
    left = layer("left", "shape", shape__size=[60, 40], position=[100, 90], fill__colour="#ff0000")
    right = layer(
        "right", "shape", shape__size=[60, 40], position=[220, 90], fill__colour="#00ff00"
    )
    name = layer("name", "text", text="Gust 12", text__size=30.0, position=[160, 150])
    star = layer(
        "star", "shape", shape__kind="star", shape__radius=16.0,
        position=[key(0, [20, 20]), key(3, [280, 20])],
    )  # fmt: skip
    bow = layer("bow", "shape", 0.2, 3.8, shape__size=[20, 20], position=[40, 160])
    bed = layer("bed", "sound")
    stands = (
        [],
        [
            Stand(layer="left", values={"position": (130, 90), "fill.colour": "#0000ff"}),
            Stand(layer="right", values={"position": (190, 90), "rotation": 180.0}),
            Stand(layer="name", values={"text": "Hold on"}),
            Stand(layer="bow", there=False),
        ],
        [
            Stand(layer="left", values={"position": (40, 40), "scale": (50, 50)}),
            Stand(layer="right", values={"position": (280, 140)}),
            Stand(layer="name", there=False),
        ],
    )
    return project(
        left, right, name, star, bow, bed, ground=None, arrangements=row(*stands), **more
    )


def value(document, layer_id, property_id):
    """A layer's own property of the only scene."""
    found = next(each for each in document.scenes[0].layers if each.id == layer_id)
    return found.properties.get(property_id, Property()).value


MOVED = {"kind": "move-layers", **S, "layers": ["left"], "by": [7, -3], "time_s": 1.5}
ARRANGEMENT_EXAMPLES = [
    {"kind": "add-arrangement", **S, "id": "new", "time_s": 0.6},
    {"kind": "add-arrangement", **S, "id": "new", "like": "hold", "name": "Again"},
    {"kind": "change-arrangement", **S, "arrangement": "hold", "name": "Held", "hold_s": 0.8,
     "step": {"length_s": 0.3, "easing": "back-out", "stagger_pct": 40, "order": "outwards",
              "path": "arc", "bend": -0.5, "appears": "grow", "vanishes": "sink"}},
    {"kind": "retime-arrangement", **S, "arrangement": "gust", "edge": "end", "time_s": 1.2},
    {"kind": "retime-arrangement", **S, "arrangement": "hold", "edge": "begin", "time_s": 1.2},
    {"kind": "order-arrangement", **S, "arrangement": "go", "index": 0},
    {"kind": "remove-arrangements", **S, "arrangements": ["hold"]},
    {"kind": "stand-layers", **S, "arrangement": "gust", "layers": ["name", "left"], "there": False},
    {"kind": "same-in-all", **S, "arrangement": "hold", "layer": "left", "properties": ["position"]},
    {"kind": "arrangements-to-keys", **S},
    {"kind": "add-to-arrangements", **S, "adds": True,
     "targets": [{"layer": "star", "property": "position"}]},
    {"kind": "arrangements-to-keys", **S, "layers": ["left"]},
    {"kind": "in-arrangement", **S, "arrangement": "hold", "edits": [MOVED]},
    {"kind": "in-arrangement", **S, "time_s": 1.5, "edits": [MOVED]},
    {"kind": "tie-times", **S, "targets": [{"layer": "bow", "side": "start"}], "to": "arrangement",
     "id": "hold", "moment": "start", "offset_s": 0.0},
]  # fmt: skip


RENDERER = Renderer(LIBRARY)


def do(document, **edit):
    edit = {**S, **edit}
    applied = apply_edit(document, parse_edit(edit), CONTEXT)
    assert revert(applied.project, applied.inverse) == document
    assert load_project(applied.project.model_dump(mode="json")) == applied.project
    return applied.project


def within(document, arrangement, *edits, time_s=0.0):
    edits = [edit if edit["kind"] == "together" else {**S, **edit} for edit in edits]
    return do(document, kind="in-arrangement", arrangement=arrangement, edits=edits, time_s=time_s)


def frames(document, times, size=(160, 90)):
    evaluator = SceneEvaluator(document, "reveal", library=LIBRARY)
    return [RENDERER.render(evaluator.at(t), *size).astype(np.int16) for t in times]


def apart(one, other, times):
    """The largest difference of any channel of any pixel at some times, in 255ths."""
    pairs = zip(frames(one, times), frames(other, times), strict=True)
    return max(int(np.abs(a - b).max()) for a, b in pairs)


def holds(document):
    return [tuple(round(t, 6) for t in hold) for hold in holds_of(document.scenes[0])]


def stand(document, arrangement, layer_id):
    found = next(each for each in document.scenes[0].arrangements if each.id == arrangement)
    return found.stand(layer_id)


FRAMES = [n * 0.04 for n in range(100)]
