"""A frame as SVG, drawn again by another renderer and laid beside our own picture of it."""

from __future__ import annotations

import xml.etree.ElementTree as ET

import cv2
import numpy as np
import pytest
import resvg_py
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.build import NoAssets, layer, project, scene

from young_comet.core.catalog import check_project
from young_comet.core.export import pictured
from young_comet.core.export.vector import write_svg
from young_comet.core.geometry.outline import from_svg_path
from young_comet.core.geometry.path_data import number, write_svg_path
from young_comet.core.model import Effect, Front, Mask, Move, Project, Property, Run
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator

SIZE = (320, 180)
SVG = "{http://www.w3.org/2000/svg}"


def both(whole, time_s=1.0, size=SIZE):
    """The file, its picture by resvg and ours (BGR over black), and what only pixels can show."""
    library = MediaLibrary(NoAssets())
    evaluator = SceneEvaluator(whole, "reveal", library=library)
    frame = evaluator.at(time_s)
    renderer = Renderer(library)
    data = write_svg(frame, size, library, lambda other: renderer.render(other, *size))
    ours = renderer.render(frame, *size)
    drawn = bytes(resvg_py.svg_to_bytes(svg_string=data.decode()))
    theirs = cv2.imdecode(np.frombuffer(drawn, np.uint8), cv2.IMREAD_UNCHANGED)
    straight = theirs.astype(float)
    flat = straight[..., :3] * straight[..., 3:] / 255
    return data.decode(), flat, ours[..., :3].astype(float), pictured(frame)


def assert_near(theirs, ours, mean=0.6, far=0.004):
    apart = np.abs(theirs - ours)
    assert apart.mean() < mean
    assert (apart.max(axis=2) > 24).mean() < far


TEAL, EMBER = "#2f9fb3", "#ff7a45"
STOPS = ((0.0, "#ff7a45"), (0.5, "#2f9fb300"), (1.0, "#ffffff"))
LINEAR = {
    "fill__stops": STOPS,
    "fill__kind": "linear",
    "fill__start": (0.0, 0.2),
    "fill__end": (1.0, 0.8),
}
LAYERS = {
    "flat": layer("flat", "shape", shape__kind="rectangle", shape__size=(120, 60), position=(150, 90),
                  fill__colour=TEAL, rotation=20.0),
    "faint": layer("faint", "shape", shape__kind="ellipse", shape__size=(150, 90), position=(150, 90),
                   opacity=45.0, fill__colour=EMBER, stroke__width=12.0),
    "star": layer("star", "shape", shape__kind="star", position=(160, 90), shape__radius=80.0, shape__corners=7,
                  stroke__width=5.0, stroke__colour="#ffffff88"),
    "linear": layer("linear", "shape", shape__kind="rectangle", shape__size=(200, 90), position=(150, 90), **LINEAR),
    "radial": layer("radial", "shape", shape__kind="rectangle", shape__size=(200, 90), position=(150, 90),
                    **LINEAR | {"fill__kind": "radial", "fill__start": (0.4, 0.5)}),
    "conic": layer("conic", "shape", shape__kind="rectangle", shape__size=(200, 90), position=(150, 90),
                   **LINEAR | {"fill__kind": "conic"}),
    "dashed": layer("dashed", "shape", shape__kind="path", shape__path="M-90 0 C-40 -90 40 90 90 0",
                    position=(160, 90), fill__on=False, stroke__width=7.0,
                    stroke__dash="14 9", stroke__cap="round"),
    "drawn": layer("drawn", "shape", shape__kind="ellipse", shape__size=(140, 120), position=(160, 90),
                   fill__on=False, stroke__width=9.0, drawn__from=10.0,
                   drawn__to=70.0),
    "words": layer("words", "text", text="Gullwing Bay & Kites", text__size=34, position=(160, 100)),
    "outlined": layer("outlined", "text", text="Kite\nWeek", text__size=60, position=(160, 80),
                      stroke__width=3.0, stroke__colour=EMBER, opacity=70.0),
    "sky": layer("sky", "backdrop", **LINEAR),
    "outside": layer("outside", "shape", shape__kind="ellipse", shape__size=(90, 90), position=(-400, 90)),
    "across": layer("across", "shape", shape__kind="ellipse", shape__size=(90, 90), position=(320, 0)),
    "huge": layer("huge", "shape", shape__kind="rectangle", shape__size=(90, 90), position=(160, 90),
                  scale=(100_000.0, 100_000.0), fill__colour="#224455"),
    "nothing": layer("nothing", "shape", shape__kind="rectangle", shape__size=(90, 90), position=(160, 90),
                     scale=(0.0, 100.0)),
    "fixed": layer("fixed", "shape", shape__kind="rectangle", shape__size=(20, 20), position=(160, 90),
                   scale=(400.0, 100.0), fill__on=False, stroke__width=6.0,
                   stroke__fixed=True),
}  # fmt: skip


