"""What the clearances of an engine are doing, kept for as long as nothing of it changes."""

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
