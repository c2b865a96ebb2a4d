"""The sound of a made-up engine with a known truth: for tests, for the simulated microphone and for practice.

Built in time, blow by blow, from what makes the noise, and not from what the detector looks for. All chance
comes from the generator that is handed in.
"""

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from scipy.signal import butter, lfilter, sosfilt

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.engine import SoundEngine

Kind = Literal["tick", "knock"]
_SNR_WINDOW_S = 0.003
_SNR_BAND_HZ: dict[Kind, tuple[float, float]] = {"tick": (2500.0, 8000.0), "knock": (500.0, 2500.0)}


@dataclass(frozen=True, slots=True)
class Blow:
    """A blow once in two turns (a tick) or once a turn (a knock).

    `at_deg`: after the first cylinder's top on compression. `snr_db`: mean power within 3 ms of it against
    all else, in its band. `jitter_deg`: how far it wanders. `fades_db`: how much weaker it is in the end.
    """

    kind: Kind
    at_deg: float
    snr_db: float
    jitter_deg: float = 1.0
    fades_db: float = 0.0


@dataclass(frozen=True, slots=True)
class Accessory:
    """A regular noise of its own: blows a turn of the crank, or in a second where it keeps its own time."""

    per_turn: float
    snr_db: float
    own_time: bool = False


@dataclass(frozen=True, slots=True)
class Scene:
    """What is to be heard. `hunting`: share by which the idle wanders; `raised_to`: times, at the end.

    `wind`, `speech`: level of each against the engine's. `agc`: the recorder evens out its level. `clip_at`:
    share of the peak beyond which it is cut off. `mic_distance_m`: from the engine. `spark_every_deg`: an
    ignition clip is recorded on a second channel, None: none. `character`: what is this very engine's own.
    """

    engine: SoundEngine
    rpm: float
    seconds: float = 10.0
    rate_hz: int = 22050
    blows: tuple[Blow, ...] = ()
    accessory: Accessory | None = None
    hunting: float = 0.01
    raised_to: float = 1.0
    wind: float = 0.0
    speech: float = 0.0
    agc: bool = False
    clip_at: float = 1.0
    mic_distance_m: float = 0.5
    spark_every_deg: Literal[360, 720] | None = None
    advance_deg: float = 10.0
    noise: float = 0.06
    character: int = 0


@dataclass(frozen=True, slots=True)
class SimulatedSound:
    """The samples, (channels, n), full scale one; the true mean speed; the true phase in cycles, (n,)."""

    samples: FloatArray
    rate_hz: int
    rpm: float
    phase: FloatArray = field(repr=False)


def _phase(scene: Scene, rng: np.random.Generator) -> FloatArray:
    """The phase in cycles of every sample."""
    count = int(scene.seconds * scene.rate_hz)
    t = np.arange(count) / scene.rate_hz
    slow = np.interp(
        t,
        np.arange(0.0, scene.seconds + 1.0, 0.5),
        rng.normal(size=int(2 * scene.seconds) + 2)[: len(np.arange(0.0, scene.seconds + 1.0, 0.5))],
    )
    wander = scene.hunting * (0.6 * np.sin(2.0 * np.pi * 0.4 * t + rng.uniform(0, 6.28)) + 0.5 * slow)
    rise = np.exp(np.log(scene.raised_to) * t / scene.seconds)
    hz = scene.rpm / 120.0 * rise * (1.0 + wander)
    return np.asarray(rng.uniform(0.0, 1.0) + np.cumsum(hz) / scene.rate_hz)


def _times(phase: FloatArray, rate_hz: int, at_cycles: FloatArray) -> FloatArray:
    """When the phase comes to some values; those outside the recording are left out, s."""
    inside = (at_cycles > phase[0]) & (at_cycles < phase[-1])
    return np.asarray(np.interp(at_cycles[inside], phase, np.arange(len(phase))) / rate_hz)


def _ringing(modes: list[tuple[float, float, float]], rate_hz: int) -> FloatArray:
    """A damped resonance: modes of frequency, Hz, decay, s, and share."""
    count = int(6.0 * max(decay for _, decay, _ in modes) * rate_hz)
    t = np.arange(count) / rate_hz
    whole = np.zeros(count)
    for hz, decay, share in modes:
        if hz < 0.48 * rate_hz:
            whole += share * np.exp(-t / decay) * np.sin(2.0 * np.pi * hz * t)
    return whole


def _struck(
    times_s: FloatArray, heights: FloatArray, shape: FloatArray, count: int, rate_hz: int
) -> FloatArray:
    """The same ringing at every time; between samples it is set in linearly."""
    hits = np.zeros(count + 1)
    at = times_s * rate_hz
    low = np.floor(at).astype(np.int64)
    keep = low < count
    np.add.at(hits, low[keep], (heights * (1.0 - (at - low)))[keep])
    np.add.at(hits, low[keep] + 1, (heights * (at - low))[keep])
    return np.asarray(np.convolve(hits[:count], shape)[:count])


