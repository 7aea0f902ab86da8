"""The values of expressions and their arithmetic.

There are numbers (always floats, so that none grows without end), texts, and lists; a list of
numbers is also a vector, and arithmetic goes through it item by item.
"""

from __future__ import annotations

import math
import operator
from collections.abc import Callable
from typing import Any

from ...errors import DocumentError
from ..model.kinds import as_text
from ..model.kinds.numbers import what
from ..model.specs import PropertySpec

MAX_TEXT = 10_000
MAX_ITEMS = 256


class ExpressionError(DocumentError):
    """An expression that cannot be read or worked out; the message is for its writer.

    ``column`` is where in the text, from 0, as far as that is known.
    """

    def __init__(self, message: str, column: int | None = None) -> None:
        super().__init__(message, field="expression")
        self.column = column


def number(value: Any, where: str) -> float:
    """A number, or an error that says where one was expected."""
    if isinstance(value, float):
        return value
    if isinstance(value, bool | int):
        return float(value)
    raise ExpressionError(f"{where} needs a number, not {what(value)}")


def text(value: Any, where: str) -> str:
    """A value that is a text; ExpressionError for others."""
    if isinstance(value, str):
        return value
    raise ExpressionError(f"{where} needs a text in quotes, not {what(value)}")


def numbers(value: Any, where: str) -> tuple[float, ...]:
    """A value as a list of numbers; ExpressionError for others."""
    if isinstance(value, tuple):
        return tuple(number(item, where) for item in value)
    raise ExpressionError(f"{where} needs a list of numbers, not {what(value)}")


def _each(
    sign: str, one: Callable[[float, float], float], a: Any, b: Any
) -> float | tuple[float, ...]:
    """Arithmetic between numbers and lists of numbers, item by item."""
    if isinstance(a, tuple) and isinstance(b, tuple):
        if len(a) != len(b):
            raise ExpressionError(f"{sign} between lists of {len(a)} and of {len(b)} numbers")
        return tuple(one(number(p, sign), number(q, sign)) for p, q in zip(a, b, strict=True))
    if isinstance(a, tuple):
        q = number(b, sign)
        return tuple(one(number(p, sign), q) for p in a)
    if isinstance(b, tuple):
        p = number(a, sign)
        return tuple(one(p, number(q, sign)) for q in b)
    return one(number(a, sign), number(b, sign))


def add(a: Any, b: Any) -> Any:
    """Numbers and vectors are added, texts (and whatever is added to one) joined."""
    if isinstance(a, float) and isinstance(b, float):
        return a + b
    if isinstance(a, str) or isinstance(b, str):
        joined = as_text(a) + as_text(b)
        if len(joined) > MAX_TEXT:
            raise ExpressionError(f"a text may have at most {MAX_TEXT} letters")
        return joined
    return _each("+", operator.add, a, b)


def subtract(a: Any, b: Any) -> Any:
    """The difference, of lists one by one."""
    return _each("-", operator.sub, a, b)


def multiply(a: Any, b: Any) -> Any:
    """The product, of lists one by one or each by a number."""
    if isinstance(a, float) and isinstance(b, float):
        return a * b
    return _each("*", operator.mul, a, b)


def divide(a: Any, b: Any) -> Any:
    """The quotient; ExpressionError by nothing."""
    return _each("/", _divided, a, b)


def whole_divide(a: Any, b: Any) -> Any:
    """The quotient rounded down; ExpressionError by nothing."""
    return _each("//", lambda p, q: float(math.floor(_divided(p, q))), a, b)


def remainder(a: Any, b: Any) -> Any:
    """What the whole quotient leaves; ExpressionError by nothing."""
    return _each("%", _remainder, a, b)


def power(a: Any, b: Any) -> Any:
    """A power; ExpressionError where that is no number."""
    return _each("**", _power, a, b)


def _divided(a: float, b: float) -> float:
    if b == 0:
        raise ExpressionError("a division by zero has no result")
    return a / b


def _remainder(a: float, b: float) -> float:
    if b == 0:
        raise ExpressionError("a division by zero has no result")
    return a % b


def _power(a: float, b: float) -> float:
    try:
        result = a**b
    except ZeroDivisionError:
        raise ExpressionError("a division by zero has no result") from None
    except OverflowError:
        raise ExpressionError("the number becomes too large") from None
    if isinstance(result, complex):
        raise ExpressionError("a negative number has no such power")
    return float(result)


def compare(sign: str, a: Any, b: Any) -> bool:
    """Comparison of two numbers or two texts; anything may be asked to be equal."""
    if sign == "==":
        return bool(a == b)
    if sign == "!=":
        return bool(a != b)
    if isinstance(a, str) != isinstance(b, str) or isinstance(a, tuple) or isinstance(b, tuple):
        raise ExpressionError(f"{what(a)} and {what(b)} cannot be compared by {sign}")
    order = {"<": operator.lt, "<=": operator.le, ">": operator.gt, ">=": operator.ge}[sign]
    return bool(order(a, b))


def part(value: Any, name: str) -> float:
    """``.x``, ``.y`` and ``.z`` of a vector."""
    index = "xyz".index(name)
    if not isinstance(value, tuple):
        raise ExpressionError(f".{name} is for points, not for {what(value)}")
    if index >= len(value):
        raise ExpressionError(f"this point has no .{name}")
    return number(value[index], f".{name}")


def item(value: Any, index: Any) -> Any:
    """One item of a list or letter of a text, counted from 0; negative ones from the end."""
    if not isinstance(value, tuple | str):
        raise ExpressionError(f"{what(value)} has no items")
    i = round(number(index, "[ ]"))
    if not -len(value) <= i < len(value):
        raise ExpressionError(f"there is no item {i}; the last is {len(value) - 1}")
    return value[i]


def to_kind(value: Any, spec: PropertySpec) -> Any:
    """An expression's result as a value of a property, within its limits, in the document's form.

    Raises ExpressionError.
    """
    try:
        return spec.kind.from_expression(value, spec)
    except ExpressionError:
        raise
    except DocumentError as error:
        raise ExpressionError(str(error)) from error
