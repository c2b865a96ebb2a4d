"""Sound recordings as they are kept: FLAC, named by their own hash, of at most two minutes.

WAV is read by the product itself. FLAC, OGG and MP3 are read by libsndfile; whatever else a telephone makes
(M4A, a video) by ffmpeg, where that is installed.
"""

import hashlib
import shutil
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import soundfile

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.faults import Code, SoundFault
from pronostico.core.sound.wav import LONGEST_S, Recording, read_wav
from pronostico.errors import Refused
from pronostico.limits import KEPT_SOUND_BYTES, MEGABYTE, SOUND_BYTES
from pronostico.record.faults import Fault
from pronostico.services.staging import flush_file

_MOST_CHANNELS = 8  # of FLAC
_SHORTEST_S, _LOWEST_RATE_HZ = 4.0, 8000
_BLOCK_FRAMES = 1 << 16
_FFMPEG_S = 60.0
_WHOLE_NUMBERS = ("PCM_", "DPCM", "ALAC")
_PATHS: dict[Code, str] = {
    "bad-rpm": "$.rpm",
    "no-such-channel": "$.clip",
    "no-sound-channel": "$.sound_channel",
    "no-sparks": "$.clip",
}


def refused(fault: SoundFault) -> Refused:
    """Why a recording cannot be used, with what of the request is wrong."""
    return Refused([Fault(_PATHS.get(fault.code, "$"), str(fault))])


def too_large() -> Refused:
    """What is said of a recording that is too large."""
    most = SOUND_BYTES // MEGABYTE
    return Refused([Fault("$", f"the recording is larger than {most} MB; two minutes are enough")])


class SoundFileRecording:
    """A recording in a file that libsndfile reads, piece by piece."""

    def __init__(self, path: Path) -> None:
        self._path = path
        with soundfile.SoundFile(path) as file:
            self.rate_hz, self.channels = file.samplerate, file.channels
            self._frames = min(file.frames, int(LONGEST_S * file.samplerate))
        self.seconds = self._frames / self.rate_hz

    def _pieces(self) -> Iterator[FloatArray]:
        with soundfile.SoundFile(self._path) as file:
            yield from file.blocks(_BLOCK_FRAMES, frames=self._frames, dtype="float32", always_2d=True)

    def levels(self) -> FloatArray:
        """The standard deviation of each channel."""
        total, squares, first = np.zeros(self.channels), np.zeros(self.channels), None
        for piece in self._pieces():
            first = piece[0].copy() if first is None else first
            # Counted from the first sample, so that a constant comes out as none.
            off = piece - first
            total += off.sum(axis=0, dtype=np.float64)
            squares += np.einsum("ij,ij->j", off, off, dtype=np.float64)
        return np.asarray(np.sqrt(np.maximum(squares / self._frames - (total / self._frames) ** 2, 0.0)))

    def channel(self, number: int) -> FloatArray:
        """The samples of a channel, counted from 0."""
        samples = np.zeros(self._frames, np.float32)
        at = 0
        for piece in self._pieces():
            samples[at : at + len(piece)] = piece[:, number]
            at += len(piece)
        return np.asarray(samples)


def open_kept(path: Path) -> Recording:
    """A recording that is kept.

    Raises:
        SoundFault: the file is damaged, or is none.
    """
    try:
        return SoundFileRecording(path)
    except soundfile.LibsndfileError as error:
        raise SoundFault("not-a-wav", f"the file of this recording cannot be read: {error}") from error


def _no_sound(why: str) -> SoundFault:
    return SoundFault("not-a-wav", why)


def _check_wav(path: Path) -> None:
    with path.open("rb") as stream:
        recording = read_wav(stream)
        # Whether all are numbers; of whole numbers nothing is read for it.
        recording.levels()


def _through_ffmpeg(path: Path, folder: Path) -> Path:
    """What ffmpeg makes of a file: its sound as WAV."""
    program = shutil.which("ffmpeg")
    if program is None:
        raise _no_sound(
            "this is no WAV, FLAC, OGG or MP3 file. For M4A and a phone's video, ffmpeg must be installed "
            "where Pronostico runs; otherwise save the recording as WAV"
        )
    made = folder / "decoded.wav"
    how = ["-vn", "-t", f"{LONGEST_S:g}", "-c:a", "pcm_s16le", "-f", "wav"]
    quiet = [program, "-nostdin", "-v", "error", "-protocol_whitelist", "file"]
    command = [*quiet, "-i", str(path), *how, str(made)]
    try:
        subprocess.run(command, check=True, capture_output=True, timeout=_FFMPEG_S)
    except (subprocess.SubprocessError, OSError) as error:
        raise _no_sound("this file holds no sound that can be read, or it is damaged") from error
    if not made.is_file():
        raise _no_sound("this file holds no sound that can be read")
    return made


