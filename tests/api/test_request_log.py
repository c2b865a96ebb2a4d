"""Requests carry an id; a failure of ours is logged with it, and says which line of the log to look for."""

import json
import logging

import pytest

from pronostico.api import engines
from pronostico.logs import JsonLines
from pronostico.services.engines import background
from pronostico.services.engines.background import compute_stale
from tests.databases import opened


def test_every_answer_names_its_request(client):
    ids = [client.get("/api/engines").headers["x-request-id"] for _ in range(2)]
    assert len(set(ids)) == 2 and all(len(one) == 12 for one in ids)


def test_a_failure_is_a_problem_that_names_its_line_of_the_log(client, monkeypatch, caplog):
    def fails(*_):
        raise ZeroDivisionError("nothing to divide by")

    monkeypatch.setattr(engines, "analyse_record", fails)
    with caplog.at_level(logging.ERROR, "pronostico"):
        answer = client.get("/api/engines/resurfacer-1/analysis")
    assert answer.status_code == 500
    assert answer.headers["content-type"] == "application/problem+json"
    problem = answer.json()
    assert problem["id"] == answer.headers["x-request-id"] and problem["id"] in problem["detail"]
    (record,) = [one for one in caplog.records if one.name == "pronostico.api"]
    line = json.loads(JsonLines().format(record))
    assert line["request_id"] == problem["id"] and line["path"] == "/api/engines/resurfacer-1/analysis"
    assert "ZeroDivisionError: nothing to divide by" in line["traceback"]
    assert "nothing to divide by" not in answer.text


def test_requests_are_logged_when_asked_for_and_quiet_otherwise(client, caplog):
    with caplog.at_level(logging.WARNING, "pronostico"):
        client.get("/api/engines")
    assert caplog.records == []
    with caplog.at_level(logging.INFO, "pronostico"):
        client.get("/api/engines")
    (record,) = [one for one in caplog.records if one.name == "pronostico.api"]
    line = json.loads(JsonLines().format(record))
    assert (line["method"], line["path"], line["status"]) == ("GET", "/api/engines", 200)


@pytest.mark.usefixtures("not_computed")
def test_an_engine_that_cannot_be_computed_leaves_its_traceback(demo_path, monkeypatch, caplog):
    def fails(*_):
        raise ArithmeticError("no result")

    monkeypatch.setattr(background, "compute_document", fails)
    database = opened(demo_path)
    with caplog.at_level(logging.ERROR, "pronostico"):
        failed = compute_stale(database, processes=1).failed
    database.close()
    assert failed
    assert {one.engine for one in caplog.records} == {engine for engine, _ in failed}
    assert all("no result" in JsonLines().format(one) for one in caplog.records)
