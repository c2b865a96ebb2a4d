"""Results kept beside what they were computed from, and a count that every change of an engine raises."""

import sqlalchemy as sa
from alembic import op

from pronostico.store.change_counts import count_changes

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

_OF_VISIT = "(SELECT engine_id FROM visits WHERE pk = {row}.visit_pk)"
_OF_READING = (
    "(SELECT v.engine_id FROM visits v JOIN readings r ON r.visit_pk = v.pk WHERE r.pk = {row}.reading_pk)"
)
# Which engine a row of a table belongs to.
_ENGINE_OF = {
    "valves": "{row}.engine_id",
    "visits": "{row}.engine_id",
    "readings": _OF_VISIT,
    "settings": _OF_VISIT,
    "visit_findings": _OF_VISIT,
    "tries": _OF_READING,
}


def _count_changes() -> None:
    for table, engine in _ENGINE_OF.items():
        count_changes(table, engine)
    count_changes("engines", "{row}.id", of_columns="name, data")


def upgrade() -> None:
    op.add_column("engines", sa.Column("changed", sa.Integer(), nullable=False, server_default="0"))
    op.create_table(
        "results",
        sa.Column("engine_id", sa.String(length=80), nullable=False),
        sa.Column("changed", sa.Integer(), nullable=False),
        sa.Column("model", sa.String(length=64), nullable=False),
        sa.Column("digest", sa.String(length=64), nullable=False),
        sa.Column("report", sa.Text(), nullable=False),
        sa.Column("lane", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["engine_id"], ["engines.id"]),
        sa.PrimaryKeyConstraint("engine_id"),
    )
    _count_changes()
