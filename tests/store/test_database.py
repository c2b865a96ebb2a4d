"""The tables: migrated to what the code expects, safe against loss, records in and out unchanged."""

import json
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib.resources import files

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import create_engine, select, text
from sqlalchemy.exc import IntegrityError

from pronostico.record.models import Record
from pronostico.store.blade_sets import blade_sets
from pronostico.store.database import Database
from pronostico.store.records import add_record, load_record
from pronostico.store.shim_box import shim_box
from pronostico.store.tables import Base, ReadingRow, VisitRow
from tests.builders import record_document
from tests.record.test_older import TRACE

NOW = datetime(2026, 1, 1, tzinfo=UTC)


@pytest.fixture
def database(tmp_path):
    opened = Database(tmp_path / "shop.sqlite")
    yield opened
    opened.close()


def test_migrations_make_the_tables_that_the_code_expects(database):
    engine = create_engine(f"sqlite:///{database.path}")
    with engine.connect() as connection:
        differences = compare_metadata(MigrationContext.configure(connection), Base.metadata)
    engine.dispose()
    assert differences == []


def test_opening_again_changes_nothing_and_keeps_everything(database):
    record = Record.model_validate(record_document(), strict=False)
    with database.writing() as session:
        add_record(session, record, now=NOW)
        session.commit()
    again = Database(database.path)
    with again.reading() as session:
        assert load_record(session, "mule") == record
    again.close()


def test_the_disk_is_waited_for_and_dangling_rows_are_refused(database):
    with database.writing() as session:
        pragmas = {name: session.scalar(text(f"PRAGMA {name}")) for name in ("journal_mode", "synchronous")}
        assert pragmas == {"journal_mode": "wal", "synchronous": 2}
        session.add(ReadingRow(visit_pk=99, position=0, valve="1I", phase="found", data={}))
        with pytest.raises(IntegrityError):
            session.flush()


def test_what_was_not_committed_is_not_there(database):
    with database.writing() as session:
        add_record(session, Record.model_validate(record_document(), strict=False), now=NOW)
    with database.reading() as session:
        assert load_record(session, "mule") is None


felt = st.sampled_from(["no-go", "drag", "free", "go"])
blades = st.lists(st.floats(0.01, 3.0), min_size=1, max_size=3)
one_try = st.fixed_dictionaries({"blades_mm": blades, "felt": felt})
reading = st.fixed_dictionaries(
    {
        "valve": st.sampled_from(["1I", "1E", "2I", "2E"]),
        "phase": st.sampled_from(["found", "left"]),
        "tries": st.lists(one_try, min_size=1, max_size=3),
    },
    optional={"access": st.sampled_from(["straight", "awkward"]), "entered": st.text(max_size=5)},
)


@given(readings=st.lists(reading, max_size=5), notes=st.text(max_size=20), usage=st.floats(200, 1e6))
@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_visit_comes_out_as_it_went_in(database, readings, notes, usage):
    document = record_document()
    document["engine"]["id"] = f"e{abs(hash((notes, usage, str(readings))))}"
    document["visits"][1].update(readings=readings, notes=notes, usage=usage)
    record = Record.model_validate(document, strict=False)
    with database.writing() as session:
        if load_record(session, record.engine.id) is None:
            add_record(session, record, now=NOW)
            session.commit()
        assert load_record(session, record.engine.id) == record


@contextmanager
def older_database(path, revision):
    """A database as an earlier version made it, to be filled through the connection."""
    engine = create_engine(f"sqlite:///{path}")
    config = Config()
    config.set_main_option("script_location", str(files("pronostico.store") / "migrations"))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
        yield connection
    engine.dispose()


