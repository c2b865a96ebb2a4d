"""A diagnosis as it leaves the product, the same for pages and command line.

The fields follow the record format.
"""

from pydantic import Field

from pronostico.core.causes import Diagnosis, Knowledge, Place, RankedCause, Weight, valves_at
from pronostico.core.engine import Engine
from pronostico.services.report_model import ReportModel


class EvidenceOut(ReportModel):
    """One line of a cause's ledger."""

    finding: str
    label: str
    where: str | None
    presence: float
    decibans: float
    why: str


class CauseOut(ReportModel):
    """One cause at one place."""

    cause: str
    label: str
    help: str
    advice: str
    where: str
    cylinders: list[int]
    valves: list[str]
    probability: float
    together_decibans: float
    for_: list[EvidenceOut] = Field(serialization_alias="for")
    against: list[EvidenceOut]


class NextTestOut(ReportModel):
    """A next test and what it is worth."""

    test: str
    where: str
    gain_bits: float
    minutes: float
    bits_per_hour: float


class DiagnosisOut(ReportModel):
    """One case diagnosed."""

    case: str | None
    causes: list[CauseOut]
    none_of_these: float
    next_tests: list[NextTestOut]


def _place_name(place: Place) -> str | None:
    return None if place == Place() else place.name


def _evidence_out(weight: Weight, knowledge: Knowledge) -> EvidenceOut:
    return EvidenceOut(
        finding=weight.evidence.finding,
        label=knowledge.findings[weight.evidence.finding].label,
        where=_place_name(weight.evidence.place),
        presence=weight.evidence.presence,
        decibans=weight.decibans,
        why=weight.why,
    )


def _cause_out(cause: RankedCause, engine: Engine, knowledge: Knowledge) -> CauseOut:
    kind, place = cause.candidate.kind, cause.candidate.place
    there = valves_at(engine, place)
    valves = [valve for valve in engine.valves if valve.id in there]
    return CauseOut(
        cause=kind.id,
        label=kind.label,
        help=kind.help,
        advice=kind.advice,
        where=place.name,
        cylinders=sorted({valve.cylinder for valve in valves}),
        valves=[valve.id for valve in valves],
        probability=cause.probability,
        together_decibans=cause.together_decibans,
        for_=[_evidence_out(weight, knowledge) for weight in cause.speaks_for],
        against=[_evidence_out(weight, knowledge) for weight in cause.speaks_against],
    )


def diagnosis_out(
    case: str | None, diagnosis: Diagnosis, engine: Engine, knowledge: Knowledge
) -> DiagnosisOut:
    """A diagnosis on its way out; which test comes next is not worked out yet."""
    return DiagnosisOut(
        case=case,
        causes=[_cause_out(cause, engine, knowledge) for cause in diagnosis.causes],
        none_of_these=diagnosis.none_of_these,
        next_tests=[],
    )
