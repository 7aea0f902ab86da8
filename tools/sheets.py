"""Draws the contact sheets in docs/sheets anew: strips of eight frames of every move and every
passage, pictures of every effect with its default and its settings by name, strips of transitions."""

from __future__ import annotations

import sys
import tempfile
import textwrap
from pathlib import Path
from typing import Any

import cv2
import numpy as np

sys.path.insert(0, str(Path(__file__).parent.parent / "src"))

from young_comet.config import Config  # noqa: E402
from young_comet.core.catalog import check_project  # noqa: E402
from young_comet.core.effects import EFFECTS  # noqa: E402
from young_comet.core.effects.settings import SETTINGS  # noqa: E402
from young_comet.core.model import (  # noqa: E402
    Effect,
    Layer,
    Move,
    Project,
    Property,
    RateModel,
    Scene,
    Shutter,
    Transition,
)
from young_comet.core.moves import MOVES, PASSAGES  # noqa: E402
from young_comet.core.paint import MediaLibrary, Renderer  # noqa: E402
from young_comet.core.resolve import SceneEvaluator  # noqa: E402
from young_comet.core.resolve.phases import phase_length  # noqa: E402
from young_comet.core.transitions import TRANSITIONS  # noqa: E402
from young_comet.demo import DEMO_ID, ensure_demo  # noqa: E402
from young_comet.store import DataFolder  # noqa: E402

TARGET = Path(__file__).parent.parent / "docs" / "sheets"
FRAMES = 8
PAPER, INK, FAINT = (24, 20, 20), (232, 226, 222), (150, 140, 134)
EMBLEM = "kite-emblem"
DUSK = {"fill.kind": "linear", "fill.start": (50, 0), "fill.end": (50, 100)}


class Bench:
    """The demo's drawings, a picture made of its logo reveal, and something that draws scenes."""

    def __init__(self, data: Path) -> None:
        folder = DataFolder(Config(data=data))
        ensure_demo(folder)
        self.project = folder.workspace.state(DEMO_ID).project
        self.library = MediaLibrary(folder.assets, drawings=folder.assets)
        self.renderer = Renderer(self.library)
        reveal = SceneEvaluator(self.project, "logo-reveal", library=self.library)
        seen = self.renderer.render(reveal.at(2.6), 1920, 1080)[..., :3]
        part = np.ascontiguousarray(seen[230:830, 430:1490])
        made = cv2.imencode(".png", part)[1].tobytes()
        self.photo = folder.assets.ingest("seen.png", made, "seen")

    def scene(self, *layers: Layer, width: int, height: int, length_s: float = 4.0) -> Project:
        made = Scene(
            id="s", name="S", width=width, height=height, rate=RateModel(num=25),
            length_s=length_s, layers=layers, shutter=Shutter(on=True),
        )  # fmt: skip
        assets = (*self.project.assets, self.photo)
        return check_project(
            Project(id="sheet", name="Sheet", scenes=(made,), assets=assets)
        )

    def frames(self, project: Project, times: Any, size: tuple[int, int]) -> list[np.ndarray]:
        """Frames on black, (height, width, 3) in BGR, reduced from the scene's own size."""
        evaluator = SceneEvaluator(project, "s", library=self.library)
        scene = evaluator.scene
        found = []
        for time_s in times:
            pixels = self.renderer.render(evaluator.at(float(time_s)), scene.width, scene.height)
            small = cv2.resize(pixels[..., :3], size, interpolation=cv2.INTER_AREA)
            found.append(small)
        return found


def made(id: str, kind: str, length_s: float = 4.0, **more: Any) -> Layer:
    """A layer from ``values`` by their names, with ``moves`` or ``effects``."""
    values = more.pop("values")
    properties = {name: Property(value=value) for name, value in values.items()}
    return Layer(
        id=id, name=id, kind=kind, start_s=0, end_s=length_s, properties=properties, **more
    )


