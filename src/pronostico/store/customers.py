"""Customers, and which engine is whose."""

from collections import defaultdict

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from pronostico.record.customer import Customer
from pronostico.store.hiding import REMOVED_TOO
from pronostico.store.rows import BY_NAME
from pronostico.store.tables import CustomerRow, EngineRow


def _customer(row: CustomerRow) -> Customer:
    return Customer.model_validate({**row.data, "name": row.name})


def customers(session: Session) -> list[tuple[str, Customer]]:
    """All of them with their identifiers, by name."""
    rows = session.scalars(select(CustomerRow).order_by(func.lower(CustomerRow.name), CustomerRow.id))
    return [(row.id, _customer(row)) for row in rows]


def customer(session: Session, customer_id: str) -> Customer | None:
    """One of them; None where there is none of that identifier."""
    row = session.get(CustomerRow, customer_id)
    return None if row is None else _customer(row)


def put_customer(session: Session, customer_id: str, one: Customer) -> None:
    """A customer in place of what was known of them, or a new one."""
    row = session.get(CustomerRow, customer_id)
    data = one.model_dump(mode="json", exclude={"name"}, exclude_defaults=True)
    if row is None:
        session.add(CustomerRow(id=customer_id, name=one.name, data=data))
    else:
        row.name, row.data = one.name, data


def remove_customer(session: Session, customer_id: str) -> None:
    """Forget a customer who has no engines."""
    session.execute(delete(CustomerRow).where(CustomerRow.id == customer_id))


def engines_by_customer(session: Session) -> dict[str, list[tuple[str, str]]]:
    """Identifier and name of every engine that has a customer, by customer and name."""
    engines: dict[str, list[tuple[str, str]]] = defaultdict(list)
    rows = session.execute(
        select(EngineRow.customer_id, EngineRow.id, EngineRow.name)
        .where(EngineRow.customer_id.is_not(None))
        .order_by(*BY_NAME)
    )
    for customer_id, engine_id, name in rows:
        if customer_id is not None:
            engines[customer_id].append((engine_id, name or engine_id))
    return engines


def has_engines(session: Session, customer_id: str) -> bool:
    """Whether any engine is a customer's, the bin's among them."""
    known = select(EngineRow.id).where(EngineRow.customer_id == customer_id).limit(1)
    return session.scalar(known, execution_options=REMOVED_TOO) is not None


def customer_of(session: Session, engine_id: str) -> str | None:
    """The identifier of an engine's customer."""
    return session.scalar(select(EngineRow.customer_id).where(EngineRow.id == engine_id))


def customer_names(session: Session) -> dict[str, str]:
    """The customer's name for every engine that has one."""
    rows = session.execute(
        select(EngineRow.id, CustomerRow.name)
        .select_from(EngineRow)
        .join(CustomerRow, CustomerRow.id == EngineRow.customer_id)
    )
    return dict(rows.all())


def set_customer(session: Session, engine_id: str, customer_id: str | None) -> None:
    """Have an engine be a customer's, or nobody's; the engine must be there."""
    session.get_one(EngineRow, engine_id).customer_id = customer_id


def plate_photograph(session: Session, engine_id: str) -> str | None:
    """The file of the photograph of an engine's plate."""
    return session.scalar(select(EngineRow.plate_photograph).where(EngineRow.id == engine_id))


def plate_photographs(session: Session) -> dict[str, str]:
    """The files of all such photographs, by engine."""
    rows = session.execute(
        select(EngineRow.id, EngineRow.plate_photograph).where(EngineRow.plate_photograph.is_not(None))
    )
    return {engine_id: file for engine_id, file in rows if file is not None}


def set_plate_photograph(session: Session, engine_id: str, file: str | None) -> None:
    """Have a file be the photograph of an engine's plate, or none; the engine must be there."""
    session.get_one(EngineRow, engine_id).plate_photograph = file
