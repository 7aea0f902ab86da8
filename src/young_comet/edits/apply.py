"""Applying an operation, and taking it back."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from pydantic import ValidationError

from ..core.catalog import (
    check_links,
    check_project,
    covers_frame,
    same_links,
    without_lost_stands,
)
from ..core.effort import limited
from ..core.model import Project, Scene
from ..core.model.linked import settle_copies
from ..core.model.recheck import recheck
from ..core.model.schema import from_validation
from ..core.model.ties import settle, without_lost_ties
from ..errors import DocumentError
from .base import Edit, EditContext
from .following import followed
from .patch import Patch, diffs
from .patched import patched


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
    with limited(), _in_words():
        label = edit.label(project)
        changed = _done(project, edit, context)
    there, back = diffs(project, changed)
    return Applied(changed, there, back, label, edit.touches())


def draft(project: Project, edits: list[Edit], context: EditContext) -> Project:
    """The document as it would be after some operations; for previews while dragging."""
    with limited(), _in_words():
        for edit in edits:
            project = _done(project, edit, context)
    return project


def _done(project: Project, edit: Edit, context: EditContext) -> Project:
    """The checked document after an operation, its phases as long as their moves take."""
    changed = _checked(project, edit.apply(project, context))
    return _checked(changed, followed(project, changed, context))


@contextmanager
def _in_words() -> Iterator[None]:
    """Numbers that an operation cannot work with are told as what they are: a wrong operation."""
    try:
        yield
    except ValidationError as error:
        raise from_validation(error) from error
    except ArithmeticError as error:
        raise DocumentError("the numbers become too large to work with") from error


def _checked(old: Project, new: Project) -> Project:
    """The one door: the document with its ties settled, having passed what loading it would
    check. Objects that both documents share are not looked at again."""
    if new is old:
        return old
    known = {id(scene) for scene in old.scenes}
    scenes = tuple(s if id(s) in known else _settled(old, s) for s in new.scenes)
    return sound(old, new.model_copy(update={"scenes": scenes}))


def sound(old: Project | None, new: Project) -> Project:
    """The document if it would load again from its JSON, else DocumentError; ``old`` is one that
    did."""
    return check_project(recheck(old, new), old)


def _settled(old: Project, scene: Scene) -> Scene:
    """A changed scene with its tied moments where they belong."""
    before = next((s for s in old.scenes if s.id == scene.id), None)
    scene = without_lost_stands(settle_copies(before, without_lost_ties(scene)), before)
    if before is None or not same_links(scene, before):
        check_links(scene)  # circles would have no order
    return settle(before, scene, covers_frame)


def revert(project: Project, patch: Patch) -> Project:
    """The document after a stored patch (an inverse for undo, a forward one for redo). What the
    patch does not touch stays the objects that they are."""
    return sound(project, patched(project, patch))


def overlap(a: list[str], b: list[str]) -> str | None:
    """The first path of ``a`` that lies within or around one of ``b``; None if they are apart."""
    whole = set(b)
    around = {prefix for path in whole for prefix in _prefixes(path)}
    for path in a:
        if path in around or any(prefix in whole for prefix in _prefixes(path)):
            return path
    return None


def _prefixes(path: str) -> list[str]:
    """A path and all that it lies within."""
    ends = [i for i, letter in enumerate(path) if letter == "/"]
    return [path, *(path[:end] for end in ends)]
