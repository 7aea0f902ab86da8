"""What masks let through has bounds; within them nothing is drawn otherwise."""

import random

import numpy as np
import pytest
from tests.build import draw, key, layer
from tests.looked import clear, masked

from young_comet.core.catalog import check_project
from young_comet.core.effects import EFFECTS as KINDS
from young_comet.core.frame.resolved import ResolvedLayer, ResolvedMask
from young_comet.core.geometry.affine import Affine
from young_comet.core.model import Effect, Mask, Property, Shutter
from young_comet.core.paint.masking import mask_coverage
from young_comet.core.plan.masks import let_through

PATHS = ["M-40 -30 L50 -20 L10 40 Z", "M-25 0 C-25 -40 25 -40 25 0 S-25 40 -25 0 Z",
         "M0 0 L0 0", "", "M-300 -8 H300 V8 H-300 Z"]  # fmt: skip
# Every effect as it comes, some with values, and those that go on beyond an edge in each of their ways.
EFFECTS = {kind: (kind, {}) for kind in KINDS} | {
    "none": ("", {}),
    "wide blur": ("gaussian-blur", {"size": [9.0, 3.0]}),
    "long blur": ("directional-blur", {"length": 30.0}),
} | {
    f"{kind} {way}": (kind, {"edges": way})
    for kind, declared in KINDS.items()
    for spec in declared.specs if spec.id == "edges"
    for way, _ in spec.options if way != spec.default
}  # fmt: skip


def shown(kind):
    at = {"position": [160.0, 90.0]}
    return {
        "shape": layer("it", "shape", shape__size=[180.0, 110.0], fill__colour="#ff8040", **at),
        "text": layer("it", "text", text="Kite", text__size=70.0, fill__colour="#40c0ff", **at),
        "backdrop": layer("it", "backdrop", fill__colour="#30a060"),
        "drawing": layer("it", "shape", shape__kind="star", shape__radius=80.0, **at),
    }[kind]


def made(chance, kind, effect):
    """A masked layer of a kind, wherever and however it lies, with an effect."""
    masks, values = [], {}
    for nth in range(chance.randint(1, 3)):
        own = f"mask.m{nth}."
        masks.append(Mask(
            id=f"m{nth}", name="Mask", mode=chance.choice(["union", "minus", "intersect", "exclude"]),
            inverted=chance.random() < 0.2, space=chance.choice(["layer", "layer", "scene"]),
            form="half-plane" if chance.random() < 0.1 else "path",
        ))  # fmt: skip
        values |= {
            own + "path": chance.choice(PATHS), own + "rotation": chance.choice([0.0, 33.0]),
            own + "feather": chance.choice([[0.0, 0.0], [14.0, 6.0]]),
            own + "grow": chance.choice([0.0, 9.0, -4.0]),
            own + "position": [chance.uniform(-60, 60), chance.uniform(-40, 40)],
            own + "opacity": chance.choice([100.0, 60.0]),
        }  # fmt: skip
        if masks[-1].space == "scene":
            values[own + "position"] = [chance.uniform(60, 260), chance.uniform(40, 140)]
        if masks[-1].form == "half-plane":
            del values[own + "path"]
    base = masked(shown(kind), *masks, **values)
    more = {}
    if kind != "backdrop":
        more = {"scale": chance.choice([[100.0, 100.0], [-60.0, 240.0], [0.0, 100.0]]),
                "rotation": chance.choice([0.0, 25.0]), "tilt": chance.choice([0.0, 0.0, 50.0])}  # fmt: skip
        if chance.random() < 0.3:
            more["position"] = [key(0, [150.0, 90.0]), key(1, [400.0, 60.0])]
    properties = dict(base.properties)
    for name, value in more.items():
        plain = isinstance(value[0] if isinstance(value, list) else value, float)
        properties[name] = Property(value=value) if plain else Property(keys=tuple(value))
    effects = ()
    wanted, given = EFFECTS[effect]
    if wanted:
        effects = (Effect(id="e", kind=wanted),)
        for name, value in given.items():
            properties[f"effect.e.{name}"] = Property(value=value)
    whole = base.model_copy(update={"properties": properties, "effects": effects})
    document = clear(whole)
    shutter = Shutter(on=effect in ("none", "long blur") and chance.random() < 0.5, angle_deg=360.0)
    scene = document.scenes[0].model_copy(update={"shutter": shutter})
    return check_project(document.model_copy(update={"scenes": (scene,)}))


