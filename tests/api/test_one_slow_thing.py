"""One slow thing does not starve the rest: traces, a long import and many people at one server."""

import json
import signal
import threading
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime

import httpx2
import pytest
import uvicorn
from sqlalchemy.exc import TimeoutError as WaitedTooLong

from pronostico.api.app import attach, detach
from pronostico.record.reading_in import read_record
from pronostico.services.exchange.backup import write_backup
from pronostico.serving import WebServer, bind
from pronostico.settings import folders_of
from pronostico.store import records
from pronostico.store.database import Database
from tests.builders import TODAY, record_document
from tests.conftest import NO_PAGES, the_app
from tests.databases import opened
from tests.served import end, free_port, start

VISIT = "/api/engines/resurfacer-1/visits/v8"
RUN = "/api/practice/runs/r1"
TRACE = f"{VISIT}/instruments/compression/trace?cylinder=1&speed=0.1"


@pytest.fixture
def served(demo_path):
    port = free_port()
    server = start(demo_path, port)
    ours = f"http://127.0.0.1:{port}"
    with httpx2.Client(
        base_url=ours, headers={"Origin": ours}, timeout=60, limits=httpx2.Limits(max_connections=200)
    ) as asking:
        yield asking
    end(server, signal.SIGKILL)


@pytest.fixture
def saved(tmp_path):
    """Another workshop, as one file."""
    database, file = Database(tmp_path / "other" / "other.sqlite"), tmp_path / "other.zip"
    with database.writing() as session:
        for number in range(40):
            document = record_document()
            document["engine"]["id"] = f"other-{number}"
            record = read_record(json.dumps(document), today=TODAY)
            records.add_record(session, record, now=datetime.now(UTC))
        session.commit()
        write_backup(session, file, today=TODAY, folders=folders_of(tmp_path / "p"), knowledge=tmp_path / "k")
    database.close()
    return file.read_bytes()


def test_streams_an_import_and_many_people_are_served_together(served, saved):
    """No answer fails or is lost while many traces run, and an import."""
    running, enough = threading.Semaphore(0), threading.Event()

    def watch(_):
        with served.stream("GET", TRACE) as trace:
            assert trace.status_code == 200
            next(trace.iter_lines())
            running.release()
            enough.wait(60)

    def answer(number):
        body = {"valve": "4E", "phase": "found", "blades_mm": [0.1 + number / 1000], "felt": "free"}
        return served.put(f"{VISIT}/tries/t{number}", json=body).status_code

    def take_in(_):
        how = {"content": saved, "headers": {"content-type": "application/zip"}}
        return served.post("/api/backup", **how).status_code

    with ThreadPoolExecutor(60) as people:
        watching = [people.submit(watch, one) for one in range(24)]
        for _ in watching:
            assert running.acquire(timeout=60)
        try:
            taken_in = people.submit(take_in, None)
            codes = list(people.map(answer, range(50)))
            workshop = served.get("/api/workshop").status_code
            imported = taken_in.result()
        finally:
            enough.set()
        for one in watching:
            one.result()
    assert {*codes, workshop, imported} == {200}
    valve = next(one for one in served.get(VISIT).json()["valves"] if one["valve"] == "4E")
    assert len(valve["found"]["tries"]) == 50


@pytest.fixture
def here(demo_path):
    """A real server in this process, so that its connections can be counted."""
    database, app, listener = opened(demo_path), the_app(NO_PAGES), bind(0)
    attach(app, database)
    server = WebServer(uvicorn.Config(app, log_level="warning"))
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listener]}, daemon=True)
    thread.start()
    ours = f"http://127.0.0.1:{listener.getsockname()[1]}"
    with httpx2.Client(base_url=ours, headers={"Origin": ours}, timeout=60) as asking:
        yield asking, database
    server.should_exit = True
    thread.join(timeout=20)
    detach(app)
    database.close()


@pytest.mark.parametrize("trace", [TRACE, f"{RUN}/instruments/compression/trace?cylinder=1&speed=0.1"])
def test_a_trace_holds_no_connection_while_it_runs(here, trace):
    asking, database = here
    assert asking.put(RUN, json={"learner": "Mo", "lesson": "is-it-cold"}).status_code == 200
    with asking.stream("GET", trace) as running:
        assert running.status_code == 200
        next(running.iter_lines())
        storage = database._storage
        assert storage.readers.pool.checkedout() == storage.writer.pool.checkedout() == 0


def test_who_waits_too_long_is_told_when_to_ask_again(client, monkeypatch):
    def never(_self):
        raise WaitedTooLong

    monkeypatch.setattr(Database, "writing", never)
    answer = {"valve": "4E", "phase": "found", "blades_mm": [0.2], "felt": "drag"}
    refused = client.put(f"{VISIT}/tries/x", json=answer)
    assert refused.status_code == 503
    assert refused.headers["retry-after"] == "2"
    assert "what was typed is kept" in refused.json()["detail"]
