"""What the columns of a sheet were when it was imported, remembered for the next with the same heads."""

import hashlib
import json
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict
from sqlalchemy.orm import Session

from pronostico.services.exchange.spreadsheet.cells import DateOrder, Unit
from pronostico.services.exchange.spreadsheet.columns import Role
from pronostico.services.exchange.spreadsheet.understood import Choices
from pronostico.services.exchange.spreadsheet.wide import ValveColumn, What
from pronostico.store.sheet_mappings import put_sheet_mapping, sheet_mapping


class _KeptValveColumn(BaseModel):
    index: int
    valve: str
    what: What


class _Kept(BaseModel):
    """As it is stored."""

    model_config = ConfigDict(extra="forbid")

    columns: dict[Role, int]
    of_valves: list[_KeptValveColumn]
    unit: Unit | None
    dates: DateOrder | None


@dataclass(frozen=True, slots=True)
class Mapping:
    """What the columns of a sheet are, and how its figures and dates are written."""

    columns: dict[Role, int]
    of_valves: tuple[ValveColumn, ...]
    unit: Unit | None
    dates: DateOrder | None


def _digest(head: tuple[str, ...]) -> str:
    """A head as it is found again: case and spaces do not matter."""
    folded = [" ".join(name.casefold().split()) for name in head]
    return hashlib.sha256(json.dumps(folded).encode()).hexdigest()


def mapping_of(session: Session, head: tuple[str, ...]) -> Mapping | None:
    """What is remembered of a sheet with these heads; None where none was imported."""
    data = sheet_mapping(session, _digest(head))
    if data is None:
        return None
    kept = _Kept.model_validate(data)
    of_valves = tuple(ValveColumn(one.index, one.valve, one.what) for one in kept.of_valves)
    return Mapping(kept.columns, of_valves, kept.unit, kept.dates)


def remember_mapping(session: Session, head: tuple[str, ...], choices: Choices) -> None:
    """Remember what the columns of a sheet were."""
    kept = _Kept(
        columns=choices.columns or {},
        of_valves=[
            _KeptValveColumn(index=one.index, valve=one.valve, what=one.what) for one in choices.of_valves
        ],
        unit=choices.unit,
        dates=choices.dates,
    )
    put_sheet_mapping(session, _digest(head), kept.model_dump(mode="json"))
