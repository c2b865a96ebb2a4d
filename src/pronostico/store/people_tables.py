"""The tables of who works here, on which devices they are signed in, and who changed what."""

from datetime import datetime

from sqlalchemy import DateTime, ForeignKey, Index, Integer, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from pronostico.store.tables import Base


class PersonRow(Base):
    """Somebody who works here; who was removed stays, for what they did names them.

    `name_folded`: as names are compared. `mark`: the shape that stands for them beside their initials.
    `password_hash` None: they sign in with a paired device alone.
    """

    __tablename__ = "people"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    name_folded: Mapped[str] = mapped_column(String(80), index=True)
    initials: Mapped[str] = mapped_column(String(4))
    mark: Mapped[str] = mapped_column(String(16))
    role: Mapped[str] = mapped_column(String(12))
    password_hash: Mapped[str | None] = mapped_column(Text)
    added_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class SignInRow(Base):
    """A device on which somebody is signed in, by the digest of what the device keeps."""

    __tablename__ = "sign_ins"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    token_digest: Mapped[str] = mapped_column(String(64), unique=True)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id"), index=True)
    device: Mapped[str] = mapped_column(String(80))
    begun_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    used_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    ended_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class PairingRow(Base):
    """A link that signs a device in once, by the digest of its code."""

    __tablename__ = "pairings"

    code_digest: Mapped[str] = mapped_column(String(64), primary_key=True)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id"), index=True)
    until: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    used_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class AuditRow(Base):
    """One change: who, when, on which device, and what was sent. Added in its own transaction, never changed.

    `person`: the name as it was then; None: nobody had to say. `route`: the name of the route that did it.
    `page`: which open page of the application, so that it is not told of its own changes.
    `earlier`: what was replaced, as JSON.
    """

    __tablename__ = "audit"
    __table_args__ = (Index("ix_audit_engine_id_pk", "engine_id", "pk"),)

    pk: Mapped[int] = mapped_column(Integer, primary_key=True)
    at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    person_id: Mapped[str | None] = mapped_column(String(80))
    person: Mapped[str | None] = mapped_column(String(80))
    device: Mapped[str] = mapped_column(String(80))
    engine_id: Mapped[str | None] = mapped_column(String(80))
    route: Mapped[str] = mapped_column(String(80))
    place: Mapped[str] = mapped_column(Text)
    sent: Mapped[str | None] = mapped_column(Text)
    page: Mapped[str | None] = mapped_column(String(80))
    earlier: Mapped[str | None] = mapped_column(Text)
