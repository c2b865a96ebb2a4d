"""All that speaks of causes in one case: what was noted, what was measured, what is computed."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from scipy.special import ndtr

from pronostico.core.analysis import analyse
from pronostico.core.causes import Evidence, Place, place_at
from pronostico.core.computed import computed_findings
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.cylinder import Compression, judge_compression
from pronostico.core.engine import Engine
from pronostico.core.judging import swing_of
from pronostico.knowledge import load_knowledge
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import CaseModel, EngineModel, FindingModel, Record, VisitModel, place_of
from pronostico.services.drifting import reckoned_as_found

_HEARD = ("exhaust", "intake", "crankcase", "coolant")
# Less lost than this is what a sound cylinder loses; per cent of the test air.
_SOUND_LEAK_PERCENT = 15.0
# A long-term trim beyond this either way is strong; per cent.
_STRONG_TRIM_PERCENT = 8.0
_TRIM_SD_PERCENT = 2.0
# At rest, a twelve-volt battery below this is weak; volt.
_BATTERY_V, _BATTERY_SD_V = 12.2, 0.1
# Counts of misfires at one cylinder from which on they count.
_MISFIRES = 10.0


def _noted(engine: Engine, finding: FindingModel) -> Evidence | None:
    """A noted finding as evidence; None where it was not looked for."""
    if finding.state == "unknown":
        return None
    place = place_at(engine, finding.cylinder, finding.side)
    return Evidence(finding.id, place, 1.0 if finding.state == "present" else 0.0)


def _onset(findings: list[FindingModel]) -> Iterator[Evidence]:
    """Whether what is complained of began all at once: from how each complaint is said to have begun."""
    onsets = {one.onset for one in findings if one.state == "present" and one.onset is not None}
    if "sudden" in onsets:
        yield Evidence("began-suddenly", Place(), 1.0)
    elif "gradual" in onsets:
        yield Evidence("began-suddenly", Place(), 0.0)


def _history(record: Record, visits: list[VisitModel]) -> Iterator[Evidence]:
    """Head work within the last check interval is known without anybody ticking it."""
    if not visits:
        return
    now = visits[-1].usage
    recent = [one for one in visits[:-1] if now - one.usage <= record.engine.check_interval]
    if any(one.work == "head-work" for one in recent):
        yield Evidence("after-head-work", Place(), 1.0)


def neighbours_of(engine: EngineModel) -> list[tuple[int, int]]:
    """Cylinders that stand side by side, bank by bank."""
    layout = engine.layout
    banks = layout.banks if layout is not None and layout.banks else None
    if banks is None:
        banks = [sorted({valve.cylinder for valve in engine.valves})]
    return [pair for bank in banks for pair in pairwise(bank)]


def _compression(engine: EngineModel, visit: VisitModel) -> Iterator[Evidence]:
    spec = engine.compression_spec_kpa
    judged = judge_compression(
        [Compression(one.cylinder, one.dry_kpa, one.wet_kpa) for one in visit.compression or ()],
        least_kpa=None if spec is None else spec.min,
        most_spread=None if spec is None else spec.max_spread_fraction,
        neighbours=neighbours_of(engine),
        altitude_m=visit.altitude_m or 0.0,
    )
    for finding, by_cylinder in (
        ("compression-low", judged.low),
        ("wet-gain", judged.wet_gain),
        ("wet-no-gain", judged.wet_no_gain),
        ("neighbours-low", judged.neighbours_low),
    ):
        for cylinder, presence in by_cylinder.items():
            yield Evidence(finding, Place(cylinder=cylinder), presence)
    if judged.spread is not None:
        yield Evidence("compression-spread", Place(), judged.spread)


def _leakdown(visit: VisitModel) -> Iterator[Evidence]:
    for one in visit.leakdown or ():
        lost = one.percent > _SOUND_LEAK_PERCENT
        for where in _HEARD:
            heard = lost and where in one.heard
            yield Evidence(f"leak-{where}", Place(cylinder=one.cylinder), 1.0 if heard else 0.0)


def _numbers(visit: VisitModel) -> Iterator[Evidence]:
    """Figures as they were before the work; those after it belong to what was proved."""
    for one in visit.numbers or ():
        if one.phase == "after":
            continue
        if one.id == "trims-long":
            rich = float(ndtr((-_STRONG_TRIM_PERCENT - one.value) / _TRIM_SD_PERCENT))
            lean = float(ndtr((one.value - _STRONG_TRIM_PERCENT) / _TRIM_SD_PERCENT))
            yield Evidence("trims-rich", Place(), rich)
            yield Evidence("trims-lean", Place(), lean)
        elif one.id == "battery-rest":
            weak = float(ndtr((_BATTERY_V - one.value) / _BATTERY_SD_V))
            yield Evidence("battery-weak", Place(), weak)
        elif one.id == "misfires" and one.cylinder is not None:
            counted = 1.0 if one.value >= _MISFIRES else 0.0
            yield Evidence("misfire-count", Place(cylinder=one.cylinder), counted)


def _swings(engine: Engine, record: Record, count: int, constants: Constants) -> Iterator[Evidence]:
    visit = visits_from(record)[count - 1]
    for valve in engine.valves:
        swing = swing_of(engine, valve, visit, constants)
        if swing is not None:
            presence = 1.0 if swing.swings else float(ndtr(swing.z - constants.swing_z))
            yield Evidence("swings-on-turning", Place(valve=valve.id), presence)


def _measured(record: Record, engine: Engine, count: int, constants: Constants) -> Iterator[Evidence]:
    visits = visits_from(record)[:count]
    drifting = reckoned_as_found(engine, visits, constants)
    yield from computed_findings(analyse(engine, visits, constants=constants), drifting, constants)
    if count:
        visit = record.visits[count - 1]
        yield from _compression(record.engine, visit)
        yield from _leakdown(visit)
        yield from _numbers(visit)
        yield from _swings(engine, record, count, constants)


# What is only building up shows none of these yet.
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

    What is only building up has not come yet: a clearance that is not out, and a sum that is not large, say
    nothing against it. What did come, and which way it goes, speaks as ever.
    """
    engine = engine_from(record.engine, constants)
    count = len(record.visits)
    kinds = load_knowledge().findings
    found = [*_history(record, record.visits), *_measured(record, engine, count, constants)]
    return [
        one for one in found if one.finding in kinds and (one.presence >= 0.5 or one.finding not in _NOT_YET)
    ]


