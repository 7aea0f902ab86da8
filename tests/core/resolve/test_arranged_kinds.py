"""Every property of every kind of layer that arrangements may change, also of members: on the way
nothing is lost, at the ends it is what they say, and keys of it give the same frames."""

import numpy as np
import pytest
from tests.build import CONTEXT, Files, layer, png, project

from young_comet.core.catalog import (
    LAYER_KINDS,
    arranged_spec,
    check_project,
    specs_of,
)
from young_comet.core.frame.contents import PlaceholderContent
from young_comet.core.model import (
    Arrangement,
    Asset,
    Effect,
    Front,
    Kind,
    Mask,
    Part,
    Run,
    Scene,
    Stand,
    Step,
)
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit

PICTURE, OTHER = png(40, 30), png(30, 40, (20, 180, 90))
FILES = {"a" * 64: PICTURE, "b" * 64: OTHER}
LIBRARY = MediaLibrary(Files(**FILES))
RENDERER = Renderer(LIBRARY)
ASSETS = tuple(
    Asset(id=i, name=i.title(), kind="picture", media_type="image/png", hash=h, size_bytes=9,
          width=w, height=t)
    for i, h, w, t in (("emblem", "a" * 64, 40, 30), ("bow", "b" * 64, 30, 40))
)  # fmt: skip
MOMENTS = [0.2, 0.52, 0.6, 0.8, 0.96, 1.1, 1.3]


def dressed(kind):
    """A layer of a kind with members of all families that it may have."""
    own = {
        "shape": {"shape__size": [120, 80], "position": [160, 90]},
        "text": {"text": "Gust 3", "text__size": 40.0, "position": [160, 90]},
        "picture": {"picture__asset": "emblem", "position": [160, 90], "scale": [300, 300]},
        "scene": {"scene__id": "inner", "position": [160, 90]},
    }.get(kind, {})
    made = layer("it", kind, **own)
    update = {}
    if kind not in ("sound", "carrier"):
        update["effects"] = (Effect(id="glow", kind="glow"), Effect(id="e2", kind="gaussian-blur"))
        update["masks"] = (Mask(id="m", name="Edge"),)
    if kind == "shape":
        update["parts"] = (Part(id="p", name="Sail"),)
    if kind == "text":
        update["runs"] = (Run(id="r", first=0, last=2),)
        update["fronts"] = (Front(id="f", name="Wave"),)
    return made.model_copy(update=update)


def other(spec):
    """Another value than the default; None for kinds of which there is no other here."""
    samples = {
        Kind.COLOUR: "#2f9fb3", Kind.WORDS: "Let go", Kind.TEXT: "", Kind.PATH: "M-30 -20 L30 -10 L0 30 Z",
        Kind.STOPS: [[0, "#123456"], [1, "#fedcba"]], Kind.CURVE: [[0, 0.2], [1, 0.7]],
        Kind.SPOTS: [[50, 50, 60, "#123456"]], Kind.DASH: "12 6", Kind.FEATURES: "smcp",
        Kind.FONT: "unbounded", Kind.ASSET: "bow" if "picture" in spec.id else None,
    }  # fmt: skip
    if spec.kind in samples:
        return samples[spec.kind]
    if spec.kind is Kind.FLAG:
        return not spec.default
    if spec.kind is Kind.CHOICE:
        return next(option for option, _ in spec.options if option != spec.default)
    low = -40.0 if spec.minimum is None else max(-40.0, spec.minimum)
    high = 60.0 if spec.maximum is None else min(spec.maximum, 60.0 + abs(low))
    if spec.kind is Kind.NUMBER:
        near = low + (high - low) * 0.43
        return float(round(near)) if spec.whole else near
    return [low + (high - low) * 0.43, low + (high - low) * 0.6]


CASES = [
    (kind, spec.id)
    for kind in LAYER_KINDS
    if kind != "clip"
    for spec in specs_of(dressed(kind))
    if arranged_spec(dressed(kind), spec.id) is not None and other(spec) is not None
]


