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
    return diffs(old, new, path)[0]


def diffs(old: Any, new: Any, path: str = "") -> tuple[Patch, Patch]:
    """The operations there and those back, found in one walk."""
    there: Patch = []
    back: list[Patch] = []
    _compare(old, new, path, there, back)
    return there, [step for steps in reversed(back) for step in steps]


def _compare(old: Any, new: Any, path: str, there: Patch, back: list[Patch]) -> None:
    """Adds the steps there, and those back as groups: the last group is done first."""
    if old is new:
        return
    if isinstance(old, BaseModel) and type(old) is type(new):
        after = new.__dict__
        for name, value in old.__dict__.items():
            if value is not after[name]:
                _compare(value, after[name], f"{path}/{name}", there, back)
    elif isinstance(old, dict) and isinstance(new, dict):
        _compare_entries(old, new, path, there, back)
    elif isinstance(old, tuple) and isinstance(new, tuple) and _holds_models(old, new):
        if len(old) == len(new) and all(map(_same_id, old, new)):
            for index, (a, b) in enumerate(zip(old, new, strict=True)):
                if a is not b:
                    _compare(a, b, f"{path}/{index}", there, back)
        else:
            there += _diff_lists(old, new, path)
            back.append(_diff_lists(new, old, path))
    elif old != new:
        there.append({"op": "replace", "path": path, "value": plain(new)})
        back.append([{"op": "replace", "path": path, "value": plain(old)}])


def _same_id(a: Any, b: Any) -> bool:
    return a is b or a.id == b.id


def _compare_entries(
    old: dict[str, Any], new: dict[str, Any], path: str, there: Patch, back: list[Patch]
) -> None:
    for key, value in old.items():
        if key not in new:
            where = f"{path}/{_escape(key)}"
            there.append({"op": "remove", "path": where})
            back.append([{"op": "add", "path": where, "value": plain(value)}])
    for key, value in new.items():
        if key not in old:
            where = f"{path}/{_escape(key)}"
            there.append({"op": "add", "path": where, "value": plain(value)})
            back.append([{"op": "remove", "path": where}])
        elif old[key] is not value:
            _compare(old[key], value, f"{path}/{_escape(key)}", there, back)


def _diff_lists(old: tuple[Any, ...], new: tuple[Any, ...], path: str) -> Patch:
    """Items with ids that come, go or change their order: others are removed and added, what
    stays is compared in its new place."""
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
