"""Document and time in, resolved frame out."""

from __future__ import annotations

from collections.abc import Container, Iterable, Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Any

from ...errors import NotFoundError
from ..catalog import MAX_NESTED
from ..expressions import ExpressionError
from ..frame.contents import Content, PlaceholderContent, TextContent, Texts
from ..frame.faults import reason
from ..frame.resolved import ResolvedFrame, ResolvedLayer
from ..geometry.affine import Affine, Box
from ..model import Asset, Layer, Project, Track
from ..moves import Pose
from ..pixels.colour import parse_colour
from ..timing import Easing, parse_easing
from ..typography.layout import TextLayout
from .arranged import arranged
from .bindings import NOTHING_BOUND, Bindings, bindings_of
from .budget import Budget
from .contents import content_of
from .crossing import NO_CROSSINGS, Crossings, crossers_of, crossing_of, hanging_on
from .joints import Meeting, across, course, joined
from .layers import resolved
from .lettering import lettered
from .mattes import reach_of
from .moves import pose_of
from .nested import lies_flat, scene_content, see_through, slot_values
from .own_moves import OwnMove
from .places import Places
from .plain import PLAIN_LOCK, plain_texts
from .readings import held_time, level, mark_time, read
from .tracks import TrackCache, names_of
from .values import Known, LayerValues, is_on

_MEMO_LIMIT = 20_000
_MOST_INNER = 64
_NO_LAYERS: Mapping[str, str] = MappingProxyType({})


def before_effect(layer: Layer, effect_id: str) -> Layer:
    """A layer with those of its effects that come before one; without any where it has no such."""
    ids = [effect.id for effect in layer.effects]
    count = ids.index(effect_id) if effect_id in ids else 0
    return layer.model_copy(update={"effects": layer.effects[:count]})


