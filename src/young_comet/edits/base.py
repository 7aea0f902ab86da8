"""What every operation has, and the helpers to build a changed document."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Iterable
from typing import Annotated, ClassVar, Protocol

from pydantic import BaseModel, ConfigDict, Field

from ..core.geometry.affine import Box
from ..core.geometry.outline import Outline
from ..core.model import Group, Layer, Project, Property, Scene
from ..core.model.values import Id, Seconds
from ..core.resolve import SceneEvaluator
from ..errors import DocumentError, NotFoundError
from .named import found, replaced

_ALPHABET = "abcdefghijkmnpqrstuvwxyz23456789"

NewId = Annotated[Id, Field(default_factory=lambda: new_id())]
LayerIds = Annotated[list[Id], Field(min_length=1, max_length=2000)]
# Far beyond any frame, near enough to compute with.
Coordinate = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Place = tuple[Coordinate, Coordinate]
SceneTime = Annotated[Seconds, Field(description="seconds in the scene")]


def new_id() -> str:
    """A fresh id of ten easily told apart characters."""
    return "".join(secrets.choice(_ALPHABET) for _ in range(10))


class EditContext(Protocol):
    """What an operation may ask about the picture."""

    def bounds(self, project: Project, scene_id: str, layer_id: str, time_s: float) -> Box | None:
        """Must. The upright box of a layer's content in the scene, None if it shows nothing."""
        ...

    def seen(self, project: Project, scene_id: str, layer_id: str, time_s: float) -> Box | None:
        """Must. The upright box in the scene of what is really seen of a layer, masks and effects
        included; that of its content where nothing of it is seen."""
        ...

    def box(self, project: Project, scene_id: str, layer_id: str, time_s: float) -> Box | None:
        """Must. The box of a layer's content in its own space, None if it shows nothing."""
        ...

    def evaluator(self, project: Project, scene_id: str) -> SceneEvaluator:
        """Must. What evaluates a scene, texts measured with their own typefaces."""
        ...

    def outline(
        self, project: Project, scene_id: str, layer_id: str, time_s: float
    ) -> Outline | None:
        """Must. The outline of a shape or text in its own space, None for other layers."""
        ...


class Edit(BaseModel):
    """One operation. Subclasses give ``kind`` and the three methods.

    ``apply`` must return a new document and leave the old one as it is; it raises
    DocumentError where the operation makes no sense. ``touches`` must name what the operation
    reads and changes as slash-separated paths: two operations are in conflict where one path
    begins with the other.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
    kind: str
    # Whether the catalog's checks run over the whole scene afterwards (layers came or changed).
    checks: ClassVar[bool] = True
    # Whether it works on what stands on the stage: in an arrangement it changes what that says.
    arranged: ClassVar[bool] = False
    # Whether it is then done in each of them: values change with how layers hang together.
    in_each: ClassVar[bool] = False

    def single(self) -> list[Edit]:
        """May. The operations that it consists of."""
        return [self]

    def apply(self, project: Project, context: EditContext) -> Project:
        """Must. The document with the operation done; DocumentError where it makes no sense."""
        raise NotImplementedError

    def label(self, project: Project) -> str:
        """Must. One line for the history, in the state before the operation."""
        raise NotImplementedError

    def touches(self) -> list[str]:
        """Must. What the operation reads and changes, as paths."""
        raise NotImplementedError


class SceneEdit(Edit):
    """An operation within one scene."""

    arranged: ClassVar[bool] = True
    scene: Id

    def apply(self, project: Project, context: EditContext) -> Project:
        return with_scene(project, self.scene, lambda scene: self.change(project, scene, context))

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        """Must. The scene with the operation done; DocumentError where it makes no sense."""
        raise NotImplementedError

    def layer_paths(self, layers: Iterable[str], tail: str = "") -> list[str]:
        """Paths of layers, as far as a tail says."""
        return [f"scenes/{self.scene}/layers/{layer}{tail}" for layer in layers]


def find_scene(project: Project, scene_id: str) -> Scene:
    """The scene of that id, or NotFoundError."""
    return found(project.scenes, scene_id, "scene")


# The layers of the scenes asked for last, by id: operations look up many of one scene. Threads
# replace it whole; one that loses its entry to another's makes it again.
_KEPT_SCENES = 6
_index: tuple[tuple[Scene, dict[str, Layer]], ...] = ()


def layers_by_id(scene: Scene) -> dict[str, Layer]:
    """The layers of a scene; not to be changed."""
    global _index
    for known, layers in _index:
        if known is scene:
            return layers
    layers = {layer.id: layer for layer in scene.layers}
    _index = (*_index[1 - _KEPT_SCENES :], (scene, layers))
    return layers


def find_layer(scene: Scene, layer_id: str) -> Layer:
    """A layer by its id; NotFoundError where there is none."""
    found = layers_by_id(scene).get(layer_id)
    if found is None:
        raise NotFoundError(f"there is no layer {layer_id!r} in {scene.name!r}", field="layer")
    return found


def find_group(scene: Scene, group_id: str) -> Group:
    """The group of that id, or NotFoundError."""
    return found(scene.groups, group_id, "group", within=scene.name)


def with_scene(project: Project, scene_id: str, change: Callable[[Scene], Scene]) -> Project:
    """The project with one scene replaced by what ``change`` makes of it."""
    changed = change(find_scene(project, scene_id))
    scenes = replaced(project.scenes, changed)
    return project.model_copy(update={"scenes": scenes})


def with_layers(scene: Scene, layer_ids: Iterable[str], change: Callable[[Layer], Layer]) -> Scene:
    """The scene with some layers replaced; NotFoundError for an unknown id."""
    wanted = set(layer_ids)
    for layer_id in wanted:
        find_layer(scene, layer_id)
    layers = tuple(change(la) if la.id in wanted else la for la in scene.layers)
    return scene.model_copy(update={"layers": layers})


def with_properties(scene: Scene, layer: Layer, properties: dict[str, Property]) -> Scene:
    """The scene with other properties for one layer."""
    changed = layer.model_copy(update={"properties": properties})
    return with_layers(scene, [layer.id], lambda _: changed)


def with_this(project: Project, scene: Scene) -> Project:
    """The project with a scene as it is given."""
    return with_scene(project, scene.id, lambda _: scene)


def names_of(project: Project, scene_id: str, layers: Iterable[str]) -> str:
    """How the history speaks of some layers: a name, or how many."""
    layers = list(layers)
    if len(layers) != 1:
        return f"{len(layers)} layers"
    try:
        return find_layer(find_scene(project, scene_id), layers[0]).name
    except NotFoundError:
        return "a layer"


def snap_span(scene: Scene, start_s: float, end_s: float, field: str) -> tuple[float, float]:
    """A span on frame borders, at least one frame long."""
    rate = scene.rate.rate
    first, last = rate.nearest_frame(start_s), rate.nearest_frame(end_s)
    if end_s < start_s:
        raise DocumentError("the end must come after the start", field=field)
    return rate.time_of(first), rate.time_of(max(last, first + 1))
