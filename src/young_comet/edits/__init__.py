"""Typed operations on a document, each undoable."""

from .apply import Applied, apply_edit, draft, overlap, revert, sound
from .base import Edit, EditContext, new_id
from .registry import EDIT_KINDS, parse_edit, parse_edits

__all__ = [
    "EDIT_KINDS",
    "Applied",
    "Edit",
    "EditContext",
    "apply_edit",
    "draft",
    "new_id",
    "overlap",
    "parse_edit",
    "parse_edits",
    "revert",
    "sound",
]
