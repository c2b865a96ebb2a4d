"""Lengths, pressures, temperatures, angles, torques and distances, there and back.

Factors follow the international yard and pound agreement (1 in = 25.4 mm exactly, 1 lb = 0.45359237 kg
exactly) and standard gravity (9.80665 m/s2 exactly). U-01 in docs/formulas.md.
"""

MM_PER_INCH = 25.4
MM_PER_THOU = MM_PER_INCH / 1000.0
_KG_PER_LB = 0.45359237
_STANDARD_GRAVITY_M_PER_S2 = 9.80665
_NEWTON_PER_LBF = _KG_PER_LB * _STANDARD_GRAVITY_M_PER_S2
KPA_PER_PSI = _NEWTON_PER_LBF / (MM_PER_INCH / 1000.0) ** 2 / 1000.0
KPA_PER_BAR = 100.0
# A column of mercury at 0 deg C under standard gravity (the conventional millimetre of mercury).
KPA_PER_MMHG = 0.133322387415
KPA_PER_INHG = KPA_PER_MMHG * MM_PER_INCH
NM_PER_INCH_LBF = _NEWTON_PER_LBF * MM_PER_INCH / 1000.0
NM_PER_FOOT_LBF = 12.0 * NM_PER_INCH_LBF
KM_PER_MILE = 1.609344
CYCLE_DEG = 720.0
"""Crankshaft degrees in one four-stroke cycle: two turns."""


def mm_from_thou(thou: float) -> float:
    """Millimetres for a value in thousandths of an inch.

    >>> round(mm_from_thou(10), 4)
    0.254
    """
    return thou * MM_PER_THOU


def thou_from_mm(mm: float) -> float:
    """Thousandths of an inch for a value in millimetres."""
    return mm / MM_PER_THOU


def kpa_from_psi(psi: float) -> float:
    """Kilopascal for a value in pounds-force per square inch.

    >>> round(kpa_from_psi(150), 1)
    1034.2
    """
    return psi * KPA_PER_PSI


def psi_from_kpa(kpa: float) -> float:
    """Pounds-force per square inch for a value in kilopascal."""
    return kpa / KPA_PER_PSI


def celsius_from_fahrenheit(fahrenheit: float) -> float:
    """Degrees Celsius for a value in degrees Fahrenheit."""
    return (fahrenheit - 32.0) / 1.8


def fahrenheit_from_celsius(celsius: float) -> float:
    """Degrees Fahrenheit for a value in degrees Celsius."""
    return celsius * 1.8 + 32.0


def nm_from_inch_lbf(inch_lbf: float) -> float:
    """Newton metre for a value in inch pounds-force.

    >>> round(nm_from_inch_lbf(89), 1)
    10.1
    """
    return inch_lbf * NM_PER_INCH_LBF


def inch_lbf_from_nm(nm: float) -> float:
    """Inch pounds-force for a value in newton metre."""
    return nm / NM_PER_INCH_LBF


def nm_from_foot_lbf(foot_lbf: float) -> float:
    """Newton metre for a value in foot pounds-force."""
    return foot_lbf * NM_PER_FOOT_LBF


def foot_lbf_from_nm(nm: float) -> float:
    """Foot pounds-force for a value in newton metre."""
    return nm / NM_PER_FOOT_LBF


def km_from_miles(miles: float) -> float:
    """Kilometres for a value in statute miles."""
    return miles * KM_PER_MILE


def miles_from_km(km: float) -> float:
    """Statute miles for a value in kilometres."""
    return km / KM_PER_MILE


def turns_from_degrees(degrees: float) -> float:
    """Turns of a screw or a crank for a value in degrees, sign kept."""
    return degrees / 360.0


def degrees_from_turns(turns: float) -> float:
    """Degrees for a value in turns, sign kept."""
    return turns * 360.0


def cycle_angle_deg(crank_deg: float) -> float:
    """The crank angle within one four-stroke cycle, 0 <= angle < 720.

    >>> cycle_angle_deg(-90.0)
    630.0
    """
    angle = crank_deg % CYCLE_DEG
    # A tiny negative angle rounds up to the full cycle itself, which is the same as its start.
    return 0.0 if angle == CYCLE_DEG else angle
