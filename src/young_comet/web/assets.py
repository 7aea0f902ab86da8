"""Scripts, styles, fonts and icons, served under an address that changes with them.

A browser may then keep them for good: a page that was open before asks for none of its sixty files.
"""

from __future__ import annotations

import hashlib
import os
from functools import lru_cache
from pathlib import Path
from typing import Any

from starlette.responses import Response
from starlette.staticfiles import StaticFiles

STATIC = Path(__file__).parent / "static"


@lru_cache(maxsize=1)
def static_prefix() -> str:
    """The address under which the files are kept, named by what they hold."""
    digest = hashlib.blake2b(digest_size=6)
    for file in sorted(path for path in STATIC.rglob("*") if path.is_file()):
        stat = file.stat()
        digest.update(f"{file.relative_to(STATIC)} {stat.st_size} {stat.st_mtime_ns}".encode())
    return f"/static/v-{digest.hexdigest()}"


class KeptFiles(StaticFiles):
    """Files that never change under their address."""

    def file_response(self, full_path: Any, stat_result: os.stat_result, *more: Any) -> Response:
        """The answer with a shipped file."""
        response = super().file_response(full_path, stat_result, *more)
        response.headers["cache-control"] = "public, max-age=31536000, immutable"
        return response
