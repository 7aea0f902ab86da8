"""Operations on the project's own easings."""

from __future__ import annotations

from typing import Any, Literal

from ..core.model import Arrangement, Layer, Project, SavedEasing
from ..core.model.values import Name
from ..core.timing import REFERENCE, parse_easing
from .base import Edit, EditContext, NewId
from .named import found, refuse_known, replaced, without


class AddEasing(Edit):
    """An easing saved by name; keys can refer to it or copy it."""

    kind: Literal["add-easing"] = "add-easing"
    id: NewId
    name: Name
    easing: str

    def apply(self, project: Project, context: EditContext) -> Project:
        refuse_known(project.easings, self.id, "easing", "easing")
        saved = SavedEasing(id=self.id, name=self.name, easing=parse_easing(self.easing).text)
        return project.model_copy(update={"easings": (*project.easings, saved)})

    def label(self, project: Project) -> str:
        return f"Save easing {self.name}"

    def touches(self) -> list[str]:
        return [f"easings/{self.id}"]


class ChangeEasing(Edit):
    """Another name or curve for a saved easing; keys that refer to it follow."""

    kind: Literal["change-easing"] = "change-easing"
    id: str
    name: Name | None = None
    easing: str | None = None

    def apply(self, project: Project, context: EditContext) -> Project:
        old = find_easing(project, self.id)
        easing = old.easing if self.easing is None else parse_easing(self.easing).text
        changed = SavedEasing(id=old.id, name=self.name or old.name, easing=easing)
        easings = replaced(project.easings, changed)
        return project.model_copy(update={"easings": easings})

    def label(self, project: Project) -> str:
        return f"Change easing {find_easing(project, self.id).name}"

    def touches(self) -> list[str]:
        return [f"easings/{self.id}"]


class RemoveEasing(Edit):
    """A saved easing goes; keys that referred to it keep its curve."""

    kind: Literal["remove-easing"] = "remove-easing"
    id: str

    def apply(self, project: Project, context: EditContext) -> Project:
        old = find_easing(project, self.id)
        name = REFERENCE + old.id

        def plain(layer: Layer) -> Layer:
            changed: dict[str, Any] = {}
            for property_id, prop in layer.properties.items():
                if any(key.easing == name for key in prop.keys):
                    keys = tuple(
                        key.model_copy(update={"easing": old.easing}) if key.easing == name else key
                        for key in prop.keys
                    )
                    changed[property_id] = prop.model_copy(update={"keys": keys})
            if not changed:
                return layer
            return layer.model_copy(update={"properties": {**layer.properties, **changed}})

        def led(each: Arrangement) -> Arrangement:
            if each.step.easing != name:
                return each
            step = each.step.model_copy(update={"easing": old.easing})
            return each.model_copy(update={"step": step})

        scenes = tuple(
            scene.model_copy(
                update={
                    "layers": tuple(plain(layer) for layer in scene.layers),
                    "arrangements": tuple(led(each) for each in scene.arrangements),
                }
            )
            for scene in project.scenes
        )
        settings = project.settings
        if settings.new_key_easing == name:
            settings = settings.model_copy(update={"new_key_easing": old.easing})
        easings = without(project.easings, old.id)
        return project.model_copy(
            update={"easings": easings, "scenes": scenes, "settings": settings}
        )

    def label(self, project: Project) -> str:
        return f"Remove easing {find_easing(project, self.id).name}"

    def touches(self) -> list[str]:
        return ["easings", "scenes", "settings"]


def find_easing(project: Project, easing_id: str) -> SavedEasing:
    """The easing of that id, or NotFoundError."""
    return found(project.easings, easing_id, "easing")
