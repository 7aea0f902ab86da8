"""Opening the database file, brought up to date by its migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import create_engine, event, inspect, text
from sqlalchemy.orm import Session, sessionmaker

MIGRATIONS = Path(__file__).parent / "migrations"


class Database:
    """One SQLite file. Sessions are short: one per operation, committed or rolled back whole."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.engine = create_engine(
            f"sqlite:///{path}", connect_args={"timeout": 30, "check_same_thread": False}
        )
        event.listen(self.engine, "connect", _configure)
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)
        self._migrate()

    def _migrate(self) -> None:
        """Runs the migrations that are missing; Alembic is only loaded where there are some."""
        newest = max(file.stem.split("_")[0] for file in (MIGRATIONS / "versions").glob("0*.py"))
        with self.engine.begin() as connection:
            if inspect(connection).has_table("alembic_version"):
                found = connection.scalar(text("SELECT version_num FROM alembic_version"))
                if found == newest:
                    return
        from alembic import command
        from alembic.config import Config as AlembicConfig

        config = AlembicConfig()
        config.set_main_option("script_location", str(MIGRATIONS))
        with self.engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    @contextmanager
    def session(self) -> Iterator[Session]:
        with self._sessions.begin() as session:
            yield session

    def close(self) -> None:
        self.engine.dispose()


def _configure(connection: Any, _: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA synchronous=NORMAL")
    cursor.execute("PRAGMA foreign_keys=ON")
    cursor.close()
