"""What the clearances of an engine are doing, kept for as long as nothing of it changes."""

from dataclasses import replace
from functools import lru_cache

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift import Drifts, drifts
from pronostico.core.engine import Engine
from pronostico.core.visits import Visit

_MOST_KEPT = 32


@lru_cache(maxsize=_MOST_KEPT)
def reckoned(engine: Engine, visits: tuple[Visit, ...], constants: Constants = DEFAULT) -> Drifts:
    """The drifts of an engine's visits; the same visits are reckoned once."""
    return drifts(engine, visits, constants)


def reckoned_as_found(engine: Engine, visits: tuple[Visit, ...], constants: Constants = DEFAULT) -> Drifts:
    """What the clearances were doing as the last visit found them, whatever was done there since.

    It follows from what was found alone, so that setting one valve after the other reckons it once.
    """
    if not visits:
        return reckoned(engine, visits, constants)
    last = visits[-1]
    found = tuple(reading for reading in last.readings if reading.phase == "found")
    untouched = replace(last, settings=(), work="check", readings=found)
    return reckoned(engine, (*visits[:-1], untouched), constants)
