"""What was done or is to be done to an adjuster or a shim, in words: once for pages, paper and console."""

from fractions import Fraction
from typing import Literal

from pronostico.core.units import thou_from_mm

LengthUnit = Literal["mm", "thou"]
_SAME_MM = 0.0004
LENGTH_UNITS: tuple[LengthUnit, LengthUnit] = ("mm", "thou")


def length(mm: float, unit: LengthUnit) -> str:
    """A clearance without its unit.

    >>> length(0.254, "thou"), length(0.254, "mm")
    ('10.0', '0.25')
    """
    return f"{mm:.2f}" if unit == "mm" else f"{thou_from_mm(mm):.1f}"


def target(mm: float, unit: LengthUnit) -> str:
    """A clearance to adjust to, without its unit: to a thousandth where it has one.

    >>> target(0.275, "mm"), target(0.28, "mm"), target(0.254, "thou")
    ('0.275', '0.28', '10.0')
    """
    is_whole = abs(mm - round(mm, 2)) < _SAME_MM
    return length(mm, unit) if unit == "thou" or is_whole else f"{mm:.3f}"


def turn(degrees: float) -> str:
    """A turn of the adjuster: degrees, direction, and the nearest sixteenth of a turn.

    >>> turn(-122.4), turn(540.0)
    ('122° anticlockwise, about 5/16 of a turn', '540° clockwise, about 1.5 turns')
    >>> turn(-362.0), turn(20.0)
    ('362° anticlockwise, one turn', '20° clockwise, about 1/16 of a turn')
    """
    way = "clockwise" if degrees > 0.0 else "anticlockwise"
    sixteenths = Fraction(round(abs(degrees) / 22.5), 16)
    if sixteenths == 0:
        share = "less than a sixteenth of a turn"
    elif sixteenths == 1:
        share = "one turn"
    elif sixteenths < 1:
        share = f"about {sixteenths} of a turn"
    elif sixteenths.denominator == 1:
        share = f"{sixteenths} turns"
    else:
        share = f"about {float(sixteenths):.1f} turns"
    return f"{abs(degrees):.0f}° {way}, {share}"


def preload(degrees: float) -> str:
    """The preload of a hydraulic lifter.

    >>> preload(270.0)
    'preloaded 0.75 turns from zero lash'
    """
    return f"preloaded {abs(degrees) / 360.0:g} turns from zero lash"


def done(
    unit: LengthUnit,
    *,
    target_mm: float | None,
    turn_deg: float | None,
    shim_from_mm: float | None,
    shim_to_mm: float | None,
    came: str | None,
    tightened: int,
    reason: str | None,
) -> str:
    """What was done in one adjustment.

    Args:
        came: where the new shim came from, in words; None: not known.
        tightened: how often the locknut was tightened and the clearance tried.
    """
    words = []
    if shim_to_mm is not None:
        was = "" if shim_from_mm is None else f"{shim_from_mm:.3f} out, "
        words.append(f"shim {was}{shim_to_mm:.3f} mm in{f' {came}' if came else ''}")
    elif target_mm is not None:
        words.append(f"adjusted to {target(target_mm, unit)} {unit}")
    if turn_deg is not None:
        # For a hydraulic lifter the turns are the setting, for a screw the way to its target.
        words.append(preload(turn_deg) if target_mm is None else turn(turn_deg))
    if tightened:
        words.append("tightened once" if tightened == 1 else f"tightened {tightened} times")
    if reason:
        words.append(reason)
    return "; ".join(words) or "adjusted"
