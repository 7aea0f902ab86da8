"""Projects, edits and renders."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "projects",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("created_at", sa.DateTime, nullable=False),
        sa.Column("changed_at", sa.DateTime, nullable=False),
        sa.Column("deleted_at", sa.DateTime, nullable=True),
    )
    op.create_table(
        "edits",
        sa.Column(
            "project_id",
            sa.String(64),
            sa.ForeignKey("projects.id", ondelete="CASCADE"),
            primary_key=True,
        ),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("label", sa.String(400), nullable=False),
        sa.Column("operation", sa.Text, nullable=False),
        sa.Column("forward", sa.Text, nullable=False),
        sa.Column("inverse", sa.Text, nullable=False),
        sa.Column("touches", sa.Text, nullable=False),
        sa.Column("made_at", sa.DateTime, nullable=False),
    )
    op.create_table(
        "renders",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("project_id", sa.String(64), nullable=False),
        sa.Column("project_name", sa.String(200), nullable=False),
        sa.Column("scene_id", sa.String(64), nullable=False),
        sa.Column("scene_name", sa.String(200), nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sa.Column("settings", sa.Text, nullable=False),
        sa.Column("status", sa.String(20), nullable=False),
        sa.Column("done", sa.Integer, nullable=False),
        sa.Column("total", sa.Integer, nullable=False),
        sa.Column("message", sa.Text, nullable=False),
        sa.Column("file", sa.String(200), nullable=False),
        sa.Column("width", sa.Integer, nullable=False),
        sa.Column("height", sa.Integer, nullable=False),
        sa.Column("size_bytes", sa.Integer, nullable=False),
        sa.Column("seconds", sa.Float, nullable=False),
        sa.Column("hidden", sa.Boolean, nullable=False),
        sa.Column("created_at", sa.DateTime, nullable=False),
    )


def downgrade() -> None:
    op.drop_table("renders")
    op.drop_table("edits")
    op.drop_table("projects")
