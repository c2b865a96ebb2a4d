"""Full copies: whole while people write, checked, kept by a rule, restored without losing what was there."""

import shutil
import sqlite3
import threading
from datetime import UTC, datetime, timedelta

import pytest
from typer.testing import CliRunner

from pronostico import cli
from pronostico.errors import Refused
from pronostico.services.exchange.full_copy import (
    checked_copy,
    kept_by_rule,
    last_copy,
    make_copy,
    restore_copy,
)
from pronostico.settings import photographs_of, recordings_of
from pronostico.store.database import Database

NOW = datetime(2026, 11, 28, 12, 0, tzinfo=UTC)


def content_of(path):
    """Every row of every table, as text."""
    connection = sqlite3.connect(path)
    try:
        tables = sorted(
            name for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
        )
        return {name: sorted(map(repr, connection.execute(f"SELECT * FROM {name}"))) for name in tables}
    finally:
        connection.close()


@pytest.fixture
def workshop(demo_path):
    folder = photographs_of(demo_path)
    folder.mkdir(exist_ok=True)
    (folder / "p1.jpg").write_bytes(b"one picture")
    (folder / "p2.jpg").write_bytes(b"another picture")
    return demo_path


def test_a_copy_holds_everything_and_is_restored_whole(workshop, tmp_path):
    copy = make_copy(workshop, tmp_path / "copies", now=NOW)
    manifest = checked_copy(copy)
    assert manifest.rows["engines"] == 8 and set(manifest.photographs) == {"p1.jpg", "p2.jpg"}
    known = last_copy(workshop)
    assert known.made_at == NOW and known.folder == str(tmp_path / "copies")
    other = tmp_path / "other" / "shop.sqlite"
    assert restore_copy(copy, other, now=NOW) is None
    assert content_of(other) == content_of(workshop)
    assert (photographs_of(other) / "p2.jpg").read_bytes() == b"another picture"
    Database(other).close()


def test_a_copy_made_while_somebody_writes_is_one_moment_of_it(workshop, tmp_path):
    stop = threading.Event()
    database = Database(workshop)

    def name_both(number):
        with database.writing() as session:
            session.connection().exec_driver_sql(
                "UPDATE engines SET name = ? WHERE id IN ('resurfacer-1', 'resurfacer-2')",
                (f"Name {number}",),
            )
            session.commit()

    def write():
        number = 1
        while not stop.is_set():
            name_both(number)
            number += 1

    name_both(0)
    writer = threading.Thread(target=write)
    writer.start()
    try:
        copies = [make_copy(workshop, tmp_path / "copies", now=NOW + timedelta(days=n)) for n in range(3)]
    finally:
        stop.set()
        writer.join()
        database.close()
    for copy in copies:
        checked_copy(copy)
        connection = sqlite3.connect(copy / "pronostico.sqlite")
        names = {
            name for (name,) in connection.execute("SELECT name FROM engines WHERE id LIKE 'resurfacer%'")
        }
        connection.close()
        # Both names were changed in one transaction: never the one without the other.
        assert len(names) == 1


def test_each_photograph_is_kept_once_and_goes_with_its_last_copy(workshop, tmp_path):
    folder = tmp_path / "copies"
    make_copy(workshop, folder, now=NOW - timedelta(hours=2))
    (photographs_of(workshop) / "p2.jpg").unlink()
    (photographs_of(workshop) / "p3.jpg").write_bytes(b"one picture")
    # The earlier one of the same day is not kept, and so neither is the picture that it alone had.
    make_copy(workshop, folder, now=NOW)
    assert len(list((folder / "photographs").iterdir())) == 1
    assert [path.name for path in folder.iterdir() if path.name != "photographs"] == ["20261128T120000Z"]


@pytest.mark.parametrize("what", ["database", "row", "picture", "manifest"])
def test_a_copy_that_is_not_as_it_was_is_refused_and_nothing_is_replaced(workshop, tmp_path, what):
    copy = make_copy(workshop, tmp_path / "copies", now=NOW)
    if what == "database":
        (copy / "pronostico.sqlite").write_bytes(b"x" * 5000)
    elif what == "row":
        connection = sqlite3.connect(copy / "pronostico.sqlite")
        connection.execute("DELETE FROM tries WHERE rowid IN (SELECT rowid FROM tries LIMIT 1)")
        connection.commit()
        connection.close()
    elif what == "picture":
        next((tmp_path / "copies" / "photographs").iterdir()).write_bytes(b"other")
    else:
        (copy / "manifest.json").unlink()
    before = content_of(workshop)
    with pytest.raises(Refused):
        restore_copy(copy, workshop, now=NOW)
    assert content_of(workshop) == before


