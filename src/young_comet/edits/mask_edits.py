"""Operations that masks alone have: tied to other spaces, taken from outlines."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any, Literal

from ..core.catalog import MASKS
from ..core.geometry import Affine
from ..core.geometry.contours import contours_of, write_contours
from ..core.geometry.outline import Outline, from_svg_path
from ..core.model import Layer, Mask, Project, Property, Scene
from ..core.model.values import Id
from ..core.resolve import SceneEvaluator
from ..errors import DocumentError
from .base import EditContext, NewId, SceneEdit, SceneTime, find_layer, names_of, with_layers
from .member_edits import MembersCopied


class MaskEdit(SceneEdit):
    """An operation on the masks of one layer."""

    layer: Id

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/masks")

    def who(self, project: Project) -> str:
        """The layer's name, for the history."""
        return names_of(project, self.scene, [self.layer])


class TieMask(MaskEdit):
    """Puts a mask into another space: the layer's own, the scene's, or that of a layer which it
    follows from now on. At the time given it stays where it is on the stage; its keys go along.
    """

    kind: Literal["tie-mask"] = "tie-mask"
    mask: Id
    space: Literal["layer", "scene", "follow"]
    follows: Id | None = None
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        old = MASKS.find(layer, self.mask)
        if self.space == "follow":
            if self.follows is None or self.follows == self.layer:
                raise DocumentError("expected another layer to follow", field="follows")
            find_layer(scene, self.follows)
        follows = self.follows if self.space == "follow" else None
        tied = old.model_copy(update={"space": self.space, "follows": follows})
        evaluator = SceneEvaluator(project, scene.id)
        before = mask_space(evaluator, layer, old, self.time_s)
        after = mask_space(evaluator, layer, tied, self.time_s)
        try:
            move = after.inverse() @ before
        except ValueError:
            raise DocumentError("that layer is scaled to nothing now", field="follows") from None
        masks = tuple(tied if mask is old else mask for mask in layer.masks)
        changed = moved_mask(layer.model_copy(update={"masks": masks}), tied, move)
        return with_layers(scene, [self.layer], lambda _: changed)

    def label(self, project: Project) -> str:
        if self.space == "follow" and self.follows:
            return f"Let a mask follow {names_of(project, self.scene, [self.follows])}"
        return f"Lay a mask of {self.who(project)} into the {self.space}"


def into_layer(evaluator: SceneEvaluator, outline: Outline, layer: Layer, time_s: float) -> Outline:
    """An outline of the scene in a layer's own space at a time."""
    here = evaluator.place_of(layer.id, time_s) or Affine()
    try:
        return outline.mapped(here.inverse())
    except ValueError:
        raise DocumentError("the layer is scaled to nothing now", field="layer") from None


def as_mask_path(
    evaluator: SceneEvaluator, layer: Layer, mask: Mask, time_s: float, outline: Outline
) -> Outline:
    """An outline on the stage as a mask's path has to be to lie there at a time: what the mask's
    own position, rotation and scale do about the middle of its path is undone."""
    values, prefix = evaluator.values(layer, time_s), MASKS.prefix(mask.id)
    sx, sy = values(prefix + "scale")
    own = Affine.rotation(values(prefix + "rotation")) @ Affine.scaling(sx / 100, sy / 100)
    try:
        inside = outline.mapped(mask_space(evaluator, layer, mask, time_s).inverse())
        path = inside.mapped(own.inverse())
    except ValueError:
        raise DocumentError("the mask is scaled to nothing now", field="layer") from None
    left, top, right, bottom = path.bounds
    x, y = (left + right) / 2, (top + bottom) / 2
    turned = own((x, y))
    px, py = values(prefix + "position")
    return path.mapped(Affine.shift(turned[0] - x - px, turned[1] - y - py))


def mask_space(evaluator: SceneEvaluator, layer: Layer, mask: Mask, time_s: float) -> Affine:
    """From the space that a mask lies in to the scene."""
    if mask.space == "scene":
        return Affine()
    owner = mask.follows if mask.space == "follow" else layer.id
    return evaluator.place_of(owner or "", time_s) or Affine()