def _readable(path: Path, folder: Path) -> Path:
    """The file, or what it is turned into, once it can be read to its end."""
    with path.open("rb") as stream:
        head = stream.read(12)
    if head[:4] == b"RIFF":
        _check_wav(path)
        return path
    try:
        soundfile.info(str(path))
    except soundfile.LibsndfileError:
        path = _through_ffmpeg(path, folder)
        _check_wav(path)
    return path


@dataclass(frozen=True, slots=True)
class SoundFile:
    """A recording ready to be kept: where it waits, the name it is to have, and what it is."""

    path: Path
    name: str
    seconds: float
    rate_hz: int
    channels: int


def _check(file: soundfile.SoundFile) -> None:
    seconds = file.frames / file.samplerate
    if file.samplerate < _LOWEST_RATE_HZ:
        raise SoundFault(
            "rate-too-low",
            f"it has {file.samplerate} samples a second; at least {_LOWEST_RATE_HZ} are needed",
        )
    if seconds < _SHORTEST_S:
        raise SoundFault("too-short", f"it is {seconds:.1f} s long; at least {_SHORTEST_S:g} s are needed")
    if file.channels > _MOST_CHANNELS:
        raise _no_sound(f"it has {file.channels} channels; at most {_MOST_CHANNELS} can be kept")


@contextmanager
def _opened(path: Path) -> Iterator[soundfile.SoundFile]:
    try:
        with soundfile.SoundFile(path) as file:
            yield file
    except soundfile.LibsndfileError as error:
        raise _no_sound(f"this file cannot be read: {error}") from error


def _peak(path: Path, frames: int) -> float:
    with _opened(path) as file:
        blocks = file.blocks(_BLOCK_FRAMES, frames=frames, dtype="float32", always_2d=True)
        return max((float(np.abs(block).max(initial=0.0)) for block in blocks), default=0.0)


def as_flac(path: Path, folder: Path) -> SoundFile:
    """A recording as it is kept, its first two minutes; lossless, but for samples of more than 24 bits.

    Args:
        path: the file that was sent.
        folder: a temporary folder, where the other is made.

    Raises:
        SoundFault: it is no recording that can be read, or none that is of use.
    """
    path = _readable(path, folder)
    made = folder / "kept.flac"
    with _opened(path) as file:
        _check(file)
        frames = min(file.frames, int(LONGEST_S * file.samplerate))
        whole = file.subtype.startswith(_WHOLE_NUMBERS)
        narrow = whole and file.subtype in ("PCM_S8", "PCM_U8", "PCM_16")
        # Numbers may go beyond full scale: brought within it, all alike.
        scale = 1.0 if whole else 1.0 / max(1.0, _peak(path, frames))
        subtype = "PCM_16" if narrow else "PCM_24"
        with soundfile.SoundFile(
            made, "w", file.samplerate, file.channels, subtype=subtype, format="FLAC"
        ) as kept:
            kind = "int32" if whole else "float64"
            for block in file.blocks(_BLOCK_FRAMES, frames=frames, dtype=kind, always_2d=True):
                kept.write(block if whole else block * scale)
        known = (frames / file.samplerate, file.samplerate, file.channels)
    if made.stat().st_size > KEPT_SOUND_BYTES:
        raise too_large()
    with made.open("rb") as stream:
        digest = hashlib.file_digest(stream, "sha256").hexdigest()
    return SoundFile(made, f"{digest}.flac", *known)


def put_in_place(file: SoundFile, folder: Path) -> None:
    """Keep a recording's file; one that is there already stays."""
    place = folder / file.name
    if place.is_file() and place.stat().st_size == file.path.stat().st_size:
        return
    folder.mkdir(parents=True, exist_ok=True)
    flush_file(file.path)
    file.path.replace(place)
