"""What is saved loads again; what does not is shown, told and mended."""

import json
import random

import jsonpatch
import pytest
from tests.build import Context, key, layer, project
from tests.edits.test_edits import CASES
from tests.hostile.edit_fuzz import EditFuzz, names_in, run

from young_comet.core.catalog import check_project
from young_comet.core.catalog.mending import mend_project
from young_comet.core.model import SCHEMA_VERSION, load_project
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.patch import diff, plain
from young_comet.edits.patched import patched
from young_comet.errors import DocumentError
from young_comet.store import Workspace
from young_comet.store.tables import EditRow, ProjectRow

CONTEXT = Context()
S = {"scene": "reveal"}


def applied(base, *edits):
    for data in edits:
        base = apply_edit(base, parse_edit(data), CONTEXT).project
    return base


def loads_again(document):
    text = document.model_dump_json()
    assert check_project(load_project(json.loads(text))).model_dump_json() == text
    return document


def kite():
    return project(
        layer("kite", "shape", position=[key(0, [50, 90]), key(2, [250, 90])]),
        layer("name", "text", text="Bay"),
    )


def test_operations_at_random_load_again_and_are_undone_to_equal_bytes():
    tally = run(11, 2500)
    assert tally.troubles == []
    assert tally.undone > 500 and min(tally.accepted[kind] for kind in EditFuzz(1).examples) >= 3
    assert tally.slowest[0] < 8


# What made projects unopenable


def test_an_hour_at_a_rate_that_does_not_fit_ends_within_the_hour():
    frame = {
        "kind": "change-frame",
        **S,
        "width": 320,
        "height": 180,
        "rate": {"num": 24000, "den": 1001},
        "length_s": 3600.0,
    }
    document = loads_again(applied(kite(), frame))
    assert 3599.9 < document.scenes[0].length_s <= 3600
    new = {
        "kind": "add-scene",
        "scene": {
            "id": "long",
            "name": "Long",
            "width": 320,
            "height": 180,
            "rate": {"num": 24000, "den": 1001},
            "length_s": 3600.0,
        },
    }
    loads_again(applied(kite(), new))


def test_a_scene_with_the_longest_name_is_duplicated_under_one_that_fits():
    document = applied(
        kite(),
        {"kind": "change-scene", **S, "name": "x" * 200},
        {"kind": "duplicate-scene", **S, "id": "two"},
    )
    assert loads_again(document).scenes[1].name.endswith("x copy")


@pytest.mark.parametrize(
    "data",
    [
        {"kind": "slip-layers", **S, "layers": ["kite"], "by_s": 3599.0},
        {"kind": "paste-keys", **S, "time_s": 3599.0, "tracks": [
            {"layer": "name", "property": "rotation", "keys": [{"at_s": 0, "value": 1}, {"at_s": 30, "value": 2}]}]},
        {"kind": "move-keys", **S, "moves": [{"layer": "kite", "property": "position", "key": "k0", "time_s": 3601}]},
        {"kind": "move-pivot", **S, "layer": "kite", "pivot": [float("nan"), 0], "time_s": 0},
        {"kind": "add-scene", "scene": {"id": "quick", "name": "Quick", "width": 320, "height": 180, "rate": {"num": 120}, "length_s": 2.0}},
        {"kind": "take-path", **S, "layer": "kite", "points": [], "start_s": 0, "duration_s": 1},
        {"kind": "fly-path", **S, "layer": "kite", "samples": [[0, 1e30, 0], [1, 0, 0]]},
        {"kind": "set-values", **S, "targets": [{"layer": "name", "property": "text", "value": "\ud800"}]},
        {"kind": "change-layers", **S, "layers": ["kite"], "name": "\ud800"},
    ],
    ids=lambda data: data["kind"],
)  # fmt: skip
def test_what_would_not_load_again_is_refused_with_a_field(data):
    with pytest.raises(DocumentError) as refused:
        applied(kite(), data)
    assert str(refused.value)


