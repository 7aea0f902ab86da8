"""Small pictures of every effect and moving ones of every move, for choosing one."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..catalog import READY_FRONTS, check_project, effect_kind, move_kind
from ..model import (
    Effect,
    Front,
    Keyframe,
    Layer,
    Move,
    Project,
    Property,
    RateModel,
    SavedMove,
    Scene,
)
from ..moves import PASSAGES
from ..paint.library import MediaLibrary
from ..paint.renderer import Renderer
from ..resolve.phases import phase_length
from ..resolve.scene import SceneEvaluator

WIDTH, HEIGHT = 320, 180
MOMENT_S = 0.7

# What shows an effect better than its defaults; effects that correct start out neutral.
_SHOWN: dict[str, dict[str, Any]] = {
    "levels": {"black": 70, "white": 190},
    "curves": {"rgb": ((0, 0), (0.3, 0.08), (0.7, 0.95), (1, 1))},
    "brightness-contrast": {"brightness": 15, "contrast": 60},
    "hue-saturation": {"hue": 110},
    "temperature": {"temperature": -80},
    "vignette": {"amount": 90, "size": 25},
    "grain": {"amount": 45},
    "displacement": {"layer": "sun", "amount": (90, 0)},
    "four-corner-warp": {
        "top-left": (30, -24), "top-right": (-16, 22), "bottom-right": (20, 20),
        "bottom-left": (-24, -16),
    },
    "glow": {"size": 14, "strength": 160},
    "reflection": {"height": 60},
    "zoom-blur": {"amount": 40},
    "focus-sweep": {"sharp": 60, "ramp": 60, "size": 12},
    "gaussian-blur": {"size": (6, 6)},
    "rough-edge": {"amount": 8},
    "counter": {"size": 40},
    "particles": {"area": (260, 20), "speed": 260, "gravity": 160},
    "lens-flare": {"size": 110, "centre": (40, -20)},
    "wave": {"length": 90, "height": 10},
    "ripple": {"length": 50, "height": 8, "radius": 160},
    "swirl": {"radius": 160, "angle": 100},
    "bulge": {"radius": 130},
    "long-shadow": {"length": 120},
    "noise-displacement": {"amount": (16, 16), "scale": 60},
    "streaks": {"length": 60, "width": 8},
    "texture": {"contrast": 160},
    "rays": {"length": 220},
    "colour-key": {"colour": "#f0a04b", "tolerance": 22},
    "chroma-key": {"colour": "#e8704f", "tolerance": 10},
    "luminance-key": {"level": 62},
    "colour-fringe": {"amount": 5},
    "noise-clouds": {"scale": 70},
    "pixelate": {"size": (9, 9)},
}  # fmt: skip


def sample_project(kind_id: str) -> Project:
    """A scene that shows one effect on a word before a dusk sky."""
    kind = effect_kind(kind_id)
    values = {k: Property(value=v) for k, v in _SHOWN.get(kind_id, {}).items()}
    own = {f"effect.e.{k}": v for k, v in values.items() if k in kind.by_id}

    def layer(id: str, layer_kind: str, **more: Any) -> Layer:
        fields = {"id": id, "name": id, "kind": layer_kind, "start_s": 0, "end_s": 4}
        return Layer.model_validate({**fields, **more})

    def plain(**properties: Any) -> dict[str, Any]:
        return {k.replace("__", "."): Property(value=v) for k, v in properties.items()}

    word = layer(
        "word", "text", effects=(Effect(id="e", kind=kind_id),),
        properties={
            **plain(
                text="Bay", text__font="unbounded", text__weight=800, text__size=112,
                position=(WIDTH / 2, HEIGHT / 2 + 4), fill__kind="linear", fill__start=(0, 10),
                fill__end=(100, 90), fill__stops=((0, "#ffd27a"), (1, "#e8486f")),
            ),
            **own,
        },
    )  # fmt: skip
    sky = layer("sky", "backdrop", properties=plain(
        fill__kind="linear", fill__stops=((0, "#1d2750"), (0.6, "#4d3b6b"), (1, "#7c4a6d")),
    ))  # fmt: skip
    sun = layer("sun", "shape", hidden=True, properties={
        **plain(shape__kind="ellipse", shape__size=(230, 230), position=(WIDTH / 2, HEIGHT / 2)),
        **plain(fill__kind="radial", fill__start=(50, 50), fill__end=(100, 50)),
        **plain(fill__stops=((0, "#ffffff"), (1, "#00000000"))),
    })  # fmt: skip
    scene = Scene(
        id="sample", name="Sample", width=WIDTH, height=HEIGHT, rate=RateModel(num=25),
        length_s=4, layers=(sky, sun, word),
    )  # fmt: skip
    return check_project(Project(id="sample", name="Sample", scenes=(scene,)))


def effect_sample(kind_id: str, library: MediaLibrary) -> np.ndarray:
    """The picture (180, 320, 4) of an effect."""
    evaluator = SceneEvaluator(sample_project(kind_id), "sample")
    return Renderer(library, limit_bytes=2**20).render(evaluator.at(MOMENT_S), WIDTH, HEIGHT)


# Moving thumbnails: so many frames side by side.
MOVE_FRAMES, MOVE_WIDTH, MOVE_HEIGHT = 16, 112, 63
_HOLD_S = 0.5


def front_project(ready: str) -> Project:
    """A scene that shows a ready front on two lines of words."""
    kind = READY_FRONTS[ready]
    size, takes = 58.0, 1.3
    keys = tuple(
        Keyframe(id=f"k{n}", time_s=n * takes, value=100.0 * n, easing="linear") for n in (0, 1)
    )
    shown: dict[str, Any] = {
        "text": "Kite\nWeek", "text.font": "archivo", "text.weight": 800, "text.size": size,
        "text.leading": 96, "fill.colour": "#ffd27a", "position": (WIDTH / 2, HEIGHT / 2 + 3),
        "behind.colour": "#b8401c", "behind.padding": (12, 0), **kind.text,
        **{f"front.f.{name}": value for name, value in kind.values_at(size).items()},
    }  # fmt: skip
    properties = {name: Property(value=value) for name, value in shown.items()}
    properties["front.f.progress"] = Property(keys=keys)
    word = Layer(
        id="word", name="Word", kind="text", start_s=0, end_s=takes + _HOLD_S,
        fronts=(Front(id="f"),), properties=properties,
    )  # fmt: skip
    return check_project(Project(id="sample", name="Sample", scenes=(_before_sky(word),)))


def move_project(kind_id: str, saved: SavedMove | None = None) -> Project:
    """A scene that shows one move on a word, or on a star where the move draws strokes. ``saved``
    is the move where it is one of the artist's own."""
    kind = move_kind(kind_id)
    phase = saved.phase if saved else kind.phases[0]
    takes = saved.length_s if saved else kind.length_s
    length = 2.4 if phase == "dwell" else takes + _HOLD_S
    shown: dict[str, Any] = {
        "text": "Bay", "text.font": "unbounded", "text.weight": 800, "text.size": 92,
        "fill.colour": "#ffd27a",
    }  # fmt: skip
    layer_kind = "text"
    if kind_id == "draw-on":
        layer_kind = "shape"
        shown = {
            "shape.kind": "star", "shape.radius": 74, "fill.on": False, "stroke.width": 9,
            "stroke.colour": "#ffd27a", "stroke.join": "round",
        }  # fmt: skip
    if kind_id == "alternate":
        shown |= {"slices.kind": "strips", "slices.count": 9}
    values = {"position": (WIDTH / 2, HEIGHT / 2 + 3), **shown, **_MOVED_SO.get(kind_id, {})}
    word = Layer.model_validate(
        {
            "id": "word", "name": "Word", "kind": layer_kind, "start_s": 0, "end_s": length,
            "arrive_s": takes if phase == "arrive" else 0,
            "leave_s": takes if phase == "leave" else 0,
            "moves": [{"id": "m", "kind": kind_id, "phase": phase}],
            "properties": {name: Property(value=value) for name, value in values.items()},
        }
    )  # fmt: skip
    own = (saved,) if saved else ()
    whole = Project(id="sample", name="Sample", scenes=(_before_sky(word),), saved_moves=own)
    return check_project(whole)


