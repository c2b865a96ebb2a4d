"""Compression judged: against the spec at this altitude, with oil, and cylinder against cylinder. F-18.

A gauge reads against the air outside, and both that and what the engine breathes in fall with the altitude:
the absolute pressure scales with the standard atmosphere's (ISO 2533).
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from scipy.special import ndtr

from pronostico.core.constants import DEFAULT, Constants

SEA_LEVEL_KPA = 101.325


@dataclass(frozen=True, slots=True)
class Compression:
    """One cylinder, kPa gauge; None where it was not read."""

    cylinder: int
    dry_kpa: float | None
    wet_kpa: float | None


@dataclass(frozen=True, slots=True)
class Assessed:
    """Probabilities of the findings; None where the figures do not bear on them.

    By cylinder: `low`, `wet_gain`, `wet_no_gain`, `neighbours_low`; `spread` of the engine.
    """

    low: dict[int, float]
    wet_gain: dict[int, float]
    wet_no_gain: dict[int, float]
    neighbours_low: dict[int, float]
    spread: float | None


def pressure_at(altitude_m: float) -> float:
    """The standard atmosphere's pressure, kPa.

    >>> round(pressure_at(0.0), 3), round(pressure_at(1500.0), 1)
    (101.325, 84.6)
    """
    return float(SEA_LEVEL_KPA * (1.0 - 2.25577e-5 * altitude_m) ** 5.25588)


def at_altitude(gauge_kpa: float, altitude_m: float) -> float:
    """What a gauge shows at an altitude where it would show so much at sea level.

    >>> round(at_altitude(900.0, 1500.0))
    751
    """
    outside = pressure_at(altitude_m)
    return (gauge_kpa + SEA_LEVEL_KPA) * outside / SEA_LEVEL_KPA - outside


def spread_of(readings_kpa: Iterable[float]) -> float:
    """The spread between cylinders as a share of the highest; 0 where all are zero.

    >>> spread_of([1000.0, 750.0]), spread_of([0.0, 0.0])
    (0.25, 0.0)
    """
    known = list(readings_kpa)
    highest = max(known)
    return (highest - min(known)) / highest if highest > 0.0 else 0.0


def assess_compression(
    readings: Sequence[Compression],
    *,
    least_kpa: float | None,
    most_spread: float | None,
    neighbours: Sequence[tuple[int, int]],
    altitude_m: float = 0.0,
    constants: Constants = DEFAULT,
) -> Assessed:
    """What readings of compression show.

    Args:
        least_kpa: the spec's least, at sea level; None: not known, then nothing is low by itself.
        most_spread: the largest difference allowed, as a share of the highest; None: the usual quarter.
        neighbours: cylinders that stand side by side.
    """
    gauge = constants.compression_gauge_share
    dry = {one.cylinder: one.dry_kpa for one in readings if one.dry_kpa is not None}
    low = {}
    if least_kpa is not None:
        limit = at_altitude(least_kpa, altitude_m)
        low = {cylinder: float(ndtr((limit - kpa) / (gauge * limit))) for cylinder, kpa in dry.items()}
    gain, no_gain = {}, {}
    for one in readings:
        if one.dry_kpa is None or one.wet_kpa is None:
            continue
        off = gauge * 2.0**0.5
        rose = float(ndtr((one.wet_kpa / max(one.dry_kpa, 1.0) - 1.0 - constants.wet_gain_share) / off))
        is_low = low.get(one.cylinder, 1.0)
        # Oil says nothing of a cylinder that is not low.
        gain[one.cylinder], no_gain[one.cylinder] = rose * is_low, (1.0 - rose) * is_low
    beside: dict[int, float] = {}
    for a, b in neighbours:
        if a in low and b in low:
            both = low[a] * low[b]
            beside[a], beside[b] = max(beside.get(a, 0.0), both), max(beside.get(b, 0.0), both)
    spread = None
    if len(dry) > 1:
        over = spread_of(dry.values()) - (
            constants.compression_spread_share if most_spread is None else most_spread
        )
        spread = float(ndtr(over / (gauge * 2.0**0.5)))
    return Assessed(low, gain, no_gain, beside, spread)
