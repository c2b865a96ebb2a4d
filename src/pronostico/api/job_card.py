"""The job card of a visit, for the page and as PDF."""

from fastapi import APIRouter, Response

from pronostico.analysis.job_card import JobCardOut, job_card
from pronostico.api.deps import PhotographsDep, SessionDep
from pronostico.pdf import LengthUnit, job_card_pdf
from pronostico.services.engines.load import engine_record
from pronostico.services.settings import workshop_settings
from pronostico.services.visits import photographs
from pronostico.services.workshop.customers import customer_line

router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}", tags=["visits"])


@router.get("/card")
def get_card(engine_id: str, visit_id: str, session: SessionDep) -> JobCardOut:
    """The job card: what was found and done, what it cost, what comes next."""
    record, workshop = engine_record(session, engine_id), workshop_settings(session)
    return job_card(record, visit_id, workshop, customer=customer_line(session, engine_id))


@router.get(
    "/card.pdf",
    response_class=Response,
    responses={200: {"content": {"application/pdf": {}}}, 501: {"description": "No PDF can be made here"}},
)
def get_card_pdf(
    engine_id: str, visit_id: str, session: SessionDep, folder: PhotographsDep, unit: LengthUnit = "mm"
) -> Response:
    """The job card as PDF."""
    workshop = workshop_settings(session)
    record, customer = engine_record(session, engine_id), customer_line(session, engine_id)
    card = job_card(record, visit_id, workshop, customer=customer)
    pictures = photographs.on_card(session, engine_id, visit_id, folder=folder)
    document = job_card_pdf(card, unit=unit, gauges=workshop, pictures=pictures)
    headers = {"content-disposition": 'inline; filename="job-card.pdf"'}
    return Response(document, media_type="application/pdf", headers=headers)
