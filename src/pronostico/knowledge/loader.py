"""Reads the knowledge files into the core's types; a fault names the file and the entry."""

from typing import Literal, TypeVar

from pydantic import Field

from pronostico.core.causes.model import STRENGTHS, CauseKind, FindingKind, Knowledge, Link, Need, PriorFactor
from pronostico.core.causes.places import PlaceKind
from pronostico.core.engine import Adjustment, Side, Starting
from pronostico.core.errors import KnowledgeFault
from pronostico.knowledge.entries import Entry, line_of, parse_file

Kind = TypeVar("Kind", FindingKind, CauseKind)
Strength = Literal["always", "usually", "often", "sometimes", "rarely", "prevents"]


class _Finding(Entry):
    id: str = Field(pattern=r"^[a-z]+(-[a-z]+)*$")
    label: str
    help: str
    # Clearances are computed and a derived finding follows from others: neither is ticked.
    group: Literal["complaint", "clearance", "derived", "looking-in", "mixture", "cylinder", "starting"]
    family: Literal[
        "noise",
        "running",
        "starting",
        "clearance level",
        "clearance trend",
        "looking in",
        "history",
        "sealing",
        "mixture",
        "sound",
    ]
    leak: float
    leak_why: str = Field(min_length=1)
    excludes: tuple[str, ...] = ()
    of_engine: bool = False
    only_with_adjustment: tuple[Adjustment, ...] = ()
    not_with_adjustment: tuple[Adjustment, ...] = ()


class _Factor(Entry):
    of: Literal["fuel", "duty", "adjustment", "side"]
    values: tuple[str, ...]
    times: float = Field(gt=0)
    why: str = Field(min_length=1)


class _Link(Entry):
    finding: str
    strength: Strength
    side: Side | None = None
    why: str


class _Cause(Entry):
    id: str = Field(pattern=r"^[a-z]+(-[a-z]+)*$")
    label: str
    help: str
    advice: str
    place: PlaceKind
    prior: float
    not_with_adjustment: tuple[str, ...] = ()
    only_with_adjustment: tuple[str, ...] = ()
    needs: tuple[Need, ...] = ()
    not_with_starting: tuple[Starting, ...] = ()
    caution: str | None = None
    no_cranking: bool = False
    ordinary: bool = False
    elsewhere: bool = False
    factor: tuple[_Factor, ...] = ()
    link: tuple[_Link, ...]


class _FindingsFile(Entry):
    finding: tuple[_Finding, ...]


class _CausesFile(Entry):
    cause: tuple[_Cause, ...]


def _finding(entry: _Finding) -> FindingKind:
    return FindingKind(
        entry.id,
        entry.label,
        entry.help,
        entry.group,
        entry.family,
        entry.leak,
        entry.excludes,
        entry.of_engine,
        entry.only_with_adjustment,
        entry.not_with_adjustment,
    )


def _cause(entry: _Cause) -> CauseKind:
    return CauseKind(
        id=entry.id,
        label=entry.label,
        help=entry.help,
        advice=entry.advice,
        place=entry.place,
        prior=entry.prior,
        factors=tuple(PriorFactor(f.of, f.values, f.times, f.why) for f in entry.factor),
        links=tuple(Link(one.finding, STRENGTHS.get(one.strength), one.why, one.side) for one in entry.link),
        not_with_adjustment=entry.not_with_adjustment,
        only_with_adjustment=entry.only_with_adjustment,
        needs=entry.needs,
        not_with_starting=entry.not_with_starting,
        caution=entry.caution,
        no_cranking=entry.no_cranking,
        ordinary=entry.ordinary,
        elsewhere=entry.elsewhere,
    )


def _by_id(name: str, kinds: list[Kind]) -> dict[str, Kind]:
    by_id = {kind.id: kind for kind in kinds}
    if len(by_id) != len(kinds):
        twice = sorted({kind.id for kind in kinds if sum(kind.id == other.id for other in kinds) > 1})
        raise KnowledgeFault(f"{name}: named twice: {', '.join(twice)}")
    return by_id


def parse_knowledge(findings_toml: str, causes_toml: str) -> Knowledge:
    """Knowledge from the text of its two files.

    Raises:
        KnowledgeFault: a file is not TOML, an entry is not of the expected shape, or entries contradict
            each other; the message names the file and the entry.
    """
    findings = parse_file("findings.toml", findings_toml, _FindingsFile).finding
    causes = parse_file("causes.toml", causes_toml, _CausesFile).cause
    try:
        return Knowledge(
            _by_id("findings.toml", [_finding(entry) for entry in findings]),
            _by_id("causes.toml", [_cause(entry) for entry in causes]),
        )
    except KnowledgeFault as fault:
        if fault.entry is None:
            raise
        of_cause = fault.kind == "cause"
        name, text = ("causes.toml", causes_toml) if of_cause else ("findings.toml", findings_toml)
        line = line_of(text, fault.entry, fault.finding)
        raise KnowledgeFault(f"{name}, line {line}: {fault}") from fault
