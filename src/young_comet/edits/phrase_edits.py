"""Phrases: one text each, timed, in a style and with a front."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.catalog import READY_FRONTS
from ..core.catalog.type_styles import dressed, said_by
from ..core.media.phrases import MAX_LETTERS, MAX_PHRASES, spans
from ..core.model import Layer, Project, Property, Scene
from ..core.model.document import Tie
from ..core.model.values import Id, Seconds
from ..core.typography.units import units_of
from ..errors import DocumentError
from .base import EditContext, SceneEdit, SceneTime, new_id, snap_span
from .front_edits import ReadyId, with_ready
from .text_edits import text_layer
from .type_style_edits import find_style

_SIZE, _FOOT = 14.0, 0.82


class PhraseGiven(BaseModel):
    """What is said, and when: seconds of the scene from ``at_s`` on."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    text: Annotated[str, Field(min_length=1, max_length=MAX_LETTERS)]
    start_s: Seconds | None = None
    end_s: Seconds | None = None


def _lasting(layer: Layer, start_s: float, end_s: float) -> Layer:
    """The layer at its time; arriving and leaving are no longer than that."""
    phases = layer.arrive_s + layer.leave_s
    share = min(1.0, (end_s - start_s) / phases) if phases else 1.0
    update = {"arrive_s": layer.arrive_s * share, "leave_s": layer.leave_s * share}
    return layer.model_copy(update={"start_s": start_s, "end_s": end_s, **update})


class AddPhrases(SceneEdit):
    """A text layer for each phrase, above all others: in the letters of a text that is ``like``
    them, or in a type ``style``, and with a ready front where one is named. They are timed by their
    ``file``, ``even`` over the rest of the scene, or as long as they are ``read``. Where they are
    ``tied`` each start hangs on the end of the one before."""

    kind: Literal["add-phrases"] = "add-phrases"
    phrases: Annotated[list[PhraseGiven], Field(min_length=1, max_length=MAX_PHRASES)]
    at_s: SceneTime = 0.0
    timing: Literal["file", "even", "read"] = "read"
    like: Id | None = None
    style: Id | None = None
    ready: ReadyId | None = None
    tied: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        like = None if self.like is None else text_layer(scene, self.like)
        style = None if self.style is None else find_style(project, self.style)
        if like is not None and style is not None:
            raise DocumentError("letters are like a text, or of a type style", field="style")
        size = like.properties.get("text.size") if like is not None else None
        size_px = min(scene.width, scene.height) / _SIZE
        if size is not None and not size.keys and not size.expression:
            size_px = float(size.value)
        if style is not None:
            size_px = float(said_by(style, "text.size"))
        made: list[Layer] = []
        for phrase, (start, end) in zip(self.phrases, self._spans(scene), strict=True):
            name = " ".join(phrase.text.split())[:40] or "Phrase"
            if start >= scene.length_s:
                raise DocumentError(
                    f"{name!r} begins at {start:g} s, after the scene's end at "
                    f"{scene.length_s:g} s: make the scene longer first",
                    field="phrases",
                )
            start_s, end_s = snap_span(scene, start, min(end, scene.length_s), name)
            layer = self._layer(scene, like, name, phrase.text, size_px)
            if style is not None:
                layer = dressed(layer, style)
            layer = _lasting(layer, start_s, end_s)
            if self.tied and made:
                offset = start_s - made[-1].end_s
                tie = Tie(to="layer", id=made[-1].id, moment="end", offset_s=offset)
                layer = layer.model_copy(update={"start_tie": tie})
            if self.ready is not None:
                count = len(units_of(phrase.text, READY_FRONTS[self.ready].by))
                layer = with_ready(layer, new_id(), self.ready, count, size_px)
            made.append(layer)
        return scene.model_copy(update={"layers": (*scene.layers, *made)})

    def _spans(self, scene: Scene) -> list[tuple[float, float]]:
        if self.timing == "file":
            found = []
            for phrase in self.phrases:
                if phrase.start_s is None or phrase.end_s is None or phrase.end_s <= phrase.start_s:
                    raise DocumentError(
                        "phrases without times cannot be timed by their file", field="timing"
                    )
                found.append((self.at_s + phrase.start_s, self.at_s + phrase.end_s))
            return found
        texts = [phrase.text for phrase in self.phrases]
        frame_s = scene.rate.den / scene.rate.num
        rest = scene.length_s - self.at_s
        if rest < len(texts) * frame_s:
            raise DocumentError(
                f"there are {max(0.0, rest):g} s left for {len(texts)} phrases: begin earlier",
                field="at_s",
            )
        return spans(texts, self.at_s, rest, self.timing)

    @staticmethod
    def _layer(scene: Scene, like: Layer | None, name: str, text: str, size_px: float) -> Layer:
        said = Property(value=text)
        if like is None:
            properties = {
                "text": said,
                "text.size": Property(value=round(size_px, 1)),
                "position": Property(value=(scene.width / 2, round(scene.height * _FOOT, 1))),
            }
            return Layer(
                id=new_id(), name=name, kind="text", start_s=0.0, end_s=1.0, properties=properties
            )
        properties = {n: p for n, p in like.properties.items() if not n.startswith("run.")}
        update = {
            "id": new_id(), "name": name, "properties": {**properties, "text": said}, "runs": (),
            "start_tie": None, "end_tie": None, "copy_of": None, "own": (), "locked": False,
            "hidden": False,
        }  # fmt: skip
        return like.model_copy(update=update)

    def label(self, project: Project) -> str:
        count = len(self.phrases)
        return f"Add {count} phrases" if count > 1 else "Add a phrase"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/layers"]
