"""The live session of an open page: a WebSocket with typed messages in both directions."""

from .socket import live_router

__all__ = ["live_router"]
