"""What a visit and a setting kept among what was typed: fields of their own, traces a table of theirs."""

import json

import sqlalchemy as sa
from alembic import op

from pronostico.record.older import setting_of_today, visit_of_today
from pronostico.store.change_counts import count_changes

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "traces",
        sa.Column("pk", sa.Integer(), nullable=False),
        sa.Column("visit_pk", sa.Integer(), nullable=False),
        sa.Column("trace_id", sa.String(length=80), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["visit_pk"], ["visits.pk"]),
        sa.PrimaryKeyConstraint("pk"),
        sa.UniqueConstraint("visit_pk", "trace_id"),
    )
    op.create_index("ix_traces_visit_pk", "traces", ["visit_pk"])
    op.add_column("settings", sa.Column("setting_id", sa.String(length=80)))
    _move_visits()
    _move_settings()
    op.create_index("ux_settings_visit_pk_setting_id", "settings", ["visit_pk", "setting_id"], unique=True)
    count_changes("traces", "(SELECT engine_id FROM visits WHERE pk = {row}.visit_pk)")


def _move_visits() -> None:
    database = op.get_bind()
    for pk, text in database.execute(sa.text("SELECT pk, data FROM visits")).all():
        before = json.loads(text)
        data = visit_of_today(before)
        if data == before:
            continue
        for trace in data.pop("traces", []):
            row = {"visit": pk, "trace": trace.pop("id"), "data": json.dumps(trace)}
            database.execute(
                sa.text("INSERT INTO traces (visit_pk, trace_id, data) VALUES (:visit, :trace, :data)"), row
            )
        database.execute(
            sa.text("UPDATE visits SET data = :data WHERE pk = :pk"), {"pk": pk, "data": json.dumps(data)}
        )


def _move_settings() -> None:
    database = op.get_bind()
    known: set[tuple[int, str]] = set()
    for pk, visit, text in database.execute(sa.text("SELECT pk, visit_pk, data FROM settings")).all():
        before = json.loads(text)
        data = setting_of_today(before)
        # A second one of the same identifier, from a file by another hand, stays as it came.
        if data != before and (visit, data["id"]) not in known:
            known.add((visit, data["id"]))
            row = {"pk": pk, "id": data.pop("id"), "data": json.dumps(data)}
            database.execute(
                sa.text("UPDATE settings SET setting_id = :id, data = :data WHERE pk = :pk"), row
            )
