"""What technicians wait for at one server while instruments are traced and a workshop is imported.

Takes some minutes; on its own: `python -m benchmarks.beside`.
"""

import tempfile
import threading
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing, contextmanager
from datetime import date
from http.client import HTTPConnection
from pathlib import Path

from benchmarks.servers import ServerFigures, measured, serving, visits_of
from benchmarks.workshop import fill
from pronostico.services.engines.background import compute_stale
from pronostico.services.exchange.backup import write_backup
from pronostico.settings import folders_of
from pronostico.store.database import Database

_OWN, _IMPORTED, _TECHNICIANS, _TRACES = 60, 500, 50, 16


def _saved(folder: Path) -> Path:
    """Another workshop as one file."""
    path, file = folder / "other" / "other.sqlite", folder / "other.zip"
    fill(path, _IMPORTED, begin=10_000)
    with closing(Database(path)) as database, database.reading() as session:
        write_backup(
            session, file, today=date.today(), folders=folders_of(path.parent), knowledge=folder / "none"
        )
    return file


def _trace(address: str, visit: str, enough: threading.Event) -> None:
    """One instrument after the other, each at a fifth of its speed, until it is enough."""
    path = f"{visit}/instruments/compression/trace?cylinder=1&speed=0.2"
    while not enough.is_set():
        with closing(HTTPConnection(address.removeprefix("http://"), timeout=120)) as asking:
            asking.request("GET", path, headers={"Origin": address})
            answer = asking.getresponse()
            assert answer.status == 200, answer.read()
            while not enough.is_set() and answer.readline():
                pass


def _import(address: str, file: Path, took: list[float]) -> None:
    headers = {"Origin": address, "Content-Type": "application/zip"}
    started = time.perf_counter()
    with closing(HTTPConnection(address.removeprefix("http://"), timeout=600)) as asking:
        asking.request("POST", "/api/backup", file.read_bytes(), headers)
        answer = asking.getresponse()
        assert answer.status == 200, answer.read()
    took.append(time.perf_counter() - started)


@contextmanager
def _traced(address: str, visits: list[str]) -> Iterator[None]:
    enough = threading.Event()
    with ThreadPoolExecutor(_TRACES) as streams:
        running = [streams.submit(_trace, address, visit, enough) for visit in visits[:_TRACES]]
        try:
            yield
        finally:
            enough.set()
        for one in running:
            one.result()


def rows() -> Iterator[ServerFigures]:
    """With nothing beside, with traces, and with traces and an import."""
    with tempfile.TemporaryDirectory(prefix="pronostico-bench-") as name:
        folder = Path(name)
        path = folder / "own" / "own.sqlite"
        fill(path, _OWN)
        with closing(Database(path)) as database:
            compute_stale(database, processes=2)
        file, visits = _saved(folder), visits_of(path, _TECHNICIANS)
        with serving(path, None, 1) as addresses:
            (address,) = addresses
            yield measured("nothing beside", addresses, visits)
            with _traced(address, visits):
                yield measured(f"{_TRACES} traces", addresses, visits)
                took: list[float] = []
                importing = threading.Thread(target=_import, args=(address, file, took))
                importing.start()
                yield measured(f"{_TRACES} traces and an import", addresses, visits)
                importing.join()
                print(f"the import of {_IMPORTED} engines took {took[0]:.0f} s")


if __name__ == "__main__":
    for figures in rows():
        print(figures, flush=True)
