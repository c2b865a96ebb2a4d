"""Parts on order: shown, and as a file to print or to send."""

from typing import Any

from fastapi import APIRouter, Response

from pronostico.analysis.parts_order import OrderedPartOut, order_csv
from pronostico.api.deps import SessionDep, TodayDep
from pronostico.pdf import parts_order_pdf
from pronostico.services.workshop.orders import parts_on_order

router = APIRouter(tags=["orders"])
_CSV: dict[int | str, dict[str, Any]] = {200: {"content": {"text/csv": {"schema": {"type": "string"}}}}}


@router.get("/parts-on-order")
def get_parts_on_order(session: SessionDep) -> list[OrderedPartOut]:
    """Every part that work waits for."""
    return parts_on_order(session)


@router.get(
    "/parts-on-order.csv",
    response_class=Response,
    responses=_CSV,
)
def get_parts_on_order_csv(session: SessionDep) -> Response:
    """The same as CSV."""
    headers = {"content-disposition": 'attachment; filename="parts-on-order.csv"'}
    return Response(order_csv(parts_on_order(session)), media_type="text/csv; charset=utf-8", headers=headers)


@router.get(
    "/parts-on-order.pdf",
    response_class=Response,
    responses={200: {"content": {"application/pdf": {}}}, 501: {"description": "No PDF can be made here"}},
)
def get_parts_on_order_pdf(session: SessionDep, today: TodayDep) -> Response:
    """The same as PDF, one order for each source."""
    document = parts_order_pdf(parts_on_order(session), today=today)
    headers = {"content-disposition": 'inline; filename="parts-on-order.pdf"'}
    return Response(document, media_type="application/pdf", headers=headers)
