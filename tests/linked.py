"""Small scenes of layers that ride, read and follow each other."""

from __future__ import annotations

from tests.build import LIBRARY, layer, project

from young_comet.core.model import Property
from young_comet.core.resolve import SceneEvaluator


def riding(name, on, kind="shape", **values):
    return layer(name, kind, **values).model_copy(update={"rides": on})


def expressed(name, kind="shape", **values):
    """Properties by name; texts that begin with = are expressions."""
    made = layer(name, kind, **{k: v for k, v in values.items() if not str(v).startswith("=")})
    props = dict(made.properties)
    for each, text in values.items():
        if str(text).startswith("="):
            props[each.replace("__", ".")] = props.get(each, Property()).model_copy(
                update={"expression": text[1:], "value": default(made, each)}
            )
    return made.model_copy(update={"properties": props})


def default(made, name):
    from young_comet.core.catalog import find_spec

    spec = find_spec(made, name.replace("__", "."))
    return (160.0, 90.0) if spec.default is None else spec.default


def evaluator(*layers, **more):
    return SceneEvaluator(project(*layers, **more), "reveal", library=LIBRARY)


def at(ev, name, time_s=0.0):
    found = ev.find(name)
    return ev.matrix(ev.values(found, time_s))


def seen(ev, name, point, time_s=0.0):
    values = ev.values(ev.find(name), time_s)
    return (ev.places.lens(values) or ev.matrix(values))(point)
