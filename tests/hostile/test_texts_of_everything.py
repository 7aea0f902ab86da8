"""Texts with everything at once: no combination fails to be drawn, and edits of them are sound."""

from __future__ import annotations

import random

import numpy as np
import pytest
from tests.build import NoAssets, draw, layer, project
from tests.edits.test_edits import applied

from young_comet.core.catalog import READY_FRONTS, check_project
from young_comet.core.model import Axis, Property, Run, Shutter
from young_comet.core.moves import MOVES as KINDS
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.errors import YoungCometError

S = {"scene": "reveal"}
OPTIONS = {
    "text": ["Kite Week", "", "a", "Hold on\nto the # wind", "שלום kite", "e\u0301\U0001f469\u200d\U0001f467 x"],
    "text__size": [40.0, 1.0, 4000.0], "text__tracking": [0.0, -900.0],
    "text__font": ["archivo", "fraunces", "pacifico"], "text__box": ["typed", "box"],
    "text__box_size": [[120.0, 60.0]], "text__fit": ["over", "shrink"],
    "text__path": ["", "M-100 0 C-40 -90 40 90 100 0"], "text__stacking": ["forward", "back", "middle"],
    "stroke__width": [0.0, 6.0], "stroke__side": ["centre", "outside", "inside", "beneath"],
    "stroke__outer": [0.0, 5.0], "stroke__dash": ["", "8 4"], "stroke__filled": [False, True],
    "stroke__fixed": [False, True], "shadow__opacity": [0.0, 70.0], "shadow__blur": [0.0, 9.0],
    "behind__across": ["none", "line", "word", "block"], "behind__kind": ["flat", "linear"],
    "number__shows": ["none", "number", "time"], "number__rolls": [True, False],
    "number__value": [7.5, -0.3, 999.9], "fill__kind": ["flat", "linear", "conic"],
    "fill__across": ["block", "letter", "word", "line"], "fill__on": [True, False],
    "tilt": [0.0, 60.0], "rotation": [0.0, 33.0], "opacity": [100.0, 40.0],
    "scale": [[100.0, 100.0], [0.0, 100.0], [-50.0, 300.0]], "blend": ["normal", "multiply"],
    "position": [[160.0, 90.0], [0.0, 0.0], [-900.0, 90.0]], "slices__kind": ["none", "strips", "tiles"],
    "copies__count": [1.0, 3.0],
}  # fmt: skip
RUN = {"shadow.opacity": 80.0, "stroke.outer": 3.0, "stroke.side": "outside", "size": 70.0,
       "behind.across": "word"}  # fmt: skip
MOVES = ["slide", "unroll", "draw-on", "type-on", "iris", "lift", "turn-in", "scramble"]
EDITS = [
    {"kind": "outline-layers", "layers": ["title"], "time_s": 0.3},
    {"kind": "slice-layer", "layer": "title", "time_s": 0.3},
    {"kind": "split-layers", "time_s": 0.6, "ids": {"title": "second"}},
    {"kind": "save-type-style", "layer": "title", "id": "s", "name": "S"},
    {"kind": "duplicate-layers", "copies": {"title": "twin"}, "linked": True},
]
# What a text may rightly say of itself.
SAID = ("do not fit into its box", "it has no letters for")


def made(chance):
    """A text of some of everything."""
    values = {name: chance.choice(each) for name, each in OPTIONS.items() if chance.random() < 0.5}
    text = layer("title", "text", **{"position": [160.0, 90.0], **values})
    properties, runs, axes = dict(text.properties), (), ()
    if chance.random() < 0.4 and len(values.get("text", "Text")) > 3:
        runs = (Run(id="r", first=1, last=3),)
        own = {name: value for name, value in RUN.items() if chance.random() < 0.5}
        properties |= {f"run.r.{name}": Property(value=value) for name, value in own.items()}
    if chance.random() < 0.3:
        axes = (Axis(id="a", tag="SOFT"),)
        properties["axis.a.value"] = Property(value=55.0)
    text = text.model_copy(update={"properties": properties, "runs": runs, "axes": axes})
    whole = project(text)
    shutter = Shutter(on=chance.random() < 0.3, angle_deg=360.0)
    scene = whole.scenes[0].model_copy(update={"shutter": shutter})
    whole = check_project(whole.model_copy(update={"scenes": (scene,)}))
    for number in range(chance.randint(0, 2)):
        ready = chance.choice(list(READY_FRONTS))
        worn = {"kind": "wear-front", **S, "layers": ["title"], "id": f"f{number}", "ready": ready}
        whole = applied(whole, worn).project
    if chance.random() < 0.4:
        kind = chance.choice(MOVES)
        over = chance.choice([each for each, _ in KINDS[kind].by_id["spread.over"].options])
        move = {"kind": "wear-move", **S, "layers": ["title"], "id": "m", "move": kind,
                "phase": chance.choice(["arrive", "leave"]), "values": {"spread.over": over}}  # fmt: skip
        whole = applied(whole, move).project
    return whole


def faults(whole, *times):
    """What could not be drawn, at some moments."""
    library = MediaLibrary(NoAssets())
    evaluator, renderer = SceneEvaluator(whole, "reveal", library=library), Renderer(library)
    found: list[str] = []
    for time_s in times:
        renderer.render(evaluator.at(time_s), 320, 180)
        found += [fault.why for fault in renderer.faults]
    return [why for why in found if not any(said in why for said in SAID)]


@pytest.mark.parametrize("seed", range(60))
def test_texts_of_everything_are_drawn_and_edited_without_a_fault(seed):
    chance = random.Random(seed)
    whole = made(chance)
    assert not faults(whole, 0.0, 0.21, 0.6, 3.9)
    for edit in EDITS:
        try:
            result = applied(whole, {**S, **edit})
        except YoungCometError as error:
            assert str(error)  # refused with words: an empty text has no outline
            continue
        assert not faults(check_project(result.project), 0.21)


def test_a_fault_is_seen_and_what_lies_above_is_drawn_all_the_same(monkeypatch):
    monkeypatch.setattr("young_comet.core.paint.draw.wipe_paint", lambda *_: 1 / 0)
    values = {"front.f.wiped": 50.0, "front.f.progress": 0.0}
    text = layer("title", "text", position=[160.0, 90.0], text__size=30.0)
    properties = text.properties | {name: Property(value=value) for name, value in values.items()}
    worn = {"fronts": ({"id": "f"},), "properties": properties}
    failing = type(text).model_validate({**text.model_dump(), **worn})
    above = layer("sail", "shape", shape__size=[40.0, 40.0], position=[300.0, 20.0],
                  fill__colour="#00ff00")  # fmt: skip
    whole = check_project(project(failing, above))
    assert faults(whole, 0.0)
    alone = draw(check_project(project(above)))
    assert np.array_equal(draw(whole)[:50, 270:], alone[:50, 270:])
