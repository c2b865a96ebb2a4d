"""The crank's speed and phase from the sound alone: a comb of orders, then its phase. F-36."""

from dataclasses import dataclass

import numpy as np
from scipy.fft import rfft
from scipy.ndimage import uniform_filter1d
from scipy.special import expit

from pronostico.core.arrays import FloatArray, IntArray
from pronostico.core.sound.engine import Firing
from pronostico.core.sound.envelopes import FEATURE_HZ
from pronostico.core.sound.filters import smoothed

_FFT = 4096
_GRID_STEP = 0.002
_BACKGROUND_BINS = 81
_ORDERS_HZ = (3.0, 420.0)
_SLOWEST_HZ, _FASTEST_HZ = 400.0 / 120.0, 4500.0 / 120.0
_USUAL_HZ = 7.5
_BLOCK = 125  # samples of a feature: an eighth of a second
_FIRST_BLOCKS = 12
_BLOCKS_AT_ONCE = 32
_WINDOWS_AT_ONCE = 64
_WEIGHTS_OF_RIGHT = (-5.29185, 0.32826, 25.15226, -1.24763, 4.57567)
_OCTAVE_IF_TOLD = 2.0


@dataclass(frozen=True, slots=True)
class Told:
    """What was said of the speed: at the start, rpm, None: nothing; whether it then was raised."""

    rpm: float | None
    revs_raised: bool = False

    @property
    def cycles_hz(self) -> float:
        """Cycles a second as said, else those of a usual idle."""
        return _USUAL_HZ if self.rpm is None else self.rpm / 120.0


@dataclass(frozen=True, slots=True)
class Speed:
    """Cycles a second at 1000 Hz, (n,); how it stands out: of all, and of half and double (`octave`)."""

    cycles_hz: FloatArray
    rel: float
    octave: float


@dataclass(frozen=True, slots=True)
class Track:
    """The phase in cycles at 1000 Hz, shape (n,); `p_right`: that the speed is right."""

    phase: FloatArray
    p_right: float


def _background(power: FloatArray) -> FloatArray:
    """Running mean along the bins."""
    return np.asarray(uniform_filter1d(power, _BACKGROUND_BINS, axis=1, mode="nearest"))


