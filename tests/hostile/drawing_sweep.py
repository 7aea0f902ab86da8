"""Every effect and every move on every kind of layer, in, across and outside the frame."""

from __future__ import annotations

import hashlib
import random
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from tests.build import Files, key, layer, png, scene
from tests.footage import video

from young_comet.core.catalog import MASKS, check_project, layer_kind, specs_of
from young_comet.core.effects import EFFECTS
from young_comet.core.model import (
    Asset,
    Effect,
    Front,
    Layer,
    Mask,
    Move,
    Part,
    Project,
    Property,
    RateModel,
    Scene,
    Shutter,
)
from young_comet.core.moves import MOVES
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator

WIDTH, HEIGHT = 160, 90
SVG = b'<svg xmlns="http://www.w3.org/2000/svg" width="60" height="40"><path d="M0 0H60V40Z" fill="#ff7a45"/></svg>'
BYTES = {"picture": png(60, 40), "svg": SVG, "clip": video(10)}
HASHES = {kind: hashlib.sha256(data).hexdigest() for kind, data in BYTES.items()}
TYPES = {"picture": "image/png", "svg": "image/svg+xml", "clip": "video/mp4"}
# How far beyond an edge layers are put, px: about what effects reach.
FAR = (0, 1, 3, 10, 30, 60, 100, 200, 330)


def assets() -> tuple[Asset, ...]:
    size = {"picture": (60, 40), "svg": (60, 40), "clip": (128, 64)}
    return tuple(
        Asset(
            id=kind,
            name=f"{kind}.bin",
            kind=kind,
            media_type=TYPES[kind],
            hash=HASHES[kind],
            size_bytes=len(data),
            width=size[kind][0],
            height=size[kind][1],
            duration_s=0.4,
            frame_count=10,
            rate=RateModel(num=25),
        )
        for kind, data in BYTES.items()
    )


def layers() -> dict[str, Layer]:
    """One layer of each kind of content."""
    drawing = layer("x", "shape", shape__kind="drawing", part__a__path="M0 0L50 10L20 30Z")
    return {
        "shape": layer("x", "shape", shape__size=[60, 40]),
        "drawing": drawing.model_copy(update={"parts": (Part(id="a", name="Sail"),)}),
        "text": layer("x", "text", text="Kite fly", text__size=30),
        "picture": layer("x", "picture", picture__asset="picture"),
        "vector": layer("x", "picture", picture__asset="svg"),
        "clip": layer("x", "clip", clip__asset="clip"),
        "scene": layer("x", "scene", scene__id="inner"),
        "backdrop": layer("x", "backdrop"),
        "treatment": layer("x", "treatment"),
        "carrier": layer("x", "carrier"),
    }


INNER = Scene(
    id="inner", name="Inner", width=60, height=40, rate=RateModel(num=25), length_s=4,
    layers=(layer("a", "shape", shape__size=[30, 30], position=[20, 20]),),
)  # fmt: skip


def document(tested: Layer, **more: Any) -> Project:
    below = layer(
        "below", "shape", shape__size=[WIDTH / 2, HEIGHT / 2], position=[WIDTH / 2, HEIGHT / 2]
    )
    outer = scene(below, tested, width=WIDTH, height=HEIGHT, **more)
    return check_project(
        Project(id="kites", name="Kite Week", scenes=(outer, INNER), assets=assets())
    )


@dataclass
class Sweep:
    """Draws documents and gathers what goes wrong."""

    drawn: int = 0
    troubles: list[str] = field(default_factory=list)
    slowest: tuple[float, Any] = (0.0, None)
    library: MediaLibrary = field(
        default_factory=lambda: MediaLibrary(Files(**{HASHES[k]: d for k, d in BYTES.items()}))
    )

    def draw(self, project: Project, time_s: float, what: Any) -> None:
        self.drawn += 1
        began = time.monotonic()
        try:
            frame = SceneEvaluator(project, "reveal", library=self.library).at(time_s)
            renderer = Renderer(self.library, limit_bytes=1 << 24)
            picture = renderer.render(frame, WIDTH, HEIGHT)
        except Exception as error:
            self.troubles.append(f"{what}: {type(error).__name__}: {error}")
            return
        self.slowest = max(self.slowest, (time.monotonic() - began, what), key=lambda each: each[0])
        if (picture[..., :3].max(axis=2) > picture[..., 3]).any():
            self.troubles.append(f"{what}: more light than what is covered lets through")
        self.troubles += [f"{what}: {fault.part} {fault.why}" for fault in renderer.faults]


