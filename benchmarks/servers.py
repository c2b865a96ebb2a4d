"""Many technicians at once over a large workshop: on a SQLite file, and on a PostgreSQL server.

Takes some minutes, and Debian's `postgresql`; on its own: `python -m benchmarks.servers 10000 50`.
"""

import json
import sqlite3
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, closing, contextmanager
from dataclasses import dataclass
from http.client import HTTPConnection
from pathlib import Path
from signal import SIGTERM
from uuid import uuid4

import numpy as np
from tests import postgresql, served

from benchmarks.workshop import fill
from pronostico.services.engines.background import compute_stale
from pronostico.services.exchange.moving import move
from pronostico.store.database import Database
from pronostico.store.moving import TABLES, counted_columns

_DIFFERENT = 40
_SECONDS = 60.0
# A technician tries a blade in six seconds or so; the workshop page is looked at now and then.
_PAUSE_S = 6.0
_PAGE_EVERY = 10


@dataclass(frozen=True, slots=True)
class ServerFigures:
    """Milliseconds of an answer that was stored, and of the workshop page; how many there were and failed."""

    where: str
    answers: int
    failed: int
    answer_median_ms: float
    answer_p95_ms: float
    page_median_ms: float
    page_p95_ms: float


def _multiply(path: Path, times: int) -> None:
    """The engines of a file with all that was computed of them, again and again under other names."""
    with closing(sqlite3.connect(path)) as database, database:
        database.execute("PRAGMA defer_foreign_keys = ON")
        highest = {
            one.name: database.execute(f'SELECT coalesce(max(pk), 0) FROM "{one.name}"').fetchone()[0]
            for one in TABLES
            if "pk" in one.columns
        }
        named = {"engines": ("id", "name"), "tries": ("id",)}
        names = {one.name: ", ".join(f'"{column.name}"' for column in one.columns) for one in TABLES}
        own = {
            name: database.execute(f'SELECT {columns} FROM "{name}"').fetchall()
            for name, columns in names.items()
        }
        for copy in range(1, times):
            # Engines after what belongs to them: nothing is counted as changed.
            for table in reversed(TABLES):
                counted, columns = counted_columns(table), [column.name for column in table.columns]
                suffixed = {"engine_id", *named.get(table.name, ())}
                if table.name in ("workshop", "blade_sets", "shim_box"):
                    continue
                rows = [
                    [
                        value + copy * highest[counted[name]]
                        if name in counted and value is not None
                        else f"{value}-{copy}"
                        if name in suffixed and value is not None
                        else value
                        for name, value in zip(columns, row, strict=True)
                    ]
                    for row in own[table.name]
                ]
                marks = ", ".join("?" * len(columns))
                database.executemany(
                    f'INSERT INTO "{table.name}" ({names[table.name]}) VALUES ({marks})', rows
                )


def _ask(address: str, method: str, path: str, body: object = None) -> bool:
    """Whether a request is answered with 200."""
    headers = {"Origin": address, "Content-Type": "application/json"}
    # Not by a client that reads in small pieces: it would take longer than the server.
    with closing(HTTPConnection(address.removeprefix("http://"), timeout=120)) as asking:
        asking.request(method, path, None if body is None else json.dumps(body), headers)
        answer = asking.getresponse()
        answer.read()
        return answer.status == 200


def _technician(
    address: str, number: int, visit: str, until: float, told: Callable[[str, float, bool], None]
) -> None:
    """Measures at an engine of its own, and looks at the workshop page now and then."""
    rng = np.random.default_rng(number)
    done = 0
    time.sleep(rng.uniform(0, _PAUSE_S))
    while time.monotonic() < until:
        done += 1
        started = time.perf_counter()
        if done % _PAGE_EVERY == number % _PAGE_EVERY:
            ok, what = _ask(address, "GET", "/api/workshop"), "page"
        else:
            body = {"valve": "1E", "phase": "left", "blades_mm": [0.1 + done / 1000], "felt": "free"}
            ok, what = _ask(address, "PUT", f"{visit}/tries/{uuid4()}", body), "answer"
        told(what, (time.perf_counter() - started) * 1000.0, ok)
        time.sleep(rng.uniform(0.5, 1.5) * _PAUSE_S)


def visits_of(path: Path, people: int) -> list[str]:
    """The last visit of so many engines."""
    with closing(sqlite3.connect(path)) as database:
        rows = database.execute(
            "SELECT engine_id, visit_id FROM visits v WHERE position ="
            " (SELECT max(position) FROM visits w WHERE w.engine_id = v.engine_id)"
            " ORDER BY engine_id LIMIT ?",
            (people,),
        ).fetchall()
    return [f"/api/engines/{engine}/visits/{visit}" for engine, visit in rows]


def measured(where: str, addresses: list[str], visits: list[str]) -> ServerFigures:
    """What technicians wait for in a minute, each at a visit of its own."""
    taken: dict[str, list[float]] = {"answer": [], "page": []}
    failed, lock = [], threading.Lock()

    def told(what: str, ms: float, ok: bool) -> None:
        with lock:
            taken[what].append(ms)
            if not ok:
                failed.append(what)

    for address in addresses:
        _ask(address, "GET", "/api/workshop")
    with ThreadPoolExecutor(len(visits)) as people:
        # Nobody opens fifty visits in one second.
        for number, visit in enumerate(visits):
            _ask(addresses[number % len(addresses)], "GET", visit)
        until = time.monotonic() + _SECONDS
        at_work = [
            people.submit(_technician, addresses[number % len(addresses)], number, visit, until, told)
            for number, visit in enumerate(visits)
        ]
        for one in at_work:
            one.result()
    quantiles = [float(np.quantile(taken[what], q)) for what in ("answer", "page") for q in (0.5, 0.95)]
    return ServerFigures(where, len(taken["answer"]), len(failed), *quantiles)


@contextmanager
def serving(path: Path, address: str | None, processes: int) -> Iterator[list[str]]:
    """Some processes of the application on one database; where each is."""
    with ExitStack() as stack:
        addresses = []
        for _ in range(processes):
            port = served.free_port()
            server = served.start(path, port, address=address)
            stack.callback(served.end, server, SIGTERM)
            addresses.append(f"http://127.0.0.1:{port}")
        yield addresses


def rows(engines: int = 10_000, technicians: int = 50) -> Iterator[ServerFigures]:
    """SQLite, then PostgreSQL with one process of the application, then with two."""
    with tempfile.TemporaryDirectory(prefix="pronostico-bench-") as folder:
        path = Path(folder) / "w.sqlite"
        fill(path, _DIFFERENT)
        with closing(Database(path)) as database:
            compute_stale(database, processes=2)
        _multiply(path, engines // _DIFFERENT)
        visits = visits_of(path, technicians)
        with postgresql.running(durable=True) as server:
            address = server.database()
            started = time.perf_counter()
            count = sum(move(path, None, address).values())
            print(f"moved {count} rows in {time.perf_counter() - started:.0f} s", file=sys.stderr)
            with serving(path, None, 1) as one:
                yield measured("SQLite", one, visits)
            for processes in (1, 2):
                with serving(path, address, processes) as some:
                    yield measured(f"PostgreSQL, {processes}", some, visits)


if __name__ == "__main__":
    for figures in rows(*map(int, sys.argv[1:])):
        print(figures)
