"""What an expression may ask about the moment it is evaluated at."""

from __future__ import annotations

from typing import Any, Protocol


class Scope(Protocol):
    """Implemented where documents are evaluated. All methods must be there; they raise
    ExpressionError, in plain words, for what does not exist."""

    t: float
    """Seconds since the layer's start."""
    T: float
    """Seconds in the scene."""
    fps: float

    @property
    def frame(self) -> float:
        """The scene's frame, from 0."""
        ...

    @property
    def length(self) -> float:
        """Seconds that the layer is on."""
        ...

    @property
    def nth(self) -> float:
        """Place in a spread or among copies, from 0."""
        ...

    @property
    def count(self) -> float:
        """How many of them there are."""
        ...

    @property
    def keyed(self) -> Any:
        """What value or keys of this property give."""
        ...

    def mark(self, name: str) -> float:
        """Seconds in the scene of a mark."""
        ...

    def held(self, name: str, end: bool) -> float:
        """Seconds in the scene at which an arrangement begins, or ends, to hold."""
        ...

    def of(self, layer: str, property_id: str, at: float | None) -> Any:
        """Another layer's property, at a time of the scene or (None) now."""
        ...

    def level(self, layer: str, low_hz: float, high_hz: float) -> float:
        """How loud a layer's sound is now between two frequencies, 0 to 1."""
        ...

    def late(self, seconds: float) -> Any:
        """What value or keys of this property gave some time ago."""
        ...