def passage_project(passage_id: str) -> Project:
    """A scene in which a word comes, is there and goes by a passage."""
    passage = PASSAGES[passage_id]
    many = any(each.values.get("spread.over") in ("words", "lines") for each in passage.moves)
    values: dict[str, Any] = {
        "text": "Kite\nWeek" if many else "Bay", "text.font": "unbounded", "text.weight": 800,
        "text.size": 62 if many else 92, "text.leading": 104, "fill.colour": "#ffd27a",
        "position": (WIDTH / 2, HEIGHT / 2 + 3),
    }  # fmt: skip
    if passage_id == "ink":
        values |= {"stroke.colour": "#ffd27a", "stroke.width": 0}
    moves = []
    for n, each in enumerate(passage.moves):
        moves.append(Move.model_validate({"id": f"m{n}", "kind": each.kind, "phase": each.phase}))
        values |= {f"move.m{n}.{name}": value for name, value in each.on("text").items()}
    properties = {name: Property(value=value) for name, value in values.items()}

    stands = 1.0 if any(each.phase == "dwell" for each in passage.moves) else 0.5
    word = Layer(
        id="word", name="Word", kind="text", start_s=0, end_s=stands, moves=tuple(moves),
        properties=properties,
    )  # fmt: skip

    def scene_of(word: Layer) -> Project:
        return check_project(Project(id="sample", name="Sample", scenes=(_before_sky(word),)))

    evaluator = SceneEvaluator(scene_of(word), "sample")
    arrive_s, leave_s = (
        phase_length(evaluator, word, phase) or 0.0 for phase in ("arrive", "leave")
    )
    lengths = {"arrive_s": arrive_s, "leave_s": leave_s, "end_s": arrive_s + stands + leave_s}
    return scene_of(word.model_copy(update=lengths))


