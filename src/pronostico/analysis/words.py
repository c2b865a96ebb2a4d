"""Figures in words, for paper and for the command line: no more digits than are known."""

from fractions import Fraction
from typing import Literal

from pronostico.analysis.adjustments_made import DoneOut
from pronostico.analysis.report import EstimateOut, SpecOut
from pronostico.analysis.workshop_settings import ShopSettings
from pronostico.core.units import (
    KPA_PER_BAR,
    KPA_PER_INHG,
    KPA_PER_MMHG,
    KPA_PER_PSI,
    NM_PER_INCH_LBF,
    thou_from_mm,
)
from pronostico.record.models import Torque

LengthUnit = Literal["mm", "thou"]


def length(mm: float, unit: LengthUnit) -> str:
    """A clearance without its unit.

    >>> length(0.254, "thou"), length(0.254, "mm")
    ('10.0', '0.25')
    """
    return f"{mm:.2f}" if unit == "mm" else f"{thou_from_mm(mm):.1f}"


def spec(one: SpecOut | None, unit: LengthUnit) -> str:
    """A spec, or that there is none."""
    return "–" if one is None else f"{length(one.min_mm, unit)} to {length(one.max_mm, unit)}"


def gap(estimate: EstimateOut | None, unit: LengthUnit) -> str:
    """What a reading came to; never a gap below none."""
    if estimate is None:
        return "–"
    bracket = estimate.bracket
    # What was felt is told as the clearance is, at the reference temperature.
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


def gauged(value: float, of: str, unit: str, gauges: ShopSettings) -> str:
    """A figure with its unit: a pressure or a vacuum as the workshop reads its gauges.

    Args:
        of: the id of the figure, which tells a vacuum from a pressure.
        unit: the unit that it is kept in.

    >>> gauged(1034.2, "compression", "kPa", ShopSettings(pressure_unit="psi"))
    '150 psi'
    >>> gauged(12.5, "battery-rest", "V", ShopSettings(pressure_unit="psi"))
    '12.5 V'
    """
    if unit != "kPa":
        return f"{value:g} {unit}"
    shown = gauges.vacuum_unit if "vacuum" in of else gauges.pressure_unit
    kpa, decimals = _KPA_PER[shown]
    return f"{value / kpa:.{decimals}f} {shown}"


def verdict(estimate: EstimateOut | None) -> str:
    """Tight, in, loose, or open and which way it leans."""
    if estimate is None:
        return ""
    if estimate.contradiction:
        return "contradictory answers"
    return estimate.verdict if estimate.verdict != "open" else f"open, leaning {estimate.leaning}"


def turn(degrees: float) -> str:
    """A turn of the adjuster as a hand understands it: degrees, which way, the nearest sixteenth.

    >>> turn(-122.4), turn(540.0)
    ('122° anticlockwise, about 5/16 of a turn', '540° clockwise, about 1.5 turns')
    """
    way = "clockwise" if degrees > 0.0 else "anticlockwise"
    sixteenths = Fraction(round(abs(degrees) / 22.5), 16)
    if sixteenths == 0:
        share = "less than a sixteenth of a turn"
    elif sixteenths < 1:
        share = f"about {sixteenths} of a turn"
    else:
        share = f"about {float(sixteenths):g} turns"
    return f"{abs(degrees):.0f}° {way}, {share}"


def preload(degrees: float) -> str:
    """The preload of a hydraulic lifter.

    >>> preload(270.0)
    'preloaded 0.75 turns from zero lash'
    """
    return f"preloaded {abs(degrees) / 360.0:g} turns from zero lash"


def done(setting: DoneOut, unit: LengthUnit) -> str:
    """What was done in one setting."""
    words = []
    if setting.shim_to_mm is not None:
        was = "" if setting.shim_from_mm is None else f"{setting.shim_from_mm:.3f} out, "
        came = {"stock": "from the box", "order": "bought", "moved": f"from {setting.moved_from}"}
        source = "" if setting.source is None else f" {came[setting.source]}"
        words.append(f"shim {was}{setting.shim_to_mm:.3f} mm in{source}")
    elif setting.target_mm is not None:
        words.append(f"set to {length(setting.target_mm, unit)} {unit}")
    if setting.turn_deg is not None:
        # Of a hydraulic lifter the turns are the setting, of a screw they are the way to its target.
        words.append(preload(setting.turn_deg) if setting.target_mm is None else turn(setting.turn_deg))
    if setting.lock_ups:
        words.append("locked once" if len(setting.lock_ups) == 1 else f"locked {len(setting.lock_ups)} times")
    if setting.reason:
        words.append(setting.reason)
    return "; ".join(words) or "set"


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
