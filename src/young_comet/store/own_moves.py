"""Moves of the artist's own that are at hand in all projects: one JSON file in the data folder."""

from __future__ import annotations

import json
import os
import threading
from pathlib import Path

from pydantic import ValidationError

from ..core.catalog import check_saved_move
from ..core.model import SavedMove
from ..core.model.schema import from_validation
from ..errors import DocumentError, NotFoundError
from .trouble import told

MAX_MOVES = 500


class OwnMoves:
    """The shared moves, read and written as a whole."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._lock = threading.Lock()

    def all(self) -> list[SavedMove]:
        """The moves in the order in which they were kept; a damaged file counts as empty."""
        return self._read() or []

    def _read(self) -> list[SavedMove] | None:
        """The moves; None where the file is damaged."""
        try:
            data = json.loads(self._path.read_text(encoding="utf-8"))
            return [check_saved_move(SavedMove.model_validate(each)) for each in data]
        except FileNotFoundError:
            return []
        except (OSError, ValueError, TypeError, DocumentError):
            return None

    def keep(self, move: SavedMove) -> None:
        """Adds a move, or puts it in place of the one of its id."""
        try:
            move = check_saved_move(move)
        except ValidationError as error:
            raise from_validation(error) from error
        with self._lock:
            known = self._read()
            if known is None:  # what somebody may still want to read is set aside
                os.replace(self._path, self._path.with_suffix(".damaged"))
            others = [each for each in known or [] if each.id != move.id]
            if len(others) >= MAX_MOVES:
                raise DocumentError(f"expected at most {MAX_MOVES} moves", field="moves")
            self._write([*others, move])

    def remove(self, move_id: str) -> None:
        """Takes a move away; NotFoundError where there is none of that id."""
        with self._lock:
            moves = self.all()
            rest = [each for each in moves if each.id != move_id]
            if len(rest) == len(moves):
                raise NotFoundError(f"there is no kept move {move_id!r}", field="move")
            self._write(rest)

    def _write(self, moves: list[SavedMove]) -> None:
        data = [each.model_dump(mode="json", exclude_defaults=True) for each in moves]
        fresh = self._path.with_suffix(".new")
        with told(self._path):
            fresh.write_text(json.dumps(data, indent=1), encoding="utf-8")
            os.replace(fresh, self._path)
