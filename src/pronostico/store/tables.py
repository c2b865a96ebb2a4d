"""The tables.

Columns hold what is searched, sorted or pointed at; `data` holds the rest of the record's part.

Nothing that a technician noted is deleted at once: a try that was taken back is marked with the time, and
what was deleted as a whole names its removal, until it has lain in the bin long enough.
"""

from datetime import date, datetime
from secrets import randbits
from typing import Any

from sqlalchemy import (
    JSON,
    BigInteger,
    Boolean,
    CheckConstraint,
    Date,
    DateTime,
    Float,
    ForeignKey,
    Index,
    Integer,
    String,
    Text,
    UniqueConstraint,
)
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

# Any: JSON columns hold parts of the record, whose types the record models know.
Json = dict[str, Any]


class Base(DeclarativeBase):
    """Base of all tables."""


class EngineRow(Base):
    """An engine; `data` is the record's engine without id, name and valves."""

    __tablename__ = "engines"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    name: Mapped[str | None] = mapped_column(String(200))
    # As it is compared with that of others; as it was written it stands in `data`.
    kind: Mapped[str | None] = mapped_column(String(200), index=True)
    # Make, model, plate and the like in words: what an engine is also found by.
    identity: Mapped[str | None] = mapped_column(String(600))
    data: Mapped[Json] = mapped_column(JSON)
    # Raised by every edit of the engine's data, so that a stale edit is refused.
    revision: Mapped[int] = mapped_column(Integer, default=1)
    gauge_set: Mapped[Json | None] = mapped_column(JSON)
    # Raised by the database's own triggers with every change of what a result rests on.
    changed: Mapped[int] = mapped_column(Integer, default=0, server_default="0")
    removal_id: Mapped[str | None] = mapped_column(String(80), index=True)
    customer_id: Mapped[str | None] = mapped_column(String(80), index=True)
    # A photograph of its plate: the name of its file in the folder beside the database.
    plate_photograph: Mapped[str | None] = mapped_column(String(200))
    valves: Mapped[list["ValveRow"]] = relationship(order_by="ValveRow.position", lazy="selectin")


class CustomerRow(Base):
    """A customer; `data` is what is known of them beside their name."""

    __tablename__ = "customers"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    name: Mapped[str] = mapped_column(String(200))
    data: Mapped[Json] = mapped_column(JSON)


class SheetMappingRow(Base):
    """What the columns of an imported spreadsheet were; by a digest of its heads."""

    __tablename__ = "sheet_mappings"

    digest: Mapped[str] = mapped_column(String(64), primary_key=True)
    data: Mapped[Json] = mapped_column(JSON)


class ValveRow(Base):
    """A valve of an engine; `data` is the record's valve without its id."""

    __tablename__ = "valves"

    engine_id: Mapped[str] = mapped_column(ForeignKey("engines.id"), primary_key=True)
    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    position: Mapped[int] = mapped_column(Integer)
    data: Mapped[Json] = mapped_column(JSON)


class VisitRow(Base):
    """A visit; `data` is what the record's visit has beyond these columns and the tables of its own.

    `gauge_set` is the set of blades used at it, as the set was then; None: the engine's.
    """

    __tablename__ = "visits"
    __table_args__ = (UniqueConstraint("engine_id", "visit_id"),)

    pk: Mapped[int] = mapped_column(Integer, primary_key=True)
    engine_id: Mapped[str] = mapped_column(ForeignKey("engines.id"), index=True)
    visit_id: Mapped[str] = mapped_column(String(80))
    position: Mapped[int] = mapped_column(Integer)
    day: Mapped[date] = mapped_column(Date)
    usage: Mapped[float] = mapped_column(Float)
    data: Mapped[Json] = mapped_column(JSON)
    gauge_set: Mapped[Json | None] = mapped_column(JSON)
    # Another one after every change of the visit and its parts, by the database's own triggers.
    stamp: Mapped[int] = mapped_column(BigInteger, default=lambda: randbits(53), server_default="0")
    removal_id: Mapped[str | None] = mapped_column(String(80), index=True)
    findings: Mapped[list["VisitFindingRow"]] = relationship(order_by="VisitFindingRow.pk")
    readings: Mapped[list["ReadingRow"]] = relationship(order_by="ReadingRow.position")
    settings: Mapped[list["SettingRow"]] = relationship(order_by="SettingRow.position")
    traces: Mapped[list["TraceRow"]] = relationship(order_by="TraceRow.pk")


