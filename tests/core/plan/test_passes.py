"""Plans of frames: what they say is held against what is drawn."""

import numpy as np
import pytest
from tests.build import Files, key, layer, project, scene
from tests.hostile import drawing_sweep as kites

from young_comet.core.catalog import check_project
from young_comet.core.effects import EFFECTS
from young_comet.core.geometry.affine import Affine
from young_comet.core.model import Effect, Mask, Project, Property, Shutter
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.paint.compose import Composer, FrameStudio
from young_comet.core.paint.sheets import LayerPictures
from young_comet.core.pixels.cache import SizedCache
from young_comet.core.plan import How, plan_frame, plan_lines
from young_comet.core.resolve import SceneEvaluator

LIBRARY = MediaLibrary(Files(**{kites.HASHES[k]: d for k, d in kites.BYTES.items()}))
SIZE = (kites.WIDTH, kites.HEIGHT)


def resolved(tested, time_s=0.7, **more):
    document = kites.document(tested)
    outer = document.scenes[0].model_copy(update=more)
    document = document.model_copy(update={"scenes": (outer, *document.scenes[1:])})
    return SceneEvaluator(document, "reveal", library=LIBRARY).at(time_s)


def hows(*layers, time_s=0.7, **more):
    document = check_project(project(*layers, width=160, height=90, **more))
    frame = SceneEvaluator(document, "reveal", library=LIBRARY).at(time_s)
    return [each.how for each in plan_frame(frame, SIZE, LIBRARY)]


def box(id="box", **more):
    return layer(id, "shape", shape__size=[60, 40], position=[80, 45], **more)


def test_what_a_layer_asks_for_decides_how_it_is_laid():
    moving = [key(0, [0, 45]), key(2, [160, 45])]
    glow = box().model_copy(update={"effects": (Effect(id="g", kind="glow"),)})
    grade = layer("grade", "treatment").model_copy(
        update={"effects": (Effect(id="c", kind="curves"),)}
    )
    assert hows(box()) == [How.DRAW]
    assert hows(box(blend="multiply")) == [How.DRAW]  # one piece of paint
    assert hows(box(stroke__width=4, blend="multiply")) == [How.LAY]
    assert hows(box(opacity=4)) == [How.FAINT]
    assert (
        hows(box("cut").model_copy(update={"hidden": True}), box(matte__layer="cut"))[-1]
        is How.THROUGH
    )
    assert hows(layer("ground", "backdrop"), box("low"), box(composite="atop")) == [
        How.DRAW, How.COUNT, How.COUNT,
    ]  # fmt: skip
    assert hows(box(), layer("idle", "treatment")) == [How.DRAW]
    assert hows(box(), grade) == [How.DRAW, How.TREAT]
    assert hows(glow) == [How.LAY, How.LAY]  # its light, then itself lit within
    assert hows(layer("box", "shape", position=moving), shutter=Shutter(on=True)) == [How.LAY]


@pytest.mark.parametrize("place", [(80, 45), (-20, 45), (160, 90), (-900, 45), (80, 60000)])
@pytest.mark.parametrize("kind", list(kites.layers()))
def test_a_pass_changes_nothing_beyond_its_region(kind, place):
    tested = kites.layers()[kind]
    if kind not in ("backdrop", "treatment", "carrier"):
        properties = {**tested.properties, "position": Property(value=place)}
        tested = tested.model_copy(update={"properties": properties})
    frame = resolved(tested)
    passes = plan_frame(frame, SIZE, LIBRARY)
    pixels = np.zeros((SIZE[1], SIZE[0], 4), np.uint8)
    composer = Composer(pixels, frame, FrameStudio(LIBRARY), SizedCache(1), Affine())
    for index, shown in enumerate(frame.layers):
        before = pixels.copy()
        composer.add(shown, index)
        changed = np.argwhere((before != pixels).any(axis=2))
        mine = [each for each in passes if each.index == index]
        if not len(changed):
            continue
        (top, left), (bottom, right) = changed.min(axis=0), changed.max(axis=0)
        assert min(each.region[0] for each in mine) <= left
        assert min(each.region[1] for each in mine) <= top
        assert max(each.region[2] for each in mine) > right
        assert max(each.region[3] for each in mine) > bottom


GRAINY = {kind.id for kind in EFFECTS.values() if kind.grid}


@pytest.mark.parametrize("effect", [kind for kind in EFFECTS if kind not in GRAINY])
def test_each_step_is_given_enough(effect, monkeypatch):
    """A sheet of which far more is worked out than its plan asks for shows the same in the end."""
    tested = kites.layers()["shape"].model_copy(
        update={
            "effects": (Effect(id="a", kind="gaussian-blur"), Effect(id="b", kind=effect)),
            "properties": {
                **kites.layers()["shape"].properties,
                "position": Property(value=(20.0, 80.0)),
                "effect.a.size": Property(value=(3.0, 3.0)),
            },
        }
    )
    frame = resolved(tested)
    exact = Renderer(LIBRARY).render(frame, *SIZE).astype(int)
    from young_comet.core.plan import sheets

    planned = sheets.SheetPlanner.sheet

    def generous(self, layer, working, area):
        left, top, right, bottom = area
        return planned(self, layer, working, (left - 160, top - 160, right + 160, bottom + 160))

    monkeypatch.setattr(sheets.SheetPlanner, "sheet", generous)
    whole = Renderer(LIBRARY).render(frame, *SIZE).astype(int)
    # Blurs of large pictures are worked out on smaller ones: their blocks may lie otherwise, of
    # which dots make more.
    assert np.abs(exact - whole).max() <= (8 if effect == "dots" else 3)


def test_a_plan_is_told_in_lines_and_names_what_is_kept():
    masked = box(blend="screen", rotation=20, opacity=50).model_copy(
        update={
            "masks": (Mask(id="m", name="Edge"),),
            "effects": (Effect(id="e", kind="gaussian-blur"),),
        }
    )
    document = check_project(project(masked, width=160, height=90))
    frame = SceneEvaluator(document, "reveal", library=LIBRARY).at(0)
    (only,) = plan_frame(frame, SIZE, LIBRARY)
    first, content, blur = plan_lines((only,))
    assert first.startswith("lay") and "screen" in first and "50 %" in first
    assert "placed at" in first and only.name.hex()[:8] in first
    assert "1 masks" in content and "gaussian-blur" in blur
    pictures = LayerPictures(
        FrameStudio(LIBRARY), SizedCache(1 << 22), Affine(), (0, 0, *SIZE), SIZE
    )
    pictures.unmatted(only.layer)
    assert pictures._cache.get((pictures._key, only.name)) is not None


def test_planning_asks_for_no_pixel(monkeypatch):
    """Not even a file is read: what is planned is decided before."""

    class Reader:
        def read_asset(self, hash):
            raise AssertionError("a file was read")

    for kind, tested in kites.layers().items():
        document = kites.document(tested)
        evaluator = SceneEvaluator(document, "reveal")
        assert isinstance(document, Project)
        for time_s in (0, 1.9, 3.96):
            lines = plan_lines(plan_frame(evaluator.at(time_s), SIZE, MediaLibrary(Reader())))
            assert lines, kind


def test_scenes_without_layers_have_no_passes():
    document = check_project(Project(id="k", name="K", scenes=(scene(),)))
    assert plan_frame(SceneEvaluator(document, "reveal").at(0), SIZE, LIBRARY) == ()
