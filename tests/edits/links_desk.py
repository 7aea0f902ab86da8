"""A document whose layers ride, read and follow each other, and examples of the operations."""

from tests.build import key, layer, project

S = {"scene": "reveal"}


def links():
    """A kite with a bow riding on it, a name that reads the kite, a bar that fits the name."""
    return project(
        layer("sky", "backdrop"),
        layer("kite", "shape", shape__size=[80, 60], rotation=[key(0, 0.0), key(2, 40.0)],
              position=[key(0, [60, 90]), key(2, [250, 60])], scale=[120, 120]),
        layer("bow", "shape", shape__size=[20, 10], position=[10, 50]).model_copy(
            update={"rides": "kite"}),
        layer("name", "text", text="Gullwing", text__size=30.0, position=[160, 120]),
        layer("bar", "shape", shape__size=[50, 20], fit__layer="name", position=[160, 120]),
        layer("mark", "shape", shape__kind="ellipse", shape__size=[30, 30], position=[40, 40]),
    ).model_copy()  # fmt: skip


def expressed():
    from young_comet.core.catalog import check_project
    from young_comet.core.model import Property

    base = links()
    scene = base.scenes[0]
    layers = tuple(
        la.model_copy(update={"properties": {**la.properties, "rotation": Property(
            value=0.0, expression="keyed + 20 * sin(90 * t)")}}) if la.id == "mark" else la
        for la in scene.layers
    )  # fmt: skip
    return check_project(
        base.model_copy(update={"scenes": (scene.model_copy(update={"layers": layers}),)})
    )


LINKS_EXAMPLES = [
    {
        "kind": "paste-parts",
        **S,
        "targets": ["mark"],
        "sides": ["place", "looks"],
        "layer": {
            "id": "gull",
            "name": "Gull",
            "kind": "shape",
            "start_s": 0,
            "end_s": 2,
            "properties": {"rotation": {"value": 12}, "fill.colour": {"value": "#123456"}},
        },
    },
    {"kind": "ride", **S, "layers": ["mark"], "on": "kite", "time_s": 1.0},
    {"kind": "ride", **S, "layers": ["bow"], "on": None, "time_s": 1.0, "every_key": True},
    {"kind": "carry-together", **S, "layers": ["kite", "mark"], "id": "carrier", "time_s": 0.5},
    {"kind": "set-expression", **S, "targets": [{"layer": "mark", "property": "rotation"}],
     "text": "keyed + sway(10, every=0.5)"},
    {"kind": "link-properties", **S, "targets": [{"layer": "mark", "property": "position"}],
     "layer": "kite", "property": "position", "delay_s": 0.2, "factor": 0.5, "offset": [10, 0]},
]  # fmt: skip
LINKS_EXAMPLES += [
    {"kind": "keep-aligned", **S, "layers": ["mark"], "x": "right", "y": "top", "time_s": 0.0},
    {"kind": "tie-times", **S, "targets": [{"layer": "name"}], "to": "layer", "id": "kite",
     "moment": "arrived", "offset_s": 0.4},
    {"kind": "tie-in-row", **S, "layers": ["kite", "name", "mark"], "after": "start", "gap_s": 0.2},
    {"kind": "set-phases", **S, "layers": ["kite"], "arrive_s": 0.6, "leave_s": 0.2},
]  # fmt: skip


def tied():
    from young_comet.core.catalog import check_project
    from young_comet.core.model import Tie

    base = links()
    scene = base.scenes[0]
    tie = Tie(to="layer", id="kite", moment="end", offset_s=-1.0)
    layers = tuple(
        la.model_copy(update={"start_tie": tie}) if la.id == "name" else la for la in scene.layers
    )
    return check_project(
        base.model_copy(update={"scenes": (scene.model_copy(update={"layers": layers}),)})
    )


def nested():
    """A placed scene with a slot, on a name that wears moves."""
    from young_comet.core.catalog import check_project
    from young_comet.core.model import Move, Property, Slot

    base = links()
    outer = base.scenes[0]
    tag = outer.model_copy(update={
        "id": "tag", "name": "Tag", "slots": (Slot(id="who", name="Name", layer="name", property="text"),),
    })  # fmt: skip
    placed = layer("placed", "scene", scene__id="tag").model_copy(update={"slots": {"who": "Bo"}})
    wearer = layer("wearer", "shape", shape__size=[40, 20], position=[100, 50]).model_copy(update={
        "moves": (Move(id="m", kind="lift", phase="arrive"),), "arrive_s": 0.6,
    })  # fmt: skip
    wearer = wearer.model_copy(update={
        "properties": {**wearer.properties, "move.m.distance": Property(value=30.0)}})  # fmt: skip
    outer = outer.model_copy(update={"layers": (*outer.layers, placed, wearer)})
    return check_project(base.model_copy(update={"scenes": (outer, tag)}))


