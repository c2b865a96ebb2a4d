"""What stood there before a change: the values that it replaced or removed."""

import json

from sqlalchemy import inspect
from sqlalchemy.orm import Session

from pronostico.store.tables import (
    Base,
    CaseFindingRow,
    CaseRow,
    CustomerRow,
    EngineRow,
    ReadingRow,
    SettingRow,
    ShimRow,
    ValveRow,
    VisitFindingRow,
    VisitRow,
    WorkshopRow,
)

# What people enter, by column; places, counts and what follows from other columns are not among it.
_ENTERED: dict[type[Base], tuple[str, ...]] = {
    CustomerRow: ("name", "data"),
    EngineRow: ("name", "data", "customer_id"),
    ValveRow: ("data",),
    VisitRow: ("day", "usage", "data"),
    VisitFindingRow: ("data",),
    ReadingRow: ("data",),
    SettingRow: ("data",),
    CaseRow: ("opened", "closed", "data"),
    CaseFindingRow: ("data",),
    ShimRow: ("count",),
    WorkshopRow: ("data",),
}
_LONGEST = 4_000


def _replaced(old: object, new: object, column: str) -> dict[str, object]:
    """The values of a column that are others now, by field; what was not known before is no earlier value."""
    if isinstance(old, dict):
        now = new if isinstance(new, dict) else {}
        return {name: value for name, value in old.items() if value is not None and now.get(name) != value}
    return {} if old is None or old == new else {column: old}


def earlier_values(session: Session) -> dict[str, object]:
    """What is about to be replaced or removed by what the session has not written yet, by field."""
    earlier: dict[str, object] = {}
    for row in session.dirty | session.deleted:
        columns = next((names for kind, names in _ENTERED.items() if isinstance(row, kind)), ())
        for column in columns:
            if row in session.deleted:
                earlier |= _replaced(getattr(row, column), None, column)
                continue
            history = inspect(row).attrs[column].history
            if history.deleted:
                earlier |= _replaced(history.deleted[0], getattr(row, column), column)
    return earlier


def as_text(earlier: dict[str, object]) -> str | None:
    """Earlier values as JSON; None where there are none, or more than anybody reads."""
    text = json.dumps(earlier, default=str, ensure_ascii=False)
    return text if earlier and len(text) <= _LONGEST else None
