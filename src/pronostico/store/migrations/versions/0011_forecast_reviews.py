"""What became of the forecasts of each engine."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "forecast_reviews",
        sa.Column("engine_id", sa.String(length=80), nullable=False),
        sa.Column("changed", sa.Integer(), nullable=False),
        sa.Column("model", sa.String(length=64), nullable=False),
        sa.Column("digests", sa.JSON(), nullable=False),
        sa.Column("review", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["engine_id"], ["engines.id"]),
        sa.PrimaryKeyConstraint("engine_id"),
    )
