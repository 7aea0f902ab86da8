"""Texts written on the stage, and stretches of them styled."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.catalog import RUNS, normalise
from ..core.model import Layer, Project, Property, Scene
from ..core.model.kinds.base import MAX_TEXT
from ..core.model.values import Id, Value
from ..errors import DocumentError
from .base import EditContext, SceneEdit, SceneTime, find_layer, names_of, with_layers, with_this
from .layer_edits import ChangeLayers
from .runs import (
    Styled,
    replaced,
    stretch_between,
    styled_of,
    with_stretch,
    with_styled,
    with_styles,
)
from .value_edits import with_values

# A text that fits keeps this share of the frame's width free at each side, and is no smaller.
_MARGIN, _LEAST_PX = 0.04, 8.0
_NAMED = 40


Written = Annotated[str, Field(max_length=MAX_TEXT)]
Place = Annotated[int, Field(ge=0, le=MAX_TEXT)]


class StyledStretch(BaseModel):
    """A stretch of what is written in, counted from its begin, and its run's properties by plain
    names."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    first: Place
    last: Place
    properties: dict[str, Property]


class Writing(SceneEdit):
    """What edits of a text's words have in common: its runs stay on what they were on, a layer that
    is called after its text goes on being so, and one that ``fits`` becomes smaller where its words
    would run out of the frame: never larger."""

    layer: Id
    time_s: SceneTime
    fits: bool = False

    def written(
        self, project: Project, scene: Scene, context: EditContext,
        stretch: tuple[int, int, str], given: Sequence[Styled] = (),
    ) -> Scene:  # fmt: skip
        """The scene with a stretch (first, before last) of the text in another's place; ``given``
        are runs of what is new."""
        layer = text_layer(scene, self.layer)
        first, last, new = stretch
        before = self.words(project, scene, context)
        text = before[:first] + new + before[last:]
        if len(text) > MAX_TEXT:
            raise DocumentError(f"expected at most {MAX_TEXT} characters", field="text")
        written = with_values(project, scene, [(layer.id, "text", text)], self.time_s, context)
        styled = replaced(styled_of(layer), first, last, len(new), len(before))
        styled = with_styles(styled, first, given, len(text)) if given else styled
        if layer.runs or given:
            written = with_layers(written, [layer.id], lambda la: with_styled(la, styled))
        own = layer.properties.get("text")
        name = _short(text)
        called = layer.name == _short(before) or _is_usual(layer.name)
        if name and called and not (own and own.keys):
            renamed = ChangeLayers(scene=scene.id, layers=[layer.id], name=name)
            written = renamed.change(with_this(project, written), written, context)
        return self._fitted(project, written, context) if self.fits else written

    def words(self, project: Project, scene: Scene, context: EditContext) -> str:
        """What the text says at the time of the edit, before any expression."""
        layer = text_layer(scene, self.layer)
        return str(context.evaluator(project, scene.id).values(layer, self.time_s).keyed("text"))

    def _fitted(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        """Twice is enough: what it is made smaller by is told by what it measures."""
        for _ in range(2):
            layer = find_layer(scene, self.layer)
            size = layer.properties.get("text.size")
            if size is not None and (size.keys or size.expression):
                return scene
            document = with_this(project, scene)
            box = context.bounds(document, scene.id, layer.id, self.time_s)
            if box is None:
                return scene
            edge = _MARGIN * scene.width
            factor = _factor(box[0], box[2], edge, scene.width - edge)
            factor = min(factor, _factor(box[1], box[3], edge, scene.height - edge))
            if factor >= 1:
                return scene
            now = context.evaluator(document, scene.id).values(layer, self.time_s)("text.size")
            value = max(min(now, _LEAST_PX), round(now * factor, 1))
            scene = with_values(
                document, scene, [(layer.id, "text.size", value)], self.time_s, context
            )
        return scene

    def label(self, project: Project) -> str:
        return f"Write {names_of(project, self.scene, [self.layer])}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer])


class WriteText(Writing):
    """Other words for a text: what differs is replaced."""

    kind: Literal["write-text"] = "write-text"
    text: Written

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        before = self.words(project, scene, context)
        return self.written(project, scene, context, stretch_between(before, self.text))


class EditText(Writing):
    """A stretch of a text, from the character ``first`` until before ``last``, gives way to other
    words; ``runs`` are how these are styled, where they bring that with them."""

    kind: Literal["edit-text"] = "edit-text"
    first: Place
    last: Place
    text: Written
    runs: Annotated[tuple[StyledStretch, ...], Field(max_length=400)] = ()

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        length = len(self.words(project, scene, context))
        stretch_within(self.first, self.last, length)
        given = []
        for run in self.runs:
            stretch_within(run.first, run.last, len(self.text), "runs")
            given.append((run.first, run.last, run.properties))
        stretch = (self.first, self.last, self.text)
        return self.written(project, scene, context, stretch, given)


class StyleStretch(SceneEdit):
    """A stretch of a text gets letters and paint of its own: ``set`` are values by the plain names
    of a run's properties (weight, fill.colour); null takes one back, so that it is as in the whole
    text. What is set of all of a text is set of the text itself."""

    kind: Literal["style-stretch"] = "style-stretch"
    layer: Id
    first: Place
    last: Place
    set: Annotated[dict[str, Value], Field(min_length=1, max_length=60)]
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = text_layer(scene, self.layer)
        values = context.evaluator(project, scene.id).values(layer, self.time_s)
        length = len(values("text"))
        stretch_within(self.first, self.last, length)
        if self.first == self.last:
            raise DocumentError("a stretch without letters cannot be styled", field="last")
        changes: dict[str, Property | None] = {}
        whole: list[tuple[str, str, Any]] = []
        for name, value in self.set.items():
            spec = RUNS.spec_of_kind(RUNS.id, name)
            if spec is None:
                raise DocumentError(f"a run has no property {name!r}", field="set")
            if value is None:
                changes[name] = None
                continue
            value = normalise(spec, value, name)
            if self.first == 0 and self.last == length:
                whole.append((layer.id, spec.follows, value))
                changes[name] = None
            else:
                changes[name] = Property(value=value)
        styled = with_stretch(styled_of(layer), self.first, self.last, changes, length)
        scene = with_layers(scene, [layer.id], lambda la: with_styled(la, styled))
        if not whole:
            return scene
        return with_values(with_this(project, scene), scene, whole, self.time_s, context)

    def label(self, project: Project) -> str:
        specs = (RUNS.spec_of_kind(RUNS.id, name) for name in self.set)
        labels = [spec.label.lower() for spec in specs if spec is not None]
        what = labels[0] if len(labels) == 1 else "letters"
        return f"Set {what} in {names_of(project, self.scene, [self.layer])}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer])


def text_layer(scene: Scene, layer_id: str) -> Layer:
    """The text of an id, or DocumentError."""
    layer = find_layer(scene, layer_id)
    if layer.kind != "text":
        raise DocumentError.expected("layer", "a text", layer.kind)
    return layer


def stretch_within(first: int, last: int, length: int, field: str = "last") -> None:
    """Raises DocumentError unless a stretch rises and lies within a text of some length."""
    if not first <= last <= length:
        raise DocumentError(
            f"expected a stretch within the {length} characters of the text, not {first} to {last}",
            field=field,
        )


def _factor(low: float, high: float, least: float, most: float) -> float:
    """How much smaller something must be to end before ``most``, from where it begins on; or to lie
    within, where it begins too early as well."""
    long = max(1e-6, high - low)
    room = most - (low if low >= least else least)
    return 1.0 if low >= least and high <= most else max(0.05, room / long)


def _short(text: str) -> str:
    return " ".join(text.split())[:_NAMED].strip()


def _is_usual(name: str) -> bool:
    return name == "Text" or (name.startswith("Text ") and name[5:].isdecimal())
