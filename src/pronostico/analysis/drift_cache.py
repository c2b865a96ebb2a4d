"""What the clearances of an engine are doing, kept for as long as nothing of it changes."""

from dataclasses import replace
from functools import lru_cache

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.forecast import RiskAhead, ahead, risk_ahead
from pronostico.core.drift.model import drifts
from pronostico.core.drift.results import Drifts
from pronostico.core.engine import Engine, Valve
from pronostico.core.gauge.reading import Prior
from pronostico.core.visits import Visit

_MOST_KEPT = 32
# Small beside the drifts that they come from: as many as there may be visits under way at once.
_MOST_PREDICTIONS = 256


@lru_cache(maxsize=_MOST_KEPT)
def drifts_of(engine: Engine, visits: tuple[Visit, ...], constants: Constants = DEFAULT) -> Drifts:
    """The drifts of an engine's visits; the same visits are computed once."""
    return drifts(engine, visits, constants)


@lru_cache(maxsize=_MOST_KEPT)
def risk_of(
    known: Drifts, *, margin_mm: float, most: float | None = None, constants: Constants = DEFAULT
) -> RiskAhead | None:
    """How likely valves are out along the next intervals, as `risk_ahead` has it; computed once."""
    return risk_ahead(known, margin_mm=margin_mm, most=most, constants=constants)


def drifts_as_found(engine: Engine, visits: tuple[Visit, ...], constants: Constants = DEFAULT) -> Drifts:
    """The drifts as the last visit found the valves, before any adjustment there.

    It follows from what was found alone, so that setting one valve after the other computes it once.
    """
    if not visits:
        return drifts_of(engine, visits, constants)
    last = visits[-1]
    found = tuple(reading for reading in last.readings if reading.phase == "found")
    untouched = replace(last, settings=(), work="check", readings=found, renewed=frozenset())
    return drifts_of(engine, (*visits[:-1], untouched), constants)


def predicted_at(
    engine: Engine, before: tuple[Visit, ...], usage: float, valve: Valve, constants: Constants = DEFAULT
) -> Prior | None:
    """What the visits before predict of a valve's clearance at a usage; None where it was never read."""
    return _predictions_at(engine, before, usage, constants).get(valve.id)


@lru_cache(maxsize=_MOST_PREDICTIONS)
def _predictions_at(
    engine: Engine, before: tuple[Visit, ...], usage: float, constants: Constants
) -> dict[str, Prior]:
    if not before:
        return {}
    intervals = max(0.0, (usage - before[-1].usage) / engine.check_interval)
    predictions: dict[str, Prior] = {}
    for valve_id, known in drifts_of(engine, before, constants).valves.items():
        if known.chain.readings:
            later = ahead(known.state, intervals, constants)
            predictions[valve_id] = Prior(later.average, later.sd)
    return predictions
