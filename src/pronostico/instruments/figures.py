"""What a trace comes to: the figures that a technician would write down from it, and whether it is enough."""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from pronostico.core.cylinder import pressure_at
from pronostico.core.visits import InstrumentKind
from pronostico.instruments.samples import Channel, Sample

_LAST_S = 1.0
_ENOUGH_STROKES = 4
_STILL_MM, _STILL_PERCENT, _STILL_K = 0.01, 1.5, 0.8


@dataclass(frozen=True, slots=True)
class TraceFigures:
    """Figures by the channel that they come from; `incomplete`: why the trace is not enough, None: it is."""

    values: dict[str, float]
    incomplete: str | None


def _columns(channels: Sequence[Channel], samples: Sequence[Sample]) -> dict[str, list[tuple[float, float]]]:
    """Times and values of each channel, without what did not come."""
    columns: dict[str, list[tuple[float, float]]] = {channel.id: [] for channel in channels}
    for sample in samples:
        for channel, value in zip(channels, sample.values, strict=True):
            if value is not None:
                columns[channel.id].append((sample.at_s, value))
    return columns


def _settled(column: list[tuple[float, float]], still: float) -> tuple[float, bool]:
    """The middle of the last second, and whether it stands still there."""
    last = column[-1][0]
    late = [value for at, value in column if at >= last - _LAST_S]
    return median(late), last >= _LAST_S and max(late) - min(late) <= 2.0 * still


def figures_of(
    kind: InstrumentKind, channels: Sequence[Channel], samples: Sequence[Sample], *, altitude_m: float = 0.0
) -> TraceFigures:
    """The figures of a trace, whole or as far as it came."""
    columns = _columns(channels, samples)
    silent = [channel.label for channel in channels if not columns[channel.id]]
    if silent:
        return TraceFigures({}, f"no signal for {', '.join(silent)}: is the lead connected?")
    match kind:
        case "dial-clearance":
            value, still = _settled(columns["clearance_mm"], _STILL_MM)
            return TraceFigures(
                {"clearance_mm": round(value, 3)}, _unless(still, "the reading had not settled")
            )
        case "dial-lift":
            turned = columns["crank_deg"][-1][1] - columns["crank_deg"][0][1]
            lift = max(value for _, value in columns["lift_mm"])
            whole = turned >= 715.0
            return TraceFigures(
                {"lift_mm": round(lift, 2)},
                _unless(whole, f"the crank turned only {turned:g} of 720 degrees"),
            )
        case "compression":
            strokes = max(value for _, value in columns["stroke"])
            peak = max(value for _, value in columns["pressure_kpa"])
            fault = f"only {strokes:g} strokes: crank until it stops rising"
            return TraceFigures({"pressure_kpa": round(peak)}, _unless(strokes >= _ENOUGH_STROKES, fault))
        case "leakdown":
            value, still = _settled(columns["lost_percent"], _STILL_PERCENT)
            return TraceFigures(
                {"lost_percent": round(value, 1)}, _unless(still, "the reading had not settled")
            )
        case "reader":
            return _of_reader(columns, altitude_m)
        case "thermometer":
            head, head_still = _settled(columns["head_c"], _STILL_K)
            air, air_still = _settled(columns["air_c"], _STILL_K)
            values = {"head_c": round(head, 1), "air_c": round(air, 1)}
            return TraceFigures(values, _unless(head_still and air_still, "the reading had not settled"))


def _unless(fine: bool, fault: str) -> str | None:
    return None if fine else fault


def _of_reader(columns: dict[str, list[tuple[float, float]]], altitude_m: float) -> TraceFigures:
    lasted = columns["idle_per_min"][-1][0]
    manifold = median(value for _, value in columns["manifold_kpa"])
    values = {
        "idle_per_min": round(median(value for _, value in columns["idle_per_min"])),
        "trim_long_percent": round(median(value for _, value in columns["trim_long_percent"]), 1),
        "vacuum_kpa": round(pressure_at(altitude_m) - manifold, 1),
    }
    for name, column in columns.items():
        if name.startswith("misfires_"):
            values[name] = column[-1][1] - column[0][1]
    return TraceFigures(
        values, _unless(lasted >= 10.0, f"watched for {lasted:g} s; misfires need at least ten")
    )
