"""The samples of a WAV file (RIFF, IBM and Microsoft 1991; WAVE_FORMAT_EXTENSIBLE, Microsoft 2001)."""

import struct
from collections.abc import Iterator
from dataclasses import dataclass
from typing import BinaryIO, Protocol

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.faults import SoundFault

LONGEST_S = 120.0
_SHORTEST_S, _LOWEST_RATE_HZ, _HIGHEST_RATE_HZ = 4.0, 8000, 768_000
_MOST_CHANNELS = 64
_PIECE_FRAMES = 65_536
_SAMPLED_FRAMES, _EVERY = 4096, 7  # so many frames, and then none until seven times as many are past
_HARDLY_A_SOUND = 1e-3
_PCM, _FLOAT, _EXTENSIBLE = 1, 3, 0xFFFE


class Recording(Protocol):
    """A recording, channel by channel; full scale is one, and what is past two minutes is left out."""

    rate_hz: int
    seconds: float
    channels: int

    def levels(self) -> FloatArray:
        """The standard deviation of each channel, shape (channels,)."""
        ...

    def channel(self, number: int) -> FloatArray:
        """The samples of a channel, counted from 0; shape (n,)."""
        ...


class Samples:
    """A recording that is there as an array, shape (channels, n)."""

    def __init__(self, rate_hz: int, samples: FloatArray) -> None:
        self.rate_hz = rate_hz
        self.samples = samples
        self.channels = len(samples)
        self.seconds = samples.shape[1] / rate_hz

    def levels(self) -> FloatArray:
        """The standard deviation of each channel."""
        return np.asarray(self.samples.std(axis=1))

    def channel(self, number: int) -> FloatArray:
        """The samples of a channel."""
        return np.asarray(self.samples[number])


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


def _chunks(stream: BinaryIO, length: int) -> Iterator[tuple[bytes, int, int]]:
    """Name, begin and end of every chunk, as far as the file goes: a header may promise more."""
    at = 12
    while at + 8 <= length:
        stream.seek(at)
        head = stream.read(8)
        name, size = head[:4], struct.unpack_from("<I", head, 4)[0]
        yield name, at + 8, min(at + 8 + size, length)
        at = at + 8 + size + size % 2


def _format(content: bytes) -> _Format:
    if len(content) < 16:
        raise _no_wav("its format is cut off")
    tag, channels, rate_hz, _, _, bits = struct.unpack_from("<HHIIHH", content)
    if tag == _EXTENSIBLE and len(content) >= 26:
        tag = struct.unpack_from("<H", content, 24)[0]
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


_KINDS: dict[tuple[int, int], str] = {
    (_PCM, 8): "u1",
    (_PCM, 16): "<i2",
    (_PCM, 32): "<i4",
    (_FLOAT, 32): "<f4",
    (_FLOAT, 64): "<f8",
}


def _column(data: bytes, how: _Format, number: int) -> FloatArray:
    """One channel of interleaved samples, in single precision: it holds 24 bits."""
    frames, size = len(data) // how.frame, how.bits // 8
    at, step = number * size, how.frame
    if how.bits == 24:
        # Four bytes from the one before on: what is of its neighbour is taken out again.
        ahead = np.ndarray((frames,), "<i4", buffer=b"\x00" + data, offset=at, strides=(step,))
        return np.asarray((ahead & -256).astype(np.float32) * np.float32(2.0**-31))
    own = np.ndarray((frames,), _KINDS[how.tag, how.bits], buffer=data, offset=at, strides=(step,)).astype(
        np.float32
    )
    if how.tag == _FLOAT:
        return np.asarray(own)
    if how.bits == 8:
        return np.asarray((own - np.float32(128.0)) / np.float32(128.0))
    return np.asarray(own / np.float32(2.0 ** (how.bits - 1)))


class WavFile:
    """A recording in a file, read piece by piece: two minutes of many channels are much."""

    def __init__(self, stream: BinaryIO, how: _Format, begin: int, frames: int) -> None:
        self._stream, self._how, self._begin, self._frames = stream, how, begin, frames
        self.rate_hz = how.rate_hz
        self.channels = how.channels
        self.seconds = frames / how.rate_hz

    def _pieces(self, *, sampled: bool = False) -> Iterator[bytes]:
        """The samples piece by piece; sampled: a seventh of them."""
        most, step = (_SAMPLED_FRAMES, _SAMPLED_FRAMES * _EVERY) if sampled else (_PIECE_FRAMES,) * 2
        for at in range(0, self._frames, step):
            self._stream.seek(self._begin + at * self._how.frame)
            yield self._stream.read(min(self._frames - at, most) * self._how.frame)

    def levels(self) -> FloatArray:
        """The standard deviation of each channel; of whole numbers a seventh is enough to tell it.

        Raises:
            SoundFault: a sample is no number.
        """
        if self._how.tag == _FLOAT:
            return self._levels()
        some = self._levels(sampled=True)
        # What is as good as silent in these is looked at whole.
        return some if float(some.min()) > _HARDLY_A_SOUND else self._levels()

    def _levels(self, *, sampled: bool = False) -> FloatArray:
        first: list[np.float32] = []
        count = 0
        total, squares = np.zeros(self.channels), np.zeros(self.channels)
        for data in self._pieces(sampled=sampled):
            for number in range(self.channels):
                own = _column(data, self._how, number)
                count += len(own) if number == 0 else 0
                if self._how.tag == _FLOAT and not np.isfinite(own).all():
                    raise SoundFault("not-finite", "it holds samples that are no numbers")
                if len(first) <= number:
                    first.append(own[0])
                # Counted from the first sample, so that a constant comes out as none.
                off = own - first[number]
                total[number] += off.sum(dtype=np.float64)
                squares[number] += float(np.dot(off, off))
        mean = total / count
        return np.asarray(np.sqrt(np.maximum(squares / count - mean**2, 0.0)))

    def channel(self, number: int) -> FloatArray:
        """The samples of a channel."""
        samples = np.empty(self._frames, np.float32)
        at = 0
        for data in self._pieces():
            own = _column(data, self._how, number)
            samples[at : at + len(own)] = own
            at += len(own)
        return np.asarray(samples)


def read_wav(stream: BinaryIO) -> WavFile:
    """The recording of a WAV file; read from the stream as it is asked for.

    Raises:
        SoundFault: it is none, its rate is too low, or it is too short.
    """
    length = stream.seek(0, 2)
    stream.seek(0)
    head = stream.read(12)
    if len(head) < 12 or head[:4] != b"RIFF" or head[8:12] != b"WAVE":
        raise _no_wav("it does not begin like one")
    how: _Format | None = None
    for name, begin, end in _chunks(stream, length):
        if name == b"fmt ":
            stream.seek(begin)
            how = _format(stream.read(min(end - begin, 64)))
        elif name == b"data":
            if how is None:
                raise _no_wav("its samples come before their format")
            frames = min((end - begin) // how.frame, int(LONGEST_S * how.rate_hz))
            if frames < _SHORTEST_S * how.rate_hz:
                seconds = frames / how.rate_hz
                raise SoundFault(
                    "too-short", f"it is {seconds:.1f} s long; at least {_SHORTEST_S:g} s are needed"
                )
            return WavFile(stream, how, begin, frames)
    raise _no_wav("it has no samples" if how is not None else "its format is missing")
