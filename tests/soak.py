"""Wears a real server out: killed, strained, fed rubbish, its disk full, started twice; says what was lost.

`make soak` runs it for an hour; the tests run it for seconds.
"""

import argparse
import os
import random
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

import httpx2

from pronostico.demo.seed import seed_demo
from pronostico.services.exchange.full_copy import checked_copy, make_copy
from tests.served import end, free_port, start

VISIT = "/api/engines/resurfacer-1/visits/v8"
WRITERS = 6
FIELDS = ("valve", "phase", "blades_mm", "felt", "id", "was", "changes", "engine", "text", "visits", "name")
PARTS = ("resurfacer-1", "v8", "c1", "1E", "none", "%00", "a" * 200, "..%2f", "trace", "compression")
# So many answers between start and kill, at most, or seconds where there are none.
ANSWERS_A_LIFE, LIFE_S = 25, 20.0
JUNK: tuple[Any, ...] = (
    None,
    "",
    "x" * 5000,
    -1,
    10**20,
    0.1,
    [],
    [[[]]],
    {},
    {"a": {"b": []}},
    True,
    "\u0000\U0001f527",
)


@dataclass
class Report:
    """What came of it: each of the first three should be 0, the memory flat."""

    lost: int = 0
    doubled: int = 0
    failed: int = 0
    answers: int = 0
    kills: int = 0
    requests: int = 0
    copies: int = 0
    memory_mb: list[float] = field(default_factory=list)
    statuses: Counter[int] = field(default_factory=Counter)
    second_refused: bool = False
    full_disk_told: bool = False


class Server:
    """One server after another over the same database."""

    def __init__(self, path: Path, module: str = "pronostico.cli") -> None:
        self.path, self.port, self._module = path, free_port(), module
        self.process = start(path, self.port, module=module)

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def killed_and_started(self) -> None:
        end(self.process, signal.SIGKILL)
        self.port = free_port()
        self.process = start(self.path, self.port, module=self._module)

    def memory_mb(self) -> float:
        status = Path(f"/proc/{self.process.pid}/status").read_text()
        line = next(one for one in status.splitlines() if one.startswith("VmRSS"))
        return int(line.split()[1]) / 1024


class Writers:
    """People who answer, and ask again under the same identifier until they are answered."""

    def __init__(self, server: Server) -> None:
        self._server, self._stop = server, threading.Event()
        self.acknowledged: list[str] = []
        self._threads = [threading.Thread(target=self._write, args=(one,)) for one in range(WRITERS)]
        for thread in self._threads:
            thread.start()

    def _write(self, number: int) -> None:
        valve = f"{1 + number % 4}{'IE'[number % 2]}"
        with httpx2.Client(timeout=30) as asking:
            while not self._stop.is_set():
                identifier = str(uuid4())
                blade = 0.1 + random.random() / 10
                body = {"valve": valve, "phase": "found", "blades_mm": [blade], "felt": "go"}
                while not self._answered(asking, identifier, body):
                    time.sleep(0.2)
                self.acknowledged.append(identifier)

    def _answered(self, asking: httpx2.Client, identifier: str, body: dict[str, Any]) -> bool:
        ours = self._server.address
        path, who = f"{ours}{VISIT}/tries/{identifier}", {"Origin": ours}
        try:
            answer = asking.put(path, json=body, headers=who)
            if answer.status_code == 200:
                # Taken back, so that a reading of thousands of answers does not become what is measured.
                asking.delete(path, headers=who)
        except httpx2.HTTPError:
            # Killed on the way, before or after it was stored: nobody knows.
            return False
        return answer.status_code == 200

    def wait_for(self, answers: int) -> None:
        """Until so many more were acknowledged, and a moment, so that others are on their way."""
        enough, until = len(self.acknowledged) + answers, time.monotonic() + LIFE_S
        while len(self.acknowledged) < enough and time.monotonic() < until:
            time.sleep(0.01)
        time.sleep(random.uniform(0.0, 0.2))

    def stop(self) -> list[str]:
        """All that was acknowledged."""
        self._stop.set()
        for thread in self._threads:
            thread.join()
        return self.acknowledged


def _stored(path: Path) -> Counter[str]:
    connection = sqlite3.connect(path)
    try:
        return Counter(one for (one,) in connection.execute("SELECT id FROM tries"))
    finally:
        connection.close()


def kill_under_load(path: Path, report: Report, go_on: Callable[[int], bool], module: str) -> None:
    """Kill the server again and again while people answer and a copy of it all is made."""
    server = Server(path, module)
    before = _stored(path)
    writers = Writers(server)
    try:
        while go_on(report.kills):
            writers.wait_for(random.randrange(ANSWERS_A_LIFE))
            if report.kills % 10 == 0:
                with tempfile.TemporaryDirectory() as folder:
                    # Checked: whole, and every row of it counted.
                    checked_copy(make_copy(path, Path(folder), now=datetime.now(UTC)))
                report.copies += 1
            server.killed_and_started()
            report.kills += 1
    finally:
        acknowledged = writers.stop()
        end(server.process, signal.SIGTERM)
    stored = _stored(path) - before
    report.answers += len(acknowledged)
    report.lost += sum(stored[one] == 0 for one in acknowledged)
    report.doubled += sum(count - 1 for count in stored.values()) + len(stored.keys() - set(acknowledged))


