"""Figures imported tests, and from which limit on each is a finding; read from their file."""

from collections.abc import Iterable
from functools import cache
from typing import Literal

from pydantic import Field, model_validator

from pronostico.core.errors import KnowledgeFault
from pronostico.knowledge.entries import Entry, parse_file, shipped_text
from pronostico.knowledge.in_use import load_knowledge


class Limit(Entry):
    """A figure below or above it is a finding; `spread`: how far one such reading lies off by itself."""

    finding: str
    below: float | None = None
    above: float | None = None
    spread: float = Field(gt=0)
    why: str = Field(min_length=1)

    @model_validator(mode="after")
    def _one_side(self) -> "Limit":
        if (self.below is None) == (self.above is None):
            raise ValueError("must have one of below and above")
        return self


class TestFigure(Entry):
    """A figure: its bounds, its unit, and its limits."""

    __test__ = False  # to pytest this is no test

    id: str
    label: str
    unit: str
    min: float
    max: float
    per: Literal["engine", "cylinder"] = "engine"
    falls_with_altitude: bool = False
    limit: tuple[Limit, ...]


class _File(Entry):
    figure: tuple[TestFigure, ...]


def parse_figures(text: str, findings: Iterable[str]) -> dict[str, TestFigure]:
    """The figures of a file, by id.

    Raises:
        KnowledgeFault: it is not TOML, or a figure is listed twice or names a finding that there is not.
    """
    known, figures = frozenset(findings), parse_file("figures.toml", text, _File).figure
    by_id = {one.id: one for one in figures}
    if len(by_id) < len(figures):
        raise KnowledgeFault("figures.toml: a figure is listed twice")
    for figure in figures:
        for limit in figure.limit:
            if limit.finding not in known:
                raise KnowledgeFault(f"figures.toml: {figure.id}: there is no finding {limit.finding}")
    return by_id


@cache
def load_figures() -> dict[str, TestFigure]:
    """The figures that ship with the application."""
    return parse_figures(shipped_text("figures.toml"), load_knowledge().findings)
