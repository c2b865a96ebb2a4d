"""An engine with what engines of its kind do: the prior from them, and whether it differs. F-28."""

from collections.abc import Sequence
from dataclasses import dataclass

from pronostico.analysis.drift_cache import drifts_of
from pronostico.analysis.positions import checked, without_suspect
from pronostico.analysis.report_model import ReportModel
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.chain import DriftPrior, SidePriors
from pronostico.core.drift.results import Drifts
from pronostico.core.drift.sisters import (
    SidePrior,
    SideSummary,
    in_intervals_of,
    probability_of_difference,
    side_priors,
    summaries_of,
)
from pronostico.core.engine import Engine, Side
from pronostico.errors import Refused
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.faults import Fault
from pronostico.record.models import Record


class ExpectedOfSideOut(ReportModel):
    """What sister engines make expected of a side's drift, mm per check interval, and from how many.

    `p_differs`: that this engine drifts otherwise; null where its own record says nothing of it yet.
    `differs`: whether that is likely enough to be remarked on.
    """

    side: Side
    sisters: int
    mean_mm_per_interval: float
    sd_mm_per_interval: float
    p_differs: float | None
    differs: bool


@dataclass(frozen=True, slots=True)
class Pooled:
    """The priors that sister engines make, and what is said of them."""

    priors: SidePriors
    expected: list[ExpectedOfSideOut]


def own_drifts(record: Record, constants: Constants) -> tuple[Engine, Drifts]:
    """An engine and its drifts from its own record alone, readings at a wrong crank position left out."""
    engine, visits = engine_from(record.engine, constants), visits_from(record)
    trusted = without_suspect(visits, checked(record, engine, visits, constants).suspect)
    return engine, drifts_of(engine, trusted, constants)


def summaries(record: Record, constants: Constants = DEFAULT) -> dict[Side, SideSummary]:
    """What a record says of the drift of either side, mm per its own check interval."""
    return summaries_of(own_drifts(record, constants)[1])


def _expected(
    prior: SidePrior, side: Side, own: SideSummary | None, visits: int, constants: Constants
) -> ExpectedOfSideOut:
    differs = None if own is None else probability_of_difference(own, prior, constants)
    likely = (
        differs is not None
        and differs >= constants.sister_differs
        and visits >= constants.sister_fewest_visits
    )
    return ExpectedOfSideOut(
        side=side,
        sisters=prior.count,
        mean_mm_per_interval=prior.mean_mm,
        sd_mm_per_interval=prior.sd_mm,
        p_differs=differs,
        differs=likely,
    )


def pooled(record: Record, sisters: Sequence[Record], constants: Constants = DEFAULT) -> Pooled:
    """The priors of an engine from its sisters' records; its own is left out where it is among them.

    Raises:
        Refused: a sister counts its usage in another unit.
    """
    engine, alone = own_drifts(record, constants)
    known = []
    for sister in sisters:
        if sister.engine.id == record.engine.id:
            continue
        if sister.engine.usage_unit != record.engine.usage_unit:
            raise Refused(
                [
                    Fault(
                        "$.engine.usage_unit",
                        f"sister {sister.engine.id} counts in {sister.engine.usage_unit}; "
                        f"expected {record.engine.usage_unit}, as {record.engine.id} does",
                    )
                ]
            )
        known.append(
            {
                side: in_intervals_of(one, sister.engine.check_interval, engine.check_interval)
                for side, one in summaries(sister, constants).items()
            }
        )
    priors = side_priors(known, constants)
    own = summaries_of(alone)
    era = max((valve.chain.era_start for valve in alone.valves.values()), default=0)
    return Pooled(
        tuple((side, DriftPrior(prior.mean_mm, prior.sd_mm)) for side, prior in priors.items()),
        [
            _expected(prior, side, own.get(side), len(record.visits) - era, constants)
            for side, prior in priors.items()
        ],
    )
