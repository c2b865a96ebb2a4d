"""What may be added to a chain: a drift that grows or decays, or a deposit at the last visit. F-27."""

from dataclasses import dataclass, replace

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.drift.chain import Latent, Shared, ValveChain


@dataclass(frozen=True, slots=True)
class Added:
    """A drift beside the steady one: a exp(growth (x - origin)) with a normal amplitude a, mm an interval.

    a = mean + shared_sd z + own_sd z_v, with z common to all valves that have it and z_v the valve's own;
    x in check intervals.
    """

    growth: float
    origin: float
    mean: float
    shared_sd: float
    own_sd: float

    def moved(self, times: FloatArray) -> FloatArray:
        """Integral of the exponential up to some times, less a constant."""
        return np.asarray(np.exp(self.growth * (times - self.origin)) / self.growth)

    def rate(self, time: float) -> float:
        """The exponential at a time."""
        return float(np.exp(self.growth * (time - self.origin)))


def moved_by(chain: ValveChain, added: Added, times: FloatArray) -> tuple[FloatArray, FloatArray]:
    """How far an added drift of amplitude one has moved a clearance as found and as left; (visits,) both.

    Counted from the first visit of the last era, or from where the valve was set anew since.
    """
    moved = added.moved(times)
    found, left = np.zeros(len(times)), np.zeros(len(times))
    for visit in range(chain.era_start + 1, len(times)):
        found[visit] = left[visit - 1] + moved[visit] - moved[visit - 1]
        left[visit] = 0.0 if visit in chain.set_anew else found[visit]
    return found, left


def with_added(chain: ValveChain, added: Added | None, times: FloatArray, shared: Shared) -> ValveChain:
    """A chain whose drift has a part that grows or decays, in its last era.

    Args:
        added: None where this valve has none; then the chain is only brought to the shared normals.
        times: of the visits, in check intervals.
        shared: with the common amplitude as its last normal.
    """
    amplitude_at = len(chain.variance)

    def brought(latent: Latent, times_amplitude: float) -> Latent:
        common = np.zeros(shared.size)
        common[: len(latent.shared)] = latent.shared
        if added is None or times_amplitude == 0.0:
            return Latent(latent.mean, latent.own, common)
        own = latent.own.copy()
        own[amplitude_at] = added.own_sd * times_amplitude
        common[-1] += added.shared_sd * times_amplitude
        return Latent(latent.mean + added.mean * times_amplitude, own, common)

    found_by, left_by, rates, whole = np.zeros(len(times)), np.zeros(len(times)), np.zeros(len(times)), 0.0
    if added is not None:
        found_by, left_by = moved_by(chain, added, times)
        rates[chain.era_start :] = [added.rate(float(time)) for time in times[chain.era_start :]]
        moved = added.moved(times)
        whole = float(moved[-1] - moved[chain.era_start])
    by = {"found": found_by, "left": left_by}
    nothing = Latent(0.0, np.zeros_like(chain.found[0].own), np.zeros(shared.size))
    found = tuple(brought(one, at) for one, at in zip(chain.found, found_by, strict=True))
    left = tuple(brought(one, at) for one, at in zip(chain.left, left_by, strict=True))
    return replace(
        chain,
        found=found,
        # A valve that nothing was done to has one latent for both.
        left=tuple(
            as_found if was is before else after
            for was, before, as_found, after in zip(chain.left, chain.found, found, left, strict=True)
        ),
        drift=tuple(brought(one, at) for one, at in zip(chain.drift, rates, strict=True)),
        readings=tuple(
            replace(one, latent=brought(one.latent, float(by[one.phase][one.visit])))
            for one in chain.readings
        ),
        variance=np.append(chain.variance, 1.0),
        by_tau=np.append(chain.by_tau, 0.0),
        passing=brought(nothing, float(rates[-1])),
        passed=brought(nothing, whole),
    )


def with_deposit(chain: ValveChain, mean_mm: float, sd_mm: float) -> ValveChain:
    """A chain whose clearance at the last visit was off by something that is gone by the next.

    For a valve that was not set anew there: what is set once it is seen is taken as it is left.
    """
    amplitude = np.zeros_like(chain.found[0].own)
    amplitude[len(chain.variance)] = sd_mm
    deposit = Latent(mean_mm, amplitude, np.zeros_like(chain.found[0].shared))
    last = len(chain.found) - 1

    def with_it(latent: Latent) -> Latent:
        return Latent(latent.mean + mean_mm, latent.own + amplitude, latent.shared)

    found = with_it(chain.found[last])
    left = found if chain.left[last] is chain.found[last] else with_it(chain.left[last])
    return replace(
        chain,
        found=(*chain.found[:-1], found),
        left=(*chain.left[:-1], left),
        readings=tuple(
            replace(one, latent=with_it(one.latent)) if one.visit == last else one for one in chain.readings
        ),
        variance=np.append(chain.variance, 1.0),
        by_tau=np.append(chain.by_tau, 0.0),
        passing=deposit,
        passed=deposit,
    )
