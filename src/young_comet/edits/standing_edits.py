"""Operations on what layers are in arrangements: who is there, what is the same in all."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..core.catalog import UNSEEN, arranged_spec, lane_label, layer_kind
from ..core.model import (
    Kind,
    Layer,
    Project,
    Property,
    PropertySpec,
    Scene,
)
from ..core.model.arrangements import with_stand
from ..core.model.values import Id
from ..core.resolve.arranged import courses_of
from ..core.resolve.courses import Course
from ..core.resolve.tracks import names_of as project_names
from ..errors import DocumentError
from .arrangement_edits import ArrangementEdit
from .arrangement_finding import find_arrangement, with_arrangement
from .arrangement_keys import parted
from .base import (
    EditContext,
    LayerIds,
    find_layer,
    find_scene,
    names_of,
    with_layers,
)
from .value_edits import PropertyEdit, Target, Targets, change_properties


class StandLayers(ArrangementEdit):
    """Layers are there in an arrangement, or are not."""

    kind: Literal["stand-layers"] = "stand-layers"
    arrangement: Id
    layers: LayerIds
    there: bool

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        held = find_arrangement(scene, self.arrangement)
        for layer_id in self.layers:
            layer = find_layer(scene, layer_id)
            if layer.kind in UNSEEN and not self.there:
                label = layer_kind(layer.kind).label.lower()
                raise DocumentError(f"a {label} is not seen: it is there in all", field=layer.name)
            held = with_stand(held, held.stand(layer_id).model_copy(update={"there": self.there}))
        return with_arrangement(scene, held)

    def label(self, project: Project) -> str:
        name = find_arrangement(find_scene(project, self.scene), self.arrangement).name
        who = names_of(project, self.scene, self.layers)
        return f"{who} {'is there' if self.there else 'is not there'} in {name}"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/arrangements/{self.arrangement}"]


class SameInAll(ArrangementEdit):
    """Properties of a layer are in all arrangements as they are in one."""

    kind: Literal["same-in-all"] = "same-in-all"
    layer: Id
    arrangement: Id
    properties: Annotated[list[str], Field(min_length=1, max_length=4000)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        held = find_arrangement(scene, self.arrangement)
        layer = find_layer(scene, self.layer)
        values = held.stand(self.layer).values
        properties = dict(layer.properties)
        for name in self.properties:
            if name in values:
                own = properties.get(name) or Property()
                if not own.keys:
                    properties[name] = own.model_copy(update={"value": values[name]})
        rows = []
        for each in scene.arrangements:
            stand = each.stand(self.layer)
            kept = {k: v for k, v in stand.values.items() if k not in self.properties}
            rows.append(with_stand(each, stand.model_copy(update={"values": kept})))
        scene = with_layers(
            scene, [layer.id], lambda old: old.model_copy(update={"properties": properties})
        )
        return scene.model_copy(update={"arrangements": tuple(rows)})

    def label(self, project: Project) -> str:
        scene = find_scene(project, self.scene)
        layer = find_layer(scene, self.layer)
        spec = arranged_spec(layer, self.properties[0])
        what = lane_label(layer, spec) if spec else self.properties[0]
        if len(self.properties) > 1:
            what = f"{len(self.properties)} properties"
        return f"{what} of {layer.name} the same in all arrangements"


class AddToArrangements(PropertyEdit):
    """The keys of properties add what they change to what arrangements say of them, or take over
    (``adds`` false)."""

    arranged: ClassVar[bool] = False
    kind: Literal["add-to-arrangements"] = "add-to-arrangements"
    targets: Targets
    adds: bool

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            if self.adds and spec.kind not in (Kind.NUMBER, Kind.POINT):
                raise DocumentError("only numbers and points can be added", field=spec.label)
            return prop.model_copy(update={"adds": self.adds})

        return change_properties(scene, self.targets, changed)

    def label(self, project: Project) -> str:
        how = "add to" if self.adds else "take over from"
        return f"Keys of {self.names(project, self.targets)} {how} arrangements"

    def touches(self) -> list[str]:
        return self.paths(self.targets)


class ArrangementsToKeys(ArrangementEdit):
    """What arrangements say of layers (of all: None) becomes ordinary keys, and what comes and goes
    gets spans and moves of its own: nothing changes on the stage. A layer that is there again after
    it was away becomes several. The arrangements go where all layers are turned."""

    kind: Literal["arrangements-to-keys"] = "arrangements-to-keys"
    layers: LayerIds | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        if not scene.arrangements:
            raise DocumentError("the scene has no arrangements", field="arrangements")
        wanted = {find_layer(scene, each).id for each in self.layers or ()}
        courses = courses_of(scene, project_names(project))
        names = {layer.name for layer in scene.layers}
        layers: list[Layer] = []
        for layer in scene.layers:
            if layer.id not in courses or (self.layers is not None and layer.id not in wanted):
                layers.append(layer)
                continue
            evaluator = context.evaluator(project, scene.id)
            layers += parted(evaluator, layer, courses[layer.id], names)
        turned = {each for each in courses if self.layers is None or each in wanted}
        layers = [_apart(layer, courses, turned) for layer in layers]
        if self.layers is None:
            return scene.model_copy(update={"layers": tuple(layers), "arrangements": ()})
        rows = tuple(
            each.model_copy(
                update={"stands": tuple(s for s in each.stands if s.layer not in wanted)}
            )
            for each in scene.arrangements
        )
        return scene.model_copy(update={"layers": tuple(layers), "arrangements": rows})

    def label(self, project: Project) -> str:
        if self.layers is None:
            return "Arrangements into keys"
        return f"Arrangements of {names_of(project, self.scene, self.layers)} into keys"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/layers", f"scenes/{self.scene}/arrangements"]


def _apart(layer: Layer, courses: Mapping[str, Course], turned: set[str]) -> Layer:
    """A linked copy that goes on without what its original has got."""
    if layer.copy_of not in turned:
        return layer
    return layer.model_copy(
        update={"own": tuple(sorted({*layer.own, *courses[layer.copy_of].properties}))}
    )
