"""The kinds of instruments: what each shows, what it is held to, and how a simulated one is read."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from pronostico.core.simulation.condition import Condition
from pronostico.core.visits import InstrumentKind
from pronostico.instruments import compression, dial, leakdown, reader, thermometer
from pronostico.instruments.compression import CompressionGauge, SimulatedCompressionGauge
from pronostico.instruments.dial import DialIndicator, SimulatedDial
from pronostico.instruments.leakdown import LeakdownTester, SimulatedLeakdownTester
from pronostico.instruments.reader import CodeReader, SimulatedCodeReader
from pronostico.instruments.samples import Channel, Sample
from pronostico.instruments.thermometer import SimulatedThermometer, Thermometer

HeldTo = Literal["valve", "cylinder", "engine"]


@dataclass(frozen=True, slots=True)
class Bench:
    """One instrument of each sort, behind its protocol."""

    dial: DialIndicator
    gauge: CompressionGauge
    tester: LeakdownTester
    reader: CodeReader
    thermometer: Thermometer


def simulated_bench(
    condition: Condition, rng: np.random.Generator, *, crank_deg: float | None = None
) -> Bench:
    """Instruments on an engine that is truly so.

    Args:
        crank_deg: where the crank stands; None: it is brought to where each is used.
    """
    return Bench(
        SimulatedDial(condition, rng),
        SimulatedCompressionGauge(condition, rng),
        SimulatedLeakdownTester(condition, rng, crank_deg=crank_deg),
        SimulatedCodeReader(condition, rng),
        SimulatedThermometer(condition, rng),
    )


@dataclass(frozen=True, slots=True)
class HeldAt:
    """What an instrument is held to; `oiled`: oil was put into the cylinder; `crank_deg`: where it stands."""

    valve: str = ""
    cylinder: int = 1
    oiled: bool = False
    crank_deg: float = 0.0


@dataclass(frozen=True, slots=True)
class Axis:
    """How a trace is drawn: sample columns (0 is the time) and the least extent of each axis."""

    along: int
    up: tuple[int, ...]
    along_to: float
    up_to: float


@dataclass(frozen=True, slots=True)
class KindOfInstrument:
    """One kind: its label, how it is held, what it is held to, its caution, and how it is read and drawn.

    `how_diesel`, `caution_diesel`: the words for an engine without plugs and spark.
    """

    id: InstrumentKind
    label: str
    how: str
    held_to: HeldTo
    caution: str
    channels: Callable[[tuple[int, ...]], tuple[Channel, ...]]
    read: Callable[[Bench, HeldAt], tuple[str, Iterator[Sample]]]
    axis: Axis
    how_diesel: str | None = None
    caution_diesel: str | None = None


KINDS: dict[InstrumentKind, KindOfInstrument] = {
    one.id: one
    for one in (
        KindOfInstrument(
            "dial-clearance",
            "Dial indicator, clearance",
            "Indicator on the valve tip, lobe away; rock the rocker arm and let the needle settle.",
            "valve",
            "Plug lead off, key out: the crank must not turn under your hand.",
            lambda _: dial.CLEARANCE_CHANNELS,
            lambda bench, at: (bench.dial.name, bench.dial.clearance(at.valve, at.crank_deg)),
            Axis(0, (1,), 3.0, 0.4),
            caution_diesel="Stop control at stop, key out: the crank must not turn under your hand.",
        ),
        KindOfInstrument(
            "dial-lift",
            "Dial indicator, lift",
            "Indicator on the valve tip; turn the crank twice, slowly, in the direction of rotation.",
            "valve",
            "Turn by hand with a socket, plugs out; never with the starter.",
            lambda _: dial.LIFT_CHANNELS,
            lambda bench, at: (bench.dial.name, bench.dial.lift(at.valve)),
            Axis(1, (2,), 720.0, 8.0),
            caution_diesel="Turn by hand with a socket, stop control at stop; never with the starter.",
        ),
        KindOfInstrument(
            "compression",
            "Compression gauge",
            "Throttle open, fuel off, plugs out; crank until it stops rising.",
            "cylinder",
            "Fuel line shut or joined up, plug leads earthed: spray and spark light up.",
            lambda _: compression.CHANNELS,
            lambda bench, at: (bench.gauge.name, bench.gauge.strokes(at.cylinder, oiled=at.oiled)),
            Axis(0, (2,), 4.8, 1200.0),
            how_diesel="In the hole of the injector or glow plug; crank until it stops rising.",
            caution_diesel="Stop control at stop, or it fires. Never feel for a leak at an injection line.",
        ),
        KindOfInstrument(
            "leakdown",
            "Leak-down tester",
            "Cylinder at TDC on compression; let the air in and listen where it escapes.",
            "cylinder",
            "Compressed air turns the crank: hands, tools and socket off it first.",
            lambda _: leakdown.CHANNELS,
            lambda bench, at: (bench.tester.name, bench.tester.hold(at.cylinder)),
            Axis(0, (1,), 4.0, 100.0),
        ),
        KindOfInstrument(
            "reader",
            "Code reader",
            "Plugged in, the engine idling and warm; watch for twenty seconds.",
            "engine",
            "Exhaust gas kills: outdoors or with extraction, clear of belts and fans.",
            reader.channels_of,
            lambda bench, _: (bench.reader.name, bench.reader.stream()),
            Axis(0, (1,), 20.0, 1000.0),
        ),
        KindOfInstrument(
            "thermometer",
            "Thermometer",
            "Held to the head by the plug, then into the air beside it.",
            "engine",
            "Hot parts burn: touch nothing that you have not measured.",
            lambda _: thermometer.CHANNELS,
            lambda bench, _: (bench.thermometer.name, bench.thermometer.settle()),
            Axis(0, (1, 2), 5.0, 40.0),
            how_diesel="Held to the head by an injector, then into the air beside it.",
        ),
    )
}


def channels_of(kind: InstrumentKind, cylinders: tuple[int, ...]) -> tuple[Channel, ...]:
    """The channels of a kind on an engine with those cylinders."""
    return KINDS[kind].channels(cylinders)


def read(bench: Bench, kind: InstrumentKind, at: HeldAt) -> tuple[str, Iterator[Sample]]:
    """The name of the instrument, and its samples as they come."""
    return KINDS[kind].read(bench, at)
