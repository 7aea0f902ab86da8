"""Renders as jobs: the queue, and the processes that do the work; playback's processes."""

from .previews import PreviewPool
from .queue import RenderQueue
from .render import RenderResult, render_scene
from .workers import Worker, guarded

__all__ = [
    "PreviewPool",
    "RenderQueue",
    "RenderResult",
    "Worker",
    "guarded",
    "render_scene",
]
