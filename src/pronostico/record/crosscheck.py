"""What the shape of a record cannot say: that its parts agree with each other and with the calendar.

Works on the plain JSON document, so that it finds its faults even where the shape is wrong elsewhere;
what has not the expected shape is passed over here, for the models report it.
"""

from collections.abc import Callable, Iterator
from datetime import date
from math import isclose

from pronostico.record.faults import Fault, Step, json_path

Path = tuple[Step, ...]
Object = dict[str, object]
Faults = Iterator[Fault]


def _fault(path: Path, message: str) -> Fault:
    return Fault(json_path(path), message)


def _object(parent: object, key: str) -> Object:
    value = parent.get(key) if isinstance(parent, dict) else None
    return value if isinstance(value, dict) else {}


def _list(parent: object, key: str) -> list[object]:
    value = parent.get(key) if isinstance(parent, dict) else None
    return value if isinstance(value, list) else []


def _objects(parent: object, key: str, path: Path) -> Iterator[tuple[Path, Object]]:
    for index, item in enumerate(_list(parent, key)):
        if isinstance(item, dict):
            yield (*path, key, index), item


def _number(parent: Object, key: str) -> float | None:
    value = parent.get(key)
    return float(value) if isinstance(value, (int, float)) and not isinstance(value, bool) else None


def _known_text(values: set[str]) -> str:
    return ", ".join(sorted(values)) or "none"


class _Document:
    """The plain document with the names that its parts refer to."""

    def __init__(self, document: object, today: date) -> None:
        self.root: Object = document if isinstance(document, dict) else {}
        self.today = today
        self.engine = _object(self.root, "engine")
        valves = [valve for _, valve in _objects(self.engine, "valves", ())]
        self.valves = {str(valve["id"]) for valve in valves if isinstance(valve.get("id"), str)}
        with_valves = {n for valve in valves if isinstance(n := valve.get("cylinder"), int)}
        self.firing_order = _list(self.engine, "firing_order")
        self.cylinders = with_valves | {n for n in self.firing_order if isinstance(n, int)}
        self.visits = {
            str(visit["id"])
            for _, visit in _objects(self.root, "visits", ())
            if isinstance(visit.get("id"), str)
        }

    def valve(self, path: Path, value: object) -> Faults:
        if isinstance(value, str) and self.valves and value not in self.valves:
            yield _fault(
                path, f"there is no valve '{value}' on this engine; it has {_known_text(self.valves)}"
            )

    def cylinder(self, path: Path, value: object) -> Faults:
        if isinstance(value, int) and self.cylinders and value not in self.cylinders:
            known = ", ".join(str(cylinder) for cylinder in sorted(self.cylinders))
            yield _fault(path, f"there is no cylinder {value} on this engine; it has {known}")

    def day(self, path: Path, value: object) -> Faults:
        parsed = _day(value)
        if parsed is not None and parsed > self.today:
            yield _fault(path, f"{parsed} lies in the future (today is {self.today})")

    def placed(self, path: Path, item: Object) -> Faults:
        yield from self.cylinder((*path, "cylinder"), item.get("cylinder"))


def _day(value: object) -> date | None:
    try:
        return date.fromisoformat(value) if isinstance(value, str) else None
    except ValueError:
        return None


def _duplicates(parent: object, key: str, path: Path, what: str) -> Faults:
    first: dict[str, str] = {}
    for at, item in _objects(parent, key, path):
        name = item.get("id")
        if not isinstance(name, str):
            continue
        if name in first:
            yield _fault((*at, "id"), f"{what} '{name}' is there already, at {first[name]}")
        else:
            first[name] = json_path(at)


def _spec(path: Path, spec: Object, *, may_be_empty: bool) -> Faults:
    low, high, figure = (_number(spec, key) for key in ("min_mm", "max_mm", "figure_mm"))
    if low is not None and high is not None:
        if low >= high:
            yield _fault(
                path, f"min_mm {low:g} is not below max_mm {high:g}; for a single figure use figure_mm"
            )
    elif low is not None or high is not None:
        missing = "max_mm" if high is None else "min_mm"
        yield _fault((*path, missing), "is missing: a range needs both ends")
    elif figure is None and spec.get("figure_mm") is None and not may_be_empty:
        yield _fault(path, "has neither a range (min_mm and max_mm) nor a figure_mm")