def test_one_layer_given_three_times_is_distributed_or_refused():
    three = {
        "kind": "distribute-layers",
        **S,
        "layers": ["kite", "kite", "kite"],
        "axis": "x",
        "time_s": 0,
    }
    try:
        loads_again(applied(kite(), three))
    except DocumentError as error:
        assert "layers" in str(error)


def test_keys_of_a_point_that_is_taken_apart_are_refused_by_name():
    split = {"kind": "split-property", **S, "targets": [{"layer": "kite", "property": "position"}]}
    document = applied(kite(), split)
    for data in (
        {
            "kind": "move-keys",
            **S,
            "moves": [{"layer": "kite", "property": "position", "key": "k0", "time_s": 1}],
        },
        {
            "kind": "mirror-keys",
            **S,
            "keys": [{"layer": "kite", "property": "position", "key": "k0"}],
        },
    ):
        with pytest.raises(DocumentError, match="taken apart"):
            applied(document, data)


@pytest.mark.parametrize("levels", [20, 900, 100_000])
def test_values_nested_without_end_are_refused(levels):
    deep = 1
    for _ in range(levels):
        deep = [deep]
    with pytest.raises(DocumentError):
        applied(
            kite(),
            {
                "kind": "set-values",
                **S,
                "targets": [{"layer": "kite", "property": "opacity", "value": deep}],
            },
        )


# Patches, held against the library that knows only JSON


@pytest.mark.parametrize(("make", "data"), CASES[::4], ids=[data["kind"] for _, data in CASES[::4]])
def test_patches_on_documents_do_what_they_do_on_json(make, data):
    before = check_project(make())
    changed = apply_edit(before, parse_edit(data), CONTEXT)
    for start, patch in ((before, changed.forward), (changed.project, changed.inverse)):
        ours = plain(patched(start, patch))
        assert ours == jsonpatch.apply_patch(plain(start), patch)
    assert diff(changed.project, patched(before, changed.forward)) == []


@pytest.mark.parametrize(
    "step",
    [{"op": "remove", "path": "/scenes/7"}, {"op": "add", "path": "/scenes/0/layers/9", "value": {}},
     {"op": "replace", "path": "/scenes/0/wind", "value": 1}, {"op": "test", "path": "/name", "value": 1},
     {"op": "remove", "path": "/name"}, {"op": "replace", "path": "", "value": {}},
     {"op": "replace", "path": "/scenes/0/layers/0/name", "value": 5}],
)  # fmt: skip
def test_patches_that_do_not_fit_are_refused(step):
    with pytest.raises(DocumentError):
        patched(kite(), [step])


# Mending


def test_mending_clamps_and_leaves_out_as_little_as_can_be():
    data = plain(kite())
    scene = data["scenes"][0]
    scene["name"] = "x" * 300
    scene["layers"][0]["properties"]["opacity"] = {"value": 900}
    scene["layers"][0]["properties"]["wind"] = {"value": 1}
    scene["layers"][0]["properties"]["position"]["keys"][1]["easing"] = "swoosh"
    scene["layers"][0]["end_s"] = 4000
    scene["layers"].append({**scene["layers"][1], "id": "odd", "name": "Odd", "kind": "cloud"})
    scene["gale"] = 7
    project_, changes = mend_project(data)
    first = project_.scenes[0].layers[0]
    assert project_.scenes[0].name == "x" * 200 and first.end_s == 3600
    assert first.properties["opacity"].value == 100 and "wind" not in first.properties
    assert [k.id for k in first.properties["position"].keys] == ["k0"]
    assert [la.id for la in project_.scenes[0].layers] == ["kite", "name"]
    assert len(changes) == 7 and any("'Odd'" in each for each in changes)


def test_mending_cuts_circles_where_it_must():
    data = plain(kite())
    layers = data["scenes"][0]["layers"]
    layers[0]["rides"], layers[1]["rides"] = "name", "kite"
    project_, changes = mend_project(data)
    riding = [la.rides for la in project_.scenes[0].layers]
    assert riding.count(None) == 1 and len(changes) == 1 and "circle" in changes[0]


@pytest.mark.parametrize(
    "data",
    [None, [], 3, "kite", {}, {"schema_version": 4}, {"schema_version": 4, "id": 5, "name": []}],
)
def test_mending_never_raises_for_what_is_no_document(data):
    project_, changes = mend_project(data, "kites", "Kite Week")
    assert project_.name and changes


