"""The bin: what was deleted stays in it for 30 days, and is restored whole."""

from dataclasses import asdict
from datetime import datetime, timedelta
from itertools import pairwise
from typing import Literal

from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.errors import AlreadyThere, NotThere, Refused
from pronostico.record.faults import Fault
from pronostico.record.models import Record
from pronostico.services.engines.load import engine_record
from pronostico.services.engines.sisters import refresh_kind
from pronostico.settings import Folders
from pronostico.store import notebook, photographs, records, visits
from pronostico.store import removals as store
from pronostico.store.audit import ACTING
from pronostico.store.kinds import folded
from pronostico.store.recordings import files_of_removed, others_with_file
from pronostico.store.removals import Kind, Removal, RemovedPage

KEPT = timedelta(days=30)


class HoldsOut(ReportModel):
    """What hangs on something: how many there are of each."""

    visits: int
    readings: int
    answers: int
    adjustments: int
    cases: int
    notes: int
    photographs: int


class BeforeRemovalOut(ReportModel):
    """What would be deleted with something; `cases_resting`: cases that stay, without their visit."""

    name: str
    holds: HoldsOut
    cases_resting: list[str]


class InBinOut(ReportModel):
    """Something in the bin. `until`: deleted for good then; `waits_for`: what has to be restored first."""

    id: str
    kind: Literal["engine", "visit", "case", "note", "photograph"]
    name: str
    removed_at: datetime
    until: datetime
    person: str | None
    holds: HoldsOut | None
    waits_for: str | None


def _checked(session: Session, kind: Kind, engine_id: str, part_id: str | None) -> Record:
    record = engine_record(session, engine_id)
    parts = {"visit": {one.id for one in record.visits}, "case": {one.id for one in record.cases}}
    if kind != "engine" and part_id not in parts[kind]:
        raise NotThere(kind, part_id or "")
    return record


def _name(record: Record, kind: Kind, part_id: str | None) -> str:
    engine = record.engine.name or record.engine.id
    return engine if kind == "engine" else f"{kind} {part_id} of {engine}"


def before_removal(session: Session, kind: Kind, engine_id: str, part_id: str | None) -> BeforeRemovalOut:
    """What hangs on something, told before it is deleted.

    Raises:
        NotThere: there is no such thing.
    """
    record = _checked(session, kind, engine_id, part_id)
    return BeforeRemovalOut(
        name=_name(record, kind, part_id),
        holds=HoldsOut(**asdict(store.holds_of(session, kind, engine_id, part_id))),
        cases_resting=[one.id for one in record.cases if kind == "visit" and one.visit == part_id],
    )


def remove(
    session: Session, removal_id: str, kind: Kind, engine_id: str, part_id: str | None, *, now: datetime
) -> None:
    """Delete an engine, a visit or a case, with all that hangs on it; sent twice it is done once.

    Raises:
        NotThere: there is no such thing.
        AlreadyThere: something else was deleted under that identifier.
    """
    known = store.removal(session, removal_id)
    if known is not None:
        if (known.kind, known.engine_id, known.part_id) == (kind, engine_id, part_id):
            return
        raise AlreadyThere(f"something else was deleted as '{removal_id}'")
    record = _checked(session, kind, engine_id, part_id)
    acting = ACTING.get()
    name = _name(record, kind, part_id)
    person = None if acting is None else acting.person
    store.put_in_bin(session, Removal(removal_id, kind, engine_id, part_id, name, now, person))
    refresh_kind(session, folded(record.engine.known_kind))
    session.commit()


def _waits_for(one: Removal, engines: set[str]) -> str | None:
    return None if one.kind == "engine" or one.engine_id in engines else "the engine"


def _page_name(one: RemovedPage, names: dict[str, str]) -> str:
    text = f" “{one.text[:60]}”" if one.text else ""
    return f"{one.kind}{text} at {one.of_kind} {one.part_id} of {names.get(one.engine_id, one.engine_id)}"


def in_bin(session: Session, *, now: datetime) -> list[InBinOut]:
    """What is in the bin, the last first; what has lain there long enough is not shown any more."""
    names = {id: name for id, name, _ in records.engine_names(session)}
    found = [
        InBinOut(
            id=one.id,
            kind=one.kind,
            name=one.name,
            removed_at=one.removed_at,
            until=one.removed_at + KEPT,
            person=one.person,
            holds=HoldsOut(**asdict(store.holds_of_removal(session, one.id))),
            waits_for=_waits_for(one, set(names)),
        )
        for one in store.removals(session)
    ]
    found += [
        InBinOut(
            id=one.id,
            kind=one.kind,
            name=_page_name(one, names),
            removed_at=one.removed_at,
            until=one.removed_at + KEPT,
            person=None,
            holds=None,
            waits_for=None,
        )
        for one in store.removed_pages(session)
    ]
    return sorted((one for one in found if one.until > now), key=lambda one: one.removed_at, reverse=True)


def restore(session: Session, item_id: str) -> None:
    """Take something out of the bin, whole.

    Raises:
        NotThere: there is nothing of that identifier in the bin.
        Refused: its engine is in the bin, or a visit does not fit between the others any more.
    """
    one = store.removal(session, item_id)
    if one is None:
        found = photographs.restore_photograph(session, item_id) or notebook.restore_entry(session, item_id)
        if not found:
            raise NotThere("thing in the bin", item_id)
        session.commit()
        return
    if one.kind != "engine" and records.engine_revision(session, one.engine_id) is None:
        raise Refused([Fault("$", "its engine is in the bin as well: restore the engine first")])
    store.take_out_of_bin(session, item_id)
    _check_order(session, one)
    engine = engine_record(session, one.engine_id).engine
    refresh_kind(session, folded(engine.known_kind))
    session.commit()


def _check_order(session: Session, one: Removal) -> None:
    """Whether the visits still follow each other by date and by usage."""
    known = visits.load_visits(session, one.engine_id)
    for before, after in pairwise(known):
        if after.date < before.date:
            session.rollback()
            message = (
                f"visit {before.id} ({before.date}, {before.usage:g}) and visit {after.id} ({after.date}, "
                f"{after.usage:g}) contradict each other: correct the date or the usage of the one that is "
                "there, then restore"
            )
            raise Refused([Fault("$", message)])


def delete_for_good(session: Session, item_id: str, *, folders: Folders) -> None:
    """Delete something that is in the bin; it cannot be restored any more.

    Raises:
        NotThere: there is nothing of that identifier in the bin.
    """
    sounds: set[str] = set()
    if store.removal(session, item_id) is not None:
        sounds = files_of_removed(session, item_id)
        files = store.delete_for_good(session, item_id)
    elif any(one.id == item_id for one in store.removed_pages(session)):
        files = store.delete_page_for_good(session, item_id)
    else:
        raise NotThere("thing in the bin", item_id)
    unused = [name for name in sounds if not others_with_file(session, name)]
    session.commit()
    for path in (
        *(folders.photographs / file for file in files),
        *(folders.recordings / name for name in unused),
    ):
        path.unlink(missing_ok=True)


def empty_old(session: Session, *, folders: Folders, now: datetime) -> int:
    """Delete for good what has lain in the bin for longer than `KEPT`; how many things that were."""
    old = [one.id for one in store.removals(session) if one.removed_at + KEPT <= now]
    old += [one.id for one in store.removed_pages(session) if one.removed_at + KEPT <= now]
    for item_id in old:
        # An engine takes with it what was deleted of it before.
        try:
            delete_for_good(session, item_id, folders=folders)
        except NotThere:
            continue
    return len(old)
