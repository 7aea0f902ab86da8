"""Errors of the encoder and the disk in our words."""

from __future__ import annotations

import errno

import av

from ...errors import RenderError, StorageFullError


class translated:
    """A context that turns PyAV's and the system's errors into ours."""

    def __init__(self, what: str) -> None:
        self._what = what

    def __enter__(self) -> None:
        pass

    def __exit__(self, kind: object, error: BaseException | None, _: object) -> None:
        if isinstance(error, OSError):
            if error.errno == errno.ENOSPC:
                raise StorageFullError(f"the disk is full: {self._what}") from error
            raise RenderError(f"{self._what} ({error})") from error
        if isinstance(error, av.FFmpegError):
            raise RenderError(f"{self._what} ({error})") from error
