"""Closing up and proving: what is ticked off, what is compared, what to look at if it is not gone."""

from typing import Literal

from pydantic import Field

from pronostico.core.engine import Adjustment
from pronostico.core.errors import KnowledgeFault
from pronostico.core.visits import Work
from pronostico.knowledge.entries import Entry, parse_file

Stage = Literal["close", "prove"]


class ClosingItem(Entry):
    """One thing to tick off; without adjustments, fuels or works it applies to every engine and visit."""

    id: str
    stage: Stage
    text: str
    parts: tuple[str, ...] = ()
    adjustments: tuple[Adjustment, ...] = ()
    fuels: tuple[str, ...] = ()
    works: tuple[Work, ...] = ()

    def applies(self, *, adjustment: Adjustment, fuel: str | None, work: Work) -> bool:
        """Whether it is to be ticked off at a visit; one of a fuel that is not known is."""
        return (
            (not self.adjustments or adjustment in self.adjustments)
            and (not self.fuels or fuel is None or fuel.strip().lower() in self.fuels)
            and (not self.works or work in self.works)
        )


class NextLook(Entry):
    """What to look at where a complaint is not gone."""

    complaints: tuple[str, ...] = Field(min_length=1)
    text: str


class VerificationFigure(Entry):
    """A figure taken before and after, and between which values it can lie."""

    id: str
    label: str
    unit: str
    min: float
    max: float


class Closing(Entry):
    """The whole file."""

    item: tuple[ClosingItem, ...]
    next: tuple[NextLook, ...]
    figure: tuple[VerificationFigure, ...]

    def next_for(self, complaint: str) -> str:
        """What to look at where a complaint is not gone."""
        return next(one.text for one in self.next if complaint in one.complaints)


def parse_closing(text: str, complaints: frozenset[str]) -> Closing:
    """A closing file.

    Raises:
        KnowledgeFault: an id stands twice, or a complaint has no next check, or one that there is not has.
    """
    closing = parse_file("closing.toml", text, Closing)
    ids = [item.id for item in closing.item] + [figure.id for figure in closing.figure]
    twice = sorted({one for one in ids if ids.count(one) > 1})
    if twice:
        raise KnowledgeFault(f"closing.toml: {twice[0]} is listed twice")
    named = {one for entry in closing.next for one in entry.complaints}
    for one in sorted(named ^ complaints):
        raise KnowledgeFault(
            f"closing.toml: there is no complaint {one}"
            if one in named
            else f"closing.toml: there is no advice for {one} that is not gone"
        )
    return closing
