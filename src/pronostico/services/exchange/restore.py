"""Taking a backup file in: read with care, held against the workshop, and stored as a whole or not at all."""

import hashlib
import shutil
import tempfile
from collections.abc import Iterator
from datetime import date, datetime
from pathlib import Path

from pydantic import ValidationError
from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.errors import Refused
from pronostico.knowledge.in_use import knowledge_from
from pronostico.record.faults import Fault
from pronostico.record.reading_in import NotARecord, read_record
from pronostico.services.cases.learning import lesson_from
from pronostico.services.cases.pictures import kind_of
from pronostico.services.exchange.backup import (
    BLADES,
    LESSONS,
    NOTEBOOKS,
    SETTINGS,
    SHIMS,
    BackupLesson,
    BladeSetsFile,
    LessonsFile,
    NotebooksFile,
    OnProgress,
    ShimBoxFile,
)
from pronostico.services.exchange.backup_archive import BackupArchive
from pronostico.services.exchange.record_import import HeldRecord, State, held_against, store_held
from pronostico.services.staging import Staged, temporary_folder
from pronostico.store import notebook, records
from pronostico.store.blade_sets import blade_sets, put_blade_set
from pronostico.store.lessons import KeptLesson, add_lessons, known_lessons
from pronostico.store.notebook import NotebookEntry
from pronostico.store.shim_box import count_of, put_count
from pronostico.store.workshop import put_workshop_data, workshop_data


class EngineChangeOut(ReportModel):
    """What would become of one engine; `faults`: why it is refused, each with its place."""

    id: str
    name: str
    file: str
    state: State
    visits: int
    cases: int
    faults: list[str]


class ImportOut(ReportModel):
    """What a backup file would change, or has changed; nothing is stored where anything is refused."""

    engines: list[EngineChangeOut]
    same: int
    blade_sets: int
    shim_sizes: int
    lessons: int
    notebook_entries: int
    photographs: int
    knowledge: list[str]
    knowledge_not_taken: list[str]
    faults: list[str]


def _planned(
    session: Session, archive: BackupArchive, today: date, on_progress: OnProgress | None
) -> Iterator[HeldRecord | str]:
    """Every record held against the workshop; a text: the faults of one that is none."""
    names = list(archive.engines())
    seen: dict[str, str] = {}
    for number, name in enumerate(names, start=1):
        try:
            record = read_record(archive.read(name), today=today)
        except NotARecord as error:
            for fault in error.faults:
                yield f"{name} {fault}"
        else:
            if record.engine.id in seen:
                yield f"{name} $.engine.id: '{record.engine.id}' is in {seen[record.engine.id]} already"
            else:
                seen[record.engine.id] = name
                yield held_against(session, record, name, today)
        if on_progress is not None:
            on_progress(number, len(names))


def _out(one: HeldRecord) -> EngineChangeOut:
    engine = one.record.engine
    return EngineChangeOut(
        id=engine.id,
        name=engine.name or engine.id,
        file=one.file,
        state=one.state,
        visits=len(one.visits),
        cases=len(one.cases),
        faults=one.faults,
    )


def import_backup(
    session: Session,
    path: Path,
    *,
    photographs: Path,
    knowledge: Path,
    today: date,
    now: datetime,
    store: bool,
    leave_out: frozenset[str] = frozenset(),
    on_progress: OnProgress | None = None,
) -> ImportOut:
    """Hold a backup file against the workshop, and store what is new in it.

    Args:
        photographs, knowledge: the folders of both, which need not be there.
        store: store it; else only report what would change.
        leave_out: engines of the file that are passed over.
        on_progress: called after each engine that was compared with the workshop's.

    Raises:
        Refused: the file cannot be read, or (where it is to be stored) anything of it is refused.
    """
    archive = BackupArchive(path)
    try:
        return _import_backup(
            session, archive, photographs, knowledge, today, now, store, leave_out, on_progress
        )
    finally:
        archive.close()


def _import_backup(
    session: Session,
    archive: BackupArchive,
    photographs: Path,
    knowledge: Path,
    today: date,
    now: datetime,
    store: bool,
    leave_out: frozenset[str],
    on_progress: OnProgress | None,
) -> ImportOut:
    engines: list[EngineChangeOut] = []
    faults: list[str] = []
    brought: set[tuple[str, str]] = set()
    same = 0
    for one in _planned(session, archive, today, on_progress):
        if isinstance(one, str):
            faults.append(one)
        elif one.record.engine.id in leave_out:
            continue
        elif one.state == "same":
            same += 1
        else:
            engines.append(_out(one))
            brought.update((one.record.engine.id, case.id) for case in one.cases)
            # Written as it is read, so that a large backup is never in memory; it is kept only as a whole.
            if store and one.state != "refused":
                store_held(session, one, now)
    refused = [f"{one.file} ({one.name}): {fault}" for one in engines for fault in one.faults]
    if store and (faults or refused):
        session.rollback()
        raise Refused([Fault("$", fault) for fault in [*faults, *refused]])
    if not store:
        told_of = _beside(session, archive, photographs, knowledge, brought, None)
        return ImportOut(engines=engines, same=same, faults=faults, **told_of)
    with temporary_folder(photographs.parent) as folder:
        staged = Staged(folder)
        told_of = _beside(session, archive, photographs, knowledge, brought, staged)
        session.commit()
        # Only now: what is not stored leaves no file behind, and what is lost here the next import repairs.
        staged.put_in_place()
    return ImportOut(engines=engines, same=same, faults=faults, **told_of)


