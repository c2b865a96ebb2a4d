"""Prints every figure, and what it is in yardsticks of the same run: the machine is shared and noisy."""

import numpy as np
from rich.console import Console
from rich.table import Table

from benchmarks import (
    calibration,
    causes,
    computation,
    drawn,
    faults,
    locking,
    page,
    practice,
    sampling,
    settling,
    sheets,
    technicians,
    voice,
    workshop,
)
from benchmarks.timing import yardstick_ms


def _speed() -> Table:
    yardstick = yardstick_ms()
    table = Table(title=f"yardstick: 100,000 values of the normal distribution, {yardstick:.2f} ms")
    table.add_column("what")
    table.add_column("ms", justify="right")
    table.add_column("yardsticks", justify="right")
    for family in (computation, page, sheets):
        for what, ms in family.figures():
            table.add_row(what, f"{ms:.2f}", f"{ms / yardstick:.2f}")
    return table


def _technicians() -> Table:
    table = Table(title="measuring by advice, and by walking the set until bracketed")
    for heading in ("set", "way", "verdict given", "right where given", "tries a valve"):
        table.add_column(heading)
    practised = dict(practice.rows())
    for name, advice, ladder in technicians.rows():
        ways = (("advice", advice), ("ladder", ladder), ("advice, practice engine", practised[name]))
        for way, tally in ways:
            table.add_row(
                name,
                way,
                f"{tally.given / tally.valves:.1%}",
                f"{tally.right / tally.given:.1%}",
                f"{tally.tries / tally.valves:.2f}",
            )
    return table


def _locking() -> Table:
    table = Table(title="set as advised, locked, tried again: in two lock-ups or fewer")
    for heading in ("scatter of locking, mm", "allowance", "in spec", "lock-ups a valve"):
        table.add_column(heading)
    for scatter, learning, share, used in locking.rows():
        way = "learned" if learning else "of one valve alone"
        table.add_row(f"{scatter:.3f}", way, f"{share:.1%}", f"{used:.2f}")
    return table


def _calibration() -> Table:
    table = Table(title=f"the next check predicted, {calibration.ENGINES} simulated engines of eight valves")
    for heading in ("way", "50 % holds", "90 % holds", "Brier score of 'will be tight'"):
        table.add_column(heading)
    study = calibration.study()
    ways = (
        ("drift model", study.model),
        ("straight line", study.line),
        ("drift model, engines drawn from it", drawn.study()),
    )
    for way, tally in ways:
        table.add_row(way, f"{tally.in_half:.1%}", f"{tally.in_most:.1%}", f"{tally.brier:.3f}")
    calls = ", ".join(f"{one:.0%}" for one in study.called)
    table.caption = (
        f"sinking seats (0.02 mm an interval) called tightening by visit 3, 4, 5: {calls}; steady valves "
        f"called moving: {study.false_calls:.1%}; broken without a jump: {study.false_change_points:.2%}"
    )
    return table


def _causes() -> Table:
    named, ahead = causes.named(), causes.predicted()
    table = Table(title=f"causes: {causes.CASES} cases drawn from the network, eight valves")
    for heading in (
        "right first",
        "among three",
        "first by counting",
        "Brier",
        "tests by advice",
        "in order",
        "minutes by advice",
        "in order",
    ):
        table.add_column(heading)
    table.add_row(
        f"{named.first:.0%}",
        f"{named.among_three:.0%}",
        f"{named.counted_first:.0%}",
        f"{named.brier:.2f}",
        f"{named.by_advice.tests:.1f}",
        f"{named.in_order.tests:.1f}",
        f"{named.by_advice.minutes:.0f}",
        f"{named.in_order.minutes:.0f}",
    )
    table.caption = (
        f"of {causes.ENGINES} sound engines {ahead.named_sound:.0%} named a fault, {ahead.likely_sound:.0%} "
        f"at over one in two; of as many with seats sinking a quarter of the spec an interval "
        f"{ahead.called_sinking:.0%} called by the third visit"
    )
    return table


def _faults() -> Table:
    found = faults.study()
    table = Table(
        title=f"causes of simulated faults, {faults.EACH} engines each: right first {found.share(1):.0%}, "
        f"among three {found.share(3):.0%}, Brier {found.brier:.2f}"
    )
    for heading in ("probability given", "how many", "on average", "was so"):
        table.add_column(heading)
    for band, count, given, true in found.reliability():
        table.add_row(band, str(count), f"{given:.1%}", f"{true:.1%}")
    firsts = (f"{name} {np.mean([rank < 1 for rank in ranks]):.0%}" for name, ranks in found.ranks.items())
    table.caption = "right first: " + ", ".join(firsts)
    return table


def _workshop() -> Table:
    found = workshop.figures()
    table = Table(
        title=f"a workshop of {found.engines} engines, {workshop.VALVES} valves, {workshop.VISITS} visits"
    )
    for heading in ("computed from nothing", "answer", "95 %", "after a change", "95 %", "of", "server"):
        table.add_column(heading)
    table.add_row(
        f"{found.computing_s:.0f} s by two processes",
        f"{found.median_ms:.0f} ms",
        f"{found.p95_ms:.0f} ms",
        f"{found.changed_median_ms:.0f} ms",
        f"{found.changed_p95_ms:.0f} ms",
        f"{found.answer_kb:.0f} kB",
        f"{found.memory_mb:.0f} MB",
    )
    table.caption = (
        f"saved as one file in {found.saving_s:.0f} s, imported elsewhere in {found.taking_in_s:.0f} s"
    )
    return table


def _sampling() -> Table:
    found = sampling.compared()
    table = Table(title=f"the drift of 4 valves at 8 visits: the model takes {found.model_ms:.0f} ms")
    for heading in ("a sampler", "to 0.0002 mm", "effective draws a second", "apart after 15 s", "slower"):
        table.add_column(heading)
    for what, one in (("elliptical slices", found.slices), ("Gibbs, felt gaps drawn", found.gibbs)):
        table.add_row(
            what,
            f"{one.needs_s:.0f} s",
            f"{one.effective_per_s:.1f}",
            f"{one.apart_mm:.4f} mm",
            f"{found.times_faster(one):.0f} times",
        )
    return table


def _settling() -> Table:
    table = Table(title="the drift of engines that make no sense")
    table.add_column("what")
    table.add_column("how many", justify="right")
    for what, found in settling.table_rows():
        table.add_row(what, found)
    return table


def main() -> None:
    """Measure and print."""
    console = Console(width=110)
    console.print(_speed())
    console.print(_technicians())
    console.print(_locking())
    console.print(_calibration())
    console.print(_causes())
    console.print(_faults())
    console.print(_settling())
    console.print(_sampling())
    console.print(_workshop())
    for line in voice.lines():
        console.print(line, highlight=False)


if __name__ == "__main__":
    main()
