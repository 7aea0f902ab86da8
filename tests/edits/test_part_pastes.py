"""One side of a layer pasted onto others: place, looks, moves, times, type."""

import pytest
from tests.build import Context, key, layer, project

from young_comet.core.catalog import LAYER_KINDS, check_project, find_spec
from young_comet.core.model import Effect, Mask, Move, Property
from young_comet.edits import apply_edit, parse_edit, revert
from young_comet.edits.part_pastes import SIDES, side_of
from young_comet.edits.patch import plain
from young_comet.errors import DocumentError

CONTEXT = Context()


def held(source):
    return source.model_dump(mode="json", exclude_none=True)


def paste(document, source, sides, targets=("to",), **more):
    edit = parse_edit({
        "kind": "paste-parts", "scene": "reveal", "layer": held(source), "targets": list(targets),
        "sides": list(sides), **more,
    })  # fmt: skip
    return apply_edit(document, edit, CONTEXT)


def target(done, id="to"):
    return next(la for la in done.project.scenes[0].layers if la.id == id)


def test_a_place_comes_with_its_keys_and_leaves_the_rest():
    source = layer("from", "text", 0.4, 2.4, position=[key(0, [10, 20]), key(1, [80, 20])],
                   rotation=30, opacity=60, fill__colour="#ff7a45")  # fmt: skip
    document = project(source, layer("to", "shape", 0, 3, scale=[50, 50], fill__colour="#102030"))
    found = target(paste(document, source, ["place"]))
    assert [k.value for k in found.properties["position"].keys] == [(10, 20), (80, 20)]
    assert found.properties["rotation"].value == 30
    assert "scale" not in found.properties, "the copied layer has it at its default"
    assert found.properties["fill.colour"].value == "#102030" and "opacity" not in found.properties


def test_looks_take_the_place_of_those_that_are_there():
    mask = Mask(id="m", name="Edge")
    effect = Effect(id="glow-1", kind="glow")
    source = layer("from", "shape", 0, 3, fill__colour="#ff7a45", opacity=60).model_copy(
        update={"masks": (mask,), "effects": (effect,)}
    )
    source = source.model_copy(
        update={"properties": {**source.properties,
                               "effect.glow-1.size": source.properties["opacity"]}}
    )  # fmt: skip
    worn = layer("to", "text", 0, 3, text="Gullwing").model_copy(
        update={"effects": (Effect(id="old", kind="invert"),)}
    )
    found = target(paste(project(source, worn), source, ["looks"]))
    assert [e.kind for e in found.effects] == ["glow"] and len(found.masks) == 1
    (glow,) = found.effects
    assert glow.id != "glow-1" and found.properties[f"effect.{glow.id}.size"].value == 60
    assert found.properties["fill.colour"].value == "#ff7a45"
    assert found.properties["text"].value == "Gullwing"


def test_what_is_not_set_is_the_copied_kinds_default():
    source = layer("from", "shape", 0, 3)
    found = target(paste(project(source, layer("to", "text", 0, 3)), source, ["looks"]))
    spec = find_spec(source, "fill.colour")
    mine = find_spec(found, "fill.colour")
    now = found.properties.get("fill.colour")
    assert (now.value if now else mine.default) == spec.default


def test_moves_and_times():
    source = layer("from", "text", 0.4, 2.4).model_copy(
        update={"moves": (Move(id="in", kind="fade", phase="arrive"),), "arrive_s": 0.6}
    )
    document = project(source, layer("to", "shape", 0, 3))
    found = target(paste(document, source, ["moves", "timing"]))
    assert [m.kind for m in found.moves] == ["fade"] and found.arrive_s == 0.6
    assert (found.start_s, found.end_s) == (0.4, 2.4)


def test_a_point_that_is_taken_apart_takes_the_whole_ones_place_and_the_other_way_round():
    whole = layer("from", "shape", 0, 3, position=[12, 34])
    apart = layer("to", "shape", 0, 3)
    split = {"kind": "split-property", "scene": "reveal",
             "targets": [{"layer": "to", "property": "position"}]}  # fmt: skip
    document = apply_edit(project(whole, apart), parse_edit(split), CONTEXT).project
    found = target(paste(document, whole, ["place"]))
    assert found.properties["position"].value == (12, 34) and "position.x" not in found.properties
    parts = next(la for la in document.scenes[0].layers if la.id == "to")
    back = target(paste(document, parts, ["place"], ["from"]), "from")
    assert "position.x" in back.properties and "position" not in back.properties


def test_a_layer_is_not_filled_with_itself_and_what_is_not_here_is_dropped():
    source = layer("from", "shape", 0, 3, fill__kind="layer", fill__layer="to")
    found = target(paste(project(source, layer("to", "shape", 0, 3)), source, ["looks"]))
    assert "fill.layer" not in found.properties
    gone = layer("from", "shape", 0, 3, fill__layer="elsewhere")
    found = target(paste(project(layer("to", "shape", 0, 3)), gone, ["looks"]))
    assert "fill.layer" not in found.properties


