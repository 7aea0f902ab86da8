"""Motion blur, and what the engine promises whatever it has kept."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import NoAssets, key, layer, project
from tests.looked import alpha, box, clear, masked

from young_comet.core.model import Effect, Mask, Move, Property, Repeat, Shutter
from young_comet.core.paint import MediaLibrary, Renderer, shared_out
from young_comet.core.resolve import SceneEvaluator

# Motion blur


def moving(shutter=True, **more):
    panel = layer("panel", "shape", shape__size=[20.0, 20.0], fill__colour="#ffffff",
                  position=[key(0, [60.0, 90.0]), key(1, [260.0, 90.0])], **more)  # fmt: skip
    return clear(panel, shutter=Shutter(on=shutter, angle_deg=360.0, offset_deg=-180.0))


def test_a_straight_shift_is_smeared_over_its_way():
    """8 px a frame, the shutter open for a whole frame: edges are ramps of 8 px."""
    row = alpha(moving(), time_s=0.6)[90].astype(float)
    assert row.sum() / 255 == pytest.approx(20, abs=0.3)
    assert np.count_nonzero((row > 4) & (row < 251)) == pytest.approx(16, abs=3)
    sharp = alpha(moving(False), time_s=0.6)[90]
    assert np.count_nonzero((sharp > 4) & (sharp < 251)) <= 2
    assert np.array_equal(alpha(moving(), time_s=2.0), alpha(moving(False), time_s=2.0)), "at rest"


def against_many_moments(panel, time_s):
    """Differences from the mean of 200 sharp pictures while the shutter is open."""
    blurred = clear(panel, shutter=Shutter(on=True, angle_deg=360.0, offset_deg=-180.0))
    picture = alpha(blurred, time_s=time_s).astype(float)
    moments = [
        alpha(clear(panel), time_s=time_s + (i + 0.5) / 200 / 25 - 0.02).astype(float)
        for i in range(200)
    ]
    return np.abs(picture - np.mean(moments, axis=0))


RING = "M70 0A70 60 0 1 1 -70 0A70 60 0 1 1 70 0Z"
BAR = {"shape__size": [150.0, 40.0], "fill__colour": "#ffffff", "position": [160.0, 90.0]}
WORDS = {"text": "Gullwing Bay", "text__size": 34.0, "position": [160.0, 90.0]}


@pytest.mark.parametrize(
    ("kind", "more", "most"),
    [
        ("shape", {**BAR, "rotation": [key(0, 0.0), key(1, 180.0)],
                   "scale": [key(0, [60.0, 60.0]), key(1, [140.0, 140.0])]}, 8),
        ("shape", {**BAR, "rotation": [key(0, 0.0), key(1, 750.0)]}, 9),
        ("shape", {**BAR, "rotation": [key(0, 0.0), key(1, 2250.0)]}, 8),
        ("shape", {**BAR, "turn": [key(0, 0.0), key(1, 750.0)]}, 8),
        ("shape", {**BAR, "tilt": [key(0, 0.0), key(1, 400.0)],
                   "position": [key(0.2, [90.0, 60.0]), key(0.6, [260.0, 140.0])]}, 9),
        ("shape", {**BAR, "shape__size": [20.0, 20.0], "pivot": [-60.0, 0.0],
                   "rotation": [key(0, 0.0), key(1, 1500.0)]}, 8),
        ("text", {**WORDS, "rotation": [key(0, 0.0), key(1, 750.0)]}, 10),
        ("text", {**WORDS, "turn": [key(0, 0.0), key(1, 750.0)]}, 9),
        ("text", {**WORDS, "text__size": 12.0, "text": "GULLWING BAY " * 3, "text__path": RING,
                  "text__path_offset": [key(0, 0.0), key(1, 100.0)]}, 24),
    ],
    ids=("grows", "turns", "turns-fast", "in-space", "tilts-and-goes", "circles", "words",
         "words-in-space", "words-on-a-ring"),
)  # fmt: skip
def test_motion_blur_agrees_with_many_sharp_moments(kind, more, most):
    """The farthest pixel, and all but one in a thousand."""
    far = against_many_moments(layer("panel", kind, **more), 0.4)
    assert far.max() <= most and far.mean() < 0.4
    assert np.percentile(far, 99.9) <= min(most, 12)


def test_a_shape_that_grows_fast_has_moments_enough():
    """Its sides go 56 px a frame: steps of 6 px are 27 levels high, half of that off at most."""
    panel = layer("panel", "shape", fill__colour="#ffffff", position=[160.0, 90.0],
                  shape__size=[key(0, [20.0, 40.0]), key(0.1, [300.0, 40.0])])  # fmt: skip
    far = against_many_moments(panel, 0.04)
    assert far.max() <= 15


def test_a_layer_may_have_its_own_mind_about_motion_blur():
    off = alpha(moving(True, motion_blur="off"), time_s=0.6)
    assert np.array_equal(off, alpha(moving(False), time_s=0.6))
    assert np.array_equal(
        alpha(moving(False, motion_blur="on"), time_s=0.6), alpha(moving(True), time_s=0.6)
    )


def states(changes, time_s, **more):
    """How many states a panel has while the shutter is open."""
    values = {"position": [100.0, 90.0], "fill__colour": "#ffffff", **changes}
    panel = layer("panel", "shape", shape__size=[20.0, 20.0], **values)
    doc = clear(panel, shutter=Shutter(on=True, angle_deg=180.0, offset_deg=-90.0), **more)
    (found,) = SceneEvaluator(doc, doc.scenes[0].id).at(time_s).layers
    return len(found.shutter)


def test_a_layer_has_states_only_while_it_moves():
    moves = {"position": [key(0.4, [60.0, 90.0]), key(0.8, [260.0, 90.0])]}
    assert [states(moves, t) > 0 for t in (0.2, 0.38, 0.4, 0.6, 0.8, 0.84, 1.2)] == [
        False, False, True, True, True, False, False,
    ]  # fmt: skip
    assert states({"opacity": [key(0, 0.0), key(1, 100.0)]}, 0.5) == 0


def test_what_repeats_or_is_computed_goes_on_moving():
    back = layer("panel", "shape", shape__size=[20.0, 20.0], fill__colour="#ffffff",
                 position=[key(0, [60.0, 90.0]), key(0.4, [260.0, 90.0])])  # fmt: skip
    doc = clear(back, shutter=Shutter(on=True, angle_deg=180.0, offset_deg=-90.0))
    panel = doc.scenes[0].layers[0]
    for change in (
        {"repeat": Repeat(mode="there-and-back")},
        {"keys": (), "value": (60.0, 90.0), "expression": "[60 + 300 * t, 90]"},
    ):
        position = panel.properties["position"].model_copy(update=change)
        mine = panel.model_copy(update={"properties": {**panel.properties, "position": position}})
        scene = doc.scenes[0].model_copy(update={"layers": (mine,)})
        whole = doc.model_copy(update={"scenes": (scene,)})
        (found,) = SceneEvaluator(whole, scene.id).at(1.5).layers
        assert found.shutter, change


def test_moving_masks_and_pieces_are_smeared_too():
    mask = masked(
        box(),
        Mask(id="a", name="A", form="half-plane"),
        **{"mask.a.position": [key(0, [-90.0, 0.0]), key(1, [90.0, 0.0])]},
    )
    shutter = Shutter(on=True, angle_deg=360.0, offset_deg=-180.0)
    row = alpha(clear(mask, shutter=shutter), time_s=0.6)[90]
    assert np.count_nonzero((row > 4) & (row < 251)) >= 5
    cut = box(slices__kind="strips", slices__count=2.0, slices__offset=[0.0, 300.0], slices__opacity=100.0,
              slices__progress=[key(0, 0.0), key(1, 100.0)])  # fmt: skip
    column = alpha(clear(cut, shutter=shutter), time_s=0.3)[:, 110]
    sharp = alpha(clear(cut), time_s=0.3)[:, 110]
    assert np.count_nonzero((column > 4) & (column < 251)) > np.count_nonzero(
        (sharp > 4) & (sharp < 251)
    )


# The engine


def busy_scene():
    sky = layer("sky", "backdrop", fill__kind="linear")
    glow = box(
        "glow",
        (60.0, 40.0),
        position=[key(0, [60.0, 60.0]), key(2, [240.0, 120.0])],
        **{"effect.e.size": 9.0, "effect.e.strength": [key(0, 0.0), key(2, 160.0)]},
    )
    glow = glow.model_copy(update={"effects": (Effect(id="e", kind="glow"),)})
    tilted = box(
        "tilted",
        (90.0, 50.0),
        "#00ff00",
        (110.0, 80.0),
        rotation=[key(0, 0.0), key(3, 90.0)],
        tilt=20.0,
        matte__layer="glow",
        matte__inverted=True,
    )
    knock = box("knock", (20.0, 20.0), at=(150.0, 90.0), composite="atop", blend="screen")
    grade = layer("grade", "treatment").model_copy(
        update={"effects": (Effect(id="e", kind="vignette"), Effect(id="f", kind="grain"))}
    )
    return project(sky, glow, tilted, knock, grade, shutter=Shutter(on=True))


def test_frames_are_the_same_whatever_was_kept_or_asked_before():
    document = busy_scene()
    evaluator = SceneEvaluator(document, "reveal")
    used = Renderer(MediaLibrary(NoAssets()))
    order = [3, 40, 3, 41, 42, 10, 41, 3, 60, 59, 58, 40]
    for number in order:
        fresh = Renderer(MediaLibrary(NoAssets()))
        mine = used.render(SceneEvaluator(document, "reveal").frame(number), 320, 180)
        assert np.array_equal(mine, fresh.render(evaluator.frame(number), 320, 180)), number


@pytest.mark.parametrize("colour", ["#ff0000", "#ff000066"])
@pytest.mark.parametrize("fill", ["flat", "linear"])
def test_an_edge_that_boils_is_the_same_whatever_was_kept_of_its_form(colour, fill):
    """Its distances are kept once they have been asked for again; only the noise is new."""
    panel = box("panel", (120.0, 70.0), colour, fill__kind=fill,
                effect__e__flow=[key(0, 0.0), key(2, 3.0)], effect__e__softness=[key(0, 1.0), key(2, 9.0)])  # fmt: skip
    panel = panel.model_copy(update={"effects": (Effect(id="e", kind="rough-edge"),)})
    document = clear(panel)
    used, evaluator = Renderer(MediaLibrary(NoAssets())), SceneEvaluator(document, "reveal")
    pictures = set()
    for number in (0, 5, 10, 11, 12, 12, 30):
        frame = evaluator.frame(number)
        mine = used.render(frame, 320, 180, transparent=True).copy()
        fresh = Renderer(MediaLibrary(NoAssets())).render(frame, 320, 180, transparent=True)
        assert np.array_equal(mine, fresh), number
        pictures.add(mine.tobytes())
    assert len(pictures) == 6


@pytest.mark.parametrize(
    "kinds", [("brightness-contrast", "glow"), ("glow", "brightness-contrast")]
)
def test_what_effects_write_over_is_not_what_is_kept(kinds):
    """Contents under changing effects are kept; the first effect of each frame gets its own."""
    keyed = {"brightness-contrast": "brightness", "glow": "strength"}
    changing = {f"effect.{kind}.{keyed[kind]}": [key(0, -40.0 if kind != "glow" else 0.0),
                key(1, 90.0)] for kind in kinds}  # fmt: skip
    turned = box(size=(90.0, 60.0), colour="#c04020", rotation=30.0, **changing)
    effects = tuple(Effect(id=kind, kind=kind) for kind in kinds)
    document = project(turned.model_copy(update={"effects": effects}))
    evaluator, used = SceneEvaluator(document, "reveal"), Renderer(MediaLibrary(NoAssets()))
    pictures = []
    for number in (1, 2, 3, 4, 5, 3, 1):
        fresh = Renderer(MediaLibrary(NoAssets()))
        pictures.append(used.render(evaluator.frame(number), 320, 180).copy())
        assert np.array_equal(pictures[-1], fresh.render(evaluator.frame(number), 320, 180)), number
    assert not np.array_equal(pictures[0], pictures[3])


def test_a_tiny_cache_changes_nothing_but_the_speed():
    document = busy_scene()
    evaluator = SceneEvaluator(document, "reveal")
    small, large = (Renderer(MediaLibrary(NoAssets()), limit_bytes=n) for n in (1, 10**8))
    for number in (0, 1, 2, 1):
        frame = evaluator.frame(number)
        assert np.array_equal(small.render(frame, 320, 180), large.render(frame, 320, 180))


@given(st.integers(512, 20000), st.integers(1, 17))
def test_memory_is_shared_out_below_its_ceiling(total_mb, processes):
    limits = shared_out(total_mb, processes)
    kept = (limits.media + limits.frames + limits.small) / 2**20
    assert min(limits.media, limits.frames, limits.small) > 0
    assert kept <= max(24.001, total_mb / processes - 190)


def test_signatures_tell_pictures_apart_and_only_pictures():
    def signature(*layers):
        return SceneEvaluator(project(*layers), "reveal").at(0.0).signature

    assert signature(box()) == signature(box("other"))
    assert signature(box()) != signature(box(blend="screen"))
    assert signature(box()) != signature(masked(box(), Mask(id="a", name="A")))
    assert signature(masked(box(), Mask(id="a", name="A"))) == signature(
        masked(box(), Mask(id="b", name="B"))
    )
    sail = box("sail", (10.0, 10.0)).model_copy(update={"hidden": True})
    other = box("sail", (12.0, 10.0)).model_copy(update={"hidden": True})
    assert signature(sail, box(matte__layer="sail")) != signature(other, box(matte__layer="sail"))


# What a text says, and when the shutter opens


def words(expression=None, **more):
    """A text of 2.4 s of a scene; what it says may be computed."""
    made = layer("words", "text", text="Gullwing", text__size=40.0, **more)
    if expression:
        prop = Property(value="0", expression=expression)
        made = made.model_copy(update={"properties": {**made.properties, "text": prop}})
    return made


@pytest.mark.parametrize("says", ["clock", "scramble", "type-on"])
def test_a_text_says_one_thing_while_the_shutter_is_open(says):
    """What it says, and how much of its letters is seen, is that of the frame's own moment."""
    made = words(
        'clock(8 - t, "ss:ff")' if says == "clock" else None,
        position=[key(0, [60.0, 90.0]), key(1, [260.0, 90.0])],
    )
    if says != "clock":
        worn = {"moves": (Move(id="a", kind=says, phase="arrive"),), "arrive_s": 1.0}
        made = made.model_copy(update=worn)
    doc = clear(made, shutter=Shutter(on=True, angle_deg=360.0))
    evaluator = SceneEvaluator(doc, doc.scenes[0].id)
    said = set()
    for time_s in (0.12, 0.3, 0.5):
        (found,) = evaluator.at(time_s).layers
        own = found.content
        said.add((own.text, own.units))
        assert len(found.shutter) > 2
        for state in found.shutter:
            assert state.content.text == own.text and state.content.cursor == own.cursor
            seen = {(u.first, u.last): u.place.opacity for u in own.units}
            for unit in state.content.units:
                assert unit.place.opacity == seen.get((unit.first, unit.last), 1.0)
    assert len(said) == 3


