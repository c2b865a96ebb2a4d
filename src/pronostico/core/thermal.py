"""What the temperature of an evenly soaked engine does to a clearance.

correction(T) = K (T - T_ref), with K from the difference in expansion of what holds the valve gear apart
and what fills it: for a cam in the head K = (a_head - a_valve) L_valve, and for pushrods
K = R (a_structure - a_rod) L_rod + (a_head - a_valve) L_valve. Where the manual states no T_ref it counts as
normal about a workshop's temperature. F-03 in docs/formulas.md.
"""

from dataclasses import dataclass
from math import hypot

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Adjustment, Engine, Material, Side

# Hydraulic gear keeps its own clearance; where a figure is read all the same it is a pushrod engine's.
_PUSHROD: frozenset[Adjustment] = frozenset({"screw-pushrod", "pivot-nut", "hydraulic"})


@dataclass(frozen=True, slots=True)
class Correction:
    """How far a clearance reads from its value at the reference temperature, mm, and how surely."""

    correction_mm: float
    uncertainty_mm: float


def _expansion(material: Material, constants: Constants) -> float:
    return constants.expansion_aluminium if material == "aluminium" else constants.expansion_cast_iron


def sensitivity_mm_per_k(engine: Engine, side: Side, constants: Constants = DEFAULT) -> float | None:
    """Growth of the clearance per kelvin, mm; None where a length, ratio or material is not known."""
    if engine.head_material is None or engine.valve_length_mm is None:
        return None
    valve = constants.expansion_intake_valve if side == "intake" else constants.expansion_exhaust_valve
    in_head = (_expansion(engine.head_material, constants) - valve) * engine.valve_length_mm
    if engine.adjustment not in _PUSHROD:
        return in_head
    if engine.block_material is None or engine.rocker_ratio is None or engine.pushrod_length_mm is None:
        return None
    rod = _expansion(engine.block_material, constants) - constants.expansion_pushrod
    return engine.rocker_ratio * rod * engine.pushrod_length_mm + in_head


def why_not_cold(
    *,
    temperature_c: float | None,
    below_c: float | None,
    last_run_hours_ago: float | None,
    constants: Constants = DEFAULT,
) -> tuple[str, ...]:
    """Why a visit is no cold check; empty where nothing known is evidence against it.

    >>> why_not_cold(temperature_c=45.0, below_c=38.0, last_run_hours_ago=None)
    ('45 °C exceeds the 38 °C allowed for a cold check',)
    """
    reasons = []
    if temperature_c is not None and below_c is not None and temperature_c > below_c:
        reasons.append(f"{temperature_c:g} °C exceeds the {below_c:g} °C allowed for a cold check")
    if last_run_hours_ago is not None and last_run_hours_ago < constants.cold_after_hours:
        reasons.append(
            f"it ran {last_run_hours_ago:g} h ago and needs {constants.cold_after_hours:g} h to cool"
        )
    return tuple(reasons)


def correction_at(
    engine: Engine, side: Side, temperature_c: float | None, constants: Constants = DEFAULT
) -> Correction:
    """The correction of a side at a soak temperature (deg C, None where it was not noted)."""
    if temperature_c is None:
        return Correction(0.0, constants.temperature_unknown_sd_mm)
    stated = engine.reference_temperature_c
    away_k = temperature_c - (constants.reference_assumed_c if stated is None else stated)
    reference_sd_k = constants.reference_assumed_sd_k if stated is None else 0.0
    per_k = sensitivity_mm_per_k(engine, side, constants)
    if per_k is None:
        unknown = constants.geometry_unknown_mm_per_k
        return Correction(0.0, hypot(unknown * away_k, unknown * reference_sd_k))
    return Correction(per_k * away_k, hypot(0.5 * per_k * away_k, per_k * reference_sd_k))
