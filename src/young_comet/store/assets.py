"""Asset files, named by the hash of their content."""

from __future__ import annotations

import hashlib
import os
import re
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path, PurePosixPath
from typing import Any

import numpy as np

from ..core.audio import (
    CHANNELS,
    SAMPLE_RATE,
    Bands,
    Peaks,
    bands_of,
    pack_bands,
    pack_peaks,
    peaks_of,
    unpack_bands,
    unpack_peaks,
)
from ..core.media import sound_kind, unpack_drawing
from ..core.media.sound import MAX_SECONDS
from ..core.model import Asset
from ..core.model.document import BeatGrid
from ..errors import MediaError, MediaTooLargeError, NotFoundError, StorageError
from ..reading import (
    DRAW_S,
    LISTEN_S,
    READ_S,
    READ_S_PER_MB,
    Examined,
    reader,
)
from .trouble import told

_HASH = re.compile(r"[0-9a-f]{64}")
# Counts how drawings are drawn: those kept from another count are drawn anew.
DRAWN = 2
# How long finding beats may take: what finds them is compiled at its first use.
BEATS_S = 240.0
# Counts how sounds are decoded, likewise.
DECODED = 1
# Seconds that making a second of sound longer or shorter may take, and how many speeds are kept.
STRETCH_S_PER_S, MOST_SPEEDS = 0.5, 4

# What may be stored, and the ending of its file in a project archive.
MEDIA_TYPES = {
    "image/png": "png",
    "image/jpeg": "jpg",
    "image/webp": "webp",
    "image/gif": "gif",
    "image/apng": "apng",
    "video/mp4": "mp4",
    "video/quicktime": "mov",
    "video/webm": "webm",
    "image/svg+xml": "svg",
    "font/ttf": "ttf",
    "font/otf": "otf",
    "text/x-cube": "cube",
    "audio/wav": "wav",
    "audio/flac": "flac",
    "audio/ogg": "ogg",
    "audio/mpeg": "mp3",
    "audio/aac": "aac",
    "audio/mp4": "m4a",
    "audio/webm": "weba",
}


