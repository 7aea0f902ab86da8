"""Operations on marks and the working range of a scene."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..core.model import Mark, Project, Scene
from ..core.model.values import MAX_NOTE, Id, Name
from ..errors import DocumentError
from .base import EditContext, NewId, SceneEdit, SceneTime, find_scene
from .named import found, refuse_known

Note = Annotated[str, Field(max_length=MAX_NOTE)]


class AddMark(SceneEdit):
    """A mark on the nearest frame; without a name it gets the next number."""

    arranged: ClassVar[bool] = False
    kind: Literal["add-mark"] = "add-mark"
    id: NewId
    time_s: SceneTime
    name: Name | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        refuse_known(scene.marks, self.id, "mark", "mark")
        time_s = inside(scene, self.time_s)
        if any(abs(mark.time_s - time_s) < 1e-6 for mark in scene.marks):
            raise DocumentError("there is a mark at that moment already", field="time_s")
        name = self.name or _next_name(scene)
        return with_marks(scene, [*scene.marks, Mark(id=self.id, name=name, time_s=time_s)])

    def label(self, project: Project) -> str:
        return f"Mark {self.name}" if self.name else "Set a mark"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/marks/{self.id}"]


class ChangeMark(SceneEdit):
    """Another name or moment for a mark, or another note."""

    arranged: ClassVar[bool] = False
    kind: Literal["change-mark"] = "change-mark"
    mark: Id
    name: Name | None = None
    time_s: SceneTime | None = None
    note: Note | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        old = find_mark(scene, self.mark)
        time_s = old.time_s if self.time_s is None else inside(scene, self.time_s)
        note = old.note if self.note is None else self.note.strip()
        changed = old.model_copy(
            update={"name": self.name or old.name, "time_s": time_s, "note": note}
        )
        return with_marks(scene, [changed if m is old else m for m in scene.marks])

    def label(self, project: Project) -> str:
        if self.note is not None:
            return f"Note at {find_mark(find_scene(project, self.scene), self.mark).name}"
        return f"Name the mark {self.name}" if self.name else "Move a mark"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/marks/{self.mark}"]


class RemoveMarks(SceneEdit):
    """Marks go."""

    arranged: ClassVar[bool] = False
    kind: Literal["remove-marks"] = "remove-marks"
    marks: Annotated[list[Id], Field(min_length=1, max_length=2000)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        for mark_id in self.marks:
            find_mark(scene, mark_id)
        return with_marks(scene, [m for m in scene.marks if m.id not in self.marks])

    def label(self, project: Project) -> str:
        return "Delete a mark" if len(self.marks) == 1 else f"Delete {len(self.marks)} marks"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/marks/{mark}" for mark in self.marks]


class SetRange(SceneEdit):
    """The working range, snapped to frames; None for an end that is the scene's own."""

    arranged: ClassVar[bool] = False
    kind: Literal["set-range"] = "set-range"
    start_s: SceneTime | None = None
    end_s: SceneTime | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        rate = scene.rate.rate
        start = rate.snap(max(0.0, self.start_s or 0.0))
        end = scene.length_s if self.end_s is None else rate.snap(self.end_s)
        end = min(scene.length_s, end)
        if end - start < 1e-6:
            raise DocumentError("the end must come after the start", field="working range")
        whole = start <= 1e-6 and end >= scene.length_s - 1e-6
        return scene.model_copy(update={"range_s": None if whole else (start, end)})

    def label(self, project: Project) -> str:
        return "Working range"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/range"]


def find_mark(scene: Scene, mark_id: str) -> Mark:
    """The mark of that id, or NotFoundError."""
    return found(scene.marks, mark_id, "mark", within=scene.name)


def inside(scene: Scene, time_s: float) -> float:
    """The frame that is nearest to a moment, within the scene; seconds."""
    return min(scene.length_s, max(0.0, scene.rate.rate.snap(time_s)))


def _next_name(scene: Scene) -> str:
    taken = {mark.name for mark in scene.marks}
    number = 1
    while f"Mark {number}" in taken:
        number += 1
    return f"Mark {number}"


def with_marks(scene: Scene, marks: list[Mark]) -> Scene:
    """A scene with these marks, in the order of their times."""
    return scene.model_copy(update={"marks": tuple(sorted(marks, key=lambda m: m.time_s))})
