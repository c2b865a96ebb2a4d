"""Firing orders that are usual, offered while an engine is described."""

from functools import cache
from math import isclose
from typing import Literal

from pydantic import model_validator

from pronostico.core.units import CYCLE_DEG
from pronostico.knowledge.entries import Entry, parse_file, shipped_text


class FiringOrder(Entry):
    """An order, with its intervals in degrees where they are uneven and its banks where it has two."""

    layout: Literal["in-line", "v", "flat"]
    firing_order: tuple[int, ...]
    intervals_deg: tuple[float, ...] | None = None
    banks: tuple[tuple[int, ...], ...] | None = None
    note: str | None = None

    @model_validator(mode="after")
    def _is_whole(self) -> "FiringOrder":
        cylinders = list(range(1, len(self.firing_order) + 1))
        if sorted(self.firing_order) != cylinders:
            raise ValueError(f"{self.firing_order} must name each cylinder once")
        if self.banks is not None and sorted(one for bank in self.banks for one in bank) != cylinders:
            raise ValueError(f"{self.banks} must hold each cylinder once")
        angles = self.intervals_deg
        if angles is not None and (
            len(angles) != len(cylinders) or not isclose(sum(angles), CYCLE_DEG, abs_tol=0.5)
        ):
            raise ValueError(f"{angles} must be one angle a cylinder, 720 together")
        return self


class _File(Entry):
    order: tuple[FiringOrder, ...]


@cache
def load_firing_orders() -> tuple[FiringOrder, ...]:
    """The orders that ship with the application."""
    return parse_file("firing_orders.toml", shipped_text("firing_orders.toml"), _File).order