class SceneEvaluator:
    """Evaluates one scene of one state of a project.

    ``library`` measures texts for what depends on their size, and listens to sounds; without one,
    uploaded typefaces count as the shipped one that stands in for them, and nothing is heard.
    """

    def __init__(
        self,
        project: Project,
        scene_id: str,
        cache: TrackCache | None = None,
        library: Texts | None = None,
    ) -> None:
        scene = next((s for s in project.scenes if s.id == scene_id), None)
        if scene is None:
            raise NotFoundError(f"there is no scene {scene_id!r}", field="scene")
        self.project = project
        self.rate = scene.rate.rate
        self.names = names_of(project)
        self._unbound, self._bindings = arranged(scene, self.names), NOTHING_BOUND
        self.scene, self._meetings = joined(self._unbound)
        self._assets: dict[str, Asset] = {asset.id: asset for asset in project.assets}
        self._layers: dict[str, Layer] = {layer.id: layer for layer in self.scene.layers}
        self._crossers = crossers_of(self.scene)
        self._known: dict[str, tuple[Layer, Known]] = {}
        self._cache = cache or TrackCache()
        self._ground = parse_colour(scene.ground) if scene.ground else None
        self.library = library
        self.places = Places(self)
        # Layers whose contents are being worked out: none of them can be filled with itself.
        self._resolving: frozenset[str] = frozenset()
        self.memo: dict[Any, Any] = {}
        self.budget = Budget()
        self._reached: dict[str, frozenset[str]] = {}
        self._seen: tuple[float, int, ResolvedFrame] | None = None
        # (layer, property) -> why its expression has no result, as of the last evaluation.
        self.faults: dict[tuple[str, str], str] = {}
        self._named: dict[str, Layer] | None = None
        self._boxes: dict[Any, Box | None] = {}
        self._own_moves: dict[str, tuple[OwnMove, str] | None] = {}
        self._outer = frozenset((scene_id,))
        self._inner: dict[tuple[str, str], SceneEvaluator] = {}
        self._ahead: SceneEvaluator | None = None
        # What the slots of scenes that were placed mean, by their values.
        self._bound: dict[tuple[str, str], Bindings] = {}

    def bind(self, bindings: Bindings) -> None:
        """From now on the scene is resolved with what is bound; what is known of the layers that
        have nothing bound stays."""
        before = self._bindings
        if bindings == before:
            return
        self._bindings = bindings
        self.scene, self._meetings = joined(bindings.scene(self._unbound))
        names = names_of(self.project, bindings.inks)
        if names is not self.names:
            self.names = names
            self._known.clear()
        self._layers = {layer.id: layer for layer in self.scene.layers}
        self._crossers = crossers_of(self.scene)
        for layer_id in before.layers() | bindings.layers():
            self._known.pop(layer_id, None)
        self._seen = self._named = None
        for kept in (self.memo, self._boxes, self._reached, self._own_moves, self._bound):
            kept.clear()

    def frame(
        self,
        number: int,
        *,
        leave_out: Iterable[str] = (),
        without: Container[str] = (),
        bare: Mapping[str, str] = _NO_LAYERS,
    ) -> ResolvedFrame:
        """The frame of that number."""
        time_s = self.rate.time_of(number)
        return self.at(time_s, leave_out=leave_out, without=without, bare=bare)

    def at(
        self,
        time_s: float,
        *,
        leave_out: Iterable[str] = (),
        without: Container[str] = (),
        bare: Mapping[str, str] = _NO_LAYERS,
    ) -> ResolvedFrame:
        """The scene at a time; ``leave_out`` names layer kinds that are not drawn, ``without``
        single layers, ``bare`` layers that are drawn with only those of their effects that come
        before the one it names ("": without any)."""
        # Every frame is worked out by itself, whatever was asked for before.
        self.memo.clear()
        if len(self._outer) == 1:
            self.budget.renew()
        layers = []
        kinds = set(leave_out)
        seen = [
            layer for layer in self.scene.layers
            if not (layer.hidden or layer.kind in kinds or layer.id in without)
        ]  # fmt: skip
        for layer, meeting in course(seen, self._meetings, time_s):
            shown = before_effect(layer, bare[layer.id]) if layer.id in bare else layer
            drawn = across(self, meeting, time_s) if meeting else self.stacked(shown, time_s)
            layers += [each for each in drawn if each.opacity > 0]
        return ResolvedFrame(
            self.scene.width, self.scene.height, self._ground, tuple(layers), self.rate.fps
        )

    def seen_at(self, time_s: float) -> ResolvedFrame:
        """The scene at a time as others place it: worked out once for all that show it then."""
        if self._seen is None or self._seen[0] != time_s or self._seen[1] != self.budget.frame:
            self._seen = (time_s, self.budget.frame, self.at(time_s))
        return self._seen[2]

    def stacked(self, layer: Layer, time_s: float) -> list[ResolvedLayer]:
        """All that a layer puts into the stack; a mark where it cannot be worked out."""
        try:
            crossings = self._crossings(time_s)
            now = self.drawn(layer, time_s)
            return now if crossings is NO_CROSSINGS else crossings.over(self, layer, time_s, now)
        except Exception as error:  # noqa: BLE001
            return [self.lost(layer, error)]

    def _crossings(self, time_s: float) -> Crossings:
        """What crosses over to other values at a moment."""
        key = ("crossings", time_s)
        if key not in self.memo:
            ways = {
                layer.id: way
                for layer in self._crossers
                if (way := crossing_of(layer, time_s, self.easing)) is not None
            }
            found = NO_CROSSINGS
            if ways:
                values = {(id, name): v for id, way in ways.items() for name, v in way[1].items()}
                amounts = {layer_id: amount for layer_id, (amount, _) in ways.items()}
                found = Crossings(amounts, self._with_values(values), self._hanging)
            self.memo[key] = found
        return self.memo[key]  # type: ignore[no-any-return]

    def _with_values(self, values: Mapping[tuple[str, str], Any]) -> SceneEvaluator:
        """The same scene with other values bound in it."""
        if self._ahead is None:
            self._ahead = SceneEvaluator(self.project, self.scene.id, self._cache, self.library)
            self._ahead._outer, self._ahead.budget = self._outer, self.budget
        bound = {**self._bindings.values, **values}
        self._ahead.bind(Bindings(bound, self._bindings.inks))
        self._ahead.memo.clear()
        return self._ahead

    def _hanging(self, layer: Layer) -> frozenset[str]:
        key = f"{layer.id} hangs on"
        if key not in self._reached:
            self._reached[key] = hanging_on(layer, self._layers)
        return self._reached[key]

    def lost(self, layer: Layer, error: Exception) -> ResolvedLayer:
        """What stands for a layer that cannot be evaluated: a mark in the middle of the frame."""
        width, height = self.scene.width, self.scene.height
        mark = PlaceholderContent(width / 4, height / 4, layer.name, reason(error))
        return ResolvedLayer(layer.id, mark, Affine.shift(width / 2, height / 2), 1.0)

    def drawn(self, layer: Layer, time_s: float) -> list[ResolvedLayer]:
        """All that a layer puts into the stack, the lowest first: its copies, or the layers of a
        scene that is seen through."""
        if layer.kind == "scene":
            v = self.values(layer, time_s)
            if v("scene.through") or lies_flat(self, self.moving(layer, time_s)):
                return see_through(self, v)
        return self.copies(layer, time_s)

    @property
    def texts(self) -> Texts:
        """Who sets texts."""
        return self.library or plain_texts()

    @property
    def meetings(self) -> tuple[Meeting, ...]:
        """Where layers give way to others."""
        return self._meetings

    def crosses(self, layer_id: str) -> bool:
        """Whether a layer gives way to another, or takes over from one, by a transition."""
        return any(layer_id in (m.first.id, m.second.id) for m in self._meetings)

    def text_units(self, v: LayerValues, content: TextContent) -> TextContent:
        """A text with its units where moves and fronts have them."""
        return lettered(self, v, content)

    def set_text(self, content: TextContent) -> TextLayout:
        """A text, set."""
        if self.library is not None:
            return content.layout(self.library)
        with PLAIN_LOCK:
            return content.layout(plain_texts())

    def scene_content(self, v: LayerValues) -> Content | None:
        """What a scene layer shows."""
        return scene_content(self, v)

    def inside(self, v: LayerValues) -> SceneEvaluator | None:
        """The evaluator of the scene that a layer shows at its moment, its slots bound; None where
        there is no such scene, or it would lie within itself."""
        scene_id, slots = v("scene.id"), slot_values(v)
        if scene_id in self._outer or len(self._outer) >= MAX_NESTED:
            return None
        scene = next((s for s in self.project.scenes if s.id == scene_id), None)
        if scene is None:
            return None
        named = (scene_id, repr(sorted(slots.items())))
        if named not in self._bound:
            if len(self._bound) > _MOST_INNER:
                self._bound.clear()
            self._bound[named] = bindings_of(self.project, scene, slots, self._bindings)
        bindings = self._bound[named]
        # Slots that change over time are bound anew at each moment, others once.
        changing = any(f"slot.{each}" in v.layer.properties for each in v.layer.slot_specs)
        key = (scene_id, f"of {v.layer.id}" if changing else bindings.key)
        inner = self._inner.get(key)
        if inner is None:
            if len(self._inner) > _MOST_INNER:
                self._inner.clear()
            inner = SceneEvaluator(self.project, scene_id, self._cache, self.library)
            inner._outer = self._outer | {scene_id}
            inner.budget = self.budget
            self._inner[key] = inner
        inner.bind(bindings)
        return inner

    def copies(self, layer: Layer, time_s: float) -> list[ResolvedLayer]:
        """A layer as often as it is drawn, the lowest first."""
        count = round(self.values(layer, time_s)("copies.count")) if _copied(layer) else 1
        found = [self.layer(layer, time_s, nth=n) for n in range(count)]
        shown = [each for each in found if each is not None]
        above = count > 1 and self.values(layer, time_s)("copies.above")
        return shown if above else shown[::-1]

    def moving(self, layer: Layer, time_s: float, nth: int = 0) -> LayerValues:
        """The layer's values with what its moves do on top: those of the picture."""
        values = self.values(layer, time_s, nth)
        values.moved = bool(layer.moves or layer.fronts)
        return values

    def own_move(self, move_id: str) -> tuple[OwnMove, str] | None:
        """One of the project's own moves with its phase; None where there is none of that id."""
        if move_id not in self._own_moves:
            saved = next((m for m in self.project.saved_moves if m.id == move_id), None)
            self._own_moves[move_id] = (OwnMove(self, saved), saved.phase) if saved else None
        return self._own_moves[move_id]

    def easing(self, text: str) -> Easing:
        """The easing of a text of the document; a kept one that is gone is linear."""
        if text.startswith("easing:"):
            text = self.names.easings.get(text[7:], "linear")
        return parse_easing(text)

    def pose(self, values: LayerValues) -> Pose:
        """How the moves of a layer have it at a moment."""
        key = ("pose", values.layer.id, values.local_s, values.nth)
        if key not in self.memo:
            self.memo[key] = pose_of(self, values.bare())
        return self.memo[key]  # type: ignore[no-any-return]

    def values(self, layer: Layer, time_s: float, nth: int = 0) -> LayerValues:
        """The layer's values at a time; a copy's come so much later."""
        known = self._known.get(layer.id)
        if known is None or known[0] is not layer:
            known = (layer, Known())
            self._known[layer.id] = known
        if len(self.memo) > _MEMO_LIMIT:
            self.memo.clear()
        made = LayerValues(
            layer, self.scene, time_s - layer.start_s, self.names, self._cache, known[1], self
        )
        if not _copied(layer):
            return made
        count = round(made("copies.count"))
        local_s = made.local_s - nth * made("copies.delay")
        return LayerValues(
            layer, self.scene, local_s, self.names, self._cache, known[1], self, nth, count
        )

    def track(self, layer: Layer, property_id: str) -> Track | None:
        """The track of a keyed property, None where it has no keys."""
        return self.values(layer, layer.start_s).track(property_id)

    def layer(
        self,
        layer: Layer,
        time_s: float,
        *,
        shutter: bool = True,
        visiting: frozenset[str] = frozenset(),
        nth: int = 0,
    ) -> ResolvedLayer | None:
        """One layer, whether it is on or not; None if it has nothing to show (no picture).

        ``shutter`` False leaves motion blur out. ``visiting`` names layers that are being resolved
        already: a matte of one's own matte counts as none. ``nth`` is the number of a copy. One
        that cannot be evaluated is a mark that says so.
        """
        # Mattes and inputs are asked for by many: each is worked out once a moment.
        if self._layers.get(layer.id) is not layer:
            return self._tried(layer, time_s, shutter, visiting, nth)
        key = ("layer", layer.id, time_s, shutter, nth, visiting and visiting & self._reach(layer))
        if key not in self.memo:
            self.memo[key] = self._tried(layer, time_s, shutter, visiting, nth)
        return self.memo[key]  # type: ignore[no-any-return]

    def _tried(
        self, layer: Layer, time_s: float, shutter: bool, visiting: frozenset[str], nth: int
    ) -> ResolvedLayer | None:
        outer, self._resolving = self._resolving, self._resolving | visiting | {layer.id}
        try:
            self.budget.layer()
            v = self.moving(layer, time_s, nth)
            return resolved(self, v, time_s, shutter, visiting)
        except Exception as error:  # noqa: BLE001
            return self.lost(layer, error)
        finally:
            self._resolving = outer

    def _reach(self, layer: Layer) -> frozenset[str]:
        if layer.id not in self._reached:
            self._reached[layer.id] = reach_of(layer, self._layers)
        return self._reached[layer.id]

    def shown(self, v: LayerValues) -> Content | None:
        """What a layer, or a copy of it in its ink, shows."""
        content = content_of(self, v)
        if content is not None and v.count > 1 and v("copies.inked"):
            share = v.nth / (v.count - 1)
            return content.inked(v("copies.ink"), share) if share > 0 else content
        return content

    def other(self, layer_id: str, time_s: float, visiting: frozenset[str]) -> ResolvedLayer | None:
        """Another layer as an input; None where there is none, it is off, or it would need
        itself."""
        found = self._layers.get(layer_id)
        if found is None or layer_id in visiting or not is_on(found, time_s):
            return None
        if found.kind == "treatment":
            return None
        return self.layer(found, time_s, visiting=visiting)

    def fill_layer(self, v: LayerValues, layer_id: str) -> tuple[ResolvedLayer, Box] | None:
        """Another layer that a layer is filled with, at its moment, and its content's box."""
        found = self.other(layer_id, v.layer.start_s + v.local_s, self._resolving | {v.layer.id})
        if found is None:
            return None
        return replace(found, shutter=()), self._box_of(found.content)

    def place_of(self, layer_id: str, time_s: float) -> Affine | None:
        """The matrix of a layer by its id."""
        found = self._layers.get(layer_id)
        return None if found is None else self.matrix(self.moving(found, time_s))

    def find(self, layer_id: str | None) -> Layer | None:
        """A layer by its id."""
        return self._layers.get(layer_id or "")

    def content_box(self, v: LayerValues) -> Box | None:
        """The box of what a layer shows, in its own space; None where it shows nothing."""
        key = (v.layer.id, v.local_s, v.nth, v.moved)
        if key not in self._boxes:
            if len(self._boxes) > _MEMO_LIMIT:
                self._boxes.clear()
            content = content_of(self, v)
            self._boxes[key] = None if content is None else self._box_of(content)
        return self._boxes[key]

    def _box_of(self, content: Content) -> Box:
        if self.library is not None:
            return content.box(self.library)
        with PLAIN_LOCK:
            return content.box(plain_texts())

    def mark_time(self, name: str) -> float:
        """The second of a mark; ExpressionError where there is none of that name."""
        return mark_time(self.scene, name)

    def held_time(self, name: str, end: bool) -> float:
        """When an arrangement begins or ends to hold; ExpressionError where there is none."""
        return held_time(self.scene, name, end)

    def named(self, name: str) -> Layer:
        """The lowest layer of a name; ExpressionError where there is none."""
        if self._named is None:
            self._named = {layer.name: layer for layer in reversed(self.scene.layers)}
        if name not in self._named:
            raise ExpressionError(f"there is no layer {name!r}")
        return self._named[name]

    def read(self, layer: str, property_id: str, time_s: float) -> Any:
        """What an expression reads of a layer, as ``readings.read`` says."""
        return read(self, self.named(layer), property_id, time_s)

    def level(self, layer: str, time_s: float, low_hz: float, high_hz: float) -> float:
        """How loud a layer's sound is, as ``readings.level`` says."""
        return level(self, self.named(layer), time_s, (low_hz, high_hz))

    def matrix(self, v: LayerValues) -> Affine:
        """From the layer's own space into the scene, before anything is tilted."""
        return self.places.flat(v)

    def font(self, font_id: str) -> str:
        """A document's font id as the font library knows it."""
        if not font_id.startswith("asset:"):
            return font_id
        asset = self._assets.get(font_id[6:])
        return f"asset:{asset.hash}" if asset and asset.kind == "font" else "inter"

    def asset(self, asset_id: str) -> Asset | None:
        """An asset by its id."""
        return self._assets.get(asset_id)


def _copied(layer: Layer) -> bool:
    return "copies.count" in layer.properties
