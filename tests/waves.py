"""WAV files for the tests."""

import struct

import numpy as np

RATE = 22050


def wav(samples, *, bits=16, tag=1, rate=RATE, promised=None, extensible=False):
    """A WAV file of samples, (frames, channels)."""
    frames = np.atleast_2d(samples.T).T
    channels = frames.shape[1]
    if tag == 3:
        data = frames.astype("<f4" if bits == 32 else "<f8").tobytes()
    elif bits == 8:
        data = (frames * 127 + 128).astype(np.uint8).tobytes()
    elif bits == 24:
        wide = (frames * (2**31 - 1)).astype("<i4")
        data = wide.reshape(-1, 1).view(np.uint8).reshape(-1, 4)[:, 1:].tobytes()
    else:
        data = (frames * (2 ** (bits - 1) - 1)).astype(f"<i{bits // 8}").tobytes()
    size = bits // 8 * channels
    kind = 0xFFFE if extensible else tag
    head = struct.pack("<HHIIHH", kind, channels, rate, rate * size, size, bits)
    if extensible:
        head += struct.pack("<HHI", 22, bits, 0) + struct.pack("<H", tag) + b"\x00" * 14
    chunks = b"fmt " + struct.pack("<I", len(head)) + head + b"LIST" + struct.pack("<I", 3) + b"abc\x00"
    chunks += b"data" + struct.pack("<I", len(data) if promised is None else promised) + data
    return b"RIFF" + struct.pack("<I", len(chunks) + 4) + b"WAVE" + chunks


TONE = 0.5 * np.sin(2 * np.pi * 440 * np.arange(5 * RATE) / RATE)
