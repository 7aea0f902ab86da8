"""Arrangements found and replaced, as operations need them."""

from __future__ import annotations

from ..core.model import Arrangement, Scene
from .named import found, replaced


def find_arrangement(scene: Scene, arrangement_id: str) -> Arrangement:
    """The arrangement of that id, or NotFoundError."""
    return found(scene.arrangements, arrangement_id, "arrangement", within=scene.name)


def with_arrangement(scene: Scene, changed: Arrangement) -> Scene:
    """A scene with one of its arrangements as it is given."""
    return scene.model_copy(update={"arrangements": replaced(scene.arrangements, changed)})
