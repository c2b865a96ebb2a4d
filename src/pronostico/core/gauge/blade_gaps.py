"""Where a set of blades leaves a gap about a spec, and which stacks of two fill it."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Spec
from pronostico.core.gauge.advice import available_stacks

Stack = tuple[float, ...]


@dataclass(frozen=True, slots=True)
class BladeGap:
    """A step between neighbouring blades that is too wide; `stacks` fall within it, the best first, mm."""

    from_mm: float
    to_mm: float
    stacks: tuple[Stack, ...]


def _fillers(
    pairs: Sequence[tuple[float, ...]], from_mm: float, to_mm: float, constants: Constants
) -> tuple[tuple[float, ...], ...]:
    """The stacks of two whose thickness falls well inside the step, nearest its middle first."""
    middle = 0.5 * (from_mm + to_mm)
    clear = constants.stack_clear_share * (to_mm - from_mm)
    inside = [pair for pair in pairs if from_mm + clear < sum(pair) < to_mm - clear]
    by_thickness: dict[float, Stack] = {}
    for pair in sorted(inside, key=lambda pair: (abs(sum(pair) - middle), pair)):
        by_thickness.setdefault(round(sum(pair), 3), pair)
    return tuple(by_thickness.values())[: constants.most_stacks_a_gap]


def blade_gaps(
    blades_mm: tuple[float, ...], spec: Spec, constants: Constants = DEFAULT
) -> tuple[BladeGap, ...]:
    """The steps of a set that are too wide about a spec, thinnest first.

    Below the thinnest blade and above the thickest there is a gap as well where the spec reaches there.

    >>> blade_gaps((0.10, 0.15, 0.20, 0.25), Spec(0.15, 0.20))[0].from_mm
    0.1
    """
    blades = sorted(blades_mm)
    around_mm = constants.blades_around_mm
    low, high = max(0.0, spec.min_mm - around_mm), spec.max_mm + around_mm
    ends = [0.0, *blades, max(high, blades[-1])] if blades else [0.0, high]
    pairs = [stack for stack in available_stacks(tuple(blades)) if len(stack) == 2]
    return tuple(
        BladeGap(before, after, _fillers(pairs, before, after, constants))
        for before, after in pairwise(ends)
        if after - before > constants.widest_blade_step_mm and after > low and before < high
    )
