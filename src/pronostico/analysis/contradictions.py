"""Findings of a case that contradict each other: both are kept and shown."""

from collections.abc import Iterator, Sequence
from itertools import combinations

from pronostico.analysis.report_model import ReportModel
from pronostico.core.causes.model import Evidence, Knowledge
from pronostico.core.causes.places import Place, valves_at
from pronostico.core.constants import DEFAULT
from pronostico.core.engine import Engine
from pronostico.language import Text


class SaidOut(ReportModel):
    """One of two that contradict each other; `measured`: by figures, else noted by hand."""

    finding: str
    label: Text
    where: Text | None
    present: bool
    measured: bool


class ContradictionOut(ReportModel):
    """Two findings that cannot both be true. What was noted stands first and counts at its place."""

    first: SaidOut
    second: SaidOut


def _within(engine: Engine, inner: Place, outer: Place) -> bool:
    return outer == Place() or valves_at(engine, inner) <= valves_at(engine, outer)


def _clash(engine: Engine, knowledge: Knowledge, one: Evidence, other: Evidence) -> bool:
    """Whether both cannot be: there and not there at one place, or two that exclude each other there."""
    here, there = one.presence >= DEFAULT.sure_presence, other.presence >= DEFAULT.sure_presence
    if one.finding == other.finding:
        if here == there:
            return False
        present, absent = (one, other) if here else (other, one)
        # Not there at all contradicts that it is somewhere; somewhere not there says nothing of elsewhere.
        return _within(engine, present.place, absent.place)
    exclude = knowledge.findings[one.finding].excludes
    if not (here and there) or other.finding not in exclude:
        return False
    return _within(engine, one.place, other.place) or _within(engine, other.place, one.place)


def _said(one: Evidence, knowledge: Knowledge, *, measured: bool) -> SaidOut:
    return SaidOut(
        finding=one.finding,
        label=knowledge.findings[one.finding].label,
        where=None if one.place == Place() else one.place.name,
        present=one.presence >= DEFAULT.sure_presence,
        measured=measured,
    )


def contradictions(
    engine: Engine, knowledge: Knowledge, noted: Sequence[Evidence], measured: Sequence[Evidence]
) -> list[ContradictionOut]:
    """Every pair of sure findings that cannot both be true, what was noted first."""
    return list(_found(engine, knowledge, noted, measured))


def _found(
    engine: Engine, knowledge: Knowledge, noted: Sequence[Evidence], measured: Sequence[Evidence]
) -> Iterator[ContradictionOut]:
    sure = [
        (one, by_figures)
        for of_them, by_figures in ((noted, False), (measured, True))
        for one in of_them
        if one.finding in knowledge.findings
        and not 1.0 - DEFAULT.sure_presence < one.presence < DEFAULT.sure_presence
    ]
    for (one, first), (other, second) in combinations(sure, 2):
        # Figures that contradict figures are the reading's own contradiction, shown at the valve.
        if not (first and second) and _clash(engine, knowledge, one, other):
            yield ContradictionOut(
                first=_said(one, knowledge, measured=first), second=_said(other, knowledge, measured=second)
            )
