"""The noise of the practice engine: recorded at a step, heard, drawn, compared; and what a case makes of it.

Nothing is kept but the step: the same run makes the same noise at it again.
"""

from datetime import UTC, date, datetime
from io import BytesIO

import numpy as np
import soundfile
from sqlalchemy.orm import Session

from pronostico.analysis.diagnosis import diagnose_record
from pronostico.analysis.diagnosis_report import DiagnosisOut
from pronostico.analysis.recordings import SoundPictureOut, cycle_out, picture_out, said_of, what_is_heard
from pronostico.core.practice.run import Practice
from pronostico.core.sound.listen import Compared, Heard, compare, listen
from pronostico.core.sound.picture import SoundPicture, picture
from pronostico.core.sound.wav import Samples
from pronostico.core.visits import Phase
from pronostico.errors import NotThere
from pronostico.record.models import CaseModel, Record
from pronostico.record.sound import HowRecorded, SoundRecording
from pronostico.record.visit import FindingModel, ReadingModel, TryModel, VisitModel
from pronostico.services.instruments.simulated_sound import SimulatedRecording, as_wav
from pronostico.services.last_used import LastUsed
from pronostico.services.practice.run import Run

_MOST_HEARD = 16
_VISIT, _CASE = "run", "run"


_LAST_MADE: LastUsed[SimulatedRecording] = LastUsed(_MOST_HEARD)
_LAST_DRAWN: LastUsed[tuple[Heard, SoundPicture]] = LastUsed(_MOST_HEARD)


def _key(run: Run, number: int) -> str:
    return run.data.model_copy(update={"steps": run.data.steps[:number]}).model_dump_json()


def _make(run: Run, number: int) -> SimulatedRecording:
    practice, seed = run.practice, run.data.seed
    then = Practice(practice.hidden, seed, practice.blades_mm, run.data.steps[:number])
    rng = np.random.default_rng([seed, 8, number])
    return as_wav(then.condition, rng, clip=True, character=seed)


def _recorded(run: Run, number: int) -> SimulatedRecording:
    if not (0 <= number < len(run.data.steps) and run.data.steps[number].kind == "sound"):
        raise NotThere("sound recording", str(number))
    return _LAST_MADE.get(_key(run, number), lambda: _make(run, number))


def sound_of_run(session: Session, run_id: str, number: int) -> SimulatedRecording:
    """The noise that was recorded at a step of a run.

    Raises:
        NotThere: there is no such run, or nothing was recorded at that step.
    """
    return _recorded(Run(session, run_id), number)


def _how(sound: SimulatedRecording) -> HowRecorded:
    return HowRecorded(rpm=float(sound.rpm), clip=2 if sound.clip else None)


def _draw(run: Run, sound: SimulatedRecording) -> tuple[Heard, SoundPicture]:
    samples, rate_hz = soundfile.read(BytesIO(sound.content), dtype="float32", always_2d=True)
    recording = Samples(rate_hz, np.ascontiguousarray(samples.T))
    heard = listen(recording, said_of(_how(sound), run.engine))
    return heard, picture(recording, heard)


def _drawn(run: Run, number: int) -> tuple[Heard, SoundPicture]:
    sound = _recorded(run, number)
    return _LAST_DRAWN.get(_key(run, number), lambda: _draw(run, sound))


def _phase(run: Run, number: int) -> Phase:
    return "left" if any(step.kind == "set" for step in run.data.steps[:number]) else "found"


def _first_before(run: Run, number: int) -> int | None:
    """The last recording before anything was set, for one that was made after that; None without one."""
    if _phase(run, number) == "found":
        return None
    found = [
        at
        for at, step in enumerate(run.data.steps[:number])
        if step.kind == "sound" and _phase(run, at) == "found"
    ]
    return found[-1] if found else None


def picture_of_run(session: Session, run_id: str, number: int) -> SoundPictureOut:
    """The noise at a step of a run, drawn; after setting over the last one before it.

    Raises:
        NotThere: there is no such run, or nothing was recorded at that step.
    """
    run = Run(session, run_id)
    heard, drawn = _drawn(run, number)
    first = _first_before(run, number)
    if first is None:
        return picture_out(run.engine, heard, drawn)
    was, was_drawn = _drawn(run, first)
    compared: Compared = compare(was, heard)
    return picture_out(run.engine, heard, drawn, compared=compared, before=cycle_out(was, was_drawn))


def _recording(run: Run, number: int) -> SoundRecording:
    sound = _recorded(run, number)
    heard, _ = _drawn(run, number)
    return SoundRecording(
        id=str(number),
        at=datetime.fromtimestamp(number, UTC),
        phase=_phase(run, number),
        seconds=heard.seconds,
        rate_hz=heard.rate_hz,
        channels=2 if sound.clip else 1,
        simulated=True,
        how=_how(sound),
        heard=what_is_heard(heard),
    )


def _reading(run: Run, valve: str) -> ReadingModel:
    tries = run.practice.reading(valve, "found").tries
    return ReadingModel(
        valve=valve,
        phase="found",
        tries=[TryModel(blades_mm=list(one.blades_mm), felt=one.felt) for one in tries],
    )


def _seen(run: Run) -> list[FindingModel]:
    found = []
    for one in run.practice.done:
        if one.findings:
            valve = run.practice.valve(one.step.valve)
            found += [
                FindingModel(id=name, state="present", cylinder=valve.cylinder, side=valve.side)
                for name in one.findings
            ]
    return found


def causes_of_run(session: Session, run_id: str, *, today: date) -> DiagnosisOut:
    """What a case would make of all that was found in a run so far: read, seen, recorded.

    Raises:
        NotThere: there is no such run.
    """
    run = Run(session, run_id)
    readings = [_reading(run, valve.id) for valve in run.engine.valves]
    visit = VisitModel(
        id=_VISIT,
        date=today,
        usage=run.engine.check_interval,
        temperature_c=run.practice.temperature_c(),
        readings=[one for one in readings if one.tries],
        findings=_seen(run),
        recordings=[
            _recording(run, number) for number, step in enumerate(run.data.steps) if step.kind == "sound"
        ],
    )
    case = CaseModel(id=_CASE, opened=today, visit=_VISIT, findings=[])
    record = Record(format="pronostico/record", version=1, engine=run.engine, visits=[visit], cases=[case])
    return diagnose_record(record, case_id=_CASE)
