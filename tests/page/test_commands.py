"""The editor's commands as data: their keys, what they need, the README's table."""

import importlib.util
from pathlib import Path

import pytest
from tests.page.page import call, call_all

from young_comet.core.catalog import LAYER_KINDS

MODULE = "editor/commands/index.js"
COMBOS = "editor/commands/combos.js"
ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture(scope="module")
def groups():
    return call(MODULE, "described")


@pytest.fixture(scope="module")
def commands(groups):
    return [each for group in groups if group["id"] != "pointer" for each in group["commands"]]


def test_every_command_has_a_name_of_its_own(groups, commands):
    names = [each["id"] for each in commands]
    assert len(names) == len(set(names)) > 100
    labels = [each["label"] for each in commands]
    assert len(labels) == len(set(labels)) and all(labels)
    assert len({group["label"] for group in groups}) == len(groups)


# What a keyboard tells for keys as they are shown, by the UI Events standard's names of keys.
KEYS = {"Left": "ArrowLeft", "Right": "ArrowRight", "Up": "ArrowUp", "Down": "ArrowDown"}


def event_of(keys: str) -> dict:
    *held, key = keys.split("+")
    key = KEYS.get(key, " " if key == "Space" else key)
    if len(key) == 1 and "Shift" not in held:
        key = key.lower()
    return {"key": key, **{f"{name.lower()}Key": name in held for name in ("Ctrl", "Alt", "Shift")}}


def test_no_two_commands_have_the_same_keys(commands):
    shown = [keys for each in commands for keys in [each["keys"], *each["also"]] if keys]
    asked = [(COMBOS, "comboOfKeys", [keys]) for keys in shown]
    combos = [each["value"] for each in call_all(*asked)]
    assert len(combos) == len(set(combos)) > 55
    pressed = [(COMBOS, "comboOfEvent", [event_of(keys)]) for keys in shown]
    assert combos == [each["value"] for each in call_all(*pressed)]


def test_a_command_key_counts_as_control():
    assert call(COMBOS, "comboOfEvent", {"key": "K", "metaKey": True}) == "Ctrl+k"
    assert call(COMBOS, "comboOfEvent", {"key": "?", "shiftKey": True}) == "?"


def layer(kind="shape", **more):
    return {
        "id": more.get("name", kind), "kind": kind, "locked": False, "rides": None, "group": None,
        "start_s": 0, "end_s": 4, "properties": {}, "effects": [], **more,
    }  # fmt: skip


def editor(*layers, keys=0, point=None, undo=None):
    return {
        "selected": {"size": len(layers)}, "selectedLayers": list(layers), "keys": {"size": keys},
        "mode": {"property": point}, "undoLabel": undo, "redoLabel": None, "time": 2,
        "kinds": {kind: {"placed": kind != "backdrop"} for kind in ("shape", "backdrop", "clip", "scene", "text")},
    }  # fmt: skip


KEYED = {"position": {"keys": [{"id": "k"}]}}
NOTHING = "Select a layer first."


@pytest.mark.parametrize(
    ("command", "there", "why"),
    [
        ("group", editor(), NOTHING),
        ("group", editor(layer()), ""),
        ("copy", editor(), "Select a layer or keys first."),
        ("copy", editor(keys=1), ""),
        ("cut", editor(layer(locked=True)), "These layers are locked."),
        ("ride", editor(layer("backdrop")), "Select a layer with a place first."),
        ("ride-off", editor(layer()), "Nothing selected rides on anything."),
        ("ride-off", editor(layer(rides="x")), ""),
        ("keys-reverse", editor(layer()), "Choose some keys in the timeline first."),
        ("keys-reverse", editor(layer(), keys=2), ""),
        ("set-keys", editor(layer()), "Nothing selected is animated yet: click the dot beside a field to set its first key."),
        ("set-keys", editor(layer(properties=KEYED)), ""),
        ("split", editor(layer(start_s=2)), "None of these layers is on at the playhead."),
        ("split", editor(layer()), ""),
        ("freeze", editor(layer()), "Select a clip or a placed scene first."),
        ("freeze", editor(layer("clip")), ""),
        ("freeze", editor(layer("scene")), ""),
        ("fit-speed", editor(layer("scene", locked=True)), "Select a clip, a sound or a placed scene first."),
        ("unite", editor(layer()), "Select two or more shapes or texts."),
        ("unite", editor(layer(), layer("text")), ""),
        ("unite", editor(layer(), layer("text", locked=True)), "Select two or more shapes or texts."),
        ("outline", editor(layer("clip")), "Select a shape or a text."),
        ("points-smooth", editor(layer()), "First edit the points of a path: Looks tab, or the Path field."),
        ("points-smooth", editor(layer(), point="shape.path"), ""),
        ("copy-looks", editor(layer()), "This layer has no effects."),
        ("copy-looks", editor(layer(effects=[{"id": "e"}])), ""),
        ("ungroup", editor(layer()), "Nothing selected is in a group."),
        ("unwrap", editor(layer()), "Select a placed scene first."),
        ("unwrap", editor(layer("scene")), ""),
        ("undo", editor(), "There is nothing to undo."),
        ("undo", editor(undo="Move"), ""),
        ("redo", editor(), "There is nothing to redo."),
        ("play", editor(), ""),
    ],
)  # fmt: skip
def test_a_command_says_why_it_cannot_be_done(command, there, why):
    assert call(MODULE, "whyNotNow", command, there) == why


def test_every_need_is_known_and_nothing_but_needs_stops_a_command(commands):
    asked = [(MODULE, "whyNotNow", [each["id"], editor()]) for each in commands]
    for each, found in zip(commands, call_all(*asked), strict=True):
        assert "error" not in found, (each["id"], found)
        assert bool(found["value"]) == bool(each["needs"]), each["id"]


MENUS = "editor/commands/menus.js"


@pytest.mark.parametrize("grouped", [False, True])
@pytest.mark.parametrize("kind", LAYER_KINDS)
def test_a_layer_of_every_kind_has_a_short_menu_of_commands_that_there_are(commands, kind, grouped):
    known = {each["id"] for each in commands}
    found = call(MENUS, "menuOfKind", kind, grouped, LAYER_KINDS[kind].placed)
    named = [each for each in found if each != "-"]
    assert set(named) <= known and len(named) == len(set(named))
    assert 10 <= len(named) <= 15 and found[-1] == "delete"
    assert ("ungroup" in named) == grouped and ("ride" in named) == LAYER_KINDS[kind].placed


def test_menus_of_other_things_name_commands_that_there_are(commands):
    known = {each["id"] for each in commands}
    for thing in ("none", "several", "key", "start", "end", "points"):
        ids = call(MENUS, "menuOf", thing)
        assert {each for each in ids if each != "-"} <= known and 4 <= len(ids) <= 15


def test_the_readme_has_the_keys_of_the_editor(commands):
    spec = importlib.util.spec_from_file_location("keys", ROOT / "tools" / "keys.py")
    keys = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(keys)
    readme = (ROOT / "README.md").read_text()
    assert keys.written(readme) == readme, "run tools/keys.py"
    for each in commands:
        if each["keys"]:
            assert f"| {each['label']} |" in readme and f"`{each['keys']}`" in readme