NESTED_EXAMPLES = [
    {"kind": "order-scene", "scene": "tag", "index": 0},
    {
        "kind": "place-scenes",
        **S,
        "placed": [{"scene": "tag", "id": "one"}, {"scene": "tag", "id": "two"}],
    },
    {
        "kind": "wrap-layers",
        **S,
        "layers": ["kite", "bow"],
        "id": "w",
        "new_scene": "inside",
        "name": "Inside",
    },
    {
        "kind": "add-slot",
        "scene": "tag",
        "id": "size",
        "name": "Size",
        "layer": "bar",
        "property": "shape.size",
    },
    {"kind": "remove-slot", "scene": "tag", "slot": "who"},
    {"kind": "fill-slot", **S, "layers": ["placed"], "slot": "who", "value": "Oona"},
    {"kind": "animate-slot", **S, "layers": ["placed"], "slot": "who"},
    {
        "kind": "wear-move",
        **S,
        "layers": ["kite", "name"],
        "id": "n",
        "move": "focus",
        "phase": "leave",
    },
    {
        "kind": "change-member",
        "family": "move",
        **S,
        "layer": "wearer",
        "member": "m",
        "set": {"on": False},
    },
    {"kind": "remove-members", "family": "move", **S, "layer": "wearer", "members": ["m"]},
    {"kind": "copy-moves", **S, "layer": "wearer", "targets": ["kite"]},
    {"kind": "moves-to-keys", **S, "layers": ["wearer"]},
    {"kind": "unwrap-scene", **S, "layer": "placed"},
]


def copied():
    from young_comet.core.catalog import check_project

    base = links()
    scene = base.scenes[0]
    kite = next(la for la in scene.layers if la.id == "kite")
    twin = kite.model_copy(update={"id": "twin", "name": "Twin", "copy_of": "kite", "own": ("scale",),
                                   "properties": {**kite.properties, "scale": kite.properties["rotation"].model_copy(
                                       update={"keys": (), "value": (50.0, 50.0)})}})  # fmt: skip
    return check_project(
        base.model_copy(
            update={"scenes": (scene.model_copy(update={"layers": (*scene.layers, twin)}),)}
        )
    )


def own_move():
    from young_comet.core.catalog import check_project
    from young_comet.core.model import Property, SavedMove

    base = nested()
    wearer = base.scenes[0].layers[-1]
    moving = wearer.model_copy(update={"properties": {
        **wearer.properties, "position": Property(keys=(key(0, [0, 0]), key(0.6, [100, 50])))}})  # fmt: skip
    scene = base.scenes[0].model_copy(update={"layers": (*base.scenes[0].layers[:-1], moving)})
    gust = SavedMove(id="gust", name="Gust", phase="leave", length_s=1.0,
                     properties={"rotation": Property(keys=(key(0, 0.0), key(1, 90.0)))})  # fmt: skip
    return check_project(
        base.model_copy(update={"scenes": (scene, base.scenes[1]), "saved_moves": (gust,)})
    )


OWN_EXAMPLES = [
    {"kind": "save-move", **S, "layer": "wearer", "id": "mine", "name": "Mine", "phase": "arrive"},
    {"kind": "change-saved-move", "move": "gust", "name": "Squall", "stretch": False},
    {
        "kind": "add-saved-move",
        "move": {"id": "calm", "name": "Calm", "phase": "arrive", "length_s": 1.0},
    },
]
COPIED_EXAMPLES = [{"kind": "share-again", **S, "layers": ["twin"]}]
TIED_EXAMPLES = [{"kind": "cut-ties", **S, "targets": [{"layer": "name"}]}]
EXPRESSED_EXAMPLES = [
    {"kind": "bake-expressions", **S, "targets": [{"layer": "mark", "property": "rotation"}]},
    {
        "kind": "set-expression",
        **S,
        "targets": [{"layer": "mark", "property": "rotation"}],
        "text": "",
    },
]
