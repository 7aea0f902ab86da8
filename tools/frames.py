"""Frames before and after a change: kept as pictures, then compared pixel by pixel.

    .venv/bin/python tools/frames.py keep before.npz        in the tree as it was
    .venv/bin/python tools/frames.py compare before.npz     in the tree as it is: exit code 1 where
                                                            a frame differs by more than --most levels

200 frames of the demo's scenes, at a quarter of their size, and small scenes put together at random:
layers of every kind, riding, matted, masked, moving, sliced, with effects, in and outside the frame.
``--data`` is a folder with the demo; it is made where it is not there.
"""

from __future__ import annotations

import argparse
import hashlib
import random
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from tests.build import Files, layer, scene  # noqa: E402
from tests.hostile import drawing_sweep as kites  # noqa: E402

from young_comet.config import Config  # noqa: E402
from young_comet.core.catalog import check_project, layer_kind  # noqa: E402
from young_comet.core.effects import EFFECTS  # noqa: E402
from young_comet.core.model import (  # noqa: E402
    Effect,
    Layer,
    Mask,
    Move,
    Project,
    Property,
    Shutter,
)
from young_comet.core.moves import MOVES  # noqa: E402
from young_comet.core.paint import MediaLibrary, Renderer  # noqa: E402
from young_comet.core.resolve import SceneEvaluator  # noqa: E402
from young_comet.demo import DEMO_ID, ensure_demo  # noqa: E402
from young_comet.errors import DocumentError  # noqa: E402
from young_comet.store import DataFolder  # noqa: E402

DEMO_FRAMES = 200
SCENES = 150
MOMENTS = (0.0, 0.32, 1.9, 3.96)
_MODES = ("normal", "normal", "multiply", "screen", "overlay", "luminosity", "plus-lighter")