@pytest.mark.parametrize("effect", EFFECTS)
@pytest.mark.parametrize("kind", ["shape", "text", "backdrop", "drawing"])
def test_a_masked_layer_is_as_it_is_drawn_whole(kind, effect, monkeypatch):
    chance = random.Random(f"{kind} {effect}")
    documents = [made(chance, kind, effect) for _ in range(3)]
    bounded = [draw(each, time_s=0.4).astype(int) for each in documents]
    monkeypatch.setattr("young_comet.core.plan.sheets.let_through", lambda *_: None)
    for document, pixels in zip(documents, bounded, strict=True):
        whole = draw(document, time_s=0.4).astype(int)
        apart = np.abs(pixels - whole)
        # Edges are rounded, and pictures halved, from the corner of what is drawn on.
        masks = document.scenes[0].layers[0].masks
        assert (
            apart.max() < 48
            and (apart > 8).mean() < 0.004
            and np.maximum(apart - 1, 0).mean() < 0.06
        ), masks


def mask(path="M-40 -30 L50 -20 L10 40 Z", mode="union", inverted=False, feather=(0.0, 0.0), grow=0.0,
         half_plane=False, matrix=Affine(), in_scene=False):  # fmt: skip
    return ResolvedMask(half_plane, path, mode, inverted, feather, grow, 1.0, matrix, in_scene)


def resolved(*masks):
    return ResolvedLayer("it", None, Affine.shift(30, 10), 1.0, masks=masks)


@pytest.mark.parametrize("seed", range(40))
def test_beyond_its_bounds_nothing_is_let_through(seed):
    """By brute force: the coverage of everything about, and the bounds."""
    chance = random.Random(seed)
    masks = [
        mask(chance.choice([p for p in PATHS if p]), chance.choice(["union", "minus", "intersect", "exclude"]),
             chance.random() < 0.15, chance.choice([(0.0, 0.0), (20.0, 5.0)]), chance.choice([0.0, 12.0]),
             matrix=Affine.rotation(chance.uniform(0, 90)), in_scene=chance.random() < 0.3)
        for _ in range(chance.randint(1, 3))
    ]  # fmt: skip
    layer_, working = resolved(*masks), Affine.scaling(1.5, 1.5)
    bounds = let_through(layer_, working)
    about = (-700, -700, 700, 700)
    cover = mask_coverage(layer_, working, about)
    if bounds is None:
        assert any(m.inverted for m in masks) or masks[0].mode == "minus"
        return
    left, top, right, bottom = (n + 700 for n in bounds)
    inside = cover[max(0, top) : bottom, max(0, left) : right].astype(int).sum()
    assert inside == cover.astype(int).sum()


def test_what_has_no_bounds():
    working = Affine()
    assert let_through(resolved(), working) is None
    assert let_through(resolved(mask(inverted=True)), working) is None
    assert let_through(resolved(mask(mode="minus")), working) is None
    assert let_through(resolved(mask(half_plane=True)), working) is None
    assert let_through(resolved(mask(), mask(inverted=True)), working) is None
    # What is taken away, or shared with what has none, keeps the bounds of the first.
    first = let_through(resolved(mask()), working)
    assert first is not None
    for other in (mask(mode="minus"), mask(mode="intersect", half_plane=True)):
        assert let_through(resolved(mask(), other), working) == first
