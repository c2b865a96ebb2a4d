"""Runs on the practice engine, for the progress of each learner."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "practice_runs",
        sa.Column("id", sa.String(length=80), primary_key=True),
        sa.Column("learner", sa.String(length=80), nullable=False),
        sa.Column("lesson", sa.String(length=80), nullable=True),
        sa.Column("begun_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("passed", sa.Boolean(), nullable=True),
        sa.Column("data", sa.JSON(), nullable=False),
    )
    op.create_index("ix_practice_runs_learner", "practice_runs", ["learner"])
