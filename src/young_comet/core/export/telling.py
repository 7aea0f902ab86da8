"""What files without pictures are told from."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from ..frame.resolved import ResolvedFrame
from ..model import Project
from ..resolve import SceneEvaluator
from .moments import Moments
from .settings import RenderSettings


@dataclass(frozen=True)
class Telling:
    """A scene of a project over the moments of a render. ``frames`` gives each of them with its
    seconds from the film's start; ``drawn`` tells whether a layer is among those that are
    rendered."""

    project: Project
    evaluator: SceneEvaluator
    settings: RenderSettings
    moments: Moments
    frames: Callable[[], Iterator[tuple[float, ResolvedFrame]]]

    @property
    def span(self) -> tuple[float, float]:
        """Start and end, seconds of the scene."""
        return self.moments.span

    def drawn(self, layer_id: str) -> bool:
        """Whether a layer is rendered."""
        return not self.settings.layers or layer_id in self.settings.layers
