"""A trace's figures taken over into the record: where each belongs, with the instrument's name and time."""

from collections.abc import Sequence
from statistics import median
from typing import TypeVar

from pydantic import JsonValue
from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Side
from pronostico.instruments.figures import TraceFigures, figures_of
from pronostico.instruments.kinds import channels_of
from pronostico.instruments.samples import Sample
from pronostico.record.base import Entered
from pronostico.record.engine import EngineModel
from pronostico.record.visit import Compression, FindingModel, Leakdown, Number, Replaced, Trace, TryModel
from pronostico.services.engines.load import engine_record
from pronostico.services.visits.findings import note_visit_finding
from pronostico.store import tries
from pronostico.store.visit_data import put_visit_data

Part = TypeVar("Part", bound=Entered)


def cylinders_of(engine: EngineModel) -> tuple[int, ...]:
    """The cylinders of an engine, ascending."""
    return tuple(sorted({valve.cylinder for valve in engine.valves}))


def _samples_of(note: Trace) -> list[Sample]:
    return [Sample(row[0] or 0.0, tuple(row[1:])) for row in note.samples]


def trace_figures(engine: EngineModel, note: Trace, altitude_m: float) -> TraceFigures:
    """What a trace that is kept comes to."""
    channels = channels_of(note.kind, cylinders_of(engine))
    if not note.samples:
        return TraceFigures({}, "no reading")
    return figures_of(note.kind, channels, _samples_of(note), altitude_m=altitude_m)


