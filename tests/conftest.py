"""Fixtures that several rooms use."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

from young_comet.config import Config
from young_comet.store import DataFolder

settings.register_profile("young-comet", deadline=None, max_examples=60, derandomize=True)
settings.load_profile("young-comet")


@pytest.fixture
def config(tmp_path: Path) -> Config:
    return Config(data=tmp_path / "data", max_upload_mb=2, max_megapixels=4, preview_processes=0)


@pytest.fixture
def folder(config: Config) -> Iterator[DataFolder]:
    opened = DataFolder(config)
    yield opened
    opened.close()
