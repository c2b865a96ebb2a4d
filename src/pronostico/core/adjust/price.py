"""What a check costs, what a check with setting costs, and how likely the second is.

Minutes are those of a practised hand; a workshop sets its own. F-10 in docs/formulas.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import expm1, log1p

from pronostico.core.constants import DEFAULT
from pronostico.core.engine import Adjustment
from pronostico.core.errors import ImpossibleValue


@dataclass(frozen=True, slots=True)
class LabourTimes:
    """Minutes by kind of work."""

    check_per_valve: float = 2.5  # turning the crank included: twenty minutes for eight valves
    set_per_valve: dict[Adjustment, float] = field(
        default_factory=lambda: {
            "screw-rocker": 4.0,
            "screw-pushrod": 4.0,
            "pivot-nut": 4.0,
            "hydraulic": 5.0,
            "shim-over-bucket": 10.0,  # bucket held down by a tool, shim out and in
            "shim-under-bucket": 8.0,  # once the camshafts are out
        }
    )
    # Camshafts out, in and torqued in stages, and the clearances measured again.
    camshafts_out: float = 75.0


@dataclass(frozen=True, slots=True)
class Price:
    """Minutes and cost; what rests on the chance of setting is None where nothing is predicted.

    `valves_to_set`: how many are expected to need it, given that any does.
    """

    check_minutes: float
    set_minutes: float | None
    check_cost: float | None
    set_cost: float | None
    p_set: float | None
    valves_to_set: float | None


def work_minutes(
    *,
    adjustment: Adjustment,
    checked: float,
    set_valves: float,
    access_minutes: float | None,
    times: LabourTimes,
) -> float:
    """Minutes for opening, checking and setting so many valves, closing up included.

    >>> work_minutes(adjustment="screw-rocker", checked=8, set_valves=2, access_minutes=30,
    ...              times=LabourTimes())
    58.0
    """
    minutes = (DEFAULT.access_minutes if access_minutes is None else access_minutes) + (
        checked * times.check_per_valve
    )
    minutes += set_valves * times.set_per_valve[adjustment]
    # The camshafts come out once, however many valves are set.
    return minutes + (times.camshafts_out if adjustment == "shim-under-bucket" and set_valves else 0.0)


def price(
    *,
    adjustment: Adjustment,
    valves: int,
    access_minutes: float | None,
    p_out: Sequence[float] | None,
    rate_per_hour: float | None,
    times: LabourTimes,
) -> Price:
    """The price of looking, and of looking and setting.

    Args:
        valves: how many the engine has, over 0.
        p_out: for each valve that can be predicted, the probability that it is out of spec; None or empty
            where none can. Valves are taken as independent: a shared drift makes 'none at all' likelier.
        rate_per_hour: the workshop's rate in its own currency; None: no cost is given.

    Formula:
        P(any out) = 1 - prod(1 - p); expected out, given any = sum(p) / P(any out).

    >>> round(price(adjustment="screw-rocker", valves=2, access_minutes=30, p_out=[0.5, 0.5],
    ...             rate_per_hour=60, times=LabourTimes()).p_set, 2)
    0.75
    """
    if valves < 1:
        raise ImpossibleValue("number of valves", valves, "1 or more")

    def minutes(set_valves: float) -> float:
        return work_minutes(
            adjustment=adjustment,
            checked=valves,
            set_valves=set_valves,
            access_minutes=access_minutes,
            times=times,
        )

    check = minutes(0.0)
    p_set = to_set = set_minutes = None
    if p_out:
        # By logarithms, for nearly nothing is not to be lost beside one.
        p_set = 1.0 if max(p_out, default=0.0) >= 1.0 else -expm1(sum(log1p(-p) for p in p_out))
        # As likely out as the others, where one cannot be predicted.
        to_set = sum(p_out) / p_set if p_set > 0.0 else 1.0
        set_minutes = minutes(to_set)

    def cost(time: float | None) -> float | None:
        return None if time is None or rate_per_hour is None else time / 60.0 * rate_per_hour

    return Price(check, set_minutes, cost(check), cost(set_minutes), p_set, to_set)
