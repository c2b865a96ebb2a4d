"""Findings of visits in a table of their own, sets of blades, the shop's settings, revisions of engines."""

import json
from uuid import uuid4

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def _move_findings() -> None:
    """Findings stood within the visit's data; each gets its row."""
    connection = op.get_bind()
    for pk, text in connection.execute(sa.text("SELECT pk, data FROM visits")).all():
        data = json.loads(text)
        for finding in data.pop("findings", None) or []:
            connection.execute(
                sa.text("INSERT INTO visit_findings (visit_pk, finding, data) VALUES (:pk, :finding, :data)"),
                {"pk": pk, "finding": finding["id"], "data": json.dumps(finding)},
            )
        connection.execute(
            sa.text("UPDATE visits SET data = :data WHERE pk = :pk"), {"pk": pk, "data": json.dumps(data)}
        )


def _shelve_blades() -> None:
    """Every engine's own blades become a set of the shop, each different one once."""
    connection = op.get_bind()
    seen = set()
    for (text,) in connection.execute(sa.text("SELECT gauge_set FROM engines")).all():
        data = json.loads(text) if text else None
        if data and (key := json.dumps(sorted(data["blades_mm"]))) not in seen:
            seen.add(key)
            kept = {name: value for name, value in data.items() if name != "id"}
            connection.execute(
                sa.text("INSERT INTO blade_sets (id, data) VALUES (:id, :data)"),
                {"id": str(uuid4()), "data": json.dumps(kept)},
            )


def upgrade() -> None:
    op.create_table(
        "visit_findings",
        sa.Column("pk", sa.Integer(), nullable=False),
        sa.Column("visit_pk", sa.Integer(), nullable=False),
        sa.Column("finding", sa.String(length=80), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["visit_pk"], ["visits.pk"]),
        sa.PrimaryKeyConstraint("pk"),
    )
    op.create_index("ix_visit_findings_visit_pk", "visit_findings", ["visit_pk"])
    op.create_table(
        "blade_sets",
        sa.Column("id", sa.String(length=80), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("removed_at", sa.DateTime(timezone=True), nullable=True),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "shop",
        sa.Column("pk", sa.Integer(), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("pk"),
    )
    op.add_column("engines", sa.Column("revision", sa.Integer(), nullable=False, server_default="1"))
    op.add_column("visits", sa.Column("gauge_set", sa.JSON(), nullable=True))
    _move_findings()
    _shelve_blades()
