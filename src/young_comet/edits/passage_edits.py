"""Passages worn by layers."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator

from ..core.catalog import MOVES as WORN
from ..core.catalog import normalise
from ..core.model import Layer, Move, Project, Property, Scene
from ..core.moves import MOVES, PASSAGES
from ..errors import DocumentError
from .base import EditContext, LayerIds, SceneEdit, find_layer, names_of, new_id, with_layers
from .following import FOLLOWS, PHASE_LENGTHS


def _known(value: str) -> str:
    if value not in PASSAGES:
        raise ValueError("expected one of " + ", ".join(PASSAGES))
    return value


PassageId = Annotated[str, AfterValidator(_known)]


class WearPassage(SceneEdit):
    """Layers wear the moves of a passage in place of those that they wore, and their phases last as
    long as these take. Refused for layers for which one of them does nothing."""

    kind: Literal["wear-passage"] = "wear-passage"
    layers: LayerIds
    passage: PassageId

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        passage = PASSAGES[self.passage]
        for layer_id in self.layers:
            layer = find_layer(scene, layer_id)
            if not passage.fits(layer.kind, MOVES):
                raise DocumentError(
                    f"{passage.label} does nothing for a {layer.kind}",
                    field=f"layer {layer.name!r} / moves",
                )

        def worn(layer: Layer) -> Layer:
            layer = WORN.without(layer, [move.id for move in layer.moves])
            for each in passage.moves:
                move = Move.model_validate({"id": new_id(), "kind": each.kind, "phase": each.phase})
                own: dict[str, Property] = {}
                for name, value in each.on(layer.kind).items():
                    spec = WORN.spec_of_kind(WORN.kind_of(move), name)
                    if spec is not None:
                        own[name] = Property(value=normalise(spec, value, name))
                layer = WORN.added(layer, move, own)
            phases = {each.phase for each in passage.moves}
            update: dict[str, Any] = {FOLLOWS[phase]: phase in phases for phase in PHASE_LENGTHS}
            # What is in none of its phases has no length; the others get theirs by their moves.
            update |= dict.fromkeys(PHASE_LENGTHS.values(), 0.0)
            return layer.model_copy(update=update)

        return with_layers(scene, self.layers, worn)

    def label(self, project: Project) -> str:
        passage = PASSAGES.get(self.passage)
        name = passage.label if passage else self.passage
        return f"{name}: {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers)
