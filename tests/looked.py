"""Small scenes whose layers have looks."""

from __future__ import annotations

from tests.build import draw, layer, project

from young_comet.core.model import Property


def box(id="panel", size=(200.0, 120.0), colour="#ff0000", at=(160.0, 90.0), **more):
    values = {"position": list(at), **more}
    return layer(id, "shape", shape__size=list(size), fill__colour=colour, **values)


def masked(base, *masks, **values):
    properties = {k: Property(value=v) if not isinstance(v, list) or not v or not hasattr(v[0], "time_s") else Property(keys=tuple(v))
                  for k, v in values.items()}  # fmt: skip
    return base.model_copy(update={"masks": masks, "properties": {**base.properties, **properties}})


def alpha(document, **more):
    return draw(document, **more)[..., 3]


def clear(*layers, **more):
    return project(*layers, ground=None, **more)