def known(each):
    """A layer with the properties that its kind has; those of a wrong name are an error."""
    return check_project(project(each))


@pytest.mark.parametrize("name", LAYERS)
def test_every_kind_of_layer_is_drawn_alike_by_another_renderer(name):
    text, theirs, ours, gone = both(project(LAYERS[name], ground="#101522"))
    assert_near(theirs, ours)
    assert (name in gone) == (name == "conic")
    assert ("<image" in text) == (name == "conic")


@pytest.mark.parametrize("blend", ["multiply", "screen", "overlay", "difference", "color-dodge"])
def test_blending_is_that_of_css(blend):
    whole = project(
        LAYERS["sky"],
        LAYERS["radial"].model_copy(
            update={"properties": LAYERS["radial"].properties | {"blend": Property(value=blend)}}
        ),
    )
    text, theirs, ours, _ = both(whole)
    assert f"mix-blend-mode:{blend}" in text and "<image" not in text
    assert_near(theirs, ours, mean=1.0)


def test_what_only_pixels_show_is_a_picture_in_its_place():
    def wearing(**more):
        return LAYERS["star"].model_copy(update=more)

    blurred = wearing(effects=(Effect(id="soft", kind="gaussian-blur"),))
    masked = wearing(masks=(Mask(id="hole", name="Hole"),))
    turned = wearing(properties=LAYERS["star"].properties | {"tilt": Property(value=50.0)})
    for each in (blurred, masked, turned):
        text, theirs, ours, gone = both(project(LAYERS["sky"], each, LAYERS["words"]))
        assert gone == ("star",) and text.count("<image") == 1 and text.count("aria-label") == 1
        assert_near(theirs, ours)
        image = ET.fromstring(text).find(f".//{SVG}image")
        assert float(image.get("width")) < 320  # no larger than what is seen of it


def test_a_treatment_makes_one_picture_of_all_below():
    grain = layer("grain", "treatment").model_copy(
        update={"effects": (Effect(id="g", kind="gaussian-blur"),)}
    )
    text, theirs, ours, gone = both(project(LAYERS["sky"], LAYERS["star"], grain, LAYERS["words"]))
    assert gone == ("sky", "star", "grain") and text.count("<image") == 1
    assert_near(theirs, ours)


def test_a_placed_scene_is_paths_cut_off_at_its_frame():
    inner = scene(LAYERS["sky"], LAYERS["words"], LAYERS["across"], width=320, height=180)
    inner = inner.model_copy(update={"id": "inner", "name": "Inner"})
    placed = layer(
        "placed",
        "scene",
        scene__id="inner",
        position=(180, 80),
        scale=(60.0, 60.0),
        rotation=12.0,
        opacity=80.0,
    )
    outer = scene(LAYERS["flat"], placed)
    whole = check_project(Project(id="kites", name="Kites", scenes=(outer, inner)))
    text, theirs, ours, gone = both(whole)
    assert not gone and "<clipPath" in text and "<image" not in text
    assert_near(theirs, ours, far=0.01)  # ours is a picture that has been made smaller
    soft = inner.layers[1].model_copy(
        update={"effects": (Effect(id="soft", kind="gaussian-blur"),)}
    )
    inner = inner.model_copy(update={"layers": (inner.layers[0], soft)})
    whole = check_project(Project(id="kites", name="Kites", scenes=(outer, inner)))
    text, theirs, ours, gone = both(whole)
    assert gone == ("placed",) and text.count("<image") == 1
    assert_near(theirs, ours)


def test_letters_on_their_way_are_where_they_are():
    words = LAYERS["words"].model_copy(
        update={"moves": (Move(id="in", kind="lift", phase="arrive"),), "arrive_s": 2.0,
                "properties": LAYERS["words"].properties
                | {"move.in.spread.over": Property(value="letters")}})  # fmt: skip
    text, theirs, ours, gone = both(project(words))
    assert not gone and text.count("<path") > 3
    assert_near(theirs, ours)


