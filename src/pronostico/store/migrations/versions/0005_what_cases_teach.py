"""What closed cases teach, and the notebook of a case: notes and photographs."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "lessons",
        sa.Column("id", sa.String(length=80), nullable=False),
        sa.Column("case_pk", sa.Integer(), nullable=True),
        sa.Column("brought_from", sa.String(length=200), nullable=True),
        sa.Column("closed", sa.Date(), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["case_pk"], ["cases.pk"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("case_pk"),
    )
    op.create_table(
        "case_notebook",
        sa.Column("id", sa.String(length=80), nullable=False),
        sa.Column("case_pk", sa.Integer(), nullable=False),
        sa.Column("noted_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("photograph", sa.String(length=200), nullable=True),
        sa.Column("media_type", sa.String(length=40), nullable=True),
        sa.Column("removed_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["case_pk"], ["cases.pk"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_case_notebook_case_pk", "case_notebook", ["case_pk"])
