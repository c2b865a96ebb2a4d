"""The visits of an engine out of their tables; one that did not change is neither read nor checked again."""

from collections import OrderedDict, defaultdict
from collections.abc import Iterator, Sequence
from threading import Lock
from typing import Any

from sqlalchemy import BindParameter, Select, bindparam, select
from sqlalchemy.orm import Mapped, Session

from pronostico.record.visit import VisitModel
from pronostico.store.tables import Json, ReadingRow, SettingRow, TraceRow, TryRow, VisitFindingRow, VisitRow

_OfVisit = ReadingRow | SettingRow | TraceRow | VisitFindingRow
_MOST_PARTS = 50_000
"""Of all visits kept; a part takes about 800 bytes."""
_AT_ONCE = 500
"""Visits read with one statement; a database takes only so many values in one."""


class _Kept:
    """Visits by their stamps, of which no two states of any visit have the same; the last used stay."""

    def __init__(self) -> None:
        self._visits: OrderedDict[int, tuple[VisitModel, int]] = OrderedDict()
        self._parts = 0
        # Requests are answered on several threads.
        self._lock = Lock()

    def get(self, stamp: int) -> VisitModel | None:
        with self._lock:
            if stamp not in self._visits:
                return None
            self._visits.move_to_end(stamp)
            return self._visits[stamp][0]

    def put(self, stamp: int, visit: VisitModel) -> None:
        parts = _parts_of(visit)
        with self._lock:
            _, before = self._visits.pop(stamp, (None, 0))
            self._visits[stamp] = (visit, parts)
            self._parts += parts - before
            while self._parts > _MOST_PARTS:
                _, (_, gone) = self._visits.popitem(last=False)
                self._parts -= gone


_kept = _Kept()


def _parts_of(visit: VisitModel) -> int:
    """How many models a visit is made of, about."""
    tries = sum(len(reading.tries) for reading in visit.readings)
    # A sample is a list of a few figures, and takes about a quarter of what a model takes.
    traces = sum(1 + len(trace.samples) // 4 for trace in visit.traces)
    return 1 + len(visit.readings) + tries + len(visit.settings) + len(visit.findings) + traces


# Statements that every answer runs are built once: to build one takes longer than to run it.
_WANTED: BindParameter[list[int]] = bindparam("wanted", expanding=True)


def _parts(row: type[_OfVisit], order: Mapped[int], *columns: Mapped[Any]) -> Select[Any]:
    """Columns of a table of visits' parts, in order, each after the key of its visit."""
    return select(row.visit_pk, *columns).where(row.visit_pk.in_(_WANTED)).order_by(order)


_STAMPS = (
    select(VisitRow.pk, VisitRow.stamp)
    .where(VisitRow.engine_id == bindparam("engine"))
    .order_by(VisitRow.position)
)
_VISITS = select(VisitRow.pk, VisitRow.visit_id, VisitRow.day, VisitRow.usage, VisitRow.data).where(
    VisitRow.pk.in_(_WANTED)
)
_READINGS = _parts(
    ReadingRow, ReadingRow.position, ReadingRow.pk, ReadingRow.valve, ReadingRow.phase, ReadingRow.data
)
_STANDING_TRIES = (
    select(TryRow.reading_pk, TryRow.data)
    .join(ReadingRow, ReadingRow.pk == TryRow.reading_pk)
    .where(ReadingRow.visit_pk.in_(_WANTED), TryRow.taken_back_at.is_(None))
    .order_by(TryRow.position)
)
_SETTINGS = _parts(SettingRow, SettingRow.position, SettingRow.setting_id, SettingRow.data)
_TRACES = _parts(TraceRow, TraceRow.pk, TraceRow.trace_id, TraceRow.data)
_FINDINGS = _parts(VisitFindingRow, VisitFindingRow.pk, VisitFindingRow.data)


def _by_visit(session: Session, parts: Select[Any], wanted: Sequence[int]) -> dict[int, list[Any]]:
    """What a statement of parts finds, by the visit that each is of."""
    found: dict[int, list[Any]] = defaultdict(list)
    for visit_pk, *values in session.execute(parts, {"wanted": wanted}):
        found[visit_pk].append(values)
    return found


def _readings(session: Session, wanted: Sequence[int]) -> dict[int, list[Json]]:
    tries: dict[int, list[Json]] = defaultdict(list)
    for reading_pk, data in session.execute(_STANDING_TRIES, {"wanted": wanted}):
        tries[reading_pk].append(data)
    # A reading whose only tries were taken back is as if never begun.
    return {
        visit_pk: [
            {**data, "valve": valve, "phase": phase, "tries": tries[pk]}
            for pk, valve, phase, data in readings
            if tries[pk] or data.get("skipped")
        ]
        for visit_pk, readings in _by_visit(session, _READINGS, wanted).items()
    }


def _documents(session: Session, wanted: Sequence[int]) -> Iterator[tuple[int, Json]]:
    """Visits as the record has them, each with its key."""
    readings = _readings(session, wanted)
    settings, traces, findings = (
        _by_visit(session, parts, wanted) for parts in (_SETTINGS, _TRACES, _FINDINGS)
    )
    for pk, visit_id, day, usage, data in session.execute(_VISITS, {"wanted": wanted}):
        yield (
            pk,
            {
                **data,
                "id": visit_id,
                "date": day.isoformat(),
                "usage": usage,
                "readings": readings.get(pk, []),
                "settings": [{**setting, "id": id} for id, setting in settings.get(pk, ())],
                "traces": [{**trace, "id": id} for id, trace in traces.get(pk, ())],
                "findings": [finding for (finding,) in findings.get(pk, ())],
            },
        )


def has_one_visit(session: Session) -> bool:
    """Whether the workshop has had a single visit so far."""
    return len(session.scalars(select(VisitRow.pk).limit(2)).all()) == 1


def load_visits(session: Session, engine_id: str) -> list[VisitModel]:
    """The visits of an engine, in order; shared between those who ask, and therefore never changed."""
    stamps = dict(session.execute(_STAMPS, {"engine": engine_id}).all())
    found = {pk: _kept.get(stamp) for pk, stamp in stamps.items()}
    missing = [pk for pk, visit in found.items() if visit is None]
    for start in range(0, len(missing), _AT_ONCE):
        for pk, document in _documents(session, missing[start : start + _AT_ONCE]):
            found[pk] = visit = VisitModel.model_validate(document)
            _kept.put(stamps[pk], visit)
    return [visit for visit in found.values() if visit is not None]
