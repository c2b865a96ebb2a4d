"""A backup file prepared aside and put in at once: what others do meanwhile is neither held up nor lost."""

import json
from datetime import UTC, datetime

import pytest

from pronostico.errors import Refused, Stale
from pronostico.record.reading_in import read_record
from pronostico.record.visit import TryModel
from pronostico.services.exchange import restore
from pronostico.services.exchange.backup import write_backup
from pronostico.services.exchange.restore import BackupImport, import_backup
from pronostico.services.visits.answers import note_try
from pronostico.settings import folders_of
from pronostico.store import records
from pronostico.store.audit import ACTING, Acting, trail
from pronostico.store.results import changes_of
from tests.builders import TODAY, record_document
from tests.databases import opened

NOW = datetime(2026, 6, 1, 12, tzinfo=UTC)


def record_of(engine_id, *, more=0):
    """A record, with more visits between its first and its second."""
    document = record_document()
    document["engine"]["id"] = engine_id
    first, *rest = document["visits"]
    between = [
        {**first, "id": f"x{n}", "usage": first["usage"] + n, "settings": []} for n in range(1, more + 1)
    ]
    return read_record(json.dumps({**document, "visits": [first, *between, *rest]}), today=TODAY)


def workshop(path, *kept):
    database = opened(path / "shop.sqlite")
    with database.writing() as session:
        for one in kept:
            records.add_record(session, one, now=NOW)
        session.commit()
    return database


@pytest.fixture
def task(tmp_path):
    """A file with three engines, one of them with two more visits than elsewhere."""
    database = workshop(tmp_path / "from", record_of("a", more=2), record_of("b"), record_of("c"))
    file = tmp_path / "saved.zip"
    with database.reading() as session:
        write_backup(session, file, today=TODAY, folders=folders_of(tmp_path / "p"), knowledge=tmp_path / "k")
    database.close()
    return BackupImport(file, folders_of(tmp_path / "into" / "p"), tmp_path / "k", TODAY, NOW)


@pytest.fixture
def into(tmp_path):
    database = workshop(tmp_path / "into", record_of("a"), record_of("z"))
    yield database
    database.close()


def kept_in(database):
    with database.reading() as session:
        return {name: records.load_record(session, name) for name, _, _ in records.engine_names(session)}


def answer(database, number):
    """Somebody measures engine a."""
    with database.writing() as session:
        one = TryModel(blades_mm=[0.1], felt="free")
        note_try(session, "a", "v1", f"t{number}", valve="2E", phase="found", one=one, now=NOW)


def changing(database, monkeypatch, times):
    """Somebody measures just before the file is put in, so many times."""
    put_in, left = restore._put_in, list(range(times))

    def after_another_answer(into, prepared):
        if left:
            answer(database, left.pop())
        put_in(into, prepared)

    monkeypatch.setattr(restore, "_put_in", after_another_answer)


def test_new_engines_and_new_visits_stand_where_they_would_have_been_written(task, into):
    told = import_backup(into, task)
    assert {one.id: (one.state, one.visits) for one in told.engines} == {
        "a": ("changed", 2),
        "b": ("new", 2),
        "c": ("new", 2),
    }
    kept = kept_in(into)
    for engine_id in "abcz":
        whole = record_of(engine_id, more=2 if engine_id == "a" else 0)
        assert kept[engine_id].visits == whole.visits
        assert kept[engine_id].cases == whole.cases
        assert kept[engine_id].engine == whole.engine
    # Again, it is all there.
    assert import_backup(into, task).same == 3


def test_what_was_added_is_computed_anew(task, into):
    with into.reading() as session:
        changes = changes_of(session, "a")
    import_backup(into, task)
    with into.reading() as session:
        assert changes_of(session, "a") > changes


def test_an_engine_that_was_changed_meanwhile_is_compared_again(task, into, monkeypatch):
    """The answer of the other makes the visit differ: it is refused and nothing of it is stored."""
    changing(into, monkeypatch, 1)
    with pytest.raises(Refused, match="visit v1 differs from yours; yours is kept"):
        import_backup(into, task)
    assert set(kept_in(into)) == {"a", "z"}
    assert not list(task.folders.photographs.parent.glob(".incoming-*"))


def test_engines_that_are_never_left_alone_are_said_to_be_worked_on(task, into, monkeypatch):
    monkeypatch.setattr(restore, "_put_in", lambda *_: (_ for _ in ()).throw(restore.ChangedMeanwhile))
    with pytest.raises(Stale, match="import it again"):
        import_backup(into, task)
    assert set(kept_in(into)) == {"a", "z"}


def test_a_new_engine_of_the_same_name_that_came_meanwhile_is_compared(task, into, monkeypatch):
    put_in, came = restore._put_in, []

    def after_another_import(database, prepared):
        if not came:
            came.append(True)
            with database.writing() as session:
                records.add_record(session, record_of("b"), now=NOW)
                session.commit()
        put_in(database, prepared)

    monkeypatch.setattr(restore, "_put_in", after_another_import)
    told = import_backup(into, task)
    assert told.same == 1
    assert set(kept_in(into)) == {"a", "b", "c", "z"}


def test_others_save_answers_while_a_file_is_compared(task, into):
    """Comparing holds no lock: an answer at each engine that was compared goes straight through."""
    import_backup(into, task, lambda done, _total: answer_elsewhere(into, done))
    visit = kept_in(into)["z"].visits[0]
    assert sum(len(one.tries) for one in visit.readings if one.valve == "2E") == 3


def answer_elsewhere(database, number):
    with database.writing() as session:
        one = TryModel(blades_mm=[0.1], felt="free")
        note_try(session, "z", "v1", f"z{number}", valve="2E", phase="found", one=one, now=NOW)


def test_a_large_file_is_read_in_a_process_of_its_own(task, into, monkeypatch):
    monkeypatch.setattr(restore, "ARCHIVE_HERE_BYTES", 100)
    told = []
    assert len(import_backup(into, task, lambda *far: told.append(far)).engines) == 3
    assert told == [(1, 3), (2, 3), (3, 3)]
    assert set(kept_in(into)) == {"a", "b", "c", "z"}


def test_an_import_says_who_made_it(task, into):
    before = ACTING.set(Acting("p1", "Mira Sand", "desk", route="post_backup"))
    try:
        import_backup(into, task)
    finally:
        ACTING.reset(before)
    with into.reading() as session:
        assert [(one.person, one.route) for one in trail(session, None)] == [("Mira Sand", "post_backup")]
