"""Footage read frame-exactly in any order: video files and animated pictures.

The file's kind is told from its first bytes and its reader is fixed by that, so that no file
can make the video library open playlists or other files.
"""

from __future__ import annotations

import io
from bisect import bisect_right
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, Protocol

import av
import numpy as np
from av.video.reformatter import Interpolation
from PIL import Image

from ...errors import DocumentError, MediaError, MediaTooLargeError
from ..pixels.cache import SizedCache
from ..pixels.raster import premultiply
from ..timing import Rate

MAX_FRAMES = 200_000
MAX_SECONDS = 3600.0
# Decoded frames kept by a reader, so that going backwards does not decode a group each time.
KEPT_BYTES = 96 * 2**20

_DECODERS = (
    "h264", "hevc", "vp8", "vp9", "av1", "libdav1d", "libaom-av1", "libvpx", "libvpx-vp9", "prores",
    "qtrle", "mjpeg", "png", "ffv1", "mpeg4",
)  # fmt: skip
# Without these flags colours are cut off to whole numbers, a level too dark on the mean, and chroma
# is that of every other pixel.
_ROUNDED = Interpolation.BILINEAR | Interpolation.ACCURATE_RND | Interpolation.FULL_CHR_H_INT
_WITH_ALPHA = ("yuva", "rgba", "bgra", "argb", "abgr", "gbrap", "ya8", "ya16", "pal8")
_ANIMATED = {"GIF": "image/gif", "PNG": "image/apng", "WEBP": "image/webp"}


@dataclass(frozen=True, slots=True)
class FootageInfo:
    """Type by content, size in px as shown, length, frames, and the rate if it is constant."""

    media_type: str
    width: int
    height: int
    duration_s: float
    frame_count: int
    rate: Rate | None
    alpha: bool


class Footage(Protocol):
    """An opened file."""

    times: list[float]

    def frame(self, index: int) -> np.ndarray:
        """Must. Premultiplied BGRA pixels of a frame, not to be written to."""
        ...

    def info(self) -> FootageInfo:
        """Must. What the file is."""
        ...


def footage_kind(data: bytes) -> str:
    """The reader for a file by its first bytes: "mov", "matroska", "animated" or ""."""
    if data[4:8] in (b"ftyp", b"moov", b"wide", b"mdat"):
        return "mov"
    if data[:4] == b"\x1aE\xdf\xa3":
        return "matroska"
    if data[:6] in (b"GIF87a", b"GIF89a") or data[:8] == b"\x89PNG\r\n\x1a\n":
        return "animated"
    if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
        return "animated"
    return ""


def is_animated(data: bytes) -> bool:
    """Whether a GIF, PNG or WebP has more than one frame."""
    try:
        image = Image.open(io.BytesIO(data), formats=list(_ANIMATED))
        return int(getattr(image, "n_frames", 1)) > 1
    except Exception:  # Pillow raises errors of many kinds for broken files  # noqa: BLE001
        return False


def open_footage(data: bytes, max_pixels: int = 100_000_000) -> Footage:
    """A reader for the file; MediaError says what is wrong with it."""
    kind = footage_kind(data)
    if kind == "animated":
        return AnimatedPicture(data, max_pixels)
    if kind in ("mov", "matroska"):
        return Video(data, kind, max_pixels)
    raise MediaError("this is no MP4, MOV, WebM, GIF, APNG or animated WebP file")


def index_at(times: list[float], moment_s: float) -> int:
    """Number of the frame that is on at a moment."""
    return min(max(0, bisect_right(times, moment_s + 1e-6) - 1), len(times) - 1)


def check_footage(data: bytes, max_pixels: int = 100_000_000) -> FootageInfo:
    """Reads the table of frames, and the first and last frame to be sure."""
    footage = open_footage(data, max_pixels)
    info = footage.info()
    if info.duration_s > MAX_SECONDS:
        raise MediaTooLargeError(f"the clip is {info.duration_s:.0f} s long; at most 3600 s")
    for index in (0, info.frame_count - 1):
        footage.frame(index)
    return info


def _check_size(width: int, height: int, max_pixels: int) -> None:
    if width < 1 or height < 1:
        raise MediaError("the clip has no picture")
    if width * height > max_pixels:
        raise MediaTooLargeError(
            f"the clip has {width} x {height} pixels; at most {max_pixels:,} are allowed"
        )


