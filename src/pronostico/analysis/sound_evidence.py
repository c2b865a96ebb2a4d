"""What sound recordings of a visit are evidence for: by likelihood ratios, never by probabilities.

All of it is one witness (a family of findings), and it stands where a valve is named. F-45 in
docs/formulas.md.
"""

from collections.abc import Iterator, Sequence

from pronostico.core.causes.model import Evidence
from pronostico.core.causes.places import ENGINE_WIDE, Place
from pronostico.record.engine import EngineModel
from pronostico.record.sound import SOUND_FINDINGS, SoundRecording, WhatIsHeard
from pronostico.record.visit import VisitModel

_HALF, _ALIKE = "sound-half-speed", "sound-all-alike"
FROM_RECORDINGS = frozenset((*SOUND_FINDINGS, _ALIKE))
"""What a recording says better than an ear: where there is one, what was noted by ear does not count."""
_ALIKE_FROM = 0.8
_MOST_LOG10 = 2.0
_CANNOT_TELL = "cannot-tell"


def presence_of(log10_ratio: float) -> float:
    """A likelihood ratio as how surely a finding is there: it then weighs just that much.

    Virtual evidence (Pearl 1988, section 2.2.2): a finding that is present with probability q has the ratio
    q / (1 - q) for it.

    >>> presence_of(0.0), round(presence_of(1.0), 3)
    (0.5, 0.909)
    """
    bounded = min(max(log10_ratio, -_MOST_LOG10), _MOST_LOG10)
    return float(1.0 / (1.0 + 10.0**-bounded))


def ratio_of_place(p_valve: float, valves: int) -> float:
    """How much likelier a tick is heard so if it is at a valve than if it is at another, all alike before.

    >>> round(ratio_of_place(0.5, 8), 1)
    7.0
    """
    return p_valve * (valves - 1) / max(1.0 - p_valve, 1e-9)


def speaking(recordings: Sequence[SoundRecording]) -> SoundRecording | None:
    """The recording of a visit that counts: the last before setting that says anything; None without one."""
    told = [one for one in recordings if one.phase == "found" and one.heard.answer != _CANNOT_TELL]
    return max(told, key=lambda one: one.at) if told else None


def _shares(heard: WhatIsHeard, engine: EngineModel) -> dict[str, float]:
    """How likely each valve is the one that ticks, of the ticks the likeliest; empty where none is named."""
    named: dict[str, float] = {}
    for tick in heard.ticks:
        for valve in tick.valves:
            named[valve.id] = max(named.get(valve.id, 0.0), valve.p)
    others = [one.id for one in engine.valves if one.id not in named]
    if not named:
        return {}
    left = max(1.0 - sum(named.values()), 0.0)
    return {**named, **{valve: left / len(others) for valve in others}}


def _half_speed(heard: WhatIsHeard, engine: EngineModel) -> Iterator[Evidence]:
    log10_ratio = heard.findings[_HALF].log10_lr
    if heard.all_alike is not None and heard.all_alike >= _ALIKE_FROM:
        # Usual for solid lifters, and no evidence of any one valve.
        yield Evidence(_ALIKE, ENGINE_WIDE, presence_of(log10_ratio))
        return
    shares = _shares(heard, engine) if log10_ratio > 0.0 else {}
    if len(shares) < 2:
        yield Evidence(_HALF, ENGINE_WIDE, presence_of(log10_ratio))
        return
    for valve, share in shares.items():
        ratio = ratio_of_place(share, len(shares))
        # There has to be a tick, and it has to be there.
        presence = min(presence_of(log10_ratio), ratio / (1.0 + ratio))
        yield Evidence(_HALF, Place(valve=valve), max(presence, presence_of(-_MOST_LOG10)))


def sound_evidence(visit: VisitModel, engine: EngineModel) -> Iterator[Evidence]:
    """What the recording of a visit that counts is evidence for; nothing where it cannot tell."""
    recording = speaking(visit.recordings)
    if recording is None:
        return
    heard = recording.heard
    if _HALF in heard.findings:
        yield from _half_speed(heard, engine)
    for finding in SOUND_FINDINGS:
        if finding != _HALF and finding in heard.findings:
            yield Evidence(finding, ENGINE_WIDE, presence_of(heard.findings[finding].log10_lr))
