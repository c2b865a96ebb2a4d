"""Figures in words, for paper and for the command line: no more digits than are known."""

from pronostico.analysis.adjustment_words import LengthUnit, length
from pronostico.analysis.report import EstimateOut, SpecOut
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.core.units import (
    KPA_PER_BAR,
    KPA_PER_INHG,
    KPA_PER_MMHG,
    KPA_PER_PSI,
    NM_PER_INCH_LBF,
)
from pronostico.record.engine import Torque

VERDICTS = {"tight": "tight", "in": "in spec", "loose": "loose", "open": "inconclusive"}


def spec(one: SpecOut | None, unit: LengthUnit) -> str:
    """A spec, or that there is none."""
    return "–" if one is None else f"{length(one.min_mm, unit)} to {length(one.max_mm, unit)}"


def gap(estimate: EstimateOut | None, unit: LengthUnit) -> str:
    """What a reading came to; never a gap below none."""
    if estimate is None:
        return "–"
    bracket = estimate.bracket
    # What was felt is worded like the clearance, at the reference temperature.
    if bracket.went_mm is None and bracket.refused_mm is not None:
        under = length(max(bracket.refused_mm - estimate.correction_mm, 0.0), unit)
        return "none" if estimate.mean_mm <= 0.0 else f"under {under}"
    if bracket.refused_mm is None and bracket.went_mm is not None and not estimate.gives_number:
        return f"over {length(max(bracket.went_mm - estimate.correction_mm, 0.0), unit)}"
    return length(max(estimate.mean_mm, 0.0), unit)


_KPA_PER: dict[str, tuple[float, int]] = {
    "kPa": (1.0, 0),
    "psi": (KPA_PER_PSI, 0),
    "bar": (KPA_PER_BAR, 1),
    "inHg": (KPA_PER_INHG, 1),
    "mmHg": (KPA_PER_MMHG, 0),
}


def gauged(value: float, of: str, unit: str, gauges: WorkshopSettings) -> str:
    """A figure with its unit: a pressure or a vacuum as the workshop reads its gauges.

    Args:
        of: the id of the figure, which tells a vacuum from a pressure.
        unit: the unit that it is kept in.

    >>> gauged(1034.2, "compression", "kPa", WorkshopSettings(pressure_unit="psi"))
    '150 psi'
    >>> gauged(12.5, "battery-rest", "V", WorkshopSettings(pressure_unit="psi"))
    '12.5 V'
    """
    if unit != "kPa":
        return f"{value:g} {unit}"
    shown = gauges.vacuum_unit if "vacuum" in of else gauges.pressure_unit
    kpa, decimals = _KPA_PER[shown]
    return f"{value / kpa:.{decimals}f} {shown}"


def verdict(estimate: EstimateOut | None) -> str:
    """The verdict in words; where none is reached, the most likely class."""
    if estimate is None:
        return ""
    if estimate.contradiction:
        return "contradictory answers"
    if estimate.verdict == "open":
        return f"inconclusive, probably {VERDICTS[estimate.leaning]}"
    return VERDICTS[estimate.verdict]


def torque(one: Torque) -> str:
    """A torque in newton metres and in inch-pounds, in its stages.

    >>> torque(Torque(part="cover", nm=10, stages=[5, 10], sequence="crosswise"))
    '5, then 10 N m (44, then 89 in-lb), crosswise'
    """
    stages = one.stages or [one.nm]
    metric = ", then ".join(f"{stage:g}" for stage in stages)
    inch = ", then ".join(f"{stage / NM_PER_INCH_LBF:.0f}" for stage in stages)
    order = f", {one.sequence}" if one.sequence else ""
    return f"{metric} N m ({inch} in-lb){order}"