def test_a_larger_file_has_the_same_paths():
    small = both(project(LAYERS["star"]))[0]
    large = both(project(LAYERS["star"]), size=(1280, 720))[0]
    assert 'width="1280"' in large and small.split("viewBox")[1] == large.split("viewBox")[1]


@pytest.mark.parametrize("text", ['</svg><script>alert("Bay")</script>', "a\"'&<>", "😀 קיט"])
def test_what_a_text_says_cannot_leave_its_attribute(text):
    data = both(project(layer("words", "text", text=text, text__size=20, position=(90, 90))))[0]
    root = ET.fromstring(data)
    assert {each.tag.removeprefix(SVG) for each in root.iter()} <= {"svg", "rect", "g", "path"}
    assert [g.get("aria-label") for g in root.iter(f"{SVG}g")] == [text]


def test_letters_that_no_xml_may_have_are_left_out():
    text = layer("words", "text", text="Gull\x0bwing\x00", text__size=20, position=(90, 90))
    root = ET.fromstring(both(project(text))[0])
    assert [g.get("aria-label") for g in root.iter(f"{SVG}g")] == ["Gullwing"]


def test_an_empty_frame_and_one_without_ground():
    assert "<rect" in both(project())[0]
    bare = both(project(LAYERS["words"], ground=None))[0]
    assert "<rect" not in bare and "<path" in bare
    assert ET.fromstring(both(project(ground=None))[0]).tag == f"{SVG}svg"


@settings(max_examples=80, deadline=None)
@given(st.floats(allow_nan=True, allow_infinity=True))
def test_numbers_are_what_svg_reads(value):
    text = number(value)
    assert "e" not in text and "n" not in text
    if abs(value) < 1e9 and abs(value) > 1e-6:
        assert float(text) == pytest.approx(value, rel=1e-6, abs=1e-9)


@pytest.mark.parametrize("data", ["M0 0L10 0L10 10Z", "M0 0C5 9 9 5 10 10", "M0 0Q5 9 10 0M20 20L30 30",
                                  "M0 5A5 5 0 1 1 10 5A5 5 0 1 1 0 5Z", ""])  # fmt: skip
def test_paths_read_again_are_the_same(data):
    first = from_svg_path(data)
    again = from_svg_path(write_svg_path(first))
    assert np.allclose(first.bounds, again.bounds, atol=1e-3)
    assert first.length() == pytest.approx(again.length(), rel=1e-4, abs=1e-6)


FRONTED = {
    "plain": ({}, 0),
    "tinted": ({"tint": 80.0, "colour": "#ff7a45", "outline": 4.0, "fill": -60.0}, 0),
    "behind": ({"offset": (0.0, 30.0), "seen": "line"}, 0),
    "words": ({"by": "words", "rotation": 20.0, "pivot": "baseline", "scale": (30.0, 0.0)}, 0),
    "undrawn": ({"undrawn": 50.0}, 0),
    "halves": ({"by": "words", "apart": (20.0, 0.0), "rotation": 10.0, "seen": "line"}, 0),
    "set": ({"weight": -400.0, "tracking": 200.0, "raised": 20.0}, 0),
    "soft": ({"blur": 6.0}, 1),
    "wiped": ({"wiped": 60.0}, 1),
    "turned": ({"turn": 50.0}, 1),
}


@pytest.mark.parametrize("name", FRONTED)
def test_texts_with_runs_boxes_and_fronts_are_paths_where_they_can_be(name):
    said, pictures = FRONTED[name]
    words = layer("words", "text", text="Gullwing Bay\nKites", text__size=38, text__font="archivo",
                  position=(160, 90), behind__across="line", behind__colour="#19677d",
                  behind__skew=8.0, fill__across="line", **LINEAR)  # fmt: skip
    own = {
        "run.r.fill.kind": "flat", "run.r.fill.colour": EMBER, "run.r.size": 50.0,
        "run.r.behind.across": "word", "run.r.behind.colour": "#f8f1e4",
    } | {f"front.f.{key}": value for key, value in said.items()}  # fmt: skip
    own |= {"front.f.progress": 40.0, "front.f.width": 5.0}
    properties = words.properties | {key: Property(value=value) for key, value in own.items()}
    worn = {"runs": (Run(id="r", first=9, last=12),), "fronts": (Front(id="f"),)}
    made = words.model_copy(update={"properties": properties, **worn})
    text, theirs, ours, gone = both(check_project(project(made, ground="#101522")))
    assert text.count("<image") == pictures and len(gone) == pictures
    assert_near(theirs, ours, mean=0.8, far=0.006)
