"""What the operations on looks do to the picture and the document."""

import numpy as np
import pytest
from tests.build import Context, draw, key, layer, project
from tests.edits.looks_desk import SQUARE, looks

from young_comet.core.geometry.contours import parse_contours
from young_comet.core.model import Mask, Property
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError, NotFoundError

CONTEXT = Context()
S = {"scene": "reveal"}


def done(document, **edit):
    return apply_edit(document, parse_edit({**S, **edit}), CONTEXT).project


def named(document, layer_id):
    return next(la for la in document.scenes[0].layers if la.id == layer_id)


def masked_panel(**place):
    panel = layer("panel", "shape", shape__size=[120.0, 80.0], **place, **{"mask.m1.path": SQUARE})
    panel = panel.model_copy(update={"masks": (Mask(id="m1", name="Sail"),)})
    line = layer("line", "shape", shape__kind="line", fill__on=False, stroke__width=2.0,
                 position=[key(0, [60.0, 60.0]), key(2, [200.0, 120.0])], rotation=20.0)  # fmt: skip
    return project(panel, line, ground=None)


@pytest.mark.parametrize("space", [{"space": "scene"}, {"space": "follow", "follows": "line"}])
def test_a_mask_put_into_another_space_stays_where_it_is(space):
    document = masked_panel(position=[180.0, 80.0], rotation=30.0, scale=[120.0, 120.0])
    tied = done(document, kind="tie-mask", layer="panel", mask="m1", time_s=1.0, **space)
    before, after = draw(document, 1.0), draw(tied, 1.0)
    assert np.abs(before.astype(int) - after).max() <= 3 and before[..., 3].max() == 255
    back = done(tied, kind="tie-mask", layer="panel", mask="m1", time_s=1.0, space="layer")
    assert np.abs(before.astype(int) - draw(back, 1.0)).max() <= 3
    if "follows" in space:
        assert np.abs(draw(tied, 0.0).astype(int) - draw(document, 0.0)).max() > 100


def test_masks_pasted_in_place_lie_at_the_same_spot():
    document = masked_panel(position=[180.0, 80.0])
    other = layer(
        "sail", "shape", shape__size=[300.0, 170.0], position=[150.0, 100.0], rotation=45.0
    )
    layers = (*document.scenes[0].layers[:1], other)
    document = document.model_copy(
        update={"scenes": (document.scenes[0].model_copy(update={"layers": layers}),)}
    )
    pasted = done(
        document,
        kind="copy-masks",
        layer="panel",
        members=["m1"],
        targets=["sail"],
        in_place=True,
        time_s=0.0,
    )
    only = pasted.scenes[0].model_copy(update={"layers": (named(pasted, "sail"),)})
    picture = draw(pasted.model_copy(update={"scenes": (only,)}))[..., 3]
    rows, columns = (
        np.flatnonzero(picture.max(axis=1) > 127),
        np.flatnonzero(picture.max(axis=0) > 127),
    )
    assert (columns[0], columns[-1], rows[0], rows[-1]) == (140, 219, 50, 109)


def test_a_mask_taken_from_a_text_is_its_outline():
    document = looks()
    taken = done(document, kind="take-mask", layer="panel", source="name", id="word", time_s=0.0)
    assert len(parse_contours(named(taken, "panel").properties["mask.word.path"].value)) >= 8
    with pytest.raises(DocumentError, match="outline"):
        done(document, kind="take-mask", layer="panel", source="sky", id="sky", time_s=0.0)
    with pytest.raises(DocumentError, match="another layer"):
        done(document, kind="take-mask", layer="panel", source="panel", id="self", time_s=0.0)


def test_a_text_takes_the_outline_of_a_shape_as_its_path_where_that_lies():
    """The tail lies at (150, 100), the name at (160, 120)."""
    document = looks()
    take = {"kind": "take-shape", "layer": "name", "property": "text.path", "time_s": 0.0}
    taken = done(document, **take, source="tail", in_place=True)
    path = named(taken, "name").properties["text.path"].value
    first = parse_contours(path)[0]
    assert first.points[0].at == pytest.approx((-10, -20), abs=0.01)
    assert first.closed and len(first.points) == 4
    own = named(done(document, **take, source="tail"), "name").properties["text.path"].value
    assert parse_contours(own)[0].points[0].at == pytest.approx((0, 0), abs=0.01)
    with pytest.raises(DocumentError, match="another layer"):
        done(document, **take, source="name")
    with pytest.raises(DocumentError, match="outline"):
        done(document, **take, source="sky")


