"""Instruments at a visit: live traces (server-sent events), replayed files, traces kept and taken over."""

import asyncio
from collections.abc import AsyncIterator
from datetime import datetime
from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter, Depends, Query
from fastapi.sse import EventSourceResponse, ServerSentEvent
from pydantic import Field

from pronostico.analysis.instrument_kinds import InstrumentOut, kinds_alone
from pronostico.api.deps import DatabaseDep, RawBody, SessionDep, WriteSessionDep
from pronostico.api.models import NoGuessing, RequestModel
from pronostico.core.visits import InstrumentKind, Phase
from pronostico.instruments.samples import InstrumentLost, Trouble
from pronostico.language import as_spoken
from pronostico.record.base import CylinderNumber, Identifier
from pronostico.record.visit import Trace
from pronostico.services.instruments.traces import (
    InstrumentsOut,
    Reading,
    ReplayOut,
    instruments_at,
    keep_trace,
    read_simulated,
    replay,
    take_back_trace,
)

router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}/instruments", tags=["instruments"])
TroubleName = Literal["none", "drops", "lead-off", "lost"]
TROUBLES: dict[TroubleName, Trouble] = {
    "none": Trouble(),
    "drops": Trouble(dropped=0.2),
    "lead-off": Trouble(lead_off=True),
    "lost": Trouble(lost_after_s=1.5),
}
Speed = Annotated[float, Query(ge=0.1, le=1000)]
_CSV: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"text/csv": {"schema": {"type": "string", "format": "binary"}}},
    }
}
Value = Annotated[float, Field(ge=-1e6, le=1e6), NoGuessing]


class TraceIn(RequestModel):
    """A trace as it came: what it was held to, its samples (seconds, then each channel), how it ended."""

    kind: InstrumentKind
    instrument: Annotated[str, Field(min_length=1, max_length=120)]
    at: datetime
    valve: Identifier | None = None
    cylinder: CylinderNumber | None = None
    oiled: bool = False
    phase: Phase = "found"
    heard: list[Annotated[str, Field(max_length=40)]] = Field(default_factory=list, max_length=5)
    channels: list[Annotated[str, Field(max_length=80)]] = Field(max_length=80)
    samples: list[list[Value | None]] = Field(max_length=2000)
    ended: Literal["whole", "stopped", "lost"]
    taken: bool = False


async def events(reading: Reading, speed: float) -> AsyncIterator[ServerSentEvent]:
    """A reading as it comes: what it is, each sample at its time, and how it ended.

    Args:
        speed: how much faster than the clock.
    """
    yield ServerSentEvent(
        event="begin",
        data={
            "instrument": reading.name,
            "channels": [channel.id for channel in reading.channels],
            "heard": list(reading.heard),
        },
    )
    shown_s = 0.0
    try:
        for sample in reading.samples:
            await asyncio.sleep(max(0.0, sample.at_s - shown_s) / speed)
            shown_s = sample.at_s
            yield ServerSentEvent(event="sample", data=[sample.at_s, *sample.values])
    except InstrumentLost as lost:
        yield ServerSentEvent(event="lost", data=as_spoken(str(lost)))
        return
    yield ServerSentEvent(event="end", data="")


kinds_router = APIRouter(tags=["instruments"])


@kinds_router.get("/instrument-kinds")
def get_instrument_kinds() -> list[InstrumentOut]:
    """The kinds of instruments that ship, with the columns of a file that each can be replayed from."""
    return kinds_alone()


@router.get("")
def get_instruments(engine_id: str, visit_id: str, session: SessionDep) -> InstrumentsOut:
    """The instruments for an engine, and the traces that were taken at a visit."""
    return instruments_at(session, engine_id, visit_id)


def _simulated(
    engine_id: str,
    visit_id: str,
    kind: InstrumentKind,
    database: DatabaseDep,
    valve: str | None = None,
    cylinder: int | None = None,
    oiled: bool = False,
    trouble: TroubleName = "none",
) -> Reading:
    # Closed before the first sample: a trace lasts as long as the instrument is held, a connection must not.
    with database.reading() as session:
        return read_simulated(
            session,
            database.path,
            engine_id,
            visit_id,
            kind,
            valve=valve,
            cylinder=cylinder,
            oiled=oiled,
            trouble=TROUBLES[trouble],
            rng=np.random.default_rng(),
        )


@router.get("/{kind}/trace", response_class=EventSourceResponse)
async def get_trace(
    reading: Annotated[Reading, Depends(_simulated)], speed: Speed = 1.0
) -> AsyncIterator[ServerSentEvent]:
    """A simulated instrument on the current engine, sample by sample."""
    async for event in events(reading, speed):
        yield event


@router.post("/{kind}/replay", openapi_extra=_CSV)
def post_replay(
    engine_id: str, visit_id: str, kind: InstrumentKind, content: RawBody, session: SessionDep
) -> ReplayOut:
    """A recorded trace, read and checked; nothing is stored."""
    return replay(session, engine_id, visit_id, kind, content)


@router.put("/traces/{trace_id}")
def put_trace(
    engine_id: str,
    visit_id: str,
    trace_id: Identifier,
    body: TraceIn,
    writing: WriteSessionDep,
    session: SessionDep,
) -> InstrumentsOut:
    """Keep a trace; with `taken` its figures go into the record under the instrument's name and time."""
    keep_trace(writing, engine_id, visit_id, Trace(id=trace_id, **body.model_dump()))
    return instruments_at(session, engine_id, visit_id)


@router.delete("/traces/{trace_id}/taken")
def delete_taken(
    engine_id: str, visit_id: str, trace_id: Identifier, writing: WriteSessionDep, session: SessionDep
) -> InstrumentsOut:
    """Take a trace's figures out of the record again."""
    take_back_trace(writing, engine_id, visit_id, trace_id)
    return instruments_at(session, engine_id, visit_id)
