"""All that is evidence for causes in one case: what was noted, what was measured, what is computed."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from scipy.special import ndtr

from pronostico.analysis.case_time import CaseTime, case_time
from pronostico.analysis.cylinder_tests import cylinder_test_evidence
from pronostico.analysis.drift_cache import drifts_as_found, drifts_of
from pronostico.analysis.neighbours import neighbours_of
from pronostico.analysis.positions import checked, without_suspect
from pronostico.analysis.sound_evidence import FROM_RECORDINGS, sound_evidence
from pronostico.core.assessment import turn_change_of
from pronostico.core.causes.computed_findings import carried_findings, computed_findings
from pronostico.core.causes.exchanged import exchanged
from pronostico.core.causes.model import Evidence
from pronostico.core.causes.places import Place, place_at
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine
from pronostico.core.gauge.engine_readings import analyse
from pronostico.core.visits import Visit
from pronostico.knowledge import load_knowledge
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.engine import EngineModel
from pronostico.record.models import CaseModel, Record
from pronostico.record.visit import FindingModel, VisitModel, place_of


def _noted(engine: Engine, finding: FindingModel) -> Evidence | None:
    """A noted finding as evidence; None where it was not looked for."""
    if finding.state == "unknown":
        return None
    place = place_at(engine, finding.cylinder, finding.side)
    return Evidence(finding.id, place, 1.0 if finding.state == "present" else 0.0)


def _onset(findings: list[FindingModel]) -> Iterator[Evidence]:
    """Whether the complaint began suddenly, from the onset noted with each complaint."""
    onsets = {one.onset for one in findings if one.state == "present" and one.onset is not None}
    if "sudden" in onsets:
        yield Evidence("began-suddenly", Place(), 1.0)
    elif "gradual" in onsets:
        yield Evidence("began-suddenly", Place(), 0.0)


def _noted_neighbours(engine: EngineModel, noted: Sequence[Evidence]) -> Iterator[Evidence]:
    """Two cylinders side by side that were noted low are as good as two that were measured low."""
    low = {one.place.cylinder for one in noted if one.finding == "compression-low" and one.presence >= 0.5}
    for pair in neighbours_of(engine):
        if low.issuperset(pair):
            yield from (Evidence("neighbours-low", Place(cylinder=cylinder), 1.0) for cylinder in pair)


def _history(record: Record, visits: list[VisitModel], intervals: float = 0.0) -> Iterator[Evidence]:
    """A new engine, and head work within the last check interval, are known without anybody ticking them.

    Args:
        intervals: how long ago the last of the visits was, check intervals.
    """
    if not visits:
        return
    now = visits[-1].usage + intervals * record.engine.check_interval
    before = visits if intervals > 0.0 else visits[:-1]
    recent = [one for one in before if now - one.usage <= record.engine.check_interval]
    if any(one.work == "head-work" for one in recent):
        yield Evidence("after-head-work", Place(), 1.0)
        yield Evidence("since-head-work", Place(), 1.0)
    if visits[0].usage < record.engine.check_interval and not any(one.work == "head-work" for one in before):
        yield Evidence("new-engine", Place(), 1.0)


def _swings(engine: Engine, visit: Visit, constants: Constants) -> Iterator[Evidence]:
    for valve in engine.valves:
        swing = turn_change_of(engine, valve, visit, constants)
        if swing is not None:
            presence = 1.0 if swing.swings else float(ndtr(swing.z - constants.swing_z))
            yield Evidence("swings-on-turning", Place(valve=valve.id), presence)


def _measured(record: Record, engine: Engine, count: int, constants: Constants) -> Iterator[Evidence]:
    visits = visits_from(record)[:count]
    check = checked(record, engine, visits, constants)
    if check.suspect:
        yield Evidence("wrong-position", Place(), check.p_any)
    # The valves read there say nothing until they are read again, or confirmed.
    visits = without_suspect(visits, check.suspect)
    drifting = drifts_as_found(engine, visits, constants)
    readings = analyse(engine, visits, constants=constants)
    yield from computed_findings(readings, drifting, constants)
    yield from exchanged(readings, drifting, visits, constants)
    if count:
        yield from cylinder_test_evidence(record.engine, record.visits[count - 1])
        yield from sound_evidence(record.visits[count - 1], record.engine)
        yield from _swings(engine, visits[-1], constants)


def _carried(record: Record, engine: Engine, at: CaseTime, constants: Constants) -> Iterator[Evidence]:
    """Findings predicted from the visits before a case."""
    visits = visits_from(record)[: at.visits]
    visits = without_suspect(visits, checked(record, engine, visits, constants).suspect)
    drifting = drifts_of(engine, visits, constants)
    yield from carried_findings(
        analyse(engine, visits, constants=constants), drifting, at.intervals, constants
    )


# What is only developing shows none of these yet.
_NOT_YET = frozenset(
    (
        "clearance-tight",
        "clearance-none",
        "clearance-loose",
        "clearance-very-loose",
        "side-tight",
        "side-loose",
        "high-sink",
    )
)


def measured_evidence(record: Record, constants: Constants = DEFAULT) -> list[Evidence]:
    """What was measured up to the last visit alone, with nothing that anybody complained of or saw.

    What is only developing has not come yet: a clearance that is not out, and a sum that is not large, say
    nothing against it. What did come, and which way it goes, speaks as ever.
    """
    # A cause rests on what this engine does, not on what its sisters do.
    engine = engine_from(record.engine, constants).alone
    count = len(record.visits)
    kinds = load_knowledge().findings
    found = [*_history(record, record.visits), *_measured(record, engine, count, constants)]
    return [
        one for one in found if one.finding in kinds and (one.presence >= 0.5 or one.finding not in _NOT_YET)
    ]


@dataclass(frozen=True, slots=True)
class CaseEvidence:
    """All evidence of a case: noted, measured and computed."""

    noted: tuple[Evidence, ...]
    measured: tuple[Evidence, ...]

    @property
    def weighed(self) -> list[Evidence]:
        """The evidence for the inference: what was noted replaces what is computed there.

        Only what was heard by ear gives way to what a recording says.
        """
        recorded = any(one.finding in FROM_RECORDINGS for one in self.measured)
        said = [one for one in self.noted if not (recorded and one.finding in FROM_RECORDINGS)]
        known = {(one.finding, one.place) for one in said}
        noted_of_engine = {one.finding for one in said if one.place == Place()}
        rest = [
            one
            for one in self.measured
            if (one.finding, one.place) not in known
            and not (one.place == Place() and one.finding in noted_of_engine)
        ]
        return [*said, *rest]


def case_evidence(record: Record, case: CaseModel | None, constants: Constants = DEFAULT) -> CaseEvidence:
    """All evidence of a case; without one that of the last visit."""
    # A cause rests on what this engine does, not on what its sisters do.
    engine = engine_from(record.engine, constants).alone
    at = case_time(record, case, constants)
    count = at.visits
    # What was noted at an old visit was so then. At the case's own visit it is one finding with what the case
    # says of it, and the case has the last word.
    at_visit = record.visits[count - 1].findings if count and at.is_at_visit else []
    noted = {place_of(one): one for one in (*at_visit, *(case.findings if case is not None else []))}
    findings = list(noted.values())
    measured = [*_onset(findings), *_history(record, record.visits[:count], at.intervals)]
    if at.is_at_visit:
        measured += _measured(record, engine, count, constants)
    else:
        measured += _carried(record, engine, at, constants)
    said = tuple(one for finding in findings if (one := _noted(engine, finding)) is not None)
    implied = {(one.finding, one.place): one for one in _noted_neighbours(record.engine, said)}
    measured = [one for one in measured if (one.finding, one.place) not in implied]
    kinds = load_knowledge().findings
    return CaseEvidence(said, tuple(one for one in (*measured, *implied.values()) if one.finding in kinds))


def evidence_of(record: Record, case: CaseModel | None, constants: Constants = DEFAULT) -> list[Evidence]:
    """The evidence of a case that enters the inference."""
    return case_evidence(record, case, constants).weighed
