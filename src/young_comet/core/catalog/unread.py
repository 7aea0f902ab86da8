"""Data that is no document of this form, put right place by place until it can be read as one."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from ...errors import DocumentError
from ..model import Project
from ..model.schema import migrated
from ..model.values import MAX_NAME

Loc = tuple[int | str, ...]


# A document with more that is wrong than this loses the scenes in which it is.
MOST_STEPS = 5_000


def validated(data: Any, id: str, name: str, changes: list[str]) -> Project:
    """A document of this form out of any JSON data: what does not fit is clamped or taken out, and
    told in ``changes``."""
    try:
        data = migrated(data)
    except DocumentError as error:
        changes.append(f"nothing could be read of the document ({error})")
        return Project(id=id, name=name)
    data = _copied(data)
    for _ in range(MOST_STEPS):
        try:
            return Project.model_validate(data)
        except ValidationError as error:
            before = len(changes)
            # From the back, so that places in lists stay right while items are taken out.
            for each in sorted(error.errors(include_url=False), key=_place, reverse=True)[:500]:
                _put_right(data, each, id, name, changes)
            if len(changes) == before:
                break
        except RecursionError:
            break
    changes.append("nothing of the document could be kept but its name")
    return Project(id=id, name=name)


# Nothing of a document lies deeper; what does is left out.
_DEEPEST = 40


def _copied(data: Any, depth: int = 0) -> Any:
    """A copy of JSON data that can be changed, cut off where it goes on for ever."""
    if depth > _DEEPEST:
        return None
    if isinstance(data, dict):
        return {str(key): _copied(value, depth + 1) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [_copied(value, depth + 1) for value in data]
    return data


def _place(error: Any) -> list[tuple[int, int | str]]:
    return [(0, part) if isinstance(part, int) else (1, part) for part in error["loc"]]


def _put_right(data: Any, error: Any, id: str, name: str, changes: list[str]) -> None:
    """Changes the value that an error is about, or takes the smallest part out that holds it."""
    loc: Loc = error["loc"]
    holder, key = _holder(data, loc)
    if holder is None:
        return
    where = _named(data, loc)
    limits = error.get("ctx", {})
    if loc in (("id",), ("name",)):
        holder[key] = id if key == "id" else str(name)[:MAX_NAME] or "Mended"
        changes.append(f"gave the project another {key}")
        return
    kind, value = error["type"], holder[key] if _has(holder, key) else None
    clamped = _clamped(kind, value, limits)
    if clamped is not None:
        holder[key] = clamped
        changes.append(f"{where}: {brief(value)} became {brief(clamped)}")
        return
    if kind == "extra_forbidden":
        del holder[key]
        changes.append(f"{where}: left out what is not known here")
        return
    _take_out(data, loc, where, str(error["msg"]), changes)


def _clamped(kind: str, value: Any, limits: dict[str, Any]) -> Any:
    if kind in ("less_than_equal", "greater_than_equal"):
        return limits["le" if kind == "less_than_equal" else "ge"]
    if kind in ("string_too_long", "too_long") and isinstance(value, str | list):
        return value[: limits["max_length"]]
    if kind == "string_too_short":
        return "Unnamed"
    return None


def _take_out(data: Any, loc: Loc, where: str, why: str, changes: list[str]) -> None:
    """Removes the nearest enclosing item of a list, entry of properties or slots, or field."""
    for depth in range(len(loc), 0, -1):
        holder, key = _holder(data, loc[:depth])
        if isinstance(holder, list) and isinstance(key, int) and key < len(holder):
            # A pair of numbers is nothing without one of them: then what holds the pair goes.
            if holder and not isinstance(holder[key], dict):
                continue
            del holder[key]
            changes.append(f"{where}: left out ({why})")
            return
        in_entries = depth > 1 and loc[depth - 2] in ("properties", "slots")
        optional = depth == len(loc) and isinstance(key, str) and not _needed(loc)
        if isinstance(holder, dict) and key in holder and (in_entries or optional):
            del holder[key]
            changes.append(f"{where}: left out ({why})")
            return


def _needed(loc: Loc) -> bool:
    """Whether a field has no default, so that what has it cannot be without it."""
    needed = ("id", "name", "kind", "start_s", "end_s", "time_s", "width", "height", "rate", "num",
              "length_s", "hash", "media_type", "size_bytes", "colour", "easing", "phase", "to",
              "mode", "value")  # fmt: skip
    return loc[-1] in needed


def _holder(data: Any, loc: Loc) -> tuple[Any, Any]:
    """The list or object that a place lies in, and its key there; (None, None) if it is not
    there. Places of a model's own ("function-before" and the like) are passed over."""
    holder: Any = data
    key: Any = None
    for part in loc:
        if key is not None:
            if not _has(holder, key):
                return None, None
            holder = holder[key]
            key = None
        if isinstance(holder, dict | list):
            key = part
    return (holder, key) if isinstance(holder, dict | list) and key is not None else (None, None)


def _has(holder: Any, key: Any) -> bool:
    if isinstance(holder, dict):
        return key in holder
    return isinstance(holder, list) and isinstance(key, int) and key < len(holder)


def _named(data: Any, loc: Loc) -> str:
    """A place in words: the names of what lies around it, then the field."""
    words: list[str] = []
    here: Any = data
    for part in loc:
        if not isinstance(here, dict | list) or not _has(here, part):
            words.append(str(part))
            break
        here = here[part]  # type: ignore[index]
        label = here.get("name") if isinstance(here, dict) else None
        if isinstance(label, str):
            words.append(repr(label[:40]))
        elif isinstance(part, str) and part not in ("scenes", "layers", "properties"):
            words.append(part)
    return " / ".join(words) or "the document"


def place_in_words(data: Any, field: str) -> str:
    """The place of an error of the models ("scenes.0.layers.2.name") by the names around it; the
    field as it is where it is another."""
    loc = tuple(int(part) if part.isdigit() else part for part in field.split("."))
    holder, key = _holder(data, loc)
    return _named(data, loc) if holder is not None and _has(holder, key) else field


def brief(value: Any) -> str:
    """A value as sentences show it."""
    text = repr(value)
    return text if len(text) <= 40 else text[:37] + "..."
