"""What the files of a render are called."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date

from ...errors import DocumentError
from ..model import Project, Scene
from .moments import moments_of
from .settings import RenderSettings

_WORDS = re.compile(r"\{([^{}]*)\}")
# What file systems do not take, and what would lead to other folders.
_REFUSED = re.compile(r"[^\w.+-]+")
MOST_LETTERS = 120


@dataclass(frozen=True)
class Named:
    """What a pattern may speak of. ``size`` is width and height in px, (0, 0) where there are no
    pictures."""

    project: Project
    scene: Scene
    size: tuple[int, int]
    day: date

    def words(self, settings: RenderSettings) -> dict[str, str]:
        """The words of patterns and what they stand for."""
        width, height = self.size
        return {
            "project": slug(self.project.name), "scene": slug(self.scene.name),
            "size": f"{width}x{height}" if width else "", "quality": settings.quality,
            "rate": self._rate(settings) if width and "{rate}" in settings.name else "",
            "date": self.day.isoformat(),
        }  # fmt: skip

    def _rate(self, settings: RenderSettings) -> str:
        """Frames a second in the file."""
        return moments_of(self.scene, settings).rate.label


PATTERN_WORDS = ("project", "scene", "size", "rate", "quality", "date")


def file_stem(settings: RenderSettings, named: Named) -> str:
    """The name of the files of a render without their endings; DocumentError where the pattern has
    a word that there is not."""
    words = named.words(settings)

    def word(found: re.Match[str]) -> str:
        if found[1] not in words:
            known = ", ".join(f"{{{each}}}" for each in PATTERN_WORDS)
            raise DocumentError.expected("name", known, found[0])
        return words[found[1]]

    stem = _REFUSED.sub("-", _WORDS.sub(word, settings.name))
    stem = re.sub(r"-{2,}", "-", stem).strip("-._ ")[:MOST_LETTERS]
    return stem or "render"


def slug(name: str) -> str:
    """A name in small letters, with dashes in place of spaces."""
    return re.sub(r"\W+", "-", name).strip("-").lower()