def _sides(path: Path, spec: Object, *, may_be_empty: bool) -> Faults:
    for side in ("intake", "exhaust"):
        if isinstance(spec.get(side), dict):
            yield from _spec((*path, side), _object(spec, side), may_be_empty=may_be_empty)


def _specs(doc: _Document) -> Faults:
    # A hydraulic engine keeps its own clearance and may have no figure for it.
    free = doc.engine.get("adjustment") == "hydraulic"
    yield from _sides(("engine", "spec"), _object(doc.engine, "spec"), may_be_empty=free)
    for path, change in _objects(doc.engine, "spec_changes", ("engine",)):
        yield from doc.day((*path, "date"), change.get("date"))
        yield from _sides((*path, "spec"), _object(change, "spec"), may_be_empty=free)
    for path, valve in _objects(doc.engine, "valves", ("engine",)):
        if isinstance(valve.get("spec"), dict):
            yield from _spec((*path, "spec"), _object(valve, "spec"), may_be_empty=False)
    pressure = _object(doc.engine, "compression_spec_kpa")
    low, high = _number(pressure, "min"), _number(pressure, "max")
    if low is not None and high is not None and low > high:
        yield _fault(("engine", "compression_spec_kpa"), f"min {low:g} is over max {high:g}")


def _firing(doc: _Document) -> Faults:
    order = doc.firing_order
    path: Path = ("engine", "firing_order")
    if order and sorted(doc.cylinders, key=str) != sorted(order, key=str):
        shown = ", ".join(str(cylinder) for cylinder in sorted(doc.cylinders))
        yield _fault(path, f"is {order}, must name each cylinder ({shown}) once, in the order they fire")
    elif order and sorted(doc.cylinders) != list(range(1, len(order) + 1)):
        yield _fault(path, f"is {order}, must be a permutation of 1 to {len(order)}")
    intervals = _list(doc.engine, "firing_intervals_deg")
    angles = [float(angle) for angle in intervals if isinstance(angle, (int, float))]
    path = ("engine", "firing_intervals_deg")
    if intervals and order and len(intervals) != len(order):
        yield _fault(path, f"has {len(intervals)} angles for {len(order)} steps of the firing order")
    elif intervals and len(angles) == len(intervals) and not isclose(sum(angles), 720.0, abs_tol=0.5):
        yield _fault(path, f"add up to {sum(angles):g} degrees, must be 720 together")


def _engine(doc: _Document) -> Faults:
    yield from _duplicates(doc.engine, "valves", ("engine",), "valve")
    for path, valve in _objects(doc.engine, "valves", ("engine",)):
        for index, other in enumerate(_list(valve, "shares_rocker_with")):
            yield from doc.valve((*path, "shares_rocker_with", index), other)
    for path, station in _objects(doc.engine, "stations", ("engine",)):
        for index, valve_id in enumerate(_list(station, "valves")):
            yield from doc.valve((*path, "valves", index), valve_id)
    for key in ("meter_changes", "usage_readings"):
        for path, dated in _objects(doc.engine, key, ("engine",)):
            yield from doc.day((*path, "date"), dated.get("date"))
    banks = _list(_object(doc.engine, "layout"), "banks")
    in_banks = [cylinder for bank in banks if isinstance(bank, list) for cylinder in bank]
    if banks and doc.cylinders and sorted(in_banks, key=str) != sorted(doc.cylinders, key=str):
        yield _fault(("engine", "layout", "banks"), f"{banks} must hold each cylinder once")
    series = _object(doc.engine, "shim_series")
    low, high = _number(series, "from_mm"), _number(series, "to_mm")
    if low is not None and high is not None and low > high:
        yield _fault(("engine", "shim_series"), f"from_mm {low:g} is over to_mm {high:g}")


