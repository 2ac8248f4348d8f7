"""Instruments as they run: one interface for receiver, bus reader, meter and their stand-ins.

A source gives samples as they come, in a thread of its own; whatever goes wrong with it becomes a
sentence in ``trouble`` and ends it, never the program. What came before is recorded already.
"""

from __future__ import annotations

import os
import threading
import time
from collections import deque
from collections.abc import Iterator
from pathlib import Path
from typing import Protocol

from zombrel.intake.file import one_line
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.recording import SI, What

KEPT = 20000
"""So many samples wait to be fetched; a window that sleeps loses the oldest."""


class Sample(Value, frozen=True):
    """One value of one channel."""

    t: float
    """Since the instrument was started [s]."""
    name: str
    what: What
    value: float
    """[SI, see ``SI``]"""


class Source(Protocol):
    """What an instrument is to the rest."""

    name: str

    def samples(self) -> Iterator[tuple[str, What, float]]:
        """Values as they come: (channel, what it measures, value [SI]); ends when closed."""
        ...

    def close(self) -> None:
        """Let go of the line; ``samples`` ends soon after."""
        ...


class Live:
    """A source that runs: fetch its samples, see its trouble, stop it."""

    def __init__(self, source: Source, record: Path | None = None) -> None:
        self.source = source
        self.trouble = ""
        """Why it ended, where it did not end because it was stopped."""
        self._samples: deque[Sample] = deque(maxlen=KEPT)
        self._stopped = threading.Event()
        self._recorder = Recorder(record) if record is not None else None
        self._began = time.monotonic()
        self._thread = threading.Thread(target=self._run, name=source.name, daemon=True)
        self._thread.start()

    @property
    def running(self) -> bool:
        """Samples may still come."""
        return self._thread.is_alive()

    def fetch(self) -> list[Sample]:
        """Samples since the last call."""
        found = []
        while self._samples:
            found.append(self._samples.popleft())
        return found

    def stop(self, patience: float = 2.0) -> None:
        """End it; what was recorded is on disk then.

        ``patience`` is how long the line is waited for [s].
        """
        self._stopped.set()
        self.source.close()
        self._thread.join(patience)
        if self._recorder is not None:
            self._recorder.close()

    def _run(self) -> None:
        try:
            for name, what, value in self.source.samples():
                if self._stopped.is_set():
                    break
                sample = Sample(time.monotonic() - self._began, name, what, value)
                self._samples.append(sample)
                if self._recorder is not None:
                    self._recorder.write(sample)
        except Problem as problem:
            self.trouble = str(problem)
        except Exception as error:
            self.trouble = one_line(f"{self.source.name}: {error or type(error).__name__}.")
        finally:
            if self._recorder is not None:
                self._recorder.flush()


class Recorder:
    """Writes every sample as it comes, so that pulling the plug loses a second at most."""

    EVERY_S = 1.0

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self._stream = path.open("w", encoding="utf-8", newline="")
        self._lock = threading.Lock()
        self._columns: list[str] = []
        self._synced = 0.0
        self.rows = 0

    def write(self, s: Sample) -> None:
        """One row: time, and the value in its own column; a channel that is new begins a table."""
        with self._lock:
            if self._stream.closed:
                return
            key = f"{s.name} [{SI[s.what]}]" if SI[s.what] not in ("", "1") else s.name
            if key not in self._columns:
                self._columns.append(key)
                self._again()
            cells = [""] * len(self._columns)
            cells[self._columns.index(key)] = repr(float(s.value))
            self._stream.write(f"{s.t:.3f},{','.join(cells)}\n")
            self.rows += 1
            if s.t - self._synced > self.EVERY_S:
                self._synced = s.t
                self._sync()

    def _again(self) -> None:
        """The table with one column more: what stands is written again below the new heading."""
        head = f"time [s],{','.join(self._columns)}\n"
        self._stream.flush()
        rows = self.path.read_text(encoding="utf-8").splitlines()[1:]
        half = self.path.with_suffix(".part")
        half.write_text(head + "".join(f"{r},\n" for r in rows), encoding="utf-8")
        self._stream.close()
        half.replace(self.path)
        self._stream = self.path.open("a", encoding="utf-8", newline="")

    def _sync(self) -> None:
        self._stream.flush()
        os.fsync(self._stream.fileno())

    def flush(self) -> None:
        """What was written is on disk."""
        with self._lock:
            if not self._stream.closed:
                self._sync()

    def close(self) -> None:
        """The same, and no more comes."""
        with self._lock:
            if not self._stream.closed:
                self._sync()
                self._stream.close()
