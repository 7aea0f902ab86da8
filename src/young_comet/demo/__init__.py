"""The demo project: Gullwing Bay Kite Week."""

from .build import DEMO_ID, ensure_demo

__all__ = ["DEMO_ID", "ensure_demo"]
