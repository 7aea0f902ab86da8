"""Things with ids in lists of a document: found, put in place of each other, new ones refused where
there is one already."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Protocol, TypeVar

from ..errors import DocumentError, NotFoundError


class HasId(Protocol):
    """Whatever has an id."""

    @property
    def id(self) -> str:
        """Must. Its id."""
        ...


T = TypeVar("T", bound=HasId)


def found(items: Iterable[T], id: str, what: str, *, within: str = "", field: str = "") -> T:
    """The one of an id; NotFoundError says what there is none of (``within`` something)."""
    for item in items:
        if item.id == id:
            return item
    where = f" in {within!r}" if within else ""
    raise NotFoundError(f"there is no {what} {id!r}{where}", field=field or what.split()[-1])


def refuse_known(items: Iterable[HasId], id: str, what: str, field: str) -> None:
    """Raises DocumentError where there is one of that id already."""
    if any(item.id == id for item in items):
        article = "an" if what[0] in "aeiou" else "a"
        raise DocumentError(f"there is {article} {what} {id!r} already", field=field)


def replaced(items: Iterable[Any], new: HasId) -> tuple[Any, ...]:
    """The same with one in place of that of its id."""
    return tuple(new if item.id == new.id else item for item in items)


def without(items: Iterable[Any], id: str) -> tuple[Any, ...]:
    """The same without the one of an id."""
    return tuple(item for item in items if item.id != id)
