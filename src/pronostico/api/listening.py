"""Commands spoken at the engine: sound comes in from the page, what was understood goes back.

Over a WebSocket (RFC 6455). In: pieces of sound, 16 bits little-endian, 16,000 a second, one channel; or the
text `prompted` where the product has just spoken. Out: JSON, `kind` one of ready, command, not-understood,
late (sound was passed over, the machine is too slow), refused (with `detail`).
"""

import asyncio
import json
from asyncio.subprocess import PIPE, Process

import anyio
import anyio.to_thread
from fastapi import APIRouter, WebSocket
from starlette.requests import HTTPConnection
from starlette.status import WS_1000_NORMAL_CLOSURE, WS_1009_MESSAGE_TOO_BIG

from pronostico.analysis.report_model import ReportModel
from pronostico.errors import NotThere
from pronostico.language import as_spoken
from pronostico.services.workshop.blade_sets import blade_set_in_use
from pronostico.store.database import Database
from pronostico.voice import hearing

MOST_LISTENERS = 4
"""At once: each takes up to a third of a core."""
MOST_BEHIND_BYTES = 64_000
"""Of sound that a listener has not heard yet, two seconds; what comes beyond it is passed over."""
_END_S = 2.0

router = APIRouter(tags=["listening"])
sound_router = APIRouter(prefix="/api")


class Listeners:
    """How many pages are listened to."""

    def __init__(self) -> None:
        self.count = 0


class ListeningOut(ReportModel):
    """Whether commands can be heard; `missing`: why not."""

    missing: str | None


def _missing() -> str | None:
    package = hearing.missing_package()
    if package is None:
        return None
    return (
        f"the package '{package}' is not installed on the machine that runs Pronostico ('make setup' does it)"
    )


@router.get("/listening")
async def get_listening() -> ListeningOut:
    """Whether spoken commands can be understood here."""
    return ListeningOut(missing=_missing())


@sound_router.websocket("/engines/{engine_id}/visits/{visit_id}/listening")
async def listen(socket: WebSocket, engine_id: str, visit_id: str, prefix_always: bool = True) -> None:
    """Hear commands for as long as the page keeps the connection."""
    await socket.accept()
    listeners: Listeners = socket.app.state.listeners
    refusal = _missing()
    if refusal is None and listeners.count >= MOST_LISTENERS:
        refusal = f"{MOST_LISTENERS} devices are listened to already, which is all that this machine can do"
    settings = None
    if refusal is None:
        try:
            settings = await anyio.to_thread.run_sync(_settings, socket, engine_id, visit_id, prefix_always)
        except NotThere as error:
            refusal = str(error)
    if settings is None:
        await socket.send_json({"kind": "refused", "detail": as_spoken(refusal or "")})
        await socket.close(WS_1000_NORMAL_CLOSURE)
        return
    listeners.count += 1
    try:
        await _hear(socket, settings)
    finally:
        listeners.count -= 1


def _settings(at: HTTPConnection, engine_id: str, visit_id: str, prefix_always: bool) -> hearing.Settings:
    database: Database = at.app.state.database
    with database.reading() as session:
        used = blade_set_in_use(session, engine_id, visit_id)
    return hearing.Settings(used.blades_mm, used.unit, prefix_always)


async def _hear(socket: WebSocket, settings: hearing.Settings) -> None:
    process = await asyncio.create_subprocess_exec(*hearing.COMMAND, stdin=PIPE, stdout=PIPE)
    told = asyncio.create_task(_tell(process, socket))
    try:
        assert process.stdin is not None
        process.stdin.write(settings.line())
        await _take_sound(socket, process.stdin)
    finally:
        # Also where the connection was cut: none is left behind.
        with anyio.CancelScope(shield=True):
            told.cancel()
            await asyncio.wait([told])
            await _end(process)


async def _take_sound(socket: WebSocket, into: asyncio.StreamWriter) -> None:
    """Hand sound on until the page goes, or the listener does."""
    behind = False
    while not into.is_closing():
        message = await socket.receive()
        if message["type"] == "websocket.disconnect":
            return
        sound: bytes | None = message.get("bytes")
        if sound is None:
            into.write(hearing.piece(hearing.PROMPTED))
        elif len(sound) > hearing.MOST_BYTES:
            await socket.close(WS_1009_MESSAGE_TOO_BIG)
            return
        # What is heard too late does harm: the blade in the hand is another one by then.
        elif into.transport.get_write_buffer_size() <= MOST_BEHIND_BYTES:
            into.write(hearing.piece(hearing.SOUND, sound))
            behind = False
        elif not behind:
            behind = True
            await socket.send_json({"kind": "late"})


async def _tell(process: Process, socket: WebSocket) -> None:
    """Hand on what was heard; where the listener ends by itself, say so."""
    assert process.stdout is not None
    while line := await process.stdout.readline():
        await socket.send_json(json.loads(line))
    await socket.send_json({"kind": "refused", "detail": as_spoken("listening broke off; start it again")})
    await socket.close(WS_1000_NORMAL_CLOSURE)


async def _end(process: Process) -> None:
    """End a listener: it ends with its input."""
    try:
        await asyncio.wait_for(process.communicate(), _END_S)
    except TimeoutError:
        process.kill()
        await process.communicate()
