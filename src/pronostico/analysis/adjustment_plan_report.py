"""What to set at a visit, as it is answered: valve by valve, and the shims of the whole engine."""

from pydantic import computed_field

from pronostico.analysis.adjustment_words import turn
from pronostico.analysis.report_model import ReportModel
from pronostico.core.adjust.targets import Policy, Which
from pronostico.core.gauge.reading import Verdict
from pronostico.language import Text


class NeedsReadingOut(ReportModel):
    """Known only as a bound: the thickness to try next, mm; null where none of the set would do."""

    next_mm: float | None


class ShimOut(ReportModel):
    """The shim for a valve: 'stock', 'order', 'kept', or 'moved from 3I'."""

    shim_mm: float
    source: str


class SetValveOut(ReportModel):
    """What to do with one valve. `turn_deg` is positive clockwise seen on the adjuster.

    `set_with_mm`: the blade, or the stack, that should drag before the nut is locked; `check_with_mm`:
    the one that should drag after, which differs where locking is known to move it. `shim_now_mm`: the shim
    that is in it, where that is known. `verdict`: how it stands now.
    `intervals_in_spec`: how long it then stays in spec with probability 0.9; `intervals_left`: how long the
    shims of the series make up for the drift; both in check intervals. `needs_reading`: what to measure
    before a shim or a turn can be chosen; `provisional`: even the thinnest blade would not go, and the shim
    or turn is only to bring about a clearance that can be read. `note` says why something is missing.
    """

    valve: str
    touch: bool
    target_mm: float | None
    from_mm: float | None
    turn_deg: float | None
    set_with_mm: list[float] | None
    check_with_mm: list[float] | None
    shim_now_mm: float | None
    shim: ShimOut | None
    needs_reading: NeedsReadingOut | None
    provisional: bool
    verdict: Verdict | None
    p_in_after: float | None
    together_with: list[str]
    intervals_in_spec: float | None
    intervals_left: float | None
    note: Text | None

    @computed_field  # type: ignore[prop-decorator]
    @property
    def turn_text(self) -> Text | None:
        """How far to turn, in words."""
        return None if self.turn_deg is None else turn(self.turn_deg)


class FitOut(ReportModel):
    """A shim to fit."""

    valve: str
    shim_mm: float
    source: str


class CountOut(ReportModel):
    """So many shims of one size."""

    shim_mm: float
    count: int


class ShimPlanOut(ReportModel):
    """What to fit, to order, and what comes back to the box."""

    fit: list[FitOut]
    order: list[CountOut]
    freed: list[CountOut]


class PreloadOut(ReportModel):
    """Turns past zero lash of hydraulic lifters, and where the plunger then stands."""

    turns: float
    plunger_travel_mm: float | None
    share_of_stroke: float | None
    sound: bool | None


class AllowanceOut(ReportModel):
    """How many lock-ups the allowance rests on, and whose they were; null: everybody's."""

    lock_ups: int
    technician: str | None


class AdjustmentPlanOut(ReportModel):
    """A visit's setting, by one policy."""

    policy: Policy
    which: Which
    valves: list[SetValveOut]
    shims: ShimPlanOut
    camshafts_out: list[str]
    locking_allowance_mm: float
    allowance_rests_on: AllowanceOut
    preload: PreloadOut | None
