"""The samples of a WAV file (RIFF, IBM and Microsoft 1991; WAVE_FORMAT_EXTENSIBLE, Microsoft 2001)."""

import struct
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.faults import SoundFault

LONGEST_S = 120.0
_SHORTEST_S, _LOWEST_RATE_HZ, _HIGHEST_RATE_HZ = 4.0, 8000, 768_000
_MOST_CHANNELS = 64
_PCM, _FLOAT, _EXTENSIBLE = 1, 3, 0xFFFE


@dataclass(frozen=True, slots=True)
class Recording:
    """Samples of full scale one, shape (channels, n); what is past two minutes is left out."""

    rate_hz: int
    samples: FloatArray

    @property
    def seconds(self) -> float:
        """How long it is."""
        return float(self.samples.shape[1] / self.rate_hz)


@dataclass(frozen=True, slots=True)
class _Format:
    tag: int
    channels: int
    rate_hz: int
    bits: int

    @property
    def frame(self) -> int:
        return self.channels * self.bits // 8


def _no_wav(why: str) -> SoundFault:
    return SoundFault("not-a-wav", f"this is not a WAV file that can be read: {why}")


def _chunks(content: bytes) -> Iterator[tuple[bytes, int, int]]:
    """Name, begin and end of every chunk, as far as the file goes: a header may promise more."""
    at = 12
    while at + 8 <= len(content):
        name, size = content[at : at + 4], struct.unpack_from("<I", content, at + 4)[0]
        end = min(at + 8 + size, len(content))
        yield name, at + 8, end
        at = at + 8 + size + size % 2


def _format(content: bytes, begin: int, end: int) -> _Format:
    if end - begin < 16:
        raise _no_wav("its format is cut off")
    tag, channels, rate_hz, _, _, bits = struct.unpack_from("<HHIIHH", content, begin)
    if tag == _EXTENSIBLE and end - begin >= 26:
        tag = struct.unpack_from("<H", content, begin + 24)[0]
    known = bits in (8, 16, 24, 32) if tag == _PCM else tag == _FLOAT and bits in (32, 64)
    if not known:
        raise _no_wav(f"samples of kind {tag} with {bits} bits; PCM of 8 to 32 bits or floats are read")
    if not 1 <= channels <= _MOST_CHANNELS:
        raise _no_wav(f"it has {channels} channels")
    if rate_hz > _HIGHEST_RATE_HZ:
        raise _no_wav(f"it has {rate_hz} samples a second")
    if rate_hz < _LOWEST_RATE_HZ:
        raise SoundFault(
            "rate-too-low", f"it has {rate_hz} samples a second; at least {_LOWEST_RATE_HZ} are needed"
        )
    return _Format(tag, channels, rate_hz, bits)


def _samples(data: bytes, how: _Format) -> FloatArray:
    if how.tag == _FLOAT:
        flat = np.frombuffer(data, "<f4" if how.bits == 32 else "<f8").astype(np.float64)
    elif how.bits == 8:
        flat = (np.frombuffer(data, np.uint8).astype(np.float64) - 128.0) / 128.0
    elif how.bits == 24:
        wide = np.zeros((len(data) // 3, 4), np.uint8)
        wide[:, 1:] = np.frombuffer(data, np.uint8).reshape(-1, 3)
        flat = wide.view("<i4")[:, 0].astype(np.float64) / 2.0**31
    else:
        scale = 2.0 ** (how.bits - 1)
        flat = np.frombuffer(data, "<i2" if how.bits == 16 else "<i4").astype(np.float64) / scale
    return np.ascontiguousarray(flat.reshape(-1, how.channels).T)


def read_wav(content: bytes) -> Recording:
    """The recording of a WAV file.

    Raises:
        SoundFault: it is none, its rate is too low, it is too short, or it holds what is no number.
    """
    if len(content) < 12 or content[:4] != b"RIFF" or content[8:12] != b"WAVE":
        raise _no_wav("it does not begin like one")
    how: _Format | None = None
    for name, begin, end in _chunks(content):
        if name == b"fmt ":
            how = _format(content, begin, end)
        elif name == b"data":
            if how is None:
                raise _no_wav("its samples come before their format")
            frames = min((end - begin) // how.frame, int(LONGEST_S * how.rate_hz))
            recording = Recording(how.rate_hz, _samples(content[begin : begin + frames * how.frame], how))
            if recording.seconds < _SHORTEST_S:
                raise SoundFault(
                    "too-short",
                    f"it is {recording.seconds:.1f} s long; at least {_SHORTEST_S:g} s are needed",
                )
            if not np.isfinite(recording.samples).all():
                raise SoundFault("not-finite", "it holds samples that are no numbers")
            return recording
    raise _no_wav("it has no samples" if how is not None else "its format is missing")
