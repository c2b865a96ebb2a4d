"""A bin: engines, visits and cases that were deleted, to be restored whole for a month."""

import sqlalchemy as sa
from alembic import op

from pronostico.store.change_counts import count_changes, count_leaving

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None

_COLUMNS = "engine_id, visit_id, position, day, usage, data, gauge_set, removal_id"


def upgrade() -> None:
    op.create_table(
        "removals",
        sa.Column("id", sa.String(length=80), nullable=False),
        sa.Column("kind", sa.String(length=12), nullable=False),
        sa.Column("engine_id", sa.String(length=80), nullable=False),
        sa.Column("part_id", sa.String(length=80)),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("removed_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("person", sa.String(length=80)),
        sa.PrimaryKeyConstraint("id"),
    )
    for table in ("engines", "visits", "cases", "lessons"):
        op.add_column(table, sa.Column("removal_id", sa.String(length=80)))
        op.create_index(f"ix_{table}_removal_id", table, ["removal_id"])
    on_server = op.get_bind().dialect.name == "postgresql"
    op.execute(f"DROP TRIGGER visits_update_changes{' ON visits' if on_server else ''}")
    if on_server:
        op.execute("DROP FUNCTION visits_update_changes()")
    count_changes("visits", "{row}.engine_id", of_columns=_COLUMNS)
    count_leaving("visits")