def test_what_was_drawn_lies_where_it_was_drawn():
    """The name lies at (160, 120); the panel's lines are drawn one after the other."""
    draw_on = {"kind": "draw-path", "time_s": 0.0}
    led = done(
        looks(),
        **draw_on,
        layer="name",
        property="text.path",
        drawn={"form": "svg", "data": "M60 120 L260 140"},
    )
    assert named(led, "name").properties["text.path"].value == "M-100 0 L100 20"
    lines = {**draw_on, "layer": "panel", "property": "slices.lines", "adds": True}
    cut = done(
        done(looks(), **lines, drawn={"form": "svg", "data": "M100 90 L220 90"}),
        **lines,
        drawn={"form": "svg", "data": "M160 20 L160 160"},
    )
    assert named(cut, "panel").properties["slices.lines"].value == "M-60 0 L60 0 M0 -70 L0 70"
    with pytest.raises(DocumentError, match="two points"):
        done(looks(), **lines, drawn={"form": "svg", "data": "M100 90"})
    with pytest.raises(DocumentError, match="is no path"):
        done(
            looks(),
            **draw_on,
            layer="name",
            property="text.size",
            drawn={"form": "svg", "data": "M0 0 L9 9"},
        )
    with pytest.raises(DocumentError, match="path: expected SVG path data"):
        done(looks(), **lines, drawn={"form": "svg", "data": "M0 0 L 12"})


@pytest.mark.parametrize("space", ["layer", "scene"])
def test_a_mask_that_is_turned_takes_an_outline_where_that_lies(space):
    """The panel is cut to the tail, which covers (150, 100) to (240, 140) but for a curve."""
    document = looks()
    mask = {"member": {"id": "m", "name": "M", "space": space}, "properties": {
        "position": {"value": [12, -5]}, "rotation": {"value": 30}, "scale": {"value": [150, 80]}}}  # fmt: skip
    document = done(document, kind="add-members", family="mask", layers=["panel"], members=[mask])
    taken = done(document, kind="take-shape", layer="panel", property="mask.m.path", source="tail",
                 in_place=True, time_s=0.0)  # fmt: skip
    (panel,) = (la for la in taken.scenes[0].layers if la.id == "panel")
    scene = taken.scenes[0].model_copy(update={"layers": (panel,), "ground": None})
    whole = panel.model_copy(update={"masks": (), "properties": {
        k: v for k, v in panel.properties.items() if not k.startswith(("mask.", "slices."))}})  # fmt: skip
    cut = panel.model_copy(update={"properties": {
        k: v for k, v in panel.properties.items() if not k.startswith("slices.")}})  # fmt: skip
    seen, all_ = (draw(taken.model_copy(update={"scenes": (scene.model_copy(update={"layers": (la,)}),)}))[..., 3].astype(int)
                  for la in (cut, whole))  # fmt: skip
    tail = named(taken, "tail")
    alone = draw(taken.model_copy(update={"scenes": (scene.model_copy(update={"layers": (tail,)}),)}))[..., 3]  # fmt: skip
    far = np.abs(seen - all_ * (alone / 255))
    # Only along the curve, which is flattened another way under the mask's own turn.
    assert np.count_nonzero(far > 6) <= 20 and far.max() <= 60
    assert (seen > 200).sum() > 500


def test_a_path_of_a_text_is_edited_by_its_points_and_checked():
    document = looks()
    value = {"kind": "set-values", "targets": [{"layer": "name", "property": "text.path", "value": "M0 0 L80 0"}], "time_s": 0.0}  # fmt: skip
    led = done(document, **value)
    moved = done(led, kind="edit-path", layer="name", property="text.path", deed="move",
                 points=[[0, 1]], by=[0, 30], time_s=0.0)  # fmt: skip
    assert named(moved, "name").properties["text.path"].value == "M0 0 L80 30"
    value["targets"][0]["value"] = "M0 0 L 12"
    with pytest.raises(DocumentError, match=r"Name.*Baseline path: expected SVG path data"):
        done(document, **value)


def test_outlines_of_masks_can_be_told_apart():
    document = looks()
    for index in range(4):
        document = done(
            document,
            kind="add-members",
            family="mask",
            layers=["panel"],
            members=[{"member": {"id": f"m{index}", "name": "Mask"}}],
        )
    colours = [mask.colour for mask in named(document, "panel").masks]
    assert len(set(colours)) == 4


def test_properties_go_with_what_they_belong_to():
    document = done(looks(), kind="remove-members", family="effect", layer="kite", members=["e2"])
    assert not [
        name for name in named(document, "kite").properties if name.startswith("effect.e2.")
    ]
    document = done(document, kind="remove-members", family="mask", layer="kite", members=["m1"])
    assert not [name for name in named(document, "kite").properties if name.startswith("mask.")]
    with pytest.raises(NotFoundError, match="e2"):
        done(
            document,
            kind="change-member",
            family="effect",
            layer="kite",
            member="e2",
            set={"on": False},
        )