def passage_sample(passage_id: str, library: MediaLibrary) -> np.ndarray:
    """Frames of a passage, as those of a move; at rest it is seen on its way in."""
    project = passage_project(passage_id)
    arrives = project.scenes[0].layers[1].arrive_s
    return _strip(project, library, rest_s=arrives + 0.2)


def _before_sky(word: Layer) -> Scene:
    """A scene as long as a layer, which is seen before a dusk sky."""
    stops = ((0, "#1d2750"), (1, "#5b3f6c"))
    properties = {"fill.kind": Property(value="linear"), "fill.stops": Property(value=stops)}
    sky = Layer(
        id="sky", name="Sky", kind="backdrop", start_s=0, end_s=word.end_s, properties=properties
    )
    return Scene(
        id="sample", name="Sample", width=WIDTH, height=HEIGHT, rate=RateModel(num=25),
        length_s=word.end_s, layers=(sky, word),
    )  # fmt: skip


# What shows a move better on a small picture than its defaults.
_MOVED_SO: dict[str, dict[str, Any]] = {
    "focus": {"move.m.blur": 16},
    "grow": {"move.m.start": 20},
    "type-on": {"move.m.spread.step-letters": 0.3},
    "scramble": {"move.m.spread.step-letters": 0.12},
    "wander": {"move.m.every": 0.8, "move.m.distance": 24, "move.m.turn": 3},
    "swell": {"move.m.by": 25, "move.m.every": 1.2},
    "pulse": {"move.m.by": 25, "move.m.every": 0.8},
    "push-in": {"move.m.by": 30},
    "sway": {"move.m.every": 1.2, "move.m.angle": 9},
    "float": {"move.m.every": 1.2},
    "glint": {"move.m.every": 1.6},
    "blink": {"move.m.every": 0.8},
    "shake": {"move.m.distance": 7},
}


