"""Sound recordings of a visit: from the record to the computation, and what is drawn of one."""

from pronostico.analysis import sound_words
from pronostico.analysis.crank_plan import events_of, firing_of
from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.sound_report import BecameOut, SoundOut, became_out, sound_out
from pronostico.core.errors import ImpossibleValue
from pronostico.core.sound.engine import SoundEngine, SoundValve
from pronostico.core.sound.listen import Compared, Heard, PlacedTick, Said
from pronostico.core.sound.picture import SoundPicture
from pronostico.language import Text
from pronostico.record.engine import EngineModel
from pronostico.record.sound import (
    HeardFinding,
    HeardTick,
    HeardValve,
    HowRecorded,
    WhatIsHeard,
)
from pronostico.record.visit import VisitModel

# From here on a tick is compared at all.
_HOLDS_A_TICK = 0.8


def sound_engine_of(engine: EngineModel) -> SoundEngine:
    """An engine as the sound computation sees it: as far as its firing order is known.

    Raises:
        SoundFault: its firing cannot be.
    """
    valves = tuple(SoundValve(one.id, one.cylinder, one.side) for one in engine.valves)
    cylinders = sorted({one.cylinder for one in engine.valves})
    order = tuple(engine.firing_order or (cylinders if len(cylinders) == 1 else ()))
    intervals = engine.firing_intervals_deg if order else None
    events = None
    if engine.events_deg is not None:
        events = {side: (one.opens_deg, one.closes_deg) for side, one in events_of(engine).items()}
    return SoundEngine(order, None if intervals is None else tuple(intervals), valves, events)


def said_of(how: HowRecorded, engine: EngineModel) -> Said:
    """What was known beside a recording.

    Raises:
        SoundFault: the engine's firing, or the speed, cannot be.
    """
    return Said(
        rpm=how.rpm,
        engine=sound_engine_of(engine),
        clip=how.clip,
        sound=how.sound_channel,
        spark_every_deg=how.spark_every_deg,
        advance_deg=how.advance_deg,
        mic_distance_m=how.mic_distance_m,
        revs_raised=how.revs_raised,
    )


def _tick(one: PlacedTick) -> HeardTick:
    valves = [HeardValve(id=valve.id, p=valve.p, event=valve.event) for valve in one.valves or ()]
    return HeardTick(
        strength_db=one.tick.strength_db, at_deg=one.at_deg, at_sd_deg=one.at_sd_deg, valves=valves
    )


def what_is_heard(heard: Heard) -> WhatIsHeard:
    """What a recording says, as the record keeps it."""
    out = sound_out(heard)
    return WhatIsHeard(
        answer=out.answer,
        findings={name: HeardFinding(p=one.p, log10_lr=one.log10_lr) for name, one in out.findings.items()},
        rpm=out.rpm.mean,
        all_alike=out.all_alike,
        ticks=[_tick(one) for one in heard.ticks],
        warnings=out.warnings,
    )


def lines_of(heard: WhatIsHeard) -> list[str]:
    """All that is said of a recording beside the answer, line by line."""
    ticks = [
        sound_words.tick_words(one.strength_db, one.at_deg, one.at_sd_deg, one.valves) for one in heard.ticks
    ]
    return [*ticks, *sound_words.finding_words(heard.findings), *sound_words.alike_words(heard.all_alike)]


class FoldedBandOut(ReportModel):
    """How far a band stands out along one cycle, dB, from phase 0 on; `pooled`: of all high bands."""

    low_hz: float
    high_hz: float
    pooled: bool
    height_db: list[float]


class PlacedTickOut(ReportModel):
    """Where in the cycle a tick is, 0 to 1 from phase 0, and how strong it is.

    `sd_deg`: how well its angle is known, or without a clip how far it wanders; null where neither is known.
    `valve`: the likeliest.
    """

    place: float
    sd_deg: float | None
    strength_db: float
    valve: str | None


class CycleOut(ReportModel):
    """One cycle of 720 degrees. `zero_deg`: the angle of phase 0 after cylinder 1 at top on compression.

    Null without an ignition clip: then nothing says where in the cycle a cylinder fires.
    """

    zero_deg: float | None
    bands: list[FoldedBandOut]
    ticks: list[PlacedTickOut]


class CylinderFiresOut(ReportModel):
    """When a cylinder is at its top on compression, degrees after cylinder 1."""

    cylinder: int
    at_deg: float


class ValveEventOut(ReportModel):
    """When a valve opens or closes, degrees after cylinder 1 at top on compression."""

    valve: str
    cylinder: int
    side: str
    event: str
    at_deg: float


