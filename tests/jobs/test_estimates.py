"""What is said of a render before it is made."""

from __future__ import annotations

from datetime import datetime

import pytest

from young_comet.core.export import FORMATS, RenderSettings
from young_comet.jobs import estimated
from young_comet.store import RenderRecord


def record(settings, **values):
    facts = {
        "id": "r", "project_id": "kites", "project_name": "", "scene_id": "reveal",
        "scene_name": "", "settings": settings.model_dump(), "status": "done", "done": 100,
        "total": 100, "message": "", "file": "r.mp4", "width": 640, "height": 360,
        "size_bytes": 400_000, "seconds": 8.0, "created_at": datetime(2026, 5, 1), "name": "",
    }  # fmt: skip
    return RenderRecord(**{**facts, **values})


def of(settings, pixels=640 * 360, frames=100, heard=False, before=()):
    formats = [FORMATS[each] for each in settings.formats]
    return estimated(formats, settings, pixels, frames, frames / 25, heard, before)


def test_renders_of_the_same_scene_tell_best():
    mp4 = RenderSettings()
    assert of(mp4, before=[record(mp4)]).size_bytes == 400_000
    assert of(mp4, before=[record(mp4)]).seconds == pytest.approx(8.0)
    twice = of(mp4, frames=200, before=[record(mp4)])
    assert 700_000 < twice.size_bytes < 800_000
    unlike = [
        record(RenderSettings(quality="best")), record(RenderSettings(format="gif")),
        record(mp4, status="failed"), record(mp4, width=0),
    ]  # fmt: skip
    assert of(mp4, before=unlike) == of(mp4)


@pytest.mark.parametrize("format", FORMATS)
def test_every_format_has_an_estimate(format):
    settings = RenderSettings(format=format)
    each = of(settings, frames=1 if FORMATS[format].still else 100, heard=True)
    assert each.seconds > 0 and (each.size_bytes > 0 or FORMATS[format].told)


def test_sound_and_quality_count():
    mp4 = RenderSettings()
    assert of(mp4, heard=True).size_bytes - of(mp4).size_bytes == 4 * 24_000
    assert of(RenderSettings(sound=False), heard=True) == of(RenderSettings(sound=False))
    sizes = [of(RenderSettings(quality=q)).size_bytes for q in ("draft", "good", "best")]
    assert sizes == sorted(sizes) and sizes[0] < sizes[2]
    both = of(RenderSettings(also=("gif",)))
    assert both.size_bytes > of(mp4).size_bytes and both.seconds > of(mp4).seconds
