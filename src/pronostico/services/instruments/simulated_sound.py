"""The simulated microphone: a recording of the engine of a visit, as a WAV file."""

import hashlib
from dataclasses import dataclass
from io import BytesIO
from pathlib import Path

import numpy as np
import soundfile
from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.core.simulation.condition import Condition
from pronostico.core.simulation.noise import noise_of
from pronostico.core.sound.simulated import simulate_sound
from pronostico.services.engines.load import engine_record
from pronostico.services.instruments.simulated_engine import condition_at

SECONDS = 12.0
"""Ten seconds do; more says hardly more."""


def character_of(name: str) -> int:
    """What is one engine's own, by its name: heard again, it sounds the same."""
    return int.from_bytes(hashlib.sha256(name.encode()).digest()[:4])


@dataclass(frozen=True, slots=True)
class SimulatedRecording:
    """A WAV file, the speed that a code reader would show, and whether its second channel is the clip."""

    content: bytes
    rpm: int
    clip: bool


def as_wav(
    condition: Condition, rng: np.random.Generator, *, clip: bool, character: int, seconds: float = SECONDS
) -> SimulatedRecording:
    """The sound of a made-up engine; with an ignition clip on the second channel, where it has sparks."""
    sparks = clip and (condition.engine.fuel or "").strip().lower() != "diesel"
    scene = noise_of(condition, seconds=seconds, spark_every_deg=720 if sparks else None, character=character)
    made = simulate_sound(scene, rng)
    content = BytesIO()
    soundfile.write(content, made.samples.T, made.rate_hz, subtype="PCM_16", format="WAV")
    return SimulatedRecording(content.getvalue(), round(made.rpm), len(made.samples) > 1)


def simulated_recording(
    session: Session, database: Path, engine_id: str, visit_id: str, *, clip: bool, rng: np.random.Generator
) -> SimulatedRecording:
    """What a microphone would hear of the engine of a visit in its last known state.

    Raises:
        NotThere: there is no such engine or visit.
        ImpossibleValue: the engine's firing order is not known.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    condition = condition_at(database, record, visit)
    return as_wav(condition, rng, clip=clip, character=character_of(engine_id))
