"""Points, matrices, curves and outlines."""

from .affine import Affine
from .bezier import PathSegment
from .outline import Outline

__all__ = ["Affine", "Outline", "PathSegment"]
