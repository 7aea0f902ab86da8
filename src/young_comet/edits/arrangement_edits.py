"""Operations on arrangements: adding, retiming, ordering, taking away, who is there in them."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.catalog import arranged_spec
from ..core.model import (
    Arrangement,
    Keyframe,
    Layer,
    Project,
    Property,
    Scene,
    Stand,
    Step,
)
from ..core.model.arrangements import MAX_ARRANGEMENTS, Length, holds_of, index_at, with_stand
from ..core.model.values import Id, Name
from ..core.resolve.arranged import values_at
from ..core.resolve.tracks import names_of as project_names
from ..errors import DocumentError
from .arrangement_finding import find_arrangement, with_arrangement
from .base import (
    EditContext,
    NewId,
    SceneEdit,
    SceneTime,
    find_layer,
    find_scene,
    with_layers,
)
from .named import refuse_known, without
from .value_edits import key_at

FIRST_HOLD_S = 1.0


class ArrangementEdit(SceneEdit):
    """An operation on the row of arrangements itself."""

    arranged: ClassVar[bool] = False

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/arrangements"]


class AddArrangement(ArrangementEdit):
    """What stands at a moment, as an arrangement that begins there: within a hold it takes the rest
    of that, within a step it parts it. Where one begins already it comes after that, and what
    follows later. ``take_keys`` makes it of the keys at that moment, which go: the one before leads
    to it from where its own keys stood. ``like`` copies another one, right after it."""

    kind: Literal["add-arrangement"] = "add-arrangement"
    id: NewId
    time_s: SceneTime = 0.0
    name: Name | None = None
    like: Id | None = None
    take_keys: bool = False
    layers: Annotated[list[Id], Field(max_length=2000)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        refuse_known(scene.arrangements, self.id, "arrangement", "id")
        if len(scene.arrangements) >= MAX_ARRANGEMENTS:
            raise DocumentError(f"expected at most {MAX_ARRANGEMENTS}", field="arrangements")
        name = self.name or _next_name(scene)
        rate = scene.rate.rate
        at = min(scene.length_s, max(0.0, rate.snap(self.time_s)))
        made = Arrangement(id=self.id, name=name, hold_s=FIRST_HOLD_S)
        if self.take_keys:
            return _of_keys(scene, made, at, self.layers)
        if self.like is not None:
            source = find_arrangement(scene, self.like)
            copy = source.model_copy(update={"id": self.id, "name": name})
            index = scene.arrangements.index(source) + 1
            row = (*scene.arrangements[:index], copy, *scene.arrangements[index:])
            return scene.model_copy(update={"arrangements": _fitted(row, scene)})
        if not scene.arrangements:
            return scene.model_copy(update={"arrangements": (made,)})
        row = _with_new(project, scene, made, at)
        return scene.model_copy(update={"arrangements": _fitted(row, scene)})

    def label(self, project: Project) -> str:
        scene = find_scene(project, self.scene)
        name = self.name or _next_name(scene)
        return f"Keys into {name}" if self.take_keys else f"Add {name}"


def _next_name(scene: Scene) -> str:
    taken = {each.name for each in scene.arrangements}
    number = len(taken) + 1
    while f"Arrangement {number}" in taken:
        number += 1
    return f"Arrangement {number}"


def _with_new(
    project: Project, scene: Scene, made: Arrangement, at: float
) -> tuple[Arrangement, ...]:
    """The row with a new one of what stands at a moment."""
    holds, row = holds_of(scene), list(scene.arrangements)
    index = max(i for i, (begin, _) in enumerate(holds) if begin <= at + 1e-6)
    held, (begin, end) = row[index], holds[index]
    last = index == len(row) - 1
    frame_s = scene.rate.den / scene.rate.num
    if at < end - 1e-6 and at - begin < frame_s - 1e-6:  # it begins here itself
        made = made.model_copy(update={"stands": held.stands, "step": held.step})
        if not last:
            made = made.model_copy(update={"hold_s": max(held.hold_s, frame_s)})
            return (*row[: index + 1], made, *row[index + 1 :])
        # As usual, or within half of the room that is left.
        rate = scene.rate.rate
        hold, length, room = FIRST_HOLD_S, Step().length_s, (end - begin) / 2
        if hold + length > end - begin - frame_s:
            hold, length = rate.snap(0.6 * room), rate.snap(0.4 * room)
        before = held.model_copy(update={"hold_s": hold, "step": Step(length_s=length)})
        return (*row[:index], before, made)
    if at < end - 1e-6 or last:
        # Within a hold: it takes the rest of it, and the way to it comes off what is before.
        length = min(Step().length_s, at - begin)
        before = held.model_copy(
            update={"hold_s": at - length - begin, "step": Step(length_s=length)}
        )
        made = made.model_copy(
            update={"stands": held.stands, "step": held.step, "hold_s": max(0.0, end - at)}
        )
        return (*row[:index], before, made, *row[index + 1 :])
    # On the way from one to the next: as far as that is.
    goal = holds[index + 1][0]
    stands = _standing_at(project, scene, at)
    before = held.model_copy(update={"step": held.step.model_copy(update={"length_s": at - end})})
    rest = held.step.model_copy(update={"length_s": goal - at})
    made = made.model_copy(update={"stands": stands, "step": rest, "hold_s": 0.0})
    return (*row[:index], before, made, *row[index + 1 :])


def _standing_at(project: Project, scene: Scene, time_s: float) -> tuple[Stand, ...]:
    """How layers stand at a moment of a step."""
    near = scene.arrangements[index_at(scene, time_s)]
    made = near.model_copy()
    for layer_id, values in values_at(scene, project_names(project), time_s).items():
        stand = near.stand(layer_id)
        made = with_stand(made, stand.model_copy(update={"values": {**stand.values, **values}}))
    return made.stands


def _fitted(row: tuple[Arrangement, ...], scene: Scene) -> tuple[Arrangement, ...]:
    """A row of which the last one begins before the scene ends: holds give way, the longest first,
    as far as they have to."""
    least = scene.rate.den / scene.rate.num
    begin = sum(each.hold_s + each.step.length_s for each in row[:-1])
    over = begin - (scene.length_s - least)
    found = list(row)
    while over > 1e-9:
        at = max(range(len(row) - 1), key=lambda i: found[i].hold_s, default=None)
        if at is None or found[at].hold_s <= 1e-9:
            message = f"the scene ends at {scene.length_s:g} s, before it would begin"
            raise DocumentError(message, field="arrangements")
        less = min(over, max(found[at].hold_s / 2, min(least, found[at].hold_s)))
        found[at] = found[at].model_copy(update={"hold_s": max(0.0, found[at].hold_s - less)})
        over -= less
    return tuple(found)


def _of_keys(scene: Scene, made: Arrangement, at: float, chosen: list[str] | None) -> Scene:
    """The keys at a moment as an arrangement; they go, and the last of a property leaves its value
    to it."""
    holds = holds_of(scene)
    wanted = set(chosen) if chosen is not None else None
    for layer_id in wanted or ():
        find_layer(scene, layer_id)
    layers: dict[str, Layer] = {}
    easing = ""
    for layer in scene.layers:
        if wanted is not None and layer.id not in wanted:
            continue
        properties, values = dict(layer.properties), {}
        for name, prop in layer.properties.items():
            key = key_at(scene, layer, prop, at)
            if key is None or arranged_spec(layer, name) is None:
                continue
            easing = easing or key.easing
            values[name] = key.value
            properties[name] = _less(prop, key)
        if values:
            made = with_stand(made, Stand(layer=layer.id, values=values))
            layers[layer.id] = layer.model_copy(update={"properties": properties})
    if not layers:
        raise DocumentError("there is no key at that moment", field="time_s")
    scene = with_layers(scene, layers, lambda layer: layers[layer.id])
    if not holds:
        step = Step(easing=easing)
        made = made.model_copy(update={"hold_s": at, "step": step})
        return scene.model_copy(update={"arrangements": (made,)})
    begins = holds[-1][0]
    last = scene.arrangements[-1]
    if at <= begins + last.hold_s + 1e-6 and at <= begins + 1e-6:
        message = f"{last.name!r} begins then or later: keys are taken from the first on"
        raise DocumentError(message, field="time_s")
    hold = min(last.hold_s, at - begins)
    before = last.model_copy(
        update={
            "hold_s": hold,
            "step": last.step.model_copy(update={"length_s": min(60.0, at - begins - hold)}),
        }
    )
    made = made.model_copy(update={"hold_s": 0.0, "step": Step(easing=easing)})
    return scene.model_copy(update={"arrangements": (*scene.arrangements[:-1], before, made)})


def _less(prop: Property, key: Keyframe) -> Property:
    rest = tuple(other for other in prop.keys if other.id != key.id)
    if rest:
        return prop.with_keys(rest)
    return Property(value=key.value, expression=prop.expression)


class StepChange(BaseModel):
    """What changes of a step; what is None stays."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
    length_s: float | None = None
    easing: str | None = None
    stagger_pct: float | None = None
    order: str | None = None
    path: str | None = None
    bend: float | None = None
    along: Id | Literal[""] | None = None
    appears: str | None = None
    vanishes: str | None = None


