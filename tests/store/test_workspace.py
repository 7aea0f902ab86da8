import os

import pytest
from tests.build import Context, layer, project

from young_comet.config import Config
from young_comet.edits import parse_edit
from young_comet.edits.patch import plain
from young_comet.errors import (
    ConflictError,
    DocumentError,
    HeldError,
    NotFoundError,
    StorageError,
)
from young_comet.store import DataFolder, Workspace
from young_comet.store import workspace as workspaces
from young_comet.store.tables import JournalRow, ProjectRow

S = {"scene": "reveal"}


def rename(name):
    return parse_edit({"kind": "change-layers", **S, "layers": ["kite"], "name": name})


def opacity(value, layer_id="kite"):
    target = {"layer": layer_id, "property": "opacity", "value": value}
    return parse_edit({"kind": "set-values", **S, "targets": [target]})


@pytest.fixture
def workspace(folder):
    folder.workspace.create(project(layer("kite", "shape"), layer("name", "text")))
    return folder.workspace


def test_edits_undo_and_redo_move_through_the_history(workspace):
    states = [plain(workspace.state("kites").project)]
    for value in (10, 20, 30):
        workspace.edit("kites", opacity(value))
        states.append(plain(workspace.state("kites").project))
    for expected in reversed(states[:-1]):
        workspace.undo("kites")
        assert plain(workspace.state("kites").project) == expected
    with pytest.raises(DocumentError, match="nothing to undo"):
        workspace.undo("kites")
    for expected in states[1:]:
        workspace.redo("kites")
        assert plain(workspace.state("kites").project) == expected
    with pytest.raises(DocumentError, match="nothing to redo"):
        workspace.redo("kites")


def test_a_new_edit_ends_the_redo(workspace):
    workspace.edit("kites", opacity(10))
    workspace.edit("kites", opacity(20))
    workspace.undo("kites")
    workspace.edit("kites", rename("Emblem"))
    state = workspace.state("kites")
    assert state.redo_label is None and state.steps == 2
    assert [step["label"] for step in workspace.history("kites")][-1].startswith("Rename")


def test_steps_know_the_scenes_that_they_are_about(workspace):
    assert workspace.next_steps("kites") == {"undo": None, "redo": None}
    workspace.edit("kites", opacity(10))
    workspace.edit("kites", parse_edit({"kind": "rename-project", "name": "Kite Week at night"}))
    assert [step["scenes"] for step in workspace.history("kites")] == [["reveal"], []]
    assert workspace.next_steps("kites")["undo"]["scenes"] == []
    workspace.undo("kites")
    following = workspace.next_steps("kites")
    assert following["undo"]["scenes"] == ["reveal"] and following["undo"]["number"] == 1
    assert following["redo"]["label"].startswith("Rename the project")
    workspace.undo("kites")
    following = workspace.next_steps("kites")
    assert following["undo"] is None and following["redo"]["number"] == 1


def test_everything_is_still_there_after_a_restart(config: Config):
    first = DataFolder(config)
    first.workspace.create(project(layer("kite", "shape")))
    first.workspace.edit("kites", opacity(10))
    first.workspace.edit("kites", opacity(20))
    first.workspace.undo("kites")
    before = plain(first.workspace.state("kites").project)
    first.close()
    second = DataFolder(config)
    state = second.workspace.state("kites")
    assert plain(state.project) == before
    assert state.undo_label and state.redo_label
    second.workspace.undo("kites")
    second.workspace.redo("kites")
    second.workspace.redo("kites")
    assert (
        second.workspace.state("kites").project.scenes[0].layers[0].properties["opacity"].value
        == 20
    )
    second.close()


def test_revisions_grow_with_every_change(workspace):
    start = workspace.state("kites").revision
    assert workspace.edit("kites", opacity(5)).revision == start + 1
    assert workspace.undo("kites").revision == start + 2


def test_an_edit_on_an_older_revision_is_rebased_where_it_touches_other_things(workspace):
    base = workspace.state("kites").revision
    workspace.edit("kites", opacity(10, "kite"), base)
    change = workspace.edit("kites", opacity(40, "name"), base)
    layers = change.state.project.scenes[0].layers
    assert [la.properties["opacity"].value for la in layers] == [10, 40]


def test_an_edit_on_the_same_thing_is_refused_and_nothing_is_lost(workspace):
    base = workspace.state("kites").revision
    workspace.edit("kites", opacity(10), base)
    with pytest.raises(ConflictError, match="changed elsewhere"):
        workspace.edit("kites", opacity(99), base)
    assert workspace.state("kites").project.scenes[0].layers[0].properties["opacity"].value == 10
    with pytest.raises(ConflictError):
        workspace.edit("kites", opacity(1), base + 50)


def test_a_failed_edit_leaves_database_and_memory_as_they_were(workspace):
    before = workspace.state("kites")
    with pytest.raises(DocumentError):
        workspace.edit("kites", opacity(500))
    after = workspace.state("kites")
    assert (after.revision, after.steps) == (before.revision, before.steps)
    assert after.project is before.project


