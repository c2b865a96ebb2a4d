"""The job card of a visit: what was found, what was done, what it cost and what comes next, on one page."""

from collections import Counter
from datetime import date

from pronostico.analysis.adjustment_plan import preload_of
from pronostico.analysis.adjustment_plan_report import PreloadOut
from pronostico.analysis.adjustments_made import DoneOut, done_out, unread
from pronostico.analysis.lookup import visit_of
from pronostico.analysis.meter import offset_on
from pronostico.analysis.money import MoneyOut, account_of, labour_minutes
from pronostico.analysis.report import EstimateOut, SpecOut, estimate_out
from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.simulated_parts import simulated_parts
from pronostico.analysis.sound_evidence import speaking
from pronostico.analysis.sound_words import became_words, headline
from pronostico.analysis.verification import VerificationOut, verification
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.core.engine import Adjustment, Side
from pronostico.core.gauge.valve_history import at_visit
from pronostico.core.visits import Work
from pronostico.knowledge import load_first_looks
from pronostico.language import Text
from pronostico.record.base import Day
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.engine import EngineModel, Layout, Torque
from pronostico.record.models import Record
from pronostico.record.visit import VisitModel
from pronostico.record.work import Part


class CardValveOut(ReportModel):
    """One valve on the card; `skipped` says why it was not read, `reason` why it was decided so."""

    valve: str
    cylinder: int
    side: Side
    place: int | None
    spec: SpecOut | None
    found: EstimateOut | None
    left: EstimateOut | None
    settings: list[DoneOut]
    skipped: str | None
    reason: str | None


class FittedShimOut(ReportModel):
    """So many new shims of one size that were fitted; `bought`: for this job, else from the box."""

    shim_mm: float
    count: int
    bought: bool


class MovedShimOut(ReportModel):
    """A shim that was moved from one valve of the engine to another: no new part."""

    shim_mm: float
    moved_from: str
    valve: str


class CardPriceOut(ReportModel):
    """How long it took and what that costs; `noted`: by the clock, else estimated by the workshop's times."""

    minutes: float
    noted: bool
    cost: float | None
    currency: str


class JobCardOut(ReportModel):
    """Everything that stands on a job card.

    `meter`: what the meter showed, `usage` the running total. `ended`: the day on which the work was
    done. `work_done`: what was really done, in words. `unread`: valves that were not read as found.
    `parts_changed`: valve by valve, in words. `quick_checks`: what was checked before them, and seen.
    `sound`: what a recording said, and whether the tick is gone.
    """

    engine: str
    name: str
    identity: str | None
    customer: str | None
    source: str | None
    layout: Layout | None
    adjustment: Adjustment
    usage_unit: str
    visit: str
    date: date
    ended: Day | None
    usage: float
    meter: float
    temperature_c: float | None
    technician: str | None
    work: Work
    work_done: Text
    duty: str | None
    customers_words: list[str]
    unread: list[str]
    simulated: list[Text]
    preload: PreloadOut | None
    notes: str | None
    valves: list[CardValveOut]
    shims: list[FittedShimOut]
    moved_shims: list[MovedShimOut]
    parts: list[Part]
    parts_changed: list[Text]
    quick_checks: list[Text]
    sound: list[Text]
    torque: list[Torque]
    verification: VerificationOut
    price: CardPriceOut
    account: MoneyOut


def _valves(record: Record, model: VisitModel) -> list[CardValveOut]:
    engine = engine_from(record.engine)
    visit = next(one for one in visits_from(record) if one.id == model.id)
    places = {one.id: one.place for one in record.engine.valves}
    skipped = {one.valve: one.skipped for one in model.readings if one.phase == "found"}
    decisions = model.decisions
    valves = []
    for valve in engine.valves:
        at = at_visit(engine, valve, visit)
        decided = decisions.get(valve.id)
        valves.append(
            CardValveOut(
                valve=valve.id,
                cylinder=valve.cylinder,
                side=valve.side,
                place=places[valve.id],
                spec=None if at.spec is None else SpecOut.model_validate(at.spec),
                found=estimate_out(at.found),
                left=estimate_out(at.left),
                settings=[done_out(one) for one in model.settings if one.valve == valve.id],
                skipped=skipped.get(valve.id),
                reason=decided.reason or None if decided is not None else None,
            )
        )
    return valves


def _fitted(valves: list[CardValveOut]) -> list[FittedShimOut]:
    counts = Counter(
        (one.shim_to_mm, one.source == "order")
        for valve in valves
        for one in valve.settings
        if one.shim_to_mm is not None and one.source != "moved"
    )
    return [
        FittedShimOut(shim_mm=shim_mm, count=count, bought=bought)
        for (shim_mm, bought), count in sorted(counts.items())
    ]


def _moved(valves: list[CardValveOut]) -> list[MovedShimOut]:
    return [
        MovedShimOut(shim_mm=one.shim_to_mm, moved_from=one.moved_from, valve=valve.valve)
        for valve in valves
        for one in valve.settings
        if one.shim_to_mm is not None and one.source == "moved" and one.moved_from is not None
    ]