class ChangeArrangement(ArrangementEdit):
    """Another name, hold or step for an arrangement; what follows moves along."""

    kind: Literal["change-arrangement"] = "change-arrangement"
    arrangement: Id
    name: Name | None = None
    hold_s: Length | None = None
    step: StepChange | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        held = find_arrangement(scene, self.arrangement)
        update: dict[str, Any] = {}
        if self.name is not None:
            update["name"] = self.name
        if self.hold_s is not None:
            update["hold_s"] = max(0.0, scene.rate.rate.snap(self.hold_s))
        if self.step is not None:
            given = self.step.model_dump(exclude_none=True)
            if given.get("along") == "":
                given["along"] = None
            elif "along" in given:
                find_layer(scene, given["along"])
            if given.get("path") == "drawn" and not (given.get("along") or held.step.along):
                raise DocumentError.expected("step / along", "a layer with a path", None)
            update["step"] = held.step.model_copy(update=given)
        return with_arrangement(scene, held.model_copy(update=update))

    def label(self, project: Project) -> str:
        scene = find_scene(project, self.scene)
        name = find_arrangement(scene, self.arrangement).name
        if self.name is not None:
            return f"Name the arrangement {self.name}"
        return f"Step after {name}" if self.step is not None else f"Hold of {name}"


