"""The demo project: Gullwing Bay Kite Week."""

from .build import DEMO_ID, TOUR_SCENE, ensure_demo, make_tour

__all__ = ["DEMO_ID", "TOUR_SCENE", "ensure_demo", "make_tour"]
