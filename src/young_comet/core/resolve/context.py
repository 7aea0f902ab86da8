"""What the resolvers of a scene ask of each other.

Values, moves, places, contents, looks, nested scenes and the shutter need one another: what a layer
shows may depend on where another is, which may depend on what that shows. Each of them is a module
that knows this protocol only; the evaluator puts them together and remembers what was worked out.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from ..frame.contents import Content, TextContent, Texts
from ..frame.resolved import ResolvedFrame, ResolvedLayer
from ..geometry.affine import Affine, Box, Point
from ..geometry.projective import Projective
from ..model import Asset, Layer, Scene
from ..moves import Moment, Pose
from ..timing import Easing, Rate
from ..typography.layout import TextLayout
from .tracks import Names
from .values import LayerValues


class LayerPlaces(Protocol):
    """Where layers are."""

    def flat(self, v: LayerValues) -> Affine:
        """Must. From a layer's own space into the scene, as if nothing were tilted."""
        ...

    def lens(self, v: LayerValues) -> Projective | None:
        """Must. Where a layer is seen that is tilted or turned, or rides on such; else None."""
        ...

    def eye_of(self, v: LayerValues) -> tuple[float, float, float] | None:
        """Must. Where the eye is in a layer's own space; None where that has no size."""
        ...

    def sized(self, v: LayerValues) -> bool:
        """Must. Whether a layer and all that it rides on have a size."""
        ...

    def chain(self, layer: Layer) -> list[Layer]:
        """Must. What a layer rides on, the nearest first."""
        ...

    def fitted(self, v: LayerValues) -> Point | None:
        """Must. The size of a shape that is kept fitted around another layer; else None."""
        ...


class SavedCourse(Protocol):
    """A move of the artist's own, ready to be asked for poses."""

    @property
    def draw(self) -> Callable[[float, dict[str, Any], Moment], Pose]:
        """Must. The pose where it has come to rest by a share."""
        ...

    @property
    def length_s(self) -> float:
        """Must. How long the phase was that it was saved from."""
        ...


class Resolver(Protocol):
    """One scene of one state of a project, at whatever moment is asked for."""

    @property
    def scene(self) -> Scene:
        """Must. The scene."""
        ...

    @property
    def rate(self) -> Rate:
        """Must. Its frame rate."""
        ...

    @property
    def names(self) -> Names:
        """Must. What the project's names stand for."""
        ...

    @property
    def library(self) -> Texts | None:
        """Must. What measures texts, and listens where it has ears; None without one."""
        ...

    @property
    def memo(self) -> dict[Any, Any]:
        """Must. What has been worked out for this frame."""
        ...

    @property
    def places(self) -> LayerPlaces:
        """Must. Where layers are."""
        ...

    # Values and moves

    def values(self, layer: Layer, time_s: float, nth: int = 0) -> LayerValues:
        """Must. A layer's values at a time, without what its moves do."""
        ...

    def moving(self, layer: Layer, time_s: float, nth: int = 0) -> LayerValues:
        """Must. Its values with what its moves do on top: those of the picture."""
        ...

    def pose(self, values: LayerValues) -> Pose:
        """Must. How the moves of a layer have it at a moment."""
        ...

    def own_move(self, move_id: str) -> tuple[SavedCourse, str] | None:
        """Must. One of the project's own moves with its phase; None where there is none."""
        ...

    def easing(self, text: str) -> Easing:
        """Must. The easing of a text of the document."""
        ...

    def crosses(self, layer_id: str) -> bool:
        """Must. Whether a layer gives way to another, or takes over from one, by a transition."""
        ...

    # Layers and what they show

    def find(self, layer_id: str | None) -> Layer | None:
        """Must. A layer by its id."""
        ...

    def matrix(self, v: LayerValues) -> Affine:
        """Must. From a layer's own space into the scene, before anything is tilted."""
        ...

    def place_of(self, layer_id: str, time_s: float) -> Affine | None:
        """Must. The matrix of a layer by its id."""
        ...

    def content_box(self, v: LayerValues) -> Box | None:
        """Must. The box of what a layer shows, in its own space; None where it shows nothing."""
        ...

    def shown(self, v: LayerValues) -> Content | None:
        """Must. What a layer, or a copy of it in its ink, shows."""
        ...

    def text_units(self, v: LayerValues, content: TextContent) -> TextContent:
        """Must. A text with its letters, words or lines where moves and fronts have them."""
        ...

    def set_text(self, content: TextContent) -> TextLayout:
        """Must. A text, set."""
        ...

    def scene_content(self, v: LayerValues) -> Content | None:
        """Must. What a scene layer shows."""
        ...

    def other(self, layer_id: str, time_s: float, visiting: frozenset[str]) -> ResolvedLayer | None:
        """Must. Another layer as an input; None where there is none, it is off, or it would need
        itself."""
        ...

    def fill_layer(self, v: LayerValues, layer_id: str) -> tuple[ResolvedLayer, Box] | None:
        """Must. Another layer that a layer is filled with, and the box of what it shows."""
        ...

    def inside(self, v: LayerValues) -> InnerScene | None:
        """Must. The scene that a layer shows at its moment, its slots filled; None where there is
        none, or it would lie within itself."""
        ...

    # Files

    def asset(self, asset_id: str) -> Asset | None:
        """Must. An asset by its id."""
        ...

    def font(self, font_id: str) -> str:
        """Must. A document's font id as the font library knows it."""
        ...


class InnerScene(Protocol):
    """A scene that is placed in another."""

    @property
    def scene(self) -> Scene:
        """Must. The scene, its slots filled."""
        ...

    def seen_at(self, time_s: float) -> ResolvedFrame:
        """Must. It at a time of its own."""
        ...
