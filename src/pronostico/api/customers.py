"""Customers, and what an engine has beside its record: its customer, and a photograph of its plate."""

from typing import Annotated

from fastapi import APIRouter, Path
from fastapi.responses import FileResponse

from pronostico.api.deps import PhotographsDep, SessionDep, WriteSessionDep
from pronostico.api.models import NewIdentifier, RequestModel
from pronostico.api.pictures import PICTURE_BODY, PictureDep, picture_file
from pronostico.record.base import Identifier
from pronostico.record.customer import Customer
from pronostico.services.workshop import customers
from pronostico.services.workshop.customers import CustomerOut

router = APIRouter(tags=["customers"])
CustomerId = Annotated[NewIdentifier, Path()]


class CustomerIn(RequestModel):
    """A customer as typed; `was`: what the page showed before, so that nobody is overwritten unseen."""

    customer: Customer
    was: Customer | None = None


class EnginesCustomerIn(RequestModel):
    """Whose an engine is; null: nobody's."""

    customer: Identifier | None


@router.get("/customers")
def get_customers(session: SessionDep) -> list[CustomerOut]:
    """All customers with their engines, by name."""
    return customers.list_customers(session)


@router.put("/customers/{customer_id}")
def put_customer(customer_id: CustomerId, body: CustomerIn, session: WriteSessionDep) -> list[CustomerOut]:
    """Keep a customer."""
    customers.put_customer(session, customer_id, body.customer, shown=body.was)
    return customers.list_customers(session)


@router.delete("/customers/{customer_id}")
def delete_customer(customer_id: str, session: WriteSessionDep) -> list[CustomerOut]:
    """Forget a customer who has no engines."""
    customers.remove_customer(session, customer_id)
    return customers.list_customers(session)


@router.put("/engines/{engine_id}/customer")
def put_engines_customer(
    engine_id: str, body: EnginesCustomerIn, session: WriteSessionDep
) -> CustomerOut | None:
    """Say whose an engine is."""
    customers.set_customer(session, engine_id, body.customer)
    return customers.customer_of(session, engine_id)


@router.get("/engines/{engine_id}/plate-photograph", response_class=FileResponse)
def get_plate_photograph(engine_id: str, session: SessionDep, folder: PhotographsDep) -> FileResponse:
    """The photograph of an engine's plate."""
    return picture_file(customers.plate_file(session, engine_id, folder=folder), "image/jpeg")


@router.put("/engines/{engine_id}/plate-photograph", status_code=204, openapi_extra=PICTURE_BODY)
def put_plate_photograph(
    engine_id: str, picture: PictureDep, session: WriteSessionDep, folder: PhotographsDep
) -> None:
    """Keep a photograph of an engine's plate, in place of the one before."""
    customers.put_plate(session, engine_id, picture, folder=folder)


@router.delete("/engines/{engine_id}/plate-photograph", status_code=204)
def delete_plate_photograph(engine_id: str, session: WriteSessionDep) -> None:
    """Have no photograph of an engine's plate."""
    customers.remove_plate(session, engine_id)