def sky(length_s: float = 4.0) -> Layer:
    stops = ((0, "#17224d"), (1, "#6b3b73"))
    return made("sky", "backdrop", length_s, values={**DUSK, "fill.stops": stops})


def sheet(rows: list[np.ndarray], columns: int, path: Path) -> None:
    """Rows in so many columns one after another, as a picture."""
    width = max(row.shape[1] for row in rows)
    padded = []
    for row in rows:
        wide = np.full((row.shape[0], width, 3), PAPER, np.uint8)
        wide[:, : row.shape[1]] = row
        padded.append(wide)
    total = sum(row.shape[0] for row in padded)
    parts: list[list[np.ndarray]] = [[]]
    tall = 0
    for row in padded:
        if tall + row.shape[0] / 2 > total / columns and len(parts) < columns:
            parts.append([])
            tall = 0
        parts[-1].append(row)
        tall += row.shape[0]
    stacks = [np.vstack(part) for part in parts]
    height = max(len(stack) for stack in stacks)
    whole = np.full((height, width * len(stacks), 3), PAPER, np.uint8)
    for n, stack in enumerate(stacks):
        whole[: len(stack), n * width : (n + 1) * width] = stack
    path.parent.mkdir(parents=True, exist_ok=True)
    cv2.imwrite(str(path), whole, [cv2.IMWRITE_JPEG_QUALITY, 76])
    print(path.name, whole.shape, path.stat().st_size // 1000, "kB")


def written(width: int, height: int, *lines: tuple[str, tuple[int, int, int]]) -> np.ndarray:
    label = np.full((height, width, 3), PAPER, np.uint8)
    for n, (text, colour) in enumerate(lines):
        cv2.putText(
            label, text, (8, 16 + 14 * n), cv2.FONT_HERSHEY_SIMPLEX, 0.4, colour, 1, cv2.LINE_AA
        )
    return label


# Moves

WIDE, HIGH = 480, 216
CELL = (120, 54)


def worn(bench: Bench, over: str, moves: list[tuple[str, str, dict[str, Any]]]) -> Project:
    """A title, or the emblem, that wears moves for as long as they take."""
    values: dict[str, Any] = {"position": (WIDE / 2, HIGH / 2)}
    if over == "emblem":
        kind = "picture"
        values |= {"picture.asset": EMBLEM, "scale": (32, 32)}
    else:
        kind = "text"
        values |= {
            "text": "Kite Week", "text.font": "unbounded", "text.weight": 800, "text.size": 62,
            "fill.colour": "#ffd27a",
        }  # fmt: skip
    wearing = []
    for n, (move, phase, own) in enumerate(moves):
        wearing.append(Move(id=f"m{n}", kind=move, phase=phase))
        values |= {f"move.m{n}.{name}": value for name, value in own.items()}
    layer = made("word", kind, 2.4, values=values, moves=tuple(wearing))
    first = bench.scene(sky(), layer, width=WIDE, height=HIGH)
    evaluator = SceneEvaluator(first, "s", library=bench.library)
    lengths = {
        f"{phase}_s": phase_length(evaluator, layer, phase) or 0.0
        for phase in ("arrive", "leave")
    }
    stands = 2.4 if any(phase == "dwell" for _, phase, _ in moves) else 0.5
    end_s = lengths["arrive_s"] + stands + lengths["leave_s"]
    layer = layer.model_copy(update={**lengths, "end_s": end_s})
    return bench.scene(sky(end_s), layer, width=WIDE, height=HIGH, length_s=end_s)


def strip(bench: Bench, over: str, move: str, phase: str) -> np.ndarray:
    """Eight frames of one move over what it goes."""
    kind = MOVES[move]
    own: dict[str, Any] = {}
    on = "picture" if over == "emblem" else "text"
    empty = np.full((CELL[1] + 3, (CELL[0] + 2) * FRAMES, 3), PAPER, np.uint8)
    offered = on in kind.fits
    over = "whole" if over in ("whole", "emblem") else over
    spread = kind.by_id.get("spread.over")
    choices = {option for option, _ in spread.options} if spread else {"whole"}
    offered &= over in choices
    if spread:
        own["spread.over"] = over
    if not offered:
        return empty
    project = worn(bench, "emblem" if on == "picture" else over, [(move, phase, own)])
    layer = project.scenes[0].layers[1]
    spans = {
        "arrive": (0.0, layer.arrive_s + 0.08),
        "dwell": (0.0, layer.end_s),
        "leave": (layer.end_s - layer.leave_s - 0.04, layer.end_s),
    }
    begin, end = spans[phase]
    times = begin + (np.arange(FRAMES) + 0.5) / FRAMES * (end - begin)
    return joined(bench.frames(project, times, CELL))


def joined(frames: list[np.ndarray]) -> np.ndarray:
    return np.hstack([cv2.copyMakeBorder(f, 0, 3, 0, 2, cv2.BORDER_CONSTANT, value=PAPER)
                      for f in frames])  # fmt: skip


def moves(bench: Bench) -> None:
    rows = []
    label = 104
    for passage in PASSAGES.values():
        own = [(each.kind, each.phase, dict(each.on("text"))) for each in passage.moves]
        project = worn(bench, "title", own)
        layer = project.scenes[0].layers[1]
        rest, leaves = layer.arrive_s, layer.end_s - layer.leave_s
        spans = ((0.0, rest, 7), (rest, leaves, 3), (leaves, layer.end_s, 6))
        times = [a + (np.arange(n) + 0.5) / n * (b - a) for a, b, n in spans]
        times = np.concatenate(times)
        frames = joined(bench.frames(project, times, CELL))
        name = written(label, frames.shape[0], (passage.label, INK), ("passage", FAINT))
        rows.append(np.hstack([name, frames]))
    for kind in MOVES.values():
        for phase in kind.phases:
            for pair in (("whole", "letters"), ("words", "emblem")):
                halves = [strip(bench, over, kind.id, phase) for over in pair]
                name = written(
                    label, halves[0].shape[0], (kind.label, INK),
                    (phase, FAINT), (" | ".join(pair), FAINT),
                )  # fmt: skip
                rows.append(np.hstack([name, *halves]))
    sheet(rows, 2, TARGET / "moves.jpg")


# Effects

SEEN_WIDE, SEEN_HIGH = 640, 360
SEEN = (144, 81)
MOST = 7


def shown(bench: Bench, kind: str, values: dict[str, Any], on: str) -> np.ndarray:
    """What an effect does to a title, the emblem or a picture."""
    own = {f"effect.e.{name}": value for name, value in values.items()}
    effects = (Effect(id="e", kind=kind),)
    middle = (SEEN_WIDE / 2, SEEN_HIGH / 2)
    if on == "title":
        values = {"text": "Bay", "text.font": "unbounded", "text.weight": 800, "text.size": 210,
                  "fill.colour": "#ffd27a", "position": middle}  # fmt: skip
        layer = made("it", "text", values={**values, **own}, effects=effects)
    else:
        asset, scale = (EMBLEM, 50) if on == "emblem" else (bench.photo.id, 56)
        values = {"picture.asset": asset, "scale": (scale, scale), "position": middle}
        layer = made("it", "picture", values={**values, **own}, effects=effects)
    sun = made("sun", "shape", hidden=True, values={
        "shape.kind": "ellipse", "shape.size": (460, 460), "position": middle,
        "fill.kind": "radial", "fill.start": (50, 50), "fill.end": (100, 50),
        "fill.stops": ((0, "#ffffff"), (1, "#00000000")),
    })  # fmt: skip
    project = bench.scene(sky(), sun, layer, width=SEEN_WIDE, height=SEEN_HIGH)
    return bench.frames(project, [0.8], SEEN)[0]


def effects(bench: Bench) -> None:
    rows = []
    for kind in EFFECTS.values():
        every: list[tuple[str, dict[str, Any]]] = [("as it comes", _started(kind.id))]
        every += [(s.label, {**_started(kind.id), **s.values}) for s in SETTINGS.get(kind.id, ())]
        cells = []
        for name, values in every[:MOST]:
            pictures = [shown(bench, kind.id, values, on) for on in ("title", "emblem", "picture")]
            title = written(pictures[0].shape[1] + 2, 20, (name, FAINT))
            stack = np.vstack([cv2.copyMakeBorder(p, 0, 2, 0, 2, cv2.BORDER_CONSTANT, value=PAPER)
                               for p in pictures])  # fmt: skip
            cells.append(np.vstack([title, stack]))
        name = written(
            112, cells[0].shape[0], ("", INK), ("", INK),
            *((line, INK) for line in textwrap.wrap(kind.label, 15)),
        )  # fmt: skip
        rows.append(np.hstack([name, *cells]))
    sheet(rows, 3, TARGET / "effects.jpg")


def _started(kind: str) -> dict[str, Any]:
    """What an effect that does nothing without an input is given here."""
    return {"layer": "sun"} if "layer" in EFFECTS[kind].inputs else {}


# Transitions

CROSSED = (160, 90)
# Two scenes of the demo, from which of their seconds.
BOTH = (("kinetic-title", 6.5), ("logo-reveal", 2.5))
# What a transition that looks at another layer is given.
LOOKED_AT = {"by-picture": "order", "through-shape": "shape"}


def transitions(bench: Bench) -> None:
    """Ten frames of every transition from one scene of the demo to another."""
    rows = []
    for kind in TRANSITIONS.values():
        placed = []
        for number, (scene_id, from_s) in enumerate(BOTH):
            values = {"scene.id": scene_id, "time.from": from_s, "position": (960, 540)}
            layer = made(f"s{number}", "scene", 2.0, values=values)
            placed.append(layer.model_copy(update={"start_s": 2.0 * number, "end_s": 2.0 + 2.0 * number}))
        form = made("kite", "picture", 4.0, hidden=True, values={
            "picture.asset": EMBLEM, "position": (960, 480), "scale": (90, 90),
        })  # fmt: skip
        own = {"transition.t.easing": Property(value="linear")}
        if kind.id in LOOKED_AT:
            own[f"transition.t.{LOOKED_AT[kind.id]}"] = Property(value="kite")
        second = placed[1].model_copy(update={
            "transitions": (Transition(id="t", kind=kind.id, before="s0", length_s=1.0),),
            "properties": {**placed[1].properties, **own},
        })  # fmt: skip
        scene = Scene(
            id="s", name="S", width=1920, height=1080, rate=RateModel(num=25), length_s=4.0,
            layers=(form, placed[0], second),
        )  # fmt: skip
        project = check_project(
            bench.project.model_copy(update={"scenes": (scene, *bench.project.scenes)})
        )
        evaluator = SceneEvaluator(project, "s", library=bench.library)
        frames = []
        for number in range(10):
            time_s = 1.5 + number / 9 * 0.96
            pixels = bench.renderer.render(evaluator.at(time_s), 480, 270)
            frames.append(cv2.resize(pixels[..., :3], CROSSED, interpolation=cv2.INTER_AREA))
        strip_ = joined(frames)
        name = written(112, strip_.shape[0], *(
            (line, INK) for line in textwrap.wrap(kind.label, 15)
        ))  # fmt: skip
        rows.append(np.hstack([name, strip_]))
    sheet(rows, 1, TARGET / "transitions.jpg")


def main() -> None:
    with tempfile.TemporaryDirectory() as data:
        bench = Bench(Path(data))
        chosen = sys.argv[1:] or ["moves", "effects", "transitions"]
        for each in chosen:
            {"moves": moves, "effects": effects, "transitions": transitions}[each](bench)


if __name__ == "__main__":
    main()
