"""A bus reader: asks a vehicle for its values by the common diagnostic service, over python-can.

References:
    [1] SAE J1979 / ISO 15031-5, service 01: parameters and their scaling.
    [2] ISO 15765-4: requests to all at 7DF, answers from 7E8 on, single frames.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from typing import Any

from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.recording import What
from zombrel.units import KMH, RPM, ZERO_C

ASK, FIRST, LAST = 0x7DF, 0x7E8, 0x7EF
SERVICE, ANSWER = 0x01, 0x41
WAIT_S = 0.2
DEAD = 25
"""So many requests without an answer, and nothing is there."""


class Pid(Value, frozen=True):
    """One parameter of service 01 [1]."""

    name: str
    what: What
    size: int
    """Bytes of its value."""
    value: Callable[[bytes], float]
    """[SI]"""


PIDS: dict[int, Pid] = {
    0x04: Pid("load", "fraction", 1, lambda d: d[0] / 255),
    0x05: Pid("coolant", "temperature", 1, lambda d: d[0] - 40 + ZERO_C),
    0x0B: Pid("manifold pressure", "pressure", 1, lambda d: d[0] * 1000.0),
    0x0C: Pid("engine", "engine", 2, lambda d: (256 * d[0] + d[1]) / 4 * RPM),
    0x0D: Pid("vehicle speed", "speed", 1, lambda d: d[0] * KMH),
    0x0F: Pid("intake air", "temperature", 1, lambda d: d[0] - 40 + ZERO_C),
    0x11: Pid("throttle", "fraction", 1, lambda d: d[0] / 255),
    0x42: Pid("module voltage", "voltage", 2, lambda d: (256 * d[0] + d[1]) / 1000),
    0x46: Pid("ambient", "temperature", 1, lambda d: d[0] - 40 + ZERO_C),
}
"""What is asked for, scaled as [1] says."""


class BusReader:
    """Asks for one parameter after another, those that are answered again and again."""

    name = "bus reader"

    def __init__(self, interface: str, channel: str, pids: tuple[int, ...] = ()) -> None:
        import can

        self._asked = pids or tuple(PIDS)
        self._closed = False
        try:
            self._bus: Any = can.Bus(interface=interface, channel=channel)
        except Exception as error:
            raise Problem(f"No bus at {interface} {channel}: {error}.") from error

    def samples(self) -> Iterator[tuple[str, What, float]]:
        """Values as they are answered.

        Raises:
            Problem: nothing answers, or the bus is gone.
        """
        silent = 0
        there = list(self._asked)
        misses: dict[int, int] = {}
        while not self._closed and there:
            for pid in list(there):
                if self._closed:
                    return
                data = self._answer(pid)
                if data is None:
                    silent += 1
                    misses[pid] = misses.get(pid, 0) + 1
                    if silent > DEAD:
                        raise Problem("Nothing on the bus answers: is the key on?")
                    if misses[pid] > 2 and len(there) > 1:  # noqa: PLR2004 - it does not have it
                        there.remove(pid)
                    continue
                silent, misses[pid] = 0, 0
                p = PIDS[pid]
                yield p.name, p.what, p.value(data)

    def _answer(self, pid: int) -> bytes | None:
        """The bytes of a parameter; None when nothing answers in time [2]."""
        import can

        self._bus.send(
            can.Message(
                arbitration_id=ASK, data=[2, SERVICE, pid, 0, 0, 0, 0, 0], is_extended_id=False
            )
        )
        until = time.monotonic() + WAIT_S
        while (left := until - time.monotonic()) > 0:
            m = self._bus.recv(left)
            if m is None or self._closed:
                return None
            if FIRST <= m.arbitration_id <= LAST and len(m.data) > 2 and m.data[1] == ANSWER:  # noqa: PLR2004
                data = bytes(m.data)
                if data[2] == pid and data[0] >= 2 + PIDS[pid].size:
                    return data[3 : 3 + PIDS[pid].size]
        return None

    def close(self) -> None:
        """Let go of the bus."""
        self._closed = True
        self._bus.shutdown()
