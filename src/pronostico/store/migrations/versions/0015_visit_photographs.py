"""Photographs taken at a visit."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

_TIME = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.create_table(
        "visit_photographs",
        sa.Column("id", sa.String(length=80), nullable=False),
        sa.Column("visit_pk", sa.Integer(), nullable=False),
        sa.Column("noted_at", _TIME, nullable=False),
        sa.Column("step", sa.String(length=20), nullable=False),
        sa.Column("valve", sa.String(length=80)),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("photograph", sa.String(length=200), nullable=False),
        sa.Column("media_type", sa.String(length=40), nullable=False),
        sa.Column("on_card", sa.Boolean(), nullable=False),
        sa.Column("removed_at", _TIME),
        sa.ForeignKeyConstraint(["visit_pk"], ["visits.pk"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_visit_photographs_visit_pk", "visit_photographs", ["visit_pk"])
