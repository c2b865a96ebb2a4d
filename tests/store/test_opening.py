"""A database as it is found: one sentence that says what it is and what to do, and nothing is touched."""

import json
import os
import shutil
import sqlite3
import stat

import pytest
from typer.testing import CliRunner

from pronostico import cli
from pronostico.errors import UnusableDatabase
from pronostico.store.database import Database


@pytest.fixture(scope="module")
def sound(tmp_path_factory):
    path = tmp_path_factory.mktemp("sound") / "shop.sqlite"
    Database(path).close()
    return path


def newer(path):
    with sqlite3.connect(path) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    connection.close()


def foreign(path):
    path.unlink()
    with sqlite3.connect(path) as connection:
        connection.execute("CREATE TABLE songs (title TEXT)")
    connection.close()


def damaged(path):
    content = bytearray(path.read_bytes())
    content[100:4096] = b"\xff" * 3996
    path.write_bytes(content)


FOUND = {
    "newer": (newer, "newer version"),
    "foreign": (foreign, "another program"),
    "cut off": (lambda path: path.write_bytes(path.read_bytes()[:-5000]), "cut off"),
    "garbage": (lambda path: path.write_bytes(b"not a database at all" * 100), "no database"),
    "damaged": (damaged, "damaged"),
    "a picture": (lambda path: path.write_bytes(b"\x89PNG\r\n" + bytes(200)), "no database"),
}


@pytest.mark.parametrize("what", FOUND)
def test_what_it_is_is_said_with_what_to_do_and_it_stays_as_it_was(sound, tmp_path, what):
    path = tmp_path / "shop.sqlite"
    shutil.copy(sound, path)
    make, says = FOUND[what]
    make(path)
    before = path.read_bytes()
    with pytest.raises(UnusableDatabase, match=says) as told:
        Database(path)
    assert str(path) in str(told.value) and "; " in str(told.value) and "\n" not in str(told.value)
    assert path.read_bytes() == before
    assert [one.name for one in tmp_path.iterdir()] == ["shop.sqlite"]


@pytest.mark.parametrize("command", [["recompute"], ["export", "out.zip"], ["import", "in.zip"]])
def test_every_command_ends_with_that_sentence_and_a_status(tmp_path, command, monkeypatch):
    monkeypatch.chdir(tmp_path)
    path = tmp_path / "shop.sqlite"
    path.write_bytes(b"x" * 5000)
    ended = CliRunner().invoke(cli.app, [*command, "--database", str(path)])
    assert ended.exit_code == 1
    assert "is no database" in ended.output and "Traceback" not in ended.output
    assert not list(tmp_path.glob("*.part"))


def test_serving_ends_with_it_too(tmp_path):
    path = tmp_path / "shop.sqlite"
    path.write_bytes(b"x" * 5000)
    ended = CliRunner().invoke(cli.app, ["serve", "--port", "8555", "--database", str(path)])
    assert ended.exit_code == 1 and "is no database" in ended.output


def test_a_folder_and_a_read_only_file_are_told_apart(sound, tmp_path):
    with pytest.raises(UnusableDatabase, match="is a folder"):
        Database(tmp_path)
    path = tmp_path / "shop.sqlite"
    shutil.copy(sound, path)
    path.chmod(0o400)
    with pytest.raises(UnusableDatabase, match="is read-only"):
        Database(path)


def test_a_new_database_and_its_folder_are_its_owners_alone(tmp_path):
    path = tmp_path / "data" / "deeper" / "shop.sqlite"
    umask = os.umask(0)
    try:
        Database(path).close()
    finally:
        os.umask(umask)
    assert stat.S_IMODE(path.stat().st_mode) == 0o600
    assert (
        stat.S_IMODE(path.parent.stat().st_mode) == stat.S_IMODE(path.parent.parent.stat().st_mode) == 0o700
    )


def test_an_empty_file_becomes_a_database(tmp_path):
    path = tmp_path / "shop.sqlite"
    path.touch()
    Database(path).close()
    assert path.stat().st_size > 0


def test_a_log_that_was_not_moved_into_the_file_yet_is_read(sound, tmp_path):
    path = tmp_path / "shop.sqlite"
    shutil.copy(sound, path)
    connection = sqlite3.connect(path)
    connection.execute("PRAGMA journal_mode = WAL")
    connection.execute("INSERT INTO engines (id, data, revision, changed) VALUES ('a', '{}', 1, 0)")
    connection.commit()
    opened = Database(path)
    with opened.reading() as session:
        assert session.connection().exec_driver_sql("SELECT id FROM engines").all() == [("a",)]
    opened.close()
    connection.close()


@pytest.mark.file_only
def test_a_full_disk_is_told_and_nothing_of_it_is_saved(client):
    database = client.app.state.database
    with database.writing() as session:
        limit = session.connection().exec_driver_sql("PRAGMA page_count").scalar()
    # A database that may not grow answers as a full disk does.
    with database.writing() as session:
        session.connection().exec_driver_sql(f"PRAGMA max_page_count = {limit}")
    body = {"text": "x" * 9000}
    told = None
    for number in range(200):
        told = client.put(f"/api/engines/resurfacer-1/cases/c1/notebook/n{number}", json=body)
        if told.status_code != 200:
            break
    assert told is not None
    assert told.status_code == 507
    assert "make room" in told.json()["detail"]
    kept = client.get("/api/engines/resurfacer-1/cases/c1/notebook").json()
    assert len([one for one in kept if one["id"].startswith("n")]) == number


def _moving_over(path, *, log):
    """A database whose server was ended just after the first page of its log was moved over."""
    writing = sqlite3.connect(path)
    writing.execute("PRAGMA wal_autocheckpoint = 0")
    writing.execute("INSERT INTO engines (id, data) VALUES ('long', ?)", (json.dumps({"x": "y" * 40_000}),))
    writing.commit()
    wal = path.with_name(f"{path.name}-wal")
    logged, size = wal.read_bytes(), path.stat().st_size
    writing.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    writing.close()
    moved = path.read_bytes()
    assert len(moved) > size
    path.write_bytes(moved[:size])
    wal.write_bytes(log(logged))


def test_one_whose_server_was_ended_while_it_moved_its_log_is_whole(tmp_path):
    path = tmp_path / "shop.sqlite"
    Database(path).close()
    _moving_over(path, log=lambda whole: whole)
    opened = Database(path)
    with opened.reading() as session:
        assert session.connection().exec_driver_sql("SELECT id FROM engines").all() == [("long",)]
        assert session.connection().exec_driver_sql("PRAGMA integrity_check").all() == [("ok",)]
    opened.close()


@pytest.mark.parametrize("log", [lambda whole: b"", lambda whole: whole[: len(whole) // 2]])
def test_where_the_log_lacks_a_page_too_it_is_cut_off(tmp_path, log):
    path = tmp_path / "shop.sqlite"
    Database(path).close()
    _moving_over(path, log=log)
    with pytest.raises(UnusableDatabase, match="is cut off: a part of it is missing"):
        Database(path)
