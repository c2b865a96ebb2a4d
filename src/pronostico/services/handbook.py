"""The handbook: every cause, finding and test that is known, to be read on its own."""

from typing import Literal

from pronostico.core.causes import STRENGTHS, CauseKind, Knowledge, PlaceKind
from pronostico.knowledge import load_knowledge, load_tests
from pronostico.services.report_model import ReportModel

_WORDS = {strength: word for word, strength in STRENGTHS.items()}

Says = Literal["for", "against"]


class LinkOut(ReportModel):
    """What a finding says of a cause, in words, and why."""

    finding: str
    label: str
    says: Says
    strength: str | None
    why: str


class FactorOut(ReportModel):
    """What makes a cause likelier (times over 1) or less likely beforehand."""

    of: str
    values: tuple[str, ...]
    times: float
    why: str


class CausePageOut(ReportModel):
    """A cause as the handbook tells it."""

    id: str
    label: str
    help: str
    advice: str
    caution: str | None
    place: PlaceKind
    prior: float
    factors: list[FactorOut]
    links: list[LinkOut]


class FindingPageOut(ReportModel):
    """A finding as the handbook tells it; `speaks_of`: the causes that bring it about."""

    id: str
    label: str
    help: str
    group: str
    family: str
    leak: float
    speaks_of: list[str]


class TestPageOut(ReportModel):
    """A test as the handbook tells it."""

    id: str
    label: str
    help: str
    minutes: float
    shows: list[str]


class HandbookOut(ReportModel):
    """All of it."""

    causes: list[CausePageOut]
    findings: list[FindingPageOut]
    tests: list[TestPageOut]


def _cause(kind: CauseKind, knowledge: Knowledge) -> CausePageOut:
    links = [
        LinkOut(
            finding=link.finding,
            label=knowledge.findings[link.finding].label,
            says="against" if link.strength is None else "for",
            strength=None if link.strength is None else _WORDS[link.strength],
            why=link.why,
        )
        for link in sorted(kind.links, key=lambda link: -(link.strength or 0.0))
    ]
    return CausePageOut(
        id=kind.id,
        label=kind.label,
        help=kind.help,
        advice=kind.advice,
        caution=kind.caution,
        place=kind.place,
        prior=kind.prior,
        factors=[FactorOut.model_validate(factor) for factor in kind.factors],
        links=links,
    )


def handbook() -> HandbookOut:
    """The knowledge that ships, as it is weighed."""
    knowledge = load_knowledge()
    speaks_of: dict[str, list[str]] = {}
    for cause in knowledge.causes.values():
        for link in cause.links:
            if link.strength is not None:
                speaks_of.setdefault(link.finding, []).append(cause.label)
    return HandbookOut(
        causes=[_cause(kind, knowledge) for kind in knowledge.causes.values()],
        findings=[
            FindingPageOut(
                id=kind.id,
                label=kind.label,
                help=kind.help,
                group=kind.group,
                family=kind.family,
                leak=kind.leak,
                speaks_of=speaks_of.get(kind.id, []),
            )
            for kind in knowledge.findings.values()
        ],
        tests=[
            TestPageOut(
                id=test.id,
                label=test.label,
                help=test.help,
                minutes=test.minutes,
                shows=[knowledge.findings[finding].label for finding in test.shows],
            )
            for test in load_tests()
        ],
    )
