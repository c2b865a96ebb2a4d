"""What the fields of records and requests are called on a page, with their units.

Messages for people use the label; the JSON path stays in the problem document, for programs.
"""

import re
from collections.abc import Mapping

_UNITS: Mapping[str, str] = {
    "mm": "mm",
    "kpa": "kPa",
    "c": "°C",
    "deg": "°",
    "nm": "N m",
    "m": "m",
    "percent": "%",
    "minutes": "min",
    "mm_per_interval": "mm per check interval",
}
"""By what a field's name ends with."""

_LABELS: Mapping[str, str] = {
    "usage": "the meter",
    "check_interval": "check interval",
    "temperature_c": "engine temperature",
    "reference_temperature_c": "reference temperature",
    "check_below_temperature_c": "maximum temperature for a cold check",
    "last_run_hours_ago": "hours since it last ran",
    "printed_mm": "the size marked on the shim",
    "measured_mm": "the measured thickness of the shim",
    "shim_mm": "shim",
    "shim_from_mm": "the shim removed",
    "shim_to_mm": "the shim fitted",
    "target_mm": "the clearance adjusted to",
    "turn_deg": "the turn of the screw",
    "blades_mm": "feeler blade",
    "felt": "how it felt",
    "dry_kpa": "dry compression",
    "wet_kpa": "wet compression",
    "leak_percent": "leak-down",
    "percent": "leak-down",
    "altitude_m": "altitude",
    "count": "quantity",
    "diameter_mm": "shim diameter",
    "from_mm": "the thinnest shim",
    "to_mm": "the thickest shim",
    "step_mm": "the step of the shims",
    "min_mm": "the lower limit",
    "max_mm": "the upper limit",
    "figure_mm": "the single figure",
    "min": "at least",
    "max": "at most",
    "nm": "torque",
    "old": "the old meter",
    "new": "the new meter",
    "next_check_risk": "the risk of the next check",
    "next_check_margin_mm": "out-of-spec margin",
    "rate_per_hour": "hourly rate",
    "spec": "clearance spec",
    "compression_spec_kpa": "compression spec",
    "shim_series": "shim series",
    "firing_order": "firing order",
    "firing_intervals_deg": "firing intervals",
    "adjuster_pitch_mm": "thread pitch",
    "rocker_ratio": "rocker ratio",
    "stroke_mm": "stroke",
    "rod_length_mm": "rod length",
    "valve_length_mm": "valve length",
    "pushrod_length_mm": "pushrod length",
    "decompression_lift_mm": "lift of the compression release",
    "decompression_side": "valve that the compression release lifts",
    "starting": "how it is started",
    "bump_release_travel_mm": "piston travel to the end of the compression release",
    "access_minutes": "access time",
    "minutes": "labour time",
    "preload_turns": "preload",
    "plunger_stroke_mm": "stroke of the plunger",
    "technician": "technician",
}
# What only holds other parts says nothing that its parts do not.
_SILENT = frozenset({"engine", "changes", "was", "seen", "choice", "verified", "decided", "recheck"})
_STEP = re.compile(r"\.([^.\[]+)|\[(\d+)\]")


def unit_of(field: str) -> str:
    """The unit of a field, by the end of its name; empty where it has none.

    >>> unit_of("printed_mm"), unit_of("usage")
    ('mm', '')
    """
    parts = field.split("_")
    for at in range(len(parts)):
        unit = _UNITS.get("_".join(parts[at:]))
        if unit is not None and (at > 0 or field in ("percent", "minutes", "nm")):
            return unit
    return ""


def _word(field: str) -> str:
    known = _LABELS.get(field)
    if known is not None:
        return known
    unit = unit_of(field)
    name = field
    if unit:
        ending = next(end for end in sorted(_UNITS, key=len, reverse=True) if field.endswith(f"_{end}"))
        name = field.removesuffix(f"_{ending}")
    return name.replace("_", " ")


def label_of(path: str) -> str:
    """What a place is called on a page.

    >>> label_of("$.seen.printed_mm"), label_of("$.engine.spec.intake.min_mm"), label_of("$.visits[2].usage")
    ('the size marked on the shim', 'clearance spec, intake, the lower limit', 'visits no. 3, the meter')
    >>> label_of("$.engine")
    'engine'
    """
    file, dollar, place = path.partition("$")
    # A place without a dollar is a file, a parameter of the address, or a part of a backup file.
    words = [file.strip()] if file.strip() else []
    steps = _STEP.findall(place if dollar else "")
    if not words and all(name in _SILENT for name, _ in steps):
        # A part of the record by itself: then its own name is what can be said.
        return ", ".join(name for name, _ in steps)
    for name, index in steps:
        if index:
            where = f"no. {int(index) + 1}"
            words = [*words[:-1], f"{words[-1]} {where}"] if words else [where]
        elif name not in _SILENT:
            words.append(_word(name))
    return ", ".join(words)