def test_nothing_pasted_follows_or_takes_in_the_layer_that_it_is_pasted_onto():
    mask = Mask(id="m", name="Edge", space="follow", follows="to")
    source = layer("from", "shape", 0, 3).model_copy(
        update={"masks": (mask,), "effects": (Effect(id="e", kind="displacement"),)}
    )
    input_ = {"effect.e.layer": Property(value="to")}
    source = source.model_copy(update={"properties": {**source.properties, **input_}})
    others = (layer("to", "shape", 0, 3), layer("third", "shape", 0, 3))
    done = paste(project(source, *others), source, ["looks"], ["to", "third"])
    found = target(done)
    assert found.masks[0].follows != "to"
    assert not any(name.endswith(".layer") for name in found.properties)
    # Onto another layer both come along.
    third = target(done, "third")
    assert third.masks[0].follows == "to"
    assert "to" in {prop.value for prop in third.properties.values()}


def test_a_side_that_a_layer_does_not_have_is_said():
    source = layer("from", "text", 0, 3)
    document = project(source, layer("to", "backdrop", 0, 3))
    with pytest.raises(DocumentError, match="has no place"):
        paste(document, source, ["place"])
    with pytest.raises(DocumentError, match="sides"):
        parse_edit({"kind": "paste-parts", "scene": "reveal", "layer": held(source),
                    "targets": ["to"], "sides": ["soul"]})  # fmt: skip


@pytest.mark.parametrize("side", SIDES)
@pytest.mark.parametrize("theirs", LAYER_KINDS)
def test_every_side_of_every_kind_onto_every_kind_can_be_undone(side, theirs):
    source = layer("from", theirs, 0.4, 2.4)
    others = [layer(f"to-{kind}", kind, 0, 3) for kind in LAYER_KINDS]
    document = project(source, *others)
    for other in others:
        try:
            done = paste(document, source, [side], [other.id])
        except DocumentError as error:
            assert side in str(error) or "could have" in str(error)
            continue
        check_project(done.project)
        assert plain(revert(done.project, done.inverse)) == plain(document)
        changed = target(done, other.id)
        for name, prop in changed.properties.items():
            spec = find_spec(changed, name)
            assert side_of(spec) == side or other.properties.get(name) == prop


def test_every_own_property_has_one_side_or_none():
    sided, sideless = {}, set()
    for kind in LAYER_KINDS.values():
        for spec in kind.specs:
            side = side_of(spec)
            if side is None:
                sideless.add(spec.section)
            elif spec.id != "opacity":
                assert sided.setdefault(spec.section, side) == side
    assert set(sided.values()) == set(SIDES) - {"moves"}
    # What a layer is made of, and how it hangs on others, stays its own.
    own = {"Shape", "Slices", "Copies", "Alignment", "Matte", "Along a path", "Text"}
    assert sideless == own | {"Picture", "Clip", "Sound", "Scene"}
    assert side_of(find_spec(layer("a", "text", 0, 1), "text.size")) == "type"
    assert side_of(find_spec(layer("a", "text", 0, 1), "text")) is None


@pytest.mark.parametrize(
    "edit, said",
    [
        ({"kind": "move-layers", "by": [40, 0]}, "Move To by 40, 0"),
        ({"kind": "scale-layers", "factor": [2, 0.5]}, "Scale To × 2, 0.5"),
        ({"kind": "turn-layers", "by_deg": 33.333}, "Turn To by 33.33°"),
        ({"kind": "turn-layers", "by_deg": 33, "steps_deg": 15}, "Turn To"),
    ],
)
def test_the_history_says_by_how_much(edit, said):
    document = project(layer("to", "shape", 0, 3))
    whole = parse_edit({**edit, "scene": "reveal", "layers": ["to"], "time_s": 0})
    assert apply_edit(document, whole, CONTEXT).label == said


def test_the_history_says_to_what_and_when():
    document = project(layer("to", "shape", 0, 3, rotation=[key(0, 0), key(1, 9)]))

    def label(name, value, time_s=1.0):
        target = {"layer": "to", "property": name, "value": value}
        edit = {"kind": "set-values", "scene": "reveal", "time_s": time_s, "targets": [target]}
        return apply_edit(document, parse_edit(edit), CONTEXT).label

    assert label("opacity", 40) == "Set Opacity of To to 40 %"
    assert label("rotation", 12) == "Set Rotation of To to 12° at 00:01:00"
    assert label("blend", "multiply") == "Set Blend mode of To to multiply"
    assert label("slices.width", 2) == "Set Slices: overlap of To to 2"
