"""Sound recordings of a visit: sent, listened to, drawn, heard again, deleted."""

from collections.abc import AsyncIterator
from pathlib import Path as File
from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter, Depends, Path, Query, Request
from fastapi.responses import FileResponse, Response
from pydantic import Field

from pronostico.analysis.recordings import SoundPictureOut
from pronostico.api.deps import DatabaseDep, FoldersDep, NowDep, SessionDep, WriteSessionDep
from pronostico.api.models import NewIdentifier, RequestModel
from pronostico.api.who_asks import owners_only
from pronostico.core.visits import Phase
from pronostico.limits import SOUND_BYTES
from pronostico.record.sound import HowRecorded
from pronostico.services.instruments.simulated_sound import SimulatedRecording, simulated_recording
from pronostico.services.sound_files import too_large
from pronostico.services.staging import temporary_folder
from pronostico.services.visits import recordings
from pronostico.services.visits.recordings import DrawnSounds, RecordingsOut

router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}/recordings", tags=["visits"])
RecordingId = Annotated[NewIdentifier, Path()]
_NOTE_LENGTH = 500
_SPARKS: dict[str | None, Literal[360, 720]] = {"360": 360, "720": 720}
_BINARY = {"schema": {"type": "string", "format": "binary"}}
_BODY: dict[str, Any] = {
    "requestBody": {"content": {"audio/*": _BINARY, "video/*": _BINARY, "application/octet-stream": _BINARY}}
}
_SOUND: dict[int | str, dict[str, Any]] = {200: {"content": {"audio/flac": _BINARY}}}
SIMULATED_SOUND: dict[int | str, dict[str, Any]] = {200: {"content": {"audio/wav": _BINARY}}}


async def _sent_sound(request: Request, folders: FoldersDep) -> AsyncIterator[File]:
    """The body as a file: two minutes of sound are much.

    Raises:
        Refused: it is too large; then it is not read to its end.
    """
    with temporary_folder(folders.recordings.parent) as folder:
        path, size = folder / "sent", 0
        with path.open("wb") as file:
            async for part in request.stream():
                size += len(part)
                if size > SOUND_BYTES:
                    raise too_large()
                file.write(part)
        yield path


SentSound = Annotated[File, Depends(_sent_sound)]


async def _drawn(request: Request) -> DrawnSounds:
    drawn: DrawnSounds = request.app.state.drawn_sounds
    return drawn


DrawnDep = Annotated[DrawnSounds, Depends(_drawn)]


def _how(
    rpm: Annotated[float | None, Query(ge=200, le=9000)] = None,
    clip: Annotated[int | None, Query(ge=1, le=64)] = None,
    sound_channel: Annotated[int | None, Query(ge=1, le=64)] = None,
    spark_every_deg: Annotated[Literal["360", "720"] | None, Query()] = None,
    advance_deg: Annotated[float | None, Query(ge=-60, le=90)] = None,
    mic_distance_m: Annotated[float | None, Query(gt=0, le=20)] = None,
    revs_raised: bool = False,
) -> HowRecorded:
    """What was known beside a recording, from the address."""
    return HowRecorded(
        rpm=rpm,
        clip=clip,
        sound_channel=sound_channel,
        spark_every_deg=_SPARKS.get(spark_every_deg),
        advance_deg=advance_deg,
        mic_distance_m=mic_distance_m,
        revs_raised=revs_raised,
    )


def simulated_response(sound: SimulatedRecording) -> Response:
    """A simulated recording as it is sent: WAV, with what else is known of it in its head."""
    known = {"simulated-rpm": str(sound.rpm), "simulated-clip": "2" if sound.clip else ""}
    return Response(sound.content, media_type="audio/wav", headers=known)


HowDep = Annotated[HowRecorded, Depends(_how)]


class RecordingIn(RequestModel):
    """What was known beside a recording."""

    phase: Phase
    how: HowRecorded
    note: Annotated[str, Field(max_length=_NOTE_LENGTH)] = ""


