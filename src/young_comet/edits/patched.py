"""JSON patches (RFC 6902) applied to documents as they are in memory.

Frozen models are rebuilt along the path of each operation only; everything else stays the same
object, so whatever was made from it (tracks, lanes, sheets) can be used again after an undo.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Any, get_args, get_origin

from pydantic import BaseModel, TypeAdapter, ValidationError

from ..core.model import Project
from ..core.model.schema import from_validation
from ..errors import DocumentError
from .patch import Patch


def patched(project: Project, patch: Patch) -> Project:
    """The document after a patch; DocumentError where the patch does not fit it."""
    try:
        whole = _Model(project)
        for step in patch:
            _step(whole, step)
        result = whole.finished()
    except ValidationError as error:
        raise from_validation(error) from error
    except (LookupError, ValueError, TypeError, AttributeError) as error:
        raise DocumentError(f"the history does not fit the document ({error!r})") from error
    return result  # type: ignore[no-any-return]


def _step(whole: _Model, step: dict[str, Any]) -> None:
    op, path = step["op"], _tokens(step["path"])
    if op == "move":
        source = _tokens(step["from"])
        holder = _reach(whole, source[:-1])
        value = _finished(holder.get(source[-1]))
        holder.remove(source[-1])
        _reach(whole, path[:-1]).add(path[-1], value)
    elif op == "remove":
        _reach(whole, path[:-1]).remove(path[-1])
    elif op == "add":
        _reach(whole, path[:-1]).add(path[-1], step["value"])
    elif op == "replace":
        _reach(whole, path[:-1]).replace(path[-1], step["value"])
    else:
        raise ValueError(f"unknown operation {op!r}")


def _tokens(path: str) -> list[str]:
    tokens = [part.replace("~1", "/").replace("~0", "~") for part in path.split("/")[1:]]
    if not tokens:
        raise ValueError("a patch may not replace the whole document")
    return tokens


def _reach(whole: _Model, path: list[str]) -> Any:
    """What holds a place, opened for changes."""
    holder: Any = whole
    for token in path:
        holder = holder.opened(token)
    return holder


def _open(value: Any, kind: Any) -> Any:
    """A value that can be changed in parts."""
    if isinstance(value, BaseModel):
        return _Model(value)
    if isinstance(value, tuple):
        return _Items(value, _item_kind(kind))
    if isinstance(value, dict):
        return _Entries(value, _item_kind(kind))
    raise ValueError(f"{value!r} has no parts")


def _typed(value: Any, kind: Any) -> Any:
    """A value of a patch as the declared kind has it."""
    return value if isinstance(value, BaseModel) else _adapter(kind).validate_python(value)


def _finished(value: Any) -> Any:
    return value.finished() if isinstance(value, _Model | _Items | _Entries) else value


class _Model:
    """A model of which some fields change."""

    def __init__(self, model: BaseModel) -> None:
        self._model = model
        self._changed: dict[str, Any] = {}

    def _kind(self, name: str) -> Any:
        field = type(self._model).model_fields[name]
        if not field.metadata:
            return field.annotation
        return Annotated[field.annotation, *field.metadata]

    def get(self, name: str) -> Any:
        return self._changed[name] if name in self._changed else getattr(self._model, name)

    def opened(self, name: str) -> Any:
        value = self.get(name)
        if not isinstance(value, _Model | _Items | _Entries):
            value = self._changed[name] = _open(value, self._kind(name))
        return value

    def replace(self, name: str, value: Any) -> None:
        self._changed[name] = _typed(value, self._kind(name))

    add = replace

    def remove(self, name: str) -> None:
        raise ValueError(f"{name} cannot be removed")

    def finished(self) -> Any:
        if not self._changed:
            return self._model
        update = {name: _finished(value) for name, value in self._changed.items()}
        return self._model.model_copy(update=update)


class _Items:
    """A list of which some items change, come or go."""

    def __init__(self, items: tuple[Any, ...], kind: Any) -> None:
        self._items, self._kind = list(items), kind

    def _index(self, token: str, highest: int) -> int:
        index = int(token)
        if not 0 <= index <= highest:
            raise IndexError(f"there is no item {token}")
        return index

    def get(self, token: str) -> Any:
        return self._items[self._index(token, len(self._items) - 1)]

    def opened(self, token: str) -> Any:
        index = self._index(token, len(self._items) - 1)
        value = self._items[index]
        if not isinstance(value, _Model | _Items | _Entries):
            value = self._items[index] = _open(value, self._kind)
        return value

    def replace(self, token: str, value: Any) -> None:
        self._items[self._index(token, len(self._items) - 1)] = _typed(value, self._kind)

    def add(self, token: str, value: Any) -> None:
        index = len(self._items) if token == "-" else self._index(token, len(self._items))
        self._items.insert(index, _typed(value, self._kind))

    def remove(self, token: str) -> None:
        del self._items[self._index(token, len(self._items) - 1)]

    def finished(self) -> Any:
        return tuple([_finished(item) for item in self._items])


class _Entries:
    """A dictionary of which some entries change, come or go."""

    def __init__(self, entries: dict[str, Any], kind: Any) -> None:
        self._entries, self._kind = dict(entries), kind

    def get(self, key: str) -> Any:
        return self._entries[key]

    def opened(self, key: str) -> Any:
        value = self._entries[key]
        if not isinstance(value, _Model | _Items | _Entries):
            value = self._entries[key] = _open(value, self._kind)
        return value

    def replace(self, key: str, value: Any) -> None:
        self._entries[key] = _typed(value, self._kind)

    add = replace

    def remove(self, key: str) -> None:
        del self._entries[key]

    def finished(self) -> Any:
        return {key: _finished(value) for key, value in self._entries.items()}


def _item_kind(kind: Any) -> Any:
    """The declared kind of the items of a tuple or the values of a dictionary."""
    if get_origin(kind) is Annotated:
        return _item_kind(get_args(kind)[0])
    origin, inner = get_origin(kind), get_args(kind)
    if origin is tuple and inner:
        return inner[0]
    if origin is dict:
        return inner[1]
    for part in inner:  # one of several, as in "X | None"
        if get_origin(part) in (tuple, dict):
            return _item_kind(part)
    return Any


@lru_cache(maxsize=500)
def _adapter(kind: Any) -> TypeAdapter[Any]:
    return TypeAdapter(kind)