def places(chance: random.Random, count: int) -> Iterator[dict[str, Any]]:
    """Values of placed layers: beyond, across and within each edge; some turned, tilted, tiny, huge."""
    for _ in range(count):
        far, side = chance.choice(FAR), chance.choice("lrtbci")
        x, y = chance.uniform(0, WIDTH), chance.uniform(0, HEIGHT)
        if side in "lc":
            x = -chance.uniform(0, far + 64)
        if side == "r":
            x = WIDTH + chance.uniform(0, far + 64)
        if side in "tc":
            y = -chance.uniform(0, far + 32)
        if side == "b":
            y = HEIGHT + chance.uniform(0, far + 32)
        values: dict[str, Any] = {"position": (x, y)}
        roll = chance.random()
        if roll < 0.2:
            values["rotation"] = chance.uniform(0, 360)
        elif roll < 0.3:
            values["scale"] = (
                float(chance.choice([0, 1, -100, 1000])),
                float(chance.choice([0, 100, 5000])),
            )
        elif roll < 0.4:
            values["tilt"] = chance.uniform(0, 180)
        yield values


def sweep_effects(seed: int, count: int, kinds: tuple[str, ...] = ()) -> Sweep:
    """Every effect with its defaults at so many places of every kind of layer."""
    chance, sweep = random.Random(seed), Sweep()
    for name, base in layers().items():
        if kinds and name not in kinds:
            continue
        placed = layer_kind(base.kind).placed
        for effect in EFFECTS:
            for values in places(chance, count if placed else 2):
                properties = dict(base.properties)
                if placed:
                    properties |= {k: Property(value=v) for k, v in values.items()}
                tested = base.model_copy(
                    update={"effects": (Effect(id="e", kind=effect),), "properties": properties}
                )
                sweep.draw(document(tested), 0.7, (name, effect, values))
    return sweep


def _goes(chance: random.Random, *ends: Any) -> Property:
    """From one value to another within two frames, or within the whole sweep."""
    begin, end = chance.choice([(0.0, 0.08), (0.04, 0.06), (0.0, 4.0)])
    return Property(
        keys=(key(begin, ends[0]), key(end, ends[1], chance.choice(["linear", "ease"])))
    )


# What a layer may do while the shutter is open: values by property, some of them on their way.
_ON_THEIR_WAY: dict[str, Any] = {
    "shifts": lambda c: {"position": _goes(c, (c.uniform(-90, 250), 45.0), (80.0, c.uniform(-60, 150)))},
    "turns": lambda c: {"rotation": _goes(c, 0.0, c.choice([1.0, 90.0, 3600.0]))},
    "grows": lambda c: {"scale": _goes(c, (c.choice([0.0, 0.001, 90.0, -100.0]), 100.0),
                                      (100.0, c.choice([0.0, 0.001, 110.0, 600.0])))},
    "tilts": lambda c: {"tilt": _goes(c, 0.0, c.choice([30.0, 90.0, 180.0]))},
    "leans": lambda c: {"skew": _goes(c, (0.0, 0.0), (c.choice([20.0, 80.0]), 0.0))},
    "fades": lambda c: {"opacity": _goes(c, 0.0, 100.0)},
    "squeezed": lambda c: {"scale": Property(value=c.choice(
        [(0.001, 100.0), (100.0, 0.001), (0.0, 100.0), (-100.0, 5.0), (600.0, 600.0)]))},
    "cut": lambda c: {
        "slices.kind": Property(value=c.choice(["strips", "tiles", "wedges"])),
        "slices.progress": _goes(c, 0.0, 100.0),
        "slices.offset": Property(value=(c.uniform(-90, 90), c.uniform(-300, 300))),
        "slices.rotation": Property(value=c.choice([0.0, 40.0])),
        "slices.tilt": Property(value=c.choice([0.0, 0.0, 120.0])),
        "slices.opacity": Property(value=c.choice([100.0, 0.0])),
    },
    "masked": lambda c: {
        "mask.m.scale": _goes(c, (0.0, 10.0), (c.choice([30.0, 900.0]), 40.0)),
        "mask.m.position": _goes(c, (c.uniform(-400, 400), 0.0), (0.0, 0.0)),
        "mask.m.feather": Property(value=(c.choice([0.0, 12.0, 400.0]), 3.0)),
        "mask.m.grow": _goes(c, 0.0, c.choice([20.0, -200.0])),
    },
    "fronted": lambda c: {
        "front.f.progress": _goes(c, 0.0, 100.0),
        "front.f.offset": Property(value=(0.0, c.uniform(-200, 200))),
        "front.f.scale": Property(value=(c.choice([-100.0, 0.0, 900.0]), 0.0)),
        "front.f.turn": Property(value=c.choice([0.0, 90.0])),
        "front.f.blur": Property(value=c.choice([0.0, 8.0])),
    },
    "many": lambda c: {"copies.count": Property(value=5.0), "copies.position": Property(value=(30.0, 9.0))},
}  # fmt: skip
# Beside these: effects that mix, that do not, and that read what lies around.
_WORN = ("gaussian-blur", "drop-shadow", "wave", "rough-edge", "glow", "crop")


