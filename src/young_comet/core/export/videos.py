"""Video files: parts are encoded apart and put one after another without encoding again."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av

from ..timing import Rate
from .films import Film, Part, Tick
from .mp4 import Mp4Writer
from .see_through import ProResWriter, WebmWriter
from .sound import AAC_RATES, OPUS_RATES, SoundStream, Soundtrack
from .translated import translated
from .writers import VideoWriter


@dataclass(frozen=True)
class Video:
    """A container, the codec of its sound and that one's bits a second by quality."""

    writer: Callable[..., VideoWriter]
    container: str
    sound: str
    rates: dict[str, int] | None = None
    options: tuple[tuple[str, str], ...] = ()
    passes: int = 1

    def begin(self, film: Film, part: Part) -> VideoWriter:
        """Encodes frames."""
        return self.writer(part.path, *film.size, film.rate, film.quality)

    def finish(
        self, film: Film, parts: Sequence[Part], target: Path, sound: Soundtrack | None, tick: Tick
    ) -> None:
        """Joins the parts, with the sound beside them."""
        counts = [part.last - part.first for part in parts]
        paths = [part.path for part in parts]
        join_parts(self, paths, counts, film.rate, target, sound, film.settings.quality)


MP4 = Video(Mp4Writer, "mp4", "aac", AAC_RATES, (("movflags", "+faststart"),))
MOV = Video(ProResWriter, "mov", "pcm_s24le")
WEBM = Video(WebmWriter, "webm", "libopus", OPUS_RATES)


def join_parts(
    format: Video,
    parts: Sequence[Path],
    counts: Sequence[int],
    rate: Rate,
    target: Path,
    sound: Soundtrack | None = None,
    quality: str = "good",
) -> None:
    """Puts encoded parts (``counts`` frames each) one after another without encoding again, with
    the sound encoded beside them."""
    with (
        translated("the parts of the video could not be joined"),
        av.open(str(target), "w", format=format.container, options=dict(format.options)) as opened,
    ):
        out: Any = opened
        stream = heard = None
        start = Fraction(0)
        for path, count in zip(parts, counts, strict=True):
            with av.open(str(path)) as part:
                source = part.streams.video[0]
                if stream is None:
                    stream = out.add_stream_from_template(source)
                    stream.time_base = source.time_base
                    if format.container == "webm":
                        stream.metadata["alpha_mode"] = "1"
                    if sound is not None:
                        bits = format.rates[quality] if format.rates else 0
                        heard = SoundStream(out, format.sound, sound, bits)
                assert source.time_base is not None
                offset = round(start / source.time_base)
                for packet in part.demux(source):
                    if packet.dts is None:
                        continue
                    packet.pts = (packet.pts or 0) + offset
                    packet.dts += offset
                    packet.stream = stream
                    if heard is not None:  # players want both side by side in the file
                        heard.write_until(float(packet.dts * source.time_base) + 0.5)
                    out.mux(packet)
            start += Fraction(count * rate.den, rate.num)
        if heard is not None:
            heard.finish()
