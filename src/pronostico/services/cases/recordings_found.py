"""Said and found: what recordings said in cases that are closed, against what was really found.

The weights were fitted on simulated sound; these counts are what they can one day be fitted on instead. What
leaves as a table does not say whose engine it was.
"""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import case_of, visit_of
from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.sound_evidence import speaking
from pronostico.analysis.sound_words import headline
from pronostico.analysis.tables.table import Column, Row, Table, csv_text
from pronostico.knowledge import load_knowledge
from pronostico.language import Text
from pronostico.record.engine import EngineModel
from pronostico.record.models import CaseModel, Confirmed, Record
from pronostico.record.sound import SOUND_FINDINGS, HeardTick, SoundRecording
from pronostico.services.engines.load import engine_record
from pronostico.store.recordings import closed_with_sound

Found = Literal["valve-train", "bottom-end", "unrelated", "something-else", "nothing"]
FOUND: tuple[Found, ...] = ("valve-train", "bottom-end", "unrelated", "something-else", "nothing")
_BY_FINDING: dict[str, Found] = {
    "sound-crank-speed": "bottom-end",
    "sound-unrelated": "unrelated",
    "sound-half-speed": "valve-train",
}


class SaidAndFoundOut(ReportModel):
    """How often a recording said one thing, by what was found in the end."""

    answer: str
    says: Text
    found: dict[Found, int]


class RecordingsFoundOut(ReportModel):
    """All closed cases with recordings, counted; of those that named a valve, how often it was the one."""

    cases: int
    valves_named: int
    valves_right: int
    said: list[SaidAndFoundOut]


@dataclass(frozen=True, slots=True)
class _Counted:
    """A recording, what was found, and whether the valve that it named was it (None: it named none)."""

    recording: SoundRecording
    cylinders: int
    found: Found
    causes: tuple[str, ...]
    valve_right: bool | None


def _belongs_to(cause: str) -> Found:
    """Whose noise a cause makes, by what the knowledge says of it."""
    kind = load_knowledge().causes.get(cause)
    if kind is None:
        return "something-else"
    shows = {link.finding for link in kind.links if link.strength is not None}
    for finding, found in _BY_FINDING.items():
        if finding in shows:
            return found
    return "something-else" if kind.elsewhere else "valve-train"


def _valve_right(engine: EngineModel, recording: SoundRecording, confirmed: list[Confirmed]) -> bool | None:
    ticks = recording.heard.ticks
    named = next((valve for valve in engine.valves if ticks and _names(ticks[0], valve.id)), None)
    places = [one for one in confirmed if one.cylinder is not None]
    if named is None or not places:
        return None
    return any(one.cylinder == named.cylinder and one.side in (None, named.side) for one in places)


def _names(tick: HeardTick, valve: str) -> bool:
    return bool(tick.valves) and tick.valves[0].id == valve


def _counted(record: Record, case: CaseModel) -> _Counted | None:
    kept = visit_of(record, case.visit or "").recordings
    before = [one for one in kept if one.phase == "found"]
    if not before:
        return None
    # Where none says anything, that is what was said.
    recording = speaking(kept) or max(before, key=lambda one: one.at)
    confirmed = case.confirmed or []
    classes = {_belongs_to(one.cause) for one in confirmed}
    return _Counted(
        recording,
        len({valve.cylinder for valve in record.engine.valves}),
        next((name for name in FOUND if name in classes), "nothing"),
        tuple(one.cause for one in confirmed),
        _valve_right(record.engine, recording, confirmed),
    )


def _all(session: Session) -> Iterator[_Counted]:
    for engine_id, case_id in closed_with_sound(session):
        record = engine_record(session, engine_id)
        one = _counted(record, case_of(record, case_id))
        if one is not None:
            yield one


def recordings_found(session: Session) -> RecordingsFoundOut:
    """What recordings said against what was found, counted."""
    by_answer: dict[str, Counter[Found]] = {}
    all_of_them = list(_all(session))
    for one in all_of_them:
        by_answer.setdefault(one.recording.heard.answer, Counter())[one.found] += 1
    return RecordingsFoundOut(
        cases=len(all_of_them),
        valves_named=sum(one.valve_right is not None for one in all_of_them),
        valves_right=sum(one.valve_right is True for one in all_of_them),
        said=[
            SaidAndFoundOut(
                answer=answer,
                says=headline(answer),
                found={name: found[name] for name in FOUND},
            )
            for answer, found in sorted(by_answer.items())
        ],
    )


_TABLE = Table(
    "sound-recordings",
    "Sound recordings of closed cases: what each said, and what was found",
    (
        Column("number", "integer", "counted from 1", needed=True),
        Column("answer", "string", "what the recording said", needed=True),
        *(
            column
            for finding in SOUND_FINDINGS
            for column in (
                Column(f"{finding}-p", "number", "probability with its usual prior"),
                Column(f"{finding}-log10_lr", "number", "likelihood ratio as a power of ten"),
            )
        ),
        Column("all_alike", "number", "probability that all valves tick alike"),
        Column("rpm", "number", "speed that was followed, rpm"),
        Column("cylinders", "integer", "of the engine"),
        Column("ignition_clip", "boolean", "whether a clip was on"),
        Column("seconds", "number", "length, s"),
        Column("simulated", "boolean", "recorded by the simulated microphone"),
        Column("found", "string", f"one of {', '.join(FOUND)}", needed=True),
        Column("causes", "string", "the causes that were found, by their identifiers"),
        Column("valve_right", "boolean", "whether the valve that was named was it"),
    ),
    ("number",),
)


def _row(number: int, one: _Counted) -> Row:
    heard = one.recording.heard
    figures = [heard.findings.get(finding) for finding in SOUND_FINDINGS]
    return [
        number,
        heard.answer,
        *(value for known in figures for value in ((known.p, known.log10_lr) if known else (None, None))),
        heard.all_alike,
        heard.rpm,
        one.cylinders,
        one.recording.how.clip is not None,
        one.recording.seconds,
        one.recording.simulated,
        one.found,
        " ".join(one.causes),
        one.valve_right,
    ]


def recordings_found_text(session: Session) -> str:
    """The same case by case as CSV, without a word of whose engines they were."""
    return csv_text(_TABLE, [_row(number, one) for number, one in enumerate(_all(session), start=1)])
