"""Customers: who they are, which engines are theirs, and the photograph of an engine's plate."""

from pathlib import Path

from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.errors import NotThere, Refused
from pronostico.record.customer import Customer
from pronostico.record.faults import Fault
from pronostico.services.merging import merged
from pronostico.services.pictures import Picture, put_in_place
from pronostico.store import customers as store
from pronostico.store import records


class CustomersEngineOut(ReportModel):
    """An engine of a customer."""

    id: str
    name: str


class CustomerOut(ReportModel):
    """A customer, with their engines by name."""

    id: str
    name: str
    telephone: str
    email: str
    address: str
    note: str
    engines: list[CustomersEngineOut]


def _out(id: str, one: Customer, engines: dict[str, list[tuple[str, str]]]) -> CustomerOut:
    own = [CustomersEngineOut(id=engine, name=name) for engine, name in engines.get(id, [])]
    return CustomerOut(id=id, engines=own, **one.model_dump())


def list_customers(session: Session) -> list[CustomerOut]:
    """All customers, by name."""
    engines = store.engines_by_customer(session)
    return [_out(id, one, engines) for id, one in store.customers(session)]


def customer_of(session: Session, engine_id: str) -> CustomerOut | None:
    """The customer whose an engine is; None where nobody was named."""
    id = store.customer_of(session, engine_id)
    one = None if id is None else store.customer(session, id)
    return None if id is None or one is None else _out(id, one, store.engines_by_customer(session))


def customer_line(session: Session, engine_id: str) -> str | None:
    """Whose an engine is, with how to reach them, on one line."""
    one = customer_of(session, engine_id)
    if one is None:
        return None
    return ", ".join(filter(None, (one.name, one.telephone, one.email, *one.address.split("\n"))))


def put_customer(session: Session, customer_id: str, new: Customer, *, shown: Customer | None = None) -> None:
    """Keep a customer, in place of what was known of them, or a new one.

    Args:
        shown: what the page showed before; None: it did not say, or they are new.

    Raises:
        Stale: somebody else changed the same line meanwhile.
    """
    there = store.customer(session, customer_id)
    if there is not None and shown is not None:
        new = Customer.model_validate(merged(there.model_dump(), shown.model_dump(), new.model_dump()))
    store.put_customer(session, customer_id, new)
    session.commit()


def remove_customer(session: Session, customer_id: str) -> None:
    """Forget a customer; sent twice it is done once.

    Raises:
        Refused: they have engines.
    """
    if store.has_engines(session, customer_id):
        message = "has engines here or in the bin: name another customer for them, or delete them, first"
        raise Refused([Fault("$", message)])
    store.remove_customer(session, customer_id)
    session.commit()


def set_customer(session: Session, engine_id: str, customer_id: str | None) -> None:
    """Have an engine be a customer's, or nobody's.

    Raises:
        NotThere: there is no such engine or customer.
    """
    _check_engine(session, engine_id)
    if customer_id is not None and store.customer(session, customer_id) is None:
        raise NotThere("customer", customer_id)
    store.set_customer(session, engine_id, customer_id)
    session.commit()


def _check_engine(session: Session, engine_id: str) -> None:
    if records.engine_revision(session, engine_id) is None:
        raise NotThere("engine", engine_id)


def put_plate(session: Session, engine_id: str, picture: Picture, *, folder: Path) -> None:
    """Keep a photograph of an engine's plate, in place of the one before.

    Raises:
        NotThere: there is no such engine.
    """
    _check_engine(session, engine_id)
    put_in_place(picture, folder)
    store.set_plate_photograph(session, engine_id, picture.name)
    session.commit()


def remove_plate(session: Session, engine_id: str) -> None:
    """Have no photograph of an engine's plate; sent twice it is done once.

    Raises:
        NotThere: there is no such engine.
    """
    _check_engine(session, engine_id)
    store.set_plate_photograph(session, engine_id, None)
    session.commit()


def plate_file(session: Session, engine_id: str, *, folder: Path) -> Path:
    """The file of that photograph.

    Raises:
        NotThere: there is no such engine, or no photograph, or its file is gone.
    """
    _check_engine(session, engine_id)
    name = store.plate_photograph(session, engine_id)
    if name is None or not (folder / name).is_file():
        raise NotThere("photograph of the plate of", engine_id)
    return folder / name