def _beside(
    session: Session,
    archive: BackupArchive,
    photographs: Path,
    knowledge: Path,
    brought: set[tuple[str, str]],
    staged: Staged | None,
) -> dict[str, int | list[str]]:
    """Blade sets, shims, settings, lessons, notebooks, photographs: what is there already stays as it is.

    Args:
        brought: engine and case of the cases that the file brings.
        staged: where files wait until all is committed; None: nothing is stored.
    """
    sets = archive.optional(BLADES, BladeSetsFile)
    known_sets = {one.id for one in blade_sets(session)}
    new_sets = [one for one in (sets.blade_sets if sets else []) if one.id not in known_sets]
    shims = archive.optional(SHIMS, ShimBoxFile)
    new_shims = [
        one
        for one in (shims.shims if shims else [])
        if count_of(session, one.shim_mm, one.diameter_mm) is None
    ]
    taught = archive.optional(LESSONS, LessonsFile)
    lessons = {one.lesson.id: one for one in (taught.lessons if taught else [])}
    known = known_lessons(session, lessons)
    new_lessons = [one for id, one in lessons.items() if id not in known]
    notebooks = archive.optional(NOTEBOOKS, NotebooksFile)
    lines = [
        one
        for one in (notebooks.entries if notebooks else [])
        if not notebook.has_entry(session, one.id)
        and ((one.engine, one.case) in brought or records.has_case(session, one.engine, one.case))
    ]
    pictures = _pictures(archive, photographs)
    own_knowledge = _knowledge(archive, knowledge)
    settings = _settings(archive)
    if staged is not None:
        if settings is not None and not workshop_data(session):
            put_workshop_data(session, settings.model_dump(mode="json", exclude_defaults=True))
        for one in new_sets:
            put_blade_set(session, one)
        for shim in new_shims:
            put_count(session, shim.shim_mm, shim.diameter_mm, shim.count)
        add_lessons(session, [_kept(one) for one in new_lessons])
        for line in lines:
            entry = NotebookEntry(line.id, line.noted_at, line.text, line.photograph, line.media_type)
            notebook.add_entry(session, line.engine, line.case, entry)
        for name in pictures:
            staged.add(photographs, Path(name).name, archive.read(name))
        for name in own_knowledge:
            staged.add(knowledge, name, archive.read(f"knowledge/{name}"))
    return {
        "blade_sets": len(new_sets),
        "shim_sizes": len(new_shims),
        "lessons": len(new_lessons),
        "notebook_entries": len(lines),
        "photographs": len(pictures),
        "knowledge": own_knowledge,
        "knowledge_not_taken": [
            name for one in archive.knowledge() if (name := Path(one).name) not in own_knowledge
        ],
    }


def _pictures(archive: BackupArchive, photographs: Path) -> list[str]:
    """The photographs that are not there yet, or are there but not as they were saved.

    Raises:
        Refused: one of them is none.
    """
    listed = {one.path: one.sha256 for one in archive.manifest.files}
    new = [
        name
        for name in archive.photographs()
        if _digest_of(photographs / Path(name).name) != listed.get(name)
    ]
    for name in new:
        try:
            kind_of(archive.read(name))
        except Refused as error:
            raise Refused([Fault(name, fault.message) for fault in error.faults]) from error
    return new


def _digest_of(path: Path) -> str | None:
    """The SHA-256 of a file; None where it is not there."""
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except OSError:
        return None


def _knowledge(archive: BackupArchive, folder: Path) -> list[str]:
    """The knowledge files that the workshop has not got of its own; what it has stays as it is.

    Raises:
        Refused: with them the knowledge could not be used; which file and which line.
    """
    brought = [Path(name).name for name in archive.knowledge()]
    new = [name for name in brought if not (folder / name).exists()]
    if not new:
        return []
    with tempfile.TemporaryDirectory(prefix="pronostico-") as tried:
        for name in new:
            (Path(tried) / name).write_bytes(archive.read(f"knowledge/{name}"))
        for kept in folder.glob("*.toml") if folder.is_dir() else ():
            shutil.copy(kept, Path(tried) / kept.name)
        fault = knowledge_from(Path(tried)).source.fault
    if fault is not None:
        raise Refused([Fault("knowledge", fault)])
    return new


def _settings(archive: BackupArchive) -> WorkshopSettings | None:
    if SETTINGS not in archive.names:
        return None
    try:
        return WorkshopSettings.model_validate_json(archive.read(SETTINGS))
    except ValidationError as error:
        places = (".".join(map(str, one["loc"])) for one in error.errors(include_url=False))
        raise Refused([Fault(f"{SETTINGS} $.{place}", "is not possible") for place in places]) from error


def _kept(one: BackupLesson) -> KeptLesson:
    return KeptLesson(
        one.lesson.id, one.lesson.closed, lesson_from(one.lesson), one.brought_from, one.engine, one.case
    )
