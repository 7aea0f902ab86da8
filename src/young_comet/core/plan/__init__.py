"""Resolved frames as passes over a picture: what will be done, where, and what of it is kept."""

from .passes import How, Pass, StackPlanner
from .told import plan_frame, plan_lines

__all__ = ["How", "Pass", "StackPlanner", "plan_frame", "plan_lines"]
