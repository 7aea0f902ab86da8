"""A page for review: one HTML file with the film in it, frame by frame, and notes at its times
that can be saved as a file and read back as marks of the scene."""

from __future__ import annotations

import base64
import html
import json
import re
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from .films import Film, Part, Tick
from .mp4 import Mp4Writer
from .sound import Soundtrack
from .translated import translated
from .videos import MP4, Video

_PAGE = Path(__file__).with_name("review.html")
_PLACES = re.compile("@(TITLE|FACTS|FILM)@")
# Bytes that are encoded at once; a multiple of three.
_PIECE = 3 << 18


@dataclass(frozen=True)
class ReviewPage:
    """A page with a film as ``video`` in it."""

    video: Video = MP4
    passes: int = 1

    def begin(self, film: Film, part: Part) -> Mp4Writer:
        """Encodes the film that will lie in the page."""
        writer = self.video.begin(film, part)
        assert isinstance(writer, Mp4Writer)
        return writer

    def finish(
        self, film: Film, parts: Sequence[Part], target: Path, sound: Soundtrack | None, tick: Tick
    ) -> None:
        """Joins the film and writes the page around it."""
        whole = target.with_name(f"{target.name}.film")
        self.video.finish(film, parts, whole, sound, tick)
        said = {"TITLE": html.escape(film.name), "FACTS": _facts(film)}
        with translated("the page for review could not be written"):
            with target.open("w", encoding="utf-8") as page, whole.open("rb") as data:
                # Text and names by turns: what a name holds is never taken for one of them.
                for place, text in enumerate(_PLACES.split(_PAGE.read_text(encoding="utf-8"))):
                    if place % 2 == 0:
                        page.write(text)
                    elif text in said:
                        page.write(said[text])
                    else:
                        while piece := data.read(_PIECE):
                            page.write(base64.b64encode(piece).decode())
            whole.unlink()


def _facts(film: Film) -> str:
    """What the page's script goes by."""
    moments = film.moments
    rate, scene_rate = moments.rate, moments.scene_rate
    facts = {
        "scene": film.scene, "film": film.name, "width": film.size[0], "height": film.size[1],
        "rate": [rate.num, rate.den], "frames": moments.count,
        "scene_rate": [scene_rate.num, scene_rate.den],
        # Notes lie at times of the scene, of which the film may be a part.
        "from_s": moments.span[0],
    }  # fmt: skip
    # Nothing in a name may end the script that it stands in.
    return json.dumps(facts).replace("<", "\\u003c").replace("&", "\\u0026")


REVIEW = ReviewPage()
