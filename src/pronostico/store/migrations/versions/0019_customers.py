"""Customers, whose engines are whose, and a photograph of an engine's plate."""

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "customers",
        sa.Column("id", sa.String(length=80), nullable=False),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.add_column("engines", sa.Column("customer_id", sa.String(length=80)))
    op.create_index("ix_engines_customer_id", "engines", ["customer_id"])
    op.add_column("engines", sa.Column("plate_photograph", sa.String(length=200)))
