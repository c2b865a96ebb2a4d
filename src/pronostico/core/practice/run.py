"""An engine to practise on: hidden clearances, a crank that turns one way, blades that feel as they would.

Everything follows from the hidden state, a seed and what the learner did: the same steps give the same
answers, so that a run is kept as its steps alone.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Spec, Valve
from pronostico.core.errors import ImpossibleValue
from pronostico.core.simulation.condition import Condition
from pronostico.core.simulation.history import Technician
from pronostico.core.thermal import Correction, correction_at
from pronostico.core.visits import Phase, Reading, Try

StepKind = Literal["turn", "waggle", "look", "blade", "instrument", "set", "lock", "name", "sound"]

_SETTING_SD_MM = 0.004
_WIDEST_MM = 2.0
_MOST_STEPS = 2000
_MOST_TURN_DEG = 720.0


@dataclass(frozen=True, slots=True)
class Hidden:
    """What the learner does not see: the engine as it truly is, its fault, and what shows on looking.

    `valves`: those that the fault is at; none where nothing is wrong. `shows`: what is seen at a valve.
    """

    condition: Condition
    cause: str | None
    valves: tuple[str, ...]
    shows: dict[str, tuple[str, ...]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Step:
    """One thing the learner did, and what came of it.

    `turn` has `by_deg`; `blade` has `blades_mm` and its answer; `set` has `target_mm`; `instrument` has its
    kind, what it was held to, and its figures; `name` has the cause (empty: nothing wrong) and where.
    `sound`: the noise of the running engine was recorded.
    """

    kind: StepKind
    valve: str = ""
    by_deg: float = 0.0
    blades_mm: tuple[float, ...] = ()
    target_mm: float = 0.0
    instrument: str = ""
    cylinder: int = 0
    oiled: bool = False
    figures: tuple[tuple[str, float], ...] = ()
    cause: str = ""


@dataclass(frozen=True, slots=True)
class Done:
    """A step and what the practice engine answered; `at_rest`: whether its valve's lobe was away."""

    step: Step
    crank_deg: float
    at_rest: bool
    felt: str
    findings: tuple[str, ...] = ()


