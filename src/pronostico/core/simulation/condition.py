"""The true state of a made-up engine, and what follows from it: gaps, leaks, pressures, lifts. F-22 to F-24.

It stands behind simulated instruments and the practice engine: what a technician would find, if the engine
really were so. The constants are plausible, not any maker's.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import pi, sin

from pronostico.core.crank.events import Events, Firing
from pronostico.core.cylinder import at_altitude
from pronostico.core.engine import Engine, Side, Valve
from pronostico.core.units import CYCLE_DEG, cycle_angle_deg

LeakPath = str
"""Where air goes: intake, exhaust or crankcase."""

SOUND_RING_LEAK_MM2 = 0.25
LIFT_MM = 8.0
SOUND_KPA = 1100.0
# The orifice of a leak-down tester: one millimetre across.
_TESTER_MM2 = pi / 4.0
# A valve held off its seat leaks by so much for each mm that it stands open.
_LEAK_PER_MM = 20.0
# How much of its pressure a cylinder loses to a leak, for each mm2 of it.
_LOSS_PER_MM2 = 0.35
# Oil on the rings closes most of what they let by.
_OIL_LEAVES = 0.2
_HEARD_FROM_MM2 = 0.35
_PRESSED_MM = 0.02


@dataclass(frozen=True, slots=True)
class Condition:
    """An engine as it truly is.

    Lengths in mm, areas in mm2. `clearance_mm` of every valve at the reference temperature (below zero: held
    off its seat). `swing_mm`: how much more a valve shows every other turn of its cam (a bent rod).
    `lift_lost`: share of the lobe's lift that is gone. `face_leak_mm2`: what a valve leaks though it is let
    seat. `trim_percent`: how far the mixture control is off by itself.
    """

    engine: Engine
    firing: Firing
    events: Mapping[Side, Events]
    clearance_mm: Mapping[str, float]
    swing_mm: Mapping[str, float] = field(default_factory=dict)
    lift_lost: Mapping[str, float] = field(default_factory=dict)
    face_leak_mm2: Mapping[str, float] = field(default_factory=dict)
    ring_leak_mm2: Mapping[int, float] = field(default_factory=dict)
    sound_kpa: float = SOUND_KPA
    altitude_m: float = 0.0
    trim_percent: float = 0.0
    head_c: float = 20.0
    air_c: float = 20.0

    def own_angle_deg(self, valve: Valve, crank_deg: float) -> float:
        """The angle of a valve's cylinder, 0 at top on compression, for any number of turns of the crank."""
        return cycle_angle_deg(crank_deg - self.firing.angle_deg[valve.cylinder])

    def cam_lift_mm(self, valve: Valve, crank_deg: float) -> float:
        """How far the lobe would lift the valve without clearance, mm: a sine squared over its open span.

        F-24.
        """
        events = self.events[valve.side]
        into = cycle_angle_deg(self.own_angle_deg(valve, crank_deg) - events.opens_deg)
        if into >= events.open_for_deg:
            return 0.0
        lift = LIFT_MM * (1.0 - self.lift_lost.get(valve.id, 0.0))
        return float(lift * sin(pi * into / events.open_for_deg) ** 2)

    def play_mm(self, valve: Valve, crank_deg: float) -> float:
        """The gap that is there at a crank angle, mm; below zero the train is pressed together.

        Args:
            crank_deg: counted on over all turns, so that a bent rod shows one way and then the other.
        """
        turn = int(crank_deg // CYCLE_DEG)
        swing = self.swing_mm.get(valve.id, 0.0) * (0.5 if turn % 2 else -0.5)
        return self.clearance_mm[valve.id] + swing - self.cam_lift_mm(valve, crank_deg)

    def has_play(self, valve: Valve, crank_deg: float) -> bool:
        """Whether a waggle of the rocker finds a click at a crank angle."""
        return self.play_mm(valve, crank_deg) > _PRESSED_MM

    def valve_lift_mm(self, valve: Valve, crank_deg: float) -> float:
        """How far the valve stands open at a crank angle, mm."""
        return max(0.0, -self.play_mm(valve, crank_deg))

    def leaks_mm2(
        self, cylinder: int, *, oiled: bool = False, crank_deg: float | None = None
    ) -> dict[LeakPath, float]:
        """What a cylinder leaks by each way, mm2.

        Args:
            crank_deg: where the crank stands; None: every lobe away, as at top on compression.
        """
        rings = self.ring_leak_mm2.get(cylinder, SOUND_RING_LEAK_MM2)
        leaks = {"crankcase": rings * (_OIL_LEAVES if oiled else 1.0), "intake": 0.0, "exhaust": 0.0}
        for valve in self.engine.valves:
            if valve.cylinder != cylinder:
                continue
            lift = max(0.0, -self.clearance_mm[valve.id])
            if crank_deg is not None:
                lift = max(lift, self.valve_lift_mm(valve, crank_deg))
            leaks[valve.side] += _LEAK_PER_MM * lift + self.face_leak_mm2.get(valve.id, 0.0)
        return leaks

    def compression_kpa(self, cylinder: int, *, oiled: bool = False) -> float:
        """What a gauge shows once the pressure no longer rises, kPa gauge.

        The share of a sound cylinder's pressure that is left falls with the leak's area: F-23.
        """
        area = sum(self.leaks_mm2(cylinder, oiled=oiled).values())
        sound = 1.0 + _LOSS_PER_MM2 * SOUND_RING_LEAK_MM2
        return at_altitude(self.sound_kpa * sound / (1.0 + _LOSS_PER_MM2 * area), self.altitude_m)

    def leak_percent(self, cylinder: int, *, crank_deg: float | None = None) -> float:
        """What a leak-down tester shows, per cent of the test air.

        Two orifices in series, the tester's and the leak: of the pressure before the first the share
        A^2 / (A^2 + T^2) falls at it, F-22.

        >>> round(100.0 * 0.25**2 / (0.25**2 + (3.14159 / 4) ** 2))
        9
        """
        area = sum(self.leaks_mm2(cylinder, crank_deg=crank_deg).values())
        return 100.0 * area**2 / (area**2 + _TESTER_MM2**2)

    def heard(self, cylinder: int, *, crank_deg: float | None = None) -> tuple[LeakPath, ...]:
        """Where the air of a leak-down test is heard."""
        leaks = self.leaks_mm2(cylinder, crank_deg=crank_deg)
        return tuple(path for path, area in leaks.items() if area >= _HEARD_FROM_MM2)

    def misfire_share(self, cylinder: int) -> float:
        """Share of the firings at idle that miss: a weak cylinder misses, a sound one hardly ever."""
        left = self.compression_kpa(cylinder) / at_altitude(self.sound_kpa, self.altitude_m)
        lift_lost = max(
            (self.lift_lost.get(one.id, 0.0) for one in self.engine.valves if one.cylinder == cylinder),
            default=0.0,
        )
        return min(0.9, max(0.0, 1.2 * (0.88 - left)) + 0.25 * lift_lost + 0.0005)


def sound(engine: Engine, firing: Firing, events: Mapping[Side, Events]) -> Condition:
    """An engine with nothing wrong: every clearance at the middle of its spec."""
    middles = {}
    for valve in engine.valves:
        spec = engine.latest_spec_of(valve)
        middles[valve.id] = 0.0 if spec is None else spec.middle_mm
    return Condition(engine, firing, events, middles)
