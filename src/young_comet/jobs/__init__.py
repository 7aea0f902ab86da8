"""Renders as jobs: the queue, and the processes that do the work; playback's processes."""

from .engine import RenderEngine, RenderPart, RenderRun
from .estimates import Estimate, estimated
from .local import LocalProcesses
from .previews import PreviewPool
from .queue import RenderQueue
from .render import RenderResult, render_scene
from .workers import Worker, guarded

__all__ = [
    "Estimate",
    "LocalProcesses",
    "PreviewPool",
    "RenderEngine",
    "RenderPart",
    "RenderQueue",
    "RenderResult",
    "RenderRun",
    "Worker",
    "estimated",
    "guarded",
    "render_scene",
]
