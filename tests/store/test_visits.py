"""Visits out of their tables: kept while they do not change, read anew after any change of them."""

from datetime import UTC, datetime

import pytest
from sqlalchemy import event, text

from pronostico.record.models import Record
from pronostico.store.records import add_record
from pronostico.store.visits import load_visits
from tests.builders import record_document
from tests.databases import opened
from tests.record.test_older import TRACE

NOW = datetime(2026, 1, 1, tzinfo=UTC)


@pytest.fixture
def database(tmp_path):
    document = record_document()
    first = document["visits"][0]
    first["findings"] = [{"id": "tick", "state": "present"}]
    first["traces"] = [TRACE]
    database = opened(tmp_path / "workshop.sqlite")
    with database.writing() as session:
        add_record(session, Record.model_validate(document, strict=False), now=NOW)
        session.commit()
    yield database
    database.close()


def visits_of(database):
    with database.reading() as session:
        return load_visits(session, "mule")


FIRST = "(SELECT pk FROM visits WHERE position = 0)"
CHANGES = {
    "usage": f"UPDATE visits SET usage = usage + 1 WHERE pk = {FIRST}",
    "data": f'UPDATE visits SET data = \'{{"notes": "worn"}}\' WHERE pk = {FIRST}',
    "reading": f'UPDATE readings SET data = \'{{"access": "awkward"}}\' WHERE visit_pk = {FIRST}',
    "try taken back": "UPDATE tries SET taken_back_at = noted_at WHERE position = 0 AND reading_pk IN "
    f"(SELECT pk FROM readings WHERE visit_pk = {FIRST})",
    "finding": f"DELETE FROM visit_findings WHERE visit_pk = {FIRST}",
    "trace": f"DELETE FROM traces WHERE visit_pk = {FIRST}",
    "setting": "INSERT INTO settings (visit_pk, position, data) SELECT pk, 9, "
    '\'{"valve": "1I", "target_mm": 0.2}\' FROM visits WHERE position = 0',
}


@pytest.mark.parametrize("change", CHANGES)
def test_a_visit_is_read_anew_after_any_change_and_the_others_are_not(database, change):
    before = visits_of(database)
    with database.writing() as session:
        session.execute(text(CHANGES[change]))
        session.commit()
    after = visits_of(database)
    assert after[0] != before[0]
    assert all(one is kept for one, kept in zip(after[1:], before[1:], strict=True))


def test_what_was_rolled_back_is_not_what_others_read(database):
    before = visits_of(database)
    with database.writing() as session:
        session.execute(text(CHANGES["usage"]))
        assert load_visits(session, "mule")[0].usage == before[0].usage + 1
        session.rollback()
    assert visits_of(database) == before


def test_the_order_follows_the_places_though_no_visit_changed(database):
    before = visits_of(database)
    with database.writing() as session:
        session.execute(text("UPDATE visits SET position = 9 - position"))
        session.commit()
    assert visits_of(database) == before[::-1]


def test_visits_that_did_not_change_cost_one_statement(database):
    visits_of(database)
    statements = []
    with database.reading() as session:
        event.listen(session.get_bind(), "before_cursor_execute", lambda *args: statements.append(args[2]))
        load_visits(session, "mule")
    assert sum("SELECT" in one for one in statements) == 1
