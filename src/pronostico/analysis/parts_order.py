"""Parts on order: what is waited for, for which visit, from whom; as lines of an order and as a table."""

from collections.abc import Iterable
from datetime import date

from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.tables.table import Column, Table, csv_text


class OrderedPartOut(ReportModel):
    """A part that has not come. `index`: which of its visit's parts it is."""

    engine: str
    name: str
    visit: str
    index: int
    what: str
    count: int
    shim_mm: float | None
    diameter_mm: float | None
    source: str
    ordered: date | None


TABLE = Table(
    "parts-on-order",
    "Parts on order",
    (
        Column("part", "string", "what is ordered", needed=True),
        Column("count", "integer", "how many", needed=True),
        Column("shim_mm", "number", "thickness of a shim, mm"),
        Column("diameter_mm", "number", "its diameter, mm"),
        Column("source", "string", "from whom"),
        Column("ordered", "date", "on which day"),
        Column("engine", "string", "for which engine", needed=True),
        Column("visit", "string", "for which visit", needed=True),
    ),
    ("engine", "visit", "part"),
)


def order_csv(parts: Iterable[OrderedPartOut]) -> str:
    """The parts as CSV."""
    return csv_text(
        TABLE,
        (
            (
                one.what,
                one.count,
                one.shim_mm,
                one.diameter_mm,
                one.source,
                None if one.ordered is None else one.ordered.isoformat(),
                one.name,
                one.visit,
            )
            for one in parts
        ),
    )
