"""What hangs together within a scene: rides, alignments, properties that read each other.

Everything here must end somewhere: circles are refused, and named.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Mapping
from typing import TypeVar

from ...errors import DocumentError
from ..expressions import compile_expression
from ..model.document import Layer, Project, Scene
from ..model.ties import waits_for
from .kinds import layer_kind

Node = TypeVar("Node", bound=Hashable)

# An expression may read one that reads another one, this many times over.
MAX_READS_DEEP = 60

_PLACE = ("position", "rotation", "scale", "skew", "pivot", "tilt", "turn", "align", "opacity")


def check_links(scene: Scene) -> None:
    """Raises DocumentError for what rides, aligns or reads in a circle, or rides on nothing."""
    layers = {layer.id: layer for layer in scene.layers}
    carried = {layer.id: _carried_by(layer) for layer in scene.layers}
    for layer in scene.layers:
        if layer.rides is not None:
            _check_ride(layer, layers)
    circle = find_circle([i for i, below in carried.items() if below], lambda i: carried.get(i, ()))
    if circle:
        names = " on ".join(f"{layers[i].name!r}" for i in circle if i in layers)
        raise DocumentError(
            f"that would go round in a circle: {names}", field=f"layer {layers[circle[0]].name!r}"
        )
    _check_reads(scene, layers)
    _check_ties(scene, layers)


def same_links(a: Scene, b: Scene) -> bool:
    """Whether what hangs together in two scenes is the same: then the checks of one hold for the
    other. Layers that both share are passed over."""
    if a is b:
        return True
    if len(a.layers) != len(b.layers) or a.ends_with_last != b.ends_with_last:
        return False
    if [each.id for each in a.arrangements] != [each.id for each in b.arrangements]:
        return False
    if a.marks is not b.marks and [(m.id, m.tie) for m in a.marks] != [
        (m.id, m.tie) for m in b.marks
    ]:
        return False
    return all(
        x is y or (x.id == y.id and _linked_alike(x, y))
        for x, y in zip(a.layers, b.layers, strict=True)
    )


# Properties of which the checks of this module look at the value.
_LINKED_BY = frozenset(("align.layer", "align.to", "fit.layer", "scene.id"))


def _linked_alike(x: Layer, y: Layer) -> bool:
    """Whether two layers are the same in all that the checks of this module look at."""
    same = (
        x.name == y.name
        and x.kind == y.kind
        and x.rides == y.rides
        and x.copy_of == y.copy_of
        and x.start_tie == y.start_tie
        and x.end_tie == y.end_tie
    )
    if not same or x.properties is y.properties:
        return same
    for name in x.properties.keys() | y.properties.keys():
        a, b = x.properties.get(name), y.properties.get(name)
        if a is b:
            continue
        if (a.expression if a else "") != (b.expression if b else ""):
            return False
        if name in _LINKED_BY and (a.value if a else None) != (b.value if b else None):
            return False
    return True


def _check_ride(layer: Layer, layers: Mapping[str, Layer]) -> None:
    field = f"layer {layer.name!r} / rides on"
    below = layers.get(layer.rides or "")
    if below is None:
        raise DocumentError.expected(field, "a layer of this scene", layer.rides)
    if not layer_kind(layer.kind).placed:
        raise DocumentError(f"a {layer.kind} has no place of its own and cannot ride", field=field)
    if not layer_kind(below.kind).placed:
        message = f"{below.name!r} has no place of its own to ride on"
        raise DocumentError(message, field=field)


def covers_frame(layer: Layer) -> bool:
    """Whether a layer has no place of its own."""
    return not layer_kind(layer.kind).placed


def _check_ties(scene: Scene, layers: Mapping[str, Layer]) -> None:
    after = waits_for(scene, covers_frame)
    for node, waiting in after.items():
        for each in waiting:
            if each not in after:
                raise DocumentError.expected(
                    f"the tie of {tied_name(scene, node)}", "something of this scene", each[1]
                )
    circle = find_circle(after, lambda node: after.get(node, ()))
    if circle:
        steps: list[str] = []
        for node in circle:
            name = tied_name(scene, node)
            if not steps or steps[-1] != name:
                steps.append(name)
        raise DocumentError(
            "these would wait for each other in a circle: " + ", ".join(steps),
            field=tied_name(scene, circle[0]),
        )


def tied_name(scene: Scene, node: tuple[str, str, str]) -> str:
    """A moment in words, for messages."""
    what, id, side = node
    if what == "scene":
        return f"the {side or 'start'} of the scene"
    if what == "mark":
        return next((f"the mark {m.name!r}" for m in scene.marks if m.id == id), "a mark")
    if what == "arrangement":
        held = (f"the {side} of {each.name!r}" for each in scene.arrangements if each.id == id)
        return next(held, "an arrangement")
    return next((f"the {side} of {la.name!r}" for la in scene.layers if la.id == id), "a layer")


def _carried_by(layer: Layer) -> tuple[str, ...]:
    """The layers on which another one's place or size depends."""
    found = [layer.rides] if layer.rides else []
    for name, when in (("align.layer", "align.to"), ("fit.layer", "")):
        prop = layer.properties.get(name)
        if prop is None or not prop.value:
            continue
        if when and getattr(layer.properties.get(when), "value", "") != "layer":
            continue
        found.append(prop.value)
    return tuple(found)


