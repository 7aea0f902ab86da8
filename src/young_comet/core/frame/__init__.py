"""What a frame consists of, every value known: what resolving makes and painting draws."""

from .faults import Fault, fault_words
from .resolved import ResolvedFrame, ResolvedLayer

__all__ = ["Fault", "ResolvedFrame", "ResolvedLayer", "fault_words"]
