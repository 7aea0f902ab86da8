"""Notes that a client wrote on a review page, as marks of the scene."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..core.model import Mark, Project, Scene
from ..core.model.schema import from_validation
from ..core.model.values import MAX_NOTE, Id
from ..errors import DocumentError, NotFoundError
from .base import EditContext, SceneEdit, new_id
from .mark_edits import inside, with_marks

MOST_BYTES = 4 * 2**20
# So much of a note is the name of its mark.
_NAMED = 40


class ReviewNote(BaseModel):
    """What was noted at a second of the scene."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
    at_s: Annotated[float, Field(ge=0, le=3600)]
    text: Annotated[str, Field(min_length=1, max_length=2000)]


class NotesFile(BaseModel):
    """The file that a review page saves: the scene's id, the name of the film, who wrote, and the
    notes."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    kind: Literal["young-comet-notes"]
    scene: Id
    film: Annotated[str, Field(max_length=400)] = ""
    by: Annotated[str, Field(max_length=100)] = ""
    notes: Annotated[tuple[ReviewNote, ...], Field(min_length=1, max_length=1000)]


def read_notes(path: Path) -> NotesFile:
    """A file of notes; DocumentError where it is none."""
    try:
        with path.open("rb") as file:
            data = file.read(MOST_BYTES + 1)
    except OSError as error:
        raise NotFoundError(f"{path} cannot be read ({error.strerror})", field="file") from error
    if len(data) > MOST_BYTES:
        raise DocumentError.expected("file", f"at most {MOST_BYTES} bytes", "more")
    try:
        return NotesFile.model_validate_json(data)
    except ValidationError as error:
        raise from_validation(error) from error


class NotesToMarks(SceneEdit):
    """Notes become marks on the nearest frames. Where a mark is already, they are added to its
    note; those that it has are not taken twice."""

    kind: Literal["notes-to-marks"] = "notes-to-marks"
    file: NotesFile

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        other = next((s for s in project.scenes if s.id == self.file.scene), None)
        if other is not None and other.id != scene.id:
            raise DocumentError(f"these are notes on the scene {other.name!r}", field="file.scene")
        marks = {round(mark.time_s, 6): mark for mark in scene.marks}
        before = dict(marks)
        for each in sorted(self.file.notes, key=lambda note: note.at_s):
            self._note(each, scene, marks)
        if marks == before:
            raise DocumentError("these notes are there already", field="file")
        return with_marks(scene, list(marks.values()))

    def _note(self, each: ReviewNote, scene: Scene, marks: dict[float, Mark]) -> None:
        said = each.text.strip()
        if not said:
            return
        text = f"{self.file.by}: {said}" if self.file.by else said
        time_s = inside(scene, each.at_s)
        at = round(time_s, 6)
        old = marks.get(at)
        if old is None:
            marks[at] = Mark(id=new_id(), name=_short(said), time_s=time_s, note=text)
        elif text not in old.note.split("\n\n"):
            note = f"{old.note}\n\n{text}".strip()
            if len(note) > MAX_NOTE:
                raise DocumentError.expected(
                    "file.notes", f"at most {MAX_NOTE} letters at {time_s:g} s", len(note)
                )
            marks[at] = old.model_copy(update={"note": note})

    def label(self, project: Project) -> str:
        count = len(self.file.notes)
        whose = f" of {self.file.by}" if self.file.by else ""
        return f"{count} notes{whose}" if count > 1 else f"A note{whose}"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/marks"]


def _short(text: str) -> str:
    """The beginning of a text, at a word's end."""
    line = " ".join(text.split())
    return line if len(line) <= _NAMED else line[:_NAMED].rsplit(" ", 1)[0].rstrip(",.;:") + "…"
