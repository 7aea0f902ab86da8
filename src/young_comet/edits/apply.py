"""Applying an operation, and taking it back."""

from __future__ import annotations

from dataclasses import dataclass

import jsonpatch

from ..core.catalog import check_links, check_nesting, check_project, check_scene, covers_frame
from ..core.model import Project, Scene, load_project
from ..core.model.linked import settle_copies
from ..core.model.ties import settle, without_lost_ties
from ..errors import DocumentError
from .base import Edit, EditContext
from .patch import Patch, diff, plain


@dataclass(frozen=True)
class Applied:
    """The new document, the patches there and back, and how the history speaks of it."""

    project: Project
    forward: Patch
    inverse: Patch
    label: str
    touches: list[str]


def apply_edit(project: Project, edit: Edit, context: EditContext) -> Applied:
    """Applies one operation. Raises DocumentError, and then nothing has changed."""
    label = edit.label(project)
    changed = _checked(project, edit.apply(project, context))
    return Applied(changed, diff(project, changed), diff(changed, project), label, edit.touches())


def draft(project: Project, edits: list[Edit], context: EditContext) -> Project:
    """The document as it would be after some operations; for previews while dragging."""
    for edit in edits:
        project = _checked(project, edit.apply(project, context))
    return project


def _checked(old: Project, new: Project) -> Project:
    """The canonical form: only scenes that changed are checked again."""
    if new.scenes is old.scenes:
        return check_project(new.model_copy(update={"scenes": ()})).model_copy(
            update={"scenes": new.scenes}
        )
    known = {id(scene) for scene in old.scenes}
    scenes = tuple(
        scene if id(scene) in known else _check_changed_layers(old, _settled(old, scene))
        for scene in new.scenes
    )
    ids = [scene.id for scene in scenes]
    if len(set(ids)) != len(ids):
        raise DocumentError("two scenes have the same id", field="scene")
    check_nesting(new.model_copy(update={"scenes": scenes}))
    return new.model_copy(update={"scenes": scenes})


def _settled(old: Project, scene: Scene) -> Scene:
    """A changed scene with its tied moments where they belong."""
    before = next((s for s in old.scenes if s.id == scene.id), None)
    scene = settle_copies(before, without_lost_ties(scene))
    check_links(scene)  # circles would have no order
    return settle(before, scene, covers_frame)


def _check_changed_layers(old: Project, scene: Scene) -> Scene:
    """A scene checked, its untouched layers kept as the objects they are."""
    before = next((s for s in old.scenes if s.id == scene.id), None)
    known = {id(layer) for layer in before.layers} if before else set()
    fresh = tuple(layer for layer in scene.layers if id(layer) not in known)
    part = check_scene(scene.model_copy(update={"layers": fresh}), links=False)
    checked = {layer.id: layer for layer in part.layers}
    ids = [layer.id for layer in scene.layers]
    if len(set(ids)) != len(ids):
        raise DocumentError("two layers have the same id", field="layer")
    layers = tuple(layer if id(layer) in known else checked[layer.id] for layer in scene.layers)
    return scene.model_copy(update={"layers": layers})


def revert(project: Project, patch: Patch) -> Project:
    """The document after a stored patch (an inverse for undo, a forward one for redo)."""
    try:
        data = jsonpatch.apply_patch(plain(project), patch, in_place=True)
    except (jsonpatch.JsonPatchException, jsonpatch.JsonPointerException) as error:
        raise DocumentError(f"the history does not fit the document ({error})") from error
    return load_project(data)


def overlap(a: list[str], b: list[str]) -> str | None:
    """The first path of ``a`` that lies within or around one of ``b``; None if they are apart."""
    for path in a:
        for other in b:
            if path == other or path.startswith(other + "/") or other.startswith(path + "/"):
                return path
    return None
