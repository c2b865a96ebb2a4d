"""What a spreadsheet would bring, as it leaves for the page."""

from datetime import date
from typing import Literal

from pronostico.analysis.report_model import ReportModel
from pronostico.language import Text
from pronostico.record.visit import TryModel
from pronostico.services.exchange.spreadsheet.cells import DateOrder, Unit
from pronostico.services.exchange.spreadsheet.columns import Role
from pronostico.services.exchange.spreadsheet.sheet import Delimiter, Encoding

VisitState = Literal["new", "added to", "same"]


class ColumnOut(ReportModel):
    """A column of the sheet: its head, what it is taken for, and the first thing in it.

    `valve`: whose it is, where each valve has columns of its own.
    """

    index: int
    head: str
    role: Role | None
    valve: str | None
    example: str


class AmbiguityOut(ReportModel):
    """What has to be chosen before rows can be read."""

    setting: Literal["unit", "dates"]
    message: Text
    suggestion: str | None


class RowFaultOut(ReportModel):
    """Why a row cannot be taken: where it is in words, and the cell that may be said otherwise."""

    place: str
    line: int
    column: str
    message: Text
    index: int | None
    text: str


class RowOut(ReportModel):
    """A row as it was understood; thicknesses in mm."""

    place: str
    line: int
    valve: str
    day: date
    usage: float
    found: list[TryModel]
    left: list[TryModel]
    target_mm: float | None
    shim_mm: float | None


class VisitChangeOut(ReportModel):
    """What would become of one visit."""

    id: str
    date: date
    usage: float
    state: VisitState
    readings: int


class ReadingsOut(ReportModel):
    """What a spreadsheet would bring, or has brought.

    `sheets`: all of a workbook; `sheets_read`: those with the same heads, which are read. `remembered`: the
    columns are as they were when a sheet with these heads was imported. `missing`: what has to be among the
    columns. `fault_count` counts all, `faults` shows the first of them.
    """

    sheets: list[str]
    sheets_read: list[str]
    remembered: bool
    encoding: Encoding | None
    not_utf_8: int | None
    delimiter: Delimiter | None
    decimal_comma: bool
    unit: Unit | None
    dates: DateOrder | None
    columns: list[ColumnOut]
    missing: list[Text]
    ambiguities: list[AmbiguityOut]
    rows: int
    rows_good: int
    rows_empty: int
    rows_of_other_engines: int
    readings_new: int
    readings_same: int
    settings_new: int
    visits: list[VisitChangeOut]
    visit_count: int
    sample: list[RowOut]
    faults: list[RowFaultOut]
    fault_count: int
