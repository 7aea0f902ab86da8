"""Operations made at random: from the JSON schema of each, and from working examples changed.

A batch begins with a document for which one kind of operation has an example, goes on with some
operations of any kind, and is then undone to the document that it began with. After every operation
that is accepted the document must load again and be equal. Nothing but a DocumentError may be
raised.
"""

from __future__ import annotations

import copy
import json
import random
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from tests.build import Context
from tests.edits.test_edits import CASES

from young_comet.core.catalog import check_project, specs_of
from young_comet.core.model import Project, load_project
from young_comet.edits import EDIT_KINDS, apply_edit, parse_edit, revert
from young_comet.edits import base as edit_bases
from young_comet.errors import DocumentError

CONTEXT = Context()


def brief(data: Any, most: int) -> str:
    try:
        return repr(data)[:most]
    except RecursionError:
        return "(very deep)"


NUMBERS = (
    0, -0.0, 1, -1, 0.04, 0.5, 1.5, 2.0, 3.96, 4, 100, -100, 1e-9, 1e-320, 25, 359.99, 1e4, 1e6, -1e6, 1e9,
    1e15, 3599.99, 3600, 3600.0131, -3600, 7200, 1e30, 1e248, 1e308, -1e308, 2**53, float("inf"),
    float("nan"),
)  # fmt: skip
TEXTS = (
    "", " ", "Gull", "x" * 200, "x" * 201, "x" * 5000, "\ud800", "\u0000", "\U0001f38f" * 40, "#ff7a45", "#ff7a4580",
    "ink:ember", "ink:gone", "asset:emblem", "M0 0L10 10", "M0 0C1e30 0 1 1 2 2Z", "M" * 900, "hold", "linear",
    "spring(0.4)", "steps(4)", "cubic-bezier(0,1e9,1,-1e9)", "easing:gone", "t * 20", "keyed + sway(10)",
    'of("Kite", "rotation")', "((((1", "../../etc/passwd", "<script>alert(1)</script>", "LUT_3D_SIZE \u00b2",
)  # fmt: skip
KEYED = {
    "layers": "layers", "layer": "layers", "on": "layers", "source": "layers", "other": "layers", "targets": "layers",
    "scene": "scenes", "ink": "inks", "asset": "assets", "easing": "easings", "group": "groups", "mark": "marks",
    "marks": "marks", "property": "properties", "key": "keys", "keys": "keys", "mask": "masks", "masks": "masks",
    "effect": "effects", "effects": "effects", "move": "moves", "moves": "moves", "part": "parts", "slot": "slots",
}  # fmt: skip


@dataclass
class Tally:
    """What a run has found."""

    tried: int = 0
    accepted: Counter[str] = field(default_factory=Counter)
    refused: Counter[str] = field(default_factory=Counter)
    undone: int = 0
    slowest: tuple[float, str] = (0.0, "")
    troubles: list[str] = field(default_factory=list)


