"""The web application: pages, JSON API, WebSocket."""

from .app import create_app

__all__ = ["create_app"]