def test_findings_of_older_visits_move_to_their_table_and_blades_are_shelved(tmp_path):
    path = tmp_path / "old.sqlite"
    with older_database(path, "0001") as connection:
        data = json.dumps({"usage_unit": "h", "notes": "kept"})
        blades = json.dumps({"id": "s", "name": "S", "blades_mm": [0.1]})
        for name in "ab":
            connection.execute(
                text("INSERT INTO engines (id, data, gauge_set) VALUES (:id, :data, :blades)"),
                {"id": name, "data": data, "blades": blades},
            )
        visit = json.dumps({"notes": "n", "findings": [{"id": "tick", "state": "present"}]})
        connection.execute(
            text(
                "INSERT INTO visits (pk, engine_id, visit_id, position, day, usage, data) "
                "VALUES (1, 'a', 'v1', 0, '2025-01-01', 1.0, :data), "
                "(2, 'a', 'v2', 1, '2025-01-02', 2.0, '{}')"
            ),
            {"data": visit},
        )
    opened = Database(path)
    with opened.reading() as session:
        row, other = session.scalars(select(VisitRow).order_by(VisitRow.pk)).all()
        # What is kept in memory goes by it.
        assert 0 not in (row.stamp, other.stamp) and row.stamp != other.stamp
        assert [(one.finding, one.data["state"]) for one in row.findings] == [("tick", "present")]
        assert row.data == {"notes": "n"}
        assert [one.name for one in blade_sets(session)] == ["S"]
    opened.close()


def test_the_engines_copies_of_the_shim_box_become_one_box(tmp_path):
    path = tmp_path / "old.sqlite"
    with older_database(path, "0002") as connection:
        for name, count in (("a", 2), ("b", 3)):
            box = json.dumps(
                [{"shim_mm": 2.4, "count": count, "diameter_mm": 9.0}, {"shim_mm": 2.5, "count": 1}]
            )
            connection.execute(
                text("INSERT INTO engines (id, data, shim_box) VALUES (:id, '{}', :box)"),
                {"id": name, "box": box},
            )
    opened = Database(path)
    with opened.reading() as session:
        assert [(one.shim_mm, one.diameter_mm, one.count) for one in shim_box(session)] == [
            (2.5, None, 1),
            (2.4, 9.0, 3),
        ]
    opened.close()


def test_what_stood_among_what_was_typed_moves_to_fields_and_traces_to_their_table(tmp_path):
    path = tmp_path / "old.sqlite"
    trace = {**TRACE, "id": "t1"}
    with older_database(path, "0008") as connection:
        document = record_document()
        engine, valves = dict(document["engine"]), document["engine"]["valves"]
        for key in ("id", "name", "valves"):
            engine.pop(key, None)
        connection.execute(
            text("INSERT INTO engines (id, data, revision) VALUES ('mule', :data, 1)"),
            {"data": json.dumps(engine)},
        )
        for index, valve in enumerate(valves):
            rest = {key: value for key, value in valve.items() if key != "id"}
            connection.execute(
                text("INSERT INTO valves (engine_id, id, position, data) VALUES ('mule', :id, :at, :data)"),
                {"id": valve["id"], "at": index, "data": json.dumps(rest)},
            )
        entered = {"meter": 12.0, "ticks": ["cover"], "instruments": [trace], "odd": 1}
        connection.execute(
            text(
                "INSERT INTO visits (pk, engine_id, visit_id, position, day, usage, data) "
                "VALUES (1, 'mule', 'v1', 0, '2025-01-01', 1.0, :data)"
            ),
            {"data": json.dumps({"entered": entered})},
        )
        for at, kept in enumerate(
            ({"id": "s1", "source": "stock"}, {"id": "s1", "reason": "twice"}, "typed")
        ):
            data = json.dumps({"valve": "1E", "entered": kept})
            connection.execute(
                text("INSERT INTO settings (visit_pk, position, data) VALUES (1, :at, :data)"),
                {"at": at, "data": data},
            )
    opened = Database(path)
    with opened.reading() as session:
        visit = load_record(session, "mule").visits[0]
    opened.close()
    assert visit.entered == {"meter": 12.0, "odd": 1} and visit.ticks == ["cover"]
    assert [one.id for one in visit.traces] == ["t1"]
    assert visit.traces[0].samples == trace["samples"]
    assert [(one.id, one.shim_source, one.entered) for one in visit.settings] == [
        ("s1", "stock", None),
        (None, None, {"id": "s1", "reason": "twice"}),
        (None, None, "typed"),
    ]
