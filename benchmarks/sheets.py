"""How long a spreadsheet of readings takes to be looked at."""

from collections.abc import Iterator
from datetime import date, timedelta

from benchmarks.timing import best_ms
from pronostico.demo.machine import engine_of
from pronostico.services.exchange.spreadsheet.understood import Choices, understand

ROWS = 10_000


def figures() -> Iterator[tuple[str, float]]:
    """What is timed, and its best time in ms."""
    engine = engine_of("R4-26G", "bench", "Bench")
    valves, first = [valve.id for valve in engine.valves], date(2000, 1, 1)
    lines = ["valve,date,hours,went,did not go,felt"]
    for number in range(ROWS):
        visit = number // len(valves)
        day, gap = first + timedelta(days=visit), 0.10 + (number % 25) / 100.0
        lines.append(f"{valves[number % len(valves)]},{day},{visit},{gap:.2f},{gap + 0.03:.2f},drag")
    content = "\n".join(lines).encode()
    yield (
        f"a spreadsheet of {ROWS} rows understood",
        best_ms(lambda: understand(content, engine, Choices(), today=date(2026, 1, 1)), repeats=3),
    )
