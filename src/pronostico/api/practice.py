"""The practice engine on the Bench: lessons, runs step by step, instruments on it, and the look back."""

from collections.abc import AsyncIterator
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, Depends, Path, Query
from fastapi.responses import Response
from fastapi.sse import EventSourceResponse, ServerSentEvent
from pydantic import Field

from pronostico.analysis.diagnosis_report import DiagnosisOut
from pronostico.analysis.practice_report import HintOut, PracticeOut, RunOut
from pronostico.analysis.recordings import SoundPictureOut
from pronostico.api.deps import DatabaseDep, NowDep, SessionDep, TodayDep, WriteSessionDep
from pronostico.api.instruments import Speed, Value, events
from pronostico.api.models import NoGuessing, RequestModel
from pronostico.api.recordings import SIMULATED_SOUND, simulated_response
from pronostico.core.practice.run import Step, StepKind
from pronostico.core.visits import InstrumentKind, Phase
from pronostico.record.base import BladeMm, CylinderNumber, Identifier
from pronostico.services.instruments.traces import Reading
from pronostico.services.practice import runs
from pronostico.services.practice.run_report import run_out
from pronostico.services.practice.sounds import causes_of_run, picture_of_run, sound_of_run

router = APIRouter(prefix="/practice", tags=["practice"])
Name = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^\S(.*\S)?$")]


class RunIn(RequestModel):
    """A run to begin: a lesson, or an engine with a fault (null: whatever comes; 'none': nothing wrong)."""

    learner: Name
    lesson: Identifier | None = None
    pattern: Identifier | None = None
    fault: Identifier | None = None


class StepIn(RequestModel):
    """One thing to do; `number` is how many steps the page knows of."""

    number: Annotated[int, Field(ge=0, le=10_000), NoGuessing]
    kind: StepKind
    valve: Annotated[str, Field(max_length=80)] = ""
    by_deg: Annotated[float, Field(ge=-1e6, le=1e6), NoGuessing] = 0.0
    blades_mm: list[Annotated[BladeMm, NoGuessing]] = Field(default_factory=list, max_length=4)
    target_mm: Annotated[float, Field(ge=0, le=10), NoGuessing] = 0.0
    cause: Annotated[str, Field(max_length=80)] = ""


class RunTraceIn(RequestModel):
    """A trace that an instrument gave in a run."""

    number: Annotated[int, Field(ge=0, le=10_000), NoGuessing]
    kind: InstrumentKind
    valve: Identifier | None = None
    cylinder: CylinderNumber | None = None
    oiled: bool = False
    samples: list[list[Value | None]] = Field(max_length=2000)


def new_seed() -> int:
    """What a new run is drawn from."""
    return int(np.random.default_rng().integers(2**31))


@router.get("")
def get_practice(session: SessionDep, learner: Annotated[str, Query(max_length=80)] = "") -> PracticeOut:
    """The lessons with a learner's progress, and what free practice can be of."""
    return runs.practice(session, learner)


@router.put("/runs/{run_id}")
def put_run(
    run_id: Identifier,
    body: RunIn,
    seed: Annotated[int, Depends(new_seed)],
    writing: WriteSessionDep,
    session: SessionDep,
    now: NowDep,
) -> RunOut:
    """Begin a run."""
    runs.begin_run(
        writing,
        run_id,
        learner=body.learner,
        lesson=body.lesson,
        pattern=body.pattern,
        fault=body.fault,
        seed=seed,
        now=now,
    )
    return run_out(session, run_id)


@router.get("/runs/{run_id}")
def get_run(run_id: str, session: SessionDep) -> RunOut:
    """A run as the learner sees it."""
    return run_out(session, run_id)


@router.post("/runs/{run_id}/steps")
def post_step(run_id: str, body: StepIn, writing: WriteSessionDep, session: SessionDep) -> RunOut:
    """Do one thing more."""
    fields: dict[str, Any] = body.model_dump(exclude={"number"})
    step = Step(**{**fields, "blades_mm": tuple(body.blades_mm)})
    runs.go_on(writing, run_id, body.number, step)
    return run_out(session, run_id)


@router.post("/runs/{run_id}/traces")
def post_trace(run_id: str, body: RunTraceIn, writing: WriteSessionDep, session: SessionDep) -> RunOut:
    """Note what an instrument showed."""
    figures = runs.figures_of_trace(writing, run_id, body.kind, body.samples)
    step = Step(
        "instrument",
        valve=body.valve or "",
        instrument=body.kind,
        cylinder=body.cylinder or 0,
        oiled=body.oiled,
        figures=figures,
    )
    runs.go_on(writing, run_id, body.number, step)
    return run_out(session, run_id)


@router.get("/runs/{run_id}/hint")
def get_hint(run_id: str, valve: str, session: SessionDep, phase: Phase = "found") -> HintOut:
    """The blade that the advice would take next."""
    return runs.hint(session, run_id, valve, phase)


@router.post("/runs/{run_id}/end")
def post_end(run_id: str, writing: WriteSessionDep, session: SessionDep, now: NowDep) -> RunOut:
    """End a run and show the true state."""
    runs.end(writing, run_id, now=now)
    return run_out(session, run_id)


Number = Annotated[int, Path(ge=0, le=10_000)]


@router.get("/runs/{run_id}/sounds/{number}", response_class=Response, responses=SIMULATED_SOUND)
def get_run_sound(run_id: str, number: Number, session: SessionDep) -> Response:
    """The noise that was recorded at a step of a run, as WAV."""
    return simulated_response(sound_of_run(session, run_id, number))


@router.get("/runs/{run_id}/sounds/{number}/picture")
def get_run_sound_picture(run_id: str, number: Number, session: SessionDep) -> SoundPictureOut:
    """The same, drawn."""
    return picture_of_run(session, run_id, number)


@router.get("/runs/{run_id}/causes")
def get_run_causes(run_id: str, session: SessionDep, today: TodayDep) -> DiagnosisOut:
    """What a case would make of all that was found so far."""
    return causes_of_run(session, run_id, today=today)


def _in_run(
    run_id: str,
    kind: InstrumentKind,
    database: DatabaseDep,
    valve: str | None = None,
    cylinder: int | None = None,
    oiled: bool = False,
) -> Reading:
    # Closed before the first sample, as at a visit.
    with database.reading() as session:
        return runs.read_in_run(session, run_id, kind, valve=valve, cylinder=cylinder, oiled=oiled)


@router.get("/runs/{run_id}/instruments/{kind}/trace", response_class=EventSourceResponse)
async def get_run_trace(
    reading: Annotated[Reading, Depends(_in_run)], speed: Speed = 1.0
) -> AsyncIterator[ServerSentEvent]:
    """An instrument on the practice engine, sample by sample."""
    async for event in events(reading, speed):
        yield event
