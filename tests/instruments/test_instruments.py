"""Instruments: what they show follows the engine, what goes wrong is told, a file comes back as it went."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.crank.events import DEFAULT_EVENTS, Firing
from pronostico.core.simulation.condition import sound
from pronostico.instruments.figures import figures_of
from pronostico.instruments.kinds import KINDS, HeldAt, channels_of, read, simulated_bench
from pronostico.instruments.replay import NotATrace, read_trace, trace_text
from pronostico.instruments.samples import InstrumentLost, Sample, Trouble, troubled
from tests.builders import engine

CYLINDERS = (1, 2, 3, 4)
HELD = HeldAt(valve="2E", cylinder=2, crank_deg=540.0)


def condition(**changes):
    made = sound(engine(4), Firing.from_order([1, 3, 4, 2]), DEFAULT_EVENTS)
    return replace(made, head_c=31.0, air_c=12.0, **changes)


def trace(kind, of=None, seed=1, held=HELD):
    bench = simulated_bench(of or condition(), np.random.default_rng(seed))
    name, samples = read(bench, kind, held)
    assert name.startswith("simulated")
    return list(samples)


def figures(kind, samples):
    return figures_of(kind, channels_of(kind, CYLINDERS), samples)


@pytest.mark.parametrize("kind", KINDS)
def test_a_whole_trace_has_its_channels_goes_on_in_time_and_is_enough(kind):
    samples = trace(kind)
    assert all(len(one.values) == len(channels_of(kind, CYLINDERS)) for one in samples)
    assert [one.at_s for one in samples] == sorted({one.at_s for one in samples})
    assert figures(kind, samples).incomplete is None


def test_the_figures_are_those_of_the_engine():
    held_open = condition(clearance_mm={**condition().clearance_mm, "2E": -0.06}, trim_percent=-12.0)
    told = figures("compression", trace("compression", held_open)).values["pressure_kpa"]
    assert told == pytest.approx(held_open.compression_kpa(2), rel=0.04)
    lost = figures("leakdown", trace("leakdown", held_open)).values["lost_percent"]
    assert lost == pytest.approx(held_open.leak_percent(2), abs=3.0)
    reader = figures("reader", trace("reader", held_open)).values
    assert reader["misfires_2"] > 10 > reader["misfires_1"] and reader["trim_long_percent"] < -8
    # At 540 degrees cylinder 2, the last to fire, is at top on compression.
    play = figures("dial-clearance", trace("dial-clearance")).values["clearance_mm"]
    assert play == pytest.approx(0.275, abs=0.02)
    assert figures("thermometer", trace("thermometer")).values == {
        "head_c": pytest.approx(31.0, abs=1.0),
        "air_c": pytest.approx(12.0, abs=1.0),
    }


def test_on_the_wrong_stroke_the_dial_and_the_tester_show_it():
    wrong = HeldAt(valve="2E", cylinder=2, crank_deg=180.0)
    assert figures("dial-clearance", trace("dial-clearance", held=wrong)).values["clearance_mm"] < 0.05
    bench = simulated_bench(condition(), np.random.default_rng(1), crank_deg=180.0)
    assert figures("leakdown", list(bench.tester.hold(2))).values["lost_percent"] > 80
    assert set(bench.tester.heard(2)) & {"intake", "exhaust"}


@pytest.mark.parametrize("kind", KINDS)
def test_what_stops_half_way_is_kept_and_uncertain(kind):
    samples = trace(kind)[:4]
    told = figures(kind, samples)
    assert told.incomplete is not None and told.values


def test_a_lost_instrument_a_lead_off_and_drops_are_each_reported():
    whole = trace("compression")
    came = []
    with pytest.raises(InstrumentLost, match=r"since 1\.5 s"):
        for one in troubled(whole, Trouble(lost_after_s=1.5), np.random.default_rng(1)):
            came.append(one)
    assert came == [one for one in whole if one.at_s < 1.5]
    silent = list(troubled(whole, Trouble(lead_off=True), np.random.default_rng(1)))
    assert "is the lead connected" in figures("compression", silent).incomplete
    dropped = list(troubled(whole, Trouble(dropped=0.2), np.random.default_rng(1)))
    assert 0.6 < len(dropped) / len(whole) < 0.95
    assert figures("compression", dropped).values["pressure_kpa"] == pytest.approx(1100, rel=0.05)


values = st.none() | st.floats(-1e5, 1e5)


@given(st.lists(st.tuples(st.floats(0, 1e4), values, values), max_size=30))
def test_a_recorded_trace_comes_back_as_it_was(rows):
    channels = channels_of("thermometer", ())
    samples = tuple(Sample(at, (a, b)) for at, a, b in sorted(rows, key=lambda row: row[0]))
    again = read_trace(trace_text(channels, samples).encode(), channels)
    assert again.samples == samples and again.stopped is None


def test_a_file_that_stops_half_way_is_read_as_far_as_it_goes():
    channels = channels_of("compression", ())
    text = trace_text(channels, trace("compression"))
    cut = text[: text.index("\n", 400) + 6]
    recorded = read_trace(cut.encode(), channels)
    line = cut.count("\n") + 1
    assert recorded.stopped == f"the file stops in the middle of line {line}"
    assert len(recorded.samples) == line - 2


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "is empty"),
        (b"\xff\xfe", "not UTF-8"),
        (b"at_s,stroke\n0,1\n", "no column pressure_kpa"),
        (b"at_s,stroke,pressure_kpa\n0,1,lots\n", "line 2, pressure_kpa: 'lots' is not a number"),
        (b"at_s,stroke,pressure_kpa\n0,1,inf\n", "not a finite number"),
        (b"at_s,stroke,pressure_kpa\n1,1,5\n0,1,5\n", "never go back"),
    ],
)
def test_a_file_that_is_no_trace_says_what_and_where(content, said):
    with pytest.raises(NotATrace, match=said):
        read_trace(content, channels_of("compression", ()))