class SpectrogramOut(ReportModel):
    """The sound over time: dB below its loudest, a row for each range of frequencies, from low to high."""

    seconds: float
    edges_hz: list[float]
    level_db: list[list[int]]


class SpeedOut(ReportModel):
    """The crank's speed that was followed."""

    at_s: float
    rpm: float


class SpanOut(ReportModel):
    """A part of a recording."""

    begin_s: float
    end_s: float


class SoundPictureOut(ReportModel):
    """A recording drawn, beside what it says; `before`: the recording that it is compared with."""

    said: SoundOut
    says: Text
    lines: list[Text]
    warnings: list[Text]
    became: BecameOut | None
    became_says: Text | None
    cycle: CycleOut
    before: CycleOut | None
    firing: list[CylinderFiresOut]
    events: list[ValveEventOut]
    usual_events: bool
    spectrogram: SpectrogramOut
    speed: list[SpeedOut]
    one_cycle_s: SpanOut


def cycle_out(heard: Heard, drawn: SoundPicture) -> CycleOut:
    """One cycle of a recording."""
    return CycleOut(
        zero_deg=heard.zero_deg,
        bands=[
            FoldedBandOut(
                low_hz=one.low_hz,
                high_hz=one.high_hz,
                pooled=one.pooled,
                height_db=[round(float(height), 2) for height in one.height_db],
            )
            for one in drawn.bands
        ],
        ticks=[
            PlacedTickOut(
                place=one.tick.place,
                sd_deg=one.tick.jitter_deg if one.at_sd_deg is None else one.at_sd_deg,
                strength_db=one.tick.strength_db,
                valve=one.valves[0].id if one.valves else None,
            )
            for one in heard.ticks
        ],
    )


def _events(engine: EngineModel) -> tuple[list[CylinderFiresOut], list[ValveEventOut]]:
    try:
        angles = firing_of(engine).angle_deg
    except ImpossibleValue:
        return [], []
    known = events_of(engine)
    events = [
        ValveEventOut(
            valve=valve.id,
            cylinder=valve.cylinder,
            side=valve.side,
            event=event,
            at_deg=(angles[valve.cylinder] + deg) % 720.0,
        )
        for valve in engine.valves
        if valve.cylinder in angles
        for event, deg in (
            ("opens", known[valve.side].opens_deg),
            ("closes", known[valve.side].closes_deg),
        )
    ]
    fires = [CylinderFiresOut(cylinder=cylinder, at_deg=deg) for cylinder, deg in angles.items()]
    return sorted(fires, key=lambda one: one.at_deg), events


def picture_out(
    engine: EngineModel,
    heard: Heard,
    drawn: SoundPicture,
    *,
    compared: Compared | None = None,
    before: CycleOut | None = None,
) -> SoundPictureOut:
    """A recording drawn.

    Args:
        compared: what became of the tick of the recording before, whose cycle `before` is.
    """
    firing, events = _events(engine)
    out = sound_out(heard)
    spectrogram, speed = drawn.spectrogram, drawn.speed
    return SoundPictureOut(
        said=out,
        says=sound_words.headline(out.answer),
        lines=lines_of(what_is_heard(heard)),
        warnings=sound_words.warning_words(out.warnings),
        became_says=None if compared is None else sound_words.became_words(compared.verdict, compared.p_gone),
        became=None if compared is None else became_out(compared),
        cycle=cycle_out(heard, drawn),
        before=before,
        firing=firing,
        events=events,
        usual_events=engine.events_deg is None,
        spectrogram=SpectrogramOut(
            seconds=spectrogram.seconds,
            edges_hz=[round(float(hz), 1) for hz in spectrogram.edges_hz],
            level_db=[[round(float(db)) for db in row] for row in spectrogram.level_db],
        ),
        speed=[
            SpeedOut(at_s=float(at), rpm=float(rpm)) for at, rpm in zip(speed.at_s, speed.rpm, strict=True)
        ],
        one_cycle_s=SpanOut(begin_s=drawn.cycle_s[0], end_s=drawn.cycle_s[1]),
    )


def newest_before(visit: VisitModel, but: str) -> str | None:
    """The recording before setting to compare one with: the last that holds a tick, else the last of all.

    None without any.
    """
    found = [one for one in visit.recordings if one.phase == "found" and one.id != but and one.file]
    ticking = [one for one in found if one.heard.findings["sound-half-speed"].p >= _HOLDS_A_TICK]
    return max(ticking or found, key=lambda one: one.at).id if found else None
