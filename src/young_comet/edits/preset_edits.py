"""Choices for renders, kept by name in the project."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import ValidationError

from ..core.export import RenderSettings
from ..core.export.formats import wanted
from ..core.model import Project, RenderPreset
from ..core.model.schema import from_validation
from ..core.model.values import Id, Name
from ..errors import DocumentError
from .base import Edit, EditContext, NewId
from .named import found

# What belongs to one scene, or to one time, is not kept.
NOT_KEPT = frozenset({"from_s", "to_s", "at_s", "layers", "gaps"})
MAX_PRESETS = 200


class SavePreset(Edit):
    """What was chosen for a render under a name; one of that name is replaced. Range, moment and
    layers are left out."""

    kind: Literal["save-preset"] = "save-preset"
    id: NewId
    name: Name
    settings: dict[str, Any]

    def apply(self, project: Project, context: EditContext) -> Project:
        try:
            chosen = RenderSettings.model_validate(self.settings)
        except ValidationError as error:
            raise from_validation(error) from error
        wanted(chosen)
        kept = chosen.model_dump(mode="json", exclude=set(NOT_KEPT))
        others = [each for each in project.presets if each.name != self.name]
        if len(others) >= MAX_PRESETS:
            raise DocumentError(f"a project keeps at most {MAX_PRESETS} presets", field="name")
        if any(each.id == self.id for each in others):
            raise DocumentError(f"there is a preset {self.id!r} already", field="id")
        made = RenderPreset(id=self.id, name=self.name, settings=kept)
        return project.model_copy(update={"presets": (*others, made)})

    def label(self, project: Project) -> str:
        return f"Keep the render preset {self.name}"

    def touches(self) -> list[str]:
        return ["presets"]


class RemovePreset(Edit):
    """A kept choice is forgotten."""

    kind: Literal["remove-preset"] = "remove-preset"
    preset: Id

    def apply(self, project: Project, context: EditContext) -> Project:
        gone = found(project.presets, self.preset, "preset")
        rest = tuple(each for each in project.presets if each is not gone)
        return project.model_copy(update={"presets": rest})

    def label(self, project: Project) -> str:
        return f"Forget the render preset {found(project.presets, self.preset, 'preset').name}"

    def touches(self) -> list[str]:
        return ["presets"]


def settings_of(preset: RenderPreset, **more: Any) -> RenderSettings:
    """A kept choice, and what is chosen besides; DocumentError where it does not fit any more."""
    try:
        values = preset.model_dump(mode="json")["settings"]
        return RenderSettings.model_validate({**values, **more})
    except ValidationError as error:
        raise from_validation(error) from error
