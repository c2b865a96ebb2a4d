"""Traces of a visit, one by one."""

from sqlalchemy.orm import Session

from pronostico.record.visit import Trace
from pronostico.store.records import dump
from pronostico.store.rows import visit_row
from pronostico.store.tables import TraceRow


def put_trace(session: Session, engine_id: str, visit_id: str, trace: Trace) -> bool:
    """Keep a trace, in place of the one of the same identifier; False where there is no such visit."""
    row = visit_row(session, engine_id, visit_id)
    if row is None:
        return False
    for known in row.traces:
        if known.trace_id == trace.id:
            known.data = dump(trace, "id")
            return True
    row.traces.append(TraceRow(trace_id=trace.id, data=dump(trace, "id")))
    return True
