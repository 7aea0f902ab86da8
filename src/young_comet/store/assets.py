"""Asset files, named by the hash of their content."""

from __future__ import annotations

import hashlib
import os
import re
import tempfile
from contextlib import suppress
from pathlib import Path, PurePosixPath

from ..core.media import (
    check_footage,
    check_picture,
    check_svg,
    decode_picture,
    draw_svg,
    footage_kind,
    is_animated,
    open_footage,
    read_cube,
    thumbnail,
)
from ..core.model import Asset, RateModel
from ..core.typography import check_font
from ..core.typography.shipped import FACES_DIR
from ..errors import MediaError, MediaTooLargeError, NotFoundError, StorageError
from .trouble import told

_HASH = re.compile(r"[0-9a-f]{64}")
_FONT_MAGIC = (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOF2", b"wOFF")
THUMBNAIL_PX = 256

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
}
CUBE_TYPE = "text/x-cube"


class AssetStore:
    """Checks, stores and reads assets below one folder.

    A file's own name is never used for a path: it only becomes the asset's display name.
    """

    def __init__(
        self, folder: Path, *, max_bytes: int = 200 * 2**20, max_pixels: int = 100_000_000
    ) -> None:
        self._folder = folder
        self.max_bytes, self.max_pixels = max_bytes, max_pixels

    def ingest(self, name: str, data: bytes, asset_id: str) -> Asset:
        """Checks a file by its content and stores it. MediaError says what is wrong."""
        if len(data) > self.max_bytes:
            raise MediaTooLargeError(
                f"{display_name(name)!r} has {len(data) / 2**20:.0f} MB; "
                f"at most {self.max_bytes // 2**20} MB are allowed"
            )
        if not data:
            raise MediaError(f"{display_name(name)!r} is empty")
        try:
            return self._ingest(name, data, asset_id)
        except MediaError as error:
            raise type(error)(f"{display_name(name)!r}: {error}") from error

    def _ingest(self, name: str, data: bytes, asset_id: str) -> Asset:
        shown = display_name(name)
        if data[:4] in _FONT_MAGIC:
            info, plain = check_font(data)
            media_type = "font/otf" if plain[:4] == b"OTTO" else "font/ttf"
            return Asset(
                id=asset_id, name=shown, kind="font", media_type=media_type,
                hash=self._write(plain), size_bytes=len(plain), family=info.family,
            )  # fmt: skip
        if looks_like_svg(data):
            width, height = check_svg(data)
            digest = self._write(data)
            scale = min(4.0, THUMBNAIL_PX / max(width, height))
            self._write_thumbnail(digest, thumbnail(draw_svg(data, scale, FACES_DIR), THUMBNAIL_PX))
            return Asset(
                id=asset_id, name=shown, kind="svg", media_type="image/svg+xml", hash=digest,
                size_bytes=len(data), width=max(1, round(width)), height=max(1, round(height)),
            )  # fmt: skip
        if looks_like_cube(data):
            read_cube(data)
            return Asset(
                id=asset_id, name=shown, kind="table", media_type=CUBE_TYPE,
                hash=self._write(data), size_bytes=len(data),
            )  # fmt: skip
        if footage_kind(data) in ("mov", "matroska") or is_animated(data):
            return self._ingest_clip(shown, data, asset_id)
        info_ = check_picture(data, self.max_pixels)
        digest = self._write(data)
        self._write_thumbnail(digest, thumbnail(decode_picture(data), THUMBNAIL_PX))
        return Asset(
            id=asset_id, name=shown, kind="picture", media_type=info_.media_type, hash=digest,
            size_bytes=len(data), width=info_.width, height=info_.height,
        )  # fmt: skip

    def _ingest_clip(self, shown: str, data: bytes, asset_id: str) -> Asset:
        info = check_footage(data, self.max_pixels)
        digest = self._write(data)
        footage = open_footage(data, self.max_pixels)
        middle = footage.frame(info.frame_count // 2)
        self._write_thumbnail(digest, thumbnail(middle, THUMBNAIL_PX))
        rate = RateModel(num=info.rate.num, den=info.rate.den) if info.rate else None
        return Asset(
            id=asset_id, name=shown, kind="clip", media_type=info.media_type, hash=digest,
            size_bytes=len(data), width=info.width, height=info.height,
            duration_s=round(info.duration_s, 6), frame_count=info.frame_count, rate=rate,
            alpha=info.alpha,
        )  # fmt: skip

    def read_asset(self, hash: str) -> bytes:
        """The bytes of an asset; NotFoundError if the store has none of that hash."""
        try:
            return self._path(hash).read_bytes()
        except OSError as error:
            raise NotFoundError(f"the file of asset {hash[:12]} is missing") from error

    def has(self, hash: str) -> bool:
        return self._path(hash).is_file()

    def thumbnail_path(self, hash: str) -> Path | None:
        path = self._path(hash).with_suffix(".webp")
        return path if path.is_file() else None

    def kept_drawing(self, hash: str, scale: float) -> bytes | None:
        """A vector asset as it was drawn at a scale before, None if it was not."""
        try:
            return self._drawing_path(hash, scale).read_bytes()
        except OSError:
            return None

    def keep_drawing(self, hash: str, scale: float, data: bytes) -> None:
        """Keeps a drawing beside its asset; it can be drawn again where there is no room."""
        with suppress(StorageError):
            write_whole(self._drawing_path(hash, scale), data)

    def _drawing_path(self, hash: str, scale: float) -> Path:
        return self._path(hash).with_suffix(f".{round(scale * 1000)}.png")

    def _path(self, hash: str) -> Path:
        if not _HASH.fullmatch(hash):
            raise NotFoundError(f"{hash[:20]!r} is no asset's hash")
        return self._folder / hash[:2] / hash

    def _write(self, data: bytes) -> str:
        digest = hashlib.sha256(data).hexdigest()
        path = self._path(digest)
        if not path.is_file():
            write_whole(path, data)
        return digest

    def _write_thumbnail(self, digest: str, data: bytes) -> None:
        write_whole(self._path(digest).with_suffix(".webp"), data)


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


def looks_like_svg(data: bytes) -> bool:
    head = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    return head.startswith(b"<") and b"<svg" in data[:65536]


def looks_like_cube(data: bytes) -> bool:
    """Whether a file is a colour table: text that tells its size."""
    start = data[:65536]
    return b"\0" not in start and re.search(rb"^\s*LUT_[13]D_SIZE\s", start, re.M) is not None


def asset_media_type(asset: Asset) -> str:
    """The type to serve an asset as; only types that this program stores."""
    return asset.media_type if asset.media_type in MEDIA_TYPES else "application/octet-stream"
