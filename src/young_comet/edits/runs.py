"""What becomes of the runs of a text when it is written in, or a stretch of it is styled."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..core.catalog import RUNS
from ..core.model import Layer, Property, Run
from .base import new_id

Own = dict[str, Property]
Styled = tuple[int, int, Own]
"""Characters from the first until before the last, with the properties of their run."""


def styled_of(layer: Layer) -> list[Styled]:
    """The runs of a layer with their properties by plain names, in the order of the text. One that
    is switched off stays as it is (``with_styled``)."""
    runs = sorted((run for run in layer.runs if run.on), key=lambda run: run.first)
    return [(run.first, run.last, RUNS.own(layer, run.id)) for run in runs]


def with_styled(layer: Layer, styled: Sequence[Styled]) -> Layer:
    """The layer with these runs. Neighbours that are alike are one; a stretch without properties is
    none. A run that is still there keeps its id, by which its lanes and keys are known."""
    whole: list[Styled] = []
    for first, last, own in sorted(styled, key=lambda each: each[0]):
        if first >= last or not own:
            continue
        if whole and whole[-1][1] == first and whole[-1][2] == own:
            whole[-1] = (whole[-1][0], last, own)
        else:
            whole.append((first, last, own))
    before = [(run, RUNS.own(layer, run.id)) for run in layer.runs if run.on]
    properties = {
        name: prop for name, prop in layer.properties.items() if not _belongs(name, before)
    }
    runs = [run for run in layer.runs if not run.on]
    for first, last, own in whole:
        kept = next((each for each in before if each[1] == own), None)
        if kept is None:
            kept = next((e for e in before if e[0].first < last and first < e[0].last), None)
        if kept is not None:
            before.remove(kept)
        run_id = kept[0].id if kept is not None else new_id()
        runs.append(Run(id=run_id, first=first, last=last))
        properties |= {RUNS.prefix(run_id) + name: prop for name, prop in own.items()}
    runs.sort(key=lambda run: run.first)
    return layer.model_copy(update={"runs": tuple(runs), "properties": properties})


def _belongs(name: str, runs: Sequence[tuple[Run, Own]]) -> bool:
    return any(name.startswith(RUNS.prefix(run.id)) for run, _ in runs)


def _spread(styled: Sequence[Styled], length: int) -> list[Own]:
    """The properties of each character's run."""
    worn: list[Own] = [{}] * length
    for first, last, own in styled:
        here = slice(first, min(last, length))
        worn[here] = [own] * len(worn[here])
    return worn


def _gathered(worn: Sequence[Own]) -> list[Styled]:
    found: list[Styled] = []
    for index, own in enumerate(worn):
        if found and found[-1][1] == index and (found[-1][2] is own or found[-1][2] == own):
            found[-1] = (found[-1][0], index + 1, own)
        elif own:
            found.append((index, index + 1, own))
    return found


def replaced(
    styled: Sequence[Styled], first: int, last: int, count: int, length: int
) -> list[Styled]:
    """The runs of a text of some length after its characters from ``first`` until before ``last``
    have given way to ``count`` others. New ones are as the first that they replace, or, where none
    are replaced, as what is before them, at the text's begin as what follows."""
    worn = _spread(styled, length)
    like = first if last > first or first == 0 else first - 1
    own = worn[like] if like < length else {}
    worn[first:last] = [own] * count
    return _gathered(worn)


def with_stretch(
    styled: Sequence[Styled],
    first: int,
    last: int,
    changes: Mapping[str, Property | None],
    length: int,
) -> list[Styled]:
    """The runs of a text of some length after a stretch of it got other properties; None takes one
    away."""
    worn = _spread(styled, length)
    known: dict[int, Own] = {}
    for index in range(max(0, first), min(last, length)):
        own = worn[index]
        if id(own) not in known:
            new = {**own, **changes}
            known[id(own)] = {name: prop for name, prop in new.items() if prop is not None}
        worn[index] = known[id(own)]
    return _gathered(worn)


def with_styles(
    styled: Sequence[Styled], first: int, given: Sequence[Styled], length: int
) -> list[Styled]:
    """The runs of a text of some length with others laid over them, which count from ``first``."""
    worn = _spread(styled, length)
    for a, b, own in given:
        here = slice(first + a, min(first + b, length))
        worn[here] = [own] * len(worn[here])
    return _gathered(worn)


def stretch_between(before: str, after: str) -> tuple[int, int, str]:
    """The shortest stretch (first, before last, in its place) that makes one text of another."""
    most = min(len(before), len(after))
    head = 0
    while head < most and before[head] == after[head]:
        head += 1
    tail = 0
    while tail < most - head and before[-1 - tail] == after[-1 - tail]:
        tail += 1
    return head, len(before) - tail, after[head : len(after) - tail]
