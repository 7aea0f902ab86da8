"""Texts as drawings: one part for each letter, painted as it was."""

from __future__ import annotations

from ..core.catalog import PARTS, RUNS, find_spec
from ..core.frame.contents import Dress, TextContent
from ..core.geometry.affine import Box
from ..core.geometry.contours import contours_of, write_contours
from ..core.geometry.outline import Outline
from ..core.model import Kind, Layer, Part, Property
from ..core.pixels.canvas import Gradient, Paint
from ..core.pixels.mixing import PLAIN
from ..core.resolve import SceneEvaluator
from ..core.typography.layout import TextLayout
from ..core.typography.units import units_of
from .base import new_id

# As many parts as a drawing may have.
_MOST = 400
_PAINTED = ("fill.", "stroke.")


def is_mixed(layer: Layer, evaluator: SceneEvaluator, time_s: float) -> bool:
    """Whether a text is painted in more than one way: a single path would lose that."""
    resolved = evaluator.layer(layer, time_s, shutter=False)
    return (
        resolved is not None
        and isinstance(resolved.content, TextContent)
        and not resolved.content.plain
    )


def with_letters(layer: Layer, shape: Layer, evaluator: SceneEvaluator, time_s: float) -> Layer:
    """``shape``, which a text has become, as a drawing of its letters; of its stretches where there
    are more letters than parts may be."""
    resolved = evaluator.layer(layer, time_s, shutter=False)
    assert resolved is not None
    content = resolved.content
    assert isinstance(content, TextContent)
    layout = evaluator.set_text(content)
    properties = {n: p for n, p in shape.properties.items() if n != "shape.path"}
    properties["shape.kind"] = Property(value="drawing")
    parts: list[Part] = []

    def add(name: str, outline: Outline, own: dict[str, Property]) -> None:
        part = Part(id=new_id(), name=name[:40] or "Letter")
        parts.append(part)
        path = Property(value=write_contours(contours_of(outline.merged())))
        held = {"path": path, **own}
        properties.update({PARTS.prefix(part.id) + n: p for n, p in held.items()})

    for backing in content.backings:
        for outline in backing.boxes(layout, units_of(content.text, "words")):
            add("Box behind", outline, _box_fill(backing.paint))
    pieces = [
        (max(a, dress.first), min(b, dress.last), dress)
        for dress in content.dressed(layout)
        for a, b in units_of(content.text, "letters")
        if max(a, dress.first) < min(b, dress.last)
    ]
    if len(pieces) + len(parts) > _MOST:
        pieces = [(d.first, d.last, d) for d in content.dressed(layout)][: _MOST - len(parts)]
    for first, last, dress in pieces:
        outline = layout.outline_between(first, last)
        if not outline.is_empty:
            own = _paint(layer, layout, dress, outline.bounds)
            add(content.text[first:last].strip(), outline, own)
    return shape.model_copy(update={"properties": properties, "parts": tuple(parts)})


def _box_fill(paint: Paint) -> dict[str, Property]:
    """The fill of a box as properties of a part."""
    if not isinstance(paint, Gradient):
        return {"fill.colour": Property(value=Kind.COLOUR.to_json(paint))}
    ends = {"fill.start": paint.start, "fill.end": paint.end}
    stops = Kind.STOPS.to_json(paint.stops)
    return {
        "fill.kind": Property(value=paint.kind),
        "fill.stops": Property(value=stops),
        "fill.mixing": Property(value=PLAIN),
        **{name: Property(value=(100 * x, 100 * y)) for name, (x, y) in ends.items()},
    }


def _paint(layer: Layer, layout: TextLayout, dress: Dress, box: Box) -> dict[str, Property]:
    """The paint of a stretch as properties of a part: its run's own, else the text's."""
    run = next((r for r in layer.runs if r.on and r.first <= dress.first < r.last), None)
    found: dict[str, Property] = {}
    for spec in PARTS.declared(PARTS.id) or ():
        if not spec.id.startswith(_PAINTED):
            continue
        own = layer.properties.get(RUNS.prefix(run.id) + spec.id) if run is not None else None
        prop = own or layer.properties.get(spec.id)
        theirs = find_spec(layer, spec.id)
        if prop is None and theirs is not None and theirs.default != spec.default:
            prop = Property(value=theirs.default)
        if prop is not None:
            found[spec.id] = prop
    whole = layout.box if dress.across == "block" else None
    if dress.across in ("line", "word"):
        whole = layout.outline_between(dress.first, dress.last).bounds
    if whole is not None:
        for name in ("fill.start", "fill.end"):
            prop = found.get(name) or Property(value=_default(name))
            if not prop.keys:
                found[name] = Property(value=_within(prop.value, whole, box))
    return found


def _default(name: str) -> tuple[float, float]:
    spec = next(s for s in PARTS.declared(PARTS.id) or () if s.id == name)
    x, y = spec.default
    return (float(x), float(y))


def _within(point: tuple[float, float], whole: Box, box: Box) -> tuple[float, float]:
    """A point in percent of one box, in percent of another."""
    found = []
    for axis in (0, 1):
        at = whole[axis] + point[axis] / 100 * (whole[axis + 2] - whole[axis])
        found.append(round(100 * (at - box[axis]) / max(1e-6, box[axis + 2] - box[axis]), 3))
    return (max(-1e4, min(1e4, found[0])), max(-1e4, min(1e4, found[1])))
