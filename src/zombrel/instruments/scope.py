"""A sound card as a scope: the signal kept as it comes, its rate, swing and on-time told live.

The line or microphone input of any sound card samples a signal finely enough for every pulse of a
vehicle. It blocks direct current, and takes a volt or two: a divider of known ratio goes before it,
and ``full_v`` says what its full swing then stands for.
"""

from __future__ import annotations

import time
import wave
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Protocol

import numpy as np

from zombrel.job.problem import Problem
from zombrel.logs.edges import edges
from zombrel.logs.recording import Floats, What

RATE = 48_000
"""Samples a second that every sound card has."""
BLOCK_S = 0.1
WINDOW_S = 0.5
"""Rate and on-time are told of so much of the signal."""
SWING = (5.0, 95.0)
"""Percentiles between which the middle lies that is crossed."""
HELD = 0.2
"""Share of the swing that noise may have."""
QUIET = 0.004
"""A swing of less than this share of full scale is no signal: hum of an open input."""
TOP = 32767
FULL_V = 1.0
"""Volts at full scale where nobody said [V]: a line input's usual peak, ASSUMED."""


class Blocks(Protocol):
    """Samples in pieces, from wherever."""

    rate: int
    """Samples a second."""

    def read(self) -> Floats:
        """The next piece, −1 to 1; empty once nothing more comes.

        Raises:
            OSError: the card is gone.
        """
        ...

    def close(self) -> None:
        """Let go of it."""
        ...


def _library() -> Any:
    try:
        import sounddevice
    except OSError as error:
        raise Problem(
            "The system library for sound (PortAudio) is missing. Type: "
            "sudo apt-get install -y libportaudio2"
        ) from error
    return sounddevice


class SoundCard:
    """An input of a sound card, by name or number; empty: the usual one."""

    def __init__(self, device: str = "") -> None:
        library = _library()
        chosen: str | int | None = int(device) if device.isdigit() else device or None
        self.rate = RATE
        try:
            self._stream: Any = library.InputStream(
                samplerate=RATE, blocksize=round(RATE * BLOCK_S), device=chosen, channels=1
            )
            self._stream.start()
        except (ValueError, library.PortAudioError) as error:
            names = [d["name"] for d in library.query_devices() if d["max_input_channels"]]
            there = f"There is {', '.join(names)}." if names else "This machine has no sound input."
            name = f"“{device}”" if device else "the usual input"
            raise Problem(f"No sound comes from {name}. {there}") from error

    def read(self) -> Floats:
        """What came since the last call."""
        data, _ = self._stream.read(round(RATE * BLOCK_S))
        return np.clip(np.nan_to_num(np.asarray(data[:, 0], np.float32)), -1, 1)

    def close(self) -> None:
        """Let go of the card."""
        self._stream.close()


class WavBlocks:
    """A recording played at the pace it was made."""

    def __init__(self, path: Path, paced: bool = True) -> None:
        from zombrel.logs.wav import read_wav

        log = read_wav(path, 1.0)
        signal = log.channels[0]
        self.rate = round(signal.rate_hz)
        self._v, self._at, self._paced = signal.v, 0, paced
        self._began = time.monotonic()

    def read(self) -> Floats:
        """The next tenth of a second, once it is due."""
        count = round(self.rate * BLOCK_S)
        piece = self._v[self._at : self._at + count]
        self._at += count
        if self._paced:
            due = self._began + self._at / self.rate
            time.sleep(max(0.0, due - time.monotonic()))
        return piece

    def close(self) -> None:
        """Nothing is held open."""
        self._at = len(self._v)


class Keeper:
    """Writes the signal as it comes; the file is whole after every piece."""

    def __init__(self, path: Path, rate: int) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self._stream = path.open("wb")
        self._wave = wave.open(self._stream, "wb")  # noqa: SIM115 - open as long as it records
        self._wave.setnchannels(1)
        self._wave.setsampwidth(2)
        self._wave.setframerate(rate)

    def write(self, v: Floats) -> None:
        """One piece: its samples, and the length in the heading."""
        whole = np.clip(np.asarray(v, float) * TOP, -TOP, TOP)
        self._wave.writeframes(np.round(whole).astype("<i2").tobytes())
        self._stream.flush()

    def close(self) -> None:
        """No more comes."""
        self._wave.close()
        self._stream.close()


class Scope:
    """A source of rate, on-time and swing, from pieces of a signal that it keeps."""

    name = "scope"

    def __init__(self, blocks: Blocks, full_v: float = FULL_V, keep: Path | None = None) -> None:
        self.blocks, self.full_v = blocks, full_v
        self._keeper = Keeper(keep, blocks.rate) if keep is not None else None
        self._closed = False

    def samples(self) -> Iterator[tuple[str, What, float]]:
        """Values of the last half second, ten times a second; ends with the signal."""
        held = np.zeros(0, np.float32)
        most = round(self.blocks.rate * WINDOW_S)
        try:
            while not self._closed:
                try:
                    piece = self.blocks.read()
                except Exception as error:
                    if self._closed:
                        return
                    raise Problem(f"The sound card is gone: {error}.") from error
                if not len(piece):
                    return
                if self._keeper is not None:
                    self._keeper.write(piece)
                held = np.concatenate((held, piece))[-most:]
                yield from told(held, self.blocks.rate, self.full_v)
        finally:
            if self._keeper is not None:
                self._keeper.close()

    def close(self) -> None:
        """Let go of the card; the file is whole."""
        self._closed = True
        self.blocks.close()


def told(v: Floats, rate_hz: float, full_v: float) -> Iterator[tuple[str, What, float]]:
    """Swing, rate and on-time of a stretch of signal.

    Args:
        v: samples, −1 to 1.
        rate_hz: samples a second [Hz].
        full_v: what full scale stands for [V].
    """
    low, high = (float(x) for x in np.percentile(v, SWING))
    yield "swing", "voltage", float(v.max() - v.min()) * full_v
    if high - low < QUIET:
        return
    middle, noise = (low + high) / 2, HELD * (high - low)
    found = edges(v, rate_hz, middle + noise / 2, noise)
    if found.rate_hz == found.rate_hz:  # three edges or more
        yield "signal Hz", "number", float(found.rate_hz)
        yield "on", "fraction", float(found.duty)


def scope_at(address: str, keep: Path | None = None) -> Scope:
    """The scope at an address: a card's name or number, ``wav:FILE``; ``@2.5`` says full scale [V].

    Raises:
        Problem: no such card or file, or a full scale that is none.
    """
    place, _, volts = address.partition("@")
    try:
        full_v = float(volts) if volts else FULL_V
    except ValueError:
        full_v = -1.0
    if not full_v > 0:
        raise Problem(f"“{volts}” is no full scale in volts: write {place or 'default'}@1.0.")
    place = place.strip()
    if place.startswith("wav:"):
        return Scope(WavBlocks(Path(place[4:])), full_v, keep)
    return Scope(SoundCard("" if place == "default" else place), full_v, keep)
