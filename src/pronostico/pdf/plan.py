"""The plan of the head as a table: each bank's cylinders in line, its rows of valves beside them."""

from collections.abc import Sequence
from dataclasses import dataclass

from pronostico.analysis.job_card import CardValveOut
from pronostico.record.engine import Layout


@dataclass(frozen=True, slots=True)
class PlanRow:
    """One row of a bank: valves of one kind by cylinder, or the cylinders themselves (`kind` 'bores')."""

    kind: str
    cells: tuple[tuple[CardValveOut, ...] | int, ...]


def _banks(valves: Sequence[CardValveOut], layout: Layout) -> list[list[int]]:
    if layout.banks:
        return layout.banks
    cylinders = sorted({valve.cylinder for valve in valves})
    return [cylinders[::2], cylinders[1::2]] if layout.kind in ("v", "flat") else [cylinders]


def _kinds(layout: Layout, bank: int, banks: int, per_cylinder: int) -> tuple[str, ...]:
    """The rows from the top of the drawing down, as one looks at it with the front as the layout has it."""
    exhaust_first = ("exhaust", "bores", "intake")
    if banks > 1:
        intake_inside = layout.intake_side != "outside"
        return exhaust_first if (bank == 0) == intake_inside else exhaust_first[::-1]
    if layout.intake_side in ("left", "right"):
        left_is_below = layout.front != "right"
        return exhaust_first if (layout.intake_side == "left") == left_is_below else exhaust_first[::-1]
    return ("bores", "valves") if per_cylinder <= 2 else exhaust_first[::-1]


def plan_rows(valves: Sequence[CardValveOut], layout: Layout | None) -> list[list[PlanRow]]:
    """The rows of every bank; cylinders run from the front, which may be at the right."""
    layout = layout or Layout()
    banks = _banks(valves, layout)
    per_cylinder = max(sum(one.cylinder == valve.cylinder for one in valves) for valve in valves)
    drawn = []
    for index, bank in enumerate(banks):
        cylinders = bank[::-1] if layout.front == "right" else bank
        rows = []
        for kind in _kinds(layout, index, len(banks), per_cylinder):
            cells: list[tuple[CardValveOut, ...] | int] = []
            for cylinder in cylinders:
                here = sorted(
                    (one for one in valves if one.cylinder == cylinder and kind in ("valves", one.side)),
                    key=lambda one: one.place or 0,
                )
                cells.append(cylinder if kind == "bores" else tuple(here))
            rows.append(PlanRow(kind, tuple(cells)))
        drawn.append(rows)
    return drawn
