"""Arrangements found and replaced, as operations need them."""

from __future__ import annotations

from collections.abc import Mapping

from ..core.model import Arrangement, Scene
from ..core.model.arrangements import with_stand
from .named import found, replaced


def find_arrangement(scene: Scene, arrangement_id: str) -> Arrangement:
    """The arrangement of that id, or NotFoundError."""
    return found(scene.arrangements, arrangement_id, "arrangement", within=scene.name)


def with_arrangement(scene: Scene, changed: Arrangement) -> Scene:
    """A scene with one of its arrangements as it is given."""
    return scene.model_copy(update={"arrangements": replaced(scene.arrangements, changed)})


def with_copied_stands(scene: Scene, copies: Mapping[str, str]) -> Scene:
    """A scene in which arrangements say of copies (by the ids of what they are of) what they say of
    those."""
    if not scene.arrangements:
        return scene
    row = []
    for each in scene.arrangements:
        for layer_id, copy_id in copies.items():
            stand = each.stand(layer_id)
            each = with_stand(each, stand.model_copy(update={"layer": copy_id}))
        row.append(each)
    return scene.model_copy(update={"arrangements": tuple(row)})
