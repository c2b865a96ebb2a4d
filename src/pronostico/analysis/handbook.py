"""The handbook: every cause, finding and test that is known, to be read on its own."""

from typing import Literal

from pronostico.analysis.report_model import ReportModel
from pronostico.core.causes.learning import Learned
from pronostico.core.causes.model import STRENGTHS, CauseKind
from pronostico.core.causes.places import PlaceKind
from pronostico.knowledge import knowledge_source, load_knowledge, load_tests
from pronostico.language import Text

_WORDS = {strength: word for word, strength in STRENGTHS.items()}

Says = Literal["for", "against"]


class LinkOut(ReportModel):
    """How a finding is evidence for a cause, in words, and why.

    `probability`: of the finding with the cause alone and no leak, as the workshop's closed cases make it;
    `own_share`: how much of that is theirs.
    """

    finding: str
    label: Text
    says: Says
    strength: Text | None
    probability: float | None
    own_share: float
    why: Text


class FactorOut(ReportModel):
    """What makes a cause likelier (times over 1) or less likely a priori."""

    of: Text
    values: tuple[Text, ...]
    times: float
    why: Text


class CausePageOut(ReportModel):
    """A cause as the handbook tells it; `prior` at one place, before factors, as closed cases make it."""

    id: str
    label: Text
    help: Text
    advice: Text
    caution: Text | None
    place: PlaceKind
    prior: float
    stated_prior: float
    factors: list[FactorOut]
    links: list[LinkOut]


class FindingPageOut(ReportModel):
    """A finding as the handbook tells it; `speaks_of`: the causes that bring it about."""

    id: str
    label: Text
    help: Text
    group: Text
    family: str
    leak: float
    speaks_of: list[Text]


class TestPageOut(ReportModel):
    """A test as the handbook tells it."""

    id: str
    label: Text
    help: Text
    minutes: float
    shows: list[Text]


class HandbookOut(ReportModel):
    """All of it; `own_share`: how much of how likely causes are the workshop's closed cases say.

    `own_files`: files of the workshop's own that are in use; `fault`: why one of them is not.
    """

    own_share: float
    own_files: list[str]
    fault: str | None
    causes: list[CausePageOut]
    findings: list[FindingPageOut]
    tests: list[TestPageOut]


def _own_share(learned: Learned, cause: str, finding: str) -> float:
    own = learned.strengths.get((cause, finding))
    return 0.0 if own is None else own.share


def _cause(stated: CauseKind, learned: Learned) -> CausePageOut:
    kind, findings = learned.knowledge.causes[stated.id], learned.knowledge.findings
    now = {link.finding: link.strength for link in kind.links}
    links = [
        LinkOut(
            finding=link.finding,
            label=findings[link.finding].label,
            says="against" if link.strength is None else "for",
            strength=None if link.strength is None else _WORDS[link.strength],
            probability=now[link.finding],
            own_share=_own_share(learned, kind.id, link.finding),
            why=link.why,
        )
        for link in sorted(stated.links, key=lambda link: -(link.strength or 0.0))
    ]
    return CausePageOut(
        id=kind.id,
        label=kind.label,
        help=kind.help,
        advice=kind.advice,
        caution=kind.caution,
        place=kind.place,
        prior=kind.prior,
        stated_prior=stated.prior,
        factors=[FactorOut.model_validate(factor) for factor in kind.factors],
        links=links,
    )


def handbook(learned: Learned) -> HandbookOut:
    """The knowledge in use: as stated, and as learned from the workshop's closed cases."""
    knowledge, source = load_knowledge(), knowledge_source()
    speaks_of: dict[str, list[str]] = {}
    for cause in knowledge.causes.values():
        for link in cause.links:
            if link.strength is not None:
                speaks_of.setdefault(link.finding, []).append(cause.label)
    return HandbookOut(
        own_share=learned.spread.share,
        own_files=list(source.own_files),
        fault=source.fault,
        causes=[_cause(kind, learned) for kind in knowledge.causes.values()],
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
