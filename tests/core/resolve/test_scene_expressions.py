"""Expressions that read other layers of a scene."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import CONTEXT, key, layer, project
from tests.linked import evaluator, expressed

from young_comet.core.catalog import check_project
from young_comet.core.model import Mark
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError


def test_expressions_read_other_layers_marks_and_sizes():
    ev = evaluator(
        layer("kite", "shape", position=[key(0, [0, 0]), key(2, [200, 100])], start_s=1.0),
        expressed("bow", position='=of("Kite", "position", at=T - 0.5) + [0, 10]',
                  opacity='=100 * (T > mark("hit"))', rotation='=rate("Kite", "position").x'),
        layer("name", "text", text="Gull", text__size=20.0),
        expressed("bar", shape__size='=[of("Name", "width") + 8, 4]'),
        marks=(Mark(id="m", name="hit", time_s=1.76),),
    )  # fmt: skip
    values = ev.values(ev.find("bow"), 2.0)
    assert values("position") == pytest.approx((50, 35))
    assert values("opacity") == 100 and ev.values(ev.find("bow"), 1.0)("opacity") == 0
    assert values("rotation") == pytest.approx(100)
    name = ev.content_box(ev.values(ev.find("name"), 0))
    bar = ev.content_box(ev.values(ev.find("bar"), 0))
    assert bar[2] - bar[0] == pytest.approx(name[2] - name[0] + 8)


def test_an_expression_without_a_result_leaves_the_keys_and_says_why():
    ev = evaluator(expressed("bow", rotation='=of("Kite", "rotation") + 1', opacity="=1 / (t - 1)"))
    bow = ev.find("bow")
    assert ev.values(bow, 1.0)("rotation") == 0
    assert ev.values(bow, 1.0)("opacity") == 100
    assert "no layer 'Kite'" in ev.faults["bow", "rotation"]
    assert "division" in ev.faults["bow", "opacity"]
    assert ev.values(bow, 2.0)("opacity") == 1
    assert ("bow", "opacity") not in ev.faults


def test_results_do_not_depend_on_what_was_asked_before():
    layers = [
        layer("l0", "shape", rotation=[key(0, 0.0), key(4, 90.0)]),
        *(expressed(f"l{i}", rotation=f'=of("L{i - 1}", "rotation", at=T - 0.1) + sway(5, seed={i})')
          for i in range(1, 20)),
    ]  # fmt: skip
    forth, back = evaluator(*layers), evaluator(*layers)
    moments = [i / 5 for i in range(20)]
    a = [[forth.values(la, t)("rotation") for la in forth.scene.layers] for t in moments]
    b = [
        [back.values(la, t)("rotation") for la in reversed(back.scene.layers)]
        for t in reversed(moments)
    ]
    assert a == [row[::-1] for row in b[::-1]]


@pytest.mark.parametrize(
    ("layers", "words"),
    [
        ((expressed("a", rotation='=of("B", "rotation")'), expressed("b", rotation='=of("A", "rotation")')),
         ("circle", "'A' rotation", "'B' rotation")),
        ((expressed("a", position='=of("A", "position")'),), ("circle",)),
        ((expressed("a", "text", text='="" + of("A", "width")'),), ("circle",)),
        ((expressed("a", shape__size='=[of("B", "width"), 9]'), layer("b", "shape", fit__layer="a")),
         ("circle",)),
        (tuple([layer("l0", "shape")] + [expressed(f"l{i}", rotation=f'=of("L{i - 1}", "rotation")')
                                         for i in range(1, 70)]), ("more than 60",)),
        ((expressed("a", rotation="=keyed +"),), ("expression", "missing")),
    ],
)  # fmt: skip
def test_circles_between_properties_are_named(layers, words):
    with pytest.raises(DocumentError) as caught:
        project(*layers)
    for word in words:
        assert word in str(caught.value)


def test_a_rename_keeps_links_whole_and_refuses_to_mix_them_up():
    document = project(
        layer("kite", "shape", rotation=30.0),
        expressed("bow", rotation='=of("Kite", "rotation") * 2'),
        layer("tail", "shape"),
    )
    rename = {"kind": "change-layers", "scene": "reveal", "layers": ["kite"], "name": 'The "Gull"'}
    done = apply_edit(document, parse_edit(rename), CONTEXT).project
    ev = SceneEvaluator(done, "reveal")
    assert ev.values(ev.find("bow"), 0)("rotation") == 60
    for wrong in ({**rename, "name": "Tail"}, {**rename, "layers": ["tail"], "name": "Kite"}):
        with pytest.raises(DocumentError, match="already"):
            apply_edit(document, parse_edit(wrong), CONTEXT)


def test_links_copied_together_read_the_copies():
    document = project(
        layer("kite", "shape", rotation=30.0), expressed("bow", rotation='=of("Kite", "rotation")')
    )
    edit = {"kind": "duplicate-layers", "scene": "reveal", "copies": {"kite": "k2", "bow": "b2"}}
    done = apply_edit(document, parse_edit(edit), CONTEXT).project
    texts = {
        la.id: la.properties["rotation"].expression
        for la in done.scenes[0].layers
        if la.id in ("bow", "b2")
    }
    assert texts == {"bow": 'of("Kite", "rotation")', "b2": 'of("Kite 2", "rotation")'}


@pytest.mark.parametrize(
    ("name", "text", "tolerance"),
    [
        ("rotation", "keyed + 30 * sin(180 * t)", 0.5),
        ("position", "[160 + 80 * cos(90 * t), 90 + 40 * sin(90 * t)]", 1.0),
        ("opacity", "50 + sway(40, every=0.7)", 0.5),
        ("fill__colour", "[t / 4, 0.5, 1 - t / 4]", 1.0),
        ("rotation", "12", 0.5),
    ],
)
def test_baking_gives_few_keys_that_follow_the_expression(name, text, tolerance):
    document = project(expressed("kite", **{name: f"={text}"}))
    name = name.replace("__", ".")
    edit = {"kind": "bake-expressions", "scene": "reveal", "tolerance": tolerance,
            "targets": [{"layer": "kite", "property": name}]}  # fmt: skip
    done = apply_edit(document, parse_edit(edit), CONTEXT).project
    old, new = SceneEvaluator(document, "reveal"), SceneEvaluator(done, "reveal")
    prop = new.find("kite").properties[name]
    assert not prop.expression and len(prop.keys) < 40
    for frame in range(100):
        a, b = (np.array(ev.values(ev.find("kite"), frame / 25)(name)) for ev in (old, new))
        limit = tolerance * (0.015 if name == "fill.colour" else 1.6)
        assert np.abs(a - b).max() <= limit


def test_links_are_written_as_expressions():
    document = project(
        layer("kite", "shape", position=[key(0, [0, 0]), key(2, [100, 50])]), layer("bow", "shape")
    )
    edit = {"kind": "link-properties", "scene": "reveal", "layer": "kite", "property": "position",
            "targets": [{"layer": "bow", "property": "position"}], "delay_s": 0.5, "factor": 2,
            "offset": [5, 0]}  # fmt: skip
    done = apply_edit(document, parse_edit(edit), CONTEXT).project
    ev = SceneEvaluator(done, "reveal")
    assert ev.find("bow").properties["position"].expression == (
        'of("Kite", "position", at=T - 0.5) * 2 + [5, 0]'
    )
    assert ev.values(ev.find("bow"), 1.5)("position") == pytest.approx((105, 50))


def test_documents_of_version_three_are_read():
    from young_comet.core.model import load_project
    from young_comet.edits.patch import plain

    data = plain(project(layer("kite", "shape")))
    old = {**data, "schema_version": 3}
    assert check_project(load_project(old)).scenes[0].layers[0].rides is None


def test_a_property_with_only_an_expression_has_a_lane_with_its_course():
    """What the formula gives at every frame; keys are none."""
    import math

    from young_comet.core.views import LaneCache, lanes_of

    made = expressed("kite", "text", rotation="=30 * sin(360 * t)", position="=[100 + 50 * t, 90]",
                     fill__colour='=pick(["#000000", "#ffffff"], floor(t))', text='=clock(t, "ss")')  # fmt: skip
    ev = SceneEvaluator(project(made), "reveal")
    lanes = {
        lane["property"]: lane for lane in lanes_of(ev, ev.find("kite"), LaneCache(), frozenset())
    }
    assert "rotation" in lanes and "position" in lanes and "text" not in lanes
    lane = lanes["rotation"]
    assert lane["keys"] == [] and len(lane["times"]) == 101
    for time_s, value in zip(lane["times"], lane["curves"][0], strict=True):
        assert value == pytest.approx(30 * math.sin(math.radians(360 * time_s)), abs=1e-3)
    assert lane["low"] < -29 and lane["high"] > 29
    assert lanes["position"]["curves"][0][-1] == pytest.approx(300)
    # Formulas that fail at some moments leave what value or keys give there.
    broken = expressed("kite", "text", rotation="=1 / (t - 1)")
    ev = SceneEvaluator(project(broken), "reveal")
    assert lanes_of(ev, ev.find("kite"), LaneCache(), frozenset({"kite|rotation"}))
