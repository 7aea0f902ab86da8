"""Keeping aligned, fitting, copies."""

from __future__ import annotations

import math

import numpy as np
import pytest
from tests.build import CONTEXT, LIBRARY, draw, key, layer, project
from tests.linked import at, evaluator, expressed, riding

from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import layers_at
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError

# Keeping aligned, fitting


def test_a_retyped_name_stays_at_the_right_edge():
    def right(text):
        ev = evaluator(
            layer("name", "text", text=text, text__size=20.0, align__x="right", align__y="bottom",
                  position=[-12, -8]),
        )  # fmt: skip
        values = ev.values(ev.find("name"), 0)
        return ev.matrix(values).box(ev.content_box(values))

    short, long = right("Bo"), right("Gullwing Bay")
    assert short[2] == pytest.approx(308) and long[2] == pytest.approx(308)
    assert short[3] == pytest.approx(172) and long[3] == pytest.approx(172)
    assert long[0] < short[0] - 50


def test_alignment_follows_frame_safe_area_and_layers():
    ev = evaluator(
        layer("panel", "shape", shape__size=[100, 40], position=[160, 100], scale=[200, 200]),
        layer("dot", "shape", shape__size=[10, 10], align__x="after", align__y="centre",
              align__to="layer", align__layer="panel", position=[6, 0]),
        layer("corner", "shape", shape__size=[20, 20], align__x="left", align__y="top",
              align__to="safe", position=[0, 0]),
        riding("inner", "panel", shape__size=[10, 10], align__x="left", align__to="layer",
               align__layer="panel", position=[0, 0]),
    )  # fmt: skip
    assert at(ev, "dot")((0, 0)) == pytest.approx((160 + 100 + 5 + 6, 100))
    assert at(ev, "corner")((0, 0)) == pytest.approx((16 + 10, 9 + 10))
    assert at(ev, "inner")((0, 0))[0] == pytest.approx(60 + 10)


@pytest.mark.parametrize("keyed", [False, True])
def test_alignment_is_set_without_a_jump_and_keeps_the_distance(keyed):
    place = [key(0, [100, 60]), key(2, [180, 120])] if keyed else [100, 60]
    document = project(layer("name", "text", text="Gull", text__size=20.0, position=place))
    edit = {"kind": "keep-aligned", "scene": "reveal", "layers": ["name"], "x": "right", "y": "bottom",
            "to": "safe", "time_s": 1.0}  # fmt: skip
    kept = apply_edit(document, parse_edit(edit), CONTEXT).project
    for moment in (0.0, 1.0, 2.0):
        assert np.array_equal(draw(document, moment), draw(kept, moment))
    free = apply_edit(kept, parse_edit({**edit, "x": "none", "y": "none"}), CONTEXT).project
    assert np.array_equal(draw(free, 1.0), draw(document, 1.0))
    with pytest.raises(DocumentError, match="circle"):
        wrong = {**edit, "to": "layer", "layer": "name"}
        apply_edit(document, parse_edit(wrong), CONTEXT)


def test_a_bar_grows_with_its_text():
    def size(text):
        ev = evaluator(
            layer("name", "text", text=text, text__size=20.0, scale=[150, 150]),
            layer("bar", "shape", fit__layer="name", fit__margin=[10, 4]),
        )
        values = ev.values(ev.find("name"), 0)
        box = ev.content_box(values)
        bar = ev.content_box(ev.values(ev.find("bar"), 0))
        assert bar[2] - bar[0] == pytest.approx(1.5 * (box[2] - box[0]) + 20)
        assert bar[3] - bar[1] == pytest.approx(1.5 * (box[3] - box[1]) + 8)
        return bar[2] - bar[0]

    assert size("Gullwing Bay") > size("Bo") + 40


# Copies


def test_copies_step_in_place_time_opacity_and_ink():
    ev = evaluator(
        layer("dot", "shape", shape__size=[10, 10], fill__colour="#000000", opacity=80.0,
              position=[key(0, [20, 50]), key(1, [20, 100])], copies__count=3.0,
              copies__position=[30, 0], copies__delay=0.5, copies__opacity=50.0,
              copies__rotation=10.0, copies__scale=[50, 50], copies__inked=True,
              copies__ink="#ffffff"),
    )  # fmt: skip
    found = ev.at(1.0).layers[::-1]
    assert [round(la.opacity, 3) for la in found] == [0.8, 0.4, 0.2]
    assert [la.matrix((0, 0)) for la in found] == [
        pytest.approx(p) for p in ((20, 100), (50, 75), (80, 50))
    ]
    assert [round(la.matrix.mean_scale, 3) for la in found] == [1, 0.5, 0.25]
    assert [round(la.content.surface.fill[0], 2) for la in found] == [0, 0.5, 1]
    lowest = ev.at(1.0).layers[0]
    assert lowest.opacity == pytest.approx(0.2)


