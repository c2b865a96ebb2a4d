"""Who works here, on which devices they are signed in, and who changed what."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_TIME = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.create_table(
        "people",
        sa.Column("id", sa.String(length=80), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("name_folded", sa.String(length=80), nullable=False),
        sa.Column("initials", sa.String(length=4), nullable=False),
        sa.Column("mark", sa.String(length=16), nullable=False),
        sa.Column("role", sa.String(length=12), nullable=False),
        sa.Column("password_hash", sa.Text()),
        sa.Column("added_at", _TIME, nullable=False),
        sa.Column("removed_at", _TIME),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_people_name_folded", "people", ["name_folded"])
    op.create_table(
        "sign_ins",
        sa.Column("id", sa.String(length=80), nullable=False),
        sa.Column("token_digest", sa.String(length=64), nullable=False),
        sa.Column("person_id", sa.String(length=80), nullable=False),
        sa.Column("device", sa.String(length=80), nullable=False),
        sa.Column("begun_at", _TIME, nullable=False),
        sa.Column("used_at", _TIME, nullable=False),
        sa.Column("ended_at", _TIME),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("token_digest"),
    )
    op.create_index("ix_sign_ins_person_id", "sign_ins", ["person_id"])
    op.create_table(
        "pairings",
        sa.Column("code_digest", sa.String(length=64), nullable=False),
        sa.Column("person_id", sa.String(length=80), nullable=False),
        sa.Column("until", _TIME, nullable=False),
        sa.Column("used_at", _TIME),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"]),
        sa.PrimaryKeyConstraint("code_digest"),
    )
    op.create_index("ix_pairings_person_id", "pairings", ["person_id"])
    op.create_table(
        "audit",
        sa.Column("pk", sa.Integer(), nullable=False),
        sa.Column("at", _TIME, nullable=False),
        sa.Column("person_id", sa.String(length=80)),
        sa.Column("person", sa.String(length=80)),
        sa.Column("device", sa.String(length=80), nullable=False),
        sa.Column("engine_id", sa.String(length=80)),
        sa.Column("route", sa.String(length=80), nullable=False),
        sa.Column("place", sa.Text(), nullable=False),
        sa.Column("sent", sa.Text()),
        sa.Column("page", sa.String(length=80)),
        sa.PrimaryKeyConstraint("pk"),
    )
    op.create_index("ix_audit_engine_id_pk", "audit", ["engine_id", "pk"])
    for event in ("UPDATE", "DELETE"):
        _never(event)


def _never(event: str) -> None:
    """What stands in the audit trail stays as it is; the database itself refuses anything else."""
    name = f"audit_{event.lower()}_never"
    if op.get_bind().dialect.name == "postgresql":
        op.execute(
            f"CREATE FUNCTION {name}() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN "
            "RAISE EXCEPTION 'the audit trail is never changed'; END $$"
        )
        op.execute(f"CREATE TRIGGER {name} BEFORE {event} ON audit FOR EACH ROW EXECUTE FUNCTION {name}()")
    else:
        op.execute(
            f"CREATE TRIGGER {name} BEFORE {event} ON audit "
            "BEGIN SELECT RAISE(ABORT, 'the audit trail is never changed'); END"
        )
