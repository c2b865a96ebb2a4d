"""The drift model by brute force: the prior sampled, every draw weighed with all tries. Slow and obvious."""

import numpy as np

from pronostico.core.constants import DEFAULT
from pronostico.core.engine import SIDES
from pronostico.core.gauge.feel import log_likelihood_with_entry_error
from pronostico.core.thermal import correction_at


class Sampled:
    """Means and sds of what was drawn, weighed."""

    def __init__(self, weight, draws):
        self.weight = weight
        self.draws = draws
        self.size = 1.0 / (weight**2).sum()

    def mean(self, name):
        return float(self.weight @ self.draws[name])

    def sd(self, name):
        return float(np.sqrt(self.weight @ (self.draws[name] - self.mean(name)) ** 2))

    def below(self, name, value):
        return float(self.weight @ (self.draws[name] < value))


def sampled(engine, visits, *, count=500_000, seed=1, jumps=()):
    """Draws of `now 1E`, `drift 1E`, `sink 1E` and `shift 0` for an engine without shims at head work.

    `jumps`: (valve, visit) into which a valve may have jumped.
    """
    rng = np.random.default_rng(seed)
    tau = rng.choice(DEFAULT.valve_drift_sds_mm, count)
    log_weight, draws = np.zeros(count), {}
    for index, visit in enumerate(visits):
        heat = max(correction_at(engine, side, visit.temperature_c).uncertainty_mm for side in SIDES)
        draws[f"shift {index}"] = rng.normal(0.0, np.hypot(0.004, heat), count)
    side_drift = {side: rng.normal(0.0, 0.03, count) for side in SIDES}
    for valve in engine.valves:
        middle = engine.spec_of(valve, visits[0].day).middle_mm
        found = left = rng.normal(middle, 0.15, count)
        drift = side_drift[valve.side] + tau * rng.normal(size=count)
        sink = np.zeros(count)
        for index, visit in enumerate(visits):
            if index:
                dx = (visit.usage - visits[index - 1].usage) / engine.check_interval
                cov = 0.006**2 * np.array([[dx**3 / 3, dx**2 / 2], [dx**2 / 2, dx]])
                moved, turned = np.linalg.cholesky(cov + 1e-18 * np.eye(2)) @ rng.normal(size=(2, count))
                found = left + drift * dx + moved
                if (valve.id, index) in jumps:
                    found = found + rng.normal(0.0, 0.10, count)
                drift, sink = drift + turned, sink + left - found
            settings, left = visit.settings_of(valve.id), found
            if visit.work == "head-work" or valve.id in visit.renewed:
                left = rng.normal(engine.spec_of(valve, visit.day).middle_mm, 0.15, count)
                drift = rng.normal(0.0, 0.03, count) + tau * rng.normal(size=count)
                sink = np.zeros(count)
            elif any(one.shim_to_mm is None for one in settings):
                left = rng.normal(settings[-1].target_mm, 0.03, count)
            elif settings:
                step = sum(one.shim_from_mm - one.shim_to_mm for one in settings)
                left = found + step + rng.normal(0.0, 0.008, count)
            correction = correction_at(engine, valve.side, visit.temperature_c).correction_mm
            for reading in visit.readings:
                if reading.valve == valve.id:
                    gap = (found if reading.phase == "found" else left) + correction
                    gap = gap + draws[f"shift {index}"] + rng.normal(0.0, 0.005, count)
                    for one in reading.tries:
                        log_weight += log_likelihood_with_entry_error(one, gap, reading.access)
        draws.update({f"now {valve.id}": left, f"drift {valve.id}": drift, f"sink {valve.id}": sink})
    weight = np.exp(log_weight - log_weight.max())
    return Sampled(weight / weight.sum(), draws)