def _order_of_visits(doc: _Document) -> Faults:
    usage_before: float | None = None
    day_before: date | None = None
    for path, visit in _objects(doc.root, "visits", ()):
        usage, day = _number(visit, "usage"), _day(visit.get("date"))
        if usage is not None:
            if usage_before is not None and usage < usage_before:
                yield _fault(
                    (*path, "usage"),
                    f"{usage:g} is less than the {usage_before:g} of the visit before; usage is the running "
                    "total and cannot go back (a new meter goes in engine.meter_changes)",
                )
            usage_before = usage
        if day is not None:
            if day_before is not None and day < day_before:
                yield _fault((*path, "date"), f"{day} is before the visit before it ({day_before})")
            day_before = day


def _progress(doc: _Document, path: Path, visit: Object) -> Faults:
    progress, began = _object(visit, "progress"), _day(visit.get("date"))
    ended = _day(progress.get("ended"))
    yield from doc.day((*path, "progress", "ended"), progress.get("ended"))
    if ended is not None and began is not None and ended < began:
        yield _fault((*path, "progress", "ended"), f"{ended} is before the visit began ({began})")
    for at, part in _objects(progress, "awaited", (*path, "progress")):
        for key in ("ordered", "arrived"):
            yield from doc.day((*at, key), part.get(key))


def _heard_valves(doc: _Document, path: Path, visit: Object) -> Faults:
    for at, recording in _objects(visit, "recordings", path):
        heard = recording.get("heard")
        if not isinstance(heard, dict):
            continue
        for in_tick, tick in _objects(heard, "ticks", (*at, "heard")):
            for in_valve, valve in _objects(tick, "valves", in_tick):
                yield from doc.valve((*in_valve, "id"), valve.get("id"))


def _visits(doc: _Document) -> Faults:
    yield from _duplicates(doc.root, "visits", (), "visit")
    yield from _order_of_visits(doc)
    for path, visit in _objects(doc.root, "visits", ()):
        yield from doc.day((*path, "date"), visit.get("date"))
        yield from _progress(doc, path, visit)
        yield from _duplicates(visit, "settings", path, "setting")
        yield from _duplicates(visit, "traces", path, "trace")
        yield from _duplicates(visit, "recordings", path, "sound recording")
        yield from _heard_valves(doc, path, visit)
        for key in ("readings", "settings", "parts_changed"):
            for at, item in _objects(visit, key, path):
                yield from doc.valve((*at, "valve"), item.get("valve"))
        for key in ("compression", "leakdown", "numbers", "findings"):
            for at, item in _objects(visit, key, path):
                yield from doc.placed(at, item)


def _cases(doc: _Document) -> Faults:
    yield from _duplicates(doc.root, "cases", (), "case")
    for path, case in _objects(doc.root, "cases", ()):
        for key in ("opened", "closed"):
            yield from doc.day((*path, key), case.get(key))
        opened, closed = _day(case.get("opened")), _day(case.get("closed"))
        if opened is not None and closed is not None and closed < opened:
            yield _fault((*path, "closed"), f"{closed} is before it was opened ({opened})")
        visit = case.get("visit")
        if isinstance(visit, str) and visit not in doc.visits:
            yield _fault(
                (*path, "visit"), f"there is no visit '{visit}'; there are {_known_text(doc.visits)}"
            )
        for key in ("findings", "confirmed"):
            for at, item in _objects(case, key, path):
                yield from doc.placed(at, item)


_CHECKS: tuple[Callable[[_Document], Faults], ...] = (_engine, _specs, _firing, _visits, _cases)


def cross_faults(document: object, *, today: date) -> list[Fault]:
    """Every place where parts of a record disagree; one fault a place."""
    doc = _Document(document, today)
    found: dict[str, Fault] = {}
    for check in _CHECKS:
        for fault in check(doc):
            found.setdefault(fault.path, fault)
    return list(found.values())
