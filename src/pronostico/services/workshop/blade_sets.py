"""The workshop's sets of blades: entered in one line, chosen at the visit, held against an engine's spec."""

from dataclasses import asdict, dataclass
from datetime import datetime

from pydantic import JsonValue
from sqlalchemy.orm import Session

from pronostico.core.engine import SIDES, Spec
from pronostico.core.errors import ImpossibleValue
from pronostico.core.gauge.blade_gaps import BladeGap, blade_gaps
from pronostico.core.gauge.blade_list import BladeUnit, parse_blades
from pronostico.errors import NotThere, Refused
from pronostico.record.conversion import engine_from
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.models import GaugeSet
from pronostico.services.engines.load import engine_record
from pronostico.services.merging import merged
from pronostico.store import blade_sets as store
from pronostico.store import records


@dataclass(frozen=True, slots=True)
class SpecGaps:
    """The gaps of a set about one spec of an engine, and the valves that have the spec."""

    valves: tuple[str, ...]
    spec: Spec
    gaps: tuple[BladeGap, ...]


@dataclass(frozen=True, slots=True)
class BladeSet:
    """A set: what is printed on its blades, as it was typed, and its gaps where an engine was named."""

    id: str
    name: str
    blades_mm: tuple[float, ...]
    unit: BladeUnit
    text: str
    gaps: tuple[SpecGaps, ...]


def _typed(gauge_set: GaugeSet) -> tuple[BladeUnit, str]:
    """The unit and the text a set was entered with; of a set from elsewhere, mm and its figures."""
    typed = gauge_set.entered
    unit, text = (typed.get("unit"), typed.get("text")) if isinstance(typed, dict) else (None, None)
    known: dict[object, BladeUnit] = {"mm": "mm", "thou": "thou", "both": "both"}
    if unit in known and isinstance(text, str):
        return known[unit], text
    return "mm", " ".join(f"{blade:g}" for blade in sorted(gauge_set.blades_mm))


def _gaps(gauge_set: GaugeSet, engine: EngineModel | None) -> tuple[SpecGaps, ...]:
    if engine is None:
        return ()
    core = engine_from(engine)
    by_spec: dict[Spec, list[str]] = {}
    for side in SIDES:
        for valve in core.valves:
            spec = core.latest_spec_of(valve)
            if valve.side == side and spec is not None:
                by_spec.setdefault(spec, []).append(valve.id)
    blades = tuple(gauge_set.blades_mm)
    return tuple(SpecGaps(tuple(valves), spec, blade_gaps(blades, spec)) for spec, valves in by_spec.items())


def as_blade_set(gauge_set: GaugeSet, engine: EngineModel | None = None) -> BladeSet:
    """A set as pages show it, its gaps against an engine's spec with it where one is given."""
    unit, text = _typed(gauge_set)
    blades = tuple(sorted(gauge_set.blades_mm))
    name = gauge_set.name or gauge_set.id
    return BladeSet(gauge_set.id, name, blades, unit, text, _gaps(gauge_set, engine))


def list_blade_sets(session: Session, engine_id: str | None = None) -> list[BladeSet]:
    """The workshop's sets, held against an engine where one is named.

    Raises:
        NotThere: there is no such engine.
    """
    engine = None if engine_id is None else engine_record(session, engine_id).engine
    return [as_blade_set(one, engine) for one in store.blade_sets(session)]


def blade_set_in_use(session: Session, engine_id: str, visit_id: str) -> BladeSet:
    """The set in use at a visit.

    Raises:
        NotThere: there is no such engine or visit, or no set was chosen.
    """
    record = engine_record(session, engine_id)
    if not any(visit.id == visit_id for visit in record.visits):
        raise NotThere("visit", visit_id)
    gauge_set = store.set_at_visit(session, engine_id, visit_id) or record.gauge_set
    if gauge_set is None:
        raise NotThere("feeler gauge set in use at visit", visit_id)
    return as_blade_set(gauge_set)


@dataclass(frozen=True, slots=True)
class TypedSet:
    """A set as it is typed."""

    name: str
    text: str
    unit: BladeUnit


def put_blade_set(
    session: Session, set_id: str, typed: TypedSet, *, shown: TypedSet | None = None
) -> BladeSet:
    """Keep a set as it was typed, in place of the one of that id or as a new one.

    Args:
        shown: what the page showed before; None: it did not say, or the set is new.

    Raises:
        Refused: something in the text is no blade.
        Stale: somebody else typed it otherwise meanwhile.
    """
    there = store.blade_set(session, set_id)
    if there is not None and shown is not None:
        known = as_blade_set(there)
        now = TypedSet(known.name, known.text, known.unit)
        typed = TypedSet(**merged(asdict(now), asdict(shown), asdict(typed)))
    text, unit = typed.text, typed.unit
    try:
        blades_mm = parse_blades(text, unit)
    except ImpossibleValue as error:
        raise Refused([Fault("$.text", str(error))]) from error
    entered: dict[str, JsonValue] = {"text": text, "unit": unit}
    gauge_set = GaugeSet(id=set_id, name=typed.name, blades_mm=list(blades_mm), entered=entered)
    store.put_blade_set(session, gauge_set)
    session.commit()
    return as_blade_set(gauge_set)


def remove_blade_set(session: Session, set_id: str, *, now: datetime) -> None:
    """Put a set away; visits that used it keep it.

    Raises:
        NotThere: there is no such set.
    """
    if not store.remove_blade_set(session, set_id, now=now):
        raise NotThere("feeler gauge set", set_id)
    session.commit()


def use_blade_set(session: Session, engine_id: str, visit_id: str, set_id: str) -> None:
    """Note which set is in use at a visit.

    Raises:
        NotThere: there is no such engine, visit or set.
    """
    if records.valve_ids(session, engine_id) is None:
        raise NotThere("engine", engine_id)
    gauge_set = store.blade_set(session, set_id)
    if gauge_set is None:
        raise NotThere("feeler gauge set", set_id)
    if not store.use_at_visit(session, engine_id, visit_id, gauge_set):
        raise NotThere("visit", visit_id)
    session.commit()
