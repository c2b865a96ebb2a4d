"""Which shim goes where: from stock, moved from another valve, or ordered.

An assignment problem, solved exactly: first as few shims as possible are bought, then the summed cost is
least. The cost of a shim is 1 - P(in spec after) and a hundredth of its distance from the target in half
widths of the spec. F-13 in docs/formulas.md.
"""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import sqrt
from typing import Literal

import numpy as np
from scipy.optimize import linear_sum_assignment
from scipy.special import ndtr

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Spec
from pronostico.core.errors import ImpossibleValue

Source = Literal["kept", "moved", "stock", "order", "none"]

# Outweighs every sum of costs: each is at most a little over one for each valve.
_BOUGHT = 1e3
_NOTHING = 1e7
# Alike otherwise, the less that is moved about the better; far below any real difference in cost.
_HANDLING: dict[Source, float] = {"kept": 0.0, "moved": 2e-9, "stock": 1e-9, "order": 0.0, "none": 0.0}


@dataclass(frozen=True, slots=True)
class ShimSeries:
    """Shims that can be ordered, mm."""

    from_mm: float
    to_mm: float
    step_mm: float
    diameter_mm: float | None = None

    def __post_init__(self) -> None:
        if not (0.0 < self.from_mm <= self.to_mm and self.step_mm > 0.0):
            shown = f"{self.from_mm:g} to {self.to_mm:g} by {self.step_mm:g} mm"
            raise ImpossibleValue("shim series", shown, "upwards from over 0, by a step over 0")

    @property
    def sizes_mm(self) -> tuple[float, ...]:
        """Every size of the series, thinnest first."""
        count = int((self.to_mm - self.from_mm) / self.step_mm + 1e-6) + 1
        return tuple(round(self.from_mm + index * self.step_mm, 4) for index in range(count))


@dataclass(frozen=True, slots=True)
class StockedShim:
    """Shims of one size in the box."""

    shim_mm: float
    count: int
    diameter_mm: float | None = None


@dataclass(frozen=True, slots=True)
class ShimTask:
    """A valve that is to be set: its shim now, its clearance with it and how surely, what is wanted; mm.

    `old_is_gone`: its shim was fitted to another valve already and cannot be used again.
    """

    valve: str
    old_mm: float
    clearance_mm: float
    sd_mm: float
    spec: Spec
    target_mm: float
    old_is_gone: bool = False

    def after_mm(self, shim_mm: float) -> float:
        """The clearance with another shim: thicker closes it."""
        return self.clearance_mm + self.old_mm - shim_mm


@dataclass(frozen=True, slots=True)
class Fit:
    """The shim for one valve; `moved_from` names the valve that frees it. None where nothing fits."""

    valve: str
    shim_mm: float | None
    source: Source
    moved_from: str | None
    after_mm: float | None
    p_in_after: float | None


@dataclass(frozen=True, slots=True)
class ShimPlan:
    """Which shim goes where, what to order, and what is freed back to the box; sizes with their counts."""

    fits: tuple[Fit, ...]
    order: tuple[tuple[float, int], ...]
    freed: tuple[tuple[float, int], ...]


def p_in_with(task: ShimTask, shim_mm: float, constants: Constants = DEFAULT) -> float:
    """Probability that a valve is in spec with a shim; the step between two shims has its own doubt."""
    sd = sqrt(task.sd_mm**2 + constants.shim_step_sd_mm**2)
    after = task.after_mm(shim_mm)
    return float(ndtr((task.spec.max_mm - after) / sd) - ndtr((task.spec.min_mm - after) / sd))


def cost_of(task: ShimTask, shim_mm: float, constants: Constants = DEFAULT) -> float:
    """What is lost with a shim: the chance that it is out, and a little for being off the target."""
    off = abs(task.after_mm(shim_mm) - task.target_mm) / (0.5 * task.spec.width_mm)
    return 1.0 - p_in_with(task, shim_mm, constants) + constants.off_target_cost * off


def fits_in(task: ShimTask, shim_mm: float) -> bool:
    """Whether a shim is a candidate at all: the clearance expected with it is within the spec."""
    return task.spec.min_mm - 1e-9 <= task.after_mm(shim_mm) <= task.spec.max_mm + 1e-9


@dataclass(frozen=True, slots=True)
class _Piece:
    """One shim that can be fitted once; an ordered one is made for one valve alone."""

    shim_mm: float
    source: Source
    of: str | None = None


def _ordered(task: ShimTask, series: ShimSeries, constants: Constants) -> float:
    """The size to order for a valve: the cheapest that fits, else the one that comes nearest."""
    sizes = series.sizes_mm
    fitting = [size for size in sizes if fits_in(task, size)]
    if fitting:
        return min(fitting, key=lambda size: cost_of(task, size, constants))
    return min(sizes, key=lambda size: abs(task.after_mm(size) - task.target_mm))


