"""The valves of a head from its layout, named and placed as on the plan.

Either the intakes stand on one side and the exhausts on the other, or all stand in one line along the head
in an order that is written as a technician says it: 'E I I E E I I E', from the front.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from string import ascii_lowercase

from pronostico.core.engine import SIDES, Side
from pronostico.core.errors import ImpossibleValue

MOST_CYLINDERS = 24
MOST_VALVES_A_SIDE = 4
_LETTERS: dict[str, Side] = {"I": "intake", "E": "exhaust"}


@dataclass(frozen=True, slots=True)
class PlacedValve:
    """A valve with its name and its place along its bank, counted from one at the front."""

    id: str
    cylinder: int
    side: Side
    place: int


def _sides_along(text: str, bank: Sequence[int], per_side: dict[Side, int]) -> list[list[Side]]:
    """The sides in the order they stand, cylinder by cylinder."""
    letters = [letter for letter in text.upper() if letter not in " ,;-"]
    each = sum(per_side.values())
    wanted = each * len(bank)
    strange = next((letter for letter in letters if letter not in _LETTERS), None)
    if strange is not None:
        raise ImpossibleValue("valve order", f"'{text}'", f"I and E alone, not '{strange}'")
    if len(letters) != wanted:
        raise ImpossibleValue(
            "valve order",
            f"'{text}', {len(letters)} valves",
            f"{wanted}: {each} for each of the cylinders {', '.join(map(str, bank))}",
        )
    groups = [[_LETTERS[one] for one in letters[at : at + each]] for at in range(0, wanted, each)]
    for cylinder, group in zip(bank, groups, strict=True):
        for side in SIDES:
            if group.count(side) != per_side[side]:
                raise ImpossibleValue(
                    f"valve order at cylinder {cylinder}",
                    f"{group.count(side)} {side}",
                    f"{per_side[side]}, as for every cylinder",
                )
    return groups


def valves_of_head(
    banks: Sequence[Sequence[int]], *, intakes: int, exhausts: int, along: Sequence[str] | None = None
) -> tuple[PlacedValve, ...]:
    """The valves of a head.

    Args:
        banks: the cylinders of each bank from the front; an in-line engine has one bank.
        intakes, exhausts: how many of each a cylinder has.
        along: for each bank the valve order; None: intakes first in the numbering, for they stand
            on their own side.

    Raises:
        ImpossibleValue: a cylinder is named twice, or an order does not fit.

    >>> [valve.id for valve in valves_of_head([[1, 2]], intakes=1, exhausts=1, along=["E I I E"])]
    ['1E', '1I', '2I', '2E']
    >>> [valve.id for valve in valves_of_head([[1]], intakes=2, exhausts=1)]
    ['1Ia', '1Ib', '1E']
    """
    cylinders = [cylinder for bank in banks for cylinder in bank]
    if not cylinders or len(set(cylinders)) != len(cylinders) or len(cylinders) > MOST_CYLINDERS:
        raise ImpossibleValue("cylinders", cylinders, f"1 to {MOST_CYLINDERS}, each named once")
    per_side: dict[Side, int] = {"intake": intakes, "exhaust": exhausts}
    for side, count in per_side.items():
        if not 1 <= count <= MOST_VALVES_A_SIDE:
            raise ImpossibleValue(f"{side} valves per cylinder", count, f"1 to {MOST_VALVES_A_SIDE}")
    if along is not None and len(along) != len(banks):
        raise ImpossibleValue("valve orders", len(along), f"one per bank: {len(banks)}")
    placed: list[PlacedValve] = []
    for at, bank in enumerate(banks):
        by_side: list[Side] = [side for side in SIDES for _ in range(per_side[side])]
        groups = [by_side] * len(bank) if along is None else _sides_along(along[at], bank, per_side)
        place = 0
        for cylinder, group in zip(bank, groups, strict=True):
            seen = dict.fromkeys(SIDES, 0)
            for side in group:
                place += 1
                letter = ascii_lowercase[seen[side]] if per_side[side] > 1 else ""
                seen[side] += 1
                placed.append(PlacedValve(f"{cylinder}{side[0].upper()}{letter}", cylinder, side, place))
    return tuple(placed)
