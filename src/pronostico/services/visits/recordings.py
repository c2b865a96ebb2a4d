"""Sound recordings of a visit: kept, listened to, compared before and after setting, drawn, deleted."""

from datetime import datetime
from functools import partial
from pathlib import Path

from sqlalchemy.orm import Session

from pronostico.analysis import sound_words
from pronostico.analysis.lookup import visit_of
from pronostico.analysis.recordings import (
    SoundPictureOut,
    cycle_out,
    lines_of,
    newest_before,
    picture_out,
    said_of,
    what_is_heard,
)
from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.sound_evidence import speaking
from pronostico.core.sound.faults import SoundFault
from pronostico.core.sound.listen import Heard, compare, listen
from pronostico.core.sound.picture import SoundPicture, picture
from pronostico.core.visits import Phase
from pronostico.errors import AlreadyThere, NotThere, Refused
from pronostico.language import Text
from pronostico.limits import SOUND_HERE_BYTES
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.sound import HeardAfter, HowRecorded, SoundRecording
from pronostico.record.visit import VisitModel
from pronostico.services.apart import OnProgress, run_apart
from pronostico.services.engines.load import engine_record
from pronostico.services.last_used import LastUsed
from pronostico.services.sound_files import SoundFile, as_flac, open_kept, put_in_place, refused
from pronostico.services.staging import temporary_folder
from pronostico.store.database import Database
from pronostico.store.recordings import others_with_file
from pronostico.store.visit_data import put_visit_data

_MOST_DRAWN = 16
_MOST_RECORDINGS = 200


class RecordingOut(ReportModel):
    """A recording of a visit, and what it says in words. `kept`: its sound is there to be heard."""

    recording: SoundRecording
    kept: bool
    says: Text
    lines: list[Text]
    warnings: list[Text]
    became: str | None


class RecordingsOut(ReportModel):
    """The recordings of a visit, the last first; `rpm`: the idle speed that the code reader showed.

    `counts`: the one that is evidence in a case of this visit. `limits`: what a recording cannot do.
    """

    recordings: list[RecordingOut]
    rpm: float | None
    counts: Text | None
    limits: list[Text]


def _one(visit: VisitModel, recording_id: str) -> SoundRecording:
    for one in visit.recordings:
        if one.id == recording_id:
            return one
    raise NotThere("sound recording", recording_id)


def _kept(folder: Path, one: SoundRecording) -> bool:
    return one.file is not None and (folder / one.file).is_file()


def _out(one: SoundRecording, folder: Path) -> RecordingOut:
    heard = one.heard
    return RecordingOut(
        recording=one,
        kept=_kept(folder, one),
        says=sound_words.headline(heard.answer),
        lines=lines_of(heard),
        warnings=sound_words.warning_words(heard.warnings),
        became=None if one.after is None else sound_words.became_words(one.after.verdict, one.after.p_gone),
    )


def recordings(session: Session, engine_id: str, visit_id: str, *, folder: Path) -> RecordingsOut:
    """The recordings of a visit, the last first.

    Raises:
        NotThere: there is no such engine or visit.
    """
    visit = visit_of(engine_record(session, engine_id), visit_id)
    counting = speaking(visit.recordings)
    newest_first = sorted(visit.recordings, key=lambda one: one.at, reverse=True)
    read = [one.value for one in visit.numbers if one.id == "idle-speed"]
    return RecordingsOut(
        recordings=[_out(one, folder) for one in newest_first],
        rpm=read[-1] if read else None,
        counts=None if counting is None else counting.id,
        limits=list(sound_words.LIMITS),
    )


def _listened(path: Path, how: HowRecorded, engine: EngineModel) -> Heard:
    try:
        return listen(open_kept(path), said_of(how, engine))
    except SoundFault as fault:
        raise refused(fault) from fault


def _made_ready(
    sent: Path, folder: Path, how: HowRecorded, engine: EngineModel, _progress: OnProgress | None = None
) -> tuple[SoundFile, Heard]:
    """What was sent as it is to be kept, and what it says.

    Raises:
        Refused: it cannot be used.
    """
    try:
        file = as_flac(sent, folder)
    except SoundFault as fault:
        raise refused(fault) from fault
    return file, _listened(file.path, how, engine)


def _became(
    visit: VisitModel, recording_id: str, phase: Phase, heard: Heard, engine: EngineModel, folder: Path
) -> HeardAfter | None:
    """What became of the tick of the last recording that was made before setting; None without one."""
    before_id = newest_before(visit, recording_id) if phase == "left" else None
    if before_id is None:
        return None
    before = _one(visit, before_id)
    if not _kept(folder, before):
        return None
    found = compare(_listened(folder / (before.file or ""), before.how, engine), heard)
    return HeardAfter(before=before_id, verdict=found.verdict, p_gone=found.p_gone)


