"""How much one frame may ask for.

Formulas that read each other at ever other times, and scenes within scenes, can ask for twice as
much at every step. A frame counts what it asks for; what comes after the last of it is refused by
name, always at the same place, so that a frame is the same whatever was drawn before.
"""

from __future__ import annotations

from ...errors import RenderError
from ..expressions import ExpressionError

# Formulas worked out for a frame; layers resolved for it, inputs, copies and inner ones counted.
MAX_FORMULAS = 30_000
MAX_LAYERS = 20_000


class Budget:
    """Counts what one frame asks for; shared with the scenes within it."""

    def __init__(self) -> None:
        self.frame = 0  # the number of the frame, counted from the first that was asked for
        self.renew()

    def renew(self) -> None:
        """Another frame begins."""
        self.formulas = self.layers = 0
        self.frame += 1

    def formula(self) -> None:
        """One more formula; ExpressionError beyond the last."""
        self.formulas += 1
        if self.formulas > MAX_FORMULAS:
            raise ExpressionError(
                f"this frame works out more than {MAX_FORMULAS:,} formulas: what they read is read "
                "again and again at other times"
            )

    def layer(self) -> None:
        """One more layer; RenderError beyond the last."""
        self.layers += 1
        if self.layers > MAX_LAYERS:
            raise RenderError(
                f"this frame asks for more than {MAX_LAYERS:,} layers: scenes or copies lie within "
                "each other"
            )