def moved_mask(layer: Layer, mask: Mask, move: Affine) -> Layer:
    """The layer with a mask's place carried by a map: every value and key of its position,
    rotation and scale, and its feather and growth. A skew of the map is left out."""
    specs, prefix = MASKS.specs(mask), MASKS.prefix(mask.id)
    turn = math.degrees(math.atan2(move.b, move.a))
    factor = move.mean_scale
    path = layer.properties.get(prefix + "path")
    middle = (0.0, 0.0)
    if mask.form == "path":
        data = specs[prefix + "path"].default
        if path is not None:
            data = path.keys[0].value if path.keys else path.value
        left, top, right, bottom = from_svg_path(data).bounds
        middle = ((left + right) / 2, (top + bottom) / 2)

    def place(p: Any) -> tuple[float, float]:
        x, y = move((p[0] + middle[0], p[1] + middle[1]))
        return (round(x - middle[0], 4), round(y - middle[1], 4))

    linear = Affine(move.a, move.b, move.c, move.d)

    def handle(p: tuple[float, float] | None) -> tuple[float, float] | None:
        return None if p is None else linear(p)

    changes: dict[str, Callable[[Any], Any]] = {
        "position": place,
        "rotation": lambda v: round(v + turn, 4),
        "scale": lambda v: (round(v[0] * factor, 4), round(v[1] * factor, 4)),
        "feather": lambda v: (v[0] * factor, v[1] * factor),
        "grow": lambda v: v * factor,
    }
    properties = dict(layer.properties)
    for name, change in changes.items():
        if prefix + name not in specs:
            continue
        old = properties.get(prefix + name) or Property(value=specs[prefix + name].default)
        if not old.keys:
            properties[prefix + name] = old.model_copy(update={"value": change(old.value)})
            continue
        keys = []
        for key in old.keys:
            update: dict[str, Any] = {"value": change(key.value)}
            if name == "position":
                update |= {"handle_in": handle(key.handle_in), "handle_out": handle(key.handle_out)}
            keys.append(key.model_copy(update=update))
        properties[prefix + name] = old.with_keys(keys)
    return layer.model_copy(update={"properties": properties})


class CopyMasks(MembersCopied):
    """Masks of one layer put on others as well, with all their keys. ``in_place`` keeps them
    where they are on the stage at a time; else they lie in the other layer as in their own."""

    kind: Literal["copy-masks"] = "copy-masks"
    family: Literal["mask"] = "mask"
    in_place: bool = False
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(project, scene.id)
        source = find_layer(scene, self.layer)

        def changed(layer: Layer) -> Layer:
            for mask_id in self.members:
                layer = self.copied(source, layer, mask_id)
                if self.in_place:
                    layer = self._in_place(evaluator, source, layer)
            return layer

        return with_layers(scene, self.targets, changed)

    def _in_place(self, evaluator: SceneEvaluator, source: Layer, target: Layer) -> Layer:
        """The layer with its last mask where that of another layer lies on the stage."""
        mask = target.masks[-1]
        if mask.space != "layer" or target.id == source.id:
            return target
        here = evaluator.place_of(source.id, self.time_s) or Affine()
        there = evaluator.place_of(target.id, self.time_s) or Affine()
        try:
            return moved_mask(target, mask, there.inverse() @ here)
        except ValueError:  # scaled to nothing: there is no place to keep
            return target


class TakeMask(MaskEdit):
    """A new mask with the outline of another layer (a shape or a text), where that layer lies
    on the stage at a time; ``follow`` lets it go on following that layer."""

    kind: Literal["take-mask"] = "take-mask"
    source: Id
    id: NewId
    mode: Literal["union", "minus", "intersect", "exclude"] = "union"
    follow: bool = False
    time_s: SceneTime

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer, source = find_layer(scene, self.layer), find_layer(scene, self.source)
        if layer.id == source.id:
            raise DocumentError("expected another layer", field="source")
        outline = context.outline(project, scene.id, source.id, self.time_s)
        if outline is None or outline.is_empty:
            raise DocumentError(f"{source.name!r} has no outline", field="source")
        if not self.follow:
            evaluator = SceneEvaluator(project, scene.id)
            there = evaluator.place_of(source.id, self.time_s) or Affine()
            outline = into_layer(evaluator, outline.mapped(there), layer, self.time_s)
        space: dict[str, Any] = {"space": "follow", "follows": source.id} if self.follow else {}
        mask = Mask(id=self.id, name=source.name, mode=self.mode, **space)
        path = write_contours(contours_of(outline))
        own = {"path": Property(value=path)}
        return with_layers(scene, [layer.id], lambda la: MASKS.added(la, mask, own))

    def label(self, project: Project) -> str:
        return f"Mask {self.who(project)} by {names_of(project, self.scene, [self.source])}"