class VisitFindingRow(Base):
    """One finding of a visit."""

    __tablename__ = "visit_findings"

    pk: Mapped[int] = mapped_column(Integer, primary_key=True)
    visit_pk: Mapped[int] = mapped_column(ForeignKey("visits.pk"), index=True)
    finding: Mapped[str] = mapped_column(String(80))
    data: Mapped[Json] = mapped_column(JSON)


class ReadingRow(Base):
    """One reading of a valve in a phase; its tries stand in their own table."""

    __tablename__ = "readings"

    pk: Mapped[int] = mapped_column(Integer, primary_key=True)
    visit_pk: Mapped[int] = mapped_column(ForeignKey("visits.pk"), index=True)
    position: Mapped[int] = mapped_column(Integer)
    valve: Mapped[str] = mapped_column(String(80))
    phase: Mapped[str] = mapped_column(String(8))
    data: Mapped[Json] = mapped_column(JSON)
    tries: Mapped[list["TryRow"]] = relationship(order_by="TryRow.position")


class TryRow(Base):
    """One answer, under the identifier that the page gave it, so that sending twice stores once."""

    __tablename__ = "tries"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    reading_pk: Mapped[int] = mapped_column(ForeignKey("readings.pk"), index=True)
    position: Mapped[int] = mapped_column(Integer)
    data: Mapped[Json] = mapped_column(JSON)
    noted_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    taken_back_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class SettingRow(Base):
    """One setting of a valve, under the identifier that the page gave it; None: it came with a record."""

    __tablename__ = "settings"
    __table_args__ = (Index("ux_settings_visit_pk_setting_id", "visit_pk", "setting_id", unique=True),)

    pk: Mapped[int] = mapped_column(Integer, primary_key=True)
    visit_pk: Mapped[int] = mapped_column(ForeignKey("visits.pk"), index=True)
    setting_id: Mapped[str | None] = mapped_column(String(80))
    position: Mapped[int] = mapped_column(Integer)
    data: Mapped[Json] = mapped_column(JSON)


class TraceRow(Base):
    """A trace of an instrument, under the identifier that the page gave it."""

    __tablename__ = "traces"
    __table_args__ = (UniqueConstraint("visit_pk", "trace_id"),)

    pk: Mapped[int] = mapped_column(Integer, primary_key=True)
    visit_pk: Mapped[int] = mapped_column(ForeignKey("visits.pk"), index=True)
    trace_id: Mapped[str] = mapped_column(String(80))
    data: Mapped[Json] = mapped_column(JSON)


class CaseRow(Base):
    """A case; `data` is what the record's case has beyond these columns and its findings."""

    __tablename__ = "cases"
    __table_args__ = (UniqueConstraint("engine_id", "case_id"),)

    pk: Mapped[int] = mapped_column(Integer, primary_key=True)
    engine_id: Mapped[str] = mapped_column(ForeignKey("engines.id"), index=True)
    case_id: Mapped[str] = mapped_column(String(80))
    opened: Mapped[date] = mapped_column(Date)
    closed: Mapped[date | None] = mapped_column(Date)
    data: Mapped[Json] = mapped_column(JSON)
    removal_id: Mapped[str | None] = mapped_column(String(80), index=True)
    findings: Mapped[list["CaseFindingRow"]] = relationship(order_by="CaseFindingRow.pk", lazy="selectin")


class CaseFindingRow(Base):
    """One finding of a case."""

    __tablename__ = "case_findings"

    pk: Mapped[int] = mapped_column(Integer, primary_key=True)
    case_pk: Mapped[int] = mapped_column(ForeignKey("cases.pk"), index=True)
    finding: Mapped[str] = mapped_column(String(80))
    data: Mapped[Json] = mapped_column(JSON)


class LessonRow(Base):
    """What a closed case teaches; `brought_from` names the file where it is not a case of this workshop.

    It goes when its case is opened again; `data` is the lesson.
    """

    __tablename__ = "lessons"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    case_pk: Mapped[int | None] = mapped_column(ForeignKey("cases.pk"), unique=True)
    brought_from: Mapped[str | None] = mapped_column(String(200))
    closed: Mapped[date] = mapped_column(Date)
    data: Mapped[Json] = mapped_column(JSON)
    removal_id: Mapped[str | None] = mapped_column(String(80), index=True)


class RemovalRow(Base):
    """An engine, a visit or a case that was deleted with all that hangs on it: its rows name this one.

    `kind`: engine, visit or case; `part_id`: of the visit or case. `name`: what it was called. `person`: who
    deleted it; None: nobody had to say.
    """

    __tablename__ = "removals"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    kind: Mapped[str] = mapped_column(String(12))
    engine_id: Mapped[str] = mapped_column(String(80))
    part_id: Mapped[str | None] = mapped_column(String(80))
    name: Mapped[str] = mapped_column(Text)
    removed_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    person: Mapped[str | None] = mapped_column(String(80))


