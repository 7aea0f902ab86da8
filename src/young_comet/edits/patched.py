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

_REMOVED = object()


def patched(project: Project, patch: Patch) -> Project:
    """The document after a patch; DocumentError where the patch does not fit it."""
    try:
        for step in patch:
            project = _step(project, step)
    except ValidationError as error:
        raise from_validation(error) from error
    except (LookupError, ValueError, TypeError, AttributeError) as error:
        raise DocumentError(f"the history does not fit the document ({error!r})") from error
    return project


def _step(project: Project, step: dict[str, Any]) -> Project:
    path = _tokens(step["path"])
    if step["op"] == "move":
        source = _tokens(step["from"])
        value = _at(project, source)
        project = _put(project, Project, source, _REMOVED, "remove")
        return _put(project, Project, path, value, "add")  # type: ignore[no-any-return]
    value = _REMOVED if step["op"] == "remove" else step["value"]
    if step["op"] not in ("add", "remove", "replace"):
        raise ValueError(f"unknown operation {step['op']!r}")
    return _put(project, Project, path, value, step["op"])  # type: ignore[no-any-return]


def _tokens(path: str) -> list[str]:
    if path == "":
        return []
    return [part.replace("~1", "/").replace("~0", "~") for part in path.split("/")[1:]]


def _at(holder: Any, path: list[str]) -> Any:
    for token in path:
        if isinstance(holder, BaseModel):
            holder = getattr(holder, token)
        elif isinstance(holder, tuple):
            holder = holder[_index(token, len(holder) - 1)]
        else:
            holder = holder[token]
    return holder


def _put(holder: Any, kind: Any, path: list[str], value: Any, op: str) -> Any:
    """``holder``, of the declared ``kind``, with what lies at a path put in, changed or removed."""
    if not path:
        return value if isinstance(value, BaseModel) else _adapter(kind).validate_python(value)
    token, rest = path[0], path[1:]
    if isinstance(holder, BaseModel):
        field = type(holder).model_fields[token]
        inner = Annotated[field.annotation, *field.metadata] if field.metadata else field.annotation
        changed = _put(getattr(holder, token), inner, rest, value, op)
        if changed is _REMOVED:
            raise ValueError(f"{token} cannot be removed")
        return holder.model_copy(update={token: changed})
    if isinstance(holder, tuple):
        return _put_item(holder, _item_kind(kind), token, rest, value, op)
    if isinstance(holder, dict):
        result = dict(holder)
        if rest:
            result[token] = _put(holder[token], _item_kind(kind), rest, value, op)
        elif op == "remove":
            del result[token]
        else:
            result[token] = _put(None, _item_kind(kind), [], value, op)
        return result
    raise ValueError(f"nothing lies at {token!r}")


def _put_item(
    holder: tuple[Any, ...], kind: Any, token: str, rest: list[str], value: Any, op: str
) -> tuple[Any, ...]:
    if rest or op == "replace":
        index = _index(token, len(holder) - 1)
        changed = _put(holder[index], kind, rest, value, op)
        return (*holder[:index], changed, *holder[index + 1 :])
    if op == "remove":
        index = _index(token, len(holder) - 1)
        return (*holder[:index], *holder[index + 1 :])
    index = len(holder) if token == "-" else _index(token, len(holder))
    return (*holder[:index], _put(None, kind, [], value, op), *holder[index:])


def _index(token: str, highest: int) -> int:
    index = int(token)
    if not 0 <= index <= highest:
        raise IndexError(f"there is no item {token}")
    return index


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