def _counted(count: int, one: str, many: str) -> str:
    return f"{count} {one if count == 1 else many}"


def work_done(engine: EngineModel, visit: VisitModel) -> str:
    """What was really done at a visit, in words: 'checked and set: 5 shims'."""
    read = {one.valve for one in visit.readings if one.phase == "found" and one.tries}
    by_shim = {one.valve for one in visit.settings if one.shim_to_mm is not None}
    by_screw = {one.valve for one in visit.settings} - by_shim
    screws = ("preload", "preloads") if engine.adjustment == "hydraulic" else ("screw", "screws")
    done = [
        _counted(len(valves), *words)
        for valves, words in ((by_shim, ("shim", "shims")), (by_screw, screws))
        if valves
    ]
    parts = [
        word
        for word, is_so in (
            ("head off", visit.work == "head-work"),
            ("checked", bool(read)),
            ("set", bool(done)),
            ("parts changed", bool(visit.parts_changed)),
        )
        if is_so
    ]
    named = " and ".join([", ".join(parts[:-1]), parts[-1]]) if len(parts) > 1 else "".join(parts)
    return f"{named}: {', '.join(done)}" if done else named or "nothing measured yet"


def parts_changed_in_words(visit: VisitModel) -> list[str]:
    """Which parts were changed, a line a valve: '1E: valve, seat'."""
    of_valve: dict[str, list[str]] = {}
    for one in visit.parts_changed:
        of_valve.setdefault(one.valve, []).append(one.part)
    return [f"{valve}: {', '.join(parts)}" for valve, parts in of_valve.items()]


def _quick_checks(visit: VisitModel) -> list[str]:
    """What was checked before the valves, and seen: 'fuel: stale, smells of varnish'."""
    labels = {one.id: one.label for one in load_first_looks()}
    return [
        ": ".join(filter(None, (labels.get(name, name), one.seen)))
        for name, one in visit.quick_checks.items()
    ]


def _sound(visit: VisitModel) -> list[str]:
    """What the recording that counts says, and what became of its tick."""
    counting = speaking(visit.recordings)
    after = [one for one in visit.recordings if one.after is not None]
    became = max(after, key=lambda one: one.at).after if after else None
    return [
        *([] if counting is None else [headline(counting.heard.answer)]),
        *([] if became is None else [became_words(became.verdict, became.p_gone)]),
    ]


def _customers_words(record: Record, visit: VisitModel) -> list[str]:
    """What the customer said, at the visit and in the cases that began there; each once."""
    cases = [one for one in record.cases if one.visit == visit.id]
    noted = [*visit.findings, *(finding for case in cases for finding in case.findings)]
    return list(dict.fromkeys(one.words.strip() for one in noted if one.words and one.words.strip()))


def _price(workshop: WorkshopSettings, record: Record, visit: VisitModel) -> CardPriceOut:
    minutes = labour_minutes(record, visit, workshop)
    rate = workshop.rate_per_hour
    return CardPriceOut(
        minutes=minutes,
        noted=visit.minutes is not None,
        cost=None if rate is None else minutes / 60.0 * rate,
        currency=workshop.currency,
    )


def job_card(
    record: Record, visit_id: str, workshop: WorkshopSettings, *, customer: str | None = None
) -> JobCardOut:
    """The job card of a visit.

    Args:
        customer: whose the engine is, in words.

    Raises:
        NotThere: there is no such visit.
    """
    visit, engine = visit_of(record, visit_id), record.engine
    valves = _valves(record, visit)
    source = engine.source
    return JobCardOut(
        engine=engine.id,
        name=engine.name or engine.id,
        identity=engine.identity,
        customer=customer,
        source=None if source is None else ", ".join(filter(None, (source.title, source.page))),
        layout=engine.layout,
        adjustment=engine.adjustment,
        usage_unit=engine.usage_unit,
        visit=visit.id,
        date=visit.date,
        ended=None if visit.progress is None else visit.progress.ended,
        usage=visit.usage,
        meter=visit.usage - offset_on(engine, visit.date),
        temperature_c=visit.temperature_c,
        technician=visit.technician,
        work=visit.work or "check",
        work_done=work_done(engine, visit),
        customers_words=_customers_words(record, visit),
        unread=unread(engine, visit),
        simulated=simulated_parts(visit),
        preload=preload_of(engine),
        duty=visit.duty,
        notes=visit.notes,
        valves=valves,
        shims=_fitted(valves),
        moved_shims=_moved(valves),
        parts=visit.parts,
        parts_changed=parts_changed_in_words(visit),
        quick_checks=_quick_checks(visit),
        sound=_sound(visit),
        torque=engine.torque or [],
        verification=verification(record, visit, workshop),
        price=_price(workshop, record, visit),
        account=account_of(record, visit, workshop),
    )
