"""Moves of the artist's own: saved from a layer, worn by others, kept for all projects."""

from __future__ import annotations

import pytest
from tests.build import CONTEXT, key, layer, project
from tests.core.resolve.test_moves import done, shape

from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError, InUseError, NotFoundError


def saved(**edit):
    """A kite that comes in from the left, turning, out of a blur; saved as a move."""
    kite_ = layer(
        "kite", "shape", shape__size=[60, 40], position=[key(0, [20, 90], "ease-out"), key(1, [160, 90])],
        rotation=[key(0, -90.0), key(1, 0.0)], opacity=[key(0, 0.0), key(0.5, 100.0)],
        **{"effect.e.size": [key(0, [20.0, 20.0]), key(1, [0.0, 0.0])]},
    )  # fmt: skip
    from young_comet.core.model import Effect

    kite_ = kite_.model_copy(
        update={"effects": (Effect(id="e", kind="gaussian-blur"),), "arrive_s": 1.0}
    )
    return done(project(kite_, layer("bow", "shape", shape__size=[60, 40], position=[200, 40])),
                {"kind": "save-move", "layer": "kite", "id": "gust", "name": "Gust", "phase": "arrive", **edit})  # fmt: skip


def worn_by_bow(document, **more):
    return done(document, {"kind": "wear-move", "layers": ["bow"], "id": "w", "move": "own:gust", "phase": "arrive", **more},
                {"kind": "set-phases", "layers": ["bow"], "arrive_s": 2.0})  # fmt: skip


def test_a_saved_move_does_on_another_layer_what_the_first_did():
    document = worn_by_bow(saved())
    assert set(document.saved_moves[0].properties) == {"position", "rotation", "opacity"}
    ev = SceneEvaluator(document, "reveal")
    for t in (0.1, 0.4, 0.8, 1.0):
        first, other = ev.layer(ev.find("kite"), t), ev.layer(ev.find("bow"), 2 * t)
        assert other.matrix((0, 0))[0] - 200 == pytest.approx(
            first.matrix((0, 0))[0] - 160, abs=1.5
        )
        assert other.matrix.b == pytest.approx(first.matrix.b, abs=0.02)
        assert other.opacity == pytest.approx(first.opacity, abs=0.02)
    early = ev.layer(ev.find("bow"), 0.2)
    assert dict(early.effects[0].params)["size"][0] == pytest.approx(18, abs=0.6)


def test_a_saved_move_can_keep_its_own_pace():
    ev = SceneEvaluator(worn_by_bow(saved(stretch=False)), "reveal")
    assert ev.layer(ev.find("bow"), 0.5).matrix((0, 0))[0] == pytest.approx(60, abs=1)
    first, other = ev.layer(ev.find("kite"), 0.5), ev.layer(ev.find("bow"), 1.5)
    assert other.matrix((0, 0))[0] - 200 == pytest.approx(first.matrix((0, 0))[0] - 160, abs=1.5)


def test_saved_moves_are_renamed_spread_and_kept_while_they_are_worn():
    document = worn_by_bow(saved(), values={"strength": 50})
    ev = SceneEvaluator(document, "reveal")
    assert ev.layer(ev.find("bow"), 0.0).matrix((0, 0))[0] == pytest.approx(200 - 70, abs=1)
    with pytest.raises(InUseError, match="wears it"):
        done_project(document, {"kind": "change-saved-move", "move": "gust", "remove": True})
    renamed = done_project(
        document, {"kind": "change-saved-move", "move": "gust", "name": "Squall"}
    )
    assert renamed.saved_moves[0].name == "Squall"
    free = done(
        renamed, {"kind": "remove-members", "family": "move", "layer": "bow", "members": ["w"]}
    )
    assert not done_project(
        free, {"kind": "change-saved-move", "move": "gust", "remove": True}
    ).saved_moves
    with pytest.raises(DocumentError, match="does not move"):
        done(project(shape().model_copy(update={"arrive_s": 1.0})),
             {"kind": "save-move", "layer": "kite", "id": "x", "name": "X", "phase": "arrive"})  # fmt: skip
    with pytest.raises(DocumentError, match="how long it leaves"):
        done(
            saved(),
            {"kind": "save-move", "layer": "kite", "id": "x", "name": "X", "phase": "leave"},
        )


def done_project(document, edit):
    return apply_edit(document, parse_edit(edit), CONTEXT).project


def test_moves_are_kept_for_all_projects(tmp_path):
    from young_comet.store.own_moves import OwnMoves

    own = OwnMoves(tmp_path / "moves.json")
    assert own.all() == []
    move = saved().saved_moves[0]
    own.keep(move)
    own.keep(move)
    assert OwnMoves(tmp_path / "moves.json").all() == [move]
    fresh = done_project(
        project(shape()), {"kind": "add-saved-move", "move": move.model_dump(mode="json")}
    )
    assert fresh.saved_moves == (move,)
    (tmp_path / "moves.json").write_text("{broken")
    assert own.all() == []
    own.keep(move)
    assert (tmp_path / "moves.damaged").read_text() == "{broken" and own.all() == [move]
    own.remove("gust")
    with pytest.raises(NotFoundError):
        own.remove("gust")
