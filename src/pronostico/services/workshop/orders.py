"""Parts on order in the whole workshop."""

from sqlalchemy.orm import Session

from pronostico.analysis.parts_order import OrderedPartOut
from pronostico.record.work import Progress
from pronostico.store.orders import stored_progress


def parts_on_order(session: Session) -> list[OrderedPartOut]:
    """Every part that work waits for, by source and engine."""
    parts = [
        OrderedPartOut(
            engine=engine_id,
            name=name,
            visit=visit_id,
            index=index,
            what=part.what,
            count=part.count,
            shim_mm=part.shim_mm,
            diameter_mm=part.diameter_mm,
            source=part.source,
            ordered=part.ordered,
        )
        for engine_id, name, visit_id, progress in stored_progress(session)
        for index, part in enumerate(Progress.model_validate(progress, strict=False).awaited)
        if part.arrived is None
    ]
    return sorted(parts, key=lambda one: (one.source.casefold(), one.source))
