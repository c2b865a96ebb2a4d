"""A stamp for the contents of every visit, so that one which did not change is not read and checked again."""

import sqlalchemy as sa
from alembic import op

from pronostico.store.change_counts import count_changes, random_stamp, stamp_changes

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

_OF_READING = "(SELECT visit_pk FROM readings WHERE pk = {row}.reading_pk)"
_VISIT_OF = {
    "readings": "{row}.visit_pk",
    "settings": "{row}.visit_pk",
    "visit_findings": "{row}.visit_pk",
    "traces": "{row}.visit_pk",
    "tries": _OF_READING,
}
_COLUMNS = "engine_id, visit_id, position, day, usage, data, gauge_set"


def upgrade() -> None:
    op.add_column("visits", sa.Column("stamp", sa.BigInteger(), nullable=False, server_default="0"))
    on_server = op.get_bind().dialect.name == "postgresql"
    of_table = " ON visits" if on_server else ""
    op.execute(f"DROP TRIGGER visits_update_changes{of_table}")
    if on_server:
        op.execute("DROP FUNCTION visits_update_changes()")
    op.execute(f"UPDATE visits SET stamp = {random_stamp()}")
    for table, visit in _VISIT_OF.items():
        stamp_changes(table, visit)
    stamp_changes("visits", "{row}.pk", of_columns="visit_id, day, usage, data")
    # A new stamp is no change of the engine: the part that changed has raised its count already.
    count_changes("visits", "{row}.engine_id", of_columns=_COLUMNS)
