"""Renders as jobs: the queue, and the processes that do the work."""

from .queue import RenderQueue
from .render import RenderResult, render_scene

__all__ = ["RenderQueue", "RenderResult", "render_scene"]
