"""A diagnosis as it leaves the product, the same for pages and command line.

The fields follow the record format.
"""

from collections.abc import Sequence

from pydantic import Field

from pronostico.analysis.case_time import CarriedOut
from pronostico.analysis.contradictions import ContradictionOut
from pronostico.analysis.report_model import ReportModel
from pronostico.core.causes.learning import Learned
from pronostico.core.causes.model import Diagnosis, Knowledge, RankedCause, Weight
from pronostico.core.causes.next_tests import NextTest, Outcome, Said
from pronostico.core.causes.places import Place, PlaceKind, valves_at
from pronostico.core.engine import Engine
from pronostico.language import Text


class EvidenceOut(ReportModel):
    """One line of a cause's ledger.

    `valves`: where it was found; none where it is of the engine as a whole. `own_share`: how much of its
    strength the workshop's closed cases say.
    """

    finding: str
    label: Text
    where: Text | None
    valves: list[str]
    presence: float
    decibans: float
    why: Text
    own_share: float


class CauseOut(ReportModel):
    """One cause at one place; `prior`: a priori, `own_share` of it from the workshop's closed cases.

    `anywhere`: the probability of this kind of cause at any place.
    """

    cause: str
    label: Text
    help: Text
    advice: Text
    caution: Text | None
    elsewhere: bool
    place: PlaceKind
    where: Text
    cylinders: list[int]
    valves: list[str]
    prior: float
    own_share: float
    probability: float
    anywhere: float
    together_decibans: float
    for_: list[EvidenceOut] = Field(serialization_alias="for")
    against: list[EvidenceOut]


class OutcomeOut(ReportModel):
    """A finding that a test may show, how likely, and the most likely cause if it does."""

    finding: str
    label: Text
    where: Text | None
    probability: float
    cause: str
    cause_label: Text
    cause_where: Text
    probability_of_cause: float


class SaidOut(ReportModel):
    """How often a test says a finding where it is there, and where it is not; both 0 to 1."""

    finding: str
    label: Text
    if_there: float
    if_not: float


class NextTestOut(ReportModel):
    """A next test and what it is worth: bits of uncertainty, minutes with getting at it.

    `said`: of what it may overlook, or say wrongly.
    """

    test: str
    label: Text
    help: Text
    where: Text
    gain_bits: float
    minutes: float
    bits_per_hour: float
    outcomes: list[OutcomeOut]
    said: list[SaidOut]


class DevelopingFaultOut(ReportModel):
    """A cause that the readings alone make likely, without a complaint."""

    cause: str
    label: Text
    where: Text
    valves: list[str]
    probability: float
    advice: Text
    caution: Text | None


class DiagnosisOut(ReportModel):
    """One case diagnosed; `in_valve_train`: how likely any cause of the valves and their drive is there.

    `carried`: from which earlier visit the clearances are carried forward, null where they were read now.
    """

    case: str | None
    causes: list[CauseOut]
    none_of_these: float
    in_valve_train: float
    learned_cases: int
    contradictions: list[ContradictionOut]
    next_tests: list[NextTestOut]
    carried: CarriedOut | None


def _place_name(place: Place) -> str | None:
    return None if place == Place() else place.name


def _evidence_out(cause: str, weight: Weight, engine: Engine, learned: Learned) -> EvidenceOut:
    place = weight.evidence.place
    there = frozenset() if place == Place() else valves_at(engine, place)
    own = learned.strengths.get((cause, weight.evidence.finding))
    return EvidenceOut(
        finding=weight.evidence.finding,
        label=learned.knowledge.findings[weight.evidence.finding].label,
        where=_place_name(place),
        valves=[valve.id for valve in engine.valves if valve.id in there],
        presence=weight.evidence.presence,
        decibans=weight.decibans,
        why=weight.why,
        own_share=0.0 if own is None else own.share,
    )


def _cause_out(cause: RankedCause, engine: Engine, learned: Learned) -> CauseOut:
    kind, place = cause.candidate.kind, cause.candidate.place
    there = valves_at(engine, place)
    valves = [valve for valve in engine.valves if valve.id in there]
    return CauseOut(
        cause=kind.id,
        label=kind.label,
        help=kind.help,
        advice=kind.advice,
        caution=kind.caution,
        elsewhere=kind.elsewhere,
        place=kind.place,
        where=place.name,
        cylinders=sorted({valve.cylinder for valve in valves}),
        valves=[valve.id for valve in valves],
        prior=cause.candidate.prior,
        own_share=learned.spread.share,
        probability=cause.probability,
        anywhere=cause.anywhere,
        together_decibans=cause.together_decibans,
        for_=[_evidence_out(kind.id, weight, engine, learned) for weight in cause.speaks_for],
        against=[_evidence_out(kind.id, weight, engine, learned) for weight in cause.speaks_against],
    )


def _outcome_out(outcome: Outcome, knowledge: Knowledge) -> OutcomeOut:
    return OutcomeOut(
        finding=outcome.finding,
        label=knowledge.findings[outcome.finding].label,
        where=_place_name(outcome.place),
        probability=outcome.probability,
        cause=outcome.cause_if_present,
        cause_label=knowledge.causes[outcome.cause_if_present].label,
        cause_where=outcome.where_if_present,
        probability_of_cause=outcome.probability_if_present,
    )


def _said_out(one: Said, knowledge: Knowledge) -> SaidOut:
    label = knowledge.findings[one.finding].label
    return SaidOut(finding=one.finding, label=label, if_there=one.if_there, if_not=one.if_not)


def _next_test_out(one: NextTest, knowledge: Knowledge) -> NextTestOut:
    return NextTestOut(
        test=one.test.id,
        label=one.test.label,
        help=one.test.help,
        where=one.place.name,
        gain_bits=one.gain_bits,
        minutes=one.minutes,
        bits_per_hour=one.bits_per_hour,
        outcomes=[_outcome_out(outcome, knowledge) for outcome in one.outcomes],
        said=[_said_out(said, knowledge) for said in one.test.said],
    )


def diagnosis_out(
    case: str | None,
    diagnosis: Diagnosis,
    tests: Sequence[NextTest],
    contradictions: list[ContradictionOut],
    engine: Engine,
    learned: Learned,
    carried: CarriedOut | None,
) -> DiagnosisOut:
    """A diagnosis on its way out, with what to do next."""
    return DiagnosisOut(
        case=case,
        causes=[_cause_out(cause, engine, learned) for cause in diagnosis.causes],
        none_of_these=diagnosis.none_of_these,
        in_valve_train=diagnosis.in_valve_train,
        contradictions=contradictions,
        learned_cases=round(learned.spread.cases),
        next_tests=[_next_test_out(one, learned.knowledge) for one in tests],
        carried=carried,
    )
