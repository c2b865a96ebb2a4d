"""Engines of one kind, and what their results say for each other."""

from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from pronostico.store.rows import BY_NAME
from pronostico.store.tables import EngineRow, Json, ResultRow

# As it was written: by a name of its own, else by make and model.
WRITTEN = func.coalesce(
    func.nullif(func.trim(EngineRow.data["kind"].as_string()), ""),
    EngineRow.data["make"].as_string() + " " + EngineRow.data["model"].as_string(),
)


def folded(kind: str | None) -> str | None:
    """A kind as it is compared: case and spaces do not matter; None where it says nothing."""
    return " ".join((kind or "").casefold().split()) or None


@dataclass(frozen=True, slots=True)
class OfKind:
    """An engine of a kind; `summary`, `priors`: what its last result had, None without one."""

    id: str
    name: str
    check_interval: float
    usage_unit: str
    left_out: bool
    summary: Json | None
    priors: list[Any] | None


def engines_of_kind(session: Session, kind: str) -> list[OfKind]:
    """All engines of a folded kind, by name."""
    rows = session.execute(
        select(EngineRow.id, EngineRow.name, EngineRow.data, ResultRow.summary, ResultRow.priors)
        .outerjoin(ResultRow, ResultRow.engine_id == EngineRow.id)
        .where(EngineRow.kind == kind)
        .order_by(*BY_NAME)
    )
    return [
        OfKind(
            engine_id,
            name or engine_id,
            data["check_interval"],
            data["usage_unit"],
            bool(data.get("left_out_of_kind")),
            summary,
            priors,
        )
        for engine_id, name, data, summary, priors in rows
    ]


def kind_of(session: Session, engine_id: str) -> str | None:
    """The folded kind of an engine."""
    return session.scalar(select(EngineRow.kind).where(EngineRow.id == engine_id))


def kinds_of_engines(session: Session) -> list[str]:
    """Every kind as it was first written, in order; one that differs in case or spaces alone is the same."""
    rows = session.execute(
        select(EngineRow.kind, WRITTEN)
        .where(EngineRow.kind.is_not(None))
        .order_by(EngineRow.kind, EngineRow.id)
    )
    written: dict[str, str] = {}
    for kind, text in rows:
        written.setdefault(kind, text.strip())
    return list(written.values())


def mark_stale(session: Session, engine_ids: list[str]) -> None:
    """Results that are to be computed again."""
    session.execute(update(ResultRow).where(ResultRow.engine_id.in_(engine_ids)).values(model=""))
