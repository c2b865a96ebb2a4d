"""Quick checks before a valve check: ticked off with what was seen."""

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.errors import NotThere
from pronostico.knowledge import load_first_looks
from pronostico.record.work import QuickCheck
from pronostico.services.engines.load import engine_record
from pronostico.services.merging import merged
from pronostico.store.visit_data import put_visit_data


def note_quick_check(
    session: Session,
    engine_id: str,
    visit_id: str,
    check_id: str,
    *,
    done: bool,
    seen: str,
    was: tuple[bool, str] | None = None,
) -> None:
    """Note that a quick check was done and what was seen; not done, nothing is noted of it.

    Args:
        was: whether the page showed it as done, and what was seen; None: it did not say.

    Raises:
        NotThere: there is no such engine, visit or check.
        Stale: somebody else noted otherwise meanwhile.
    """
    visit = visit_of(engine_record(session, engine_id), visit_id)
    if check_id not in {one.id for one in load_first_looks()}:
        raise NotThere("quick check", check_id)
    known = visit.quick_checks.get(check_id)
    now = {"done": known is not None, "seen": "" if known is None else known.seen}
    shown = None if was is None else {"done": was[0], "seen": was[1]}
    kept = merged(now, shown, {"done": done, "seen": seen.strip()})
    checks = {name: one for name, one in visit.quick_checks.items() if name != check_id}
    if kept["done"]:
        checks[check_id] = QuickCheck(seen=str(kept["seen"]))
    put_visit_data(session, engine_id, visit.model_copy(update={"quick_checks": checks}))
    session.commit()
