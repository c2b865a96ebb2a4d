"""The workshop page's timelines, and results that are kept and never stale."""

import json
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import fields, replace
from datetime import date, timedelta

import pytest
from sqlalchemy import delete, text
from typer.testing import CliRunner

from pronostico import cli
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.core import constants
from pronostico.core.constants import DEFAULT, Constants
from pronostico.services.engines import background, results
from pronostico.services.engines.background import compute_stale
from pronostico.services.engines.results import data_digest, model_digest, result_of
from pronostico.services.engines.workers import Workers
from pronostico.services.workshop import timelines
from pronostico.services.workshop.timelines import CachedTimelines
from pronostico.store.results import changes_of, current_result, stale_engines
from pronostico.store.tables import ResultRow
from tests.api.workshop import timelines_of
from tests.builders import record_document
from tests.databases import opened

JSON = {"content-type": "application/json"}
VISIT = "/api/engines/resurfacer-1/visits/v8"


@pytest.fixture
def database(demo_path):
    database = opened(demo_path)
    yield database
    database.close()


def model():
    return model_digest(WorkshopSettings())


def test_a_change_of_any_assumed_number_makes_every_stored_result_stale():
    # Twice a number is another one, and twice a tuple too.
    changed = [replace(DEFAULT, **{one.name: getattr(DEFAULT, one.name) * 2}) for one in fields(Constants)]
    digests = {model(), *(model_digest(WorkshopSettings(), assumed) for assumed in changed)}
    assert len(digests) == 1 + len(fields(Constants))


def test_a_timeline_names_the_worst_valve_the_next_check_and_the_open_case(client):
    one, two, *_ = timelines_of(client)
    assert (one["name"], two["name"]) == ("Ice resurfacer 1", "Ice resurfacer 2")
    assert (one["result"]["worst"]["valve"], one["result"]["worst"]["verdict"]) == ("3E", "tight")
    assert one["result"]["read_at_last_visit"] == 7
    assert one["cases"][0]["complaints"] == ["stall-at-idle", "cold-miss"]
    assert two["cases"] == []
    look = one["result"]["check_due"]
    assert look["now"] and look["because"] == "out" and "3E" in look["valves"]
    # The engine's page says the same, to the figure.
    drift = client.get("/api/engines/resurfacer-1/drift").json()["check_due"]
    assert drift == {name: look[name] for name in drift}
    assert {"kind": "break", "valve": "3E", "was": None, "now": None} in one["result"]["changed"]


def test_usage_becomes_days_by_the_engines_own_rate(client):
    timelines = timelines_of(client)
    two = next(timeline for timeline in timelines if timeline["id"] == "resurfacer-2")
    first, last = two["visits"][0], two["visits"][-1]
    days = (date.fromisoformat(last["day"]) - date.fromisoformat(first["day"])).days
    assert two["usage_per_day"] == pytest.approx((last["usage"] - first["usage"]) / days)
    look = two["result"]["check_due"]["usage"]
    ahead = timedelta(days=round((look - last["usage"]) / two["usage_per_day"]))
    assert date.fromisoformat(two["look_day"]) == date.fromisoformat(last["day"]) + ahead
    days = [one["day"] for one in two["fan"]]
    assert days == sorted(days) and two["look_day"] in days


def test_demo_dates_end_yesterday(client):
    last = client.get("/api/workshop").json()["timelines"][0]["visits"][-1]["day"]
    assert date.fromisoformat(last) == date.today() - timedelta(days=1)


def test_a_timeline_never_shows_a_result_older_than_its_readings(client):
    before = timelines_of(client)
    body = {"valve": "4E", "phase": "found", "blades_mm": [0.10], "felt": "drag"}
    client.put(f"{VISIT}/tries/t1", json=body)
    workshop = client.get("/api/workshop").json()
    assert (
        workshop["timelines"][0]["result"] is None
        or workshop["timelines"][0]["result"] != before[0]["result"]
    )
    assert workshop["timelines"][1]["result"] == before[1]["result"]
    # The valve that had not been read is read now.
    assert timelines_of(client)[0]["result"]["read_at_last_visit"] == 8