def _lines(rows: FloatArray, width: int, hop: int) -> FloatArray:
    """How far each bin stands over its surroundings, summed over the features; (windows, bins)."""
    starts = np.arange(0, rows.shape[1] - width + 1, hop)
    hann = np.hanning(width).astype(np.float32)
    total = np.zeros((len(starts), _FFT // 2 + 1), np.float32)
    windows = [np.lib.stride_tricks.sliding_window_view(row.astype(np.float32), width)[::hop] for row in rows]
    for begin in range(0, len(starts), _WINDOWS_AT_ONCE):
        some = slice(begin, begin + _WINDOWS_AT_ONCE)
        for of_row in windows:
            spectrum = rfft(of_row[some] * hann, _FFT)
            power = np.asarray(spectrum.real**2 + spectrum.imag**2)
            over = np.log(power / np.maximum(_background(power), np.float32(1e-30)) + np.float32(0.05))
            total[some] += np.clip(over, -1.5, 2.5)
    return np.asarray(total, np.float64)


def _grid(told: Told) -> FloatArray:
    at = told.cycles_hz
    if told.rpm is None:
        low, high = _SLOWEST_HZ, _FASTEST_HZ
    else:
        low, high = (0.85 * at, 2.5 * at) if told.revs_raised else (0.87 * at, 1.15 * at)
    count = int(np.floor(np.log(high / low) / _GRID_STEP)) + 1
    return np.asarray(low * np.exp(_GRID_STEP * np.arange(count)))


def _mean_at(lines: FloatArray, at_hz: FloatArray, kept: FloatArray) -> FloatArray:
    """Mean of the lines at some frequencies (grid, orders), those that are kept; (windows, grid)."""
    bins = np.clip(at_hz * _FFT / FEATURE_HZ, 0.0, lines.shape[1] - 2.0)
    low = bins.astype(np.int64)
    share = bins - low
    total = np.zeros((len(lines), len(at_hz)))
    for order in range(at_hz.shape[1]):
        weight = kept[:, order]
        if weight.any():
            at, part = low[:, order], share[:, order]
            total += weight * ((1.0 - part) * lines[:, at] + part * lines[:, at + 1])
    return np.asarray(total / np.maximum(kept.sum(axis=1), 1e-9))


def _scores(lines: FloatArray, grid_hz: FloatArray, firing: Firing, told: Told) -> FloatArray:
    count = firing.count
    orders = np.arange(1, 9 if count == 1 else 4 * count + 1)
    is_firing = np.ones(len(orders), bool) if not firing.even else orders % count == 0
    at = grid_hz[:, None] * orders[None, :]
    inside = ((at >= _ORDERS_HZ[0]) & (at <= _ORDERS_HZ[1])).astype(np.float64)
    between = grid_hz[:, None] * (orders[None, :] + 0.5)
    others = 0.3 if told.rpm is not None else -0.3
    return np.asarray(
        _mean_at(lines, at, inside * is_firing)
        + others * _mean_at(lines, at, inside * ~is_firing)
        - 0.7 * _mean_at(lines, between, inside)
    )


def best_path(reward: FloatArray, step_cost: FloatArray) -> IntArray:
    """The path of the greatest sum of rewards less what its steps cost (Viterbi, 1967).

    Args:
        reward: shape (times, states).
        step_cost: of a step by 0, 1, 2, ... states either way; longer steps are not taken.
    """
    times, states = reward.shape
    most = min(len(step_cost) - 1, states - 1)
    shifts = np.arange(-most, most + 1)
    cost = step_cost[np.abs(shifts)]
    came = np.zeros((times, states), np.int64)
    padded = np.full(states + 2 * most, -np.inf)
    best = padded[most : most + states]
    best[:] = reward[0]
    reached = np.lib.stride_tricks.sliding_window_view(padded, states)
    each = np.arange(states)
    for time in range(1, times):
        options = reached - cost[:, None]
        choice = options.argmax(axis=0)
        came[time] = each + shifts[choice]
        best[:] = options[choice, each] + reward[time]
    path = np.zeros(times, np.int64)
    path[-1] = int(best.argmax())
    for time in range(times - 1, 0, -1):
        path[time - 1] = came[time, path[time]]
    return path


def comb(rows: FloatArray, firing: Firing, told: Told) -> Speed:
    """The crank's speed from the features, shape (features, n)."""
    at_hz = told.cycles_hz
    width_s = float(np.clip(max(4.0 / at_hz, 6.0 / (firing.count * at_hz)), 0.5, 1.4))
    width = int(width_s * FEATURE_HZ)
    hop = width // 4
    hop_s = hop / FEATURE_HZ
    lines = _lines(rows, width, hop)
    grid = _grid(told)
    score = _scores(lines, grid, firing, told)
    spread = 0.8 if told.rpm is None else 0.07
    prior = -0.5 * (np.log(grid / at_hz) / spread) ** 2
    reward = 16.0 * hop_s * score
    if told.revs_raised:
        reward[0] += 4.0 * prior
    else:
        reward += 4.0 * prior / len(score)
    most = max(1, int(0.15 * hop_s / _GRID_STEP))
    steps = _GRID_STEP * np.arange(most + 1)
    cost = 0.5 * (steps / (0.04 * hop_s)) ** 2 * np.sqrt(hop_s / 0.25)
    path = best_path(reward, cost)
    log_hz = np.log(grid[path])
    if len(log_hz) >= 3:
        log_hz = np.convolve(np.pad(log_hz, 1, mode="edge"), np.ones(3) / 3.0, "valid")
    over_time = score.mean(axis=0)
    middle = float(np.median(over_time))
    mad = 1.4826 * float(np.median(np.abs(over_time - middle)))
    rel = (float(score[np.arange(len(path)), path].mean()) - middle) / max(mad, 1e-9)
    centres = (np.arange(len(path)) * hop + width / 2.0) / FEATURE_HZ
    times = (np.arange(rows.shape[1]) + 0.5) / FEATURE_HZ
    return Speed(np.exp(np.interp(times, centres, log_hz)), rel, _octave(over_time, grid, len(rows), told))


def _octave(over_time: FloatArray, grid: FloatArray, features: int, told: Told) -> float:
    """How far the best speed stands over its half and its double, for each feature."""
    if told.rpm is not None:
        return _OCTAVE_IF_TOLD
    best = int(over_time.argmax())
    near = np.abs(np.log(grid[:, None] / (grid[best] * np.array([0.5, 2.0])))).min(axis=1) <= 0.004
    return float(over_time[best] - over_time[near].max()) / features if near.any() else _OCTAVE_IF_TOLD


def _in_blocks(rows: FloatArray, phase: FloatArray, orders: IntArray, kernel: FloatArray) -> FloatArray:
    """The features' parts at each order, block by block; (blocks, features, orders)."""
    count = rows.shape[1] // _BLOCK
    cut = count * _BLOCK
    parts = np.empty((count, len(rows), len(orders)), np.complex64)
    cells = rows[:, :cut].astype(np.complex64).reshape(len(rows), count, _BLOCK).transpose(1, 0, 2).copy()
    angle = (-2.0 * np.pi * np.mod(phase[:cut], 1.0)).astype(np.float32).reshape(count, _BLOCK)
    turns = np.empty((len(orders), _BLOCKS_AT_ONCE, _BLOCK), np.complex64)
    for begin in range(0, count, _BLOCKS_AT_ONCE):
        some = slice(begin, min(begin + _BLOCKS_AT_ONCE, count))
        here = turns[:, : some.stop - begin]
        np.cos(angle[some], out=here[0].real)
        np.sin(angle[some], out=here[0].imag)
        # The orders follow each other from the first: each is the one before, turned once more.
        for at in range(1, len(orders)):
            np.multiply(here[at - 1], here[0], out=here[at])
        np.matmul(cells[some], here.transpose(1, 2, 0), out=parts[some])
    blocks = count - len(kernel) + 1
    weights = kernel.astype(np.float32)
    return np.asarray(sum(weight * parts[at : at + blocks] for at, weight in enumerate(weights)))


def _centres(blocks: int, kernel: FloatArray) -> FloatArray:
    """The middles of the summed blocks, in samples of the features."""
    return np.asarray((np.arange(blocks) + len(kernel) / 2.0) * _BLOCK)


def _carried(parts: FloatArray, orders: IntArray, shifts: FloatArray, reach: float) -> FloatArray:
    """How far the phase of each block is off, by a template carried outwards from the middle; cycles."""
    var = np.maximum((np.abs(parts) ** 2).mean(axis=0), 1e-30)
    turns = np.exp(-2j * np.pi * orders[None, :] * shifts[:, None])
    blocks = len(parts)
    middle = blocks // 2
    begin = max(0, middle - _FIRST_BLOCKS // 2)
    first = parts[begin : begin + _FIRST_BLOCKS].mean(axis=0)
    found = np.zeros(blocks)
    for way in (range(middle, blocks), range(middle - 1, -1, -1)):
        template, d, v = first.copy(), 0.0, 0.0
        for at in way:
            here = parts[at] * np.exp(-2j * np.pi * orders * (d + v))
            agree = (np.conj(template) * here / var).sum(axis=0)
            gain = (agree[None, :] * turns).real.sum(axis=1)
            gain = gain - (shifts / reach) ** 2 * gain.max() / 4.0
            s = float(shifts[int(gain.argmax())])
            d += v + s / 2.0
            v = 0.9 * v + 0.1 * s
            template = 0.92 * template + 0.08 * parts[at] * np.exp(-2j * np.pi * orders * d)
            found[at] = d
    return found


def _followed(parts: FloatArray, orders: IntArray, shifts: FloatArray, step: float) -> FloatArray:
    """How far the phase of each block is off from the mean of all; cycles."""
    template = parts.mean(axis=0)
    var = (np.abs(parts) ** 2).mean(axis=0)
    noise = np.maximum(np.maximum(var - np.abs(template) ** 2, 0.05 * var), 1e-30)
    turns = np.exp(-2j * np.pi * orders[None, :] * shifts[:, None])
    agree = (np.conj(template) / noise * parts).sum(axis=1)
    reward = 0.8 * (agree @ turns.T).real
    cost = np.asarray(0.5 * (step * np.arange(9) / 0.008) ** 2, dtype=np.float64)
    return np.asarray(shifts[best_path(reward, cost)])


def follow(rows: FloatArray, speed: Speed, firing: Firing) -> Track:
    """The phase of the crank, from its speed and the features, shape (features, n)."""
    phase = np.cumsum(speed.cycles_hz) / FEATURE_HZ
    fastest = float(speed.cycles_hz.max())
    orders = np.arange(1, int(np.clip(440.0 / fastest, 3, 40)) + 1)
    reach = min(0.12, 0.42 / firing.count) if firing.even else 0.12
    samples = np.arange(rows.shape[1], dtype=np.float64)
    for time in range(3):
        step = 0.0025 if time == 2 else 0.005
        kernel = np.array([0.5, 1.0, 0.5] if time == 2 else [0.5, 1.0, 1.0, 0.5])
        count = int(np.floor(reach / step))
        shifts = np.asarray(step * np.arange(-count, count + 1), dtype=np.float64)
        for again in range(1 if time == 0 else 2):
            parts = _in_blocks(rows, phase, orders, kernel)
            if time == 0 and again == 0:
                off = _carried(parts, orders, shifts, reach)
            else:
                off = _followed(parts, orders, shifts, step)
            phase = phase + np.interp(samples, _centres(len(parts), kernel), smoothed(off, 9))
    parts = _in_blocks(rows, phase, orders, np.array([0.5, 1.0, 0.5]))
    var = np.maximum((np.abs(parts) ** 2).mean(axis=0), 1e-30)
    coherence = float((np.abs(parts.mean(axis=0)) ** 2 / var).mean())
    rel, coh = min(speed.rel, 25.0), min(coherence, 0.3)
    basis = (1.0, rel, coh, rel * coh, min(speed.octave, 0.8))
    p_right = float(expit(np.dot(_WEIGHTS_OF_RIGHT, basis)))
    return Track(phase, p_right)
