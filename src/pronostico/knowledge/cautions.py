"""What can hurt someone: one line at the step, for the engines that it applies to."""

from functools import cache
from typing import Literal

from pronostico.core.engine import Adjustment
from pronostico.knowledge.entries import Entry, parse_file, shipped_text

Step = Literal["prepare", "inspect", "tests", "sound", "position", "measure", "adjust", "verify"]


class Caution(Entry):
    """One caution; without fuels or adjustments it applies to every engine, but not with `not_fuels`."""

    step: Step
    text: str
    fuels: tuple[str, ...] = ()
    not_fuels: tuple[str, ...] = ()
    adjustments: tuple[Adjustment, ...] = ()

    def applies(self, *, fuel: str | None, adjustment: Adjustment) -> bool:
        """Whether it applies to an engine; one whose fuel is not known is warned of every fuel."""
        burns = None if fuel is None else fuel.strip().lower()
        of_fuel = not self.fuels or burns is None or burns in self.fuels
        return (
            of_fuel
            and burns not in self.not_fuels
            and (not self.adjustments or adjustment in self.adjustments)
        )


class _File(Entry):
    caution: tuple[Caution, ...]


@cache
def load_cautions() -> tuple[Caution, ...]:
    """The cautions that ship with the application, in their order."""
    return parse_file("cautions.toml", shipped_text("cautions.toml"), _File).caution