def up_to_visit(record: Record, case: CaseModel | None) -> int:
    """How many visits a case looks back on: up to its own where it names one, else all."""
    ids = [visit.id for visit in record.visits]
    if case is not None and case.visit in ids:
        return ids.index(case.visit) + 1
    return len(ids)


@dataclass(frozen=True, slots=True)
class CaseEvidence:
    """All evidence of a case: what somebody noted, and what figures and dates say."""

    noted: tuple[Evidence, ...]
    measured: tuple[Evidence, ...]

    @property
    def weighed(self) -> list[Evidence]:
        """What somebody noted goes before what is computed of the same kind at the same place."""
        known = {(one.finding, one.place) for one in self.noted}
        told = {one.finding for one in self.noted if one.place == Place()}
        rest = [
            one
            for one in self.measured
            if (one.finding, one.place) not in known and not (one.place == Place() and one.finding in told)
        ]
        return [*self.noted, *rest]


def case_evidence(record: Record, case: CaseModel | None, constants: Constants = DEFAULT) -> CaseEvidence:
    """All evidence of a case; without one that of the last visit."""
    engine = engine_from(record.engine, constants)
    count = up_to_visit(record, case)
    # Noted at the visit and in the case it is one finding, and the case has the last word.
    at_visit = record.visits[count - 1].findings if count else []
    noted = {place_of(one): one for one in (*at_visit, *(case.findings if case is not None else []))}
    findings = list(noted.values())
    measured = [
        *_onset(findings),
        *_history(record, record.visits[:count]),
        *_measured(record, engine, count, constants),
    ]
    kinds = load_knowledge().findings
    return CaseEvidence(
        tuple(one for finding in findings if (one := _noted(engine, finding)) is not None),
        tuple(one for one in measured if one.finding in kinds),
    )


def evidence_of(record: Record, case: CaseModel | None, constants: Constants = DEFAULT) -> list[Evidence]:
    """The evidence of a case as it is weighed."""
    return case_evidence(record, case, constants).weighed