def moving(chance: random.Random, base: Layer) -> tuple[Layer, Any]:
    """A layer that does a few things at once, as far as its kind can."""
    properties = dict(base.properties)
    chosen = chance.sample(sorted(_ON_THEIR_WAY), chance.randint(1, 4))
    worn = [each for each in _WORN if chance.random() < 0.15]
    tested = base.model_copy(update={
        "effects": tuple(Effect(id=f"e{n}", kind=each) for n, each in enumerate(worn)),
        "masks": (Mask(id="m", name="Mask", form=chance.choice(["path", "half-plane"])),)
        if "masked" in chosen and MASKS.suits(base) else (),
        "fronts": (Front(id="f", name="Front"),)
        if "fronted" in chosen and base.kind == "text" else (),
    })  # fmt: skip
    known = {spec.id for spec in specs_of(tested)}
    for name in chosen:
        properties |= {k: v for k, v in _ON_THEIR_WAY[name](chance).items() if k in known}
    return tested.model_copy(update={"properties": properties}), (chosen, worn)


def sweep_motion(seed: int, count: int, kinds: tuple[str, ...] = ()) -> Sweep:
    """So many layers of every kind that do a few things at once while the shutter is open."""
    sweep = Sweep()
    for name, base in layers().items():
        if kinds and name not in kinds:
            continue
        chance = random.Random(f"{seed} {name}")
        for nth in range(count):
            tested, what = moving(chance, base)
            shutter = Shutter(on=True, angle_deg=chance.choice([90.0, 360.0]), offset_deg=-180.0)
            sweep.draw(document(tested, shutter=shutter), chance.choice([0.0, 0.04, 2.0]),
                       (name, nth, what))  # fmt: skip
    return sweep


def sweep_moves() -> Sweep:
    """Every move in every phase, over everything it can be spread over, on every kind of layer: also
    on those that it does not fit, as older documents may have it."""
    sweep = Sweep()
    for name, base in layers().items():
        for move, kind in MOVES.items():
            for phase in kind.phases:
                for over in ("whole", "letters", "slices", "copies"):
                    spread = kind.by_id.get("spread.over")
                    offered = dict(spread.options) if spread else {"whole": ""}
                    if over not in offered:
                        continue
                    properties = dict(base.properties)
                    if "spread.over" in kind.by_id:
                        properties["move.m.spread.over"] = Property(value=over)
                    if over == "slices" and layer_kind(base.kind).spec("slices.kind"):
                        properties["slices.kind"] = Property(value="strips")
                    tested = base.model_copy(update={
                        "moves": (Move(id="m", kind=move, phase=phase),), "arrive_s": 1.0, "leave_s": 1.0,
                        "properties": properties,
                    })  # fmt: skip
                    for time_s in (0, 0.5, 3.96) if phase != "dwell" else (2,):
                        sweep.draw(document(tested), time_s, (name, move, phase, over, time_s))
    return sweep
