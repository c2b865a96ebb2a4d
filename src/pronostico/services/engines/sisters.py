"""What engines of a kind make expected of each other, from the results that are kept."""

from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.sisters import (
    EngineSummary,
    ExpectedOfSideOut,
    Pooled,
    SideSummaryOut,
    Sister,
    pooled_from,
)
from pronostico.core.engine import Side, SidePriors
from pronostico.language import Text
from pronostico.record.engine import EngineModel
from pronostico.record.models import Record
from pronostico.store.kinds import OfKind, engines_of_kind, folded, kind_of, kinds_of_engines, mark_stale
from pronostico.store.records import put_engine

_NOTHING = Pooled((), [])


class SisterOut(ReportModel):
    """A sister engine, and what its own record says of its drift, mm per this engine's check interval.

    `counts`: whether it is compared with; not one that was left out, counts otherwise or was never followed.
    """

    id: str
    name: str
    counts: bool
    why_not: Text | None
    sides: dict[Side, SideSummaryOut]


class SistersOut(ReportModel):
    """The engines of an engine's kind, and what they make expected of it."""

    kind: str | None
    left_out: bool
    sisters: list[SisterOut]
    expected: list[ExpectedOfSideOut]


def _summary(one: OfKind) -> EngineSummary | None:
    return None if one.summary is None else EngineSummary.model_validate(one.summary)


def _counting(own_id: str, usage_unit: str, kin: list[OfKind]) -> list[Sister]:
    """The sisters that an engine is compared with."""
    return [
        (summary, one.check_interval)
        for one in kin
        if one.id != own_id and not one.left_out and one.usage_unit == usage_unit
        for summary in [_summary(one)]
        if summary is not None
    ]


def _pooled(one: OfKind, kin: list[OfKind]) -> Pooled:
    if one.left_out:
        return _NOTHING
    sisters = _counting(one.id, one.usage_unit, kin)
    return pooled_from(_summary(one), one.check_interval, sisters) if sisters else _NOTHING


def priors_document(priors: SidePriors) -> list[list[object]]:
    """Priors as they are kept beside the result that was computed with them."""
    return [[side, prior.mean_mm, prior.sd_mm] for side, prior in priors]


def with_priors(session: Session, engine: EngineModel) -> EngineModel:
    """An engine with what its sisters make expected of it."""
    kind = folded(engine.known_kind)
    if kind is None or engine.left_out_of_kind:
        return engine
    sisters = _counting(engine.id, engine.usage_unit, engines_of_kind(session, kind))
    if not sisters:
        return engine
    return engine.with_side_priors(pooled_from(None, engine.check_interval, sisters).priors)


def refresh_kind(session: Session, kind: str | None) -> list[str]:
    """Have those engines of a kind computed again whose sisters make something else expected of them.

    What is expected is rounded, so that one more visit of a sister seldom moves it.

    Returns:
        The ids of those engines.
    """
    if kind is None:
        return []
    kin = engines_of_kind(session, kind)
    moved = [
        one.id
        for one in kin
        if one.priors is not None and one.priors != priors_document(_pooled(one, kin).priors)
    ]
    mark_stale(session, moved)
    return moved


def put_among_sisters(session: Session, engine: EngineModel) -> None:
    """An engine's data in place of those before; what its sisters, old and new, make expected follows."""
    before = kind_of(session, engine.id)
    put_engine(session, engine)
    for kind in {before, folded(engine.known_kind)}:
        refresh_kind(session, kind)


def leave_out(session: Session, record: Record, *, left_out: bool) -> None:
    """Compare an engine with its sisters, and them with it, or not."""
    if bool(record.engine.left_out_of_kind) == left_out:
        return
    put_among_sisters(session, record.engine.model_copy(update={"left_out_of_kind": left_out or None}))
    session.commit()


def known_kinds(session: Session) -> list[str]:
    """The kinds that engines of this workshop are of, as they were written."""
    return kinds_of_engines(session)


def _why_not(own: EngineModel, one: OfKind, summary: EngineSummary | None) -> str | None:
    if one.left_out:
        return "left out"
    if one.usage_unit != own.usage_unit:
        return f"counts in {one.usage_unit}"
    if summary is None:
        return "not calculated yet"
    return None if summary.sides else "not measured yet"


def _sister_out(own: EngineModel, one: OfKind) -> SisterOut:
    summary = _summary(one)
    why_not = _why_not(own, one, summary)
    times = own.check_interval / one.check_interval
    sides = {} if summary is None or one.usage_unit != own.usage_unit else summary.sides
    return SisterOut(
        id=one.id,
        name=one.name,
        counts=why_not is None,
        why_not=why_not,
        sides={
            side: SideSummaryOut(mean_mm=known.mean_mm * times, sd_mm=known.sd_mm * times)
            for side, known in sides.items()
        },
    )


def sisters_of(session: Session, engine: EngineModel) -> SistersOut:
    """The sisters of an engine and what they make expected; empty where no kind is noted."""
    kind = folded(engine.known_kind)
    left_out = bool(engine.left_out_of_kind)
    if kind is None:
        return SistersOut(kind=None, left_out=left_out, sisters=[], expected=[])
    kin = engines_of_kind(session, kind)
    own = next(one for one in kin if one.id == engine.id)
    return SistersOut(
        kind=engine.known_kind,
        left_out=left_out,
        sisters=[_sister_out(engine, one) for one in kin if one.id != engine.id],
        expected=_pooled(own, kin).expected,
    )
