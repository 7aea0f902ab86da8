"""A document with masks, effects and drawings, and examples of the operations on them."""

from tests.build import key, layer, project

from young_comet.core.model import Effect, EffectSet, Mask, Part, Property, SetEffect

S = {"scene": "reveal"}
SQUARE = "M-40 -30 L40 -30 L40 30 L-40 30 Z"


def looks():
    """A sky, a shape with a mask and two effects, a text, a drawing, a cut shape."""
    kite = layer(
        "kite", "shape", shape__size=[120, 80], position=[key(0, [60, 90]), key(2, [250, 90])],
        **{
            "mask.m1.path": SQUARE, "mask.m1.position": [key(0, [0, 0]), key(1, [30, 0])],
            "mask.m1.feather": [6, 6], "effect.e1.size": [4, 4],
            "effect.e2.size": [key(0, 0.0), key(1, 30.0)], "effect.e2.coloured": "ink",
            "effect.e2.colour": "#ffb44a",
        },
    ).model_copy(update={
        "masks": (Mask(id="m1", name="Sail", colour="#7fd4e8"),),
        "effects": (Effect(id="e1", kind="gaussian-blur"), Effect(id="e2", kind="glow")),
    })  # fmt: skip
    drawing = layer(
        "bow", "shape", shape__kind="drawing", position=[200, 60],
        **{"part.p1.path": SQUARE, "part.p1.fill.colour": "#ff7a45",
           "part.p2.path": "M0 0 L20 0 L20 20 Z", "part.p2.fill.colour": "#2f9fb3"},
    ).model_copy(update={"parts": (Part(id="p1", name="Loop"), Part(id="p2", name="Knot"))})  # fmt: skip
    base = project(
        layer("sky", "backdrop", fill__kind="linear"),
        kite,
        layer("name", "text", text="Gullwing", text__size=40.0, position=[160, 120]),
        layer("tail", "shape", shape__kind="path", shape__path="M0 0 C30 -40 60 -40 90 0 L90 40 L0 40 Z", position=[150, 100]),
        drawing,
        layer("panel", "shape", shape__size=[100, 60], position=[160, 90], slices__kind="strips", slices__count=4.0),
        layer("lamp", "shape", shape__size=[60, 60], position=[280, 40]).model_copy(update={
            "effects": (Effect(id="e4", kind="rays"), Effect(id="e5", kind="point-gradient"))}),
    )  # fmt: skip
    saved = EffectSet(id="lamp", name="Lamp", effects=(
        SetEffect(kind="glow", properties={"size": Property(value=12.0), "colour": Property(value="#ffb44a")}),
        SetEffect(kind="drop-shadow"),
    ))  # fmt: skip
    return base.model_copy(update={"effect_sets": (saved,)})


NEW_MASK = {"member": {"id": "m2", "name": "Edge", "form": "half-plane", "mode": "minus"},
            "properties": {"position": {"value": [10, 0]}, "rotation": {"value": 45}}}  # fmt: skip
TAIL = {**S, "layer": "tail", "property": "shape.path", "time_s": 0.0}

