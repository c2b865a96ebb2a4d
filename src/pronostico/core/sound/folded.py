"""How far the sound stands out along one cycle, in as many parts as are drawn or printed."""

from dataclasses import dataclass

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.envelopes import POOL
from pronostico.core.sound.evidence import Evidence

_PLACES = 240


@dataclass(frozen=True, slots=True)
class FoldedBand:
    """How far a band stands out over its surroundings along one cycle, dB; `pooled`: of all high bands."""

    low_hz: float
    high_hz: float
    pooled: bool
    height_db: FloatArray


def folded(height: FloatArray, count: int = _PLACES) -> FloatArray:
    """A height along the cycle in `count` parts: the greatest of each, and nothing below 0."""
    edges = np.linspace(0, len(height), count + 1)
    starts = np.minimum(edges[:-1].astype(int), len(height) - 1)
    ends = np.maximum(np.ceil(edges[1:]).astype(int), starts + 1)
    return np.array([max(float(height[a:b].max()), 0.0) for a, b in zip(starts, ends, strict=True)])


def folded_bands(found: Evidence) -> tuple[FoldedBand, ...]:
    """Every band, folded."""
    return tuple(
        FoldedBand(
            one.sharp.band.low_hz,
            one.sharp.band.high_hz,
            one.sharp.band.number == POOL,
            folded(one.sharp.height),
        )
        for one in found.bands
    )
