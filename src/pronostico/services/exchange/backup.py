"""The whole workshop as one file: a zip of records and of what the workshop has beside them, with a manifest.

Each engine is a record of the open format; blade sets, shim box, settings, lessons, notebooks and customers
are JSON; knowledge files, photographs and sound recordings are as they are. The manifest names every file
with its size and SHA-256.
"""

import hashlib
import json
import re
import zipfile
from collections.abc import Iterator
from dataclasses import asdict
from datetime import date, datetime
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import Field
from sqlalchemy.orm import Session

from pronostico.knowledge.in_use import FILES as KNOWLEDGE_FILES
from pronostico.record.base import Day, Identifier, RecordModel
from pronostico.record.customer import Customer
from pronostico.record.models import BoxedShim, GaugeSet, Record
from pronostico.record.sound import SOUND_FILE
from pronostico.services.apart import OnProgress
from pronostico.services.cases.learning import LessonModel, lesson_model
from pronostico.services.settings import workshop_settings
from pronostico.services.visits.steps import Step
from pronostico.settings import Folders
from pronostico.store import customers, notebook, photographs, records
from pronostico.store.blade_sets import blade_sets
from pronostico.store.lessons import lessons
from pronostico.store.shim_box import shim_box

FORMAT: Literal["pronostico/shop"] = "pronostico/shop"
MANIFEST, BLADES, SHIMS = "manifest.json", "blade-sets.json", "shim-box.json"
SETTINGS, LESSONS, NOTEBOOKS = "settings.json", "lessons.json", "notebooks.json"
VISIT_PHOTOGRAPHS, CUSTOMERS = "visit-photographs.json", "customers.json"
ENGINE_FILE = re.compile(r"^engines/\d{1,6}\.json$")
PHOTOGRAPH_NAME = r"^[A-Za-z0-9._~-]{1,100}\.(jpg|png|webp)$"
PHOTOGRAPH_FILE = re.compile("^photographs/" + PHOTOGRAPH_NAME.removeprefix("^"))
RECORDING_FILE = re.compile("^recordings/" + SOUND_FILE.removeprefix("^"))
KNOWLEDGE_FILE = re.compile(rf"^knowledge/({'|'.join(map(re.escape, KNOWLEDGE_FILES))})$")

"""How many engines are done, of how many."""


class FileEntry(RecordModel):
    """One file of the workshop's: its path within the zip, its bytes, and their digest."""

    path: Annotated[str, Field(max_length=200)]
    bytes: Annotated[int, Field(ge=0)]
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class Manifest(RecordModel):
    """What is in the file."""

    format: Literal["pronostico/shop"]
    version: Literal[1]
    made: Day
    files: Annotated[list[FileEntry], Field(max_length=200_000)]


class BladeSetsFile(RecordModel):
    """The workshop's blade sets."""

    blade_sets: Annotated[list[GaugeSet], Field(max_length=1000)]


class ShimBoxFile(RecordModel):
    """The workshop's box of shims."""

    shims: Annotated[list[BoxedShim], Field(max_length=10_000)]


class BackupLesson(RecordModel):
    """What a closed case taught, and whose case it was: of this workshop, or from which file."""

    lesson: LessonModel
    engine: Identifier | None = None
    case: Identifier | None = None
    brought_from: Annotated[str, Field(max_length=200)] | None = None


class LessonsFile(RecordModel):
    """All lessons of the workshop."""

    lessons: Annotated[list[BackupLesson], Field(max_length=100_000)]


class NotebookLine(RecordModel):
    """A note of a case, or a photograph (its file's name) with what stands under it."""

    engine: Identifier
    case: Identifier
    id: Identifier
    noted_at: Annotated[datetime, Field(strict=False)]
    text: Annotated[str, Field(max_length=10_000)]
    # The name of a file among the photographs, and nothing that leads elsewhere.
    photograph: Annotated[str, Field(pattern=PHOTOGRAPH_NAME)] | None = None
    media_type: Literal["image/jpeg", "image/png", "image/webp"] | None = None


class NotebooksFile(RecordModel):
    """All notebooks."""

    entries: Annotated[list[NotebookLine], Field(max_length=200_000)]


class VisitPhotographLine(RecordModel):
    """A photograph of a visit (its file's name): the step, the valve, what stands under it."""

    engine: Identifier
    visit: Identifier
    id: Identifier
    noted_at: Annotated[datetime, Field(strict=False)]
    step: Step
    valve: Identifier | None = None
    text: Annotated[str, Field(max_length=10_000)]
    photograph: Annotated[str, Field(pattern=PHOTOGRAPH_NAME)]
    media_type: Literal["image/jpeg", "image/png", "image/webp"]
    on_card: bool = False


class VisitPhotographsFile(RecordModel):
    """All photographs of visits."""

    photographs: Annotated[list[VisitPhotographLine], Field(max_length=200_000)]


class CustomerLine(RecordModel):
    """A customer under their identifier."""

    id: Identifier
    customer: Customer


class BesideEngine(RecordModel):
    """What an engine has beside its record: its customer, and a photograph of its plate (its file's name)."""

    engine: Identifier
    customer: Identifier | None = None
    plate_photograph: Annotated[str, Field(pattern=PHOTOGRAPH_NAME)] | None = None


class CustomersFile(RecordModel):
    """All customers, and whose the engines are."""

    customers: Annotated[list[CustomerLine], Field(max_length=200_000)]
    engines: Annotated[list[BesideEngine], Field(max_length=200_000)]


