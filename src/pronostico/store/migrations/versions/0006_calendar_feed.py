"""The calendar feed's token, for those that its address was given to."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("shop", sa.Column("calendar_token", sa.String(length=80), nullable=True))