@router.get("")
def get_recordings(engine_id: str, visit_id: str, session: SessionDep, folders: FoldersDep) -> RecordingsOut:
    """The sound recordings of a visit, the last first, with what each says."""
    return recordings.recordings(session, engine_id, visit_id, folder=folders.recordings)


@router.get("/simulated", response_class=Response, responses=SIMULATED_SOUND)
def get_simulated_recording(
    engine_id: str, visit_id: str, session: SessionDep, database: DatabaseDep, clip: bool = True
) -> Response:
    """What the simulated microphone hears of the engine, as WAV; nothing is kept."""
    sound = simulated_recording(
        session, database.path, engine_id, visit_id, clip=clip, rng=np.random.default_rng()
    )
    return simulated_response(sound)


@router.put("/{recording_id}", openapi_extra=_BODY)
def put_recording(
    engine_id: str,
    visit_id: str,
    recording_id: RecordingId,
    sent: SentSound,
    database: DatabaseDep,
    folders: FoldersDep,
    now: NowDep,
    how: HowDep,
    phase: Phase = "found",
    note: Annotated[str, Query(max_length=_NOTE_LENGTH)] = "",
    simulated: bool = False,
) -> RecordingsOut:
    """Keep a recording under the identifier that the page gave it, and listen to it."""
    recordings.add_recording(
        database,
        engine_id,
        visit_id,
        recording_id,
        sent,
        phase=phase,
        how=how,
        note=note,
        simulated=simulated,
        folder=folders.recordings,
        now=now,
    )
    return _all(database, engine_id, visit_id, folders.recordings)


def _all(database: DatabaseDep, engine_id: str, visit_id: str, folder: File) -> RecordingsOut:
    with database.reading() as session:
        return recordings.recordings(session, engine_id, visit_id, folder=folder)


@router.put("/{recording_id}/how")
def put_how_recorded(
    engine_id: str,
    visit_id: str,
    recording_id: RecordingId,
    body: RecordingIn,
    database: DatabaseDep,
    folders: FoldersDep,
) -> RecordingsOut:
    """Change what was known beside a recording, and listen to it again."""
    recordings.change_recording(
        database,
        engine_id,
        visit_id,
        recording_id,
        phase=body.phase,
        how=body.how,
        note=body.note,
        folder=folders.recordings,
    )
    return _all(database, engine_id, visit_id, folders.recordings)


@router.get("/{recording_id}/picture")
def get_sound_picture(
    engine_id: str,
    visit_id: str,
    recording_id: str,
    database: DatabaseDep,
    folders: FoldersDep,
    drawn: DrawnDep,
) -> SoundPictureOut:
    """A recording drawn: one cycle, and the sound over time."""
    return recordings.picture_of(
        database, drawn, engine_id, visit_id, recording_id, folder=folders.recordings
    )


@router.get("/{recording_id}/sound", response_class=FileResponse, responses=_SOUND)
def get_sound(
    engine_id: str, visit_id: str, recording_id: str, session: SessionDep, folders: FoldersDep
) -> FileResponse:
    """The sound itself, as FLAC."""
    path = recordings.sound_of(session, engine_id, visit_id, recording_id, folder=folders.recordings)
    name = f"{engine_id}-{visit_id}-{recording_id}.flac"
    return FileResponse(path, media_type="audio/flac", filename=name, content_disposition_type="inline")


@router.delete("/{recording_id}", dependencies=[Depends(owners_only)])
def delete_recording(
    engine_id: str,
    visit_id: str,
    recording_id: RecordingId,
    session: WriteSessionDep,
    folders: FoldersDep,
    sound_only: bool = False,
) -> RecordingsOut:
    """Delete a recording for good, or its sound alone; what it said then stays."""
    recordings.delete_sound(
        session, engine_id, visit_id, recording_id, folder=folders.recordings, whole=not sound_only
    )
    return recordings.recordings(session, engine_id, visit_id, folder=folders.recordings)
