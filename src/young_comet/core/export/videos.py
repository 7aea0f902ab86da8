"""The kinds of video files that a scene can be rendered to, and the joining of their parts."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av

from ..registry import Registry
from ..timing import Rate
from .mp4 import Mp4Writer
from .see_through import ProResWriter, WebmWriter
from .sound import AAC_RATES, OPUS_RATES, SoundStream, Soundtrack
from .translated import translated
from .writers import VideoWriter


@dataclass(frozen=True)
class VideoFormat:
    """``alpha`` tells whether what is transparent stays so, ``even``
    whether its sides must be. ``rates`` are the bits a second of its sound by quality."""

    id: str
    media_type: str
    writer: Callable[..., VideoWriter]
    container: str
    sound: str
    alpha: bool = False
    even: bool = True
    rates: dict[str, int] | None = None
    options: tuple[tuple[str, str], ...] = ()


VIDEOS: Registry[VideoFormat] = Registry(
    "video format",
    (
        VideoFormat(
            "mp4", "video/mp4", Mp4Writer, "mp4", "aac",
            rates=AAC_RATES, options=(("movflags", "+faststart"),),
        ),
        VideoFormat(
            "mov", "video/quicktime", ProResWriter, "mov",
            "pcm_s24le", alpha=True, even=False,
        ),
        VideoFormat(
            "webm", "video/webm", WebmWriter, "webm",
            "libopus", alpha=True, rates=OPUS_RATES,
        ),
    ),
)  # fmt: skip


def join_parts(
    format: VideoFormat,
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
                    if format.id == "webm":
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