def add_recording(
    database: Database,
    engine_id: str,
    visit_id: str,
    recording_id: str,
    sent: Path,
    *,
    phase: Phase,
    how: HowRecorded,
    note: str,
    simulated: bool,
    folder: Path,
    now: datetime,
) -> None:
    """Keep a recording and what it says; the same sent twice is kept once.

    It is listened to before anything waits for it.

    Args:
        sent: the file as it came.
        folder: of the recordings.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: it cannot be used.
        AlreadyThere: another recording has that identifier.
    """
    with database.reading() as session:
        record = engine_record(session, engine_id)
        visit = visit_of(record, visit_id)
    engine = record.engine
    with temporary_folder(folder.parent) as within:
        work = partial(_made_ready, sent, within, how, engine)
        here = sent.stat().st_size <= SOUND_HERE_BYTES
        file, heard = work() if here else run_apart(work)
        after = _became(visit, recording_id, phase, heard, engine, folder)
        with database.writing() as session:
            visit = visit_of(engine_record(session, engine_id), visit_id)
            same = next((one for one in visit.recordings if one.id == recording_id), None)
            if same is not None:
                if same.file == file.name:
                    return
                raise AlreadyThere(f"another recording was saved as '{recording_id}' already")
            if len(visit.recordings) >= _MOST_RECORDINGS:
                raise Refused([Fault("$", f"a visit has at most {_MOST_RECORDINGS} recordings")])
            one = SoundRecording(
                id=recording_id,
                at=now,
                phase=phase,
                file=file.name,
                seconds=file.seconds,
                rate_hz=file.rate_hz,
                channels=file.channels,
                simulated=simulated,
                note=note.strip(),
                how=how,
                heard=what_is_heard(heard),
                after=after,
            )
            put_in_place(file, folder)
            _put(session, engine_id, visit, [*visit.recordings, one])
            session.commit()


def _put(session: Session, engine_id: str, visit: VisitModel, kept: list[SoundRecording]) -> None:
    put_visit_data(session, engine_id, visit.model_copy(update={"recordings": kept}))


def change_recording(
    database: Database,
    engine_id: str,
    visit_id: str,
    recording_id: str,
    *,
    phase: Phase,
    how: HowRecorded,
    note: str,
    folder: Path,
) -> None:
    """Change what was known beside a recording, and listen to it again.

    Raises:
        NotThere: there is no such engine, visit or recording, or its sound was deleted.
        Refused: with that it cannot be used.
    """
    with database.reading() as session:
        record = engine_record(session, engine_id)
        visit = visit_of(record, visit_id)
    heard = _listened(_path(visit, recording_id, folder), how, record.engine)
    changed = {
        "phase": phase,
        "how": how,
        "note": note.strip(),
        "heard": what_is_heard(heard),
        "after": _became(visit, recording_id, phase, heard, record.engine, folder),
    }
    with database.writing() as session:
        visit = visit_of(engine_record(session, engine_id), visit_id)
        one = _one(visit, recording_id).model_copy(update=changed)
        rest = [one if each.id == recording_id else each for each in visit.recordings]
        _put(session, engine_id, visit, rest)
        session.commit()


def _path(visit: VisitModel, recording_id: str, folder: Path) -> Path:
    one = _one(visit, recording_id)
    if not _kept(folder, one):
        raise NotThere("sound for recording", recording_id)
    return folder / (one.file or "")


def sound_of(session: Session, engine_id: str, visit_id: str, recording_id: str, *, folder: Path) -> Path:
    """The file of a recording.

    Raises:
        NotThere: there is no such engine, visit or recording, or its sound was deleted.
    """
    return _path(visit_of(engine_record(session, engine_id), visit_id), recording_id, folder)


def delete_sound(
    session: Session, engine_id: str, visit_id: str, recording_id: str, *, folder: Path, whole: bool
) -> None:
    """Delete the sound of a recording for good; with `whole` also what it said, which then counts no more.

    Raises:
        NotThere: there is no such engine, visit or recording.
    """
    visit = visit_of(engine_record(session, engine_id), visit_id)
    one = _one(visit, recording_id)
    without = [each for each in visit.recordings if each.id != recording_id]
    silent = one.model_copy(update={"file": None})
    rest = without if whole else [silent if each is one else each for each in visit.recordings]
    _put(session, engine_id, visit, rest)
    session.flush()
    unused = one.file is not None and not others_with_file(session, one.file)
    session.commit()
    if unused:
        (folder / (one.file or "")).unlink(missing_ok=True)


Drawn = tuple[Heard, SoundPicture]


class DrawnSounds:
    """The recordings that were drawn last: each takes a second of work."""

    def __init__(self) -> None:
        self._last: LastUsed[Drawn] = LastUsed(_MOST_DRAWN)

    def of(self, path: Path, how: HowRecorded, engine: EngineModel) -> Drawn:
        """A recording listened to and drawn.

        Raises:
            Refused: it cannot be used.
        """
        fires = engine.model_dump_json(
            include={"valves", "firing_order", "firing_intervals_deg", "events_deg"}
        )

        def make() -> Drawn:
            heard = _listened(path, how, engine)
            return heard, picture(open_kept(path), heard)

        return self._last.get((path.name, how.model_dump_json(), fires), make)


def picture_of(
    database: Database,
    drawn: DrawnSounds,
    engine_id: str,
    visit_id: str,
    recording_id: str,
    *,
    folder: Path,
) -> SoundPictureOut:
    """A recording drawn; one that was made after setting over the one that it is compared with.

    Raises:
        NotThere: there is no such engine, visit or recording, or its sound was deleted.
    """
    with database.reading() as session:
        record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    one = _one(visit, recording_id)
    heard, sketch = drawn.of(_path(visit, recording_id, folder), one.how, record.engine)
    before = next((each for each in visit.recordings if one.after and each.id == one.after.before), None)
    if before is None or not _kept(folder, before):
        return picture_out(record.engine, heard, sketch)
    was, was_sketch = drawn.of(_path(visit, before.id, folder), before.how, record.engine)
    return picture_out(
        record.engine, heard, sketch, compared=compare(was, heard), before=cycle_out(was, was_sketch)
    )
