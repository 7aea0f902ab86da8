"""Expressions that go by what is heard."""

from __future__ import annotations

import pytest
from tests.build import Files, layer, scene
from tests.core.audio.test_bands import kicks
from tests.edits.test_edits import applied
from tests.linked import expressed
from tests.sounds import Recordings, asset, tone

from young_comet.core.audio import bands_of
from young_comet.core.catalog import check_project
from young_comet.core.expressions import ExpressionError, compile_expression
from young_comet.core.model import Project
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.errors import MediaError

KICKS = kicks([0.5, 1.5])


class Heard(Files):
    """Files of which some are sounds."""

    def __init__(self, **sounds):
        super().__init__()
        self._sounds = Recordings(**sounds)
        self.asked = 0

    def bands(self, hash):
        self.asked += 1
        if hash not in self._sounds.sounds:
            raise MediaError("it is gone")
        return bands_of(self._sounds.sound(hash))


def heard(*layers, reader=None, **more):
    files = Heard(bed=KICKS, film=KICKS) if reader is None else reader
    known = (
        asset("bed", KICKS),
        asset("film", KICKS, kind="clip", media_type="video/quicktime", width=32, height=18,
              frame_count=75),
    )  # fmt: skip
    whole = check_project(
        Project(id="kites", name="Kite Week", scenes=(scene(*layers, length_s=4.0),), assets=known)
    )
    library = MediaLibrary(files)
    return SceneEvaluator(whole, "reveal", library=library), whole, library


def bed(start=0.0, end=4.0, **properties):
    return layer("bed", "sound", start, end, sound__asset="bed", **properties)


def pulsing(formula='=60 + 40 * level("Bed", 20, 120)'):
    return expressed("kite", shape__size=[40, 40], opacity=formula)


def opacity(ev, time_s):
    return ev.values(ev.find("kite"), time_s)("opacity")


def test_a_layer_pulses_with_the_kick():
    ev, _, _ = heard(pulsing(), bed())
    assert opacity(ev, 0.4) < 65 and opacity(ev, 0.53) > 95 and opacity(ev, 1.53) > 95
    assert opacity(ev, 1.4) < 65 and not ev.faults
    # The same whatever was asked for before, and the same again.
    again, _, _ = heard(pulsing(), bed())
    assert [opacity(again, t) for t in (1.53, 0.53)] == [opacity(ev, t) for t in (1.53, 0.53)]


@pytest.mark.parametrize(
    ("properties", "moments"),
    [
        ({"start": 1.0}, [1.5, 2.5]),
        ({"time__from": 0.5}, [0.0, 1.0]),
        ({"time__offset": 0.3}, [0.2, 1.2]),
        ({"time__speed": 50.0}, [1.0, 3.0]),
        ({"time__speed": 200.0, "time__after": "loop"}, [0.25, 0.75, 1.75, 2.25]),
        ({"time__reversed": True}, [1.35, 2.35]),  # a kick is loudest at its end, then
    ],
)
def test_it_follows_how_the_sound_is_played(properties, moments):
    start = properties.pop("start", 0.0)
    ev, _, _ = heard(pulsing('=100 * level("Bed", 20, 120)'), bed(start, **properties))
    for moment in moments:
        assert max(opacity(ev, moment + step / 100) for step in range(12)) > 80, moment


@pytest.mark.parametrize(
    "silent",
    [
        bed(sound__muted=True),
        bed(start=2.0),
        bed().model_copy(update={"hidden": True}),
        layer("bed", "sound", 0, 4, sound__asset=""),
        layer("bed", "clip", 0, 4, clip__asset="film", sound__on=True, time__frozen=True),
        layer("bed", "clip", 0, 4, clip__asset="film"),  # not switched on
    ],
)
def test_what_is_not_heard_has_no_level(silent):
    ev, _, _ = heard(pulsing('=100 * level("Bed")'), silent)
    assert opacity(ev, 0.53) == 0 and not ev.faults


def test_the_sound_of_a_clip_counts_once_it_is_on():
    clip = layer("bed", "clip", 0, 4, clip__asset="film", sound__on=True)
    ev, _, _ = heard(pulsing(), clip)
    assert opacity(ev, 0.53) > 95


@pytest.mark.parametrize(
    ("formula", "said"),
    [
        ('=100 * level("Nobody")', "no layer 'Nobody'"),
        ('=100 * level("Kite")', "no sound and no clip"),
        ('=100 * level("Bed", 200, 100)', "a higher one"),
        ('=100 * level("Bed", -5)', "a low frequency"),
    ],
)
def test_wrong_levels_are_said(formula, said):
    ev, _, _ = heard(pulsing(formula), bed())
    assert opacity(ev, 0.5) == 100 and said in ev.faults["kite", "opacity"]


@pytest.mark.parametrize(
    "formula", ['level(layer="Bed")', "level(5)", 'level("B" + "ed")', "level()"]
)
def test_the_layer_must_be_written_out(formula):
    with pytest.raises(ExpressionError):
        compile_expression(formula)


def test_a_lost_file_is_said_and_the_rest_goes_on():
    ev, _, library = heard(pulsing(), bed(), reader=Heard())
    assert opacity(ev, 0.5) == 100 and "it is gone" in ev.faults["kite", "opacity"]
    Renderer(library).render(ev.at(0.5), 64, 36)
    deaf, _, _ = heard(pulsing(), bed(), reader=Files())
    assert opacity(deaf, 0.5) == 100 and "no sounds" in deaf.faults["kite", "opacity"]


def test_a_sound_is_listened_to_once():
    reader = Heard(bed=KICKS)
    ev, _, _ = heard(pulsing(), bed(), reader=reader)
    for number in range(100):
        ev.frame(number)
    assert reader.asked == 1


def test_a_renamed_sound_is_followed():
    _, whole, _ = heard(pulsing(), bed())
    rename = {"kind": "change-layers", "scene": "reveal", "layers": ["bed"], "name": "Race day"}
    after = applied(whole, rename).project
    prop = after.scenes[0].layers[0].properties["opacity"]
    assert 'level("Race day", 20, 120)' in prop.expression


def test_bands_are_told_apart():
    reader = Heard(bed=kicks([0.5], over=tone(4000, 3.0, level=0.3)))
    formula = '=100 * level("Bed", 20, 120) - 50 * level("Bed", 2000, 8000)'
    ev, _, _ = heard(pulsing(formula), bed(), reader=reader)
    assert opacity(ev, 0.53) > 40
    assert ev.values(ev.find("kite"), 0.3)("opacity") == pytest.approx(0, abs=15)
