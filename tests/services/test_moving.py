"""A workshop moved whole to a PostgreSQL server and back, and copied in full while it is there."""

import sqlite3
from contextlib import closing
from datetime import UTC, datetime

import pytest
from typer.testing import CliRunner

from pronostico import cli
from pronostico.errors import Refused
from pronostico.services.engines.results import model_digest
from pronostico.services.exchange.full_copy import checked_copy, make_copy, restore_copy
from pronostico.services.exchange.moving import move
from pronostico.services.settings import WorkshopSettings
from pronostico.settings import photographs_of
from pronostico.store.database import Database
from pronostico.store.moving import digests, row_counts
from pronostico.store.opening import served_by_one
from pronostico.store.records import add_record, load_record
from pronostico.store.results import stale_engines
from tests import postgresql

NOW = datetime(2026, 11, 28, 12, 0, tzinfo=UTC)


@pytest.fixture(scope="module")
def server():
    with postgresql.running() as one:
        yield one


@pytest.fixture
def address(server):
    address = server.database()
    yield address
    server.drop(address)


@pytest.fixture
def workshop(demo_path):
    folder = photographs_of(demo_path)
    folder.mkdir(exist_ok=True)
    (folder / "p1.jpg").write_bytes(b"one picture")
    return demo_path


def content_of(path, address=None):
    with closing(Database(path, address)) as database, database.reading() as session:
        return digests(session)


def run(*arguments, **environment):
    return CliRunner().invoke(cli.app, list(arguments), env=environment)


def test_a_workshop_goes_to_a_server_and_back_and_nothing_is_lost_or_computed_again(
    workshop, address, tmp_path
):
    before = content_of(workshop)
    gone = run("move", "--to", address, "--database", str(workshop))
    assert gone.exit_code == 0, gone.output
    assert "8 engines among them; compared" in gone.output and "PRONOSTICO_DATABASE_URL" in gone.output
    assert content_of(workshop, address) == before == content_of(workshop)
    with closing(Database(workshop, address)) as moved:
        with moved.reading() as session:
            assert stale_engines(session, model_digest(WorkshopSettings())) == []
        # Counted keys go on after those that came.
        with moved.writing() as session:
            record = load_record(session, "resurfacer-1")
            _store_again(session, record, "twin")
    after = content_of(workshop, address)
    back = tmp_path / "back" / "w.sqlite"
    where = {"PRONOSTICO_DATABASE": str(workshop), "PRONOSTICO_DATABASE_URL": address}
    come = run("move", "--to", str(back), **where)
    assert come.exit_code == 0, come.output
    assert "9 engines" in come.output and "Unset PRONOSTICO_DATABASE_URL" in come.output
    assert content_of(back) == after != before
    assert (photographs_of(back) / "p1.jpg").read_bytes() == b"one picture"
    with closing(sqlite3.connect(back)) as connection:
        assert connection.execute("PRAGMA foreign_key_check").fetchall() == []


def _store_again(session, record, name):
    engine = record.engine.model_copy(update={"id": name})
    add_record(session, record.model_copy(update={"engine": engine}), now=NOW)
    session.commit()


def test_what_cannot_be_moved_is_refused_and_nothing_of_it_is_there(workshop, address, tmp_path):
    with served_by_one(workshop):
        refused = run("move", "--to", address, "--database", str(workshop))
        assert refused.exit_code == 1 and "is being served already" in refused.output
    nowhere = run("move", "--to", str(tmp_path / "other.sqlite"), "--database", str(workshop))
    assert nowhere.exit_code == 1 and "expected postgresql://" in nowhere.output
    assert run("move", "--to", address, "--database", str(tmp_path / "none.sqlite")).exit_code == 1
    move(workshop, None, address)
    with pytest.raises(Refused, match=r"rows already; create an empty database for the move"):
        move(workshop, None, address)
    with pytest.raises(Refused, match="is there already; name a file that is not"):
        move(workshop, address, str(workshop))
    with pytest.raises(Refused, match="expected a file that is not there yet"):
        move(workshop, address, address)
    with closing(Database(workshop, address)) as serving, serving.reading() as session:
        digests(session)
        with pytest.raises(Refused, match="is in use; end 'pronostico serve' first"):
            move(workshop, address, str(tmp_path / "other.sqlite"))
    assert not (tmp_path / "other.sqlite").exists()


def test_what_a_server_cannot_keep_is_named_and_nothing_is_moved(workshop, address):
    with closing(sqlite3.connect(workshop)) as connection, connection:
        connection.execute("UPDATE engines SET name = ? WHERE id = 'resurfacer-1'", ("Ice\0",))
    with pytest.raises(Refused, match=r"cannot keep: .*NUL"):
        move(workshop, None, address)
    with closing(Database(workshop, address)) as database, database.reading() as session:
        assert sum(row_counts(session).values()) == 0


def test_a_full_copy_from_a_server_is_a_file_that_is_restored_without_one(workshop, address, tmp_path):
    move(workshop, None, address)
    copy = make_copy(workshop, tmp_path / "copies", now=NOW, address=address)
    assert checked_copy(copy).rows["engines"] == 8
    restored = tmp_path / "restored" / "w.sqlite"
    restore_copy(copy, restored, now=NOW)
    assert content_of(restored) == content_of(workshop)
    assert (photographs_of(restored) / "p1.jpg").is_file()
    onto = run("restore", str(copy), PRONOSTICO_DATABASE_URL=address)
    assert onto.exit_code == 1 and "'pronostico move --to' the server" in onto.output
    made = run(
        "backup", str(tmp_path / "more"), PRONOSTICO_DATABASE=str(workshop), PRONOSTICO_DATABASE_URL=address
    )
    assert made.exit_code == 0 and "8 engines" in made.output


def test_a_server_that_is_away_fails_a_copy_with_its_reason(workshop, tmp_path):
    with pytest.raises(Refused, match="cannot be reached"):
        make_copy(workshop, tmp_path / "copies", now=NOW, address="postgresql://tests@/w?host=/nowhere")
    assert list((tmp_path / "copies").iterdir()) == []
