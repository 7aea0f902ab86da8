"""Axes of a typeface's own: as HarfBuzz draws them, keyed, mixed, shared by copies."""

import numpy as np
import pytest
import uharfbuzz as hb
from tests.build import CONTEXT, draw, key, layer, project

from young_comet.core.catalog import check_project
from young_comet.core.model import Axis, Property, Run, Shutter
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.typography import FontLibrary
from young_comet.core.typography.shipped import shipped_files
from young_comet.core.typography.style import Letters
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError

S = {"scene": "reveal"}


def soft(value, *, font="fraunces", tag="SOFT", on=True, **more):
    usual = {"text": "Kite", "text__font": font, "text__size": 90.0, "position": [160.0, 90.0]}
    made = layer("title", "text", **{**usual, "fill__colour": "#ffffff", **more})
    prop = value if isinstance(value, Property) else Property(value=value)
    properties = {**made.properties, "axis.a.value": prop}
    axes = (Axis(id="a", tag=tag, on=on),)
    return check_project(project(made.model_copy(update={"axes": axes, "properties": properties})))


def content(document, time_s=0.0):
    evaluator = SceneEvaluator(document, "reveal")
    return evaluator.layer(evaluator.find("title"), time_s).content


def test_letters_along_an_axis_are_those_that_harfbuzz_draws():
    style = content(soft(60.0)).style
    face = FontLibrary().typeface("fraunces").faces[0]
    variation = dict(face.variation(style.letters))
    assert variation == {"SOFT": 60.0, "wght": 600.0, "opsz": 90.0}
    font = hb.Font(hb.Face(hb.Blob(shipped_files("fraunces")[0].read_bytes())))
    font.set_variations(variation)
    glyph = font.get_nominal_glyph(ord("K"))
    extents = font.get_glyph_extents(glyph)
    left, top, right, bottom = face.outline(glyph, face.variation(style.letters)).bounds
    assert (left, -top) == pytest.approx((extents.x_bearing, extents.y_bearing), abs=2)
    assert (right - left, top - bottom) == pytest.approx((extents.width, extents.height), abs=2)


def test_an_axis_changes_letters_only_where_the_typeface_has_it():
    rest = draw(soft(0.0))
    assert not np.array_equal(draw(soft(100.0)), rest)
    assert np.array_equal(draw(soft(1e5)), draw(soft(100.0))), "kept within what the face has"
    assert np.array_equal(draw(soft(100.0, on=False)), rest)
    other = draw(soft(100.0, font="inter"))
    assert np.array_equal(other, draw(soft(0.0, font="inter")))


def test_an_axis_has_keys_motion_blur_and_is_that_of_runs_too():
    keyed = soft(Property(keys=(key(0, 0.0), key(1, 100.0))))
    assert content(keyed, 0.25).style.letters.axes == (("SOFT", 25.0),)
    (made,) = keyed.scenes[0].layers
    run = {"run.r.size": Property(value=120.0), **made.properties}
    styled = made.model_copy(update={"runs": (Run(id="r", first=0, last=1),), "properties": run})
    scene = keyed.scenes[0].model_copy(
        update={"layers": (styled,), "shutter": Shutter(on=True, angle_deg=360.0)}
    )
    whole = check_project(keyed.model_copy(update={"scenes": (scene,)}))
    assert content(whole, 0.5).style.runs[0].letters.axes == (("SOFT", 50.0),)
    assert draw(whole, time_s=0.5)[..., 1].max() > 200


def test_letters_of_other_axes_are_not_mixed():
    a, b = (Letters("fraunces", axes=((tag, 1.0),)) for tag in ("SOFT", "WONK"))
    assert not a.alike(b) and not a.alike(Letters("fraunces")) and a.alike(a)
    assert a.between(Letters("fraunces", axes=(("SOFT", 3.0),)), 0.5).axes == (("SOFT", 2.0),)


@pytest.mark.parametrize(("tag", "said"), [
    ("wght", "property of the text"), ("TOOLONG", "tag"), ("a b!", "tag"), ("", "tag"),
])  # fmt: skip
def test_wrong_axes_are_refused_with_words(tag, said):
    edit = {"kind": "add-members", **S, "family": "axis", "layers": ["title"],
            "members": [{"member": {"id": "b", "tag": tag}}]}  # fmt: skip
    with pytest.raises(DocumentError, match=said):
        apply_edit(soft(0.0), parse_edit(edit), CONTEXT)


def test_an_axis_is_added_once_to_texts_only_and_copies_share_it():
    document = soft(40.0)
    again = {"kind": "add-members", **S, "family": "axis", "layers": ["title"],
             "members": [{"member": {"id": "b", "tag": "SOFT"}}]}  # fmt: skip
    with pytest.raises(DocumentError, match="twice"):
        apply_edit(document, parse_edit(again), CONTEXT)
    linked = {"kind": "duplicate-layers", **S, "copies": {"title": "twin"}, "linked": True}
    document = apply_edit(document, parse_edit(linked), CONTEXT).project
    value = {"kind": "set-values", **S, "targets": [
        {"layer": "title", "property": "axis.a.value", "value": 70.0}]}  # fmt: skip
    document = apply_edit(document, parse_edit(value), CONTEXT).project
    gone = {"kind": "remove-members", **S, "family": "axis", "layer": "title", "members": ["a"]}
    twins = document.scenes[0].layers
    assert [each.properties["axis.a.value"].value for each in twins] == [70.0, 70.0]
    bare = apply_edit(document, parse_edit(gone), CONTEXT).project
    assert all(
        not each.axes and "axis.a.value" not in each.properties for each in bare.scenes[0].layers
    )
    outlined = {"kind": "outline-layers", **S, "layers": ["title"], "time_s": 0}
    shape = apply_edit(document, parse_edit(outlined), CONTEXT).project.scenes[0].layers[0]
    assert shape.kind == "shape" and not shape.axes