def _combustion(scene: Scene, phase: FloatArray, rng: np.random.Generator) -> FloatArray:
    """Every firing: a push through the exhaust, and a burst of noise as the structure rings."""
    count, rate = len(phase), scene.rate_hz
    angles = list(scene.engine.firing_angles_deg().values()) or [0.0]
    own_ways = np.random.default_rng(scene.character)
    cycles = np.arange(np.floor(phase[0]) - 1, np.ceil(phase[-1]) + 1)
    push = np.zeros(count)
    loudness = np.zeros(count)
    for angle in angles:
        own = own_ways.normal(1.0, 0.15)
        times = _times(phase, rate, cycles + (angle + 15.0) / 720.0)
        heights = own * np.maximum(rng.normal(1.0, 0.15, len(times)), 0.2)
        pipe = _ringing(
            [(own_ways.uniform(70, 130), 0.012, 1.0), (own_ways.uniform(180, 320), 0.006, 0.5)], rate
        )
        push += _struck(times, heights, pipe, count, rate)
        t = np.arange(int(0.06 * rate)) / rate
        burst = (1.0 - np.exp(-t / 0.0015)) * np.exp(-t / own_ways.uniform(0.004, 0.008))
        loudness += _struck(times, heights, burst, count, rate)
    hiss = rng.normal(size=count)
    structure = sosfilt(butter(2, [500.0, min(6000.0, 0.45 * rate)], "band", fs=rate, output="sos"), hiss)
    return np.asarray(push + 0.5 * loudness * structure)


def _band_power(signal: FloatArray, band_hz: tuple[float, float], rate_hz: int) -> FloatArray:
    high = min(band_hz[1], 0.45 * rate_hz)
    sos = butter(4, [min(band_hz[0], 0.9 * high), high], "band", fs=rate_hz, output="sos")
    return np.asarray(sosfilt(sos, signal) ** 2)


def _blow_times(blow: Blow, phase: FloatArray, rate_hz: int, rng: np.random.Generator) -> FloatArray:
    cycles = np.arange(np.floor(phase[0]) - 1, np.ceil(phase[-1]) + 1)
    turns = (0.0,) if blow.kind == "tick" else (0.0, 0.5)
    at = np.sort(np.concatenate([cycles + turn for turn in turns])) + blow.at_deg / 720.0
    return _times(phase, rate_hz, at + rng.normal(0.0, blow.jitter_deg / 720.0, len(at)))


def _to_snr(
    blows: FloatArray, times_s: FloatArray, rest: FloatArray, kind: Kind, snr_db: float, rate_hz: int
) -> FloatArray:
    """Blows brought to their power within 3 ms against the mean of all else in the band."""
    own, other = (_band_power(one, _SNR_BAND_HZ[kind], rate_hz) for one in (blows, rest))
    width = int(_SNR_WINDOW_S * rate_hz)
    starts = (times_s * rate_hz).astype(np.int64)
    starts = starts[(starts >= 0) & (starts + width < len(blows))]
    power = float(np.mean([own[at : at + width].mean() for at in starts])) if len(starts) else 1.0
    return np.asarray(blows * np.sqrt(10.0 ** (snr_db / 10.0) * float(other.mean()) / max(power, 1e-30)))


def _blow(
    blow: Blow, phase: FloatArray, rest: FloatArray, scene: Scene, rng: np.random.Generator
) -> FloatArray:
    rate = scene.rate_hz
    own_ways = np.random.default_rng((scene.character, int(blow.at_deg)))
    if blow.kind == "tick":
        hz = own_ways.uniform(4000.0, 7000.0)
        shape = _ringing([(hz, 0.0006, 1.0), (1.5 * hz, 0.0004, 0.5), (0.8 * hz, 0.0006, 0.4)], rate)
    else:
        hz = own_ways.uniform(700.0, 1400.0)
        shape = _ringing([(hz, 0.0020, 1.0), (1.9 * hz, 0.0012, 0.5)], rate)
    times = _blow_times(blow, phase, rate, rng)
    heights = np.maximum(rng.normal(1.0, 0.15, len(times)), 0.1)
    heights = heights * 10.0 ** (-blow.fades_db / 20.0 * times / scene.seconds)
    # The sound takes its time to the microphone.
    delayed = times + scene.mic_distance_m / 343.0
    return _to_snr(
        _struck(delayed, heights, shape, len(phase), rate), delayed, rest, blow.kind, blow.snr_db, rate
    )


