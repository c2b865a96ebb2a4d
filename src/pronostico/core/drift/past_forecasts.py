"""Past forecasts against what was then found: each visit predicted from those before it alone. F-29."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.densities import central_range_of_count
from pronostico.core.drift.forecast import ahead
from pronostico.core.drift.innovation import OwnEstimate, own_estimate
from pronostico.core.drift.model import drifts
from pronostico.core.drift.normal_mixture import Mixture
from pronostico.core.drift.results import Drifts, ValveDrift
from pronostico.core.engine import SIDES, Engine
from pronostico.core.gauge.reading import estimate
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Visit

_MOST = (0.05, 0.95)
_HALF = (0.25, 0.75)
_HARDLY_MEASURED = 0.999  # an offset whose posterior is as wide as its prior was not measured


@dataclass(frozen=True, slots=True)
class CheckedForecast:
    """The forecast of one clearance, and what was found.

    `share`: the probability that the forecast gave to a reading below the one that was taken, 0 to 1;
    `error_mm`: found less forecast; `half_width_mm`: half of the 90 % interval of the clearance.
    """

    valve: str
    share: float
    error_mm: float
    half_width_mm: float


@dataclass(frozen=True, slots=True)
class MeasuredOffset:
    """What the readings of a visit say of the offset common to them all, mm; without the prior of it."""

    mean_mm: float
    sd_mm: float


@dataclass(frozen=True, slots=True)
class CheckedVisit:
    """A visit against its forecasts; `bounded`: readings that only bound the clearance, and are not scored.

    `offset`: None where the readings say nothing of it.
    """

    visit: int
    forecasts: tuple[CheckedForecast, ...]
    bounded: int
    offset: MeasuredOffset | None


def _own(
    engine: Engine, visits: Sequence[Visit], valve: ValveDrift, constants: Constants
) -> OwnEstimate | None:
    """The last reading as found of a valve at the last visit, on its own; None without one."""
    last = visits[-1]
    name = valve.chain.valve.id
    found = [one for one in last.readings if one.valve == name and one.phase == "found" and one.tries]
    spec = engine.spec_of(valve.chain.valve, last.day)
    if not found or spec is None:
        return None
    correction = correction_at(engine, valve.chain.valve.side, last.temperature_c, constants)
    read = estimate(found[-1], spec, correction, constants)
    return None if read is None else own_estimate(found[-1], read, correction, constants)


def _checked(
    forecast: Mixture, own: OwnEstimate, offset_variance: float, valve: str, constants: Constants
) -> CheckedForecast:
    noise = own.variance + offset_variance + constants.reading_sd_mm**2
    of_reading = Mixture(forecast.weight, forecast.mean, forecast.cov + noise)
    low, high = (forecast.quantile(p) for p in _MOST)
    return CheckedForecast(
        valve, of_reading.below(own.mean_mm), own.mean_mm - forecast.average, (high - low) / 2.0
    )


def _offset(known: Drifts, visit: int) -> MeasuredOffset | None:
    """What a visit's readings say of its common offset, by the likeliest regime; its prior taken out."""
    posterior = max(known.components, key=lambda one: one.weight).posterior
    prior = float(posterior.base.shared.variance[visit])
    weight, means = posterior.tau_weight, posterior.all_mean[:, visit]
    mean = float(weight @ means)
    variance = float(weight @ (posterior.all_cov[:, visit, visit] + (means - mean) ** 2))
    if variance >= prior * _HARDLY_MEASURED:
        return None
    measured = 1.0 / (1.0 / variance - 1.0 / prior)
    return MeasuredOffset(mean / variance * measured, float(np.sqrt(measured)))


def checked_visit(
    engine: Engine, visits: Sequence[Visit], before: Drifts, after: Drifts, constants: Constants = DEFAULT
) -> CheckedVisit:
    """The last of some visits against what those before it predicted.

    Args:
        before, after: the drifts of the visits without the last one, and with it.
    """
    at = len(visits) - 1
    intervals = max(0.0, (visits[-1].usage - visits[-2].usage) / engine.check_interval)
    offset = _offset(after, at) if after.components else None
    heat = max(
        correction_at(engine, side, visits[-1].temperature_c, constants).uncertainty_mm for side in SIDES
    )
    of_visit = constants.visit_shift_sd_mm**2 + heat**2
    forecasts, bounded = [], 0
    for name, valve in before.valves.items():
        own = _own(engine, visits, valve, constants)
        if own is None or not valve.chain.readings:
            continue
        if own.side:
            bounded += 1
            continue
        later = ahead(valve.state, intervals, constants)
        forecasts.append(_checked(later, own, of_visit, name, constants))
    return CheckedVisit(at, tuple(forecasts), bounded, offset)


def checked_forecasts(
    engine: Engine, visits: Sequence[Visit], constants: Constants = DEFAULT, *, since: int = 1
) -> list[CheckedVisit]:
    """Every visit from one on against the forecast from those before it, the engine's own record alone."""
    alone, found = engine.alone, []
    before = None
    for at in range(max(1, since), len(visits)):
        before = before or drifts(alone, visits[:at], constants)
        after = drifts(alone, visits[: at + 1], constants)
        found.append(checked_visit(alone, visits[: at + 1], before, after, constants))
        before = after
    return found


@dataclass(frozen=True, slots=True)
class CountRange:
    """A range of counts, both ends in it."""

    least: int
    most: int


@dataclass(frozen=True, slots=True)
class Tally:
    """How many forecasts held.

    `in_half`, `in_most`: within the 50 % and the 90 % interval; `half_width_mm`, `error_mm`: medians of half
    the 90 % interval and of the absolute error; `tenths`: how many readings fell into each tenth of the
    forecast's probability; `chance_of_half`, `chance_of_most`: the counts that exact forecasts give nine
    times in ten, readings taken as independent.
    """

    count: int
    in_half: int
    in_most: int
    half_width_mm: float
    error_mm: float
    tenths: tuple[int, ...]
    chance_of_half: CountRange
    chance_of_most: CountRange


def _by_chance(count: int, probability: float) -> CountRange:
    return CountRange(*central_range_of_count(0.9, count, probability))


def tally(checked: Sequence[CheckedForecast]) -> Tally | None:
    """How many of some forecasts held; None of none."""
    if not checked:
        return None
    shares = np.array([one.share for one in checked])
    tenths = np.bincount(np.minimum((shares * 10.0).astype(int), 9), minlength=10)
    return Tally(
        len(checked),
        int(((shares >= _HALF[0]) & (shares <= _HALF[1])).sum()),
        int(((shares >= _MOST[0]) & (shares <= _MOST[1])).sum()),
        float(np.median([one.half_width_mm for one in checked])),
        float(np.median([abs(one.error_mm) for one in checked])),
        tuple(int(one) for one in tenths),
        _by_chance(len(checked), 0.5),
        _by_chance(len(checked), 0.9),
    )