def test_documents_changed_at_random_are_mended_into_sound_ones():
    fuzz, chance = EditFuzz(5), random.Random(5)
    bases = [plain(check_project(make())) for make, _ in CASES[::9]]
    mended = 0
    for _ in range(150):
        data = json.loads(json.dumps(chance.choice(bases)))
        names = names_in(kite())
        for _ in range(chance.choice([1, 2, 6])):
            fuzz.change(data, names)
        data["schema_version"] = 4
        project_, changes = mend_project(data)
        loads_again(project_)
        try:
            check_project(load_project(data))
        except DocumentError:
            mended += 1
            assert changes
    assert mended > 60


# A project that fails its checks


@pytest.fixture
def unsound(folder):
    folder.workspace.create(kite())
    folder.workspace.edit(
        "kites", parse_edit({"kind": "change-layers", **S, "layers": ["kite"], "name": "Emblem"})
    )
    folder.workspace.close_idle(after_s=-1)
    with folder.database.session() as session:
        row = session.get(ProjectRow, "kites")
        row.document = row.document.replace('"expression":""', '"expression":"((("', 1)
    return folder.workspace


def test_it_opens_for_looking_with_the_place_named_and_is_mended_by_one_step(unsound):
    state = unsound.state("kites")
    assert state.unsound is not None and "bracket" in state.unsound.message
    assert state.unsound.changes and state.project.scenes[0].layers[0].name == "Emblem"
    assert [step["label"] for step in unsound.history("kites")] == ["Rename Kite to Emblem"]
    rename = parse_edit({"kind": "change-layers", **S, "layers": ["kite"], "name": "Kite"})
    for change in (lambda: unsound.edit("kites", rename), lambda: unsound.undo("kites")):
        with pytest.raises(DocumentError, match="until it is mended"):
            change()
    assert "(((" in unsound.raw_document("kites")
    unsound_text = json.loads(unsound.raw_document("kites"))
    assert unsound_text["scenes"][0]["layers"][0]["name"] == "Emblem"
    mended = unsound.mend("kites")
    assert mended.unsound is None and mended.undo_label.startswith("Mended")
    assert unsound.edit("kites", rename).revision == mended.revision + 1
    unsound.undo("kites")
    with pytest.raises(DocumentError, match="cannot be opened"):
        unsound.undo("kites")
    with pytest.raises(DocumentError, match="nothing to mend"):
        unsound.mend("kites")


def test_mending_keeps_the_old_document_and_its_journal(folder):
    folder.workspace.create(kite())
    rename = {"kind": "change-layers", **S, "layers": ["kite"], "name": "Emblem"}
    folder.workspace.edit("kites", parse_edit(rename))
    with folder.database.session() as session:
        row = session.get(ProjectRow, "kites")
        row.document = row.document.replace('"expression":""', '"expression":"((("', 1)
    again = Workspace(folder.database, Context)
    again.mend("kites")
    with folder.database.session() as session:
        kept = json.loads(session.get(EditRow, ("kites", 2)).operation)
    assert "(((" in kept["document"] and "Emblem" in kept["journal"][0]


def test_what_is_no_json_is_exported_letter_by_letter(folder):
    folder.workspace.create(kite())
    folder.workspace.close_idle(after_s=-1)
    with folder.database.session() as session:
        session.get(ProjectRow, "kites").document = '{"id": "kites", torn'
    assert folder.workspace.state("kites").unsound is not None
    assert folder.workspace.raw_document("kites") == '{"id": "kites", torn'


def test_a_document_of_a_later_version_is_never_mended(folder):
    folder.workspace.create(kite())
    folder.workspace.close_idle(after_s=-1)
    with folder.database.session() as session:
        row = session.get(ProjectRow, "kites")
        row.document = row.document.replace(
            f'"schema_version":{SCHEMA_VERSION}', '"schema_version":99'
        )
    with pytest.raises(DocumentError, match="newer Young Comet"):
        folder.workspace.state("kites")
