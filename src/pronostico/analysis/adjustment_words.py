"""What was done or is to be done to an adjuster or a shim, in words: once for pages, paper and console."""

from fractions import Fraction
from typing import Literal

from pronostico.core.units import thou_from_mm

LengthUnit = Literal["mm", "thou"]
_SAME_MM = 0.0004
# Shares of a turn that a hand can judge, and how near one is to be called by it.
_SHARES = tuple(
    Fraction(one)
    for one in "1/16 1/12 1/8 1/6 1/4 1/3 3/8 1/2 5/8 2/3 3/4 7/8 1".split()  # noqa: SIM905
)
_SAME_SHARE = 0.1
_WHOLE = 0.02
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
    """A turn of the adjuster: degrees, direction, and what fraction of a turn that is.

    >>> turn(-122.4), turn(540.0)
    ('122° anticlockwise, about 1/3 of a turn', '540° clockwise, about 1.5 turns')
    >>> turn(-362.0), turn(16.0)
    ('362° anticlockwise, one turn', '16° clockwise, less than 1/16 of a turn')
    >>> turn(36.0)
    '36° clockwise, between 1/12 and 1/8 of a turn'
    """
    way = "clockwise" if degrees > 0.0 else "anticlockwise"
    return f"{abs(degrees):.0f}° {way}, {_share_of_a_turn(abs(degrees) / 360.0)}"


def _share_of_a_turn(turns: float) -> str:
    if turns > 1.05:
        whole = abs(turns - round(turns)) < _WHOLE
        return f"{turns:.0f} turns" if whole else f"about {turns:.1f} turns"
    if turns < float(_SHARES[0]) * (1.0 - _SAME_SHARE):
        return f"less than {_SHARES[0]} of a turn"
    nearest = min(_SHARES, key=lambda one: abs(float(one) - turns))
    if abs(turns / float(nearest) - 1.0) <= _SAME_SHARE:
        name = "one turn" if nearest == 1 else f"{nearest} of a turn"
        return name if abs(turns - 1.0) < _WHOLE else f"about {name}"
    above = next(one for one in _SHARES if one > turns)
    return f"between {_SHARES[_SHARES.index(above) - 1]} and {above} of a turn"


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
