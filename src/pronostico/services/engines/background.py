"""Computes what has no current result, in the background, and says how far it is."""

import logging
import threading
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import FIRST_COMPLETED, Future, wait
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass
from functools import partial

from pronostico.core.engine import SidePriors
from pronostico.errors import NotThere
from pronostico.services.engines.load import engine_record
from pronostico.services.engines.results import compute_document, data_digest, model_digest
from pronostico.services.engines.sisters import refresh_kind
from pronostico.services.engines.workers import Workers
from pronostico.services.settings import workshop_settings
from pronostico.store.claims import claimed, release
from pronostico.store.database import Database
from pronostico.store.results import Result, changes_of, put_result, result_of_data, stale_engines

_LOG = logging.getLogger("pronostico.background")

# Fewer than this are done sooner here than other processes have started.
_FEW = 12
# How many are handed out ahead to each process.
_AHEAD = 3
# What changes while it runs is found by another turn; so many, and the next asking goes on.
_TURNS = 3


Stale = tuple[str, int]
"""An engine without a current result, and how often it was changed."""


@dataclass(frozen=True, slots=True)
class Progress:
    """How far a computation is; `failed`: engines that could not be computed as they are."""

    done: int
    total: int
    failed: frozenset[Stale] = frozenset()


@dataclass(frozen=True, slots=True)
class _Task:
    engine_id: str
    changed: int
    digest: str
    document: str
    priors: SidePriors
    known: Result | None


class _Book:
    """What is to be computed, read from the database and written back to it."""

    def __init__(self, database: Database) -> None:
        self.database = database
        with database.reading() as session:
            settings = workshop_settings(session)
            self.workshop = settings.model_dump_json()
            self.model = model_digest(settings)
            self.stale = stale_engines(session, self.model)
        self.moved: set[str] = set()

    def task(self, engine_id: str) -> _Task | None:
        """What there is to do for an engine; None where it is gone."""
        with self.database.reading() as session:
            changed = changes_of(session, engine_id)
            try:
                record = engine_record(session, engine_id)
            except NotThere:
                return None
            digest = data_digest(record)
            known = result_of_data(session, engine_id, self.model, digest)
        document = record.model_dump_json(exclude_none=True)
        return _Task(engine_id, changed or 0, digest, document, record.engine.side_priors, known)

    def keep(self, task: _Task, result: Result) -> None:
        """Write a result down."""
        with self.database.writing() as session:
            moved = put_result(
                session,
                task.engine_id,
                result,
                changed=task.changed,
                model=self.model,
                digest=task.digest,
            )
            if self.database.shared:
                release(session, "results", [task.engine_id])
            session.commit()
        if moved is not None:
            self.moved.add(moved)

    def refresh_kinds(self) -> list[Stale]:
        """The engines to compute again, since their sisters make something else expected of them now."""
        moved: list[Stale] = []
        for kind in self.moved:
            with self.database.writing() as session:
                engine_ids = refresh_kind(session, kind)
                moved += [(one, changes_of(session, one) or 0) for one in engine_ids]
                session.commit()
        self.moved.clear()
        return moved


class _Count:
    """How far it is, reported after each engine."""

    def __init__(self, book: _Book, stale: list[Stale], on_progress: Callable[[Progress], None]) -> None:
        self.book, self.stale, self.on_progress = book, stale, on_progress
        self.total, self.done = len(stale), 0
        self.failed: set[Stale] = set()
        on_progress(self.progress)

    def go_on(self, stale: list[Stale]) -> None:
        """Some more that are to be computed."""
        self.stale = stale
        self.total += len(stale)

    @property
    def progress(self) -> Progress:
        """So far."""
        return Progress(self.done, self.total, frozenset(self.failed))

    def _one_more(self) -> None:
        self.done += 1
        self.on_progress(self.progress)

    def finish(self, task: _Task, computed: Callable[[], Result]) -> None:
        """Keep what was computed of a task; one that cannot be must not hold up the others."""
        try:
            result = computed()
        except BrokenProcessPool:
            raise
        except Exception:  # whatever it was, it must not hold up the other engines
            _LOG.exception("result could not be computed", extra={"engine": task.engine_id})
            self.failed.add((task.engine_id, task.changed))
        else:
            self.book.keep(task, result)
        self._one_more()

    def open_tasks(self, stopped: Callable[[], bool]) -> Iterator[_Task]:
        """What is left to compute; what needs no computation, or is another's, is dealt with on the way."""
        engine_ids = [engine_id for engine_id, _ in self.stale]
        for engine_id, ours in claimed(self.book.database, "results", engine_ids):
            if stopped():
                return
            task = self.book.task(engine_id) if ours else None
            if task is not None and task.known is None:
                yield task
                continue
            if task is not None and task.known is not None:
                self.book.keep(task, task.known)
            self._one_more()