# The trail of a move at rest: which of its frames are in it, the further back the fainter.
_TRAIL_FRAMES = (2, 4, 6, 8, 10)
_FAINTEST, _STRONGEST = 0.22, 0.5
# Where less than this share of the last frame is to be seen beside it, a trail says nothing.
_TOO_LITTLE = 0.05
# A picture on the way has so much of what the last one has.
_HALF_WAY = 0.5


def _trail(frames: list[np.ndarray], ground: np.ndarray) -> np.ndarray:
    """The last frame with faint earlier states behind it: what differs from the ground, the
    strongest difference at each pixel."""
    behind = np.zeros(ground.shape, np.float32)
    count = len(_TRAIL_FRAMES)
    for index, number in enumerate(_TRAIL_FRAMES):
        strength = _FAINTEST + (_STRONGEST - _FAINTEST) * index / (count - 1)
        differs = (frames[number].astype(np.float32) - ground) * strength
        further = np.abs(differs).sum(2) > np.abs(behind).sum(2)
        behind[further] = differs[further]
    last = frames[-1].astype(np.float32) - ground
    own = np.minimum(1.0, np.abs(last).sum(2, keepdims=True) / 96.0)
    outside = behind * (1 - own)
    if np.abs(outside).sum() < _TOO_LITTLE * np.abs(last).sum():
        return _halved(frames, ground)
    trail: np.ndarray = (ground + outside + last).clip(0, 255).astype(np.uint8)
    return trail


def _halved(frames: list[np.ndarray], ground: np.ndarray) -> np.ndarray:
    """What stays where it is while it comes: on the way above a slanted line, there below it."""
    last = frames[-1].astype(np.float32)
    # The frame that is nearest to half of the way.
    whole = np.abs(last - ground).sum() + 1e-6
    shares = [np.abs(each.astype(np.float32) - ground).sum() / whole for each in frames]
    early = frames[int(np.argmin([abs(share - _HALF_WAY) for share in shares]))]
    height, width = ground.shape[:2]
    across = np.arange(width)[None, :] + np.arange(height)[:, None] * 0.5 - height * 0.25
    side = across / width
    result = np.where((side < 0.5)[..., None], early, last)
    line = np.abs(side - 0.5) * width < 0.7
    result[line] = result[line] * 0.5 + 90
    return result.clip(0, 255).astype(np.uint8)


def move_sample(kind_id: str, library: MediaLibrary, saved: SavedMove | None = None) -> np.ndarray:
    """Frames of a move from left to right, and behind them its trail, which is what it does in one
    picture: (63, 17 * 112, 4)."""
    # Where a move leaves, what there is to see is at its beginning.
    leaves = saved is not None and saved.phase == "leave"
    return _strip(move_project(kind_id, saved), library, leaves)


def front_sample(ready: str, library: MediaLibrary) -> np.ndarray:
    """Frames of a ready front, as those of a move."""
    return _strip(front_project(ready), library)


def _strip(
    project: Project, library: MediaLibrary, leaves: bool = False, rest_s: float | None = None
) -> np.ndarray:
    """The frames of a project's scene side by side and their trail, which ends at ``rest_s`` where
    the scene goes on after it has come to rest."""
    evaluator = SceneEvaluator(project, "sample", library=library)
    renderer = Renderer(library, limit_bytes=2**20)
    length = evaluator.scene.length_s

    def drawn(time_s: float, without: frozenset[str] = frozenset()) -> np.ndarray:
        frame = evaluator.at(time_s, without=without)
        return renderer.render(frame, MOVE_WIDTH, MOVE_HEIGHT).copy()

    frames = [drawn((i + 0.5) / MOVE_FRAMES * length) for i in range(MOVE_FRAMES)]
    ground = drawn(0.0, frozenset({"word"})).astype(np.float32)
    shown = frames
    if rest_s is not None:
        shown = [drawn((i + 0.5) / MOVE_FRAMES * rest_s) for i in range(MOVE_FRAMES)]
    trail = _trail(shown[::-1] if leaves else shown, ground)
    return np.ascontiguousarray(np.hstack([*frames, trail]))
