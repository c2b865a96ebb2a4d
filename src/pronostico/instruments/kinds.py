"""The kinds of instruments: what each shows, what it is held to, and how a simulated one is read."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from pronostico.core.simulation.condition import Condition
from pronostico.instruments import compression, dial, leakdown, reader, thermometer
from pronostico.instruments.compression import CompressionGauge, SimulatedCompressionGauge
from pronostico.instruments.dial import DialIndicator, SimulatedDial
from pronostico.instruments.leakdown import LeakdownTester, SimulatedLeakdownTester
from pronostico.instruments.reader import CodeReader, SimulatedCodeReader
from pronostico.instruments.samples import Channel, Sample
from pronostico.instruments.thermometer import SimulatedThermometer, Thermometer

Kind = Literal["dial-clearance", "dial-lift", "compression", "leakdown", "reader", "thermometer"]
HeldTo = Literal["valve", "cylinder", "engine"]


@dataclass(frozen=True, slots=True)
class KindOfInstrument:
    """One kind: its label, how it is held, what it is held to, and the caution that goes with it.

    `how_diesel`, `caution_diesel`: where an engine without plugs and spark has other words.
    """

    id: Kind
    label: str
    how: str
    held_to: HeldTo
    caution: str
    how_diesel: str | None = None
    caution_diesel: str | None = None


KINDS: dict[Kind, KindOfInstrument] = {
    one.id: one
    for one in (
        KindOfInstrument(
            "dial-clearance",
            "Dial indicator, clearance",
            "Foot on the valve's tip, lobe away; rock the rocker and let the needle settle.",
            "valve",
            "Plug lead off, key out: the crank must not turn under your hand.",
            caution_diesel="Stop control at stop, key out: the crank must not turn under your hand.",
        ),
        KindOfInstrument(
            "dial-lift",
            "Dial indicator, lift",
            "Foot on the valve's tip; turn the crank twice, slowly, the running way only.",
            "valve",
            "Turn by hand with a socket, plugs out; never with the starter.",
            caution_diesel="Turn by hand with a socket, stop control at stop; never with the starter.",
        ),
        KindOfInstrument(
            "compression",
            "Compression gauge",
            "Throttle open, fuel off, plugs out; crank until it rises no more.",
            "cylinder",
            "Fuel line shut or joined up, plug leads earthed: spray and spark light up.",
            how_diesel="In the hole of the injector or glow plug; crank until it rises no more.",
            caution_diesel="Stop control at stop, or it fires. Never feel for a leak at an injection line.",
        ),
        KindOfInstrument(
            "leakdown",
            "Leak-down tester",
            "The cylinder at top on compression; let the air in and listen where it goes.",
            "cylinder",
            "Compressed air turns the crank: hands, tools and socket off it first.",
        ),
        KindOfInstrument(
            "reader",
            "Code reader",
            "Plugged in, the engine idling and warm; watch for twenty seconds.",
            "engine",
            "Exhaust gas kills: outdoors or with extraction, clear of belts and fans.",
        ),
        KindOfInstrument(
            "thermometer",
            "Thermometer",
            "Held to the head by the plug, then into the air beside it.",
            "engine",
            "Hot parts burn: touch nothing that you have not measured.",
            how_diesel="Held to the head by an injector, then into the air beside it.",
        ),
    )
}


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


def channels_of(kind: Kind, cylinders: tuple[int, ...]) -> tuple[Channel, ...]:
    """The channels of a kind on an engine with those cylinders."""
    match kind:
        case "dial-clearance":
            return dial.CLEARANCE_CHANNELS
        case "dial-lift":
            return dial.LIFT_CHANNELS
        case "compression":
            return compression.CHANNELS
        case "leakdown":
            return leakdown.CHANNELS
        case "reader":
            return reader.channels_of(cylinders)
        case "thermometer":
            return thermometer.CHANNELS


def read(bench: Bench, kind: Kind, at: HeldAt) -> tuple[str, Iterator[Sample]]:
    """The name of the instrument, and its samples as they come."""
    match kind:
        case "dial-clearance":
            return bench.dial.name, bench.dial.clearance(at.valve, at.crank_deg)
        case "dial-lift":
            return bench.dial.name, bench.dial.lift(at.valve)
        case "compression":
            return bench.gauge.name, bench.gauge.strokes(at.cylinder, oiled=at.oiled)
        case "leakdown":
            return bench.tester.name, bench.tester.hold(at.cylinder)
        case "reader":
            return bench.reader.name, bench.reader.stream()
        case "thermometer":
            return bench.thermometer.name, bench.thermometer.settle()