def compute_stale(
    database: Database,
    *,
    processes: int = 2,
    workers: Workers | None = None,
    on_progress: Callable[[Progress], None] = lambda _: None,
    stopped: Callable[[], bool] = lambda: False,
    hopeless: frozenset[Stale] = frozenset(),
    restarts: int = 1,
) -> Progress:
    """Compute every engine without a current result.

    Args:
        processes: how many at once where there are many.
        workers: processes that are kept from one time to the next; None: begun and ended here.
        on_progress: called after each engine with how far it is.
        stopped: asked before each; True ends it with what is done kept.
        hopeless: engines that failed before, currently.
        restarts: how often processes that were ended from outside are started again.
    """
    book = _Book(database)
    count = _Count(book, [one for one in book.stale if one not in hopeless], on_progress)
    ours = Workers(processes) if workers is None else workers
    try:
        while True:
            if processes < 2 or (len(count.stale) < _FEW and not ours.begun):
                _here(count, stopped)
            else:
                _by_many(count, ours, stopped)
            # What an engine's own record says does not depend on its sisters: there is no third turn.
            moved = book.refresh_kinds()
            if stopped() or not moved:
                return count.progress
            count.go_on(moved)
    except BrokenProcessPool:
        # For want of memory maybe: where it happens again, what is left is done here.
        again = restarts > 0
        what = "others are started" if again else "its work is done by the server"
        _LOG.warning("a computing process was ended from outside; %s", what)
        ours.close()
        return compute_stale(
            database,
            processes=processes if again else 1,
            workers=workers,
            on_progress=on_progress,
            stopped=stopped,
            hopeless=hopeless,
            restarts=restarts - 1,
        )
    finally:
        if workers is None:
            ours.close()


def _here(count: _Count, stopped: Callable[[], bool]) -> None:
    for task in count.open_tasks(stopped):
        count.finish(task, partial(compute_document, task.document, task.priors, count.book.workshop))


def _by_many(count: _Count, workers: Workers, stopped: Callable[[], bool]) -> None:
    pool, waiting = workers.pool(), dict[Future[Result], _Task]()

    def collect(most: int) -> None:
        while len(waiting) > most:
            for future in wait(waiting, return_when=FIRST_COMPLETED).done:
                count.finish(waiting.pop(future), future.result)

    for task in count.open_tasks(stopped):
        waiting[pool.submit(compute_document, task.document, task.priors, count.book.workshop)] = task
        collect(workers.count * _AHEAD)
    collect(0)


class BackgroundAnalysis:
    """Computes in a thread of its own whenever it is asked to, and not twice at once.

    Args:
        workers: the processes that do it where there is much; None: all is done here.
        compute: what is computed, as `compute_stale` does.
    """

    def __init__(
        self,
        database: Database,
        *,
        workers: Workers | None = None,
        compute: Callable[..., Progress] = compute_stale,
    ) -> None:
        self._database, self._workers, self._compute = database, workers, compute
        self._lock = threading.Lock()
        self._thread: threading.Thread | None = None
        self._stop = False
        self._progress = Progress(0, 0)
        self._failed: frozenset[Stale] = frozenset()

    @property
    def failed(self) -> frozenset[str]:
        """Engines that could not be computed."""
        return frozenset(engine_id for engine_id, _ in self._failed)

    @property
    def progress(self) -> Progress | None:
        """How far it is; None where nothing is being computed."""
        running = self._thread is not None and self._thread.is_alive()
        return self._progress if running else None

    def _tell(self, progress: Progress) -> None:
        self._progress = progress

    def _run(self) -> None:
        try:
            self._turns()
        finally:
            if self._workers is not None:
                self._workers.rest()

    def _turns(self) -> None:
        for _ in range(_TURNS):
            progress = self._compute(
                self._database,
                processes=1 if self._workers is None else self._workers.count,
                workers=self._workers,
                on_progress=self._tell,
                stopped=lambda: self._stop,
                hopeless=self._failed,
            )
            self._failed |= progress.failed
            if self._stop or progress.total == 0:
                return

    def ask(self, stale: Iterable[Stale] | None = None) -> None:
        """Begin, where it is not at it already.

        Args:
            stale: what there is to do; what failed currently is let be. None: it is looked up.
        """
        with self._lock:
            hopeless = stale is not None and self._failed.issuperset(stale)
            if self._stop or hopeless or (self._thread is not None and self._thread.is_alive()):
                return
            self._progress = Progress(0, 0)
            self._thread = threading.Thread(target=self._run, name="background", daemon=True)
            self._thread.start()

    def close(self) -> None:
        """End after the current engine."""
        self._stop = True
        if self._thread is not None:
            self._thread.join()
        if self._workers is not None:
            self._workers.close()