def test_projects_are_listed_found_duplicated_and_brought_back(workspace):
    copy = workspace.duplicate("kites")
    assert copy.project.name == "Kite Week copy"
    assert {p.id for p in workspace.projects()} == {"kites", copy.project.id}
    assert workspace.find("Kite Week").project.id == "kites"
    workspace.delete("kites")
    with pytest.raises(NotFoundError):
        workspace.state("kites")
    with pytest.raises(NotFoundError):
        workspace.find("kites")
    workspace.restore("kites")
    assert workspace.state("kites").project.name == "Kite Week"


def test_ids_are_unique_and_names_may_not_be(workspace):
    with pytest.raises(ConflictError):
        workspace.create(project())
    workspace.create(project().model_copy(update={"id": "other"}))
    with pytest.raises(DocumentError, match="several"):
        workspace.find("Kite Week")
    with pytest.raises(NotFoundError):
        workspace.find("no such project")


def test_one_program_holds_a_folder_and_others_may_read_it(config: Config):
    one = DataFolder(config, what="http://127.0.0.1:8765")
    one.workspace.create(project(layer("kite", "shape")))
    with pytest.raises(HeldError, match=rf"process {os.getpid()} \(http://127"):
        DataFolder(config)
    reader = DataFolder(config, writing=False)
    assert reader.workspace.state("kites").steps == 0
    with pytest.raises(StorageError, match="cannot be written"):
        reader.workspace.edit("kites", opacity(10))
    reader.close()
    one.workspace.edit("kites", opacity(10))
    one.close()
    DataFolder(config).close()


def test_two_memories_of_one_project_never_overwrite_each_other(folder):
    folder.workspace.create(project(layer("kite", "shape")))
    other = Workspace(folder.database, Context)
    assert other.state("kites").steps == 0
    folder.workspace.edit("kites", opacity(10))
    with pytest.raises(ConflictError, match="another program"):
        other.edit("kites", rename("Emblem"))
    assert other.edit("kites", rename("Emblem")).revision == 3
    kite = other.state("kites").project.scenes[0].layers[0]
    assert (kite.name, kite.properties["opacity"].value) == ("Emblem", 10)


def test_a_checkpoint_and_the_journal_give_the_same_project(folder, monkeypatch):
    monkeypatch.setattr(workspaces, "JOURNAL_STEPS", 4)
    folder.workspace.create(project(layer("kite", "shape"), layer("name", "text")))
    for value in range(7):
        folder.workspace.edit("kites", opacity(value))
    folder.workspace.undo("kites")
    folder.workspace.close_idle()
    folder.workspace.edit("kites", rename("Emblem"))
    expected = folder.workspace.state("kites").project
    with folder.database.session() as session:
        row = session.get(ProjectRow, "kites")
        assert (row.checkpoint, row.revision) == (9, 10)
        assert len(session.query(JournalRow).all()) == 1
    folder.workspace.close_idle(after_s=-1)
    again = folder.workspace.state("kites")
    assert again.project == expected and again.project is not expected
    assert again.revision == 10 and again.undo_label.startswith("Rename")


def test_lists_show_names_and_scenes_without_reading_documents(folder, monkeypatch):
    folder.workspace.create(project(layer("kite", "shape")))
    monkeypatch.setattr(workspaces, "read_project", None)
    (listed,) = folder.workspace.projects()
    assert (listed.name, listed.scene_count, listed.first_scene) == ("Kite Week", 1, "reveal")


def test_undo_keeps_the_objects_that_it_does_not_touch(workspace):
    before = workspace.state("kites").project.scenes[0].layers
    workspace.edit("kites", opacity(10))
    workspace.undo("kites")
    after = workspace.state("kites").project.scenes[0].layers
    assert after[1] is before[1] and after[0] == before[0]


def test_any_step_of_the_history_can_be_seen_without_going_to_it(workspace):
    documents = [workspace.state("kites").project]
    for name in ("One", "Two", "Three", "Four"):
        documents.append(workspace.edit("kites", rename(name)).state.project)
    workspace.undo("kites")
    workspace.undo("kites")
    now = workspace.state("kites")
    assert [workspace.at_step("kites", number) for number in range(5)] == documents
    assert workspace.state("kites") == now
    for missing in (5, 40):
        with pytest.raises(NotFoundError, match="no step"):
            workspace.at_step("kites", missing)


def test_lists_tell_the_tags(workspace, folder):
    tags = parse_edit({"kind": "set-tags", "tags": ["race day", "Titles", "titles"]})
    workspace.edit("kites", tags)
    assert workspace.projects()[0].tags == ("race day", "Titles")
    workspace.undo("kites")
    assert workspace.projects()[0].tags == ()


def test_drafts_are_not_saved(workspace):
    drafted = workspace.drafted("kites", [rename("Try")])
    assert drafted.scenes[0].layers[0].name == "Try"
    assert workspace.state("kites").project.scenes[0].layers[0].name == "Kite"


def test_the_state_before_the_last_edit_can_be_seen_without_undoing(workspace):
    workspace.edit("kites", rename("Emblem"))
    workspace.edit("kites", opacity(50))
    before = workspace.before_last("kites")
    assert "opacity" not in before.scenes[0].layers[0].properties
    assert before.scenes[0].layers[0].name == "Emblem"
    assert workspace.before_last("kites") is before
    workspace.undo("kites")
    assert workspace.before_last("kites").scenes[0].layers[0].name == "Kite"
    workspace.undo("kites")
    assert workspace.before_last("kites") == workspace.state("kites").project