def _pieces(
    tasks: Sequence[ShimTask], box: Iterable[StockedShim], series: ShimSeries | None, constants: Constants
) -> list[_Piece]:
    pieces = [_Piece(task.old_mm, "moved", task.valve) for task in tasks if not task.old_is_gone]
    diameter = None if series is None else series.diameter_mm
    for shim in box:
        other_kind = None not in (diameter, shim.diameter_mm) and diameter != shim.diameter_mm
        if not other_kind:
            # More of one size than there are valves can never be fitted.
            pieces.extend([_Piece(shim.shim_mm, "stock")] * min(shim.count, len(tasks)))
    for task in tasks:
        if series is not None:
            pieces.append(_Piece(_ordered(task, series, constants), "order", task.valve))
        pieces.append(_Piece(0.0, "none", task.valve))
    return pieces


def _weight(task: ShimTask, piece: _Piece, constants: Constants) -> float:
    own = piece.of == task.valve
    if piece.source == "none":
        return _NOTHING if own else np.inf
    if piece.source == "order":
        return _BOUGHT + cost_of(task, piece.shim_mm, constants) if own else np.inf
    if not fits_in(task, piece.shim_mm):
        return np.inf
    handling = _HANDLING["kept" if piece.source == "moved" and own else piece.source]
    return cost_of(task, piece.shim_mm, constants) + handling


def _fit(task: ShimTask, piece: _Piece, constants: Constants) -> Fit:
    kept = piece.source == "moved" and piece.of == task.valve
    return Fit(
        valve=task.valve,
        shim_mm=piece.shim_mm,
        source="kept" if kept else piece.source,
        moved_from=piece.of if piece.source == "moved" and not kept else None,
        after_mm=task.after_mm(piece.shim_mm),
        p_in_after=p_in_with(task, piece.shim_mm, constants),
    )


def _counted(sizes: Iterable[float]) -> tuple[tuple[float, int], ...]:
    return tuple(sorted(Counter(round(size, 4) for size in sizes).items()))


def assign_shims(
    tasks: Sequence[ShimTask],
    box: Iterable[StockedShim] = (),
    series: ShimSeries | None = None,
    constants: Constants = DEFAULT,
) -> ShimPlan:
    """One shim for each valve that is to be set.

    Args:
        tasks: the valves whose shims come out; those left alone keep theirs and are not named.
        box: the workshop's stock; shims of another diameter than the series' are passed over.
        series: what can be ordered; None: nothing.

    Where neither what is available nor the series brings a valve into spec, the size of the series that comes
    nearest is ordered; without a series nothing is fitted ('none').
    """
    if not tasks:
        return ShimPlan((), (), ())
    chosen = _chosen(tasks, _pieces(tasks, tuple(box), series, constants), constants)
    without = {task.valve for task, piece in zip(tasks, chosen, strict=True) if piece.source == "none"}
    if without:
        # A valve for which nothing is found keeps its shim, which then is nobody else's.
        rest = assign_shims([task for task in tasks if task.valve not in without], box, series, constants)
        fits = {fit.valve: fit for fit in rest.fits}
        nothing = Fit("", None, "none", None, None, None)
        return replace(
            rest, fits=tuple(fits.get(task.valve, replace(nothing, valve=task.valve)) for task in tasks)
        )
    fits_made = tuple(_fit(task, piece, constants) for task, piece in zip(tasks, chosen, strict=True))
    reused = {piece.of for piece in chosen if piece.source == "moved"}
    return ShimPlan(
        fits=fits_made,
        order=_counted(piece.shim_mm for piece in chosen if piece.source == "order"),
        freed=_counted(task.old_mm for task in tasks if task.valve not in reused and not task.old_is_gone),
    )


def _chosen(tasks: Sequence[ShimTask], pieces: Sequence[_Piece], constants: Constants) -> list[_Piece]:
    """The piece for each valve, by the exact assignment."""
    weights = np.array([[_weight(task, piece, constants) for piece in pieces] for task in tasks])
    _, columns = linear_sum_assignment(weights)
    return [pieces[int(column)] for column in columns]


def intervals_left(
    shim_mm: float, series: ShimSeries, *, drift_mm_per_interval: float | None
) -> float | None:
    """Check intervals until no shim of the series can make up for the drift; None where it does not move."""
    if not drift_mm_per_interval:
        return None
    room = shim_mm - series.from_mm if drift_mm_per_interval < 0.0 else series.to_mm - shim_mm
    return max(0.0, room) / abs(drift_mm_per_interval)
