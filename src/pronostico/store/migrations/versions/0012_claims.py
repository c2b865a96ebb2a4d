"""Who computes which result, where several processes share a database."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "claims",
        sa.Column("work", sa.String(length=20), nullable=False),
        sa.Column("engine_id", sa.String(length=80), nullable=False),
        sa.Column("until", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("work", "engine_id"),
    )
