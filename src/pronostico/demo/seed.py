"""Puts the demonstration into a folder: the database, and beside it each record with its truth."""

import json
from collections.abc import Container
from dataclasses import asdict
from datetime import date, datetime
from pathlib import Path

from sqlalchemy.orm import Session

from pronostico.demo.machine import DemoMachine
from pronostico.demo.scenario import demo_machines
from pronostico.record.customer import Customer
from pronostico.store.blade_sets import shelve_blades
from pronostico.store.customers import put_customer, set_customer
from pronostico.store.database import Database
from pronostico.store.records import add_record, engine_names


def _write_beside(folder: Path, machine: DemoMachine) -> None:
    name = machine.record.engine.id
    record = machine.record.model_dump_json(indent=2, exclude_none=True)
    (folder / f"{name}.record.json").write_text(record + "\n", "utf-8")
    truth = {
        "valves": [asdict(valve) for valve in machine.truths],
        "clearances": [asdict(clearance) for clearance in machine.true_clearances],
    }
    (folder / f"{name}.truth.json").write_text(json.dumps(truth, indent=2) + "\n", "utf-8")


_CUSTOMERS = {
    "hall": (
        Customer(name="Birch Hall ice rink", telephone="555 0114", email="rink@birch-hall.example"),
        ("resurfacer-1", "resurfacer-2"),
    ),
    "pass": (
        Customer(
            name="Kettle Pass lifts",
            telephone="555 0172",
            email="garage@kettle-pass.example",
            address="Valley station, Kettle Pass road",
            note="The garage opens at six.",
        ),
        ("groomer", "gun-pump", "standby-drive"),
    ),
}
"""Whose the engines are: the customer, and the engines' identifiers."""


def _add_customers(session: Session, engines: Container[str]) -> None:
    for customer_id, (customer, own) in _CUSTOMERS.items():
        put_customer(session, customer_id, customer)
        for engine_id in own:
            if engine_id in engines:
                set_customer(session, engine_id, customer_id)


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
        session.flush()
        _add_customers(session, {id for id, _, _ in engine_names(session)})
        session.commit()
    database.close()
    return path