class AssetStore:
    """Checks, stores and reads assets below one folder.

    A file's own name is never used for a path: it only becomes the asset's display name.
    """

    def __init__(
        self, folder: Path, *, max_bytes: int = 200 * 2**20, max_pixels: int = 100_000_000
    ) -> None:
        self._folder = folder
        self.max_bytes, self.max_pixels = max_bytes, max_pixels
        # Foreign bytes are read in processes of their own.
        self._reading, self._drawing = reader("reading"), reader("drawing")

    def ingest(self, name: str, data: bytes, asset_id: str, *, lost: bool = False) -> Asset:
        """Checks a file by its content and stores it. MediaError says what is wrong. With ``lost``
        it is written even where there is a file of its name, which may be damaged."""
        return self.take(name, data, asset_id, lost=lost)[0]

    def take(
        self, name: str, data: bytes, asset_id: str, *, lost: bool = False
    ) -> tuple[Asset, tuple[str, ...]]:
        """As ``ingest``, with what of the file will not be seen, in sentences."""
        if len(data) > self.max_bytes:
            raise MediaTooLargeError(
                f"{display_name(name)!r} has {len(data) / 2**20:.0f} MB; "
                f"at most {self.max_bytes // 2**20} MB are allowed"
            )
        if not data:
            raise MediaError(f"{display_name(name)!r} is empty")
        try:
            return self._ingest(name, data, asset_id, lost)
        except MediaError as error:
            raise type(error)(f"{display_name(name)!r}: {error}") from error

    def _ingest(
        self, name: str, data: bytes, asset_id: str, lost: bool
    ) -> tuple[Asset, tuple[str, ...]]:
        found: Examined = self._reading.ask(
            "examine",
            data,
            self.max_pixels,
            within_s=_within_s(data),
        )
        stored = data if found.plain is None else found.plain
        digest = self._write(stored, lost)
        if found.thumbnail is not None:
            self._write_thumbnail(digest, found.thumbnail)
        asset = Asset(
            id=asset_id, name=display_name(name), hash=digest, size_bytes=len(stored),
            **found.facts,
        )  # fmt: skip
        return asset, found.notes

    def read_asset(self, hash: str) -> bytes:
        """The bytes of an asset; NotFoundError if the store has none of that hash."""
        try:
            return self._path(hash).read_bytes()
        except OSError as error:
            raise NotFoundError(f"the file of asset {hash[:12]} is missing") from error

    def colours(self, asset: Asset) -> list[str]:
        """The main colours of a picture, the most frequent first."""
        data, size = self.read_asset(asset.hash), (asset.width, asset.height)
        found: list[str] = self._reading.ask(
            "colours", data, asset.kind, size, self.max_pixels, within_s=DRAW_S
        )
        return found

    def shapes(self, asset: Asset) -> dict[str, Any]:
        """A vector picture as the parts and properties of a shape layer, and ``notes`` of what
        could not be kept."""
        found: dict[str, Any] = self._reading.ask(
            "shapes", self.read_asset(asset.hash), within_s=2 * DRAW_S
        )
        return found

    def has(self, hash: str) -> bool:
        """Whether a file is there."""
        return self._path(hash).is_file()

    def trouble(self, asset: Asset) -> str:
        """Why an asset's file cannot be used, "" where it can: it is missing or cut short."""
        try:
            size = self._path(asset.hash).stat().st_size
        except FileNotFoundError:
            return "its file is missing"
        except (OSError, NotFoundError) as error:
            return f"its file cannot be read ({error})"
        return "" if size == asset.size_bytes else "its file is damaged"

    def damaged(self, hash: str) -> bool:
        """Whether a stored file holds other bytes than its name says; reads all of it."""
        return hashlib.sha256(self.read_asset(hash)).hexdigest() != hash

    def thumbnail_path(self, hash: str) -> Path | None:
        """Where a file's thumbnail lies, None where it has none."""
        path = self._path(hash).with_suffix(".webp")
        return path if path.is_file() else None

    def drawing(self, hash: str, scale: float) -> np.ndarray:
        """Pixels of a vector asset at a scale: kept from before, else drawn and kept beside the
        asset where there is room. NotFoundError, or MediaError where it costs too much."""
        path = self._drawing_path(hash, scale)
        with suppress(OSError):
            kept = unpack_drawing(path.read_bytes())
            if kept is not None:
                return kept
        packed: bytes = self._drawing.ask("drawing", self.read_asset(hash), scale, within_s=DRAW_S)
        with suppress(StorageError):
            write_whole(path, packed)
        pixels = unpack_drawing(packed)
        if pixels is None:
            raise MediaError("the drawing is damaged")
        return pixels

    def sound(self, hash: str) -> np.ndarray:
        """The samples of a sound or of a clip that is heard, float32 (n, 2) at the rate that scenes
        are mixed at, mapped from a file beside the asset; decoded first where that is not there.
        NotFoundError, or MediaError where it cannot be read."""
        path = self._path(hash).with_suffix(f".{DECODED}.pcm")
        if not path.is_file():
            self._decode(self.read_asset(hash), path)
        return _mapped(path)

    def stretched(self, hash: str, speed: float) -> np.ndarray:
        """A sound at another speed with its own pitch, as ``sound`` gives it: made once, kept with
        the last few such of the asset. MediaError where it would be too long."""
        whole = self.sound(hash)
        if len(whole) / speed > MAX_SECONDS * SAMPLE_RATE:
            raise MediaError(f"at this speed it would last longer than {MAX_SECONDS:g} s")
        path = self._path(hash).with_suffix(f".{DECODED}.x{round(speed * 1e6)}.pcm")
        if not path.is_file():
            decoded = self._path(hash).with_suffix(f".{DECODED}.pcm")
            within_s = READ_S + STRETCH_S_PER_S * len(whole) / SAMPLE_RATE
            with self._made(path) as temporary:
                self._reading.ask("longer", str(decoded), speed, temporary, within_s=within_s)
            known = path.parent.glob(f"{path.name.split('.')[0]}.{DECODED}.x*.pcm")
            with suppress(OSError):  # another process may be at it as well
                for old in sorted(known, key=lambda each: each.stat().st_mtime)[:-MOST_SPEEDS]:
                    old.unlink(missing_ok=True)
        return _mapped(path)

    def _decode(self, data: bytes, path: Path) -> None:
        with self._made(path) as temporary:
            self._reading.ask("samples", data, temporary, within_s=_within_s(data))

    @contextmanager
    def _made(self, path: Path) -> Iterator[str]:
        """A file beside the one that it becomes once it is whole."""
        with told(path.parent):
            handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=".part-")
            os.close(handle)
            try:
                yield temporary
                os.replace(temporary, path)
            finally:
                Path(temporary).unlink(missing_ok=True)

    def peaks(self, hash: str) -> Peaks:
        """What a sound looks like: kept beside the asset, made first where it is not there."""
        path = self._path(hash).with_suffix(f".{DECODED}.peaks")
        with suppress(OSError, ValueError):
            return unpack_peaks(path.read_bytes())
        found = peaks_of(self.sound(hash))
        with suppress(StorageError):
            write_whole(path, pack_peaks(found))
        return found

    def beats(self, hash: str) -> BeatGrid | None:
        """The beats of a sound, listened to in a process of its own; None where it has none."""
        self.sound(hash)
        path = self._path(hash).with_suffix(f".{DECODED}.pcm")
        found = self._reading.ask("beats", str(path), within_s=BEATS_S)
        if found is None:
            return None
        return BeatGrid(
            tempo=found.tempo, times=found.times, strong=found.strong, sections=found.sections
        )

    def bands(self, hash: str) -> Bands:
        """How loud the bands of a sound are: kept likewise."""
        path = self._path(hash).with_suffix(f".{DECODED}.bands")
        with suppress(OSError, ValueError):
            return unpack_bands(path.read_bytes())
        found = bands_of(self.sound(hash))
        with suppress(StorageError):
            write_whole(path, pack_bands(found))
        return found

    def _drawing_path(self, hash: str, scale: float) -> Path:
        return self._path(hash).with_suffix(f".{DRAWN}-{round(scale * 1000)}.png")

    def _path(self, hash: str) -> Path:
        if not _HASH.fullmatch(hash):
            raise NotFoundError(f"{hash[:20]!r} is no asset's hash")
        return self._folder / hash[:2] / hash

    def _write(self, data: bytes, lost: bool) -> str:
        digest = hashlib.sha256(data).hexdigest()
        path = self._path(digest)
        if lost or not path.is_file():
            write_whole(path, data)
        return digest

    def _write_thumbnail(self, digest: str, data: bytes) -> None:
        write_whole(self._path(digest).with_suffix(".webp"), data)


