"""A name that wears a move over its letters, and what is done with it."""

from tests.build import key, layer, project

from young_comet.core.catalog import check_project
from young_comet.core.model import Move, Property, TypeStyle

S = {"scene": "reveal"}


def lettered():
    """One text that arrives letter by letter, and one that wears a type style otherwise."""
    name = layer("name", "text", text="Gullwing", text__size=40.0, position=[160.0, 90.0])
    properties = {**name.properties, "move.m.spread.over": Property(value="letters")}
    worn = {"moves": (Move(id="m", kind="lift", phase="arrive"),), "arrive_s": 1.0}
    week = layer("week", "text", text="Kite Week", text__size=20.0)
    made = project(
        name.model_copy(update={**worn, "properties": properties}),
        week.model_copy(update={"type_style": "plain"}),
        layer("list", "text", text="Noon\nNorth jetty\n\nHeat 3", text__size=30.0),
        layer("said", "text", text=[key(0, "Noon", "hold"), key(2, "Later", "hold")]),
    )
    plain = TypeStyle(id="plain", name="Plain", properties={"text.size": 30.0})
    return check_project(made.model_copy(update={"type_styles": (plain,)}))


TYPE_EXAMPLES = [
    {"kind": "open-move", **S, "layer": "name", "move": "m"},
    {"kind": "save-type-style", **S, "layer": "name", "id": "bold", "name": "Bold"},
    {"kind": "wear-type-style", **S, "layers": ["week"], "style": "plain"},
    {"kind": "change-type-style", "style": "plain", "properties": {"text.font": "anton"}},
    {"kind": "remove-type-style", "style": "plain"},
    {"kind": "swap-lines", **S, "layer": "list"},
    {
        "kind": "cross-keys",
        **S,
        "targets": [{"layer": "said", "property": "text"}],
        "crosses": True,
    },
]
