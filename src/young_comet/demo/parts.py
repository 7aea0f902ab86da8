"""Short forms for writing scenes as edits."""

from __future__ import annotations

from typing import Any

Edit = dict[str, Any]


def scene(id: str, name: str, length_s: float) -> Edit:
    """The operation that adds a scene."""
    return {
        "kind": "add-scene",
        "scene": {
            "id": id, "name": name, "width": 1920, "height": 1080, "rate": {"num": 25},
            "length_s": length_s, "ground": "#17224d",
        },
    }  # fmt: skip


def layer(
    id: str, name: str, kind: str, start_s: float, end_s: float, **properties: Any
) -> dict[str, Any]:
    """Properties by id with ``__`` for a dot and ``_`` for a dash; lists of ``key`` are keys."""
    return {
        "id": id,
        "name": name,
        "kind": kind,
        "start_s": start_s,
        "end_s": end_s,
        "properties": {
            key.replace("__", ".").replace("_", "-"): _property(value)
            for key, value in properties.items()
        },
    }


def looks(
    made: dict[str, Any],
    *,
    masks: tuple[tuple[dict[str, Any], dict[str, Any]], ...] = (),
    effects: tuple[tuple[str, dict[str, Any]], ...] = (),
) -> dict[str, Any]:
    """A layer with masks (their fields and properties) and effects (kind and parameters)."""
    properties = dict(made["properties"])
    listed: list[dict[str, Any]] = []
    for fields, values in masks:
        listed.append(fields)
        for name, value in values.items():
            properties[f"mask.{fields['id']}.{name}"] = _property(value)
    stack_: list[dict[str, Any]] = []
    for index, (kind, values) in enumerate(effects):
        effect_id = f"{kind}-{index + 1}"
        stack_.append({"id": effect_id, "kind": kind})
        for name, value in values.items():
            name = name.replace("_", "-")
            properties[f"effect.{effect_id}.{name}"] = _property(value)
    return {**made, "properties": properties, "masks": listed, "effects": stack_}


def lettered(
    made: dict[str, Any],
    *,
    runs: tuple[tuple[int, int, dict[str, Any]], ...] = (),
    fronts: tuple[tuple[str, dict[str, Any]], ...] = (),
) -> dict[str, Any]:
    """A text with runs (first, before last, properties) and fronts (name and properties)."""
    properties = dict(made["properties"])
    styled, worn = [], []
    for number, (first, last, values) in enumerate(runs, start=1):
        styled.append({"id": f"run-{number}", "first": first, "last": last})
        for name, value in values.items():
            properties[f"run.run-{number}.{name}"] = _property(value)
    for number, (title, values) in enumerate(fronts, start=1):
        worn.append({"id": f"front-{number}", "name": title})
        for name, value in values.items():
            properties[f"front.front-{number}.{name}"] = _property(value)
    return {**made, "properties": properties, "runs": styled, "fronts": worn}


def moved(made: dict[str, Any], *moves: tuple[str, str, dict[str, Any]]) -> dict[str, Any]:
    """A layer with moves (phase, kind and values); its phases follow them."""
    properties, worn = dict(made["properties"]), []
    for number, (phase, kind, values) in enumerate(moves, start=1):
        worn.append({"id": f"move-{number}", "kind": kind, "phase": phase})
        for name, value in values.items():
            properties[f"move.move-{number}.{name}"] = _property(value)
    phases = {phase for phase, *_ in moves}
    return {
        **made, "properties": properties, "moves": worn, "arrive_follows": "arrive" in phases,
        "leave_follows": "leave" in phases,
    }  # fmt: skip


def again(mode: str, keys: list[dict[str, Any]]) -> dict[str, Any]:
    """Keys that repeat for ever."""
    return {
        "keys": [{"id": f"k{i}", **each} for i, each in enumerate(keys)],
        "repeat": {"mode": mode},
    }


def _property(value: Any) -> dict[str, Any]:
    if isinstance(value, dict):
        return value
    if isinstance(value, list) and value and isinstance(value[0], dict):
        keys = [{"id": f"k{index}", **key} for index, key in enumerate(value)]
        return {"keys": keys}
    return {"value": value}


def key(time_s: float, value: Any, easing: str = "ease-in-out", **handles: Any) -> dict[str, Any]:
    """A key."""
    return {"time_s": time_s, "value": value, "easing": easing, **handles}


def stack(scene_id: str, layers: list[dict[str, Any]]) -> Edit:
    """The operation that adds layers to a scene, the lowest first."""
    return {"kind": "add-layers", "scene": scene_id, "layers": layers}


# The house easings of the demo: a quick start that settles long; a soft lift; a leave.
SETTLE = "cubic-bezier(0.16, 1, 0.3, 1)"
OVERSHOOT = "cubic-bezier(0.34, 1.45, 0.5, 1)"
FLIGHT = "cubic-bezier(0.32, 0.12, 0.28, 1)"
LEAVE = "cubic-bezier(0.6, 0, 0.85, 0.2)"
