"""What a visit carries beside its figures: parts laid aside, decisions, what the meter showed.

It travels within the record, in the visit's `entered`, so that it goes wherever the visit goes.
"""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, JsonValue, ValidationError

from pronostico.core.adjust.targets import Policy, Which
from pronostico.core.assessment import Decision
from pronostico.core.crank.stations import School
from pronostico.core.visits import Phase
from pronostico.instruments.kinds import Kind
from pronostico.record.models import VisitModel


class Part(BaseModel):
    """Small parts and screws: what, where it came from, and whether it is back."""

    model_config = ConfigDict(extra="forbid")

    what: str = Field(max_length=120)
    came_from: str = Field(default="", max_length=120)
    back: bool = False


class Decided(BaseModel):
    """What the technician decided of a valve, and why."""

    model_config = ConfigDict(extra="forbid")

    decision: Decision
    reason: str = Field(default="", max_length=300)


class SettingChoice(BaseModel):
    """Where in the spec to set to, which valves to touch, and why."""

    model_config = ConfigDict(extra="forbid")

    policy: Policy = "middle"
    which: Which = "only-out"
    reason: str = Field(default="", max_length=300)


class ShimSeen(BaseModel):
    """The shim that was found in a valve, mm: what is printed on it, and what it measures."""

    model_config = ConfigDict(extra="forbid")

    printed_mm: float | None = Field(default=None, gt=0, le=10)
    measured_mm: float | None = Field(default=None, gt=0, le=10)


Outcome = Literal["gone", "better", "same", "worse"]


class Verified(BaseModel):
    """What became of a complaint."""

    model_config = ConfigDict(extra="forbid")

    outcome: Outcome
    note: str = Field(default="", max_length=300)


class Recheck(BaseModel):
    """When to check next, as a running total, and why."""

    model_config = ConfigDict(extra="forbid")

    usage: float = Field(ge=0, le=1e8)
    reason: str = Field(default="", max_length=300)


class InstrumentNote(BaseModel):
    """A trace that an instrument gave: held to what, how it ended, and whether it was taken into the record.

    `samples`: seconds, then a value for each channel; null where nothing came.
    """

    model_config = ConfigDict(extra="forbid")

    id: str = Field(min_length=1, max_length=80)
    kind: Kind
    instrument: str = Field(max_length=120)
    at: datetime
    valve: str | None = None
    cylinder: int | None = None
    oiled: bool = False
    phase: Phase = "found"
    heard: list[str] = []
    channels: list[str]
    samples: list[list[float | None]]
    ended: Literal["whole", "stopped", "lost"]
    taken: bool = False
    # What stood in the record where its figures went, so that they can be taken back.
    replaced: dict[str, JsonValue] = {}


class VisitNotes(BaseModel):
    """The notes of one visit; what else was typed there (by another program) is kept as it is."""

    model_config = ConfigDict(extra="allow")

    parts: list[Part] = []
    decisions: dict[str, Decided] = {}
    meter: float | None = None
    setting: SettingChoice | None = None
    shims: dict[str, ShimSeen] = {}
    ticks: list[str] = []
    outcomes: dict[str, Verified] = {}
    recheck: Recheck | None = None
    minutes: float | None = Field(default=None, ge=0)
    instruments: list[InstrumentNote] = []
    # How the crank was turned, and valves whose readings were confirmed though the position looked wrong.
    school: School | None = None
    confirmed: list[str] = []
    # Whether the valve cover is off: since the first blade went in, or as was said.
    cover_off: bool = False


def notes_of(visit: VisitModel) -> VisitNotes:
    """The notes of a visit; whatever has not their shape is kept under `other`."""
    if visit.entered is None:
        return VisitNotes()
    try:
        return VisitNotes.model_validate(visit.entered)
    except ValidationError:
        return VisitNotes.model_validate({"other": visit.entered})


def with_notes(visit: VisitModel, notes: VisitNotes) -> VisitModel:
    """The visit with its notes; none at all leave nothing behind."""
    document = notes.model_dump(mode="json", exclude_defaults=True)
    return visit.model_copy(update={"entered": document or None})