class Practice:
    """A run under way: the hidden state as the learner's steps have changed it."""

    def __init__(
        self,
        hidden: Hidden,
        seed: int,
        blades_mm: tuple[float, ...],
        steps: Sequence[Step] = (),
        constants: Constants = DEFAULT,
    ) -> None:
        self.hidden = hidden
        self.blades_mm = blades_mm
        self.crank_deg = _begins_at(seed)
        self.clearance_mm = dict(hidden.condition.clearance_mm)
        self.unlocked: set[str] = set()
        self.done: list[Done] = []
        self._seed = seed
        self._constants = constants
        self._times_set: dict[str, int] = {}
        self._habit_mm = float(self._rng(1).normal(0.0, constants.locking_habit_sd_mm))
        for step in steps:
            self.do(step)

    def _rng(self, *key: int) -> np.random.Generator:
        return np.random.default_rng([self._seed, *key])

    @property
    def condition(self) -> Condition:
        """The engine as it truly is now."""
        return replace(self.hidden.condition, clearance_mm=dict(self.clearance_mm))

    def valve(self, name: str) -> Valve:
        """A valve of the engine.

        Raises:
            UnknownValve: it has none of that name.
        """
        return self.hidden.condition.engine.valve(name)

    def at_rest(self, valve: Valve) -> bool:
        """Whether a valve may be measured where the crank stands."""
        condition = self.hidden.condition
        return condition.events[valve.side].at_rest(condition.own_angle_deg(valve, self.crank_deg))

    def _offset_mm(self, valve: Valve) -> float:
        """How far all readings of a valve in one state lie off: where on the lobe, how clean."""
        index = self.hidden.condition.engine.valves.index(valve)
        rng = self._rng(2, index, self._times_set.get(valve.id, 0))
        return float(rng.normal(0.0, self._constants.reading_sd_mm))

    def gap_mm(self, valve: Valve) -> float:
        """The gap that a blade finds where the crank stands, heat and all, mm."""
        condition = self.condition
        heat = correction_at(condition.engine, valve.side, condition.head_c, self._constants)
        return condition.play_mm(valve, self.crank_deg) + heat.correction_mm + self._offset_mm(valve)

    def do(self, step: Step) -> Done:
        """Do one thing.

        Raises:
            ImpossibleValue: the crank would be turned back, or the step cannot be.
            UnknownValve: the engine has no such valve.
        """
        if len(self.done) >= _MOST_STEPS:
            raise ImpossibleValue("steps", len(self.done), f"at most {_MOST_STEPS}")
        rng = self._rng(3, len(self.done))
        felt, at_rest = "", True
        findings: tuple[str, ...] = ()
        if step.valve:
            at_rest = self.at_rest(self.valve(step.valve))
        match step.kind:
            case "turn":
                if not 0.0 < step.by_deg <= _MOST_TURN_DEG:
                    raise ImpossibleValue(
                        "turn",
                        f"{step.by_deg:g} degrees",
                        f"over 0 and at most {_MOST_TURN_DEG:g}: in the direction of rotation only",
                    )
                self.crank_deg += step.by_deg
            case "waggle":
                click = self.condition.has_play(self.valve(step.valve), self.crank_deg)
                felt = "click" if click else "dead"
            case "look":
                findings = self.hidden.shows.get(step.valve, ())
            case "blade":
                felt = self._blade(step, rng)
            case "set":
                self._set(step, rng)
            case "lock":
                self._lock(step, rng)
            case "instrument" | "name" | "sound":
                pass
        one = Done(step, self.crank_deg, at_rest, felt, findings)
        self.done.append(one)
        return one

    def _blade(self, step: Step, rng: np.random.Generator) -> str:
        gap_mm = self.gap_mm(self.valve(step.valve))
        # Each further blade of a stack adds its own scatter.
        extra = self._constants.stack_sd_mm * (len(step.blades_mm) - 1) ** 0.5
        gap_mm += float(rng.normal(0.0, extra)) if extra else 0.0
        return Technician(self.blades_mm, rng).feel(gap_mm, sum(step.blades_mm), "straight")

    def _set(self, step: Step, rng: np.random.Generator) -> None:
        if not 0.0 < step.target_mm <= 2.0:
            raise ImpossibleValue("target", f"{step.target_mm:g} mm", "over 0 and at most 2 mm")
        valve = self.valve(step.valve)
        heat = correction_at(
            self.hidden.condition.engine, valve.side, self.hidden.condition.head_c, self._constants
        )
        # It is set to the blade in the gap, whatever heat or a lobe does to that gap meanwhile.
        lifted = self.condition.cam_lift_mm(valve, self.crank_deg)
        set_mm = step.target_mm + float(rng.normal(0.0, _SETTING_SD_MM))
        # However wrong the place, no adjuster has more thread than this.
        self.clearance_mm[valve.id] = min(set_mm + lifted - heat.correction_mm, _WIDEST_MM)
        self._times_set[valve.id] = self._times_set.get(valve.id, 0) + 1
        self.unlocked.add(valve.id)

    def _lock(self, step: Step, rng: np.random.Generator) -> None:
        valve = self.valve(step.valve)
        if valve.id not in self.unlocked:
            raise ImpossibleValue("lock", valve.id, "a valve that was slackened and adjusted")
        moved = self._habit_mm + float(rng.normal(0.0, self._constants.locking_sd_mm))
        self.clearance_mm[valve.id] += moved
        self.unlocked.discard(valve.id)

    # What the learner knows by his own doing

    def reading(self, valve: str, phase: Phase) -> Reading:
        """The tries at a valve before it was first set, or since it was last locked."""
        tries: list[Try] = []
        was_set = False
        for one in self.done:
            if one.step.valve != valve:
                continue
            if one.step.kind == "set":
                was_set = True
                if phase == "left":
                    tries = []
            elif one.step.kind == "lock":
                tries = tries if phase == "found" else []
            elif one.step.kind == "blade" and was_set == (phase == "left"):
                tries.append(Try(one.step.blades_mm, _felt(one.felt)))
        if phase == "left" and (not was_set or valve in self.unlocked):
            tries = []
        return Reading(valve, phase, tuple(tries))

    def temperature_c(self) -> float | None:
        """The head's temperature as the learner's thermometer showed it last; None: never looked."""
        for one in reversed(self.done):
            if one.step.instrument == "thermometer":
                return dict(one.step.figures).get("head_c")
        return None

    def correction(self, valve: Valve) -> Correction:
        """The correction for the temperature as far as the learner knows it."""
        return correction_at(self.hidden.condition.engine, valve.side, self.temperature_c(), self._constants)

    def spec(self, valve: Valve) -> Spec:
        """The spec of a valve.

        Raises:
            ImpossibleValue: it has none.
        """
        spec = self.hidden.condition.engine.latest_spec_of(valve)
        if spec is None:
            raise ImpossibleValue("spec", "none", f"a spec for valve {valve.id}")
        return spec


def _felt(word: str) -> Literal["no-go", "drag", "free"]:
    return "no-go" if word == "no-go" else "drag" if word == "drag" else "free"


def _begins_at(seed: int) -> float:
    """Where the crank stands when the cover comes off: anywhere, to five degrees."""
    return float(np.random.default_rng([seed, 0]).integers(0, 144) * 5)