def find_circle(
    starts: Iterable[Node], after: Callable[[Node], Iterable[Node]]
) -> list[Node] | None:
    """A circle that can be reached from some nodes, its first node again at its end; None
    where there is none. Depth first, without recursion."""
    done: set[Node] = set()
    for start in starts:
        if start in done:
            continue
        path: list[Node] = [start]
        on_path = {start}
        stack = [iter(after(start))]
        while stack:
            step = next(stack[-1], None)
            if step is None:
                stack.pop()
                done.add(path[-1])
                on_path.discard(path.pop())
            elif step in on_path:
                return [*path[path.index(step) :], step]
            elif step not in done:
                path.append(step)
                on_path.add(step)
                stack.append(iter(after(step)))
    return None


def _check_reads(scene: Scene, layers: Mapping[str, Layer]) -> None:
    """Whether expressions read each other in a circle, or too deeply."""
    expressed = {
        (layer.id, name): prop.expression
        for layer in scene.layers
        for name, prop in layer.properties.items()
        if prop.expression
    }
    if not expressed:
        return
    named = {layer.name: layer for layer in reversed(scene.layers)}
    of_layer: dict[str, list[str]] = {}
    for layer_id, name in expressed:
        of_layer.setdefault(layer_id, []).append(name)

    def measured(layer: Layer) -> Iterable[tuple[str, str]]:
        """What the size of a layer depends on: its own expressions but those of its place, and
        the size of what it is fitted around."""
        for name in of_layer.get(layer.id, ()):
            if name.split(".")[0] not in _PLACE:
                yield (layer.id, name)
        fitted = layer.properties.get("fit.layer")
        if fitted is not None and fitted.value in layers:
            yield (fitted.value, "width")

    def after(node: tuple[str, str]) -> Iterable[tuple[str, str]]:
        layer_id, name = node
        if name in ("width", "height"):
            yield from measured(layers[layer_id])
            return
        text = expressed.get(node)
        if text is None:
            for part in (f"{name}.x", f"{name}.y"):
                if (layer_id, part) in expressed:
                    yield (layer_id, part)
            return
        for read in compile_expression(text).reads:
            other = named.get(read.layer)
            if other is not None and read.property_id not in ("start", "end"):
                yield (other.id, read.property_id)

    circle = find_circle(expressed, after)
    if circle:
        steps = " reads ".join(f"{layers[i].name!r} {name}" for i, name in circle)
        raise DocumentError(
            f"these read each other in a circle: {steps}",
            field=f"layer {layers[circle[0][0]].name!r} / {circle[0][1]} / expression",
        )
    _check_depth(expressed, after, layers)


def _check_depth(
    starts: Iterable[tuple[str, str]],
    after: Callable[[tuple[str, str]], Iterable[tuple[str, str]]],
    layers: Mapping[str, Layer],
) -> None:
    depth: dict[tuple[str, str], int] = {}
    for start in starts:
        stack = [start]
        while stack:
            node = stack[-1]
            waiting = [each for each in after(node) if each not in depth]
            if waiting:
                stack += waiting
                continue
            stack.pop()
            depth[node] = 1 + max((depth[each] for each in after(node)), default=0)
            if depth[node] > MAX_READS_DEEP:
                raise DocumentError(
                    f"this reads through more than {MAX_READS_DEEP} other properties",
                    field=f"layer {layers[node[0]].name!r} / {node[1]} / expression",
                )


def readers_of(scene: Scene, layer_name: str, property_id: str) -> list[tuple[str, str]]:
    """The (layer id, property) pairs whose expressions read a property of a layer."""
    found = []
    for layer in scene.layers:
        for name, prop in layer.properties.items():
            if not prop.expression:
                continue
            reads = compile_expression(prop.expression).reads
            if any(r.layer == layer_name and r.property_id == property_id for r in reads):
                found.append((layer.id, name))
    return found


# Scenes within each other, the outermost counted.
MAX_NESTED = 16


def check_nesting(project: Project) -> None:
    """Raises DocumentError where scenes are placed within each other in a circle, or too deeply."""
    placed = {
        scene.id: [i for layer in scene.layers if (i := placed_scene(layer))]
        for scene in project.scenes
    }
    names = {scene.id: scene.name for scene in project.scenes}
    circle = find_circle(placed, lambda i: [each for each in placed.get(i, ()) if each in placed])
    if circle:
        steps = " in ".join(repr(names[i]) for i in reversed(circle))
        raise DocumentError(
            f"a scene cannot lie within itself: {steps}", field=f"scene {names[circle[0]]!r}"
        )
    depth: dict[str, int] = {}

    def deep(scene_id: str) -> int:
        if scene_id not in depth:
            inner = (deep(i) for i in placed[scene_id] if i in placed)
            depth[scene_id] = 1 + max(inner, default=0)
        return depth[scene_id]

    for scene_id in placed:
        if deep(scene_id) > MAX_NESTED:
            raise DocumentError(
                f"expected at most {MAX_NESTED} scenes within each other",
                field=f"scene {names[scene_id]!r}",
            )


def placed_scene(layer: Layer) -> str:
    """The id of the scene that a layer places, or nothing."""
    prop = layer.properties.get("scene.id") if layer.kind == "scene" else None
    return str(prop.value) if prop is not None and prop.value else ""
