"""An engine with what engines of its kind do: the prior from them, and whether it differs. F-28."""

from collections.abc import Sequence
from dataclasses import dataclass

from pronostico.analysis.drift_cache import drifts_of
from pronostico.analysis.positions import checked, without_suspect
from pronostico.analysis.report_model import ReportModel
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.sisters import (
    SidePrior,
    SideSummary,
    in_intervals_of,
    probability_of_difference,
    side_priors,
    summaries_of,
)
from pronostico.core.engine import DriftPrior, Side, SidePriors
from pronostico.errors import Refused
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.faults import Fault
from pronostico.record.models import Record


class SideSummaryOut(ReportModel):
    """What a record says of the drift of a side, mm per its own check interval."""

    mean_mm: float
    sd_mm: float


class EngineSummary(ReportModel):
    """What an engine's own record says of its drift; `visits_of_era`: since the last head work, with it."""

    sides: dict[Side, SideSummaryOut]
    visits_of_era: int


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


Sister = tuple[EngineSummary, float]
"""The summary of a sister, and its check interval in the unit that all of them count in."""


def summary_of(record: Record, constants: Constants = DEFAULT) -> EngineSummary:
    """What a record says of its engine's drift; readings at a wrong crank position left out."""
    engine, visits = engine_from(record.engine, constants), visits_from(record)
    trusted = without_suspect(visits, checked(record, engine, visits, constants).suspect)
    known = drifts_of(engine.alone, trusted, constants)
    era = min((valve.chain.era_start for valve in known.valves.values()), default=0)
    sides = {side: SideSummaryOut.model_validate(one) for side, one in summaries_of(known).items()}
    return EngineSummary(sides=sides, visits_of_era=len(visits) - era)


def _side(summary: EngineSummary, side: Side) -> SideSummary | None:
    known = summary.sides.get(side)
    return None if known is None else SideSummary(known.mean_mm, known.sd_mm)


def _of_sisters(sisters: Sequence[Sister], interval: float, constants: Constants) -> dict[Side, SidePrior]:
    """The exact priors of an engine with a check interval from the summaries of its sisters."""
    known = [
        {
            side: in_intervals_of(SideSummary(one.mean_mm, one.sd_mm), own_interval, interval)
            for side, one in summary.sides.items()
        }
        for summary, own_interval in sisters
    ]
    return side_priors(known, constants)


def _expected(
    prior: SidePrior, side: Side, own: EngineSummary | None, constants: Constants
) -> ExpectedOfSideOut:
    known = None if own is None else _side(own, side)
    differs = None if known is None else probability_of_difference(known, prior, constants)
    likely = (
        differs is not None
        and own is not None
        and differs >= constants.sister_differs
        and own.visits_of_era >= constants.sister_fewest_visits
    )
    return ExpectedOfSideOut(
        side=side,
        sisters=prior.count,
        mean_mm_per_interval=prior.mean_mm,
        sd_mm_per_interval=prior.sd_mm,
        p_differs=differs,
        differs=likely,
    )


def pooled_from(
    own: EngineSummary | None, interval: float, sisters: Sequence[Sister], constants: Constants = DEFAULT
) -> Pooled:
    """The priors of an engine from the summaries of its sisters.

    Args:
        own: its own summary; None where its record was never computed.
        interval: its check interval, in the unit that the sisters count in.
    """
    priors = _of_sisters(sisters, interval, constants)
    return Pooled(
        tuple((side, DriftPrior(prior.mean_mm, prior.sd_mm)) for side, prior in priors.items()),
        [_expected(prior, side, own, constants) for side, prior in priors.items()],
    )


def pooled(record: Record, sisters: Sequence[Record], constants: Constants = DEFAULT) -> Pooled:
    """The priors of an engine from its sisters' records; its own is left out where it is among them.

    Raises:
        Refused: a sister counts its usage in another unit.
    """
    unit = record.engine.usage_unit
    others = [sister for sister in sisters if sister.engine.id != record.engine.id]
    for sister in others:
        if sister.engine.usage_unit != unit:
            raise Refused(
                [
                    Fault(
                        "$.engine.usage_unit",
                        f"sister {sister.engine.id} counts in {sister.engine.usage_unit}; "
                        f"expected {unit}, as {record.engine.id} does",
                    )
                ]
            )
    known = [(summary_of(sister, constants), sister.engine.check_interval) for sister in others]
    return pooled_from(summary_of(record, constants), record.engine.check_interval, known, constants)


def with_sisters(record: Record, priors: SidePriors) -> Record:
    """A record whose engine is computed with what its sisters do."""
    return record.model_copy(update={"engine": record.engine.with_side_priors(priors)})