def demo_frames(data: Path) -> Iterator[tuple[str, np.ndarray]]:
    """Frames of all scenes of the demo, spread over their lengths."""
    folder = DataFolder(Config(data=data))
    ensure_demo(folder)
    project = folder.workspace.state(DEMO_ID).project
    library = MediaLibrary(folder.assets, drawings=folder.assets)
    each = -(-DEMO_FRAMES // len(project.scenes))
    for chosen in project.scenes:
        evaluator = SceneEvaluator(project, chosen.id, library=library)
        renderer = Renderer(library)
        for number in np.linspace(0, chosen.frame_count - 1, each).round().astype(int):
            pixels = renderer.render(
                evaluator.frame(int(number)), chosen.width // 4, chosen.height // 4
            )
            yield f"{chosen.id}/{number}", pixels.copy()


def _some_layer(chance: random.Random, number: int, below: list[Layer]) -> Layer:
    made = dict(kites.layers())
    base = made[chance.choice(list(made))]
    kind = layer_kind(base.kind)
    id_ = f"l{number}"
    properties = dict(base.properties)

    def put(name: str, value: Any) -> None:
        if kind.spec(name):
            properties[name] = Property(value=value)

    for name, value in next(kites.places(chance, 1)).items():
        put(name, value)
    if chance.random() < 0.5:
        put("opacity", float(chance.choice([0, 30, 75])))
    put("blend", chance.choice(_MODES))
    put("composite", chance.choice(["over", "over", "over", "atop", "knock-out"]))
    if chance.random() < 0.3:
        put("slices.kind", chance.choice(["strips", "tiles", "wedges"]))
        put("slices.progress", 55.0)
        put("slices.turn", float(chance.choice([0, 60])))
    if chance.random() < 0.3:
        put("copies.count", 4.0)
        put("copies.position", (14.0, 5.0))
    if below and chance.random() < 0.3:
        put("matte.layer", chance.choice(below).id)
    update: dict[str, Any] = {"id": id_, "name": id_.title()}
    if chance.random() < 0.5:
        picked = chance.sample(list(EFFECTS), chance.choice([1, 1, 2]))
        update["effects"] = tuple(Effect(id=f"e{n}", kind=k) for n, k in enumerate(picked))
    if chance.random() < 0.3:
        update["masks"] = (Mask(id="m", name="Mask"),)
        properties["mask.m.path"] = Property(value="M-30 -10 C-30 -30 30 -30 25 10 L-20 25 Z")
        properties["mask.m.feather"] = Property(value=(6.0, 6.0))
    if chance.random() < 0.5 and kind.placed:
        move = chance.choice(list(MOVES))
        phase = chance.choice(MOVES[move].phases)
        update |= {
            "moves": (Move(id="m", kind=move, phase=phase),),
            "arrive_s": 1.0,
            "leave_s": 0.8,
        }
        if "spread.over" in MOVES[move].by_id:
            over = chance.choice(["whole", "letters", "slices", "copies"])
            properties["move.m.spread.over"] = Property(value=over)
    if below and kind.placed and chance.random() < 0.3:
        carriers = [la for la in below if layer_kind(la.kind).placed]
        if carriers:
            update["rides_on"] = chance.choice(carriers).id
    return base.model_copy(update={**update, "properties": properties})


def random_project(seed: int) -> Project | None:
    """A small scene of up to five layers; None where what came together is refused."""
    chance = random.Random(seed)
    layers: list[Layer] = []
    for number in range(chance.randint(2, 5)):
        layers.append(_some_layer(chance, number, layers))
    backdrop = layer("ground", "backdrop")
    shutter = Shutter(on=chance.random() < 0.5, angle_deg=200)
    outer = scene(backdrop, *layers, width=kites.WIDTH, height=kites.HEIGHT, shutter=shutter)
    try:
        return check_project(
            Project(
                id="kites", name="Kite Week", scenes=(outer, kites.INNER), assets=kites.assets()
            )
        )
    except DocumentError:
        return None


def random_frames() -> Iterator[tuple[str, np.ndarray]]:
    """Four moments of each scene, at one and a half of its size."""
    files = Files(**{kites.HASHES[kind]: data for kind, data in kites.BYTES.items()})
    for seed in range(SCENES):
        project = random_project(seed)
        if project is None:
            continue
        library = MediaLibrary(files)
        evaluator = SceneEvaluator(project, "reveal", library=library)
        renderer = Renderer(library, limit_bytes=1 << 24)
        for time_s in MOMENTS:
            size = (kites.WIDTH * 3 // 2, kites.HEIGHT * 3 // 2)
            yield f"random {seed}/{time_s}", renderer.render(evaluator.at(time_s), *size).copy()


def all_frames(data: Path) -> Iterator[tuple[str, np.ndarray]]:
    yield from demo_frames(data)
    yield from random_frames()


def compare(kept: Path, data: Path, most: int) -> int:
    """How many frames differ by more than so many levels; says where and by how much."""
    before = np.load(kept)
    same = rounded = 0
    wrong: list[str] = []
    seen = set()
    for name, pixels in all_frames(data):
        seen.add(name)
        if name not in before.files or before[name].shape != pixels.shape:
            wrong.append(f"{name}: not among the frames kept")
            continue
        apart = np.abs(before[name].astype(int) - pixels.astype(int))
        worst = int(apart.max())
        if worst == 0:
            same += 1
        elif worst <= most:
            rounded += 1
        else:
            share = float((apart.max(axis=2) > most).mean())
            wrong.append(f"{name}: {worst} levels, {share:.2%} of the pixels")
    wrong += [f"{name}: is not drawn any more" for name in set(before.files) - seen]
    print(
        f"{same} frames are equal, {rounded} differ by at most {most} levels, {len(wrong)} by more"
    )
    for line in wrong[:40]:
        print("   ", line)
    return len(wrong)


def main() -> None:
    parser = argparse.ArgumentParser(
        description=__doc__, formatter_class=argparse.RawTextHelpFormatter
    )
    parser.add_argument("what", choices=("keep", "compare"))
    parser.add_argument("file", type=Path)
    parser.add_argument("--data", type=Path, default=Path("frames-data"))
    parser.add_argument("--most", type=int, default=1)
    options = parser.parse_args()
    if options.what == "compare":
        sys.exit(1 if compare(options.file, options.data, options.most) else 0)
    frames = dict(all_frames(options.data))
    np.savez(options.file, **frames)
    together = hashlib.sha256(b"".join(frames[name].tobytes() for name in sorted(frames)))
    print(f"{len(frames)} frames kept, together {together.hexdigest()[:16]}")


if __name__ == "__main__":
    main()
