"""One box of shims for the shop, in place of a copy at every engine."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def _gather() -> None:
    """What the engines' copies told of one size is one and the same pile: the largest count stands."""
    connection = op.get_bind()
    counts: dict[tuple[float, float | None], int] = {}
    for (text,) in connection.execute(sa.text("SELECT shim_box FROM engines")).all():
        for shim in (json.loads(text) if text else None) or []:
            size = (round(shim["shim_mm"], 4), shim.get("diameter_mm"))
            counts[size] = max(counts.get(size, 0), shim["count"])
    for (shim_mm, diameter_mm), count in counts.items():
        connection.execute(
            sa.text("INSERT INTO shim_box (shim_mm, diameter_mm, count) VALUES (:shim, :diameter, :count)"),
            {"shim": shim_mm, "diameter": diameter_mm, "count": count},
        )


def upgrade() -> None:
    op.create_table(
        "shim_box",
        sa.Column("pk", sa.Integer(), nullable=False),
        sa.Column("shim_mm", sa.Float(), nullable=False),
        sa.Column("diameter_mm", sa.Float(), nullable=True),
        sa.Column("count", sa.Integer(), nullable=False),
        sa.CheckConstraint("count >= 0"),
        sa.PrimaryKeyConstraint("pk"),
        sa.UniqueConstraint("shim_mm", "diameter_mm"),
    )
    _gather()
    op.drop_column("engines", "shim_box")
