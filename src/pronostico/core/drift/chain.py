"""The chain of one valve through its visits: every clearance as a sum of a few independent normals.

As found F_k and as left A_k at each visit, the drift b_k after it, and what all valves share: the drift of a
side mu, and the shift h_k of a visit. Given the shared part, a chain is a small Gaussian of its own; F-14 in
docs/formulas.md.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import Constants
from pronostico.core.engine import SIDES, Engine, Spec, Valve
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Reading, Setting, Visit

# After so many check intervals nothing is known of a clearance any more; longer gaps would only overflow.
_LONGEST_GAP_INTERVALS = 1000.0


@dataclass(frozen=True, slots=True)
class Latent:
    """A clearance or a drift: its mean, its loadings on the chain's own normals and on the shared ones."""

    mean: float
    own: FloatArray
    shared: FloatArray


@dataclass(frozen=True, slots=True)
class ChainReading:
    """One reading with tries: its visit, the latent that it observes, its temperature correction."""

    visit: int
    phase: str
    reading: Reading
    correction_mm: float
    latent: Latent


@dataclass(frozen=True, slots=True)
class ValveChain:
    """One valve: `found`, `left` and `drift` have one latent a visit.

    `variance`: of the chain's own normals, shape (own,); `by_tau`: which of them have the variance tau^2
    instead, 0 or 1. `era_start`: the visit at which the valve's last era began: with the engine's, or where
    its own parts were changed since. `set_anew`: the visits
    at which the clearance as left does not depend on that as found. `passing`: the part of the last drift
    that grows or decays, or what the clearance is off by for once, mm; `passed`: how far that moved the valve
    over the era, what was set left out of account; both zero where the drift is steady.
    """

    valve: Valve
    specs: tuple[Spec | None, ...]
    found: tuple[Latent, ...]
    left: tuple[Latent, ...]
    drift: tuple[Latent, ...]
    readings: tuple[ChainReading, ...]
    variance: FloatArray
    by_tau: FloatArray
    era_start: int
    set_anew: frozenset[int]
    passing: Latent
    passed: Latent


@dataclass(frozen=True, slots=True)
class Shared:
    """What valves share: the shift of each visit, then for each era the drift of either side.

    `variance`: shape (shared,), mm^2; `mean`: likewise, mm: what each normal is counted from.
    """

    visits: int
    eras: tuple[int, ...]
    variance: FloatArray
    mean: FloatArray

    @property
    def size(self) -> int:
        """How many shared normals there are."""
        return len(self.variance)

    def shift(self, visit: int) -> int:
        """The index of the shift of a visit."""
        return visit

    def side_drift(self, visit: int, side: str) -> int:
        """The index of the drift of a side in the engine's era after a visit."""
        era = sum(start <= visit for start in self.eras) - 1
        return self.visits + 2 * era + SIDES.index("intake" if side == "intake" else "exhaust")


def times_of(engine: Engine, visits: Sequence[Visit]) -> FloatArray:
    """The usage of each visit, in check intervals from the first; gaps too long to say anything are cut."""
    gaps = np.diff([visit.usage for visit in visits]) / engine.check_interval
    return np.concatenate([[0.0], np.cumsum(np.minimum(gaps, _LONGEST_GAP_INTERVALS))])


def shared_of(engine: Engine, visits: Sequence[Visit], constants: Constants) -> Shared:
    """The shared normals of an engine's visits. Eras begin at the first visit and at every head work."""
    # An era of its own before head work at the first visit: what was found there belongs to it.
    first = -1 if visits and visits[0].work == "head-work" else 0
    eras = (first, *(index for index, visit in enumerate(visits) if visit.work == "head-work"))
    shifts = []
    for visit in visits:
        heat = max(
            correction_at(engine, side, visit.temperature_c, constants).uncertainty_mm for side in SIDES
        )
        shifts.append(constants.visit_shift_sd_mm**2 + heat**2)
    sides = [constants.side_drift_sd_mm**2] * (2 * len(eras))
    variance = np.array([*shifts, *sides])
    shared = Shared(len(visits), eras, variance, np.zeros(len(variance)))
    for side, prior in engine.side_priors:
        at = shared.side_drift(len(visits) - 1, side)
        shared.variance[at], shared.mean[at] = prior.sd_mm**2, prior.mean_mm
    return shared


class _Own:
    """The independent normals of one chain, allocated one by one up to a maximum."""

    def __init__(self, most: int) -> None:
        self.variance = np.zeros(most)
        self.by_tau = np.zeros(most)
        self.count = 0

    def new(self, variance: float, *, by_tau: bool = False) -> FloatArray:
        """The loadings of a new normal: one on itself."""
        loadings = np.zeros(len(self.variance))
        loadings[self.count] = 1.0
        self.variance[self.count] = variance
        self.by_tau[self.count] = float(by_tau)
        self.count += 1
        return loadings


def _target(settings: Sequence[Setting], spec: Spec, constants: Constants) -> tuple[float, float]:
    """Mean and variance of a clearance after setting, from the last target that was noted."""
    targets = [one.target_mm for one in settings if one.target_mm is not None]
    if targets:
        return targets[-1], constants.set_to_target_sd_mm
    return spec.middle_mm, constants.set_without_target_sd_mm


def _is_by_shim(setting: Setting) -> bool:
    return setting.shim_from_mm is not None and setting.shim_to_mm is not None


