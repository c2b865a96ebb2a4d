"""The kind of an engine, and what its result says for its sisters."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("engines", sa.Column("kind", sa.String(length=200)))
    op.create_index("ix_engines_kind", "engines", ["kind"])
    op.add_column("results", sa.Column("summary", sa.JSON()))
    op.add_column("results", sa.Column("priors", sa.JSON()))
    # Kept results say nothing for sisters yet: they are computed again.
    op.execute("DELETE FROM results")
    engines = op.get_bind()
    for engine_id, text in engines.execute(sa.text("SELECT id, data FROM engines")).all():
        kind = json.loads(text).get("kind")
        if isinstance(kind, str) and kind.strip():
            engines.execute(
                sa.text("UPDATE engines SET kind = :kind WHERE id = :id"),
                {"kind": " ".join(kind.casefold().split()), "id": engine_id},
            )