LOOKS_EXAMPLES = [
    {"kind": "add-members", "family": "mask", **S, "layers": ["kite"], "members": [NEW_MASK]},
    {"kind": "remove-members", "family": "mask", **S, "layer": "kite", "members": ["m1"]},
    {"kind": "change-member", "family": "mask", **S, "layer": "kite", "member": "m1", "set": {"mode": "intersect", "inverted": True}},
    {"kind": "tie-mask", **S, "layer": "kite", "mask": "m1", "space": "scene", "time_s": 1.0},
    {"kind": "tie-mask", **S, "layer": "kite", "mask": "m1", "space": "follow", "follows": "name", "time_s": 1.0},
    {"kind": "copy-masks", **S, "layer": "kite", "members": ["m1"], "targets": ["name", "tail"], "in_place": True, "time_s": 0.5},
    {"kind": "take-mask", **S, "layer": "kite", "source": "name", "id": "word", "time_s": 0.0},
    {"kind": "take-mask", **S, "layer": "kite", "source": "tail", "id": "wing", "follow": True, "time_s": 0.0},
    {"kind": "add-members", "family": "effect", **S, "layers": ["kite", "name"], "members": [{"member": {"id": "e3", "kind": "outline"},
     "properties": {"width": {"value": 3}}}], "index": 0},
    {"kind": "remove-members", "family": "effect", **S, "layer": "kite", "members": ["e2"]},
    {"kind": "change-member", "family": "effect", **S, "layer": "kite", "member": "e2", "set": {"on": False}},
    {"kind": "change-member", "family": "effect", **S, "layer": "kite", "member": "e2", "index": 0},
    {"kind": "copy-members", "family": "effect", **S, "layer": "kite", "members": ["e1", "e2"], "targets": ["kite", "bow"]},
    {"kind": "save-effects", **S, "layer": "kite", "effects": ["e2"], "id": "dusk", "name": "Dusk glow"},
    {"kind": "apply-effects", **S, "layers": ["name", "bow"], "set": "lamp"},
    {"kind": "use-setting", **S, "layer": "kite", "effect": "e2", "setting": "neon"},
    {"kind": "change-effect-set", "set": "lamp", "name": "Lantern"},
    {"kind": "change-effect-set", "set": "lamp", "remove": True},
    {"kind": "edit-path", **TAIL, "deed": "move", "points": [[0, 1], [0, 2]], "by": [5, -3]},
    {"kind": "edit-path", **TAIL, "deed": "handle", "points": [[0, 0]], "side": "out", "by": [4, 4]},
    {"kind": "edit-path", **TAIL, "deed": "add", "points": [[0, 0]], "at": 0.3},
    {"kind": "edit-path", **TAIL, "deed": "remove", "points": [[0, 2]]},
    {"kind": "edit-path", **TAIL, "deed": "smooth"},
    {"kind": "edit-path", **TAIL, "deed": "corner", "points": [[0, 0]]},
    {"kind": "edit-path", **TAIL, "deed": "bend", "points": [[0, 1]], "at": 0.5, "by": [12, 0]},
    {"kind": "edit-path", **TAIL, "deed": "open"},
    {"kind": "edit-path", **TAIL, "deed": "reverse"},
    {"kind": "edit-path", **TAIL, "deed": "first", "points": [[0, 2]]},
    {"kind": "edit-path", **TAIL, "deed": "map", "matrix": [2, 0, 0, 2, 5, 5]},
    {"kind": "edit-path", **S, "layer": "kite", "property": "mask.m1.path", "time_s": 0.5, "deed": "move",
     "points": [[0, 0]], "by": [3, 3]},
    {"kind": "take-shape", **TAIL, "source": "panel"},
    {"kind": "take-shape", **S, "layer": "name", "property": "text.path", "source": "tail", "in_place": True, "time_s": 1.0},
    {"kind": "draw-path", **S, "layer": "name", "property": "text.path", "drawn": {"form": "svg", "data": "M20 30 C60 10 90 50 200 30"}, "time_s": 1.0},
    {"kind": "draw-path", **S, "layer": "kite", "property": "mask.m1.path", "drawn": {"form": "path", "points": [{"at": [20, 30]}, {"at": [80, 30]}, {"at": [60, 90]}], "closed": True}, "time_s": 0.5},
    {"kind": "draw-shape", **S, "id": "new", "drawn": {"form": "star", "start": [20, 30], "end": [90, 70], "even": True}},
    {"kind": "draw-shape", **S, "id": "new", "drawn": {"form": "line", "start": [20, 30]}},
    {"kind": "draw-shape", **S, "id": "new", "drawn": {"form": "path", "points": [{"at": [20, 30], "out": [9, 9]}, {"at": [80, 60]}]}},
    {"kind": "draw-mask", **S, "layer": "kite", "id": "m2", "drawn": {"form": "ellipse", "start": [20, 30], "end": [90, 70]}, "time_s": 1.0},
    {"kind": "draw-mask", **S, "layer": "sky", "id": "m2", "drawn": {"form": "hand", "points": [[0, 0], [90, 5], [80, 80], [4, 70]]}, "time_s": 1.0},
    {"kind": "move-mask", **S, "layer": "kite", "mask": "m1", "by": [12, -4], "time_s": 0.5},
    {"kind": "turn-mask", **S, "layer": "kite", "mask": "m1", "by_deg": 37, "steps_deg": 15, "time_s": 0.5},
    {"kind": "scale-mask", **S, "layer": "kite", "mask": "m1", "start": [90, 120], "to": [120, 150], "time_s": 0.5},
    {"kind": "move-gradient", **S, "layer": "sky", "end": "start", "by": [40, 9], "time_s": 0.0},
    {"kind": "move-stop", **S, "layer": "sky", "index": 0, "to": [100, 60], "time_s": 0.0},
    {"kind": "move-place", **S, "layer": "lamp", "property": "effect.e4.centre", "by": [8, 8], "time_s": 0.0},
    {"kind": "move-place", **S, "layer": "lamp", "property": "effect.e5.points", "index": 1, "by": [8, 8], "time_s": 0.0},
    {"kind": "hold-layer", **S, "layer": "kite", "at": [100, 60], "time_s": 1.0},
    {"kind": "join-shapes", **S, "layers": ["tail", "panel"], "how": "minus", "time_s": 0.0},
    {"kind": "outline-layers", **S, "layers": ["name", "panel"], "time_s": 0.0},
    {"kind": "slice-layer", **S, "layer": "panel", "time_s": 0.0},
    {"kind": "recolour", **S, "layers": ["bow", "kite"], "old": "#FF7A45", "new": "#2f9fb3"},
    {"kind": "change-scene", **S, "shutter": {"on": True, "angle_deg": 220}},
    {"kind": "change-scene", **S, "viewing_distance_px": 900},
]  # fmt: skip