def test_a_counter_that_stands_still_is_not_blurred():
    still = words('clock(8 - t, "ss:ff")', position=[160.0, 90.0])
    blurred = alpha(clear(still, shutter=Shutter(on=True, angle_deg=360.0)), time_s=0.5)
    assert np.array_equal(blurred, alpha(clear(still), time_s=0.5))


def test_the_shutter_opens_before_about_or_after_the_frame():
    """8 px a frame: where the middle of what is smeared lies."""
    panel = layer("panel", "shape", shape__size=[20.0, 20.0], fill__colour="#ffffff",
                  position=[key(0, [60.0, 90.0]), key(1, [260.0, 90.0])])  # fmt: skip
    middles = {}
    for opens in ("before", "centred", "after", "degrees"):
        shutter = Shutter(on=True, angle_deg=270.0, opens=opens, offset_deg=90.0)
        row = alpha(clear(panel, shutter=shutter), time_s=0.6)[90].astype(float)
        middles[opens] = float((row * (np.arange(len(row)) + 0.5)).sum() / row.sum())
    still = middles["centred"]
    assert middles["before"] == pytest.approx(still - 3, abs=0.2)
    assert middles["after"] == pytest.approx(still + 3, abs=0.2)
    assert middles["degrees"] == pytest.approx(still + 5, abs=0.2)
    assert Shutter(offset_deg=-20).opens == "degrees"


@pytest.mark.parametrize(("distance", "time_s"), [(100.0, 0.2), (100.0, 0.4), (260.0, 0.4)])
def test_letters_on_their_way_leave_no_ghosts(distance, time_s):
    """Thin stems that cross some pixels while the shutter is open are a smear, not copies in a
    row, and flat ends are no stairs."""
    given = {"spread.over": "letters", "measure": "px", "distance": distance, "easing": "linear"}
    word = layer("kite", "text", text="illi", text__size=60.0, position=[160, 90],
                 fill__colour="#ffffff").model_copy(update={
        "arrive_s": 0.7, "moves": (Move(id="m", kind="alternate", phase="arrive"),),
    })  # fmt: skip
    own = {f"move.m.{name}": Property(value=value) for name, value in given.items()}
    word = word.model_copy(update={"properties": {**word.properties, **own}})
    seen = alpha(clear(word, shutter=Shutter(on=True, angle_deg=360.0, offset_deg=-180.0)), time_s=time_s)  # fmt: skip
    assert seen.max() > 200  # it is in the frame
    assert against_many_moments(word, time_s).max() < 16