def _accessory(
    one: Accessory, phase: FloatArray, rest: FloatArray, scene: Scene, rng: np.random.Generator
) -> FloatArray:
    rate, count = scene.rate_hz, len(phase)
    if one.own_time:
        hz = one.per_turn * scene.rpm / 60.0
        times = np.arange(rng.uniform(0.0, 1.0 / hz), count / rate, 1.0 / hz)
    else:
        turns = 2.0 * phase
        times = _times(turns, rate, np.arange(np.ceil(turns[0]), turns[-1], 1.0 / one.per_turn))
    times = times + rng.normal(0.0, 0.0003, len(times))
    times = times[(times > 0.0) & (times < count / rate)]
    shape = _ringing([(rng.uniform(2500.0, 5500.0), 0.0008, 1.0)], rate)
    heights = np.maximum(rng.normal(1.0, 0.2, len(times)), 0.1)
    return _to_snr(_struck(times, heights, shape, count, rate), times, rest, "tick", one.snr_db, rate)


def _room(scene: Scene, count: int, rng: np.random.Generator) -> FloatArray:
    """Hiss, wind that swells, and something like speech: syllables of voiced and unvoiced sound."""
    rate = scene.rate_hz
    t = np.arange(count) / rate
    room = scene.noise * rng.normal(size=count)
    if scene.wind > 0.0:
        swell = 1.0 + 0.8 * np.sin(2.0 * np.pi * 0.3 * t + rng.uniform(0, 6.28))
        rumble = lfilter([1.0], [1.0, -0.97], rng.normal(size=count))
        room = room + scene.wind * swell * rumble / max(float(rumble.std()), 1e-9)
    if scene.speech > 0.0:
        said = np.zeros(count)
        at = 0.0
        while at < count / rate:
            begin, length = int(at * rate), int(rng.uniform(0.08, 0.25) * rate)
            part = t[: min(length, count - begin)]
            shape = np.hanning(max(len(part), 2))[: len(part)]
            pitch = rng.uniform(100, 220)
            voiced = sum(np.sin(2 * np.pi * pitch * k * part) / k for k in range(1, 12))
            sound = rng.normal(size=len(part)) if rng.random() < 0.3 else voiced
            said[begin : begin + len(part)] += shape * sound
            at += rng.uniform(0.1, 0.4)
        room = room + scene.speech * said / max(float(said.std()), 1e-9)
    return np.asarray(room)


def _recorded(sound: FloatArray, scene: Scene) -> FloatArray:
    """What the recorder makes of it: its gain follows the level, and what is too loud is cut off."""
    if scene.agc:
        level = lfilter([0.00005], [1.0, -0.99995], sound**2) + 1e-6
        sound = sound / np.sqrt(level)
    sound = sound / max(float(np.abs(sound).max()), 1e-9)
    if scene.clip_at < 1.0:
        sound = np.clip(sound, -scene.clip_at, scene.clip_at) / scene.clip_at
    return np.asarray(0.8 * sound)


def _clip_channel(scene: Scene, phase: FloatArray, rng: np.random.Generator) -> FloatArray:
    """The ignition clip: a short spike a spark, the other leads weaker."""
    rate, count = scene.rate_hz, len(phase)
    every = (scene.spark_every_deg or 720) / 720.0
    first = np.floor(phase[0]) - 1.0 - scene.advance_deg / 720.0
    times = _times(phase, rate, np.arange(first, phase[-1], every))
    spike = np.array([1.0, -0.6, 0.3])
    signal = _struck(times, rng.normal(1.0, 0.1, len(times)), spike, count, rate)
    for angle in scene.engine.firing_angles_deg().values():
        if angle == 0.0:
            continue
        others = _times(phase, rate, np.arange(first, phase[-1], 1.0) + angle / 720.0)
        signal = signal + _struck(others, rng.normal(0.12, 0.02, len(others)), spike, count, rate)
    return np.asarray(0.7 * (signal + 0.003 * rng.normal(size=count)))


def simulate_sound(scene: Scene, rng: np.random.Generator) -> SimulatedSound:
    """A recording of a scene; the second channel is the ignition clip, where one is on."""
    phase = _phase(scene, rng)
    engine = _combustion(scene, phase, rng)
    rest = engine / max(float(engine.std()), 1e-9) + _room(scene, len(phase), rng)
    sound = rest.copy()
    for blow in scene.blows:
        sound = sound + _blow(blow, phase, rest, scene, rng)
    if scene.accessory is not None:
        sound = sound + _accessory(scene.accessory, phase, rest, scene, rng)
    channels = [_recorded(sound, scene)]
    if scene.spark_every_deg is not None:
        channels.append(_clip_channel(scene, phase, rng))
    turned = float(phase[-1] - phase[0])
    return SimulatedSound(np.array(channels), scene.rate_hz, 120.0 * turned / scene.seconds, phase)
