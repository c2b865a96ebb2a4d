"""Two processes of the application over one PostgreSQL database, and a database server that goes away."""

import signal
import threading
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing

import httpx2
import pytest
from sqlalchemy import delete

from pronostico.services.engines import background
from pronostico.services.engines.background import compute_stale
from pronostico.services.engines.results import model_digest
from pronostico.services.exchange.moving import move
from pronostico.services.settings import WorkshopSettings
from pronostico.store.database import Database
from pronostico.store.results import stale_engines
from pronostico.store.tables import ResultRow
from tests import postgresql, served
from tests.conftest import own_copy

VISIT = "/api/engines/resurfacer-1/visits/v8"


@pytest.fixture(scope="module")
def server():
    with postgresql.running() as one:
        yield one


@pytest.fixture
def address(server, demo_path):
    address = server.database()
    move(demo_path, None, address)
    yield address
    server.drop(address)


@pytest.fixture(scope="module")
def two(server, computed, tmp_path_factory):
    """Clients of two servers."""
    path, address = own_copy(computed, tmp_path_factory.mktemp("two")), server.database()
    move(path, None, address)
    ports = [served.free_port(), served.free_port()]
    with ThreadPoolExecutor(2) as starting:
        servers = list(starting.map(lambda port: served.start(path, port, address=address), ports))
    clients = [
        httpx2.Client(base_url=ours, headers={"Origin": ours}, timeout=30)
        for ours in (f"http://127.0.0.1:{port}" for port in ports)
    ]
    yield clients
    for one in clients:
        one.close()
    for one in servers:
        served.end(one, signal.SIGTERM)


def answer(client, name, blade_mm=0.2):
    body = {"valve": "4E", "phase": "found", "blades_mm": [blade_mm], "felt": "free"}
    return client.put(f"{VISIT}/tries/{name}", json=body)


def tries_of(client):
    valve = next(one for one in client.get(VISIT).json()["valves"] if one["valve"] == "4E")
    return [one["id"] for one in valve["found"]["tries"]]


def test_what_is_noted_at_one_is_seen_at_the_other_and_stored_once(two):
    one, other = two
    before = other.get("/api/workshop").json()["timelines"]
    with ThreadPoolExecutor(8) as people:
        sent = people.map(lambda n: answer(two[n % 2], f"t{n // 2}", 0.1 + (n // 2) / 100), range(40))
        assert {one.status_code for one in sent} == {200}
    assert tries_of(one) == tries_of(other)
    assert sorted(tries_of(one)) == sorted(f"t{n}" for n in range(20))
    # The result of before is not shown for the engine that was measured.
    after = other.get("/api/workshop").json()["timelines"]
    assert after[0]["result"] is None or after[0]["result"] != before[0]["result"]
    assert after[1]["result"] == before[1]["result"]
    drift = [client.get("/api/engines/resurfacer-1/drift").json() for client in two]
    assert drift[0] == drift[1]


def test_a_text_that_the_database_cannot_keep_is_refused_with_its_place(two):
    refused = two[0].get("/api/engines/no%00engine")
    assert refused.status_code == 422
    assert "holds what the database cannot keep" in refused.json()["detail"]


def test_while_the_database_server_is_away_people_are_told_and_then_go_on(server, two):
    one, _ = two
    assert answer(one, "before").status_code == 200
    postgresql.stop(server, "fast")
    try:
        refused = answer(one, "meanwhile")
        assert refused.status_code == 503 and "retry-after" in refused.headers
        assert "what was typed is kept" in refused.json()["detail"]
        assert one.get("/api/workshop").status_code == 503
    finally:
        postgresql.start_again(server)
    assert answer(one, "meanwhile").status_code == 200
    assert tries_of(one)[-2:] == ["before", "meanwhile"]


def test_two_that_compute_share_the_work(address, demo_path, monkeypatch):
    honest, computed, both = background.compute_document, Counter(), threading.Barrier(2, timeout=30)

    def noted(document, priors, workshop):
        computed[(document, priors)] += 1
        if computed.total() <= 2:
            # Both are at it at the same time.
            both.wait()
        return honest(document, priors, workshop)

    monkeypatch.setattr(background, "compute_document", noted)
    with closing(Database(demo_path, address)) as here, closing(Database(demo_path, address)) as there:
        with here.writing() as session:
            session.execute(delete(ResultRow))
            session.commit()
        with ThreadPoolExecutor(2) as processes:
            done = list(processes.map(lambda one: compute_stale(one, processes=1), (here, there)))
        assert all(not one.failed for one in done)
        # Some twice: what their sisters make expected of them became known meanwhile.
        assert len({document for document, _ in computed}) == 8
        assert set(computed.values()) == {1}
        with here.reading() as session:
            assert stale_engines(session, model_digest(WorkshopSettings())) == []
