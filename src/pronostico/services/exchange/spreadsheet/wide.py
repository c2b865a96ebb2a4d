"""A sheet with one row a visit and one column a valve, turned into one with a row for each valve."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Literal, get_args

from pronostico.services.exchange.spreadsheet.cells import CellFault, Valves
from pronostico.services.exchange.spreadsheet.columns import Role, plain_head
from pronostico.services.exchange.spreadsheet.sheet import Origin, Sheet

What = Literal["clearance", "left", "went", "refused", "target", "shim_before", "shim"]
WHATS: tuple[What, ...] = get_args(What)
_LEFT = frozenset(
    (
        "left",
        "after",
        "nachher",
        "nach",
        "eingestellt",
        "dopo",
        "lasciato",
        "regolato",
        "apres",
        "laisse",
        "despues",
        "dejado",
        "achtergelaten",
    )
)
_FOUND = frozenset(
    (
        "found",
        "before",
        "as",
        "gefunden",
        "vorher",
        "vor",
        "ist",
        "trovato",
        "prima",
        "avant",
        "trouve",
        "antes",
        "gevonden",
    )
)
_SHIM = frozenset(
    (
        "shim",
        "scheibe",
        "plaettchen",
        "pastiglia",
        "pasticca",
        "spessore",
        "pastille",
        "pastilla",
    )
)
_TARGET = frozenset(
    (
        "target",
        "set",
        "soll",
        "consigne",
        "obiettivo",
    )
)
_WENT, _REFUSED = frozenset(("went", "goes")), frozenset(("refused", "nogo"))
_NOISE = frozenset(
    (
        "mm",
        "in",
        "thou",
        "inch",
        "th",
        "clearance",
        "gap",
        "lash",
        "spiel",
        "ventilspiel",
        "gioco",
        "jeu",
        "juego",
        "spalt",
        "luft",
        "to",
        "fitted",
        "cold",
        "kalt",
    )
)


@dataclass(frozen=True, slots=True)
class ValveColumn:
    """A column of one valve, and what stands in it."""

    index: int
    valve: str
    what: What


def _column(index: int, head: str, valves: Valves) -> ValveColumn | None:
    words = plain_head(head, digits=True).split()
    found = _FOUND & set(words)
    what: What = "clearance"
    for marks, meant in (
        (_SHIM, "shim"),
        (_LEFT, "left"),
        (_TARGET, "target"),
        (_REFUSED, "refused"),
        (_WENT, "went"),
    ):
        if marks & set(words):
            what = meant  # type: ignore[assignment]
            break
    if what == "shim" and found:
        what = "shim_before"
    said = _LEFT | _FOUND | _SHIM | _TARGET | _WENT | _REFUSED | _NOISE
    name = " ".join(word for word in words if word not in said)
    try:
        return ValveColumn(index, valves.named(name), what)
    except CellFault:
        return None


def valve_columns(head: Iterable[str], valves: Valves) -> list[ValveColumn]:
    """The columns that are one valve's; none where the sheet has not a column a valve."""
    found = [_column(index, name, valves) for index, name in enumerate(head)]
    return [one for one in found if one is not None]


def melted(
    sheet: Sheet, columns: Mapping[Role, int], of_valves: Iterable[ValveColumn]
) -> tuple[Sheet, dict[Role, int]]:
    """The sheet with a row a valve, and its columns; each row keeps the line that it is from."""
    kept = [(role, index) for role, index in columns.items() if role not in (*WHATS, "valve")]
    by_valve: dict[str, dict[What, int]] = {}
    for one in of_valves:
        by_valve.setdefault(one.valve, {}).setdefault(one.what, one.index)
    roles: list[Role] = [role for role, _ in kept] + ["valve", *WHATS]

    def at(cells: tuple[str, ...], index: int | None) -> str:
        return cells[index] if index is not None and index < len(cells) else ""

    rows = [
        (
            line,
            tuple(
                [at(cells, index) for _, index in kept]
                + [valve]
                + [at(cells, own.get(what)) for what in WHATS]
            ),
        )
        for line, cells in sheet.rows
        for valve, own in by_valve.items()
    ]
    places: dict[tuple[str, int], int] = {}
    for valve, own in by_valve.items():
        for position, (_, index) in enumerate(kept):
            places[valve, position] = index
        for position, what in enumerate(WHATS, start=len(kept) + 1):
            if what in own:
                places[valve, position] = own[what]
    head = tuple(re.sub("_", " ", role) for role in roles)
    origin = Origin(sheet.head, sheet.rows, len(kept), places)
    return replace(sheet, head=head, rows=tuple(rows), origin=origin), {
        role: index for index, role in enumerate(roles)
    }