def test_an_engine_without_visits_has_a_timeline_without_figures(empty_client):
    document = record_document()
    document["visits"], document["cases"] = [], []
    empty_client.post("/api/records", content=json.dumps(document), headers=JSON)
    timeline = timelines_of(empty_client)[0]
    assert (timeline["visits"], timeline["look_day"], timeline["usage_per_day"]) == ([], None, None)
    assert timeline["result"]["worst"] is timeline["result"]["check_due"] is None
    assert empty_client.get("/api/engines/mule/drift").json()["as_of_usage"] is None


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE tries SET taken_back_at = '2026-01-01' WHERE id = (SELECT min(id) FROM tries)",
        "UPDATE visits SET usage = usage + 1 WHERE pk = (SELECT max(pk) FROM visits)",
        "UPDATE valves SET position = 9 WHERE engine_id = 'resurfacer-1' AND id = '1E'",
        "UPDATE engines SET data = '{}' WHERE id = 'resurfacer-1'",
        "DELETE FROM settings WHERE pk = (SELECT max(pk) FROM settings)",
        "INSERT INTO readings (visit_pk, position, valve, phase, data)"
        " SELECT max(pk), 99, '1E', 'found', '{}' FROM visits",
    ],
)
def test_whatever_writes_makes_the_result_stale(database, statement):
    compute_stale(database, processes=1)
    with database.writing() as session:
        assert stale_engines(session, model()) == []
        session.execute(text(statement))
        session.commit()
    with database.reading() as session:
        assert len(stale_engines(session, model())) == 1


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE engines SET name = 'Zamboanga' WHERE id = 'resurfacer-2'",
        "UPDATE visits SET usage = usage + 1 WHERE pk = (SELECT max(pk) FROM visits)",
        "UPDATE cases SET closed = '2026-11-01' WHERE closed IS NULL",
        "DELETE FROM case_findings",
        "DELETE FROM results WHERE engine_id = 'resurfacer-2'",
        "UPDATE results SET model = 'another'",
    ],
)
def test_a_change_is_read_as_from_nothing_and_only_where_it_was_made(database, statement, monkeypatch):
    compute_stale(database, processes=1)
    kept = CachedTimelines(database)
    before = kept.now()
    read: list[str] = []
    honest = timelines.stored_timelines

    def noted(session, model, states):
        read.extend(one.id for one in states)
        return honest(session, model, states)

    monkeypatch.setattr(timelines, "stored_timelines", noted)
    with database.writing() as session:
        changed = session.execute(text(statement)).rowcount
        session.commit()
    after = kept.now()
    assert changed >= 1
    assert after != before
    assert 1 <= len(read) <= changed
    assert after == CachedTimelines(database).now()


def test_many_who_ask_at_once_wait_for_one_reading(database, monkeypatch):
    kept, read, honest = CachedTimelines(database), [], timelines.timeline_states
    everybody = threading.Barrier(8, timeout=30)

    def slow(session, model):
        read.append(1)
        time.sleep(0.3)
        return honest(session, model)

    monkeypatch.setattr(timelines, "timeline_states", slow)

    def ask(_):
        everybody.wait()
        return kept.now()

    with ThreadPoolExecutor(8) as people:
        assert len({one.document for one in people.map(ask, range(8))}) == 1
    assert len(read) == 1


def test_another_model_or_another_workshop_makes_every_result_stale(database, monkeypatch):
    compute_stale(database, processes=1)
    with database.reading() as session:
        assert stale_engines(session, model()) == []
        careful = model_digest(WorkshopSettings(next_check_risk=0.02))
        every = len(stale_engines(session, careful))
        assert (
            every == len(stale_engines(session, model_digest(WorkshopSettings(next_check_margin_mm=0.0)))) > 2
        )
        monkeypatch.setattr(results, "MODEL_VERSION", constants.MODEL_VERSION + "x")
        assert len(stale_engines(session, model())) == every


def test_a_change_there_and_back_is_not_computed_again(database, monkeypatch):
    first = result_of(database, "resurfacer-2")
    with database.writing() as session:
        session.execute(text("UPDATE visits SET usage = usage + 1 WHERE pk = 1"))
        session.execute(text("UPDATE visits SET usage = usage - 1 WHERE pk = 1"))
        session.commit()
    monkeypatch.setattr(results, "compute_result", lambda *_: pytest.fail("computed again"))
    assert result_of(database, "resurfacer-2") == first
    with database.reading() as session:
        assert current_result(session, "resurfacer-2", model()) == first


