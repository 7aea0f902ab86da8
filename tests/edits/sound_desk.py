"""A document with a gust of wind that can be placed, and what is done with it."""

from tests.build import layer, project

from young_comet.core.model import Asset

S = {"scene": "reveal"}


def sounding():
    """A name, and a gust among the assets."""
    gust = Asset(
        id="gust", name="gust.flac", kind="sound", media_type="audio/flac", hash="d" * 64,
        size_bytes=9, duration_s=1.5, channels=2, sample_rate=48_000,
    )  # fmt: skip
    base = project(layer("name", "text", 0.4, 3.2, text="Gullwing", text__size=40))
    return base.model_copy(update={"assets": (gust,)})


SOUND_EXAMPLES = [
    {"kind": "place-sound", **S, "id": "new", "asset": "gust", "at_s": 1.0, "moment_s": 0.61},
    {"kind": "place-sound", **S, "id": "new", "asset": "gust", "at_s": 1.4, "tied": "name"},
]
