"""What of a visit was read by simulated instruments: marked on every page and in every export."""

from pronostico.core.visits import InstrumentKind
from pronostico.record.visit import Trace, VisitModel

_MARK = "simulated "
_WHAT: dict[InstrumentKind, str] = {
    "dial-clearance": "clearance",
    "dial-lift": "lift",
    "compression": "compression",
    "leakdown": "leak-down",
    "reader": "values of the code reader",
    "thermometer": "temperature",
}


def is_simulated(note: Trace) -> bool:
    """Whether a trace came from a simulated instrument; one that was replayed from a file did not."""
    return note.instrument.startswith(_MARK)


def simulated_parts(visit: VisitModel) -> list[str]:
    """What simulated instruments brought into a visit, in words; nothing where all was really measured."""
    parts = []
    for note in visit.traces:
        if note.taken and is_simulated(note):
            place = note.valve or (None if note.cylinder is None else f"cylinder {note.cylinder}")
            parts.append(_WHAT[note.kind] if place is None else f"{_WHAT[note.kind]} of {place}")
    if any(one.simulated for one in visit.recordings):
        parts.append("sound recording")
    return list(dict.fromkeys(parts))
