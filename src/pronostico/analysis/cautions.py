"""The cautions that fit an engine, step by step."""

from dataclasses import dataclass

from pronostico.knowledge import load_cautions
from pronostico.record.engine import EngineModel


@dataclass(frozen=True, slots=True)
class ApplyingCaution:
    """One line of caution at a step of the visit."""

    step: str
    text: str


def cautions_for(engine: EngineModel) -> tuple[ApplyingCaution, ...]:
    """The cautions that fit an engine."""
    return tuple(
        ApplyingCaution(one.step, one.text)
        for one in load_cautions()
        if one.applies(fuel=engine.fuel, adjustment=engine.adjustment)
    )
