"""Every operation: applied, undone, equal; wrong ones refused without a trace."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import Context, key, layer, project
from tests.edits.arrangements_desk import ARRANGEMENT_EXAMPLES, arranged
from tests.edits.desk import DESK_EXAMPLES, SAVED_EXAMPLES, desk, saved
from tests.edits.links_desk import (
    COPIED_EXAMPLES,
    EXPRESSED_EXAMPLES,
    LINKS_EXAMPLES,
    NESTED_EXAMPLES,
    OWN_EXAMPLES,
    TIED_EXAMPLES,
    copied,
    expressed,
    links,
    nested,
    own_move,
    tied,
)
from tests.edits.looks_desk import LOOKS_EXAMPLES, looks
from tests.edits.sound_desk import SOUND_EXAMPLES, sounding
from tests.edits.transitions_desk import TRANSITION_EXAMPLES, crossing
from tests.edits.type_desk import TYPE_EXAMPLES, lettered

from young_comet.core.model import Asset, Ink
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import EDIT_KINDS, apply_edit, draft, overlap, parse_edit, revert
from young_comet.edits.patch import plain
from young_comet.errors import ConflictError, DocumentError, InUseError, NotFoundError

CONTEXT = Context()
S = {"scene": "reveal"}


def document():
    base = project(
        layer("sky", "backdrop", fill__kind="linear"),
        layer("kite", "shape", shape__size=[80, 60], fill__colour="ink:ember",
              position=[key(0, [50, 90]), key(2, [250, 90])], rotation=10.0),
        layer("name", "text", 0.4, 3.2, text="Gullwing", text__size=40, position=[160, 120]),
        layer("mark", "picture", 1.0, 2.0, picture__asset="emblem"),
    )  # fmt: skip
    asset = Asset(
        id="emblem", name="emblem.png", kind="picture", media_type="image/png", hash="b" * 64,
        size_bytes=9, width=40, height=40,
    )  # fmt: skip
    inks = (Ink(id="ember", name="Ember", colour="#ff7a45"),)
    return base.model_copy(update={"assets": (asset,), "inks": inks})


NEW_SCENE = {"id": "lower", "name": "Lower third", "width": 1280, "height": 720,
             "rate": {"num": 30000, "den": 1001}, "length_s": 5.0}  # fmt: skip
NEW_LAYER = {"id": "fresh", "name": "Fresh", "kind": "shape", "start_s": 0.01, "end_s": 2.0}
NEW_ASSET = {"id": "cloud", "name": "cloud.svg", "kind": "svg", "media_type": "image/svg+xml",
             "hash": "c" * 64, "size_bytes": 5, "width": 9, "height": 9}  # fmt: skip

# One example or more for every kind of operation.
EXAMPLES = [
    {"kind": "rename-project", "name": "Kite Week at night"},
    {"kind": "change-settings", "new_key_easing": "linear"},
    {"kind": "add-inks", "inks": [{"id": "teal", "name": "Teal", "colour": "#2f9fb3"}]},
    {"kind": "change-ink", "ink": "ember", "name": "Glow", "colour": "#ff0000"},
    {"kind": "remove-ink", "ink": "ember"},
    {"kind": "add-asset", "asset": NEW_ASSET},
    {"kind": "rename-asset", "asset": "emblem", "name": "Emblem"},
    {"kind": "replace-asset", "asset": "emblem", "file": NEW_ASSET},
    {"kind": "add-scene", "scene": NEW_SCENE},
    {"kind": "duplicate-scene", "scene": "reveal", "id": "copy"},
    {"kind": "remove-scene", "scene": "reveal"},
    {"kind": "change-scene", **S, "name": "Opening"},
    {"kind": "change-scene", **S, "ground": "#112233"},
    {"kind": "change-scene", **S, "transparent": True},
    {"kind": "change-frame", **S, "width": 180, "height": 320, "rate": {"num": 50},
     "length_s": 6.0, "arrange": "scale-to-fit"},
    {"kind": "add-layers", **S, "layers": [NEW_LAYER], "index": 1},
    {"kind": "remove-layers", **S, "layers": ["kite", "name"]},
    {"kind": "duplicate-layers", **S, "copies": {"kite": "kite2", "name": "name2"}},
    {"kind": "paste-layers", **S, "ids": {"gull": "gull2"}, "at_s": 1.0, "layers": [
        {"id": "gull", "name": "Gull", "kind": "shape", "start_s": 0, "end_s": 2}]},
    {"kind": "order-layers", **S, "layers": ["sky", "name"], "index": 2},
    {"kind": "change-layers", **S, "layers": ["kite"], "name": "Emblem"},
    {"kind": "change-layers", **S, "layers": ["kite", "name"], "hidden": True, "locked": True},
    {"kind": "group-layers", **S, "layers": ["kite", "mark"], "id": "lockup", "name": "Lockup"},
    {"kind": "set-spans", **S, "spans": [{"layer": "kite", "start_s": 1, "end_s": 3}]},
    {"kind": "set-spans", **S, "mode": "trim", "spans": [{"layer": "kite", "start_s": 1, "end_s": 3}]},
    {"kind": "hand-over", **S, "one": "kite", "other": "name", "time_s": 1.52},
    {"kind": "set-matte", **S, "layers": ["kite"], "matte": "name"},
    {"kind": "set-values", **S, "targets": [{"layer": "name", "property": "text", "value": "Bay"}]},
    {"kind": "set-values", **S, "time_s": 1.0,
     "targets": [{"layer": "kite", "property": "position", "value": [9, 9]}]},
    {"kind": "reset-properties", **S, "targets": [{"layer": "kite", "property": "position"}]},
    {"kind": "set-keys", **S, "time_s": 1.0, "targets": [
        {"layer": "kite", "property": "position"}, {"layer": "name", "property": "opacity"}]},
    {"kind": "remove-keys", **S, "keys": [{"layer": "kite", "property": "position", "key": "k0"}]},
    {"kind": "clear-keys", **S, "time_s": 1.0, "targets": [{"layer": "kite", "property": "position"}]},
    {"kind": "move-keys", **S, "moves": [
        {"layer": "kite", "property": "position", "key": "k0", "time_s": 0.5, "value": [1, 2]}]},
    {"kind": "ease-keys", **S, "easing": "hold",
     "keys": [{"layer": "kite", "property": "position", "key": "k0"}]},
    {"kind": "align-layers", **S, "layers": ["kite", "name"], "edge": "left", "time_s": 0},
    {"kind": "move-layers", **S, "layers": ["kite", "name"], "by": [12, -4], "time_s": 1},
    {"kind": "scale-layers", **S, "layers": ["kite"], "factor": [2, 0.5], "about": [30, 40], "time_s": 1},
    {"kind": "turn-layers", **S, "layers": ["kite", "name"], "by_deg": 33, "time_s": 1},
    {"kind": "drag-box", **S, "layers": ["kite"], "handle": [1, 1], "to": [200, 160], "time_s": 1},
    {"kind": "distribute-layers", **S, "layers": ["kite", "name", "mark"], "axis": "x", "time_s": 1},
    {"kind": "move-pivot", **S, "layer": "kite", "pivot": [40, 30], "time_s": 0},
    {"kind": "together", "title": "Two things", "edits": [
        {"kind": "rename-project", "name": "A"}, {"kind": "change-scene", **S, "name": "B"}]},
]  # fmt: skip
GROUPED = [
    {"kind": "ungroup", **S, "group": "lockup"},
    {"kind": "rename-group", **S, "group": "lockup", "name": "Emblem and mark"},
]


def applied(base, data):
    return apply_edit(base, parse_edit(data), CONTEXT)


def grouped():
    data = {"kind": "group-layers", **S, "layers": ["kite", "mark"], "id": "lockup"}
    return applied(document(), data).project


EXAMPLES += [
    {"kind": "change-settings", "new_layers": "start"},
    {"kind": "set-tags", "tags": ["race day", "Titles", "titles"]},
    {"kind": "set-tags", **S, "tags": ["titles"]},
]
CASES = [(document, data) for data in EXAMPLES] + [(grouped, data) for data in GROUPED]
CASES += [(crossing, data) for data in TRANSITION_EXAMPLES]
CASES += [(arranged, data) for data in ARRANGEMENT_EXAMPLES]
CASES += [(desk, data) for data in DESK_EXAMPLES]
CASES += [(saved, data) for data in SAVED_EXAMPLES]
CASES += [(looks, data) for data in LOOKS_EXAMPLES]
CASES += [(links, data) for data in LINKS_EXAMPLES]
CASES += [(expressed, data) for data in EXPRESSED_EXAMPLES]
CASES += [(tied, data) for data in TIED_EXAMPLES]
CASES += [(copied, data) for data in COPIED_EXAMPLES]
CASES += [(own_move, data) for data in OWN_EXAMPLES]
CASES += [(nested, data) for data in NESTED_EXAMPLES]
CASES += [(sounding, data) for data in SOUND_EXAMPLES]
CASES += [(lettered, data) for data in TYPE_EXAMPLES]
CASES.append(
    (lambda: applied(document(), EXAMPLES[5]).project, {"kind": "remove-asset", "asset": "cloud"})
)


@pytest.mark.parametrize(("make", "data"), CASES, ids=[data["kind"] for _, data in CASES])
def test_undo_and_redo_give_back_equal_documents(make, data):
    before = make()
    snapshot = plain(before)
    result = applied(before, data)
    assert plain(before) == snapshot, "the old document was changed"
    assert plain(result.project) != snapshot, "the operation did nothing"
    assert plain(revert(before, result.forward)) == plain(result.project)
    assert plain(revert(result.project, result.inverse)) == snapshot
    assert result.label and result.touches


def test_every_kind_of_operation_has_an_example():
    assert {data["kind"] for _, data in CASES} == set(EDIT_KINDS)


@pytest.mark.parametrize(("make", "data"), CASES, ids=[data["kind"] for _, data in CASES])
def test_operations_read_back_from_their_json(make, data):
    edit = parse_edit(data)
    assert parse_edit(edit.model_dump(mode="json")) == edit


WRONG = [
    ({"kind": "make-tea"}, DocumentError, "edit kind"),
    ({"name": "x"}, DocumentError, "edit kind"),
    ([], DocumentError, "edit"),
    ({"kind": "rename-project", "name": ""}, DocumentError, "name"),
    ({"kind": "set-tags", "tags": ["a, b"]}, DocumentError, "tags"),
    ({"kind": "set-tags", "tags": [" "]}, DocumentError, "tags"),
    ({"kind": "set-tags", "tags": [f"t{i}" for i in range(13)]}, DocumentError, "tags"),
    ({"kind": "set-tags", "scene": "zz", "tags": []}, NotFoundError, "zz"),
    ({"kind": "rename-project", "name": "x", "extra": 1}, DocumentError, "extra"),
    ({"kind": "remove-scene", "scene": "nowhere"}, NotFoundError, "nowhere"),
    ({"kind": "remove-layers", **S, "layers": ["ghost"]}, NotFoundError, "ghost"),
    ({"kind": "remove-asset", "asset": "emblem"}, InUseError, "Mark in Reveal"),
    ({"kind": "set-values", **S, "targets": [{"layer": "kite", "property": "opacity", "value": 101}]},
     DocumentError, "Opacity"),
    ({"kind": "set-values", **S, "targets": [
        {"layer": "kite", "property": "rotation", "value": float("nan")}]}, DocumentError, "finite"),
    ({"kind": "set-values", **S, "targets": [{"layer": "kite", "property": "wind", "value": 1}]},
     DocumentError, "wind"),
    ({"kind": "set-values", **S, "targets": [{"layer": "kite", "property": "position", "value": [1, 1]}]},
     DocumentError, "time"),
    ({"kind": "set-keys", **S, "time_s": 0, "targets": [{"layer": "name", "property": "text.font"}]},
     DocumentError, "cannot have keys"),
    ({"kind": "ease-keys", **S, "easing": "swoosh",
      "keys": [{"layer": "kite", "property": "position", "key": "k0"}]}, DocumentError, "easing"),
    ({"kind": "move-keys", **S, "moves": [
        {"layer": "kite", "property": "position", "key": "zz", "time_s": 1}]}, NotFoundError, "zz"),
    ({"kind": "add-layers", **S, "layers": [{**NEW_LAYER, "id": "kite"}]}, DocumentError, "kite"),
    ({"kind": "add-layers", **S, "layers": [{**NEW_LAYER, "kind": "kite"}]}, DocumentError, "kind"),
    ({"kind": "add-layers", **S, "layers": [{**NEW_LAYER, "id": "../etc"}]}, DocumentError, "id"),
    ({"kind": "hand-over", **S, "one": "kite", "other": "kite", "time_s": 1}, DocumentError, "itself"),
    ({"kind": "set-matte", **S, "layers": ["kite"], "matte": "kite"}, DocumentError, "through itself"),
    ({"kind": "set-matte", **S, "layers": ["kite"], "matte": "name", "number": 3}, DocumentError, "so far"),
    ({"kind": "set-matte", **S, "layers": ["kite"], "matte": "nobody"}, NotFoundError, "nobody"),
    ({"kind": "hand-over", **S, "one": "kite", "other": "name", "time_s": 0}, DocumentError, "nothing left"),
    ({"kind": "hand-over", **S, "one": "kite", "other": "name", "time_s": 900}, DocumentError, "nothing left"),
    ({"kind": "set-spans", **S, "spans": [{"layer": "kite", "start_s": 3, "end_s": 1}]},
     DocumentError, "end must come after"),
    ({"kind": "change-frame", **S, "width": 8, "height": 10000, "rate": {"num": 25}, "length_s": 1},
     DocumentError, "width"),
    ({"kind": "move-pivot", **S, "layer": "sky", "pivot": [0, 0], "time_s": 0}, DocumentError, "pivot"),
    ({"kind": "together", "title": "x", "edits": [
        {"kind": "rename-project", "name": "A"}, {"kind": "remove-scene", "scene": "zz"}]},
     NotFoundError, "zz"),
]  # fmt: skip


@pytest.mark.parametrize(("data", "error", "text"), WRONG)
def test_a_failed_operation_changes_nothing_and_names_the_field(data, error, text):
    before = document()
    snapshot = plain(before)
    with pytest.raises(error, match=text):
        applied(before, data)
    assert plain(before) == snapshot


def property_of(base, layer_id, name):
    return next(la for la in base.scenes[0].layers if la.id == layer_id).properties[name]


def at(base, layer_id, name, time_s):
    evaluator = SceneEvaluator(base, "reveal")
    found = next(la for la in evaluator.scene.layers if la.id == layer_id)
    return evaluator.values(found, time_s)(name)


def test_a_value_at_the_playhead_of_an_animated_property_sets_a_key():
    data = {"kind": "set-values", **S, "time_s": 1.0,
            "targets": [{"layer": "kite", "property": "position", "value": [150, 20]}]}  # fmt: skip
    once = applied(document(), data).project
    assert [k.time_s for k in property_of(once, "kite", "position").keys] == [0, 1, 2]
    data["targets"][0]["value"] = [150, 30]
    twice = applied(once, {**data, "time_s": 1.01}).project  # the same frame: the same key
    keys = property_of(twice, "kite", "position").keys
    assert [k.time_s for k in keys] == [0, 1, 2] and keys[1].value == (150, 30)
    assert keys[1].easing == "ease-in-out"


def test_setting_a_key_does_not_change_the_value_there():
    before = document()
    data = {"kind": "set-keys", **S, "time_s": 0.52,
            "targets": [{"layer": "kite", "property": "position"}]}  # fmt: skip
    after = applied(before, data).project
    assert at(after, "kite", "position", 0.52) == pytest.approx(
        at(before, "kite", "position", 0.52)
    )


def test_the_last_key_that_goes_leaves_its_value():
    data = {"kind": "remove-keys", **S, "keys": [
        {"layer": "kite", "property": "position", "key": k} for k in ("k0", "k2000")]}  # fmt: skip
    prop = property_of(applied(document(), data).project, "kite", "position")
    assert prop.keys == () and prop.value == (250, 90)


def test_trimming_keeps_keys_where_they_are_and_sliding_takes_them_along():
    span = {"layer": "kite", "start_s": 1, "end_s": 4}
    for mode, moment in (("trim", 1.5), ("slide", 2.5)):
        data = {"kind": "set-spans", **S, "mode": mode, "spans": [span]}
        after = applied(document(), data).project
        assert at(after, "kite", "position", moment) == pytest.approx((200, 90))


def test_spans_and_moved_keys_snap_to_frames():
    data = {
        "kind": "set-spans",
        **S,
        "spans": [{"layer": "name", "start_s": 0.413, "end_s": 0.414}],
    }
    name = applied(document(), data).project.scenes[0].layers[2]
    assert (name.start_s, name.end_s) == pytest.approx((0.4, 0.44))
    move = {"layer": "kite", "property": "position", "key": "k0", "time_s": 0.513}
    moved = applied(document(), {"kind": "move-keys", **S, "moves": [move]}).project
    assert property_of(moved, "kite", "position").keys[0].time_s == pytest.approx(0.52)


def test_a_key_that_lands_on_another_replaces_it():
    move = {"layer": "kite", "property": "position", "key": "k0", "time_s": 2.0}
    keys = property_of(applied(document(), {"kind": "move-keys", **S, "moves": [move]}).project,
                       "kite", "position").keys  # fmt: skip
    assert [(k.id, k.value) for k in keys] == [("k0", (50, 90))]


@pytest.mark.parametrize(
    ("edge", "expected"),
    [("left", (40, 120)), ("centre", (160, 120)), ("right", (280, 120)),
     ("top", (60, 30)), ("middle", (60, 90)), ("bottom", (60, 150))],
)  # fmt: skip
def test_align_to_the_frame(edge, expected):
    base = project(layer("box", "shape", shape__size=[80, 60], position=[60, 120]))
    data = {"kind": "align-layers", **S, "layers": ["box"], "edge": edge, "time_s": 0}
    after = applied(base, data).project if edge else base
    assert at(after, "box", "position", 0) == pytest.approx(expected)


def test_distribute_makes_equal_gaps():
    boxes = [layer(f"b{i}", "shape", shape__size=[20 + 20 * i, 10], position=[x, 50])
             for i, x in enumerate((20, 70, 250))]  # fmt: skip
    data = {
        "kind": "distribute-layers",
        **S,
        "layers": ["b0", "b1", "b2"],
        "axis": "x",
        "time_s": 0,
    }
    after = applied(project(*boxes), data).project
    x = [at(after, f"b{i}", "position", 0)[0] for i in range(3)]
    gaps = [(x[1] - 20) - (x[0] + 10), (x[2] - 30) - (x[1] + 20)]
    assert gaps[0] == pytest.approx(gaps[1])
    assert (x[0], x[2]) == pytest.approx((20, 250))


@given(st.floats(-100, 100), st.floats(-100, 100), st.floats(-360, 360), st.floats(10, 300))
def test_a_moved_pivot_leaves_the_picture_where_it_is(px, py, rotation, scale):
    base = project(
        layer("box", "shape", rotation=rotation, scale=[scale, scale],
              position=[key(0, [50, 90]), key(2, [250, 90])])
    )  # fmt: skip
    data = {"kind": "move-pivot", **S, "layer": "box", "pivot": [px, py], "time_s": 0.0}
    after = applied(base, data).project
    for time_s in (0.0, 1.0, 2.0):
        corners = []
        for state in (base, after):
            evaluator = SceneEvaluator(state, "reveal")
            matrix = evaluator.layer(evaluator.scene.layers[0], time_s).matrix
            corners.append(matrix((30.0, -20.0)))
        assert corners[0] == pytest.approx(corners[1], abs=1e-3)


def test_a_removed_ink_leaves_its_colour_behind():
    after = applied(document(), {"kind": "remove-ink", "ink": "ember"}).project
    assert property_of(after, "kite", "fill.colour").value == "#ff7a45"


@pytest.mark.parametrize(
    ("arrange", "position", "scale"),
    [("keep-centred", (280, 300), None), ("keep-top-left", (120, 120), None),
     ("scale-to-fit", (240, 240), (200, 200)), ("scale-to-fill", (200, 420), None)],
)  # fmt: skip
def test_layers_go_where_the_new_frame_asks(arrange, position, scale):
    base = project(layer("box", "shape", position=[120, 120]))
    size = (640, 360) if arrange == "scale-to-fit" else (640, 540)
    data = {"kind": "change-frame", **S, "width": size[0], "height": size[1], "rate": {"num": 25},
            "length_s": 4.0, "arrange": arrange}  # fmt: skip
    after = applied(base, data).project
    if arrange != "scale-to-fill":
        assert at(after, "box", "position", 0) == pytest.approx(position)
    else:
        assert at(after, "box", "position", 0) == pytest.approx((320 - 40 * 3, 270 + 30 * 3))
    if scale:
        assert at(after, "box", "scale", 0) == pytest.approx(scale)


def test_a_new_rate_keeps_seconds_and_the_length_follows_the_frames():
    data = {"kind": "change-frame", **S, "width": 320, "height": 180, "rate": {"num": 30000, "den": 1001},
            "length_s": 5.0}  # fmt: skip
    scene = applied(document(), data).project.scenes[0]
    assert scene.length_s == pytest.approx(150 * 1001 / 30000)
    assert [
        k.time_s for k in property_of(applied(document(), data).project, "kite", "position").keys
    ] == [0, 2]
    ends = {la.id: la.end_s for la in scene.layers}
    assert ends["sky"] == pytest.approx(scene.length_s), "what ended with the scene still does"
    assert ends["mark"] == pytest.approx(2.0, abs=0.02)


def test_groups_lie_together_and_empty_ones_go():
    whole = grouped()
    ids = [la.id for la in whole.scenes[0].layers]
    assert abs(ids.index("kite") - ids.index("mark")) == 1
    empty = applied(whole, {"kind": "remove-layers", **S, "layers": ["kite", "mark"]}).project
    assert empty.scenes[0].groups == ()


def test_drafts_are_shown_and_not_kept():
    base = document()
    edit = parse_edit({"kind": "change-scene", **S, "name": "Try"})
    assert draft(base, [edit], CONTEXT).scenes[0].name == "Try"
    assert base.scenes[0].name == "Reveal"


def test_paths_overlap_when_one_contains_the_other():
    assert overlap(["scenes/a/layers/b/name"], ["scenes/a"])
    assert overlap(["scenes/a"], ["scenes/a/layers/b"])
    assert overlap(["scenes/a/layers/b"], ["scenes/a/layers/bb"]) is None


def test_a_patch_that_does_not_fit_is_refused():
    with pytest.raises(DocumentError, match="history"):
        revert(document(), [{"op": "remove", "path": "/scenes/7"}])
    assert issubclass(ConflictError, DocumentError)


EDITS = st.lists(
    st.sampled_from([data for data in EXAMPLES if data["kind"] != "remove-scene"]), max_size=6
)


@given(EDITS)
def test_any_sequence_can_be_taken_back_whole(sequence):
    state = document()
    snapshot = plain(state)
    undo = []
    for data in sequence:
        try:
            result = applied(state, data)
        except DocumentError:
            continue
        undo.append(result.inverse)
        state = result.project
    for inverse in reversed(undo):
        state = revert(state, inverse)
    assert plain(state) == snapshot


def test_distribute_takes_groups_and_riders_as_one():
    """A group of two and a panel with its rider each count as one: gaps between them are equal and
    nothing within them moves."""
    from young_comet.core.model import Group

    def dot(name, x, size=20, **more):
        made = layer(name, "shape", shape__size=[size, size], position=[x, 50])
        return made.model_copy(update=more)

    base = project(
        dot("a", 30), dot("g1", 70, group="pair"), dot("g2", 100, group="pair"),
        dot("panel", 190, 40), dot("rider", 25, 30, rides="panel"), dot("z", 300),
        groups=(Group(id="pair", name="Pair"),),
    )  # fmt: skip
    names = ["a", "g1", "g2", "panel", "rider", "z"]
    data = {
        "kind": "distribute-layers",
        **S,
        "layers": names,
        "axis": "x",
        "as_one": True,
        "time_s": 0,
    }
    after = applied(base, data).project
    spans = {}
    for name in names:
        left, _, right, _ = CONTEXT.bounds(after, "reveal", name, 0.0)
        spans[name] = (left, right)
    units = [
        spans["a"],
        (spans["g1"][0], spans["g2"][1]),
        (spans["panel"][0], spans["rider"][1]),
        spans["z"],
    ]
    gaps = [b[0] - a[1] for a, b in pairwise(units)]
    assert gaps == pytest.approx([gaps[0]] * 3)
    assert spans["g2"][0] - spans["g1"][0] == pytest.approx(30)
    assert at(after, "rider", "position", 0) == pytest.approx((25, 50))
    assert (spans["a"][0], spans["z"][1]) == pytest.approx((20, 310))
    one = {**data, "layers": ["g1", "g2", "panel"]}
    with pytest.raises(DocumentError, match="three or more that count as one"):
        applied(base, one)
