"""A document with a gust of wind that can be placed, and what is done with it."""

from tests.build import layer, project

from young_comet.core.model import Asset, RateModel, RenderPreset
from young_comet.core.model.document import BeatGrid

S = {"scene": "reveal"}


def sounding():
    """A name, and a gust among the assets."""
    gust = Asset(
        id="gust", name="gust.flac", kind="sound", media_type="audio/flac", hash="d" * 64,
        size_bytes=9, duration_s=1.5, channels=2, sample_rate=48_000,
    )  # fmt: skip
    bed = gust.model_copy(update={
        "id": "bed", "name": "bed.flac", "hash": "e" * 64, "duration_s": 8.0,
        "beats": BeatGrid(tempo=120, times=tuple(n / 2 + 0.1 for n in range(15)), strong=1,
                          sections=(1, 9)),
    })  # fmt: skip
    flight = gust.model_copy(update={
        "id": "flight", "name": "flight.mp4", "kind": "clip", "media_type": "video/mp4",
        "hash": "f" * 64, "width": 64, "height": 36, "duration_s": 3.0, "frame_count": 75,
        "rate": RateModel(num=25),
    })  # fmt: skip
    base = project(
        layer(
            "kites",
            "clip",
            0.4,
            2.4,
            clip__asset="flight",
            sound__on=True,
            time__speed=50.0,
            sound__gain=-4.0,
            sound__keeps_pitch=True,
        ),
        layer("name", "text", 0.4, 3.2, text="Gullwing", text__size=40),
        layer("music", "sound", 0.4, 3.2, sound__asset="bed", time__from=1.0),
    )
    web = RenderPreset(id="web", name="Web", settings={"format": "webp", "every": 2})
    return base.model_copy(update={"assets": (gust, bed, flight), "presets": (web,)})


def heard(*at_s):
    """Moments at which the music is heard."""
    return {**S, "layer": "music", "at_s": at_s}


SOUND_EXAMPLES = [
    {"kind": "place-sound", **S, "id": "new", "asset": "gust", "at_s": 1.0, "moment_s": 0.61},
    {"kind": "place-sound", **S, "id": "new", "asset": "gust", "at_s": 1.4, "tied": "name"},
    {"kind": "set-beats", "asset": "gust", "beats": {"tempo": 90, "times": [0.1, 0.8, 1.4]}},
    {"kind": "set-beats", "asset": "bed", "beats": None},
    {"kind": "tap-beats", "asset": "bed", "heard": heard(0.5, 1.0, 1.52, 1.99)},
    {"kind": "move-beat", "asset": "bed", "beat": 4, "heard": heard(1.63)},
    {"kind": "move-beat", "asset": "bed", "beat": 4, "heard": heard(1.6), "stretch": True},
    {"kind": "count-beats", "asset": "bed", "tempo": "double"},
    {"kind": "count-beats", "asset": "bed", "tempo": "half", "strong": 3},
    {"kind": "beats-to-marks", **S, "layer": "music", "which": "beats"},
    {
        "kind": "save-preset",
        "id": "new",
        "name": "For the stand",
        "settings": {"format": "mp4", "also": ["gif"], "scale": 0.5, "loudness": -14.0},
    },
    {"kind": "remove-preset", "preset": "web"},
    {"kind": "separate-sound", **S, "layer": "kites", "id": "new"},
]
