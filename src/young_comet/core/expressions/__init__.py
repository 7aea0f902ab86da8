"""Expressions: a small, safe, Python-like formula on a property."""

from ..model.kinds import as_text
from .compiler import Expression, compile_expression
from .functions import FUNCTION_HELP, NAME_HELP, sway
from .scope import Scope
from .values import ExpressionError, to_kind

__all__ = [
    "FUNCTION_HELP",
    "NAME_HELP",
    "Expression",
    "ExpressionError",
    "Scope",
    "as_text",
    "compile_expression",
    "sway",
    "to_kind",
]
