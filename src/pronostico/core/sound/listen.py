"""A recording listened to: from its samples to what its noise belongs to, before and after setting."""

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from scipy.special import logsumexp

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.crank_speed import Told, comb, follow
from pronostico.core.sound.engine import SoundEngine, firing_of
from pronostico.core.sound.envelopes import (
    ENVELOPE_HZ,
    FEATURE_HZ,
    Envelopes,
    at_needed_rate,
    envelopes,
    features,
    spectrum_of,
)
from pronostico.core.sound.evidence import Evidence, evidence
from pronostico.core.sound.faults import SoundFault
from pronostico.core.sound.ignition import SparkEvery, Sparks, spark_times, sparks_of
from pronostico.core.sound.probabilities import Findings, answer_of, findings
from pronostico.core.sound.sharp import places_for, sharp_parts, windows_for
from pronostico.core.sound.ticks import Cycles, Tick, ticks_of
from pronostico.core.sound.unrelated import Unrelated, unrelated
from pronostico.core.sound.valves import NamedValve, valves_at
from pronostico.core.sound.verdict import Verdict
from pronostico.core.sound.wav import Recording

Warn = Literal["rpm-not-sure", "crank-speed-and-firing-alike", "clipped", "no-engine", "no-rpm"]
_SILENT = 1e-5
_RPM = (200.0, 9000.0)
_FEWEST_CYCLES = 12
_CLIPPED_WITHIN, _CLIPPED_SHARE = 0.005, 0.02
_MEAN_S = 0.25
_SPEED_OF_SOUND_M_PER_MS = 0.343
_ELECTRONICS_MS = 0.4
_MOST_LOG = 4.6


@dataclass(frozen=True, slots=True)
class Said:
    """What was said beside a recording; None where nothing was.

    `clip`, `sound`: channels, from 1. `spark_every_deg`: between sparks on the clip. `advance_deg`: of the
    spark before top. `mic_distance_m`: from the engine to the microphone.
    """

    rpm: float | None = None
    engine: SoundEngine | None = None
    clip: int | None = None
    sound: int | None = None
    spark_every_deg: SparkEvery | None = None
    advance_deg: float | None = None
    mic_distance_m: float | None = None
    revs_raised: bool = False

    def __post_init__(self) -> None:
        if self.rpm is not None and not _RPM[0] <= self.rpm <= _RPM[1]:
            raise SoundFault("bad-rpm", f"{self.rpm:g} rpm; it must be {_RPM[0]:g} to {_RPM[1]:g}")


@dataclass(frozen=True, slots=True)
class Rpm:
    """The crank's speed over the recording, rpm; `per_minute`: how it drifted."""

    mean: float
    sd: float
    low: float
    high: float
    per_minute: float
    cycles: int
    p_right: float
    by: Literal["sound", "clip"]


@dataclass(frozen=True, slots=True)
class PlacedTick:
    """A tick, and where it is after the first cylinder's top on compression; None without a clip."""

    tick: Tick
    at_deg: float | None
    at_sd_deg: float | None
    valves: tuple[NamedValve, ...] | None


@dataclass(frozen=True, slots=True)
class Heard:
    """What a recording says. `phase`: of the crank at 1000 Hz, cycles; with a clip 0 at the spark.

    `zero_deg`: the angle of phase 0 after the first cylinder's top on compression; None without a clip.
    """

    seconds: float
    rate_hz: int
    sound_channel: int
    clipped_fraction: float
    rpm: Rpm
    findings: Findings
    answer: str
    strange: Unrelated
    ticks: tuple[PlacedTick, ...]
    sparks: Sparks | None
    warnings: tuple[Warn, ...]
    evidence: Evidence = field(repr=False)
    phase: FloatArray = field(repr=False)
    zero_deg: float | None


@dataclass(frozen=True, slots=True)
class Compared:
    """What became of a tick after setting."""

    verdict: Verdict
    p_gone: float
    log10_ratio_gone: float
    before_db: float | None
    after_db: float | None
    change_db: float | None
    sd_db: float | None
    smallest_db_seen: float | None
    why: str
    after: Heard


def _channels(recording: Recording, said: Said, levels: FloatArray) -> tuple[int, int | None]:
    """The channel of the sound and of the clip, from 0."""
    count = recording.channels
    for channel in (said.clip, said.sound):
        if channel is not None and not 1 <= channel <= count:
            raise SoundFault(
                "no-such-channel", f"there is no channel {channel}; the recording has {count}, counted from 1"
            )
    clip = None if said.clip is None else said.clip - 1
    if said.sound is not None:
        if said.sound - 1 == clip:
            raise SoundFault(
                "no-sound-channel", f"channel {said.sound} cannot be both the sound and the clip"
            )
        return said.sound - 1, clip
    if clip is None:
        return int(levels.argmax()), None
    others = [channel for channel in range(count) if channel != clip]
    if not others:
        raise SoundFault("no-sound-channel", "the only channel is the clip's; there is none with the sound")
    return others[0], clip


