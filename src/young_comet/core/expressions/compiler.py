"""Texts into expressions: an allow-list over Python's syntax, compiled to nested functions.

Nothing is ever handed to Python to be run: each allowed node of the syntax tree becomes a
function of the scope, everything else is refused with a message. There are no loops and no
definitions, so an expression ends after as many steps as it has nodes.
"""

from __future__ import annotations

import ast
import difflib
import inspect
import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from . import values as ops
from .functions import FUNCTIONS, NAME_HELP
from .scope import Scope
from .values import MAX_ITEMS, MAX_TEXT, ExpressionError

MAX_LENGTH = 2000
MAX_NODES = 400
MAX_DEPTH = 40

Step = Callable[[Scope], Any]

_BINARY: dict[type[ast.operator], Callable[[Any, Any], Any]] = {
    ast.Add: ops.add,
    ast.Sub: ops.subtract,
    ast.Mult: ops.multiply,
    ast.Div: ops.divide,
    ast.FloorDiv: ops.whole_divide,
    ast.Mod: ops.remainder,
    ast.Pow: ops.power,
}
_SIGNS: dict[type[ast.cmpop], str] = {
    ast.Eq: "==", ast.NotEq: "!=", ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=",
}  # fmt: skip


@dataclass(frozen=True)
class Read:
    """A place where an expression reads a layer's property; ``column`` and ``end`` enclose the
    layer's name with its quotes, counted in bytes of UTF-8."""

    layer: str
    property_id: str
    column: int
    end: int


# What `level` reads of a layer.
HEARD = "sound.asset"


@dataclass(frozen=True)
class Expression:
    """A checked expression."""

    text: str
    step: Step
    reads: tuple[Read, ...]

    def __call__(self, scope: Scope) -> Any:
        """The value at a moment; ExpressionError where there is none."""
        try:
            return self.step(scope)
        except (OverflowError, ValueError, ZeroDivisionError):
            raise ExpressionError("the number becomes too large") from None

    def with_layer_renamed(self, old: str, new: str) -> str:
        """The text with another name for a layer that it reads."""
        encoded = self.text.encode()
        for read in sorted(self.reads, key=lambda r: -r.column):
            if read.layer == old:
                encoded = encoded[: read.column] + _quoted(new).encode() + encoded[read.end :]
        return encoded.decode()


def _quoted(name: str) -> str:
    return '"' + name.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n") + '"'


def compile_expression(text: str) -> Expression:
    """The expression of a text, compiled once; raises ExpressionError, in plain words."""
    found = _compiled(text)
    if isinstance(found, ExpressionError):
        raise ExpressionError(str(found).removeprefix("expression: "), found.column)
    return found


@lru_cache(maxsize=4096)
def _compiled(text: str) -> Expression | ExpressionError:
    try:
        return _Compiler(text).expression()
    except ExpressionError as error:
        return error


