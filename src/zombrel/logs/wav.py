"""WAV files of a sound card used as a scope: volts over time, in single precision.

Reference: Multimedia Programming Interface and Data Specifications 1.0 (RIFF WAVE), PCM.
"""

from __future__ import annotations

import wave
from pathlib import Path

import numpy as np

from zombrel.intake.file import check, reading
from zombrel.job.problem import Problem
from zombrel.logs.recording import Channel, Recording

MAX_BYTES = 2_000_000_000
FULL_V = 1.0
"""Volts at full scale where nobody said [V]: a line input's usual peak, ASSUMED."""
_KINDS = {1: np.uint8, 2: np.int16, 4: np.int32}


def read_wav(path: Path, full_v: float = FULL_V) -> Recording:
    """The signal in a PCM WAV file, a channel each; ``full_v`` is a full swing's peak [V].

    Raises:
        Problem: no PCM WAV file, or nothing in it.
    """
    check(path, MAX_BYTES, "recording")
    with reading(path.name), wave.open(str(path), "rb") as source:
        rate, width, count = source.getframerate(), source.getsampwidth(), source.getnchannels()
        raw = source.readframes(source.getnframes())
    if not rate or width not in (1, 2, 3, 4) or not count:
        raise Problem(f"{path.name}: {8 * width} bits at {rate} Hz is no recording.")
    values = _samples(raw, width)
    values = values[: len(values) // count * count].reshape(-1, count)
    if len(values) < 2:  # noqa: PLR2004 - a signal wants two
        raise Problem(f"{path.name} holds no signal.")
    t = np.arange(len(values)) / rate
    names = ["signal"] if count == 1 else [f"signal {k + 1}" for k in range(count)]
    channels = tuple(
        Channel(name, "voltage", "V", t, values[:, k] * np.float32(full_v))
        for k, name in enumerate(names)
    )
    return Recording(path.name, channels, (f"{rate} samples a second, {8 * width} bits",))


def _samples(raw: bytes, width: int) -> np.ndarray:
    """Samples from -1 to 1."""
    if width == 3:  # noqa: PLR2004 - three bytes have no type of their own
        padded = np.zeros(len(raw) // 3 * 4, np.uint8).reshape(-1, 4)
        padded[:, 1:] = np.frombuffer(raw[: len(raw) // 3 * 3], np.uint8).reshape(-1, 3)
        return (padded.reshape(-1).view("<i4") / np.float32(2**31)).astype(np.float32)
    kind = np.dtype(_KINDS[width]).newbyteorder("<")
    values = np.frombuffer(raw[: len(raw) // width * width], kind).astype(np.float32)
    return (values - 128) / 128 if width == 1 else values / np.float32(2 ** (8 * width - 1))
