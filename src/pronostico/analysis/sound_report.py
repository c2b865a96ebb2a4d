"""What a recording says, as it leaves the product: for the command line, for pages, for the case."""

import json
from typing import Annotated, Any, Literal

from pydantic import Field

from pronostico.analysis.report_model import ReportModel
from pronostico.core.sound.engine import SoundEngine, SoundValve
from pronostico.core.sound.faults import SoundFault
from pronostico.core.sound.folded import folded
from pronostico.core.sound.listen import Compared, Heard, PlacedTick
from pronostico.core.sound.probabilities import Finding
from pronostico.core.sound.ticks import Slope
from pronostico.core.sound.verdict import Verdict
from pronostico.record.sound import SOUND_FINDINGS


class SoundInputOut(ReportModel):
    """The recording: how long, at what rate, which channel was the sound, how much of it was clipped."""

    seconds: float
    rate_hz: int
    sound_channel: int
    clipped_fraction: float


class SoundRpmOut(ReportModel):
    """The crank's speed, rpm; `per_minute`: its drift. `p_right`: that it is not another one."""

    mean: float
    sd: float
    low: float
    high: float
    per_minute: float
    cycles: int
    p_right: float
    by: Literal["sound", "clip"]


class SoundFindingOut(ReportModel):
    """How likely with its usual prior; the likelihood ratio alone, as a power of ten, is the evidence."""

    p: float
    log10_lr: float


class UnrelatedAtOut(ReportModel):
    """How often the noise of its own comes, per turn and a second, and what it keeps time with."""

    per_turn: float
    hz: float
    follows: Literal["crank", "clock"]


class WithRpmOut(ReportModel):
    """How a tick's strength changes with ten per cent more speed, dB."""

    db_per_10_percent: float
    sd_db_per_10_percent: float
    verdict: str


class TickTrendOut(ReportModel):
    """How a tick's strength changes, dB a minute; `with_rpm`: null where the speed hardly changed."""

    db_per_min: float
    sd_db_per_min: float
    verdict: str
    with_rpm: WithRpmOut | None


class TickValveOut(ReportModel):
    """A valve that opens or closes where the tick is, and how likely it is that one."""

    id: str
    p: float
    event: Literal["opens", "closes"]


class TickOut(ReportModel):
    """One tick; `at_deg`: after cylinder 1 at top on compression, null without an ignition clip."""

    at_deg: float | None
    at_sd_deg: float | None
    strength_db: float
    strength_sd_db: float
    band_hz: Annotated[list[float], Field(min_length=2, max_length=2)]
    jitter_deg: float | None
    trend: TickTrendOut
    valves: list[TickValveOut] | None


class SoundPhaseOut(ReportModel):
    """What the angles are counted from; `told_otherwise`: otherwise than is found."""

    reference: Literal["spark"]
    spark_every_deg: Literal[360, 720]
    told_otherwise: bool


class BecameOut(ReportModel):
    """What became of the tick after setting; strengths in dB, null where there is none."""

    verdict: Verdict
    p_gone: float
    log10_lr_gone: float
    before_db: float | None
    after_db: float | None
    change_db: float | None
    sd_db: float | None
    smallest_db_seen: float | None
    why: str


class ComparedOut(BecameOut):
    """The same, with all that the recording after setting says."""

    after: "SoundOut"


class SoundOut(ReportModel):
    """What a recording says."""

    format: Literal["pronostico/sound"] = "pronostico/sound"
    version: Literal[1] = 1
    input: SoundInputOut
    rpm: SoundRpmOut
    answer: str
    findings: dict[str, SoundFindingOut]
    all_alike: float | None
    unrelated_at: UnrelatedAtOut | None
    ticks: list[TickOut]
    phase: SoundPhaseOut | None
    warnings: list[str]
    compare: ComparedOut | None = Field(default=None)


def _finding(one: Finding) -> SoundFindingOut:
    return SoundFindingOut(p=one.p, log10_lr=one.log10_ratio)


def _trend(over_time: Slope, with_rpm: Slope | None) -> TickTrendOut:
    return TickTrendOut(
        db_per_min=over_time.db,
        sd_db_per_min=over_time.sd_db,
        verdict=over_time.verdict,
        with_rpm=None
        if with_rpm is None
        else WithRpmOut(
            db_per_10_percent=with_rpm.db, sd_db_per_10_percent=with_rpm.sd_db, verdict=with_rpm.verdict
        ),
    )


def _tick(one: PlacedTick) -> TickOut:
    tick = one.tick
    return TickOut(
        at_deg=one.at_deg,
        at_sd_deg=one.at_sd_deg,
        strength_db=tick.strength_db,
        strength_sd_db=tick.strength_sd_db,
        band_hz=list(tick.band_hz),
        jitter_deg=tick.jitter_deg,
        trend=_trend(tick.over_time, tick.with_rpm),
        valves=None
        if one.valves is None
        else [TickValveOut(id=valve.id, p=valve.p, event=valve.event) for valve in one.valves],
    )


