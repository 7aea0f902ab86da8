"""A cache with a limit on the sum of what it keeps."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Hashable
from typing import Any


class SizedCache:
    """Least recently used items give way when the sum of their sizes passes the limit."""

    def __init__(self, limit_bytes: int) -> None:
        self._limit = limit_bytes
        self._items: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self.size = 0

    def get(self, key: Hashable) -> Any | None:
        """What is kept under a key, None where nothing is."""
        if key not in self._items:
            return None
        self._items.move_to_end(key)
        return self._items[key][0]

    def put(self, key: Hashable, item: Any, size: int) -> None:
        """Keeps a value; the oldest go where there is no room."""
        if key in self._items:
            self.size -= self._items.pop(key)[1]
        self._items[key] = (item, size)
        self.size += size
        while self.size > self._limit and len(self._items) > 1:
            _, (_, freed) = self._items.popitem(last=False)
            self.size -= freed