def test_effects_are_copied_with_their_keys_and_sets_keep_them():
    document = done(
        looks(),
        kind="copy-members",
        family="effect",
        layer="kite",
        members=["e2"],
        targets=["kite", "name"],
    )
    kite, name = named(document, "kite"), named(document, "name")
    assert [e.kind for e in kite.effects] == ["gaussian-blur", "glow", "glow"]
    copied = name.properties[f"effect.{name.effects[0].id}.size"]
    assert [k.value for k in copied.keys] == [0.0, 30.0]
    document = done(
        document, kind="save-effects", layer="kite", effects=["e1", "e2"], id="mine", name="Mine"
    )
    document = done(document, kind="apply-effects", layers=["bow"], set="mine")
    assert [e.kind for e in named(document, "bow").effects] == ["gaussian-blur", "glow"]
    assert len({e.id for la in document.scenes[0].layers for e in la.effects}) == 8


def test_parameters_are_checked_as_every_property():
    with pytest.raises(DocumentError, match="Size"):
        done(
            looks(),
            kind="add-members",
            family="effect",
            layers=["name"],
            members=[
                {"member": {"id": "x", "kind": "glow"}, "properties": {"size": {"value": -3}}}
            ],
        )
    with pytest.raises(DocumentError, match="weather"):
        done(
            looks(),
            kind="add-members",
            family="effect",
            layers=["name"],
            members=[
                {"member": {"id": "x", "kind": "glow"}, "properties": {"weather": {"value": 1}}}
            ],
        )
    with pytest.raises(DocumentError, match="catalog"):
        done(
            looks(),
            kind="add-members",
            family="effect",
            layers=["name"],
            members=[{"member": {"id": "x", "kind": "sparkle"}}],
        )


def path_of(document, property_id="shape.path", layer_id="tail"):
    return parse_contours(named(document, layer_id).properties[property_id].value)


TAIL = {"kind": "edit-path", "layer": "tail", "property": "shape.path", "time_s": 0.0}


def test_points_move_and_keep_their_handles():
    document = done(looks(), **TAIL, deed="move", points=[[0, 0]], by=[7, -2])
    first = path_of(document)[0].points[0]
    assert first.at == (7, -2) and first.out == (30, -40)


def test_a_point_put_in_keeps_the_picture_and_taking_it_out_is_allowed():
    before = draw(looks())
    added = done(looks(), **TAIL, deed="add", points=[[0, 0]], at=0.4)
    assert len(path_of(added)[0].points) == 5
    assert np.abs(draw(added).astype(int) - before).max() <= 8
    assert len(path_of(done(added, **TAIL, deed="remove", points=[[0, 1]]))[0].points) == 4


def test_bending_moves_the_point_that_was_taken_hold_of():
    document = done(looks(), **TAIL, deed="bend", points=[[0, 1]], at=0.5, by=[12, 0])
    p = path_of(document)[0].segment(1)
    middle = (p[0] + 3 * p[1] + 3 * p[2] + p[3]) / 8
    assert tuple(middle) == pytest.approx((90 + 12, 20), abs=0.01)


def test_smooth_points_turn_both_handles_unless_told_otherwise():
    smooth = done(looks(), **TAIL, deed="smooth", points=[[0, 1]])
    assert path_of(smooth)[0].points[1].smooth
    turned = done(smooth, **TAIL, deed="handle", points=[[0, 1]], side="out", by=[10, 3])
    assert path_of(turned)[0].points[1].smooth
    alone = done(
        smooth, **TAIL, deed="handle", points=[[0, 1]], side="out", by=[10, 30], alone=True
    )
    assert not path_of(alone)[0].points[1].smooth
    assert path_of(done(smooth, **TAIL, deed="corner", points=[[0, 1]]))[0].points[1].out == (0, 0)


def test_path_edits_make_keys_where_a_path_has_keys():
    document = looks()
    path = {"layer": "tail", "property": "shape.path"}
    document = done(document, kind="set-keys", targets=[path], time_s=0.0)
    document = done(document, **{**TAIL, "time_s": 1.0}, deed="move", points=[[0, 0]], by=[0, -20])
    prop = named(document, "tail").properties["shape.path"]
    assert len(prop.keys) == 2 and prop.keys[1].value.startswith("M0 -20")
    half = SceneEvaluator(document, "reveal").values(named(document, "tail"), 0.5)("shape.path")
    assert parse_contours(half)[0].points[0].at == pytest.approx((0, -10), abs=0.5)


