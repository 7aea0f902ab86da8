"""The tables. Every change to them needs a migration in ``migrations/versions``."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import Boolean, DateTime, Float, ForeignKey, Integer, String, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """All tables."""


class ProjectRow(Base):
    """A project: its document as JSON, and where it stands in its history.

    ``revision`` grows with every change, undo included; ``position`` is the number of the last
    edit that is in effect (0: none); ``deleted_at`` marks a project that can be brought back.
    ``document`` is the project at revision ``checkpoint``: what came after is in the journal.
    ``scene_count``, ``first_scene`` and ``tags`` (JSON) are what lists show without reading the
    document.
    """

    __tablename__ = "projects"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    name: Mapped[str] = mapped_column(String(200))
    document: Mapped[str] = mapped_column(Text)
    checkpoint: Mapped[int] = mapped_column(Integer, default=0)
    scene_count: Mapped[int] = mapped_column(Integer, default=0)
    first_scene: Mapped[str | None] = mapped_column(String(64), default=None)
    tags: Mapped[str] = mapped_column(Text, default="[]")
    revision: Mapped[int] = mapped_column(Integer, default=0)
    position: Mapped[int] = mapped_column(Integer, default=0)
    created_at: Mapped[datetime] = mapped_column(DateTime)
    changed_at: Mapped[datetime] = mapped_column(DateTime)
    deleted_at: Mapped[datetime | None] = mapped_column(DateTime, default=None)


class JournalRow(Base):
    """The patch (JSON) that made a revision of a project out of the one before."""

    __tablename__ = "journal"

    project_id: Mapped[str] = mapped_column(
        ForeignKey("projects.id", ondelete="CASCADE"), primary_key=True
    )
    revision: Mapped[int] = mapped_column(Integer, primary_key=True)
    patch: Mapped[str] = mapped_column(Text)


class EditRow(Base):
    """One step of a project's history: the operation and the patches there and back (JSON).

    An empty ``inverse`` marks a step that cannot be taken back (a document that was mended).
    """

    __tablename__ = "edits"

    project_id: Mapped[str] = mapped_column(
        ForeignKey("projects.id", ondelete="CASCADE"), primary_key=True
    )
    number: Mapped[int] = mapped_column(Integer, primary_key=True)
    label: Mapped[str] = mapped_column(String(400))
    operation: Mapped[str] = mapped_column(Text)
    forward: Mapped[str] = mapped_column(Text)
    inverse: Mapped[str] = mapped_column(Text)
    touches: Mapped[str] = mapped_column(Text)
    made_at: Mapped[datetime] = mapped_column(DateTime)


class RenderRow(Base):
    """A render: what was asked for (with the document as it was), how far it is, the result.

    ``status`` is waiting, running, done, failed, cancelled or interrupted (the program ended);
    ``file`` is a name in the renders folder; ``hidden`` marks one whose entry was removed from
    the list; ``name`` is what a person has called it, "" for the scene's name.
    """

    __tablename__ = "renders"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    project_id: Mapped[str] = mapped_column(String(64))
    project_name: Mapped[str] = mapped_column(String(200))
    scene_id: Mapped[str] = mapped_column(String(64))
    scene_name: Mapped[str] = mapped_column(String(200))
    document: Mapped[str] = mapped_column(Text)
    settings: Mapped[str] = mapped_column(Text)
    status: Mapped[str] = mapped_column(String(20))
    done: Mapped[int] = mapped_column(Integer, default=0)
    total: Mapped[int] = mapped_column(Integer, default=0)
    message: Mapped[str] = mapped_column(Text, default="")
    file: Mapped[str] = mapped_column(String(200), default="")
    width: Mapped[int] = mapped_column(Integer, default=0)
    height: Mapped[int] = mapped_column(Integer, default=0)
    size_bytes: Mapped[int] = mapped_column(Integer, default=0)
    seconds: Mapped[float] = mapped_column(Float, default=0.0)
    hidden: Mapped[bool] = mapped_column(Boolean, default=False)
    name: Mapped[str] = mapped_column(String(200), default="")
    created_at: Mapped[datetime] = mapped_column(DateTime)