class Video:
    """A video stream of an MP4, MOV or WebM file."""

    def __init__(self, data: bytes, kind: str, max_pixels: int) -> None:
        try:
            self._file: Any = av.open(
                io.BytesIO(data), format=kind, options={"protocol_whitelist": ""}
            )
            self._stream = self._file.streams.video[0]
            self._context = self._decoder()
            _check_size(self._stream.width, self._stream.height, max_pixels)
            self._read_table()
        except (av.FFmpegError, IndexError, ValueError, OSError) as error:
            raise MediaError(f"the video cannot be read ({error})") from error
        self._media_type = "video/webm" if kind == "matroska" else _mov_type(data)
        self._frames = SizedCache(KEPT_BYTES)
        self._next = -1
        self._decoding: Any = None
        self._turn = 0

    def _decoder(self) -> Any:
        """The stream's own decoder, or the one that also reads the alpha of VP8 and VP9."""
        context = self._stream.codec_context
        if context is None:
            raise MediaError("the video's codec is not known")
        name = context.name
        if name not in _DECODERS:
            raise MediaError(f"videos in {name} are not read")
        tags = {key.lower(): value for key, value in self._stream.metadata.items()}
        if name in ("vp8", "vp9") and tags.get("alpha_mode") == "1":
            special = av.CodecContext.create("libvpx" if name == "vp8" else "libvpx-vp9", "r")
            special.extradata = context.extradata
            return special
        context.thread_type = "NONE"
        return context

    def _read_table(self) -> None:
        """Presentation times and key frames of all frames, without decoding them."""
        times, keys = [], []
        base = self._stream.time_base
        if base is None:
            raise MediaError("the video has no time base")
        last = 0
        for packet in self._file.demux(self._stream):
            if packet.pts is None or packet.size == 0 or packet.is_discard:
                continue
            times.append(packet.pts)
            last = max(last, packet.pts + (packet.duration or 0))
            if packet.is_keyframe:
                keys.append(packet.pts)
            if len(times) > MAX_FRAMES:
                raise MediaTooLargeError(f"the clip has more than {MAX_FRAMES:,} frames")
        if not times:
            raise MediaError("the video has no frames")
        times.sort()
        self._pts = times
        self._number = {pts: index for index, pts in enumerate(times)}
        self._keys = sorted(keys) or [times[0]]
        start = times[0]
        self._base: Fraction = base
        self.times = [float((pts - start) * base) for pts in times]
        self._end_s = float((last - start) * base)

    def info(self) -> FootageInfo:
        """What is known of the file."""
        count = len(self.times)
        guess = self._stream.average_rate or self._stream.guessed_rate
        rate = constant_rate(self.times, guess)
        end = count * rate.den / rate.num if rate else max(self._end_s, self.times[-1] + 1e-3)
        picture = self.frame(0)
        height, width = picture.shape[:2]
        alpha = bool(int(picture[:, :, 3].min()) < 255) or self._alpha
        return FootageInfo(self._media_type, width, height, end, count, rate, alpha)

    def frame(self, index: int) -> np.ndarray:
        """The frame of a number, BGRA (h, w, 4)."""
        found: np.ndarray | None = self._frames.get(index)
        return self._decode(index) if found is None else found

    def _decode(self, index: int) -> np.ndarray:
        """Goes on from where the decoder stands, or from the key frame before."""
        key = self._keys[max(0, bisect_right(self._keys, self._pts[index]) - 1)]
        if not 0 <= self._next <= index or self._pts[self._next] < key:
            self._seek(key)
        try:
            for frame in self._decoding:
                number = self._number.get(frame.pts if frame.pts is not None else -1)
                if number is None:
                    continue
                pixels = self._pixels(frame)
                self._frames.put(number, pixels, pixels.nbytes)
                self._next = number + 1
                if number >= index:
                    return pixels
        except (av.FFmpegError, OSError) as error:
            self._next = -1
            raise MediaError(f"the video is damaged at frame {index} ({error})") from error
        self._next = -1
        last: np.ndarray | None = self._frames.get(index)
        if last is None:
            raise MediaError(f"the video is damaged: frame {index} is missing")
        return last

    def _seek(self, pts: int) -> None:
        self._file.seek(pts, stream=self._stream, backward=True)
        self._context.flush_buffers()
        self._next = self._number.get(pts, 0)
        self._decoding = self._decoded()

    def _decoded(self) -> Any:
        for packet in self._file.demux(self._stream):
            yield from self._context.decode(packet)

    def _pixels(self, frame: Any) -> np.ndarray:
        """BGRA of a decoded frame, by the matrix it is tagged with or that its size implies."""
        name = frame.format.name
        self._alpha = name.startswith(_WITH_ALPHA)
        tagged = frame.colorspace
        matrix = tagged if tagged in (1, 4, 5, 6, 7) else (1 if frame.height >= 720 else 5)
        height = frame.height
        aspect = self._stream.sample_aspect_ratio or Fraction(1)
        width = max(1, round(frame.width * aspect)) if 0 < aspect < 16 else frame.width
        bgra = frame.reformat(
            width=width, height=height, format="bgra", src_colorspace=matrix,
            dst_colorspace=matrix, dst_color_range=2, interpolation=_ROUNDED,
        ).to_ndarray()  # fmt: skip
        turned = np.rot90(bgra, (frame.rotation // 90) % 4) if frame.rotation else bgra
        if not self._alpha:
            turned = np.ascontiguousarray(turned)
            turned[:, :, 3] = 255
            return turned
        return premultiply(np.ascontiguousarray(turned))


def _mov_type(data: bytes) -> str:
    return "video/quicktime" if data[8:12] == b"qt  " or data[4:8] != b"ftyp" else "video/mp4"


def constant_rate(times: list[float], guess: Fraction | None) -> Rate | None:
    """The rate whose frames all lie where it says, within half a frame; None if none does."""
    if not guess or len(times) < 2:
        return Rate.parse(str(guess)) if guess and 1 <= guess <= 240 else None
    for candidate in (guess, Fraction(len(times) - 1) / Fraction(times[-1] or 1)):
        try:
            rate = Rate.parse(str(candidate.limit_denominator(1001)))
        except DocumentError:
            continue
        if all(abs(t * rate.fps - n) < 0.5 for n, t in enumerate(times)):
            return rate
    return None


class AnimatedPicture:
    """A GIF, APNG or animated WebP, its frames composed as the format says."""

    def __init__(self, data: bytes, max_pixels: int) -> None:
        try:
            self._image = Image.open(io.BytesIO(data), formats=list(_ANIMATED))
            _check_size(self._image.width, self._image.height, max_pixels)
            count = int(getattr(self._image, "n_frames", 1))
            if count > MAX_FRAMES:
                raise MediaTooLargeError(f"the clip has more than {MAX_FRAMES:,} frames")
            lengths = []
            for index in range(count):
                self._image.seek(index)
                self._image.load()  # WebP tells a frame's length only then
                # As browsers do: a frame without a length, or a very short one, takes 0.1 s.
                length = float(self._image.info.get("duration") or 0) / 1000
                lengths.append(length if length >= 0.011 else 0.1)
        except MediaError:
            raise
        except Exception as error:  # Pillow raises errors of many kinds for broken files
            raise MediaError("the animated picture cannot be read") from error
        self._data = data
        self._lengths = lengths
        self.times = [0.0]
        for length in lengths[:-1]:
            self.times.append(self.times[-1] + length)
        self._frames = SizedCache(KEPT_BYTES)

    def info(self) -> FootageInfo:
        """What is known of the file."""
        end = self.times[-1] + self._lengths[-1]
        same = max(self._lengths) - min(self._lengths) < 1e-6
        rate = None
        if same and 1 <= 1 / self._lengths[0] <= 240:
            rate = constant_rate(self.times, Fraction(1 / self._lengths[0]).limit_denominator(1001))
        first = self.frame(0)
        alpha = int(first[:, :, 3].min()) < 255
        media_type = _ANIMATED[self._image.format or "GIF"]
        size = (self._image.width, self._image.height)
        return FootageInfo(media_type, *size, end, len(self.times), rate, alpha)

    def frame(self, index: int) -> np.ndarray:
        """The frame of a number, BGRA (h, w, 4)."""
        found: np.ndarray | None = self._frames.get(index)
        if found is not None:
            return found
        try:
            if index < self._image.tell():  # frames build on each other: from the start again
                self._image = Image.open(io.BytesIO(self._data), formats=list(_ANIMATED))
            self._image.seek(index)
            rgba = np.asarray(self._image.convert("RGBA"))
        except Exception as error:
            raise MediaError(f"the animated picture is damaged at frame {index}") from error
        pixels = premultiply(np.ascontiguousarray(rgba[:, :, [2, 1, 0, 3]]))
        self._frames.put(index, pixels, pixels.nbytes)
        return pixels
