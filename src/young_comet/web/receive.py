"""Reading request bodies with a limit."""

from __future__ import annotations

from typing import IO

from fastapi import Request

from ..errors import MediaTooLargeError


async def receive_to_file(request: Request, file: IO[bytes], limit: int) -> None:
    """Writes the body to a file; MediaTooLargeError as soon as it passes the limit."""
    size = 0
    async for chunk in request.stream():
        size += len(chunk)
        if size > limit:
            raise MediaTooLargeError(f"the file has more than {limit // 2**20} MB")
        file.write(chunk)


async def receive_bytes(request: Request, limit: int) -> bytes:
    """The body; MediaTooLargeError as soon as it passes the limit."""
    parts: list[bytes] = []
    size = 0
    async for chunk in request.stream():
        size += len(chunk)
        if size > limit:
            raise MediaTooLargeError(f"the file has more than {limit // 2**20} MB")
        parts.append(chunk)
    return b"".join(parts)
