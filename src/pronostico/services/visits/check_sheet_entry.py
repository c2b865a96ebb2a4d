"""A sheet of paper typed in: a line a valve, what went and what did not, stored all at once or not at all."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from pronostico.core.visits import Phase
from pronostico.errors import AlreadyThere, Question, Refused, ask
from pronostico.record.faults import Fault
from pronostico.record.visit import TryModel
from pronostico.services.engines.load import engine_record
from pronostico.services.visits.answers import check_valve
from pronostico.services.visits.measuring import Measuring
from pronostico.store import tries

# A print and its thickness may differ by rounding; two blades of a set never lie so near.
_SAME_MM = 0.004


@dataclass(frozen=True, slots=True)
class PaperLine:
    """One line: the valve, the thickest that went (and how it felt), the thinnest that did not.

    `id` is the page's own, so that a sheet sent twice is stored once.
    """

    id: str
    valve: str
    phase: Phase
    went: TryModel | None
    refused: TryModel | None


def _faults(lines: list[PaperLine]) -> list[Fault]:
    faults = []
    first: dict[tuple[str, Phase], int] = {}
    for index, line in enumerate(lines):
        key = (line.valve, line.phase)
        if key in first:
            message = f"valve {line.valve} is on line {first[key] + 1} already; put both on one line"
            faults.append(Fault(f"$.lines[{index}].valve", message))
        first.setdefault(key, index)
        if line.went is None and line.refused is None:
            faults.append(Fault(f"$.lines[{index}]", f"valve {line.valve}: no blade given"))
    return faults


def _not_in_set(path: str, valve: str, one: TryModel | None, set_mm: tuple[float, ...]) -> Question | None:
    """The question about a blade that the set in use has not got; None where it has them all."""
    for blade in one.blades_mm if one is not None and set_mm else ():
        nearest = min(set_mm, key=lambda known: abs(known - blade))
        if abs(nearest - blade) > _SAME_MM:
            message = f"valve {valve}: there is no {blade:.3g} mm blade in the set; the nearest is"
            return Question(path, f"{message} {nearest:.3g} mm", round(nearest, 4))
    return None


def _written(one: TryModel) -> str:
    return str(one.entered or " + ".join(f"{blade:.3g} mm" for blade in one.blades_mm))


def _questions(lines: list[PaperLine], set_mm: tuple[float, ...]) -> list[Question]:
    questions: list[Question | None] = []
    for index, line in enumerate(lines):
        at = f"$.lines[{index}]"
        questions.append(_not_in_set(f"{at}.went", line.valve, line.went, set_mm))
        questions.append(_not_in_set(f"{at}.refused", line.valve, line.refused, set_mm))
        if line.went and line.refused and sum(line.refused.blades_mm) <= sum(line.went.blades_mm):
            went, refused = _written(line.went), _written(line.refused)
            message = f"valve {line.valve}: {went} went in although {refused} would not"
            questions.append(Question(at, f"{message}; the one that would not go should be thicker"))
    return [question for question in questions if question is not None]


def type_in(
    session: Session,
    engine_id: str,
    visit_id: str,
    lines: list[PaperLine],
    *,
    confirmed: list[str],
    now: datetime,
) -> None:
    """Store the lines of a sheet; what contradicts itself is kept once it is confirmed.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
        Refused: a valve stands on two lines, or a line says nothing.
        Asked: a blade is not in the set in use, or a line contradicts itself.
        AlreadyThere: a line's identifier stands for something else.
    """
    measuring = Measuring(session, engine_record(session, engine_id), visit_id)
    for line in lines:
        check_valve(session, engine_id, visit_id, line.valve)
    faults = _faults(lines)
    if faults:
        raise Refused(faults)
    ask(_questions(lines, measuring.blades_mm), confirmed)
    for line in lines:
        _store(session, engine_id, visit_id, line, now)
    session.commit()


def _store(session: Session, engine_id: str, visit_id: str, line: PaperLine, now: datetime) -> None:
    for try_id, one in ((f"{line.id}-went", line.went), (f"{line.id}-not", line.refused)):
        if one is None:
            continue
        stored = tries.add_try(
            session,
            engine_id,
            visit_id,
            try_id,
            valve=line.valve,
            phase=line.phase,
            crank_turn=1,
            one=one,
            now=now,
        )
        if not stored:
            raise AlreadyThere(f"the identifier '{try_id}' stands for another answer already")
