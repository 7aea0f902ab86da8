"""Layers pasted: all that they say of each other goes along, within a scene, into another, into
another project."""

from __future__ import annotations

import pytest
from tests.build import Context, draw, key, layer, project

from young_comet.core.catalog import LAYER_KINDS, check_project, layer_kind
from young_comet.core.model import (
    Arrangement,
    Asset,
    Group,
    Ink,
    Mask,
    Move,
    Property,
    SavedEasing,
    SavedMove,
    Scene,
    Slot,
    Stand,
    Step,
    Tie,
    load_project,
)
from young_comet.edits import apply_edit, parse_edit, revert
from young_comet.errors import DocumentError

PASTING = Context()


def plain(value):
    return value.model_dump(mode="json")


def lockup():
    """A panel with everything that can hang on another layer, and what hangs on it."""
    panel = layer("panel", "shape", 1.0, 3.0, shape__size=[100, 40], position=[100, 90],
                  fill__colour="ink:sun")  # fmt: skip
    words = layer("words", "text", 1.2, 3.0, text="Gullwing", align__layer="panel",
                  matte__layer="panel", position=[key(0, [0, 0], "easing:gull"), key(1, [9, 9])])  # fmt: skip
    ring = layer("ring", "shape", 1.0, 2.0, shape__kind="ellipse", fit__layer="words")
    update = {
        "rides": "panel",
        "masks": (Mask(id="m", name="Edge", space="follow", follows="panel"),),
        "start_tie": Tie(to="layer", id="panel", moment="start", offset_s=0.0),
        "end_tie": Tie(to="scene", moment="end", offset_s=-2.0),
        "group": "lockup",
        "properties": {
            **ring.properties,
            "rotation": Property(value=0.0, expression='of("Panel", "opacity") + keyed'),
            "matte.layer": Property(value="words"),
        },
    }
    ring = ring.model_copy(update=update)
    base = project()
    groups = (Group(id="lockup", name="Lockup"),)
    scene = base.scenes[0].model_copy(update={"layers": (panel, words, ring), "groups": groups})
    ink, easing = (
        Ink(id="sun", name="Sun", colour="#f2c14e"),
        SavedEasing(id="gull", name="Gull", easing="cubic-bezier(0.2, 0, 0, 1)"),
    )
    return check_project(
        base.model_copy(update={"scenes": (scene,), "inks": (ink,), "easings": (easing,)})
    )


def pasted(into, source, chosen, *, scene="reveal", **more):
    held = [la for la in source.scenes[0].layers if la.id in chosen]
    edit = {
        "kind": "paste-layers", "scene": scene, "layers": [plain(la) for la in held],
        "ids": {la.id: f"{la.id}-b" for la in held}, **more,
    }  # fmt: skip
    if more.pop("bring", False):
        edit.pop("bring")
        edit |= {
            name: [plain(x) for x in getattr(source, name)]
            for name in ("assets", "inks", "easings")
        }
    edit.setdefault("groups", [plain(group) for group in source.scenes[0].groups])
    result = apply_edit(into, parse_edit(edit), PASTING)
    assert load_project(plain(result.project)) == result.project, "what is pasted loads again"
    found = {s.id: s for s in result.project.scenes}[scene]
    return result.project, {la.id: la for la in found.layers}, found


def test_what_is_copied_together_hangs_together():
    base = lockup()
    _, layers, scene = pasted(base, base, ("panel", "words", "ring"))
    ring, words, panel = layers["ring-b"], layers["words-b"], layers["panel-b"]
    assert (panel.name, words.name, ring.name) == ("Panel 2", "Words 2", "Ring 2")
    assert ring.rides == "panel-b" and ring.masks[0].follows == "panel-b"
    assert ring.start_tie.id == "panel-b" and ring.end_tie.to == "scene"
    assert ring.properties["matte.layer"].value == "words-b"
    assert ring.properties["fit.layer"].value == "words-b"
    assert words.properties["align.layer"].value == "panel-b"
    assert ring.properties["rotation"].expression == 'of("Panel 2", "opacity") + keyed'
    named = {group.id: group.name for group in scene.groups}
    assert named[ring.group] == "Lockup 2" and ring.group != "lockup"
    assert [la.start_s for la in (panel, words)] == [1.0, 1.2]


def test_what_is_copied_alone_keeps_pointing_at_what_is_here():
    base = lockup()
    _, layers, _ = pasted(base, base, ("ring",))
    ring = layers["ring-b"]
    assert ring.rides == "panel" and ring.masks[0].follows == "panel"
    assert ring.properties["rotation"].expression.startswith('of("Panel", ')


