"""Make, model, plate and the like of an engine, in words."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("engines", sa.Column("identity", sa.String(length=600)))
