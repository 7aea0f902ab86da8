"""Opening the database file, brought up to date by its migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from urllib.parse import quote

from sqlalchemy import create_engine, event, inspect, text
from sqlalchemy.orm import Session, sessionmaker

from ..errors import DamagedError
from .trouble import told

# How long a write waits for another program's.
WAIT_S = 10
MIGRATIONS = Path(__file__).parent / "migrations"


class Database:
    """One SQLite file. Sessions are short: one per operation, committed or rolled back whole.

    Whatever SQLite complains of comes out as a StorageError. ``writing`` False opens the file for
    reading only, beside the program that holds it.
    """

    def __init__(self, path: Path, *, writing: bool = True) -> None:
        file = f"file:{quote(str(path.absolute()))}?uri=true"
        self.engine = create_engine(
            f"sqlite:///{file if writing else file + '&mode=ro'}",
            connect_args={"timeout": WAIT_S, "check_same_thread": False},
        )
        event.listen(self.engine, "connect", _configure if writing else _configure_reading)
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)
        with told(path):
            self._migrate(writing)

    def version(self) -> str | None:
        """The number of the last migration that was run; None for a new file."""
        with self.engine.begin() as connection:
            if not inspect(connection).has_table("alembic_version"):
                return None
            found = connection.scalar(text("SELECT version_num FROM alembic_version"))
            return str(found) if found is not None else None

    def _migrate(self, writing: bool) -> None:
        """Runs the migrations that are missing; Alembic is only loaded where there are some."""
        known = [file.stem.split("_")[0] for file in (MIGRATIONS / "versions").glob("0*.py")]
        found = self.version()
        if found == max(known):
            return
        if found is not None and found not in known:
            raise DamagedError(
                f"the database was written by a later Young Comet (its version is {found}, this "
                f"program knows up to {max(known)}); start that one, or choose another folder "
                "with --data"
            )
        if not writing:
            raise DamagedError("the database must be brought up to date first: start the program")
        from alembic import command
        from alembic.config import Config as AlembicConfig

        config = AlembicConfig()
        config.set_main_option("script_location", str(MIGRATIONS))
        with self.engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A session of one transaction: kept at its end, undone where something is raised."""
        with told("the database"), self._sessions.begin() as session:
            yield session

    def complaints(self) -> list[str]:
        """What SQLite's own check of the whole file finds."""
        with told("the database"), self.engine.begin() as connection:
            rows = connection.execute(text("PRAGMA integrity_check(20)")).scalars().all()
        return [str(row) for row in rows if row != "ok"]

    def close(self) -> None:
        """Closes all connections."""
        self.engine.dispose()


def _configure_reading(connection: Any, _: Any) -> None:
    connection.execute("PRAGMA query_only=ON")


def _configure(connection: Any, _: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA synchronous=NORMAL")
    cursor.execute("PRAGMA foreign_keys=ON")
    cursor.close()
