"""A sound recording made at a visit: how it was made, what it says, and what became of a tick after setting.

The sound itself is a file beside the database; a record that goes elsewhere keeps what was heard.
"""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from pronostico.core.sound.verdict import Verdict
from pronostico.core.visits import Phase
from pronostico.record.base import AngleDeg, Fraction, Identifier, ListOf, MapOf, RecordModel

SoundFinding = Literal["sound-half-speed", "sound-crank-speed", "sound-unrelated"]
SOUND_FINDINGS: tuple[SoundFinding, ...] = ("sound-half-speed", "sound-crank-speed", "sound-unrelated")
SOUND_FILE = r"^[0-9a-f]{64}\.flac$"
SoundFileName = Annotated[str, Field(pattern=SOUND_FILE)]
Channel = Annotated[int, Field(ge=1, le=64)]
Rpm = Annotated[float, Field(ge=200, le=9000)]
Db = Annotated[float, Field(ge=-200, le=200)]


class HowRecorded(RecordModel):
    """What was known beside a recording; null where it was not.

    `clip`, `sound_channel`: channels, from 1. `spark_every_deg`: between sparks on the clip. `advance_deg`:
    of the spark before top. `mic_distance_m`: from the engine to the microphone. `revs_raised`: `rpm` is the
    speed at the start, and was then raised.
    """

    rpm: Rpm | None = None
    clip: Channel | None = None
    sound_channel: Channel | None = None
    spark_every_deg: Literal[360, 720] | None = None
    advance_deg: Annotated[float, Field(ge=-60, le=90)] | None = None
    mic_distance_m: Annotated[float, Field(gt=0, le=20)] | None = None
    revs_raised: bool = False


class HeardFinding(RecordModel):
    """How likely with its usual prior; the likelihood ratio alone, as a power of ten, is the evidence."""

    p: Fraction
    log10_lr: Annotated[float, Field(ge=-10, le=10)]


class HeardValve(RecordModel):
    """A valve that opens or closes where a tick is, and how likely it is that one."""

    id: Identifier
    p: Fraction
    event: Literal["opens", "closes"]


class HeardTick(RecordModel):
    """A tick; `at_deg`: after cylinder 1 at top on compression, null without an ignition clip."""

    strength_db: Db
    at_deg: AngleDeg | None = None
    at_sd_deg: AngleDeg | None = None
    valves: ListOf[HeardValve] = []


class WhatIsHeard(RecordModel):
    """What a recording says. `rpm`: the speed that was followed; `all_alike`: null where unknown."""

    answer: Annotated[str, Field(max_length=60)]
    findings: MapOf[HeardFinding]
    rpm: Annotated[float, Field(ge=0, le=20_000)]
    all_alike: Fraction | None = None
    ticks: ListOf[HeardTick] = []
    warnings: ListOf[str] = []


class HeardAfter(RecordModel):
    """What became of the tick of an earlier recording of the visit; `before`: that one."""

    before: Identifier
    verdict: Verdict
    p_gone: Fraction


class SoundRecording(RecordModel):
    """A recording. `phase`: made before or after the valves were set. `file`: null once it was deleted."""

    id: Identifier
    at: Annotated[datetime, Field(strict=False)]
    phase: Phase
    file: SoundFileName | None = None
    seconds: Annotated[float, Field(gt=0, le=100_000)]
    rate_hz: Annotated[int, Field(ge=1, le=1_000_000)]
    channels: Channel
    simulated: bool = False
    note: Annotated[str, Field(max_length=500)] = ""
    how: HowRecorded
    heard: WhatIsHeard
    after: HeardAfter | None = None
