"""The tasks of the tour are done when the document shows it, and not before."""

import copy

import pytest
from tests.page.page import call

MODULE = "editor/tour_tasks.js"


def scene():
    return {"layers": [{"id": "name", "moves": [], "effects": [], "properties": {
        "text": {"value": "Oona", "keys": []}, "position": {"value": [1, 2], "keys": []}}}]}  # fmt: skip


def key(n):
    return {"value": None, "keys": [{"id": str(i), "time_s": i, "value": i} for i in range(n)]}


CHANGES = {
    "write": lambda la: la["properties"].update(text={"value": "Bo", "keys": []}),
    "move": lambda la: la["properties"].update(position={"value": [9, 2], "keys": []}),
    "arrive": lambda la: la["moves"].append({"id": "m", "kind": "lift"}),
    "key": lambda la: la["properties"].update(rotation=key(2)),
    "look": lambda la: la["effects"].append({"id": "e", "kind": "glow"}),
}


@pytest.mark.parametrize("index, id", enumerate(CHANGES))
def test_a_task_is_done_by_its_own_change_alone(index, id):
    assert [each["id"] for each in call(MODULE, "tasks")][index] == id
    before = scene()
    assert not call(MODULE, "isDone", index, before, before)
    for other, change in CHANGES.items():
        now = copy.deepcopy(before)
        change(now["layers"][0])
        assert call(MODULE, "isDone", index, before, now) == (other == id)


def test_one_key_is_no_animation_and_there_is_no_sixth_task():
    now = scene()
    now["layers"][0]["properties"]["rotation"] = key(1)
    assert not call(MODULE, "isDone", 3, scene(), now)
    assert not call(MODULE, "isDone", 5, scene(), now)