def _as_left(
    found: Latent, visit: Visit, valve: Valve, spec: Spec, own: _Own, shared: Shared, constants: Constants
) -> Latent:
    """The latent of the clearance as left: that as found where nothing was adjusted."""
    settings = visit.settings_of(valve.id)
    screws = [one for one in settings if not _is_by_shim(one)]
    nothing = np.zeros(shared.size)
    if screws:
        mean, sd = _target(screws, spec, constants)
        return Latent(mean, own.new(sd**2), nothing)
    if visit.begins_era_of(valve.id):
        return Latent(spec.middle_mm, own.new(constants.prior_sd_mm**2), nothing)
    if settings:
        step = sum((one.shim_from_mm or 0.0) - (one.shim_to_mm or 0.0) for one in settings)
        noise = own.new(constants.shim_step_sd_mm**2)
        return Latent(found.mean + step, found.own + noise, found.shared)
    return found


def _new_drift(visit: int, valve: Valve, own: _Own, shared: Shared, *, alone: bool = False) -> Latent:
    """The drift of a valve where an era begins; `alone`: its own era, which shares nothing with its side."""
    side, at = np.zeros(shared.size), shared.side_drift(visit, valve.side)
    mean, by_tau = float(shared.mean[at]), own.new(0.0, by_tau=True)
    if alone:
        # New parts may be of other stuff than the side's: only what is usual is known of them.
        return Latent(mean, by_tau + own.new(float(shared.variance[at])), side)
    side[at] = 1.0
    return Latent(mean, by_tau, side)


def _step(
    left: Latent, drift: Latent, dx: float, jump: bool, own: _Own, constants: Constants
) -> tuple[Latent, Latent]:
    """Transition over `dx` check intervals: constant drift with white-noise acceleration."""
    q, root = constants.drift_wander, np.sqrt(dx)
    first, second = own.new(1.0), own.new(1.0)
    # Cholesky of q^2 [[dx^3/3, dx^2/2], [dx^2/2, dx]].
    moved = q * dx * root / np.sqrt(3.0) * first
    turned = q * root * (np.sqrt(3.0) / 2.0 * first + 0.5 * second)
    if jump:
        moved = moved + constants.jump_sd_mm * own.new(1.0)
    found = Latent(
        left.mean + dx * drift.mean, left.own + dx * drift.own + moved, left.shared + dx * drift.shared
    )
    return found, Latent(drift.mean, drift.own + turned, drift.shared)


def valve_chain(
    engine: Engine,
    valve: Valve,
    visits: Sequence[Visit],
    shared: Shared,
    *,
    jumps: frozenset[int] = frozenset(),
    constants: Constants,
) -> ValveChain | None:
    """The chain of a valve; None where it has no spec at some visit.

    Args:
        jumps: visits into which the valve is known to have jumped.
    """
    specs = tuple(engine.spec_of(valve, visit.day) for visit in visits)
    known = [spec for spec in specs if spec is not None]
    if len(known) < len(specs) or not known:
        return None
    own = _Own(5 * len(visits) + 4 + sum(valve.id in visit.renewed for visit in visits))
    found: list[Latent] = []
    left: list[Latent] = []
    drifts: list[Latent] = []
    readings: list[ChainReading] = []
    era_start, set_anew = 0, set()
    at = Latent(known[0].middle_mm, own.new(constants.prior_sd_mm**2), np.zeros(shared.size))
    drift = _new_drift(-1 if visits[0].work == "head-work" else 0, valve, own, shared)
    for index, (visit, spec) in enumerate(zip(visits, known, strict=True)):
        if index > 0:
            dx = min((visit.usage - visits[index - 1].usage) / engine.check_interval, _LONGEST_GAP_INTERVALS)
            at, drift = _step(left[-1], drift, dx, index in jumps, own, constants)
        found.append(at)
        left.append(_as_left(at, visit, valve, spec, own, shared, constants))
        begins_era = visit.begins_era_of(valve.id)
        if begins_era or any(not _is_by_shim(one) for one in visit.settings_of(valve.id)):
            set_anew.add(index)
        if begins_era:
            alone = visit.work != "head-work"
            drift, era_start = _new_drift(index, valve, own, shared, alone=alone), index
        drifts.append(drift)
        correction = correction_at(engine, valve.side, visit.temperature_c, constants).correction_mm
        readings.extend(_readings(visit, valve, index, correction, {"found": at, "left": left[-1]}, shared))
    nothing = Latent(0.0, np.zeros_like(at.own), np.zeros(shared.size))
    return ValveChain(
        valve,
        specs,
        tuple(found),
        tuple(left),
        tuple(drifts),
        tuple(readings),
        own.variance[: own.count],
        own.by_tau[: own.count],
        era_start,
        frozenset(set_anew),
        nothing,
        nothing,
    )


def _readings(
    visit: Visit,
    valve: Valve,
    index: int,
    correction_mm: float,
    latents: Mapping[str, Latent],
    shared: Shared,
) -> list[ChainReading]:
    """The readings of a valve at a visit; each observes the clearance plus the shift of the visit."""
    shift = np.zeros(shared.size)
    shift[shared.shift(index)] = 1.0
    taken = []
    for reading in visit.readings:
        if reading.valve == valve.id and reading.tries:
            of = latents[reading.phase]
            seen = Latent(of.mean, of.own, of.shared + shift)
            taken.append(ChainReading(index, reading.phase, reading, correction_mm, seen))
    return taken