def test_they_land_at_the_playhead_above_what_is_chosen():
    base = lockup()
    _, layers, scene = pasted(base, base, ("panel", "words", "ring"), at_s=2.0, above="panel")
    assert [la.id for la in scene.layers][:4] == ["panel", "panel-b", "words-b", "ring-b"]
    assert layers["panel-b"].start_s == 2.0 and layers["words-b"].start_s == pytest.approx(2.2)
    # Tied among themselves still, no longer to a moment of the scene.
    assert layers["ring-b"].start_tie.id == "panel-b" and layers["ring-b"].end_tie is None


def test_another_scene_knows_none_of_the_others():
    base = lockup()
    other = Scene(
        id="other", name="Other", width=320, height=180, rate=base.scenes[0].rate, length_s=4
    )
    base = base.model_copy(update={"scenes": (*base.scenes, other)})
    _, layers, _ = pasted(base, base, ("ring",), scene="other")
    ring = layers["ring-b"]
    assert ring.name == "Ring" and ring.rides is None and ring.start_tie is None
    assert ring.masks[0].space == "layer" and "matte.layer" not in ring.properties


def test_another_project_gets_what_is_needed_once():
    source = lockup()
    empty = project()
    document, layers, _ = pasted(empty, source, ("panel", "words", "ring"), bring=True)
    assert [ink.name for ink in document.inks] == ["Sun"]
    assert layers["panel-b"].properties["fill.colour"].value == "ink:sun"
    # One that has such an ink under another id, and another ink and easing under these ids.
    inks = (
        Ink(id="sun", name="Shade", colour="#000000"),
        Ink(id="gold", name="Sun", colour="#f2c14e"),
    )
    easings = (SavedEasing(id="gull", name="Other", easing="linear"),)
    own = empty.model_copy(update={"inks": inks, "easings": easings})
    document, layers, _ = pasted(own, source, ("panel", "words", "ring"), bring=True)
    assert len(document.inks) == 2 and len(document.easings) == 2
    assert layers["panel-b"].properties["fill.colour"].value == "ink:gold"
    easing = layers["words-b"].properties["position"].keys[0].easing
    assert easing == f"easing:{document.easings[1].id}" and document.easings[1].name == "Gull"


def test_assets_and_placed_scenes_come_along():
    asset = Asset(id="cloud", name="cloud.png", kind="picture", media_type="image/png",
                  hash="a" * 64, size_bytes=9, width=40, height=30)  # fmt: skip
    source = project(layer("cloud", "picture", picture__asset="cloud"))
    inner = source.scenes[0].model_copy(update={"id": "inner", "name": "Inner"})
    outer = source.scenes[0].model_copy(
        update={"layers": (layer("placed", "scene", scene__id="inner"),)}
    )
    source = source.model_copy(update={"assets": (asset,), "scenes": (outer, inner)})
    taken = Asset(**{**plain(asset), "hash": "b" * 64})
    own = project().model_copy(update={"assets": (taken,)})
    document, layers, _ = pasted(own, source, ("placed",), bring=True, scenes=[plain(inner)])
    assert [a.hash[0] for a in document.assets] == ["b", "a"]
    assert layers["placed-b"].properties["scene.id"].value == "inner"
    (cloud,) = document.scenes[1].layers
    assert cloud.properties["picture.asset"].value == document.assets[1].id != "cloud"
    again, layers, _ = pasted(
        document, source, ("placed",), bring=True, scenes=[plain(inner)], ids={"placed": "third"}
    )
    assert len(again.assets) == 2


def test_arrangements_of_placed_scenes_say_the_names_of_their_new_project():
    asset = Asset(id="cloud", name="cloud.png", kind="picture", media_type="image/png",
                  hash="a" * 64, size_bytes=9, width=40, height=30)  # fmt: skip
    source = project(layer("cloud", "picture"), layer("bow", "shape"))
    row = (
        Arrangement(id="one", name="One", hold_s=0.5, step=Step(easing="easing:gull"), stands=(
            Stand(layer="cloud", values={"picture.asset": "cloud"}),
            Stand(layer="bow", there=False, values={"fill.colour": "ink:sun"}),
        )),
        Arrangement(id="two", name="Two", hold_s=0.5),
    )  # fmt: skip
    inner = source.scenes[0].model_copy(
        update={"id": "inner", "name": "Inner", "arrangements": row}
    )
    outer = source.scenes[0].model_copy(
        update={"layers": (layer("placed", "scene", scene__id="inner"),)}
    )
    ink, easing = lockup().inks[0], lockup().easings[0]
    source = source.model_copy(
        update={
            "assets": (asset,), "inks": (ink,), "easings": (easing,), "scenes": (outer, inner),
        }
    )  # fmt: skip
    taken = {
        "assets": (Asset(**{**plain(asset), "hash": "b" * 64}),),
        "inks": (Ink(id="sun", name="Shade", colour="#000000"),),
        "easings": (SavedEasing(id="gull", name="Other", easing="linear"),),
    }
    own = project().model_copy(update=taken)
    document, _, _ = pasted(own, source, ("placed",), bring=True, scenes=[plain(inner)])
    one = document.scenes[1].arrangements[0]
    assert one.stand("cloud").values["picture.asset"] == document.assets[1].id != "cloud"
    assert one.stand("bow").values["fill.colour"] == f"ink:{document.inks[1].id}" != "ink:sun"
    assert not one.stand("bow").there
    assert one.step.easing == f"easing:{document.easings[1].id}" != "easing:gull"


