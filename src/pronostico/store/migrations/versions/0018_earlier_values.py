"""What a correction replaced stands in the audit trail."""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("audit", sa.Column("earlier", sa.Text()))
