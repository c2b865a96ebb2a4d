"""What a visit keeps of the work itself: parts removed, decisions, adjustments chosen, checks.

All of it is optional: a record from elsewhere has none of these fields.
"""

from typing import Annotated, Literal

from pydantic import Field

from pronostico.core.adjust.targets import Policy, Which
from pronostico.core.assessment import Decision
from pronostico.record.base import Day, DiameterMm, Identifier, ListOf, RecordModel, ShimMm, UsageTotal

Reason = Annotated[str, Field(max_length=300)]
ShimSource = Literal["stock", "order", "moved"]
Outcome = Literal["gone", "better", "same", "worse"]


class AwaitedPart(RecordModel):
    """A part that the work waits for: what, from whom, when it was ordered, and when it came.

    `shim_mm`, `diameter_mm`: of a shim, which goes into the box when it comes.
    """

    what: Annotated[str, Field(min_length=1, max_length=200, pattern=r"\S")]
    source: Annotated[str, Field(max_length=200)] = ""
    ordered: Day | None = None
    arrived: Day | None = None
    count: Annotated[int, Field(ge=1, le=10_000)] = 1
    shim_mm: ShimMm | None = None
    diameter_mm: DiameterMm | None = None


WorkState = Literal["open", "waiting", "ready", "done"]


class Progress(RecordModel):
    """How far the work of a visit is. `promised`: the day it is to be finished; `ended`: the day it was."""

    state: WorkState
    awaited: ListOf[AwaitedPart] = []
    promised: Day | None = None
    ended: Day | None = None


class UsedPart(RecordModel):
    """A part that was used: what, how many, and its price each in the workshop's currency."""

    what: Annotated[str, Field(min_length=1, max_length=200, pattern=r"\S")]
    count: Annotated[float, Field(gt=0, le=10_000)] = 1
    price: Annotated[float, Field(ge=0, le=1e6)] | None = None


ValvePart = Literal["valve", "seat", "spring", "rocker", "pushrod", "lifter", "camshaft"]


class ChangedPart(RecordModel):
    """A part of one valve that was changed: what was measured before says nothing of it after."""

    valve: Identifier
    part: ValvePart


class KitItem(UsedPart):
    """What to have ready before an engine is opened: a part that is used up, or a tool."""

    kind: Literal["part", "tool"] = "part"


class Part(RecordModel):
    """Parts removed: what, where they came from, and whether they are refitted."""

    what: Annotated[str, Field(max_length=120)]
    came_from: Annotated[str, Field(max_length=120)] = ""
    back: bool = False


class QuickCheck(RecordModel):
    """A quick check before a valve check that was done, and what was seen."""

    seen: Reason = ""


class Decided(RecordModel):
    """What the technician decided of a valve, and why."""

    decision: Decision
    reason: Reason = ""


class AdjustmentChoice(RecordModel):
    """Where in the spec to set to, which valves to adjust, and why."""

    policy: Policy = "middle"
    which: Which = "only-out"
    reason: Reason = ""


class ShimSeen(RecordModel):
    """The shim that was found in a valve, mm: what is printed on it, and what it measures."""

    printed_mm: ShimMm | None = None
    measured_mm: ShimMm | None = None


class Verified(RecordModel):
    """What became of a complaint."""

    outcome: Outcome
    note: Reason = ""


class Recheck(RecordModel):
    """When to check next, as a running total of usage, and why."""

    usage: UsageTotal
    reason: Reason = ""