def sound_out(heard: Heard, compared: Compared | None = None) -> SoundOut:
    """What was heard on its way out."""
    known, strange = heard.findings, heard.strange
    found = zip(SOUND_FINDINGS, (known.half, known.crank, known.unrelated), strict=True)
    sparks = heard.sparks
    return SoundOut(
        input=SoundInputOut(
            seconds=heard.seconds,
            rate_hz=heard.rate_hz,
            sound_channel=heard.sound_channel,
            clipped_fraction=heard.clipped_fraction,
        ),
        rpm=SoundRpmOut.model_validate(heard.rpm),
        answer=heard.answer,
        findings={name: _finding(one) for name, one in found},
        all_alike=known.alike,
        unrelated_at=UnrelatedAtOut(per_turn=strange.per_turn, hz=strange.hz, follows=strange.follows)
        if strange.per_turn > 0.0
        else None,
        ticks=[_tick(one) for one in heard.ticks],
        phase=None
        if sparks is None
        else SoundPhaseOut(
            reference="spark", spark_every_deg=sparks.every_deg, told_otherwise=sparks.told_otherwise
        ),
        warnings=list(heard.warnings),
        compare=None if compared is None else _compared(compared),
    )


def folded_of(heard: Heard, count: int = 72) -> list[float]:
    """How far the highest band stands out along the cycle, dB: the greatest of each part."""
    return [float(one) for one in folded(heard.evidence.bands[-1].sharp.height, count)]


def became_out(one: Compared) -> BecameOut:
    """What became of a tick."""
    return BecameOut(
        verdict=one.verdict,
        p_gone=one.p_gone,
        log10_lr_gone=one.log10_ratio_gone,
        before_db=one.before_db,
        after_db=one.after_db,
        change_db=one.change_db,
        sd_db=one.sd_db,
        smallest_db_seen=one.smallest_db_seen,
        why=one.why,
    )


def _compared(one: Compared) -> ComparedOut:
    return ComparedOut(**became_out(one).model_dump(), after=sound_out(one.after))


def _bad(why: str) -> SoundFault:
    return SoundFault("bad-engine", f"the engine cannot be used: {why}")


def _figures(values: object, what: str) -> tuple[float, ...]:
    if not isinstance(values, list) or not all(
        isinstance(one, int | float) and not isinstance(one, bool) for one in values
    ):
        raise _bad(f"{what} must be a list of numbers")
    return tuple(float(one) for one in values)


def _valves(document: dict[str, Any]) -> tuple[SoundValve, ...]:
    valves = document.get("valves") or []
    if not isinstance(valves, list):
        raise _bad("valves must be a list")
    found = []
    for one in valves:
        if not isinstance(one, dict) or one.get("side") not in ("intake", "exhaust"):
            raise _bad("each valve needs an id, a cylinder, and a side, intake or exhaust")
        cylinder = one.get("cylinder")
        if not isinstance(cylinder, int) or isinstance(cylinder, bool) or not isinstance(one.get("id"), str):
            raise _bad("each valve needs an id, a cylinder, and a side, intake or exhaust")
        found.append(SoundValve(one["id"], cylinder, one["side"]))
    return tuple(found)


def engine_of_json(text: bytes | str) -> SoundEngine:
    """The engine of a record, or an engine alone; only what the sound needs is looked at.

    Raises:
        SoundFault: it is no JSON, or what it says of the firing cannot be.
    """
    try:
        document = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise _bad("it is no JSON") from error
    if not isinstance(document, dict):
        raise _bad("expected a record, or its engine")
    inner = document.get("engine", document)
    if not isinstance(inner, dict):
        raise _bad("expected a record, or its engine")
    return sound_engine(inner)


def sound_engine(document: dict[str, Any]) -> SoundEngine:
    """The engine of a record as the sound computation sees it.

    Raises:
        SoundFault: what it says of the firing cannot be.
    """
    order = document.get("firing_order") or []
    steps = _figures(order, "firing_order")
    if any(step != int(step) or step < 1 for step in steps) or len(set(steps)) != len(steps):
        raise _bad("firing_order must name each cylinder once")
    intervals = document.get("firing_intervals_deg")
    events = document.get("events_deg")
    of_sides = None
    if events is not None:
        if not isinstance(events, dict):
            raise _bad("events_deg must have intake and exhaust, an opening and a closing each")
        of_sides = {}
        for side in ("intake", "exhaust"):
            pair = _figures(events.get(side), f"events_deg.{side}")
            if len(pair) != 2:
                raise _bad("events_deg must have intake and exhaust, an opening and a closing each")
            of_sides[side] = (pair[0], pair[1])
    return SoundEngine(
        tuple(int(step) for step in steps),
        None if intervals is None else _figures(intervals, "firing_intervals_deg"),
        _valves(document),
        None if of_sides is None else {"intake": of_sides["intake"], "exhaust": of_sides["exhaust"]},
    )
