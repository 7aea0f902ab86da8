"""Renders can be named, projects have tags."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "projects", sa.Column("tags", sa.Text, nullable=False, server_default=sa.text("'[]'"))
    )
    op.add_column(
        "renders", sa.Column("name", sa.String(200), nullable=False, server_default=sa.text("''"))
    )