def _rpm(phase: FloatArray, seconds: float, *, by_clip: bool, p_right: float) -> Rpm:
    """The speed from the phase at 1000 Hz."""
    turned = float(phase[-1] - phase[0])
    mean = 120.0 * turned / ((len(phase) - 1) / FEATURE_HZ)
    step = int(_MEAN_S * FEATURE_HZ)
    marks = phase[::step]
    each = 120.0 * np.diff(marks) / _MEAN_S
    low, high = np.quantile(each, [0.05, 0.95])
    minutes = (np.arange(len(each)) + 0.5) * _MEAN_S / 60.0
    per_minute = float(np.polyfit(minutes, each, 1)[0]) if len(each) > 1 else 0.0
    share = 1e-4 if by_clip else 3e-4
    sd = mean * share * float(np.sqrt(10.0 / seconds)) + 0.02
    return Rpm(
        mean,
        sd,
        float(low),
        float(high),
        per_minute,
        int(np.floor(phase[-1]) - np.ceil(phase[0])),
        p_right,
        "clip" if by_clip else "sound",
    )


def _where(phase: FloatArray, samples: int, places: int) -> FloatArray:
    """The sample, at 4000 Hz, of every place of every whole cycle; (cycles, places)."""
    times = (np.arange(len(phase)) + 0.5) / FEATURE_HZ
    first, last = int(np.ceil(phase[0])), int(np.floor(phase[-1]))
    wanted = first + np.arange((last - first) * places) / places
    at = np.interp(wanted, phase, times) * ENVELOPE_HZ
    return np.asarray(np.clip(at, 0, samples - 1).reshape(last - first, places))


def _cycles(phase: FloatArray) -> Cycles:
    times = (np.arange(len(phase)) + 0.5) / FEATURE_HZ
    first, last = int(np.ceil(phase[0])), int(np.floor(phase[-1]))
    marks = np.interp(np.arange(first, last + 1), phase, times)
    return Cycles((marks[1:] + marks[:-1]) / 2.0, 120.0 / np.diff(marks))


def _zero_deg(cycle_s: float, said: Said) -> tuple[float, float]:
    """The angle after top that is heard at the spark, and its sd; sound takes its time to the microphone."""
    advance, advance_sd = (10.0, 5.0) if said.advance_deg is None else (said.advance_deg, 2.0)
    distance, delay_sd = (0.5, 0.7) if said.mic_distance_m is None else (said.mic_distance_m, 0.25)
    degrees_a_ms = 0.720 / cycle_s
    delay_ms = distance / _SPEED_OF_SOUND_M_PER_MS + _ELECTRONICS_MS
    sd = float(np.sqrt(advance_sd**2 + (delay_sd * degrees_a_ms) ** 2 + 4.0))
    return -advance - delay_ms * degrees_a_ms, sd


def _placed(tick: Tick, sparks: Sparks | None, cycle_s: float, said: Said) -> PlacedTick:
    if sparks is None:
        return PlacedTick(tick, None, None, None)
    zero, sd = _zero_deg(cycle_s, said)
    at = float(np.mod(720.0 * tick.place + zero, sparks.every_deg))
    engine = said.engine
    if engine is None or not engine.valves or not engine.firing_order:
        return PlacedTick(tick, at, sd, None)
    return PlacedTick(tick, at, sd, tuple(valves_at(engine, at, sd, every_deg=sparks.every_deg)))


def _tracked(
    recording: Recording, known: Envelopes, clip: int | None, said: Said
) -> tuple[FloatArray, float, Sparks | None]:
    """The phase at 1000 Hz, how surely it is right, and the sparks that it is by."""
    firing, told = firing_of(said.engine), Told(said.rpm, said.revs_raised)
    rows = features(known)
    if clip is None:
        track = follow(rows, comb(rows, firing, told), firing)
        return track.phase, track.p_right, None
    marks = spark_times(recording.channel(clip), recording.rate_hz)
    cycles_hz = told.cycles_hz
    if said.rpm is None or said.revs_raised:
        cycles_hz = float(np.median(comb(rows, firing, told).cycles_hz))
    sparks = sparks_of(marks, cycles_hz, said.spark_every_deg)
    times = (np.arange(rows.shape[1]) + 0.5) / FEATURE_HZ
    return sparks.phase_at(times), 1.0, sparks


def _warnings(said: Said, rpm: Rpm, clipped: float, *, alike: bool) -> tuple[Warn, ...]:
    told: tuple[tuple[Warn, bool], ...] = (
        ("rpm-not-sure", rpm.p_right < 0.8),
        ("crank-speed-and-firing-alike", alike),
        ("clipped", clipped > _CLIPPED_SHARE),
        ("no-engine", said.engine is None),
        ("no-rpm", said.rpm is None),
    )
    return tuple(name for name, is_so in told if is_so)


