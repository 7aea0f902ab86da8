"""Numbers as people type them: arithmetic with units."""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Callable, Mapping

from ...errors import DocumentError

MAX_LENGTH = 200
MAX_DEPTH = 20

_OPERATORS: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
}
_NUMBER = re.compile(r"(\d+(?:[.,]\d*)?|[.,]\d+)\s*([a-z%°‰]*)")
_ALLOWED = re.compile(r"[\d.+\-*/()eE\s]*")


def parse_number(text: str, units: Mapping[str, float], field: str = "value") -> float:
    """The number meant by a text such as ``960-200``, ``1920/2`` or ``50% + 12``.

    ``units`` maps a suffix to the factor that it stands for (``{"%": 19.2, "px": 1}``); a
    number without suffix counts as it is. A decimal comma is understood. DocumentError tells
    what can be typed.
    """
    example = "a number or arithmetic such as 960-200"
    if len(text) > MAX_LENGTH:
        raise DocumentError.expected(field, f"at most {MAX_LENGTH} characters", text)

    def factor(match: re.Match[str]) -> str:
        number, unit = match[1].replace(",", "."), match[2]
        if unit == "":
            return number
        if unit not in units:
            known = ", ".join(units) or "none here"
            raise DocumentError.expected(field, f"a known unit ({known})", unit)
        return f"({number}*{units[unit]!r})"

    plain = _NUMBER.sub(factor, text.strip().lower().replace("×", "*").replace("−", "-"))
    if not plain or not _ALLOWED.fullmatch(plain):
        raise DocumentError.expected(field, example, text)
    try:
        value = _value(ast.parse(plain, mode="eval").body, 0)
    except (SyntaxError, ValueError, RecursionError, MemoryError, OverflowError):
        raise DocumentError.expected(field, example, text) from None
    except ZeroDivisionError:
        raise DocumentError("a division by zero has no result", field=field) from None
    if not math.isfinite(value):
        raise DocumentError.expected(field, "a finite number", text)
    return value


def _value(node: ast.expr, depth: int) -> float:
    if depth > MAX_DEPTH:
        raise ValueError("nested too deeply")
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float):
        return float(node.value)
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.UAdd | ast.USub):
        value = _value(node.operand, depth + 1)
        return -value if isinstance(node.op, ast.USub) else value
    if isinstance(node, ast.BinOp) and type(node.op) in _OPERATORS:
        left, right = _value(node.left, depth + 1), _value(node.right, depth + 1)
        return _OPERATORS[type(node.op)](left, right)
    raise ValueError("only numbers, + - * / and parentheses")