class _Compiler:
    def __init__(self, text: str) -> None:
        self.text = text
        self.nodes = 0
        self.reads: list[Read] = []

    def expression(self) -> Expression:
        if len(self.text) > MAX_LENGTH:
            raise ExpressionError(f"an expression may have at most {MAX_LENGTH} letters")
        if not self.text.strip():
            raise ExpressionError("nothing is written yet")
        if _deepest(self.text) > MAX_DEPTH:
            raise ExpressionError("there are too many brackets within each other")
        if self.text.count("**") > MAX_DEPTH:  # Python's own reader takes long over these
            raise ExpressionError("there are too many powers within each other")
        # A newline within brackets is fine; leading blanks would count as an indent.
        lead = len(self.text) - len(self.text.lstrip())
        try:
            tree = ast.parse(self.text.lstrip(), mode="eval")
        except SyntaxError as error:
            column = None if error.offset is None else max(0, error.offset - 1) + lead
            raise ExpressionError(_plain_words(error, self.text), column) from None
        except (ValueError, RecursionError, MemoryError):
            raise ExpressionError("this cannot be read") from None
        self.lead = len(self.text[:lead].encode())
        step = self.step(tree.body, 0)
        return Expression(self.text, step, tuple(self.reads))

    def step(self, node: ast.expr, depth: int) -> Step:
        self.nodes += 1
        if depth > MAX_DEPTH:
            raise ExpressionError("this is nested too deeply")
        if self.nodes > MAX_NODES:
            raise ExpressionError("this expression is too long")
        make = getattr(self, "_" + type(node).__name__.lower(), None)
        if make is None:
            raise ExpressionError(_refused(node), node.col_offset)
        return make(node, depth + 1)  # type: ignore[no-any-return]

    def _constant(self, node: ast.Constant, depth: int) -> Step:
        value = node.value
        if isinstance(value, bool):
            pass
        elif isinstance(value, int | float):
            try:
                value = float(value)
            except OverflowError:
                raise ExpressionError("this number is too large", node.col_offset) from None
        elif not isinstance(value, str):
            raise ExpressionError("this is neither a number nor a text", node.col_offset)
        elif len(value) > MAX_TEXT:
            raise ExpressionError(f"a text may have at most {MAX_TEXT} letters", node.col_offset)
        return lambda scope: value

    def _name(self, node: ast.Name, depth: int) -> Step:
        name = node.id
        if name == "pi":
            return lambda scope: math.pi
        if name not in NAME_HELP:
            raise ExpressionError(f"{name!r} is not known here{_meant(name)}", node.col_offset)
        if name == "t":
            return lambda scope: scope.t
        if name == "keyed":
            return lambda scope: scope.keyed
        return lambda scope: getattr(scope, name)

    def _unaryop(self, node: ast.UnaryOp, depth: int) -> Step:
        operand = self.step(node.operand, depth)
        if isinstance(node.op, ast.USub):
            return lambda scope: ops.multiply(operand(scope), -1.0)
        if isinstance(node.op, ast.UAdd):
            return operand
        if isinstance(node.op, ast.Not):
            return lambda scope: not operand(scope)
        raise ExpressionError("~ is not known here", node.col_offset)

    def _binop(self, node: ast.BinOp, depth: int) -> Step:
        apply = _BINARY.get(type(node.op))
        if apply is None:
            raise ExpressionError("this sign is not known here", node.col_offset)
        left, right = self.step(node.left, depth), self.step(node.right, depth)
        return lambda scope: apply(left(scope), right(scope))

    def _boolop(self, node: ast.BoolOp, depth: int) -> Step:
        steps = [self.step(each, depth) for each in node.values]
        stop = isinstance(node.op, ast.Or)

        def run(scope: Scope) -> Any:
            value: Any = False
            for step in steps:
                value = step(scope)
                if bool(value) is stop:
                    return value
            return value

        return run

    def _compare(self, node: ast.Compare, depth: int) -> Step:
        signs = []
        for op in node.ops:
            if type(op) not in _SIGNS:
                raise ExpressionError("only == != < <= > >= compare", node.col_offset)
            signs.append(_SIGNS[type(op)])
        first = self.step(node.left, depth)
        rest = [self.step(each, depth) for each in node.comparators]

        def run(scope: Scope) -> bool:
            left = first(scope)
            for sign, step in zip(signs, rest, strict=True):
                right = step(scope)
                if not ops.compare(sign, left, right):
                    return False
                left = right
            return True

        return run

    def _ifexp(self, node: ast.IfExp, depth: int) -> Step:
        test, yes, no = (self.step(each, depth) for each in (node.test, node.body, node.orelse))
        return lambda scope: yes(scope) if test(scope) else no(scope)

    def _tuple(self, node: ast.Tuple, depth: int) -> Step:
        return self._items(node.elts, depth)

    def _list(self, node: ast.List, depth: int) -> Step:
        return self._items(node.elts, depth)

    def _items(self, elements: list[ast.expr], depth: int) -> Step:
        if len(elements) > MAX_ITEMS:
            raise ExpressionError(f"a list may have at most {MAX_ITEMS} items")
        steps = tuple(self.step(each, depth) for each in elements)
        return lambda scope: tuple([step(scope) for step in steps])

    def _attribute(self, node: ast.Attribute, depth: int) -> Step:
        name = node.attr
        if name not in ("x", "y", "z"):
            raise ExpressionError(_not_a_part(node), node.col_offset)
        value = self.step(node.value, depth)
        return lambda scope: ops.part(value(scope), name)

    def _subscript(self, node: ast.Subscript, depth: int) -> Step:
        value, index = self.step(node.value, depth), self.step(node.slice, depth)
        return lambda scope: ops.item(value(scope), index(scope))

    def _call(self, node: ast.Call, depth: int) -> Step:
        if not isinstance(node.func, ast.Name) or node.func.id not in FUNCTIONS:
            if not isinstance(node.func, ast.Name):
                message = "a function is called by its name, as in sway(10)"
            else:
                message = f"{node.func.id!r} is not a function that is known here"
                if node.func.id == "layer":
                    message += ': another layer\'s property is of("Layer", "position")'
                else:
                    message += _close(node.func.id, FUNCTIONS)
            raise ExpressionError(message, node.func.col_offset)
        name = node.func.id
        function, fewest, most, keywords = FUNCTIONS[name]
        given = [each.arg for each in node.keywords]
        for word in given:
            if word not in keywords:
                known = ", ".join(keywords) or "none"
                raise ExpressionError(
                    f"{name} has no {word or '**'}; by name it takes: {known}", node.col_offset
                )
        if any(isinstance(each, ast.Starred) for each in node.args):
            raise ExpressionError("* is not known here", node.col_offset)
        if not fewest <= len(node.args) + len(given) <= most:
            amount = str(fewest) if fewest == most else f"{fewest} to {most}"
            raise ExpressionError(f"{name} takes {amount} values in its brackets", node.col_offset)
        try:
            inspect.signature(function).bind(None, *node.args, **{str(k): None for k in given})
        except TypeError:
            message = f"{name} lacks a value, or has one twice"
            raise ExpressionError(message, node.col_offset) from None
        if name in ("of", "rate"):
            self._note_read(node.args)
        if name == "level":
            self._note_read([*node.args[:1], ast.copy_location(ast.Constant(HEARD), node)])
        args = tuple(self.step(each, depth) for each in node.args)
        named = {str(k.arg): self.step(k.value, depth) for k in node.keywords}
        if not named:
            return lambda scope: function(scope, *[arg(scope) for arg in args])
        return lambda scope: function(
            scope, *[arg(scope) for arg in args], **{k: v(scope) for k, v in named.items()}
        )

    def _note_read(self, args: list[ast.expr]) -> None:
        literal = [a.value if isinstance(a, ast.Constant) else None for a in args[:2]]
        if not all(isinstance(each, str) for each in literal) or len(literal) < 2:
            # Names that are worked out could not be followed when a layer is renamed, nor
            # could it be told beforehand that properties read each other in a circle.
            message = "the layer and the property must be written out, in quotes"
            raise ExpressionError(message, args[0].col_offset if args else None)
        first = args[0]
        if first.lineno != 1 or first.end_lineno != 1:
            # Columns are counted in lines: those before are added.
            lines = self.text.lstrip().encode().split(b"\n")
            before = sum(len(line) + 1 for line in lines[: first.lineno - 1])
            last = sum(len(line) + 1 for line in lines[: (first.end_lineno or 1) - 1])
        else:
            before = last = 0
        start = self.lead + before + first.col_offset
        end = self.lead + last + (first.end_col_offset or 0)
        self.reads.append(Read(str(literal[0]), str(literal[1]), start, end))


