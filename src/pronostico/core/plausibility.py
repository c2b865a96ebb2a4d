"""Figures that can be right but seldom are: a unit mixed up, a digit too many.

A query refuses nothing. It says what is implausible and, if known, which figure was probably meant; the
technician decides.
"""

from dataclasses import dataclass

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.units import KPA_PER_BAR, KPA_PER_PSI, MM_PER_THOU, celsius_from_fahrenheit


@dataclass(frozen=True, slots=True)
class Query:
    """Why a figure is asked about, and the figure that was probably meant (None where none is known)."""

    question: str
    suggestion: float | None


def soak_query(temperature_c: float | None, warmest_c: float = DEFAULT.warmest_soak_c) -> Query | None:
    """Whether a temperature may be a Fahrenheit figure.

    >>> soak_query(64.0).suggestion
    17.8
    """
    if temperature_c is None or temperature_c <= warmest_c:
        return None
    meant = round(celsius_from_fahrenheit(temperature_c), 1)
    return Query(
        f"{temperature_c:g} °C is warm for a cold engine; {temperature_c:g} °F would be {meant:g} °C",
        meant if meant <= warmest_c else None,
    )


def clearance_query(clearance_mm: float | None, constants: Constants = DEFAULT) -> Query | None:
    """Whether a clearance may have been given in the other unit: the two lie 25 times apart.

    >>> clearance_query(6.0).suggestion
    0.152
    >>> clearance_query(0.15 * 0.0254).suggestion
    0.15
    """
    if clearance_mm is None:
        return None
    if clearance_mm > constants.widest_clearance_mm:
        meant = round(clearance_mm * MM_PER_THOU, 3)
        return Query(
            f"{clearance_mm:g} mm is about 25 times a valve clearance; {clearance_mm:g} thou is {meant:g} mm",
            meant,
        )
    if 0.0 < clearance_mm < constants.narrowest_clearance_mm:
        meant = round(clearance_mm / MM_PER_THOU, 2)
        return Query(
            f"{clearance_mm:.4f} mm ({meant:g} thou) is thinner than any blade; {meant:g} mm would be usual",
            meant,
        )
    return None


def compression_query(pressure_kpa: float | None, constants: Constants = DEFAULT) -> Query | None:
    """Whether a compression may have been read in psi or bar: engines lie far from there in kPa.

    >>> compression_query(150.0).suggestion
    1034.0
    >>> compression_query(10.5).suggestion
    1050.0
    """
    if pressure_kpa is None or not 0.0 < pressure_kpa < constants.lowest_compression_kpa:
        return None
    is_bar = pressure_kpa <= constants.highest_in_bar
    unit, factor = ("bar", KPA_PER_BAR) if is_bar else ("psi", KPA_PER_PSI)
    meant = float(round(pressure_kpa * factor))
    return Query(
        f"{pressure_kpa:g} kPa is hardly any compression; {pressure_kpa:g} {unit} is {meant:g} kPa", meant
    )


def usage_query(
    usage: float, before: float, check_interval: float, constants: Constants = DEFAULT
) -> Query | None:
    """Whether a usage lies so far beyond the last visit's that a digit may be too many."""
    intervals = (usage - before) / check_interval
    if intervals <= constants.longest_gap_intervals:
        return None
    return Query(f"{usage:g} is {intervals:.0f} check intervals after the last visit at {before:g}", None)
