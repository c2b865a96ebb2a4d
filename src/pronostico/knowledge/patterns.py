"""Made-up patterns of engines to begin the guided form with."""

from functools import cache
from typing import Literal

from pydantic import JsonValue

from pronostico.core.head import valves_of_head
from pronostico.knowledge.entries import Entry, parse_file, shipped_text


class PatternHead(Entry):
    """How the valves stand: see `core.head`."""

    kind: Literal["in-line", "v", "flat"]
    cylinders: int
    intakes: int
    exhausts: int
    banks: tuple[tuple[int, ...], ...] | None = None
    along: tuple[str, ...] | None = None


class Pattern(Entry):
    """A pattern: the record's fields of an engine without its id, and how its valves stand."""

    id: str
    label: str
    head: PatternHead
    engine: dict[str, JsonValue]

    def document(self) -> dict[str, JsonValue]:
        """The engine as the record writes it, under the pattern's id."""
        banks = self.head.banks or (tuple(range(1, self.head.cylinders + 1)),)
        placed = valves_of_head(
            banks, intakes=self.head.intakes, exhausts=self.head.exhausts, along=self.head.along
        )
        valves: list[JsonValue] = [
            {"id": one.id, "cylinder": one.cylinder, "side": one.side, "place": one.place} for one in placed
        ]
        return {**self.engine, "id": self.id, "valves": valves}


class _File(Entry):
    pattern: tuple[Pattern, ...]


@cache
def load_patterns() -> tuple[Pattern, ...]:
    """The patterns that ship with the application."""
    return parse_file("patterns.toml", shipped_text("patterns.toml"), _File).pattern