def _mapped(path: Path) -> np.ndarray:
    """Decoded samples (n, 2) of a file."""
    try:
        if not path.stat().st_size:
            return np.zeros((0, CHANNELS), np.float32)
        return np.memmap(path, np.float32, "r").reshape(-1, CHANNELS)
    except (OSError, ValueError) as error:
        raise MediaError("the decoded sound is damaged") from error


def _within_s(data: bytes) -> float:
    """How long reading a file may take."""
    listening = LISTEN_S if sound_kind(data) else 0.0
    return READ_S + listening + READ_S_PER_MB * len(data) / 2**20


def write_whole(path: Path, data: bytes) -> None:
    """Writes a file so that it is there whole or not at all."""
    with told(path.parent):
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=".part-")
        try:
            with os.fdopen(handle, "wb") as file:
                file.write(data)
            os.replace(temporary, path)
        except BaseException:
            Path(temporary).unlink(missing_ok=True)
            raise


def display_name(name: str) -> str:
    """The last part of an uploaded file's name without anything that is no text."""
    last = PurePosixPath(name.replace("\\", "/")).name
    clean = "".join(c for c in last if c.isprintable()).strip()
    return clean[:120] or "Unnamed"


def asset_media_type(asset: Asset) -> str:
    """The type to serve an asset as; only types that this program stores."""
    return asset.media_type if asset.media_type in MEDIA_TYPES else "application/octet-stream"
