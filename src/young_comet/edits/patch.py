"""Differences of two documents as JSON patches (RFC 6902).

Documents are frozen and share what an edit did not touch, so identical parts are skipped by
identity and the cost follows the size of the change, not of the document.
"""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

Patch = list[dict[str, Any]]


def diff(old: Any, new: Any, path: str = "") -> Patch:
    """Operations that turn the JSON of ``old`` into the JSON of ``new``."""
    if old is new:
        return []
    if isinstance(old, BaseModel) and type(old) is type(new):
        result: Patch = []
        after = new.__dict__
        for name, value in old.__dict__.items():
            if value is not after[name]:
                result += diff(value, after[name], f"{path}/{name}")
        return result
    if isinstance(old, dict) and isinstance(new, dict):
        return _diff_dicts(old, new, path)
    if isinstance(old, tuple) and isinstance(new, tuple) and _holds_models(old, new):
        return _diff_lists(old, new, path)
    if old == new:
        return []
    return [{"op": "replace", "path": path, "value": plain(new)}]


def _diff_dicts(old: dict[str, Any], new: dict[str, Any], path: str) -> Patch:
    result: Patch = []
    for key in old:
        if key not in new:
            result.append({"op": "remove", "path": f"{path}/{_escape(key)}"})
    for key, value in new.items():
        where = f"{path}/{_escape(key)}"
        if key in old:
            result += diff(old[key], value, where)
        else:
            result.append({"op": "add", "path": where, "value": plain(value)})
    return result


def _diff_lists(old: tuple[Any, ...], new: tuple[Any, ...], path: str) -> Patch:
    """Items with ids: kept ones are compared in place, others removed and added."""
    if [item.id for item in old] == [item.id for item in new]:
        pairs = enumerate(zip(old, new, strict=True))
        return [op for i, (a, b) in pairs if a is not b for op in diff(a, b, f"{path}/{i}")]
    result: Patch = []
    wanted = {item.id: item for item in new}
    current = list(old)
    for index in range(len(current) - 1, -1, -1):
        if current[index].id not in wanted:
            result.append({"op": "remove", "path": f"{path}/{index}"})
            del current[index]
    for index, item in enumerate(new):
        if index < len(current) and current[index].id == item.id:
            continue
        found = next((i for i in range(index, len(current)) if current[i].id == item.id), None)
        if found is None:
            result.append({"op": "add", "path": f"{path}/{index}", "value": plain(item)})
            current.insert(index, item)
        else:
            result.append({"op": "move", "from": f"{path}/{found}", "path": f"{path}/{index}"})
            current.insert(index, current.pop(found))
    for index, item in enumerate(new):
        result += diff(current[index], item, f"{path}/{index}")
    return result


def _holds_models(old: tuple[Any, ...], new: tuple[Any, ...]) -> bool:
    """Lists of a document hold things of one kind: the first tells."""
    return all(isinstance(item, BaseModel) and hasattr(item, "id") for item in (*old[:1], *new[:1]))


def plain(value: Any) -> Any:
    """The JSON form of a part of a document."""
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    if isinstance(value, dict):
        return {key: plain(item) for key, item in value.items()}
    if isinstance(value, tuple | list):
        return [plain(item) for item in value]
    return value


def _escape(token: str) -> str:
    return token.replace("~", "~0").replace("/", "~1")