def document(kind, name):
    it = dressed(kind)
    spec = next(each for each in specs_of(it) if each.id == name)
    value = spec.kind.check(spec, other(spec), spec.label)
    under = layer("under", "backdrop", fill__colour="#405060")
    above = layer("above", "shape", shape__size=[30, 30], position=[80, 40], rotation=20.0)
    step = Step(length_s=0.5, easing="ease-in-out")
    arrangements = (
        Arrangement(id="a", name="A", hold_s=0.5, step=step),
        Arrangement(id="b", name="B", stands=(Stand(layer="it", values={name: value}),)),
    )
    made = project(under, it, above, length_s=2.0, arrangements=())
    scene = made.scenes[0].model_copy(update={"arrangements": arrangements})
    inner = Scene(id="inner", name="Inner", width=160, height=90, rate=scene.rate, length_s=2.0,
                  layers=(layer("disc", "shape", 0, 2.0, shape__kind="ellipse", shape__size=[50, 50]),))  # fmt: skip
    return check_project(
        made.model_copy(update={"scenes": (scene, inner), "assets": ASSETS})
    ), value


def frames(made):
    evaluator = SceneEvaluator(made, "reveal", library=LIBRARY)
    found = []
    for moment in MOMENTS:
        frame = evaluator.at(moment)
        assert not any(isinstance(each.content, PlaceholderContent) for each in frame.layers)
        found.append(RENDERER.render(frame, 80, 45).astype(np.int16))
    assert not evaluator.faults
    return found


@pytest.mark.parametrize(("kind", "name"), CASES, ids=lambda each: each)
def test_a_property_differs_and_its_keys_give_the_same_frames(kind, name):
    made, value = document(kind, name)
    evaluator = SceneEvaluator(made, "reveal", library=LIBRARY)
    it = evaluator.find("it")
    spec = arranged_spec(it, name)
    plain = made.scenes[0].model_copy(update={"arrangements": ()})
    plain = SceneEvaluator(
        made.model_copy(update={"scenes": (plain, *made.scenes[1:])}), "reveal", library=LIBRARY
    )
    own = plain.values(plain.find("it"), 0.3)(name)
    assert evaluator.values(it, 0.3)(name) == own
    assert evaluator.values(it, 1.5)(name) == spec.kind.resolve(value, {})
    assert own != spec.kind.resolve(value, {})
    before = frames(made)
    edit = {"kind": "arrangements-to-keys", "scene": "reveal"}
    keyed = apply_edit(made, parse_edit(edit), CONTEXT).project
    worst = max(int(np.abs(a - b).max()) for a, b in zip(before, frames(keyed), strict=True))
    assert worst <= 1


@pytest.mark.parametrize("kind", LAYER_KINDS)
@pytest.mark.parametrize("place", ["in", "across", "outside"])
def test_what_is_away_for_a_while_comes_and_goes_wherever_it_is(kind, place):
    if kind in ("sound", "carrier", "clip"):
        pytest.skip("it is not seen, or has no file here")
    it = dressed(kind)
    at = {"in": (160, 90), "across": (0, 90), "outside": (-400, 90)}[place]
    stands = () if not LAYER_KINDS[kind].placed else (Stand(layer="it", values={"position": at}),)
    step = Step(length_s=0.4)
    arrangements = tuple(
        Arrangement(id=f"a{n}", name=f"A{n}", hold_s=0.3, step=step, stands=each)
        for n, each in enumerate((stands, (Stand(layer="it", there=False),), stands))
    )
    made, _ = document("shape", "rotation")
    scene = made.scenes[0].model_copy(
        update={"layers": (made.scenes[0].layers[0], it), "arrangements": arrangements}
    )
    made = check_project(made.model_copy(update={"scenes": (scene, *made.scenes[1:])}))
    evaluator = SceneEvaluator(made, "reveal", library=LIBRARY)
    ids = [[each.id for each in evaluator.at(t).layers] for t in (0.1, 0.8, 1.6)]
    seen = {"it"} if kind != "scene" else {"it", "disc"}
    assert seen & set(ids[0]) and not seen & set(ids[1]) and seen & set(ids[2])
    before = frames(made)
    edit = {"kind": "arrangements-to-keys", "scene": "reveal"}
    keyed = apply_edit(made, parse_edit(edit), CONTEXT).project
    assert max(int(np.abs(a - b).max()) for a, b in zip(before, frames(keyed), strict=True)) <= 1
