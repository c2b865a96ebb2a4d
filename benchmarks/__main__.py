"""Prints every figure, and what it is in yardsticks of the same run: the machine is shared and noisy."""

from rich.console import Console
from rich.table import Table

from benchmarks import computation, page
from benchmarks.timing import yardstick_ms


def main() -> None:
    """Measure and print."""
    yardstick = yardstick_ms()
    table = Table(title=f"yardstick: 100,000 values of the normal distribution, {yardstick:.2f} ms")
    table.add_column("what")
    table.add_column("ms", justify="right")
    table.add_column("yardsticks", justify="right")
    for family in (computation, page):
        for what, ms in family.figures():
            table.add_row(what, f"{ms:.2f}", f"{ms / yardstick:.2f}")
    Console(width=110).print(table)


if __name__ == "__main__":
    main()