class ReadingImport:
    """A trace's figures on their way into the record."""

    def __init__(
        self,
        session: Session,
        engine: EngineModel,
        visit_id: str,
        note: Trace,
        figures: TraceFigures,
        constants: Constants,
    ) -> None:
        self._session = session
        self._engine = engine
        self._visit = visit_of(engine_record(session, engine.id), visit_id)
        self._note = note
        self._values = figures.values
        self._constants = constants
        self._entered = {"instrument": note.instrument, "at": note.at.isoformat()}

    def replaced(self) -> Replaced:
        """What stands where the figures go: kept with the trace, to be put back if they are taken back."""
        cylinder = self._note.cylinder or 1
        match self._note.kind:
            case "compression":
                known = [one for one in self._visit.compression if one.cylinder == cylinder]
                return Replaced(compression=known)
            case "leakdown":
                found = [one for one in self._visit.leakdown if one.cylinder == cylinder]
                return Replaced(leakdown=found)
            case "reader":
                names = {"trims-long", "vacuum", "idle-speed", "misfires"}
                before = [one for one in self._visit.numbers if one.id in names and one.phase != "after"]
                return Replaced(numbers=before)
            case "thermometer":
                return Replaced(temperature_c=self._visit.temperature_c)
            case _:
                return Replaced()

    def take_back(self) -> None:
        """Take the figures out of the record again, and put back what stood there; not committed yet.

        What was noted by hand since stays as it is.
        """
        replaced = self._note.replaced or Replaced()
        match self._note.kind:
            case "dial-clearance":
                for name in ("not", "went"):
                    tries.take_back(
                        self._session,
                        self._engine.id,
                        self._visit.id,
                        f"{self._note.id}-{name}",
                        now=self._note.at,
                    )
            case "dial-lift":
                self._take_back_lift()
            case "compression":
                pressures = self._rest(self._visit.compression, replaced.compression)
                self._put(compression=sorted(pressures, key=lambda each: each.cylinder))
            case "leakdown":
                leaks = self._rest(self._visit.leakdown, replaced.leakdown)
                self._put(leakdown=sorted(leaks, key=lambda each: each.cylinder))
            case "reader":
                self._put(numbers=self._rest(self._visit.numbers, replaced.numbers))
            case "thermometer":
                if self._visit.temperature_c == self._values.get("head_c"):
                    self._put(temperature_c=replaced.temperature_c)

    def _is_own(self, entered: JsonValue | None) -> bool:
        """Whether a part of the record is what this trace brought."""
        return isinstance(entered, dict) and self._entered in (entered, *entered.values())

    def _rest(self, parts: Sequence[Part], before: Sequence[Part]) -> list[Part]:
        """The parts that are not of this trace, with what it had replaced."""
        kept = [one for one in parts if not self._is_own(one.entered)]
        return kept if len(kept) == len(parts) else [*kept, *before]

    def _take_back_lift(self) -> None:
        valve = next(one for one in self._engine.valves if one.id == self._note.valve)
        note_visit_finding(
            self._session,
            self._engine.id,
            self._visit.id,
            FindingModel(id="low-lift", state="unknown", cylinder=valve.cylinder, side=valve.side),
        )

    def take(self) -> None:
        """Put the figures where they belong; not committed yet."""
        match self._note.kind:
            case "dial-clearance":
                self._clearance()
            case "dial-lift":
                self._lift()
            case "compression":
                self._compression()
            case "leakdown":
                self._leakdown()
            case "reader":
                self._reader()
            case "thermometer":
                self._put(temperature_c=self._values["head_c"])

    def _put(self, **changed: object) -> None:
        put_visit_data(self._session, self._engine.id, self._visit.model_copy(update=changed))

    def _clearance(self) -> None:
        """A dial's figure as the blades that would bracket it: the record knows tries and nothing else."""
        reads_mm, valve = self._values["clearance_mm"], self._note.valve or ""
        half = 2.0 * self._constants.feel_sd_straight_mm
        answers = [
            (
                "not",
                TryModel(
                    blades_mm=[round(reads_mm + half + self._constants.refuse_below_mm, 4)], felt="no-go"
                ),
            )
        ]
        went_mm = round(reads_mm - half + self._constants.refuse_below_mm, 4)
        if went_mm > 0.0:
            answers.insert(0, ("went", TryModel(blades_mm=[went_mm], felt="go")))
        for name, one in answers:
            tries.add_try(
                self._session,
                self._engine.id,
                self._visit.id,
                f"{self._note.id}-{name}",
                valve=valve,
                phase=self._note.phase,
                crank_turn=1,
                one=one.model_copy(update={"entered": f"{reads_mm:.3f} mm on {self._note.instrument}"}),
                now=self._note.at,
            )
        self._session.flush()
        tries.note_instrument(
            self._session,
            self._engine.id,
            self._visit.id,
            valve=valve,
            phase=self._note.phase,
            name=self._note.instrument,
            entered={**self._entered, "reads_mm": reads_mm},
        )

    def _number(self, id: str, value: float, unit: str, cylinder: int | None = None) -> Number:
        return Number(
            id=id, value=value, unit=unit, cylinder=cylinder, phase="before", entered=dict(self._entered)
        )

    def _with_numbers(self, new: list[Number]) -> list[Number]:
        replaced = {(one.id, one.cylinder) for one in new}
        rest = [
            one
            for one in self._visit.numbers
            if one.phase == "after" or (one.id, one.cylinder) not in replaced
        ]
        return [*rest, *new]

    def _reader(self) -> None:
        numbers = [
            self._number("trims-long", self._values["trim_long_percent"], "percent"),
            self._number("vacuum", self._values["vacuum_kpa"], "kPa"),
            self._number("idle-speed", self._values["idle_per_min"], "1/min"),
        ]
        for name, value in self._values.items():
            if name.startswith("misfires_"):
                cylinder = int(name.removeprefix("misfires_"))
                numbers.append(self._number("misfires", value, "count", cylinder))
        self._put(numbers=self._with_numbers(numbers))

    def _compression(self) -> None:
        cylinder, kpa = self._note.cylinder or 1, self._values["pressure_kpa"]
        known = next((one for one in self._visit.compression if one.cylinder == cylinder), None)
        one = Compression(cylinder=cylinder) if known is None else known
        state = "wet" if self._note.oiled else "dry"
        before = one.entered if isinstance(one.entered, dict) else {}
        one = one.model_copy(
            update={f"{state}_kpa": kpa, "throttle_open": True, "entered": {**before, state: self._entered}}
        )
        rest = [each for each in self._visit.compression if each.cylinder != cylinder]
        self._put(compression=sorted([*rest, one], key=lambda each: each.cylinder))

    def _leakdown(self) -> None:
        cylinder = self._note.cylinder or 1
        known = {"intake", "exhaust", "crankcase", "coolant", "neighbour"}
        one = Leakdown.model_validate(
            {
                "cylinder": cylinder,
                "percent": self._values["lost_percent"],
                "heard": [place for place in self._note.heard if place in known],
                "entered": dict(self._entered),
            }
        )
        rest = [each for each in self._visit.leakdown if each.cylinder != cylinder]
        self._put(leakdown=sorted([*rest, one], key=lambda each: each.cylinder))

    def _lift(self) -> None:
        """The lift is kept with its trace; one that is low beside the others of its side is a finding."""
        valve = next(one for one in self._engine.valves if one.id == self._note.valve)
        others = self._lifts(valve.side, without=valve.id)
        if len(others) < 2 or self._values["lift_mm"] >= DEFAULT.low_lift_share * median(others):
            return
        note_visit_finding(
            self._session,
            self._engine.id,
            self._visit.id,
            FindingModel(
                id="low-lift",
                state="present",
                cylinder=valve.cylinder,
                side=valve.side,
                note=f"{self._values['lift_mm']:.2f} mm, the others {median(others):.2f} mm",
            ),
        )

    def _lifts(self, side: Side, *, without: str) -> list[float]:
        """The lift last taken of each other valve of a side."""
        sides = {one.id: one.side for one in self._engine.valves}
        lifts: dict[str, float] = {}
        for note in self._visit.traces:
            if note.kind == "dial-lift" and note.taken and note.valve and note.valve != without:
                figures = trace_figures(self._engine, note, 0.0)
                if sides.get(note.valve) == side and "lift_mm" in figures.values:
                    lifts[note.valve] = figures.values["lift_mm"]
        return list(lifts.values())