class _Writing:
    """A zip under way, and what the manifest will say of it."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self._archive = archive
        self.entries: list[FileEntry] = []

    def add(self, path: str, content: bytes, *, packed: bool = True) -> None:
        """One file; a photograph is packed already."""
        how = zipfile.ZIP_DEFLATED if packed else zipfile.ZIP_STORED
        self._archive.writestr(path, content, compress_type=how)
        self.entries.append(
            FileEntry(path=path, bytes=len(content), sha256=hashlib.sha256(content).hexdigest())
        )

    def add_json(self, path: str, model: RecordModel) -> None:
        """A model as JSON that people can read."""
        self.add(path, (model.model_dump_json(indent=1, exclude_none=True) + "\n").encode())


def _lessons(session: Session) -> Iterator[BackupLesson]:
    for one in lessons(session):
        yield BackupLesson(
            lesson=lesson_model(one), engine=one.engine, case=one.case, brought_from=one.brought_from
        )


def _notebooks(session: Session, engine_ids: list[str]) -> Iterator[NotebookLine]:
    for engine_id, case_id in notebook.cases_with_notebook(session):
        if engine_id not in engine_ids:
            continue
        for one in notebook.entries(session, engine_id, case_id):
            yield NotebookLine(
                engine=engine_id,
                case=case_id,
                id=one.id,
                noted_at=one.noted_at,
                text=one.text,
                photograph=one.photograph,
                media_type=one.media_type,  # type: ignore[arg-type]  # the store holds none but these
            )


def _visit_photographs(session: Session, engine_ids: list[str]) -> Iterator[VisitPhotographLine]:
    for engine_id, visit_id, one in photographs.all_photographs(session):
        if engine_id in engine_ids:
            yield VisitPhotographLine(engine=engine_id, visit=visit_id, **asdict(one))


def _customers(session: Session) -> CustomersFile:
    lines = [CustomerLine(id=id, customer=one) for id, one in customers.customers(session)]
    plates = customers.plate_photographs(session)
    whose = {
        engine: customer
        for customer, engines in customers.engines_by_customer(session).items()
        for engine, _ in engines
    }
    beside = [
        BesideEngine(engine=engine, customer=whose.get(engine), plate_photograph=plates.get(engine))
        for engine in sorted(whose.keys() | plates.keys())
    ]
    return CustomersFile(customers=lines, engines=beside)


def _sounds(record: Record) -> set[str]:
    """The files of an engine's sound recordings."""
    return {one.file for visit in record.visits for one in visit.recordings if one.file is not None}


def write_backup(
    session: Session,
    path: Path,
    *,
    today: date,
    folders: Folders,
    knowledge: Path,
    on_progress: OnProgress | None = None,
) -> int:
    """Write the whole workshop into a file; how many engines it has.

    Args:
        folders, knowledge: where those files are; none of the folders need be there.
        on_progress: called after each engine with how many are done, of how many.
    """
    names = [id for id, _, _ in records.engine_names(session)]
    sounds: set[str] = set()
    with zipfile.ZipFile(path, "w") as archive:
        writing = _Writing(archive)
        for number, engine_id in enumerate(names, start=1):
            record = records.load_record(session, engine_id)
            assert record is not None
            sounds.update(_sounds(record))
            # The box is the workshop's, and stands in its own file.
            writing.add_json(f"engines/{number:04d}.json", record.model_copy(update={"shim_box": None}))
            session.expunge_all()
            if on_progress is not None:
                on_progress(number, len(names))
        writing.add_json(BLADES, BladeSetsFile(blade_sets=blade_sets(session)))
        writing.add_json(SHIMS, ShimBoxFile(shims=shim_box(session)))
        writing.add_json(LESSONS, LessonsFile(lessons=list(_lessons(session))))
        settings: dict[str, Any] = workshop_settings(session).model_dump(mode="json", exclude_defaults=True)
        writing.add(SETTINGS, (json.dumps(settings, indent=1) + "\n").encode())
        lines = list(_notebooks(session, names))
        writing.add_json(NOTEBOOKS, NotebooksFile(entries=lines))
        taken = list(_visit_photographs(session, names))
        writing.add_json(VISIT_PHOTOGRAPHS, VisitPhotographsFile(photographs=taken))
        kept = _customers(session)
        writing.add_json(CUSTOMERS, kept)
        shown = {one.photograph for one in lines if one.photograph is not None}
        shown |= {one.plate_photograph for one in kept.engines if one.plate_photograph is not None}
        for name in sorted(shown | {one.photograph for one in taken}):
            if (folders.photographs / name).is_file():
                content = (folders.photographs / name).read_bytes()
                writing.add(f"photographs/{name}", content, packed=False)
        for name in sorted(sounds):
            if (folders.recordings / name).is_file():
                content = (folders.recordings / name).read_bytes()
                writing.add(f"recordings/{name}", content, packed=False)
        for name in KNOWLEDGE_FILES:
            if (knowledge / name).is_file():
                writing.add(f"knowledge/{name}", (knowledge / name).read_bytes())
        manifest = Manifest(format=FORMAT, version=1, made=today, files=writing.entries)
        archive.writestr(MANIFEST, manifest.model_dump_json(indent=1), compress_type=zipfile.ZIP_DEFLATED)
    return len(names)