class RetimeArrangement(ArrangementEdit):
    """A hold ends, or (``edge`` "begin") begins, at a moment: on whole frames, and all that follows
    moves along. What begins later is reached by a longer step."""

    kind: Literal["retime-arrangement"] = "retime-arrangement"
    arrangement: Id
    edge: Literal["begin", "end"] = "end"
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        held = find_arrangement(scene, self.arrangement)
        index = scene.arrangements.index(held)
        holds = holds_of(scene)
        at = scene.rate.rate.snap(self.time_s)
        if self.edge == "end":
            if index == len(holds) - 1:
                raise DocumentError("the last one stays until the scene ends", field=held.name)
            return with_arrangement(
                scene, held.model_copy(update={"hold_s": max(0.0, at - holds[index][0])})
            )
        if index == 0:
            raise DocumentError("the first one begins with the scene", field=held.name)
        before = scene.arrangements[index - 1]
        length = min(60.0, max(0.0, at - holds[index - 1][1]))
        step = before.step.model_copy(update={"length_s": length})
        return with_arrangement(scene, before.model_copy(update={"step": step}))

    def label(self, project: Project) -> str:
        name = find_arrangement(find_scene(project, self.scene), self.arrangement).name
        return f"Retime {name}"


class OrderArrangement(ArrangementEdit):
    """An arrangement goes to another place in the row, counted without it, with its hold and the
    step after it."""

    kind: Literal["order-arrangement"] = "order-arrangement"
    arrangement: Id
    index: Annotated[int, Field(ge=0, le=MAX_ARRANGEMENTS)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        held = find_arrangement(scene, self.arrangement)
        # The last one holds as long as the scene had room for it.
        last, (begin, end) = scene.arrangements[-1], holds_of(scene)[-1]
        held = held if held is not last else held.model_copy(update={"hold_s": end - begin})
        rest = tuple(
            each if each is not last else each.model_copy(update={"hold_s": end - begin})
            for each in without(scene.arrangements, self.arrangement)
        )
        row = (*rest[: self.index], held, *rest[self.index :])
        return scene.model_copy(update={"arrangements": _fitted(row, scene)})

    def label(self, project: Project) -> str:
        name = find_arrangement(find_scene(project, self.scene), self.arrangement).name
        return f"Order {name}"


class RemoveArrangements(ArrangementEdit):
    """Arrangements go, each with its hold and the step to the next; what follows comes earlier.
    What the last one that there is says becomes the layers' own."""

    kind: Literal["remove-arrangements"] = "remove-arrangements"
    arrangements: Annotated[list[Id], Field(min_length=1, max_length=MAX_ARRANGEMENTS)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        for each in self.arrangements:
            find_arrangement(scene, each)
        rest = tuple(each for each in scene.arrangements if each.id not in self.arrangements)
        if not rest:
            kept = scene.arrangements[0]
            layers = tuple(standing(layer, kept) for layer in scene.layers)
            return scene.model_copy(update={"layers": layers, "arrangements": ()})
        return scene.model_copy(update={"arrangements": rest})

    def label(self, project: Project) -> str:
        scene = find_scene(project, self.scene)
        if len(self.arrangements) > 1:
            return f"Delete {len(self.arrangements)} arrangements"
        return f"Delete {find_arrangement(scene, self.arrangements[0]).name}"


def standing(layer: Layer, arrangement: Arrangement) -> Layer:
    """A layer as an arrangement has it: its values as the layer's own, but for those with keys;
    what is not there is hidden."""
    stand = arrangement.stand(layer.id)
    values = stand.values
    if not stand.there:
        layer = layer.model_copy(update={"hidden": True})
    properties = dict(layer.properties)
    for name, value in values.items():
        own = layer.properties.get(name) or Property()
        if not own.keys:
            properties[name] = own.model_copy(update={"value": value})
    return layer.model_copy(update={"properties": properties}) if values else layer
