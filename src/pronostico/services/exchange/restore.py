"""Importing a backup file: compared with the workshop, prepared aside, then put in as a whole or not at all.

Only the last step holds up others who save something meanwhile, and it is short.
"""

import hashlib
import shutil
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, datetime
from functools import partial
from pathlib import Path

from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.errors import Refused, Stale
from pronostico.knowledge.in_use import knowledge_from
from pronostico.language import Text
from pronostico.limits import ARCHIVE_HERE_BYTES
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.reading_in import NotARecord, read_record
from pronostico.services.apart import OnProgress, run_apart
from pronostico.services.engines.sisters import put_among_sisters
from pronostico.services.exchange.backup_archive import BackupArchive
from pronostico.services.exchange.beside import Beside
from pronostico.services.exchange.record_import import HeldRecord, State, held_against
from pronostico.services.pictures import check_picture
from pronostico.services.staging import StagedFiles, temporary_folder
from pronostico.settings import Folders
from pronostico.store.database import Database
from pronostico.store.staging import ChangedMeanwhile, StagedRows, Staging, put_in

# How often a file is compared again where somebody changed an engine of it meanwhile.
_ATTEMPTS = 3


class EngineChangeOut(ReportModel):
    """What would become of one engine; `faults`: why it is refused, each with its place."""

    id: str
    name: str
    file: str
    state: State
    visits: int
    cases: int
    faults: list[Text]


class ImportOut(ReportModel):
    """What a backup file would change, or has changed; nothing is stored where anything is refused."""

    engines: list[EngineChangeOut]
    same: int
    blade_sets: int
    shim_sizes: int
    lessons: int
    notebook_entries: int
    customers: int
    photographs: int
    recordings: int
    knowledge: list[str]
    knowledge_not_taken: list[str]
    faults: list[Text]


@dataclass(frozen=True, slots=True)
class BackupImport:
    """A backup file and the workshop that it is for.

    `folders`, `knowledge`: where the files are to be; no folder need be there. `today`: dates after it are
    faults. `leave_out`: engines of the file that are passed over.
    """

    file: Path
    folders: Folders
    knowledge: Path
    today: date
    now: datetime
    leave_out: frozenset[str] = frozenset()


@dataclass(slots=True)
class _Prepared:
    """What came of comparing a file, and what is to be put in; nothing of it where it was only looked at.

    `engines`: the data of engines that are in the workshop already, as the file has them.
    """

    report: ImportOut
    beside: Beside
    files: StagedFiles | None = None
    rows: StagedRows | None = None
    engines: list[EngineModel] = field(default_factory=list)


def _no_progress(_done: int, _total: int) -> None:
    return


