"""A workshop of a thousand engines: computed from nothing by two processes, then asked for again and again.

Run on its own with another number of engines: `python -m benchmarks.workshop 100`.
"""

import sqlite3
import subprocess
import sys
import tempfile
import time
import urllib.request
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, date, datetime
from pathlib import Path

import numpy as np

from benchmarks.fleet import simulated_engine
from pronostico.demo.machine import BENCH_SET, engine_of
from pronostico.record.conversion import model_of_visit
from pronostico.record.models import FORMAT, Record
from pronostico.services.engines.background import compute_stale
from pronostico.services.exchange.backup import write_backup
from pronostico.services.exchange.restore import BackupImport, import_backup
from pronostico.store.database import Database
from pronostico.store.records import add_record

ENGINES, VALVES, VISITS = 1000, 8, 6
_ASKED = 60
_PORT = 8790


@dataclass(frozen=True, slots=True)
class WorkshopFigures:
    """Seconds for the whole workshop; milliseconds of one answer; megabytes of the server that gave it.

    `changed_*`: of the answer after another process has changed an engine. `saving_s`, `taking_in_s`: the
    whole workshop as one file, saved, and imported elsewhere.
    """

    engines: int
    computing_s: float
    median_ms: float
    p95_ms: float
    changed_median_ms: float
    changed_p95_ms: float
    answer_kb: float
    memory_mb: float
    saving_s: float
    taking_in_s: float


def _record(number: int) -> Record:
    _, visits = simulated_engine(VALVES, VISITS, seed=number)
    engine = engine_of("R4-26G", f"e{number}", f"Engine {number:04d}")
    # The simulated valves under the names of the pattern.
    read, own = sorted({one.valve for one in visits[0].readings}), sorted(one.id for one in engine.valves)
    names = dict(zip(read, own, strict=True))
    models = []
    for visit in visits:
        model = model_of_visit(visit)
        readings = [one.model_copy(update={"valve": names[one.valve]}) for one in model.readings]
        settings = [one.model_copy(update={"valve": names[one.valve]}) for one in model.settings]
        models.append(model.model_copy(update={"readings": readings, "settings": settings}))
    return Record(format=FORMAT, version=1, engine=engine, gauge_set=BENCH_SET, visits=models, cases=[])


def fill(path: Path, engines: int, *, begin: int = 0) -> None:
    """Make a workshop of simulated engines, numbered from `begin` on; nothing of it is computed."""
    database, end = Database(path), begin + engines
    for first in range(begin, end, 50):
        with database.writing() as session:
            for number in range(first, min(first + 50, end)):
                add_record(session, _record(number), now=datetime.now(UTC))
            session.commit()
    database.close()


def _memory_mb(pid: int) -> float:
    """Resident memory of a process and the processes it started."""
    children = subprocess.run(["pgrep", "-P", str(pid)], capture_output=True, text=True, check=False)
    total = 0.0
    for one in [pid, *map(int, children.stdout.split())]:
        for line in Path(f"/proc/{one}/status").read_text("utf-8").splitlines():
            if line.startswith("VmRSS"):
                total += float(line.split()[1]) / 1024.0
    return total


def _asked(address: str, *, changing: Path | None = None) -> tuple[list[float], int]:
    times, size = [], 0
    for number in range(_ASKED):
        if changing is not None:
            with closing(sqlite3.connect(changing)) as database, database:
                database.execute("UPDATE engines SET name = name || '!' WHERE id = ?", (f"e{number}",))
        started = time.perf_counter()
        with urllib.request.urlopen(address, timeout=60) as answer:
            size = len(answer.read())
        times.append((time.perf_counter() - started) * 1000.0)
    return times, size


def _out_and_in(path: Path) -> tuple[float, float]:
    """Seconds to save the workshop as one file, and to import it elsewhere."""
    day, elsewhere, file = date(2026, 1, 1), Database(path.with_name("other.sqlite")), path.with_name("s.zip")
    here, folder = Database(path), path.parent
    started = time.perf_counter()
    with here.reading() as session:
        write_backup(session, file, today=day, photographs=folder / "p", knowledge=folder / "k")
    saved = time.perf_counter()
    import_backup(elsewhere, BackupImport(file, folder / "q", folder / "k", day, datetime.now(UTC)))
    done = time.perf_counter()
    here.close()
    elsewhere.close()
    return saved - started, done - saved


def figures(engines: int = ENGINES) -> WorkshopFigures:
    """Fill a workshop, compute it, and ask for it."""
    with tempfile.TemporaryDirectory(prefix="pronostico-bench-") as folder:
        path = Path(folder) / "shop.sqlite"
        fill(path, engines)
        database = Database(path)
        started = time.perf_counter()
        compute_stale(database, processes=2)
        computing_s = time.perf_counter() - started
        database.close()
        saving_s, taking_in_s = _out_and_in(path)
        command = [sys.executable, "-m", "pronostico.cli", "serve", "--database", str(path)]
        with subprocess.Popen([*command, "--port", str(_PORT)], stdout=subprocess.PIPE, text=True) as server:
            assert server.stdout is not None
            address = server.stdout.readline()
            while "http://" not in address:
                address = server.stdout.readline()
            url = address.split(" at ")[1].split()[0] + "api/workshop"
            _asked(url)
            times, size = _asked(url)
            changed, _ = _asked(url, changing=path)
            memory_mb = _memory_mb(server.pid)
            server.terminate()
    return WorkshopFigures(
        engines,
        computing_s,
        float(np.median(times)),
        float(np.quantile(times, 0.95)),
        float(np.median(changed)),
        float(np.quantile(changed, 0.95)),
        size / 1024.0,
        memory_mb,
        saving_s,
        taking_in_s,
    )


if __name__ == "__main__":
    print(figures(int(sys.argv[1]) if len(sys.argv) > 1 else ENGINES))