@pytest.mark.parametrize("ids", [{}, {"panel": "words"}, {"panel": "panel"}])
def test_ids_must_be_new(ids):
    base = lockup()
    with pytest.raises(DocumentError):
        pasted(base, base, ("panel",), ids=ids)


@pytest.mark.parametrize("kind", sorted(LAYER_KINDS))
@pytest.mark.parametrize("where", [[160, 90], [-40, 90], [5000, 5000]])
def test_every_kind_is_pasted_and_drawn_as_it_was(kind, where):
    """In the frame, across its edge, beside it; with a scale of 0 on the way, undone to the same."""
    placed = "position" in {spec.id for spec in layer_kind(kind).specs}
    more = (
        {"position": where, "scale": [key(0, [0.0, 0.0]), key(1, [80.0, 120.0])]} if placed else {}
    )
    source = project(layer("one", kind, **more))
    into = project()
    edit = {"kind": "paste-layers", "scene": "reveal", "ids": {"one": "two"},
            "layers": [plain(source.scenes[0].layers[0])]}  # fmt: skip
    result = apply_edit(into, parse_edit(edit), PASTING)
    for time_s in (0.0, 0.5, 2.0):
        assert (draw(result.project, time_s) == draw(source, time_s)).all()
    assert plain(revert(result.project, result.inverse)) == plain(into)


def test_slots_own_moves_and_typefaces_are_named_anew_too():
    """Where the project has others under these ids."""
    source = lockup()
    font = Asset(id="face", name="Gull.ttf", kind="font", media_type="font/ttf", hash="f" * 64,
                 size_bytes=9)  # fmt: skip
    shown = Property(keys=(key(0, 0, "easing:gull"), key(1, 100)))
    move = SavedMove(id="glide", name="Glide", phase="arrive", length_s=1.0,
                     properties={"opacity": shown})  # fmt: skip
    inner = Scene(id="inner", name="Inner", width=160, height=90, rate=source.scenes[0].rate,
                  length_s=4, slots=(Slot(id="who", name="Sun", ink="sun"),))  # fmt: skip
    words = layer("words", "text", text__font="face").model_copy(
        update={"moves": (Move(id="m", kind="own:glide", phase="arrive"),), "arrive_s": 1.0}
    )
    tag = layer("tag", "scene", scene__id="inner").model_copy(update={"slots": {"who": "ink:sun"}})
    base = source.model_copy(
        update={"assets": (font,), "saved_moves": (move,), "scenes": (
            source.scenes[0].model_copy(update={"layers": (words, tag)}), inner)}
    )  # fmt: skip
    other = font.model_copy(update={"hash": "e" * 64})
    own = project().model_copy(update={
        "assets": (other,), "inks": (Ink(id="sun", name="Shade", colour="#000000"),),
        "easings": (SavedEasing(id="gull", name="Other", easing="linear"),),
        "saved_moves": (SavedMove(id="glide", name="Other", phase="leave", length_s=1.0),),
    })  # fmt: skip
    document, layers, _ = pasted(
        own, base, ("words", "tag"), bring=True, moves=[plain(move)], scenes=[plain(inner)]
    )
    ink, face = document.inks[1].id, document.assets[1].id
    worn = document.saved_moves[1]
    assert layers["words-b"].properties["text.font"].value == face != "face"
    assert layers["words-b"].moves[0].kind == f"own:{worn.id}"
    assert layers["tag-b"].slots == {"who": f"ink:{ink}"} and document.scenes[1].slots[0].ink == ink
    assert worn.properties["opacity"].keys[0].easing == f"easing:{document.easings[1].id}"


def test_a_layer_that_comes_twice_is_refused_and_a_scene_in_itself_too():
    base = lockup()
    panel = plain(base.scenes[0].layers[0])
    edit = {
        "kind": "paste-layers",
        "scene": "reveal",
        "layers": [panel, panel],
        "ids": {"panel": "p2"},
    }
    with pytest.raises(DocumentError):
        apply_edit(base, parse_edit(edit), PASTING)
    itself = plain(layer("placed", "scene", scene__id="reveal"))
    edit = {"kind": "paste-layers", "scene": "reveal", "layers": [itself], "ids": {"placed": "p2"}}
    with pytest.raises(DocumentError):
        apply_edit(base, parse_edit(edit), PASTING)