def _planned(
    session: Session, archive: BackupArchive, today: date, on_progress: OnProgress
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


class _Preparation:
    """Engines of a file, one after another: reported, and their rows made where they are to be stored."""

    def __init__(self, session: Session, task: BackupImport, folder: Path | None) -> None:
        self._session, self._task = session, task
        self._staging = None if folder is None else Staging(folder / "rows.sqlite")
        self.engines: list[EngineChangeOut] = []
        self.faults: list[str] = []
        self.brought_cases: set[tuple[str, str]] = set()
        self.brought_visits: set[tuple[str, str]] = set()
        self.same = 0
        self.changed: list[EngineModel] = []

    def take(self, one: HeldRecord | str) -> None:
        """A record that was compared with the workshop's, or what is wrong with it."""
        if isinstance(one, str):
            self.faults.append(one)
        elif one.record.engine.id in self._task.leave_out:
            return
        elif one.state == "same":
            self.same += 1
        else:
            self.engines.append(_out(one))
            id = one.record.engine.id
            self.brought_cases.update((id, case.id) for case in one.cases)
            self.brought_visits.update((id, visit.id) for visit in one.visits)
            if one.state != "refused" and self._staging is not None:
                self._stage(one, self._staging)

    def _stage(self, one: HeldRecord, staging: Staging) -> None:
        engine = one.record.engine
        if one.state == "new":
            staging.new_engine(one.record, now=self._task.now)
        else:
            staging.add_to_engine(self._session, engine.id, one.visits, one.cases, now=self._task.now)
            self.changed.append(engine)

    def rows(self) -> StagedRows | None:
        """Finish the rows.

        Raises:
            Refused: anything of the file is.
        """
        if self._staging is None:
            return None
        rows = self._staging.close()
        refused = [f"{one.file} ({one.name}): {fault}" for one in self.engines for fault in one.faults]
        if self.faults or refused:
            raise Refused([Fault("$", fault) for fault in [*self.faults, *refused]])
        return rows


def _prepare(
    path: Path,
    address: str | None,
    task: BackupImport,
    folder: Path | None,
    on_progress: OnProgress = _no_progress,
) -> _Prepared:
    """Compare a file with a workshop.

    Args:
        path, address: of the workshop's database.
        folder: where to prepare what is to be put in; None: the file is only looked at.

    Raises:
        Refused: it cannot be read, or (where it is to be stored) anything of it is refused.
    """
    archive, opened = BackupArchive(task.file), Database(path, address)
    try:
        with opened.reading() as session:
            preparation = _Preparation(session, task, folder)
            for one in _planned(session, archive, task.today, on_progress):
                preparation.take(one)
            rows = preparation.rows()
            beside = Beside.of(archive).new_to(session, preparation.brought_cases, preparation.brought_visits)
        pictures, knowledge = _pictures(archive, task.folders), _knowledge(archive, task.knowledge)
        sounds = _sounds(archive, task.folders.recordings)
        files = None
        if folder is not None:
            files = StagedFiles(folder)
            for name in pictures:
                files.add(task.folders.photographs, Path(name).name, archive.read(name))
            for name in sounds:
                files.add(task.folders.recordings, Path(name).name, archive.read(name))
            for name in knowledge:
                files.add(task.knowledge, name, archive.read(f"knowledge/{name}"))
        report = ImportOut(
            engines=preparation.engines,
            same=preparation.same,
            blade_sets=len(beside.blade_sets),
            shim_sizes=len(beside.shims),
            lessons=len(beside.lessons),
            notebook_entries=len(beside.notebook),
            customers=len(beside.customers),
            photographs=len(pictures),
            recordings=len(sounds),
            knowledge=knowledge,
            knowledge_not_taken=[
                name for one in archive.knowledge() if (name := Path(one).name) not in knowledge
            ],
            faults=preparation.faults,
        )
        return _Prepared(report, beside, files, rows, preparation.changed)
    finally:
        opened.close()
        archive.close()


def _prepared(
    database: Database, task: BackupImport, folder: Path | None, on_progress: OnProgress
) -> _Prepared:
    """The same; a large file is read where it can do no harm."""
    archive = BackupArchive(task.file)
    archive.close()
    if archive.unpacked_bytes <= ARCHIVE_HERE_BYTES:
        return _prepare(database.path, database.address, task, folder, on_progress)
    return run_apart(
        partial(_prepare, database.path, database.address, task, folder), on_progress=on_progress
    )


def preview_backup(
    database: Database, task: BackupImport, on_progress: OnProgress = _no_progress
) -> ImportOut:
    """What a backup file would change; nothing is stored.

    Args:
        on_progress: called after each engine that was compared with the workshop's.

    Raises:
        Refused: the file cannot be read.
    """
    return _prepared(database, task, None, on_progress).report


def import_backup(
    database: Database, task: BackupImport, on_progress: OnProgress = _no_progress
) -> ImportOut:
    """Import a backup file: all of it at once, or nothing.

    Args:
        on_progress: called after each engine that was compared with the workshop's.

    Raises:
        Refused: the file cannot be read, or anything of it is refused.
        Stale: engines of it were changed again and again meanwhile.
    """
    for _ in range(_ATTEMPTS):
        with temporary_folder(task.folders.photographs.parent) as folder:
            prepared = _prepared(database, task, folder, on_progress)
            try:
                _put_in(database, prepared)
            except ChangedMeanwhile:
                continue
            return prepared.report
    raise Stale([Fault("$", "engines of the file are being worked on; import it again when they are not")])


def _put_in(database: Database, prepared: _Prepared) -> None:
    assert prepared.rows is not None
    assert prepared.files is not None
    with put_in(database, prepared.rows) as session:
        for engine in prepared.engines:
            put_among_sisters(session, engine)
        prepared.beside.new_to(session).store(session)
        session.commit()
    # Only now: what is not stored leaves no file behind, and what is lost here the next import repairs.
    prepared.files.put_in_place()


def _pictures(archive: BackupArchive, folders: Folders) -> list[str]:
    """The photographs that are not there yet, or are there but not as they were saved.

    Raises:
        Refused: one of them is none.
    """
    listed = {one.path: one.sha256 for one in archive.manifest.files}
    new = [
        name
        for name in archive.photographs()
        if _digest_of(folders.photographs / Path(name).name) != listed.get(name)
    ]
    for name in new:
        try:
            check_picture(archive.read(name))
        except Refused as error:
            raise Refused([Fault(name, fault.message) for fault in error.faults]) from error
    return new


def _sounds(archive: BackupArchive, recordings: Path) -> list[str]:
    """The sound recordings that are not there yet, or are there but not as they were saved.

    Raises:
        Refused: one of them is none, or not the one that its name says.
    """
    new = []
    for name in archive.recordings():
        digest = Path(name).stem
        if _digest_of(recordings / Path(name).name) == digest:
            continue
        content = archive.read(name)
        if hashlib.sha256(content).hexdigest() != digest or not content.startswith(b"fLaC"):
            raise Refused([Fault(name, "must be a FLAC file that is named by its SHA-256")])
        new.append(name)
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