@pytest.mark.usefixtures("not_computed")
def test_what_was_changed_while_it_was_computed_stays_stale(database, monkeypatch):
    honest = results.compute_result

    def meanwhile(record, workshop):
        with database.writing() as session:
            session.execute(text("UPDATE visits SET usage = usage + 1 WHERE pk = 1"))
            session.commit()
        return honest(record, workshop)

    monkeypatch.setattr(results, "compute_result", meanwhile)
    with database.reading() as session:
        engine_id = session.scalar(text("SELECT engine_id FROM visits WHERE pk = 1"))
    result_of(database, engine_id)
    with database.reading() as session:
        assert current_result(session, engine_id, model()) is None


@pytest.mark.usefixtures("not_computed")
def test_other_processes_come_to_the_same_results(database, monkeypatch):
    monkeypatch.setattr(background, "_FEW", 1)
    told = []
    compute_stale(database, processes=2, on_progress=told.append)
    assert told[-1].done == told[-1].total == len(told) - 1 > 2
    with database.reading() as session:
        there = current_result(session, "resurfacer-2", model())
        record = background.engine_record(session, "resurfacer-2")
        assert changes_of(session, "resurfacer-2") > 0
    assert there == results.compute_result(record, WorkshopSettings())
    assert data_digest(record) != data_digest(record.model_copy(update={"visits": record.visits[:-1]}))
    *before, last = record.visits
    ticked = last.model_copy(update={"ticks": ["cover"], "minutes": 5.0})
    assert data_digest(record) == data_digest(record.model_copy(update={"visits": [*before, ticked]}))


@pytest.mark.usefixtures("not_computed")
@pytest.mark.parametrize(("times", "told"), [(1, ["started"]), (9, ["started", "done by the server"])])
def test_processes_that_are_ended_are_started_again_and_then_the_work_is_done_here(
    database, monkeypatch, caplog, times, told
):
    monkeypatch.setattr(background, "_FEW", 1)
    by_many, left = background._by_many, list(range(times))

    def ended(count, workers, stopped):
        if left:
            left.pop()
            raise BrokenProcessPool
        by_many(count, workers, stopped)

    monkeypatch.setattr(background, "_by_many", ended)
    done = compute_stale(database, processes=2)
    assert done.done == done.total > 2 and not done.failed
    assert [words in one for words, one in zip(told, caplog.messages, strict=True)] == [True] * len(told)
    with database.reading() as session:
        assert stale_engines(session, model()) == []


def test_where_processes_are_there_already_the_few_are_theirs_too(database, monkeypatch):
    with database.writing() as session:
        session.execute(delete(ResultRow).where(ResultRow.engine_id == "resurfacer-2"))
        session.commit()
    monkeypatch.setattr(background, "_here", None)
    workers = Workers(1)
    workers.pool()
    try:
        done = compute_stale(database, workers=workers)
    finally:
        workers.close()
    assert done.done == done.total == 1 and not done.failed


@pytest.mark.usefixtures("not_computed")
def test_one_that_cannot_be_computed_does_not_hold_up_the_others(client, monkeypatch):
    honest = background.compute_document

    def fails(document, priors, workshop):
        if '"resurfacer-2"' in document:
            raise ArithmeticError
        return honest(document, priors, workshop)

    monkeypatch.setattr(background, "compute_document", fails)
    with pytest.raises(AssertionError):
        timelines_of(client)
    running = client.app.state.background
    while running.progress is not None:
        pass
    workshop = client.get("/api/workshop").json()
    assert workshop["failed"] == ["resurfacer-2"] and workshop["calculating"] is None
    assert [timeline["id"] for timeline in workshop["timelines"] if not timeline["result"]] == [
        "resurfacer-2"
    ]


@pytest.mark.file_only
@pytest.mark.usefixtures("not_computed")
def test_the_command_computes_with_a_progress_bar_and_then_has_nothing_to_do(demo_path, tmp_path):
    run = CliRunner().invoke
    first = run(cli.app, ["recompute", "--database", str(demo_path), "--processes", "1"])
    assert first.exit_code == 0
    words = first.output.splitlines()[-1].split()
    assert words[0] == words[2] != "0"
    assert (
        run(cli.app, ["recompute", "--database", str(demo_path)])
        .output.strip()
        .endswith("0 of 0 engines calculated, the others were current")
    )
    missing = run(cli.app, ["recompute", "--database", str(tmp_path / "none.sqlite")])
    assert missing.exit_code == 1 and "there is no such file" in missing.output