def test_wrong_points_are_refused():
    for more in (
        {"deed": "move", "points": [[0, 99]]},
        {"deed": "move", "points": [[3, 0]]},
        {"deed": "add"},
    ):
        with pytest.raises(DocumentError, match="point"):
            done(looks(), **TAIL, **more)
    with pytest.raises(DocumentError, match="two points"):
        done(looks(), **TAIL, deed="remove")
    with pytest.raises(DocumentError, match="no path"):
        done(looks(), **{**TAIL, "property": "rotation"}, deed="reverse")


@pytest.mark.parametrize("how", ["union", "minus", "intersect"])
def test_joined_shapes_have_the_area_of_the_sets(how):
    low = layer(
        "low",
        "shape",
        shape__size=[100.0, 60.0],
        position=[100.0, 90.0],
        rotation=90.0,
        fill__colour="#ffffff",
    )
    high = layer("high", "shape", shape__size=[60.0, 60.0], position=[100.0, 115.0])
    document = project(low, high, ground=None)
    joined = done(document, kind="join-shapes", layers=["low", "high"], how=how, time_s=0.0)
    assert [la.id for la in joined.scenes[0].layers] == ["low"]
    expected = {"union": 60 * 100 + 60 * 60 - 60 * 55, "minus": 60 * 45, "intersect": 60 * 55}[how]
    assert draw(joined)[..., 3].sum() / 255 == pytest.approx(expected, rel=0.01)


def test_outlined_texts_look_as_before():
    document = looks()
    before = draw(document)
    after = draw(done(document, kind="outline-layers", layers=["name"], time_s=0.0))
    assert np.abs(before.astype(int) - after).max() <= 60
    assert np.abs(before.astype(int) - after).mean() < 0.2


def test_a_sliced_layer_becomes_layers_without_a_seam():
    panel = layer("panel", "shape", shape__size=[150.0, 90.0], fill__colour="#ffffff", position=[160.0, 90.0],
                  slices__kind="strips", slices__count=5.0, slices__angle=25.0)  # fmt: skip
    document = project(panel, ground=None)
    before = draw(document)
    pieces = done(document, kind="slice-layer", layer="panel", time_s=0.0)
    assert len(pieces.scenes[0].layers) == 5
    assert np.abs(before.astype(int) - draw(pieces)).max() <= 10
    # Inside, at every size of the stage.
    for scale in (0.2, 0.25, 0.34, 0.77):
        far = np.abs(draw(document, scale=scale).astype(int) - draw(pieces, scale=scale))
        left, right, top, bottom = (round(v * scale) for v in (90, 230, 50, 130))
        assert far[top:bottom, left:right].max() <= 3, scale
    with pytest.raises(DocumentError, match="cut"):
        done(project(layer("panel", "shape")), kind="slice-layer", layer="panel", time_s=0.0)


def test_recolouring_reaches_parts_stops_effects_and_keys():
    document = done(
        looks(), kind="recolour", layers=["bow", "kite"], old="#ffb44a", new="ink:amber"
    )
    assert named(document, "kite").properties["effect.e2.colour"].value == "ink:amber"
    document = done(document, kind="recolour", layers=["bow"], old="#2F9FB3", new="#000000")
    assert named(document, "bow").properties["part.p2.fill.colour"].value == "#000000"


def test_duplicates_refer_to_each_other():
    base = project(
        layer("sail", "shape"), layer("panel", "shape", matte__layer="sail"),
    )  # fmt: skip
    follow = named(base, "panel").model_copy(
        update={"masks": (Mask(id="m", name="M", space="follow", follows="sail"),)}
    )
    base = base.model_copy(
        update={
            "scenes": (base.scenes[0].model_copy(update={"layers": (named(base, "sail"), follow)}),)
        }
    )
    copied = done(base, kind="duplicate-layers", copies={"sail": "sail2", "panel": "panel2"})
    twin = named(copied, "panel2")
    assert twin.properties["matte.layer"].value == "sail2" and twin.masks[0].follows == "sail2"
    assert named(copied, "panel").properties["matte.layer"].value == "sail"


def test_an_ink_that_goes_leaves_its_colour_in_effects_and_sets():
    document = looks()
    inked = done(document, kind="recolour", layers=["kite"], old="#ffb44a", new="ink:amber")
    inked = apply_edit(
        inked,
        parse_edit(
            {"kind": "add-inks", "inks": [{"id": "amber", "name": "Amber", "colour": "#123456"}]}
        ),
        CONTEXT,
    ).project
    inked = done(inked, kind="save-effects", layer="kite", effects=["e2"], id="mine", name="Mine")
    gone = apply_edit(inked, parse_edit({"kind": "remove-ink", "ink": "amber"}), CONTEXT).project
    assert named(gone, "kite").properties["effect.e2.colour"].value == "#123456"
    saved = next(s for s in gone.effect_sets if s.id == "mine")
    assert saved.effects[0].properties["colour"] == Property(value="#123456")


