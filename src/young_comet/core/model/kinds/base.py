"""What a property holds: one class for each kind, with all that depends on it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar, Protocol

from ....errors import DocumentError
from ...pixels.colour import Rgba
from ...registry import Registry

MAX_TEXT = 10_000


class Limits(Protocol):
    """What of a declaration decides whether a value is fine."""

    @property
    def unit(self) -> str:
        """Must. Its unit, "" for plain numbers."""
        ...

    @property
    def minimum(self) -> float | None:
        """Must. The least that is allowed, None without a limit."""
        ...

    @property
    def maximum(self) -> float | None:
        """Must. The most that is allowed, None without a limit."""
        ...

    @property
    def whole(self) -> bool:
        """Must. Whether only whole numbers are allowed."""
        ...

    @property
    def options(self) -> tuple[tuple[str, str], ...]:
        """Must. What can be chosen: ids with names."""
        ...


class Kind:
    """What a property holds: how its values are checked, mixed, looked up, written and shown.

    A value has three forms: the document's (JSON, tuples for lists), the computation's (colours as
    numbers, inks looked up), and that of expressions (numbers, texts, tuples of numbers).
    """

    NUMBER: ClassVar[Kind]
    POINT: ClassVar[Kind]
    COLOUR: ClassVar[Kind]
    STOPS: ClassVar[Kind]
    PATH: ClassVar[Kind]
    CURVE: ClassVar[Kind]
    SPOTS: ClassVar[Kind]
    TEXT: ClassVar[Kind]
    WORDS: ClassVar[Kind]
    EASING: ClassVar[Kind]
    DASH: ClassVar[Kind]
    FEATURES: ClassVar[Kind]
    CHOICE: ClassVar[Kind]
    FLAG: ClassVar[Kind]
    ASSET: ClassVar[Kind]
    FONT: ClassVar[Kind]
    LAYER: ClassVar[Kind]
    SCENE: ClassVar[Kind]

    id: str
    mixes = False
    """Whether there are values between two values."""
    reckoned = False
    """Whether an expression may give it."""
    holds = False
    """Whether it may have keys although there is nothing between two values: each holds until the
    next."""
    course = "steps"
    """How a lane shows it: as "curves" of its coordinates, as "colours", or as "steps"."""
    names = ""
    """Of what a value is the id: "asset", "layer", "scene"; "" for values that are none."""

    def __repr__(self) -> str:
        return f"Kind.{self.id.upper()}"

    def __reduce__(self) -> tuple[Any, ...]:
        return (kind_of, (self.id,))

    def check(self, spec: Limits, value: Any, field: str) -> Any:
        """May. The document's value in its one canonical form; DocumentError says what was
        expected. As it stands here: a text."""
        if not isinstance(value, str):
            raise DocumentError.expected(field, "a text", value)
        if len(value) > MAX_TEXT:
            raise DocumentError(f"expected at most {MAX_TEXT} characters", field=field)
        return value

    def resolve(self, value: Any, inks: Mapping[str, Rgba]) -> Any:
        """May. A document's value as the computation uses it."""
        return value

    def to_json(self, value: Any) -> Any:
        """May. A value of the computation in the form of the document."""
        return value

    def mix(self, a: Any, b: Any, amount: float) -> Any:
        """May. ``a`` at 0, ``b`` at 1, beyond the two outside 0..1; colours and whatever has them
        are clamped. Kinds that do not mix stay at ``a``."""
        return a

    def step(self, a: Any, b: Any) -> tuple[float, ...]:
        """May. The way from one value to another as a vector, in the kind's own units; () for
        kinds without."""
        return ()

    def add_step(self, value: Any, way: tuple[float, ...], times: float) -> Any:
        """May. A value moved on by a step some times; kinds that cannot stay."""
        return value

    def coordinates(self, value: Any) -> list[float]:
        """May. The numbers whose curves a lane shows; [] for kinds without."""
        return []

    def said(self, value: Any, spec: Limits) -> str:
        """May. A document's value in a few words for the history; "" for what has none."""
        return ""

    def swatch(self, value: Any) -> Rgba:
        """Must, where ``course`` is "colours". The colour that stands for a value."""
        raise NotImplementedError

    def from_expression(self, value: Any, spec: Limits) -> Any:
        """Must, where ``reckoned``. An expression's result in the document's form, within the
        limits of the declaration; DocumentError where it cannot be one."""
        raise NotImplementedError


_KINDS: Registry[Kind] = Registry("a kind of property")


def registered(kind: Kind) -> Kind:
    """The kind, known by its id from now on."""
    _KINDS.add(kind)
    return kind


def kind_of(id: str) -> Kind:
    """The kind of an id."""
    return _KINDS[id]