def _meant(name: str) -> str:
    """What may be meant by a name that is not known."""
    if name in FUNCTIONS:
        return " (it is a function: write brackets after it)"
    if close := _close(name, NAME_HELP):
        return close
    # Properties have no names here.
    return (
        f': this property\'s own value is keyed, another\'s is of("Layer", "{name}")'
        if name.isidentifier() and len(name) > 1
        else ""
    )


def _close(name: str, known: Iterable[str]) -> str:
    found = difflib.get_close_matches(name, list(known), 1, 0.7)
    return f": {found[0]!r} is" if found else ""


def _not_a_part(node: ast.Attribute) -> str:
    """A part that nothing has: with a layer before it, a property of that layer is meant."""
    of, name = node.value, node.attr
    layer: object = None
    if isinstance(of, ast.Constant):
        layer = of.value
    elif isinstance(of, ast.Call) and len(of.args) == 1 and isinstance(of.args[0], ast.Constant):
        layer = of.args[0].value
    if isinstance(layer, str):
        return f'.{name} is not known: write of("{layer}", "{name}")'
    return f".{name} is not known; a point has .x and .y"


def _deepest(text: str) -> int:
    depth = deepest = 0
    for letter in text:
        if letter in "([{":
            depth += 1
            deepest = max(deepest, depth)
        elif letter in ")]}":
            depth -= 1
    return deepest


def _plain_words(error: SyntaxError, text: str) -> str:
    message = error.msg or ""
    if "was never closed" in message:
        return "a bracket is not closed"
    if "unterminated" in message:
        return "a text lacks its closing quote"
    if "unmatched" in message:
        return "a closing bracket has none to open it"
    if "EOF" in message or text.rstrip()[-1:] in "+-*/,(%<>=":
        return "something is missing at the end"
    return "this cannot be read as a formula"


def _refused(node: ast.expr) -> str:
    names = {
        "Lambda": "functions of one's own are not known here",
        "ListComp": "loops are not known here", "GeneratorExp": "loops are not known here",
        "SetComp": "loops are not known here", "DictComp": "loops are not known here",
        "JoinedStr": "texts with { } are not known here: join them with +",
        "NamedExpr": "nothing can be set in an expression",
        "Dict": "{ } is not known here", "Set": "{ } is not known here",
        "Slice": "only single items can be taken from a list",
    }  # fmt: skip
    return names.get(type(node).__name__, "this is not known here")