def test_what_a_restore_replaces_is_kept(workshop, tmp_path):
    copy = make_copy(workshop, tmp_path / "copies", now=NOW)
    Database(workshop).close()
    connection = sqlite3.connect(workshop)
    connection.execute("UPDATE engines SET name = 'Later' WHERE id = 'quad'")
    connection.commit()
    connection.close()
    later = content_of(workshop)
    replaced = restore_copy(copy, workshop, now=NOW)
    assert "Later" not in repr(content_of(workshop)["engines"])
    assert content_of(replaced / workshop.name) == later
    assert (replaced / photographs_of(workshop).name / "p1.jpg").is_file()


def test_a_workshop_in_use_is_not_replaced(workshop, tmp_path):
    copy = make_copy(workshop, tmp_path / "copies", now=NOW)
    opened = Database(workshop)
    try:
        with opened.reading() as session:
            session.connection().exec_driver_sql("SELECT count(*) FROM engines").all()
            with pytest.raises(Refused, match="in use"):
                restore_copy(copy, workshop, now=NOW)
    finally:
        opened.close()


def test_what_is_damaged_can_be_replaced_and_is_kept_too(workshop, tmp_path):
    copy = make_copy(workshop, tmp_path / "copies", now=NOW)
    broken = tmp_path / "broken.sqlite"
    broken.write_bytes(b"no database" * 100)
    replaced = restore_copy(copy, broken, now=NOW)
    assert (replaced / "broken.sqlite").read_bytes() == b"no database" * 100
    assert content_of(broken) == content_of(workshop)


def test_the_rule_keeps_seven_days_four_weeks_and_twelve_months():
    made = [NOW - timedelta(days=n, hours=h) for n in range(800) for h in (0, 5)]
    kept = sorted(kept_by_rule(made), reverse=True)
    assert kept[:7] == [NOW - timedelta(days=n) for n in range(7)]
    assert len(kept) <= 7 + 4 + 12
    assert len({(at.year, at.month) for at in kept}) == 12
    assert kept_by_rule([]) == set()


def test_sound_recordings_are_copied_missed_and_restored_like_photographs(workshop, tmp_path):
    sounds = recordings_of(workshop)
    sounds.mkdir()
    (sounds / "a.flac").write_bytes(b"fLaC")
    copy = make_copy(workshop, tmp_path / "copies", now=NOW)
    (shelved,) = checked_copy(copy).recordings.values()
    other = tmp_path / "other" / "w.sqlite"
    restore_copy(copy, other, now=NOW)
    assert (recordings_of(other) / "a.flac").read_bytes() == b"fLaC"
    (tmp_path / "copies" / "recordings" / shelved).unlink()
    with pytest.raises(Refused, match=r"sound recording a\.flac is missing"):
        checked_copy(copy)


def test_the_commands_say_what_was_copied_and_what_was_kept(workshop, tmp_path):
    run = CliRunner().invoke
    made = run(cli.app, ["backup", str(tmp_path / "copies"), "--database", str(workshop)])
    assert made.exit_code == 0 and "8 engines" in made.output
    assert "2 photographs, 0 sound recordings; checked" in made.output
    (copy,) = (one for one in (tmp_path / "copies").iterdir() if one.name != "photographs")
    back = run(cli.app, ["restore", str(copy), "--database", str(workshop)])
    assert back.exit_code == 0 and "is kept in" in back.output
    wrong = run(cli.app, ["restore", str(tmp_path), "--database", str(workshop)])
    assert wrong.exit_code == 1 and "no copy of a workshop" in wrong.output
    shutil.rmtree(tmp_path / "copies")
    (tmp_path / "copies").write_text("a file", "utf-8")
    full = run(cli.app, ["backup", str(tmp_path / "copies"), "--database", str(workshop)])
    assert full.exit_code == 1 and "cannot be used" in full.output


def test_the_bench_is_told_when_the_last_copy_was_made(client, tmp_path):
    assert client.get("/api/backup/copies").json()["last"] is None
    make_copy(client.app.state.database.path, tmp_path / "copies", now=NOW)
    told = client.get("/api/backup/copies").json()["last"]
    assert told["made_at"].startswith("2026-11-28T12:00:00") and told["folder"].endswith("copies")


def test_a_disk_that_does_not_take_it_is_told_and_what_was_there_is_kept(workshop, tmp_path, monkeypatch):
    copy = make_copy(workshop, tmp_path / "copies", now=NOW)
    before = content_of(workshop)

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(shutil, "copyfile", full)
    with pytest.raises(Refused, match="No space left"):
        restore_copy(copy, workshop, now=NOW)
    (aside,) = workshop.parent.glob("*-replaced-*")
    assert content_of(aside / workshop.name) == before
