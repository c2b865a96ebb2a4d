"""Names of today: the timeline of a result, the settings of the workshop."""

from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    # Kept results are of another shape from now on: they are computed again.
    op.execute("DELETE FROM results")
    op.execute("ALTER TABLE results RENAME COLUMN lane TO timeline")
    op.execute("ALTER TABLE shop RENAME TO workshop")