class NotebookRow(Base):
    """A note of a case, or a photograph with what stands under it.

    `photograph`: the name of its file in the folder beside the database.
    """

    __tablename__ = "case_notebook"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    case_pk: Mapped[int] = mapped_column(ForeignKey("cases.pk"), index=True)
    noted_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    text: Mapped[str] = mapped_column(Text)
    photograph: Mapped[str | None] = mapped_column(String(200))
    media_type: Mapped[str | None] = mapped_column(String(40))
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class VisitPhotographRow(Base):
    """A photograph taken at a visit; the rest as in the notebook of a case. `on_card`: on the job card."""

    __tablename__ = "visit_photographs"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    visit_pk: Mapped[int] = mapped_column(ForeignKey("visits.pk"), index=True)
    noted_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    step: Mapped[str] = mapped_column(String(20))
    valve: Mapped[str | None] = mapped_column(String(80))
    text: Mapped[str] = mapped_column(Text)
    photograph: Mapped[str] = mapped_column(String(200))
    media_type: Mapped[str] = mapped_column(String(40))
    on_card: Mapped[bool] = mapped_column(Boolean)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class PracticeRow(Base):
    """A run on the practice engine: `data` is the engine with its fault, a seed, and what the learner did."""

    __tablename__ = "practice_runs"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    learner: Mapped[str] = mapped_column(String(80), index=True)
    lesson: Mapped[str | None] = mapped_column(String(80))
    begun_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    ended_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    passed: Mapped[bool | None] = mapped_column(Boolean)
    data: Mapped[Json] = mapped_column(JSON)


class ForecastReviewRow(Base):
    """What became of the forecasts of an engine, current while `changed` is the engine's own.

    `digests`: of each visit that `review` covers, with all visits before it.
    """

    __tablename__ = "forecast_reviews"

    engine_id: Mapped[str] = mapped_column(ForeignKey("engines.id"), primary_key=True)
    changed: Mapped[int] = mapped_column(Integer)
    model: Mapped[str] = mapped_column(String(64))
    digests: Mapped[list[str]] = mapped_column(JSON)
    review: Mapped[Json] = mapped_column(JSON)


class ResultRow(Base):
    """What was computed of an engine: current while `changed` is the engine's own and `model` the workshop's.

    `model` is a digest of the model's version and everything that it assumes, `digest` one of the engine's
    data and visits, and of what sister engines make expected. `report` is the whole analysis, `timeline` what
    the workshop page shows of it, both JSON. `summary`: what the engine's own record says for its sisters;
    `priors`: what theirs made expected of it.
    """

    __tablename__ = "results"

    engine_id: Mapped[str] = mapped_column(ForeignKey("engines.id"), primary_key=True)
    changed: Mapped[int] = mapped_column(Integer)
    model: Mapped[str] = mapped_column(String(64))
    digest: Mapped[str] = mapped_column(String(64))
    report: Mapped[str] = mapped_column(Text)
    timeline: Mapped[str] = mapped_column(Text)
    summary: Mapped[Json | None] = mapped_column(JSON)
    priors: Mapped[list[Any] | None] = mapped_column(JSON)


class BladeSetRow(Base):
    """A set of blades of the workshop; `data` is the record's gauge set without its id."""

    __tablename__ = "blade_sets"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    data: Mapped[Json] = mapped_column(JSON)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class ShimRow(Base):
    """Shims of one thickness and diameter in the workshop's box."""

    __tablename__ = "shim_box"
    __table_args__ = (UniqueConstraint("shim_mm", "diameter_mm"), CheckConstraint("count >= 0"))

    pk: Mapped[int] = mapped_column(Integer, primary_key=True)
    shim_mm: Mapped[float] = mapped_column(Float)
    diameter_mm: Mapped[float | None] = mapped_column(Float)
    count: Mapped[int] = mapped_column(Integer)


class WorkshopRow(Base):
    """The workshop's own settings: one row. `calendar_token`: part of the feed's address; None: no feed."""

    __tablename__ = "workshop"

    pk: Mapped[int] = mapped_column(Integer, primary_key=True)
    data: Mapped[Json] = mapped_column(JSON)
    calendar_token: Mapped[str | None] = mapped_column(String(80))


class ClaimRow(Base):
    """An engine that a process is at, until then; of use only where several share the database."""

    __tablename__ = "claims"

    work: Mapped[str] = mapped_column(String(20), primary_key=True)
    engine_id: Mapped[str] = mapped_column(String(80), primary_key=True)
    until: Mapped[datetime] = mapped_column(DateTime(timezone=True))