def _junk(rng: random.Random, depth: int = 0) -> Any:
    if depth < 2 and rng.random() < 0.6:
        return {rng.choice(FIELDS): _junk(rng, depth + 1) for _ in range(rng.randint(1, 5))}
    return rng.choice(JUNK)


def feed_rubbish(path: Path, report: Report, go_on: Callable[[int], bool]) -> None:
    """Send every route what it never asked for; a failure of the server is counted, a refusal is not."""
    server, rng = Server(path), random.Random(1)
    try:
        with httpx2.Client(base_url=server.address, headers={"Origin": server.address}, timeout=60) as asking:
            paths = asking.get("/api/openapi.json").json()["paths"]
            routes = [(method, one) for one, methods in paths.items() for method in methods]
            while go_on(report.requests):
                method, template = rng.choice(routes)
                if "calendar" in template or template.endswith(("/trace", "/live")):
                    continue
                parts = [rng.choice(PARTS) if one.startswith("{") else one for one in template.split("/")]
                body = {} if method == "get" else {"json": _junk(rng)}
                answer = asking.request(method.upper(), "/".join(parts), **body)
                report.statuses[answer.status_code] += 1
                report.failed += answer.status_code >= 500 and answer.status_code not in (501, 503, 507)
                if report.requests % 500 == 0:
                    report.memory_mb.append(server.memory_mb())
                report.requests += 1
            report.memory_mb.append(server.memory_mb())
    finally:
        end(server.process, signal.SIGTERM)


def start_twice(path: Path, report: Report) -> None:
    """The second server over one database refuses, and the first goes on."""
    server = Server(path)
    command = [sys.executable, "-m", "pronostico.cli", "serve", "--database", str(path)]
    second = subprocess.run(command, capture_output=True, text=True, timeout=120, check=False)
    still = httpx2.get(f"{server.address}/api/engines", timeout=30).status_code
    end(server.process, signal.SIGTERM)
    report.second_refused = (second.returncode, still) == (1, 200) and "served already" in second.stderr


def fill_the_disk(path: Path, report: Report) -> None:
    """Where no file may grow any more, an answer is refused in words, and those before it are there."""
    blocks = path.stat().st_size // 1024 + 400
    limited = f"trap '' XFSZ; ulimit -f {blocks}; exec \"$@\""
    port = free_port()
    server = start(path, port, through=("bash", "-c", limited, "bash"))
    ours, kept, told = f"http://127.0.0.1:{port}", [], ""
    try:
        with httpx2.Client(base_url=ours, headers={"Origin": ours}, timeout=30) as asking:
            for number in range(2000):
                answered = f"{VISIT}/tries/full-{number}"
                body = {"valve": "1I", "phase": "found", "blades_mm": [0.1], "felt": "go"}
                answer = asking.put(answered, json=body)
                if answer.status_code != 200:
                    told = answer.text
                    break
                kept.append(f"full-{number}")
                asking.delete(answered)
    finally:
        end(server, signal.SIGTERM)
    stored = _stored(path)
    report.lost += sum(stored[one] == 0 for one in kept)
    report.full_disk_told = "disk" in told


def soak(
    path: Path,
    *,
    more_kills: Callable[[int], bool],
    more_strained: Callable[[int], bool],
    more_requests: Callable[[int], bool],
) -> Report:
    """All of it, one after another, over a demonstration's database."""
    report = Report()
    start_twice(path, report)
    kill_under_load(path, report, more_kills, "pronostico.cli")
    # On a disk that is slow, and with a clock that jumps.
    kill_under_load(path, report, more_strained, "tests.strained")
    feed_rubbish(path, report, more_requests)
    fill_the_disk(path, report)
    return report


def main() -> None:
    """Run for a while and say what came of it; exit status 1 where anything was lost, doubled or failed."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--minutes", type=float, default=60.0)
    minutes = asked.parse_args().minutes
    began = time.monotonic()

    def until(share: float) -> Callable[[int], bool]:
        return lambda _: time.monotonic() - began < 60 * minutes * share

    with tempfile.TemporaryDirectory(prefix="pronostico-soak-") as folder:
        path = seed_demo(Path(folder), today=date.today(), now=datetime.now(UTC))
        report = soak(path, more_kills=until(0.4), more_strained=until(0.55), more_requests=until(0.95))
    print(f"lost {report.lost}, doubled {report.doubled}, failures of the server {report.failed}")
    print(f"{report.answers} answers acknowledged over {report.kills} kills")
    print(f"{report.copies} full copies made meanwhile and checked")
    print(f"{report.requests} requests of rubbish: {dict(sorted(report.statuses.items()))}")
    # Flat once what is kept of computed drifts has filled up: the second half says it.
    known = [report.memory_mb[at * (len(report.memory_mb) - 1) // 4] for at in range(5)]
    print("memory, from the start to the end: " + ", ".join(f"{one:.0f}" for one in known) + " MB")
    print(f"second server refused: {report.second_refused}; full disk told: {report.full_disk_told}")
    good = report.second_refused and report.full_disk_told
    sys.exit(0 if good and not (report.lost or report.doubled or report.failed) else 1)


if __name__ == "__main__":
    os.environ.setdefault("PYTHONUNBUFFERED", "1")
    main()