def listen(recording: Recording, said: Said) -> Heard:
    """What a recording says.

    Raises:
        SoundFault: it is silent, has not the channel that was said, too few cycles, or no sparks on the clip.
    """
    levels = recording.levels()
    channel, clip = _channels(recording, said, levels)
    if float(levels[channel]) < _SILENT:
        raise SoundFault("silent", f"channel {channel + 1} is silent; was the microphone on?")
    sound = recording.channel(channel)
    peak = max(float(sound.max()), -float(sound.min()))
    limit = (1.0 - _CLIPPED_WITHIN) * peak
    clipped = (np.count_nonzero(sound >= limit) + np.count_nonzero(sound <= -limit)) / len(sound)
    # Two minutes are long: nothing of them is held on to.
    sound, rate_hz = at_needed_rate(sound, recording.rate_hz)
    spectrum = spectrum_of(sound, rate_hz)
    del sound
    known, firing = envelopes(spectrum), firing_of(said.engine)
    del spectrum
    phase, p_right, sparks = _tracked(recording, known, clip, said)
    rpm = _rpm(phase, recording.seconds, by_clip=sparks is not None, p_right=p_right)
    if rpm.cycles < _FEWEST_CYCLES:
        raise SoundFault(
            "too-few-cycles",
            f"it holds {max(rpm.cycles, 0)} whole cycles; {_FEWEST_CYCLES} are needed: record longer",
        )
    cycle_s = 120.0 / rpm.mean
    samples = len(known.bands[0].level_db)
    where = _where(phase, samples, places_for(cycle_s))
    found = evidence(sharp_parts(known, where, windows_for(cycle_s, firing.count)), firing)
    strange = unrelated(known, phase)
    of_all = findings(found, strange, firing, p_right=p_right)
    ticks: tuple[Tick, ...] = ()
    if of_all.half.p >= 0.5:
        ticks = ticks_of(found, cycle_s, _cycles(phase))
    return Heard(
        seconds=recording.seconds,
        rate_hz=recording.rate_hz,
        sound_channel=channel + 1,
        clipped_fraction=clipped,
        rpm=rpm,
        findings=of_all,
        answer=answer_of(of_all),
        strange=strange,
        ticks=tuple(_placed(tick, sparks, cycle_s, said) for tick in ticks),
        sparks=sparks,
        warnings=_warnings(said, rpm, clipped, alike=firing.each_turn),
        evidence=found,
        phase=phase,
        zero_deg=None if sparks is None else _zero_deg(cycle_s, said)[0],
    )


_SAME = "the same place of the microphone, the same speed and the same warmth"


def compare(before: Heard, after: Heard) -> Compared:
    """Whether the tick of one recording is gone in another; F-44 in docs/formulas.md."""
    p_half = before.findings.half.p
    tick = before.ticks[0].tick if before.ticks else None
    if p_half < 0.8 or tick is None:
        why = "The first recording does not surely hold a tick, so nothing can be said of its going."
        p_gone = 1.0 - p_half
        return Compared("cannot-tell", p_gone, 0.0, None, None, None, None, None, why, after)
    bands = after.evidence.bands
    band = next((one for one in bands if one.sharp.band.number == tick.band), bands[-1])
    y, variance, h = band.y, band.sharp.sigma**2, tick.strength_db
    heights = np.maximum(np.array([h - 3.0, h - 1.5, h, h + 1.5]), 0.5)
    logs = (y[None, :] * heights[:, None] - heights[:, None] ** 2 / 2.0) / variance[None, :]
    log_there = float(logsumexp(logs) - np.log(logs.size))
    log_there = float(np.clip(log_there, -_MOST_LOG, _MOST_LOG))
    p_gone = p_half / (1.0 + float(np.exp(log_there)))
    at = int((y / band.sharp.sigma).argmax())
    now = float(band.sharp.height[at])
    sd = float(np.hypot(tick.strength_sd_db, band.sharp.se[at]))
    change = now - h
    verdict: Verdict = "cannot-tell"
    if p_gone >= 0.8:
        verdict = "gone"
        why = f"Nothing of its strength is left anywhere in the cycle, given {_SAME}."
    elif p_half - p_gone >= 0.8:
        verdict = "still-there"
        if abs(change) > max(2.0, 2.0 * sd):
            verdict = "quieter" if change < 0.0 else "louder"
        why = f"A tick still stands out, given {_SAME}."
    else:
        why = f"What is left could be the tick or chance. Record longer, with {_SAME}."
    there = verdict in ("still-there", "quieter", "louder")
    return Compared(
        verdict,
        p_gone,
        -log_there / float(np.log(10.0)),
        h,
        now if there else None,
        change if there else None,
        sd if there else None,
        4.0 * float(np.median(band.sharp.sigma)),
        why,
        after,
    )
