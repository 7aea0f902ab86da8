"""Projects as a checkpoint and a journal of patches; what lists show beside them."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "journal",
        sa.Column(
            "project_id",
            sa.String(64),
            sa.ForeignKey("projects.id", ondelete="CASCADE"),
            primary_key=True,
        ),
        sa.Column("revision", sa.Integer, primary_key=True),
        sa.Column("patch", sa.Text, nullable=False),
    )
    zero = sa.text("0")
    for column in (
        sa.Column("checkpoint", sa.Integer, nullable=False, server_default=zero),
        sa.Column("scene_count", sa.Integer, nullable=False, server_default=zero),
        sa.Column("first_scene", sa.String(64), nullable=True),
    ):
        op.add_column("projects", column)
    connection = op.get_bind()
    projects = sa.table(
        "projects",
        sa.column("id"),
        sa.column("document"),
        sa.column("revision"),
        sa.column("checkpoint"),
        sa.column("scene_count"),
        sa.column("first_scene"),
    )
    for row in connection.execute(sa.select(projects.c.id, projects.c.document)).all():
        count, first = _shown(row.document)
        connection.execute(
            sa.update(projects)
            .where(projects.c.id == row.id)
            .values(checkpoint=projects.c.revision, scene_count=count, first_scene=first)
        )


def _shown(document: str) -> tuple[int, str | None]:
    """How many scenes a document has, and the id of the first; a damaged one has none."""
    try:
        scenes = json.loads(document)["scenes"]
        return len(scenes), str(scenes[0]["id"]) if scenes else None
    except (ValueError, TypeError, LookupError):
        return 0, None
