"""Puts the demonstration into a folder: the database, and beside it each record with its truth."""

import json
from dataclasses import asdict
from datetime import date, datetime
from pathlib import Path

from pronostico.demo.machine import DemoMachine
from pronostico.demo.scenario import demo_machines
from pronostico.store.blade_sets import shelve_blades
from pronostico.store.database import Database
from pronostico.store.records import add_record


def _write_beside(folder: Path, machine: DemoMachine) -> None:
    name = machine.record.engine.id
    record = machine.record.model_dump_json(indent=2, exclude_none=True)
    (folder / f"{name}.record.json").write_text(record + "\n", "utf-8")
    truth = {
        "valves": [asdict(valve) for valve in machine.truths],
        "clearances": [asdict(clearance) for clearance in machine.true_clearances],
    }
    (folder / f"{name}.truth.json").write_text(json.dumps(truth, indent=2) + "\n", "utf-8")


def seed_demo(folder: Path, *, today: date, now: datetime) -> Path:
    """Make the demonstration in an empty folder and return the path of its database."""
    path = folder / "demo.sqlite"
    database = Database(path)
    with database.writing() as session:
        for machine in demo_machines(today):
            add_record(session, machine.record, now=now)
            if machine.record.gauge_set is not None:
                shelve_blades(session, machine.record.gauge_set)
            _write_beside(folder, machine)
        session.commit()
    database.close()
    return path
