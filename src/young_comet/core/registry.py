"""Kinds by their ids: effects, moves, kinds of layers and of properties, families of members,
operations."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import Any, TypeVar

from ..errors import DocumentError

T = TypeVar("T")


class Registry(Mapping[str, T]):
    """Members by id, in the order in which they came. ``what`` is what one is called where an id is
    refused, ``key`` tells a member's id. A test may work on a copy."""

    def __init__(
        self, what: str, members: Iterable[T] = (), key: Callable[[Any], str] = lambda m: m.id
    ) -> None:
        self.what, self._key = what, key
        self._members: dict[str, T] = {}
        self.add(*members)

    def add(self, *members: T) -> None:
        """Takes in members; ValueError where an id is known already."""
        for member in members:
            member_id = self._key(member)
            if member_id in self._members:
                raise ValueError(f"there is {self.what} {member_id!r} already")
            self._members[member_id] = member

    def known(self, member_id: str, field: str = "") -> T:
        """The member of that id; DocumentError, which names all, where there is none."""
        found = self.get(member_id)
        if found is None:
            words = "one of " + ", ".join(self._members)
            raise DocumentError.expected(field or self.what, words, member_id)
        return found

    def copy(self) -> Registry[T]:
        """A registry of its own with the same members."""
        return type(self)(self.what, self._members.values(), self._key)

    def __getitem__(self, member_id: str) -> T:
        return self._members[member_id]

    def __iter__(self) -> Iterator[str]:
        return iter(self._members)

    def __len__(self) -> int:
        return len(self._members)
