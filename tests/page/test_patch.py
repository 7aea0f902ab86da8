"""The page's copy of a document follows patches as RFC 6902 says: held against the jsonpatch library
and against the patches that edits really make."""

import copy
import random

import jsonpatch
import pytest
from tests.edits.test_edits import CASES, applied
from tests.page.page import call_all

from young_comet.edits.patch import plain

MODULE = "editor/patch.js"


def test_the_patches_of_all_operations_lead_there_and_back():
    steps, calls = [], []
    for base, data in CASES:
        before = base()
        done = applied(before, data)
        there = plain(done.project)
        steps.append((data["kind"], plain(before), there))
        calls.append((MODULE, "applyPatch", [plain(before), done.forward]))
        calls.append((MODULE, "applyPatch", [there, done.inverse]))
    results = call_all(*calls)
    for number, (kind, before, there) in enumerate(steps):
        assert results[2 * number]["args"][0] == there, kind
        assert results[2 * number + 1]["args"][0] == before, kind


def _some(chance, depth=0):
    kind = chance.choice("nnsld" if depth < 3 else "ns")
    if kind == "n":
        return chance.randint(-9, 9)
    if kind == "s":
        return chance.choice(["", "kite", "a/b", "m~n", "é"])
    if kind == "l":
        return [_some(chance, depth + 1) for _ in range(chance.randint(0, 4))]
    return {chance.choice(["a", "b/c", "d~e", "", "f"]): _some(chance, depth + 1) for _ in range(3)}


def test_patches_of_any_data_are_what_the_library_makes_of_them():
    chance = random.Random(7)
    cases, calls = [], []
    while len(cases) < 300:
        old = {"root": _some(chance)}
        new = copy.deepcopy(old)
        new["root"] = _some(chance) if chance.random() < 0.5 else new["root"]
        new[chance.choice(["x", "y/z"])] = _some(chance)
        patch = jsonpatch.make_patch(old, new).patch
        if any(step["op"] not in ("add", "remove", "replace", "move") for step in patch):
            continue
        cases.append(new)
        calls.append((MODULE, "applyPatch", [old, patch]))
    for wanted, found in zip(cases, call_all(*calls), strict=True):
        assert found["args"][0] == wanted


@pytest.mark.parametrize("op", ["copy", "test", "weather"])
def test_a_step_that_the_server_never_sends_is_an_error(op):
    (found,) = call_all((MODULE, "applyPatch", [{"a": 1}, [{"op": op, "path": "/a"}]]))
    assert op in found["error"]
