"""Texts written on the stage."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.model import Project, Scene
from ..core.model.document import Id
from ..errors import DocumentError
from .base import EditContext, SceneEdit, SceneTime, find_layer, names_of, with_this
from .layer_edits import ChangeLayers
from .value_edits import with_values

# A text that fits keeps this share of the frame's width free at each side, and is no smaller.
_MARGIN, _LEAST_PX = 0.04, 8.0
_NAMED = 40


class WriteText(SceneEdit):
    """Other words for a text. A layer that is called after its text goes on being so. One that
    ``fits`` becomes smaller where its words would run out of the frame: never larger."""

    kind: Literal["write-text"] = "write-text"
    layer: Id
    text: Annotated[str, Field(max_length=20_000)]
    time_s: SceneTime
    fits: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        if layer.kind != "text":
            raise DocumentError.expected("layer", "a text", layer.kind)
        before = context.evaluator(project, scene.id).values(layer, self.time_s)("text")
        written = with_values(project, scene, [(layer.id, "text", self.text)], self.time_s, context)
        own = layer.properties.get("text")
        name = _short(self.text)
        called = layer.name == _short(str(before)) or _is_usual(layer.name)
        if name and called and not (own and own.keys):
            renamed = ChangeLayers(scene=scene.id, layers=[layer.id], name=name)
            written = renamed.change(with_this(project, written), written, context)
        return self._fitted(project, written, context) if self.fits else written

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
