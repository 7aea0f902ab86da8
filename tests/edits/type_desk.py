"""A name that wears a move over its letters, and what is done with it."""

from tests.build import layer, project

from young_comet.core.catalog import check_project
from young_comet.core.model import Move, Property

S = {"scene": "reveal"}


def lettered():
    """One text that arrives letter by letter."""
    name = layer("name", "text", text="Gullwing", text__size=40.0, position=[160.0, 90.0])
    properties = {**name.properties, "move.m.spread.over": Property(value="letters")}
    worn = {"moves": (Move(id="m", kind="lift", phase="arrive"),), "arrive_s": 1.0}
    return check_project(project(name.model_copy(update={**worn, "properties": properties})))


TYPE_EXAMPLES = [{"kind": "open-move", **S, "layer": "name", "move": "m"}]