def test_expressions_know_the_number_of_a_copy():
    ev = evaluator(
        expressed("dot", copies__count=4.0, copies__position=[0, 0],
                  rotation="=360 * nth / count", shape__size=[20, 10]),
    )  # fmt: skip
    turns = [
        math.degrees(math.atan2(la.matrix.b, la.matrix.a)) % 360 for la in ev.at(0).layers[::-1]
    ]
    assert turns == pytest.approx([0, 90, 180, 270])


def test_a_copy_is_hit_as_its_layer_is():
    ev = evaluator(
        layer("sky", "backdrop"),
        layer("dot", "shape", shape__size=[10, 10], position=[40, 40], copies__count=3.0,
              copies__position=[60, 20], copies__opacity=50.0),
    )  # fmt: skip
    hit = lambda x, y: layers_at(ev, LIBRARY, 0.0, (x, y))  # noqa: E731
    assert [hit(x, y) for x, y in ((40, 40), (100, 60), (160, 80))] == [["dot", "sky"]] * 3
    assert hit(220, 100) == ["sky"] == hit(70, 50)


@pytest.mark.parametrize("keep", [True, False])
def test_what_is_kept_aligned_goes_there_first_or_keeps_its_distance(keep):
    """With a position of keys, all of them move along."""
    base = project(
        layer("panel", "shape", shape__size=[60, 20], position=[100, 60]),
        layer("dot", "shape", shape__size=[10, 10], position=[key(0, [20, 30]), key(2, [60, 150])]),
    )
    edit = {"kind": "keep-aligned", "scene": "reveal", "layers": ["dot"], "x": "left",
            "to": "layer", "layer": "panel", "keep_distance": keep, "time_s": 0.0}  # fmt: skip
    document = apply_edit(base, parse_edit(edit), CONTEXT).project
    places = []
    for time_s in (0.0, 2.0):
        ev = SceneEvaluator(document, "reveal")
        found = ev.layer(ev.find("dot"), time_s)
        places.append(found.matrix((0, 0)))
    assert places[0] == pytest.approx((20, 30) if keep else (75, 30))
    assert places[1] == pytest.approx((60, 150) if keep else (115, 150))


def test_what_aligns_and_rides_goes_along_on_both_axes_unless_it_is_pinned():
    """A tag at the frame's right edge rides on a carrier that slides in and out: in the middle of
    its time the tag is at the edge, and it comes and goes with the carrier; pinned it stays."""
    from young_comet.core.model import load_project

    carrier = layer(
        "carrier",
        "carrier",
        position=[key(0, [-140, 60]), key(1, [160, 90]), key(3, [160, 90]), key(4, [160, 390])],
    )
    for pinned in (False, True):
        tag = riding("tag", "carrier", shape__size=[40, 20], align__x="right", align__y="top",
                     position=[-10, 5], align__pinned=pinned)  # fmt: skip
        ev = evaluator(carrier, tag)
        boxes = {}
        for time_s in (0.0, 0.5, 2.0, 3.5, 4.0):
            values = ev.values(ev.find("tag"), time_s)
            boxes[time_s] = ev.matrix(values).box(ev.content_box(values))
        assert boxes[2.0] == pytest.approx((270, 5, 310, 25))
        away = {0.0: (-300, -30), 0.5: (-150, -15), 3.5: (0, 150), 4.0: (0, 300)}
        for time_s, (dx, dy) in away.items():
            goal = (270, 5, 310, 25) if pinned else (270 + dx, 5 + dy, 310 + dx, 25 + dy)
            assert boxes[time_s] == pytest.approx(goal), (pinned, time_s)
    # Older documents look as they did: pinned.
    tag = riding("tag", "carrier", align__x="right")
    data = project(carrier, tag).model_dump(mode="json")
    old = load_project({**data, "schema_version": 5})
    assert old.scenes[0].layers[1].properties["align.pinned"].value is True
    free = load_project(
        {
            **data,
            "schema_version": 5,
            "scenes": [{**data["scenes"][0], "layers": [data["scenes"][0]["layers"][0]]}],
        }
    )
    assert "align.pinned" not in free.scenes[0].layers[0].properties


@pytest.mark.parametrize("carrier", ["gone", "flat", "loop"])
def test_a_reference_that_has_no_size_or_is_not_there_does_no_harm(carrier):
    ridden = layer("carrier", "shape", scale=[0.0, 0.0] if carrier == "flat" else [100.0, 100.0])
    tag = riding(
        "tag", "nobody" if carrier == "gone" else "carrier", align__x="right", align__y="top"
    )
    if carrier == "loop":
        ridden = layer("carrier", "shape", align__x="left", align__to="layer", align__layer="other")
    if carrier == "gone":
        ridden = layer("other", "shape")
        tag = tag.model_copy(update={"rides": None})
    ev = evaluator(ridden, tag)
    assert ev.at(1.0).layers is not None
