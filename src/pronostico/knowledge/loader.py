"""Reads the knowledge files into the core's types; a fault names the file and the entry."""

import tomllib
from functools import cache
from importlib.resources import files
from typing import Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from pronostico.core.causes import (
    STRENGTHS,
    CauseKind,
    FindingKind,
    Knowledge,
    Link,
    PlaceKind,
    PriorFactor,
)
from pronostico.core.errors import KnowledgeFault

Model = TypeVar("Model", bound=BaseModel)
Kind = TypeVar("Kind", FindingKind, CauseKind)
Strength = Literal["always", "usually", "often", "sometimes", "rarely", "prevents"]


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid")


class _Finding(_Entry):
    id: str = Field(pattern=r"^[a-z]+(-[a-z]+)*$")
    label: str
    help: str
    group: Literal["complaint", "clearance", "looking-in"]
    family: Literal[
        "noise", "running", "starting", "clearance level", "clearance trend", "looking in", "history"
    ]
    leak: float
    leak_why: str = Field(min_length=1)


class _Factor(_Entry):
    of: Literal["fuel", "duty", "adjustment", "side"]
    values: tuple[str, ...]
    times: float = Field(gt=0)
    why: str = Field(min_length=1)


class _Link(_Entry):
    finding: str
    strength: Strength
    why: str


class _Cause(_Entry):
    id: str = Field(pattern=r"^[a-z]+(-[a-z]+)*$")
    label: str
    help: str
    advice: str
    place: PlaceKind
    prior: float
    not_with_adjustment: tuple[str, ...] = ()
    factor: tuple[_Factor, ...] = ()
    link: tuple[_Link, ...]


class _FindingsFile(_Entry):
    finding: tuple[_Finding, ...]


class _CausesFile(_Entry):
    cause: tuple[_Cause, ...]


def _parse(name: str, text: str, model: type[Model]) -> Model:
    try:
        return model.model_validate(tomllib.loads(text))
    except tomllib.TOMLDecodeError as error:
        raise KnowledgeFault(f"{name}: {error}") from error
    except ValidationError as error:
        faults = "; ".join(
            f"{'.'.join(str(step) for step in fault['loc'])}: {fault['msg']}" for fault in error.errors()
        )
        raise KnowledgeFault(f"{name}: {faults}") from error


def _finding(entry: _Finding) -> FindingKind:
    return FindingKind(entry.id, entry.label, entry.help, entry.group, entry.family, entry.leak)


def _cause(entry: _Cause) -> CauseKind:
    return CauseKind(
        id=entry.id,
        label=entry.label,
        help=entry.help,
        advice=entry.advice,
        place=entry.place,
        prior=entry.prior,
        factors=tuple(PriorFactor(f.of, f.values, f.times, f.why) for f in entry.factor),
        links=tuple(Link(one.finding, STRENGTHS.get(one.strength), one.why) for one in entry.link),
        not_with_adjustment=entry.not_with_adjustment,
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
    findings = _parse("findings.toml", findings_toml, _FindingsFile).finding
    causes = _parse("causes.toml", causes_toml, _CausesFile).cause
    return Knowledge(
        _by_id("findings.toml", [_finding(entry) for entry in findings]),
        _by_id("causes.toml", [_cause(entry) for entry in causes]),
    )


@cache
def load_knowledge() -> Knowledge:
    """The knowledge that ships with the application."""
    folder = files("pronostico.knowledge")
    return parse_knowledge(
        (folder / "findings.toml").read_text("utf-8"), (folder / "causes.toml").read_text("utf-8")
    )
