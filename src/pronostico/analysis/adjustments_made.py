"""Adjustments noted at a visit, and which valves are still to be measured after them."""

from pydantic import computed_field

from pronostico.analysis.adjustment_words import LENGTH_UNITS, LengthUnit, done
from pronostico.analysis.report_model import ReportModel
from pronostico.core.visits import Felt
from pronostico.language import Text
from pronostico.record.engine import EngineModel
from pronostico.record.visit import SettingModel, VisitModel
from pronostico.record.work import ShimSource


class LockUpOut(ReportModel):
    """The nut was locked: the blade that had dragged before, the one tried after, and how that felt."""

    set_with_mm: list[float]
    blades_mm: list[float]
    felt: Felt


class DoneOut(ReportModel):
    """A setting that was noted; `id` is None for one that came with a record."""

    id: str | None
    valve: str
    target_mm: float | None
    turn_deg: float | None
    shim_from_mm: float | None
    shim_to_mm: float | None
    source: ShimSource | None
    moved_from: str | None
    reason: str | None
    lock_ups: list[LockUpOut]

    @computed_field  # type: ignore[prop-decorator]
    @property
    def text(self) -> dict[LengthUnit, Text]:
        """What was done, in words, by unit of length."""
        came = {"stock": "from the box", "order": "bought", "moved": f"from {self.moved_from}"}
        return {
            unit: done(
                unit,
                target_mm=self.target_mm,
                turn_deg=self.turn_deg,
                shim_from_mm=self.shim_from_mm,
                shim_to_mm=self.shim_to_mm,
                came=None if self.source is None else came[self.source],
                tightened=len(self.lock_ups),
                reason=self.reason,
            )
            for unit in LENGTH_UNITS
        }


def done_out(setting: SettingModel) -> DoneOut:
    """A setting as pages show it."""
    return DoneOut(
        id=setting.id,
        valve=setting.valve,
        target_mm=setting.target_mm,
        turn_deg=setting.turn_deg,
        shim_from_mm=setting.shim_from_mm,
        shim_to_mm=setting.shim_to_mm,
        source=setting.shim_source,
        moved_from=setting.moved_from,
        reason=setting.reason,
        lock_ups=[
            LockUpOut(set_with_mm=before.blades_mm, blades_mm=after.blades_mm, felt=after.felt)
            for lock_up in setting.lockup or []
            for before, after in zip(lock_up.before[-1:], lock_up.after[-1:], strict=False)
        ],
    )


def unmeasured(engine: EngineModel, visit: VisitModel) -> list[str]:
    """Valves that were set, or got other parts, and were not measured as left since: locking moves a setting.

    Lifters that take up their own play have nothing to be measured.
    """
    if engine.adjustment == "hydraulic":
        return []
    left = {one.valve for one in visit.readings if one.phase == "left" and one.tries}
    worked_on = {one.valve for one in visit.settings} | {one.valve for one in visit.parts_changed}
    return sorted(worked_on - left)


def unread(engine: EngineModel, visit: VisitModel) -> list[str]:
    """Valves that were not read as found; none of lifters that take up their own play."""
    if engine.adjustment == "hydraulic":
        return []
    read = {one.valve for one in visit.readings if one.phase == "found" and one.tries}
    return [valve.id for valve in engine.valves if valve.id not in read]
