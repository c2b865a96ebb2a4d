"""What a backup file holds beside its engines: settings, blade sets, shims, lessons, notebooks."""

from collections.abc import Set as AbstractSet
from dataclasses import dataclass

from pydantic import ValidationError
from sqlalchemy.orm import Session

from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.errors import Refused
from pronostico.record.faults import Fault
from pronostico.record.models import BoxedShim, GaugeSet
from pronostico.services.cases.learning import lesson_from
from pronostico.services.exchange.backup import (
    BLADES,
    CUSTOMERS,
    LESSONS,
    NOTEBOOKS,
    SETTINGS,
    SHIMS,
    VISIT_PHOTOGRAPHS,
    BackupLesson,
    BesideEngine,
    BladeSetsFile,
    CustomerLine,
    CustomersFile,
    LessonsFile,
    NotebookLine,
    NotebooksFile,
    ShimBoxFile,
    VisitPhotographLine,
    VisitPhotographsFile,
)
from pronostico.services.exchange.backup_archive import BackupArchive
from pronostico.store import customers, notebook, photographs, records
from pronostico.store.blade_sets import blade_sets, put_blade_set
from pronostico.store.lessons import KeptLesson, add_lessons, known_lessons
from pronostico.store.notebook import NotebookEntry
from pronostico.store.photographs import VisitPhotograph
from pronostico.store.shim_box import count_of, put_count
from pronostico.store.workshop import put_workshop_data, workshop_data


@dataclass(frozen=True, slots=True)
class Beside:
    """What a file brings, or what of it a workshop has not got."""

    settings: WorkshopSettings | None
    blade_sets: list[GaugeSet]
    shims: list[BoxedShim]
    lessons: list[BackupLesson]
    notebook: list[NotebookLine]
    photographs: list[VisitPhotographLine]
    customers: list[CustomerLine]
    engines: list[BesideEngine]

    @classmethod
    def of(cls, archive: BackupArchive) -> "Beside":
        """All that a file brings.

        Raises:
            Refused: a part of it cannot be read.
        """
        sets = archive.optional(BLADES, BladeSetsFile)
        shims = archive.optional(SHIMS, ShimBoxFile)
        taught = archive.optional(LESSONS, LessonsFile)
        notebooks = archive.optional(NOTEBOOKS, NotebooksFile)
        taken = archive.optional(VISIT_PHOTOGRAPHS, VisitPhotographsFile)
        whose = archive.optional(CUSTOMERS, CustomersFile)
        return cls(
            _settings(archive),
            sets.blade_sets if sets else [],
            shims.shims if shims else [],
            taught.lessons if taught else [],
            notebooks.entries if notebooks else [],
            taken.photographs if taken else [],
            whose.customers if whose else [],
            whose.engines if whose else [],
        )

    def new_to(
        self,
        session: Session,
        brought: AbstractSet[tuple[str, str]] = frozenset(),
        visits: AbstractSet[tuple[str, str]] = frozenset(),
    ) -> "Beside":
        """What a workshop has not got: what is there already stays as it is.

        Args:
            brought: engine and case of the cases that come with it.
            visits: engine and visit of the visits that do.
        """
        sets = {one.id for one in blade_sets(session)}
        lessons = {one.lesson.id: one for one in self.lessons}
        known = known_lessons(session, lessons)
        return Beside(
            None if workshop_data(session) else self.settings,
            [one for one in self.blade_sets if one.id not in sets],
            [one for one in self.shims if count_of(session, one.shim_mm, one.diameter_mm) is None],
            [one for id, one in lessons.items() if id not in known],
            [
                one
                for one in self.notebook
                if not notebook.has_entry(session, one.id)
                and ((one.engine, one.case) in brought or records.has_case(session, one.engine, one.case))
            ],
            [
                one
                for one in self.photographs
                if not photographs.has_photograph(session, one.id)
                and ((one.engine, one.visit) in visits or records.has_visit(session, one.engine, one.visit))
            ],
            [one for one in self.customers if customers.customer(session, one.id) is None],
            self.engines,
        )

    def store(self, session: Session) -> None:
        """Put all of it into the workshop; not committed yet."""
        if self.settings is not None:
            put_workshop_data(session, self.settings.model_dump(mode="json", exclude_defaults=True))
        for blades in self.blade_sets:
            put_blade_set(session, blades)
        for shim in self.shims:
            put_count(session, shim.shim_mm, shim.diameter_mm, shim.count)
        add_lessons(session, [_kept(one) for one in self.lessons])
        for line in self.notebook:
            entry = NotebookEntry(line.id, line.noted_at, line.text, line.photograph, line.media_type)
            notebook.add_entry(session, line.engine, line.case, entry)
        for photo in self.photographs:
            fields = photo.model_dump(exclude={"engine", "visit"})
            photographs.add_photograph(session, photo.engine, photo.visit, VisitPhotograph(**fields))
        for brought in self.customers:
            customers.put_customer(session, brought.id, brought.customer)
        session.flush()
        for one in self.engines:
            _add_to_engine(session, one)


def _add_to_engine(session: Session, one: BesideEngine) -> None:
    """What an engine has not got beside its record; what it has stays."""
    if records.engine_revision(session, one.engine) is None:
        return
    if one.customer is not None and customers.customer_of(session, one.engine) is None:
        known = customers.customer(session, one.customer)
        customers.set_customer(session, one.engine, one.customer if known else None)
    if one.plate_photograph is not None and customers.plate_photograph(session, one.engine) is None:
        customers.set_plate_photograph(session, one.engine, one.plate_photograph)


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
