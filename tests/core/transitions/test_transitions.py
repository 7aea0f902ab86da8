"""Every transition: the pictures themselves at its ends, nothing beyond them between, whatever the
sizes and values, and each by what it says of itself."""

import numpy as np
import pytest
from tests.build import draw, layer, project

from young_comet.core.catalog import TRANSITIONS as HELD
from young_comet.core.catalog import normalise
from young_comet.core.model import Kind, Property, Transition
from young_comet.core.pixels.colour import parse_colour
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.transitions import TRANSITIONS, Joint

ALL = list(TRANSITIONS)
DRAWN = [kind.id for kind in TRANSITIONS.values() if not kind.matches]
W, H = 160, 90


def pictures(transparent=False):
    """A red one with a white bar, a blue one with a yellow disc."""
    y, x = np.mgrid[0:H, 0:W]
    first, second = np.zeros((2, H, W, 4), np.uint8)
    first[:] = (30, 40, 200, 255)
    first[20:40, 30:130] = (255, 255, 255, 255)
    second[:] = (200, 80, 20, 255)
    second[np.hypot(x - 110, y - 50) < 25] = (40, 220, 255, 255)
    if transparent:
        first[:, : W // 2] = 0
        second[H // 2 :] = 0
    return first, second


def values(kind, **more):
    found = {}
    for spec in TRANSITIONS[kind].specs:
        value = more.get(spec.id.replace("-", "_"), spec.default)
        found[spec.id] = parse_colour(value) if spec.kind is Kind.COLOUR else value
    return found


def between(kind, share, *, speed=0.0, other=None, transparent=False, **more):
    first, second = pictures(transparent)
    joint = Joint(first, second, share, speed, values(kind, **more), 1.0, lambda n: other)
    return TRANSITIONS[kind].draw(joint)


@pytest.mark.parametrize("transparent", [False, True])
@pytest.mark.parametrize("kind", DRAWN)
def test_at_its_ends_it_is_the_pictures_themselves(kind, transparent):
    first, second = pictures(transparent)
    for share, picture in ((0.0, first), (1.0, second)):
        found = between(kind, share, transparent=transparent)
        assert found.dtype == np.uint8 and found.shape == picture.shape
        assert np.abs(found.astype(int) - picture).max() <= 1


@pytest.mark.parametrize("share", [0.03, 0.25, 0.5, 0.75, 0.97])
@pytest.mark.parametrize("kind", DRAWN)
def test_between_it_is_valid_opaque_and_always_the_same(kind, share):
    found = between(kind, share, speed=0.05)
    assert np.array_equal(found, between(kind, share, speed=0.05))
    assert (found[..., 3] >= 254).all(), "where both are opaque no hole shows"
    clear = between(kind, share, speed=0.05, transparent=True)
    assert (clear[..., :3] <= clear[..., 3:].astype(int) + 1).all()


@pytest.mark.parametrize("kind", [kind for kind in DRAWN if kind != "cut"])
def test_it_goes_from_one_to_the_other(kind):
    """More and more like the second, less and less like the first."""
    first, second = pictures()
    shares = [0.0, 0.25, 0.5, 0.75, 1.0]
    found = [between(kind, share).astype(float) for share in shares]
    to_first = [np.abs(each - first).mean() for each in found]
    to_second = [np.abs(each - second).mean() for each in found]
    assert to_first[0] <= 1 and to_second[-1] <= 1
    assert to_first[1] < to_first[-1] and to_second[-2] < to_second[0]
    assert np.abs(found[2] - found[1]).mean() > 0.5  # it is under way


EXTREMES = [
    (kind, spec.id, value)
    for kind in DRAWN
    for spec in TRANSITIONS[kind].specs
    for value in (
        (spec.minimum, spec.maximum) if spec.kind is Kind.NUMBER
        else [option for option, _ in spec.options] if spec.kind is Kind.CHOICE
        else [(-100.0, -100.0), (200.0, 50.0)] if spec.kind is Kind.POINT else ()
    )
]  # fmt: skip


@pytest.mark.parametrize(("kind", "name", "value"), EXTREMES)
def test_extremes_do_no_harm(kind, name, value):
    for share in (0.02, 0.5, 0.98):
        found = between(kind, share, speed=0.2, **{name.replace("-", "_"): value})
        assert found.shape == (H, W, 4)
        assert (found[..., :3] <= found[..., 3:].astype(int) + 1).all()


@pytest.mark.parametrize("kind", ALL)
def test_parameters_are_declared_and_stay_as_they_are(kind):
    specs = TRANSITIONS[kind].specs
    assert len({spec.id for spec in specs}) == len(specs)
    assert {"easing", "lies"} <= {spec.id for spec in specs}
    for spec in specs:
        assert not spec.animatable and spec.help and spec.label
        normalise(spec, spec.default, spec.label)


@pytest.mark.parametrize("size", [(1, 1), (2, 300), (301, 3)])
@pytest.mark.parametrize("kind", DRAWN)
def test_frames_of_any_size(kind, size):
    first = np.full((size[1], size[0], 4), 255, np.uint8)
    second = first.copy()
    second[..., :3] = 10
    for share in (0.0, 0.4, 1.0):
        joint = Joint(first, second, share, 0.1, values(kind), 1.0, lambda n: None)
        assert TRANSITIONS[kind].draw(joint).shape == first.shape


# By what they say


def test_a_cross_fade_is_the_mean_and_dips_to_its_colour():
    first, second = pictures()
    half = between("cross-fade", 0.5)
    assert np.abs(half - (first.astype(float) + second) / 2).max() <= 1
    dark = between("cross-fade", 0.5, through="colour", colour="#102030")
    assert (dark == (0x30, 0x20, 0x10, 255)).all()


@pytest.mark.parametrize(("angle", "dx", "dy"), [(0, 1, 0), (180, -1, 0), (90, 0, 1), (270, 0, -1)])
def test_push_moves_both_by_the_same_way(angle, dx, dy):
    first, second = pictures()
    found = between("push", 0.2, angle=float(angle), smear=0.0)
    x, y = round(0.2 * W * dx), round(0.2 * H * dy)
    moved = np.roll(first, (y, x), (0, 1))
    inside = np.ones((H, W), bool)
    if dx:
        inside[:, : x if x > 0 else None] = x < 0 and inside[:, : x if x > 0 else None]
        inside[:, x:] = x > 0
    if dy:
        inside[: max(0, y)] = False
        inside[y:] = y > 0
    assert np.abs(found[inside].astype(int) - moved[inside]).max() <= 1
    assert np.abs(found[inside].astype(int) - moved[inside]).mean() < 1.5
    follows = np.roll(second, (y, x), (0, 1))
    assert np.abs(found[~inside].astype(int) - follows[~inside]).mean() < 2.5


def test_a_wipe_has_reached_as_much_as_has_passed_and_lies_across_its_direction():
    found = between("wipe", 0.5, angle=0.0, softness=0.0)
    first, second = pictures()
    assert np.array_equal(found[:, : W // 2 - 1], second[:, : W // 2 - 1])
    assert np.array_equal(found[:, W // 2 + 1 :], first[:, W // 2 + 1 :])
    slanted = between("wipe", 0.5, angle=90.0, softness=0.0)
    assert np.array_equal(slanted[: H // 2 - 1], second[: H // 2 - 1])
    opened = between("opening", 0.5, angle=0.0, softness=0.0)
    middle = slice(W // 4 + 2, 3 * W // 4 - 2)
    assert np.array_equal(opened[:, middle], second[:, middle])
    assert np.array_equal(opened[:, : W // 4 - 2], first[:, : W // 4 - 2])


def test_an_iris_is_a_disc_about_its_place():
    found = between("iris", 0.4, softness=0.0, centre=(25.0, 50.0))
    _, second = pictures()
    y, x = np.mgrid[0:H, 0:W] + 0.5
    far = np.hypot(x - 40, y - 45)
    whole = far.max() * 0.4
    inside = far < whole - 2
    assert np.array_equal(found[inside], second[inside])
    assert (found[far > whole + 2] != second[far > whole + 2]).any(1).mean() > 0.9


@pytest.mark.parametrize("share", [0.2, 0.5, 0.8])
def test_ink_covers_as_much_as_has_passed(share):
    shown = between("ink", share, softness=0.0, scale=30.0)
    first, second = pictures()
    differs = (first != second).any(2)
    taken = (shown == second).all(2)[differs].mean()
    assert taken == pytest.approx(share, abs=0.06)


def test_a_grey_picture_gives_the_order():
    order = np.zeros((H, W, 4), np.uint8)
    order[..., :3] = np.linspace(0, 255, H)[:, None, None].astype(np.uint8)
    order[..., 3] = 255
    first, second = pictures()
    found = between("by-picture", 0.5, other=order, softness=0.0)
    assert np.array_equal(found[: H // 2 - 2], second[: H // 2 - 2])
    assert np.array_equal(found[H // 2 + 2 :], first[H // 2 + 2 :])
    light = between("by-picture", 0.5, other=order, softness=0.0, first="light")
    assert np.array_equal(light[H // 2 + 2 :], second[H // 2 + 2 :])


def test_a_shape_grows_about_its_thickest_part_until_it_holds_the_frame():
    form = np.zeros((H, W, 4), np.uint8)
    form[30:60, 40:70] = 255
    areas = []
    first, second = pictures()
    for share in (0.3, 0.6, 0.8, 0.95):
        found = between("through-shape", share, other=form)
        areas.append((found == second).all(2).mean())
    assert areas == sorted(areas) and areas[0] < 0.35 < areas[-1]
    empty = np.zeros((H, W, 4), np.uint8)
    assert between("through-shape", 0.5, other=empty).shape == first.shape  # as a disc, then


# In a scene


def crossing(kind, first, second, /, length=0.8, **more):
    made = {f"transition.t.{k}": Property(value=v) for k, v in more.items()}
    held = (Transition(id="t", kind=kind, before=first.id, length_s=length),)
    second = second.model_copy(update={
        "transitions": held, "properties": {**second.properties, **made},
    })  # fmt: skip
    return project(first, second)


def shown_by(kind, start, end):
    id = f"{kind}-{start}"
    fills = {"fill__colour": "#40c080" if start else "#c04020"}
    more = {
        "backdrop": fills, "shape": {"shape__size": [120, 80], "position": [160, 90], **fills},
        "text": {"text": "Bay", "text__size": 60.0, "position": [160, 90], **fills},
    }[kind]  # fmt: skip
    return layer(id, kind, start, end, **more)


@pytest.mark.parametrize("kinds", [("backdrop", "shape"), ("text", "text"), ("shape", "text")])
@pytest.mark.parametrize("kind", ALL)
def test_layers_of_every_kind_cross_and_are_themselves_at_both_ends(kind, kinds):
    one, two = shown_by(kinds[0], 0, 2), shown_by(kinds[1], 2, 4)
    document = crossing(kind, one, two)
    plain = project(one, two)
    for time_s, beyond in ((1.56, 0), (1.6, 1.6), (2.36, 2.36), (2.44, 0)):
        found = draw(document, time_s)
        if beyond:  # the first and the last frame of the transition
            assert np.abs(found.astype(int) - draw(plain, 1.0 if time_s < 2 else 3.0)).max() <= 1
        else:
            assert np.array_equal(found, draw(plain, time_s))
    middle = draw(document, 2.0)
    assert middle.shape == (180, 320, 4)
    if kind != "cut":
        assert np.abs(middle.astype(int) - draw(plain, 1.0)).max() > 8
    ev = SceneEvaluator(document, "reveal")
    assert [(m.begin_s, m.end_s) for m in ev.meetings] == [(pytest.approx(1.6), pytest.approx(2.4))]


@pytest.mark.parametrize("kind", ALL)
def test_at_half_size_it_looks_the_same(kind):
    import cv2

    document = crossing(kind, shown_by("backdrop", 0, 2), shown_by("shape", 2, 4))
    whole = draw(document, 2.08, scale=1.0)
    half = draw(document, 2.08, scale=0.5).astype(int)
    reduced = cv2.resize(whole, (160, 90), interpolation=cv2.INTER_AREA).astype(int)
    assert np.abs(half - reduced).mean() < 6


def test_names_are_our_own_and_of_one_family():
    for kind in TRANSITIONS.values():
        assert HELD.declared(kind.id) == kind.specs
        assert kind.label[0].isupper() and kind.help.endswith(".")
    assert len(ALL) == 16


def test_what_a_transition_looks_at_is_seen_in_the_scene():
    """A half black, half white layer that is hidden gives the order: where it is dark first."""
    grey = layer("grey", "backdrop", 0, 4, fill__kind="linear", fill__start=[0, 50],
                 fill__end=[100, 50], fill__mixing="plain",
                 fill__stops=[[0, "#000000"], [1, "#ffffff"]]).model_copy(update={"hidden": True})  # fmt: skip
    one, two = shown_by("backdrop", 0, 2), shown_by("backdrop", 2, 4)
    for first, sides in (("dark", (30, 290)), ("light", (290, 30))):
        document = crossing("by-picture", one, two, order="grey", first=first, softness=0.0)
        scene = document.scenes[0].model_copy(update={"layers": (grey, *document.scenes[0].layers)})
        pixels = draw(document.model_copy(update={"scenes": (scene,)}), 2.0)
        plain = draw(project(one, two), 3.0)
        assert np.array_equal(pixels[90, sides[0]], plain[90, sides[0]])
        assert not np.array_equal(pixels[90, sides[1]], plain[90, sides[1]])