class EditFuzz:
    """Makes operations for a document."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)
        self.examples: dict[str, list[tuple[Callable[[], Project], dict[str, Any]]]] = {}
        for make, data in CASES:
            self.examples.setdefault(data["kind"], []).append((make, data))
        self.schemas = {kind: edit.model_json_schema() for kind, edit in EDIT_KINDS.items()}
        self._made: dict[Any, Project] = {}

    def base(self, make: Callable[[], Project]) -> Project:
        if make not in self._made:
            self._made[make] = check_project(make())
        return self._made[make]

    def example(self, kind: str) -> tuple[Project, dict[str, Any]]:
        make, data = self.chance.choice(self.examples[kind])
        return self.base(make), copy.deepcopy(data)

    def next(self, project: Project) -> dict[str, Any]:
        """An operation of any kind for a document."""
        kind = self.chance.choice(list(EDIT_KINDS))
        names = names_in(project)
        if self.chance.random() < 0.45:
            _, data = self.example(kind)
            for _ in range(self.chance.randint(0, 2)):
                self.change(data, names)
            return self.fitted(data, names)
        return self.made(kind, names)

    # Examples changed

    def change(self, data: Any, names: dict[str, list[str]]) -> None:
        """Changes one value anywhere in an operation."""
        places = list(_places(data))
        if not places:
            return
        holder, key = self.chance.choice(places)
        if key == "kind":
            return
        old = holder[key]
        roll = self.chance.random()
        if roll < 0.15 and isinstance(holder, dict):
            del holder[key]
        elif roll < 0.3 and isinstance(old, list) and old:
            holder[key] = self.chance.choice([[], old * 2, old[:1] * 30, old[::-1]])
        elif isinstance(old, bool):
            holder[key] = not old
        elif isinstance(old, int | float):
            holder[key] = self.chance.choice(
                [*NUMBERS, old * 2, -old, old + 0.013, self.chance.uniform(-5, 5)]
            )
        elif isinstance(old, str):
            known = names.get(KEYED.get(str(key), ""), [])
            holder[key] = self.chance.choice([*known, *known, *TEXTS])
        else:
            holder[key] = self.chance.choice(
                [None, 3, "Gull", [], {}, _deep(900), [[1, 2], [3, 4]]]
            )

    def fitted(self, data: dict[str, Any], names: dict[str, list[str]]) -> dict[str, Any]:
        """An example with fresh ids for what is new, and sometimes other layers."""
        if isinstance(data.get("id"), str) and self.chance.random() < 0.8:
            data["id"] = self.fresh()
        if isinstance(data.get("layer"), str) and names["layers"] and self.chance.random() < 0.3:
            data["layer"] = self.chance.choice(names["layers"])
        return data

    def fresh(self) -> str:
        return f"n{self.chance.randrange(10**9)}"

    # From the schema

    def made(self, kind: str, names: dict[str, list[str]]) -> dict[str, Any]:
        schema = self.schemas[kind]
        return self.value(schema, schema.get("$defs", {}), names, kind, 0)

    def value(self, schema: Any, defs: Any, names: Any, name: str, depth: int) -> Any:
        chance = self.chance
        if depth and chance.random() < 0.02:
            return chance.choice([*NUMBERS, *TEXTS, None, [], {}])
        if "$ref" in schema:
            return self.value(defs[schema["$ref"].split("/")[-1]], defs, names, name, depth + 1)
        if "const" in schema:
            return schema["const"]
        if "enum" in schema:
            return chance.choice(schema["enum"])
        if "anyOf" in schema:
            return self.value(chance.choice(schema["anyOf"]), defs, names, name, depth + 1)
        kind = schema.get("type")
        if kind == "object" and "properties" in schema:
            required = schema.get("required", [])
            return {
                key: self.value(inner, defs, names, key, depth + 1)
                for key, inner in schema["properties"].items()
                if key in required or "const" in inner or chance.random() < 0.6
            }
        if kind == "object":
            return {chance.choice([*names["layers"], "x"]): chance.choice(["new1", 1, None])}
        if kind == "array":
            inner = schema.get("items") or (schema.get("prefixItems") or [{}])[0]
            least = schema.get("minItems", 0)
            count = least + chance.choice([0, 0, 1, 2]) if depth < 8 else least
            if "prefixItems" in schema:
                return [self.value(i, defs, names, name, depth + 1) for i in schema["prefixItems"]]
            return [self.value(inner, defs, names, name, depth + 1) for _ in range(count)]
        if kind == "boolean":
            return chance.random() < 0.5
        if kind in ("number", "integer"):
            return self.number(schema, kind)
        if kind == "null":
            return None
        return self.text(schema, names, name)

    def number(self, schema: Any, kind: str) -> float | int:
        low, high = schema.get("minimum", -10), schema.get("maximum", 10)
        if self.chance.random() < 0.25:
            return self.chance.choice([*NUMBERS, low, high])
        value = self.chance.uniform(max(low, -50), min(high, 50)) if low <= high else low
        return round(value) if kind == "integer" else round(value, self.chance.choice([0, 2, 6]))

    def text(self, schema: Any, names: dict[str, list[str]], name: str) -> Any:
        known = names.get(KEYED.get(name, ""), [])
        roll = self.chance.random()
        if known and roll < 0.85:
            return self.chance.choice(known)
        if name == "value" and roll < 0.9:
            return self.chance.choice([50.0, [20.0, 30.0], "#2f9fb3", "Bay", True, 0])
        if name == "id" or schema.get("pattern", "").startswith("^[A-Za-z0-9]"):
            return self.fresh()
        return self.chance.choice(TEXTS)


def names_in(project: Project) -> dict[str, list[str]]:
    """The ids that a document has, by what they are."""
    found: dict[str, list[str]] = {name: [] for name in set(KEYED.values())}
    found["scenes"] = [scene.id for scene in project.scenes]
    for name in ("inks", "assets", "easings"):
        found[name] = [each.id for each in getattr(project, name)]
    for scene in project.scenes[:1]:
        for name in ("layers", "groups", "marks", "slots"):
            found[name] = [each.id for each in getattr(scene, name)]
        for layer in scene.layers:
            found["properties"] += [spec.id for spec in specs_of(layer)][::5] + list(
                layer.properties
            )
            found["keys"] += [key.id for prop in layer.properties.values() for key in prop.keys]
            for name in ("masks", "effects", "moves", "parts"):
                found[name] += [each.id for each in getattr(layer, name)]
    return found


def run(seed: int, count: int, most: int = 6) -> Tally:
    """Tries so many operations in batches; what must not happen is told in ``troubles``."""
    fuzz, tally = EditFuzz(seed), Tally()
    edit_bases.secrets = random.Random(seed)  # new ids too are the same in every run
    kinds = list(EDIT_KINDS)
    while tally.tried < count:
        # What has succeeded least begins the next batch.
        kind = min(kinds, key=lambda each: tally.accepted[each]) if tally.tried % 3 else None
        kind = kind or fuzz.chance.choice(kinds)
        start, first = fuzz.example(kind)
        if fuzz.chance.random() < 0.3:
            fuzz.change(first, names_in(start))
        project, back = start, []
        for data in [first, *(None for _ in range(fuzz.chance.randint(0, most - 1)))]:
            data = data if data is not None else fuzz.next(project)
            changed = _tried(project, data, tally)
            if changed is not None:
                back.append(changed.inverse)
                project = changed.project
        _undo(start, project, back, tally)
    return tally


def _tried(project: Project, data: dict[str, Any], tally: Tally) -> Any:
    tally.tried += 1
    kind = str(data.get("kind"))
    began = time.monotonic()
    try:
        changed = apply_edit(project, parse_edit(data), CONTEXT)
    except DocumentError:
        tally.refused[kind] += 1
        return None
    except Exception as error:
        tally.troubles.append(f"{kind}: {type(error).__name__}: {error} for {brief(data, 500)}")
        return None
    finally:
        took = time.monotonic() - began
        if took > tally.slowest[0]:
            tally.slowest = (took, brief(data, 300))
    tally.accepted[kind] += 1
    try:
        text = changed.project.model_dump_json()
        again = check_project(load_project(json.loads(text)))
    except DocumentError as error:
        tally.troubles.append(
            f"{kind}: saved, but does not load again: {error} for {brief(data, 500)}"
        )
        return changed
    if again != changed.project or again.model_dump_json() != text:
        tally.troubles.append(f"{kind}: loads again as another document for {brief(data, 500)}")
    return changed


def _undo(start: Project, project: Project, back: list[Any], tally: Tally) -> None:
    try:
        for inverse in reversed(back):
            project = revert(project, json.loads(json.dumps(inverse)))
    except Exception as error:
        tally.troubles.append(f"undo: {type(error).__name__}: {error}")
        return
    tally.undone += 1
    if project.model_dump_json() != start.model_dump_json():
        done = [[(step["op"], step["path"]) for step in inverse] for inverse in back]
        tally.troubles.append(f"undo: the document is not what it was for {done!r}")


def _places(data: Any) -> Any:
    """Every (holder, key) of a value in plain data, as far as it is not too deep."""
    waiting = [(data, 0)]
    while waiting:
        holder, depth = waiting.pop()
        for key, value in list(holder.items() if isinstance(holder, dict) else enumerate(holder)):
            yield holder, key
            if isinstance(value, dict | list) and depth < 20:
                waiting.append((value, depth + 1))


def _deep(levels: int) -> Any:
    value: Any = 1
    for _ in range(levels):
        value = [value]
    return value


if __name__ == "__main__":
    import sys

    found = run(int(sys.argv[1]), int(sys.argv[2]))
    print(found.tried, "tried;", sum(found.accepted.values()), "accepted;", found.undone, "undone")
    print("slowest", found.slowest)
    few = {k: found.accepted[k] for k in EDIT_KINDS if found.accepted[k] < 50}
    print("rare:", few)
    seen = Counter(t.split(" for ")[0][:150] for t in found.troubles)
    for trouble, count in seen.most_common(60):
        print(count, trouble)
        print("      ", next(t for t in found.troubles if t.startswith(trouble[:150]))[:500])
