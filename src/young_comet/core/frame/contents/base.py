"""What every kind of content can tell of itself."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar, Protocol

from ...geometry.affine import Box, Point
from ...geometry.outline import Outline
from ...pixels.colour import Rgba
from ...typography.along import TextPath
from ...typography.layout import TextLayout
from ...typography.style import TextStyle
from ..surface import Surface


class Texts(Protocol):
    """Who sets texts."""

    def laid_out(self, text: str, style: TextStyle, along: TextPath | None) -> TextLayout:
        """Must. A text set, and led along a path where there is one."""
        ...


class Content:
    """What a layer shows, in its own space; a frozen value, named by its ``repr``.

    Kinds are dataclasses; how each is drawn is told by the painters.
    """

    covers: ClassVar[bool] = False
    """Whether it covers the frame, wherever that is."""
    through: ClassVar[bool] = False
    """Whether it shows what lies below, and has no picture of its own."""
    composed: ClassVar[bool] = False
    """Whether it needs more than one drawing: a stack of its own, or what lies below."""
    pixels: ClassVar[bool] = False
    """Whether drawing it is placing pixels that are there already."""
    outlined: ClassVar[bool] = False
    """Whether it is drawn from outlines."""
    held: ClassVar[bool] = False
    """Whether it stays that of the frame while the shutter is open."""

    def box(self, texts: Texts) -> Box:
        """Must. The box of what it shows, without a stroke."""
        raise NotImplementedError

    def painted_box(self, texts: Texts, fixed_scale: float) -> Box:
        """May. The box around all that it paints: strokes with their miters, letters that reach
        beyond their lines. ``fixed_scale`` is how large it is drawn, for strokes that keep their
        width."""
        return self.box(texts)

    def outline(self, texts: Texts) -> Outline | None:
        """May. Its outline; None for contents without."""
        return None

    @property
    def is_one_paint(self) -> bool:
        """May. Whether it is one piece of paint, which can be blended as it is drawn."""
        return False

    @property
    def is_clear(self) -> bool:
        """May. Whether nothing of it is seen."""
        return False

    @property
    def one_colour(self) -> Rgba | None:
        """May. The colour of all of it, where it has but one."""
        return None

    def inked(self, ink: Rgba, share: float) -> Any:
        """May. The content with its flat colours so far towards an ink."""
        return self

    def as_in(self, still: Any) -> Any:
        """May. A content of another moment that says what one of the frame's own moment says: only
        what moves differs."""
        return self

    def between(self, other: Any, amount: float) -> Any:
        """May. What lies between it (0) and another content (1); None where nothing does, and one
        has to give way to the other."""
        return self if self == other else None

    def touched(self, point: Point, texts: Texts) -> bool | None:
        """May. Whether a point of its own space is on it, where something else than its paint
        tells; None where the paint does."""
        return None

    @property
    def hollow(self) -> bool:
        """May. Whether nothing but its line is painted."""
        return False

    @property
    def lined(self) -> bool:
        """May. Whether it has a line of its own, which is taken hold of close by."""
        return False

    def radius(self) -> float:
        """May. About how far it reaches from its middle, px."""
        return 200.0

    def rim_shift(self, other: Any) -> float | None:
        """May. How far its rim goes to become another content of the same layer, px of its space;
        None where there is no telling."""
        return None

    def only_units_differ(self, other: Any) -> bool:
        """May. Whether it differs from another in nothing but how far its units are."""
        return False


class Surfaced(Content):
    """A content that is one outline with a fill and a stroke."""

    surface: Surface

    @property
    def is_one_paint(self) -> bool:
        return self.surface.is_one_paint

    @property
    def one_colour(self) -> Rgba | None:
        return self.surface.one_colour

    def inked(self, ink: Rgba, share: float) -> Any:
        return replace(self, surface=self.surface.toned(ink, share))  # type: ignore[type-var]