def test_a_table_in_use_is_not_removed():
    table = {
        "id": "dusk",
        "name": "dusk.cube",
        "kind": "table",
        "media_type": "text/x-cube",
        "hash": "d" * 64,
        "size_bytes": 9,
    }
    document = apply_edit(
        looks(), parse_edit({"kind": "add-asset", "asset": table}), CONTEXT
    ).project
    document = done(
        document,
        kind="add-members",
        family="effect",
        layers=["kite"],
        members=[
            {
                "member": {"id": "lut", "kind": "look-up-table"},
                "properties": {"table": {"value": "dusk"}},
            }
        ],
    )
    with pytest.raises(DocumentError, match="used by"):
        apply_edit(document, parse_edit({"kind": "remove-asset", "asset": "dusk"}), CONTEXT)


# What is seen


def test_layers_are_aligned_by_what_is_seen_as_one_and_to_the_first():
    masked_ = layer("panel", "shape", shape__size=[100.0, 40.0], position=[150.0, 90.0])
    document = done(
        project(masked_, layer("dot", "shape", shape__size=[10.0, 10.0], position=[40.0, 30.0])),
        kind="add-members", family="mask", layers=["panel"], members=[{"member": {"id": "m", "name": "M"}, "properties": {
            "path": {"value": "M0 -20H50V20H0Z"}}}],
    )  # fmt: skip
    align = {"kind": "align-layers", "edge": "left", "time_s": 0.0}
    by_box = done(document, **align, layers=["panel"])
    assert named(by_box, "panel").properties["position"].value[0] == pytest.approx(50)
    seen = done(document, **align, layers=["panel"], by="seen")
    assert named(seen, "panel").properties["position"].value[0] == pytest.approx(0, abs=0.1)
    first = done(document, **align, layers=["dot", "panel"], to="first")
    assert named(first, "panel").properties["position"].value[0] == pytest.approx(85)
    assert "position" in named(first, "dot").properties
    as_one = done(document, **align, layers=["dot", "panel"], as_one=True)
    dot, panel = (named(as_one, n).properties["position"].value[0] for n in ("dot", "panel"))
    assert (dot, panel) == (pytest.approx(5), pytest.approx(115))
    with pytest.raises(DocumentError, match="more than one"):
        done(document, **align, layers=["dot"], to="first")


def test_a_script_is_centred_by_its_ink():
    words = layer("words", "text", text="fjord", text__font="caveat", text__size=80.0)
    document = done(project(words), kind="align-layers", layers=["words"], edge="centre",
                    time_s=0.0, by="seen")  # fmt: skip
    columns = np.flatnonzero(draw(document)[:, :, 2].max(axis=0) > 128)
    assert (columns[0] + columns[-1] + 1) / 2 == pytest.approx(160, abs=1)


def test_pieces_are_staggered_where_they_are_seen():
    """Cut layers have one box; their masks tell them apart."""
    panel = layer("panel", "shape", shape__size=[150.0, 90.0], position=[160.0, 90.0],
                  slices__kind="strips", slices__count=4.0, slices__angle=90.0)  # fmt: skip
    document = done(project(panel), kind="slice-layer", layer="panel", time_s=0.0)
    ids = [la.id for la in document.scenes[0].layers]
    down = done(document, kind="stagger", layers=ids[::-1], order="top-to-bottom", frames=5)
    starts = {la.id: round(la.start_s * 25) for la in down.scenes[0].layers}
    tops = {i: CONTEXT.seen(document, "reveal", i, 0.0)[1] for i in ids}
    assert [starts[i] for i in sorted(ids, key=tops.get)] == [0, 5, 10, 15]
    chosen = [ids[2], ids[0], ids[3], ids[1]]
    turns = done(document, kind="stagger", layers=chosen, order="chosen", frames=5)
    starts = {la.id: round(la.start_s * 25) for la in turns.scenes[0].layers}
    assert [starts[i] for i in chosen] == [0, 5, 10, 15]
    again = done(turns, kind="stagger", layers=ids, order="by-start", frames=2, together=True)
    starts = {la.id: round(la.start_s * 25) for la in again.scenes[0].layers}
    assert [starts[i] for i in chosen] == [0, 2, 4, 6]
