"""Stand-ins for instruments, driven by one simulated car: a receiver, a responder, a meter."""

from __future__ import annotations

import contextlib
import math
import os
import pty
import socket
import threading
import time
from collections.abc import Callable
from typing import Any

import numpy as np

from zombrel.instruments.bus import ANSWER, ASK, FIRST, SERVICE
from zombrel.logs.recording import Floats
from zombrel.units import KMH, KNOT, ZERO_C

PIECE_S = 0.1
"""The signal comes in pieces of so long at least [s]."""


class Car:
    """A car on a road of its own: speed, engine, temperatures over the time since it started."""

    def __init__(self, rev_per_m: float = 1.36, shown: float = 1.03) -> None:
        self.rev_per_m, self.shown = rev_per_m, shown
        self._began = time.monotonic()

    @property
    def t(self) -> float:
        """Since it started [s]."""
        return time.monotonic() - self._began

    def speed(self, t: float) -> float:
        """Road speed [m/s]: from 50 to 110 km/h and back in two minutes."""
        return (80 - 30 * math.cos(t / 19.1)) * KMH

    def engine(self, t: float) -> float:
        """Engine speed [1/s]."""
        return self.speed(t) * self.rev_per_m

    def coolant(self, t: float) -> float:
        """Coolant [K]: warms to 88 °C."""
        return 88 - 60 * math.exp(-t / 240) + ZERO_C

    def volts(self, t: float) -> float:
        """Supply [V]."""
        return 13.9 + 0.05 * math.sin(t)


def sentence(body: str) -> bytes:
    """An NMEA sentence with its checksum."""
    total = 0
    for character in body:
        total ^= ord(character)
    return f"${body}*{total:02X}\r\n".encode()


class _Server:
    """A thread that goes on until it is stopped."""

    def __init__(self, work: Callable[[threading.Event], None]) -> None:
        self._stop = threading.Event()
        self._thread = threading.Thread(target=work, args=(self._stop,), daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """End it."""
        self._stop.set()
        self._thread.join(2.0)


class SimulatedReceiver(_Server):
    """Sentences on a port of this machine; ``address`` says where."""

    def __init__(self, car: Car, every_s: float = 0.2) -> None:
        self._listen = socket.create_server(("127.0.0.1", 0))
        self._listen.settimeout(0.2)
        self.address = f"tcp:127.0.0.1:{self._listen.getsockname()[1]}"
        self._car, self._every = car, every_s
        super().__init__(self._serve)

    def _serve(self, stop: threading.Event) -> None:
        with self._listen:
            while not stop.is_set():
                with contextlib.suppress(OSError):
                    client, _ = self._listen.accept()
                    with client:
                        self._talk(client, stop)

    def _talk(self, client: socket.socket, stop: threading.Event) -> None:
        while not stop.is_set():
            t = self._car.t
            clock = f"10{int(t) // 60 % 60:02d}{t % 60:05.2f}"
            v = self._car.speed(t)
            client.sendall(sentence(f"PZIND,{clock},{v * self._car.shown / KMH:.0f}"))
            rmc = f"GPRMC,{clock},A,0000.000,N,00000.000,E,{v / KNOT:.2f},90.0,191126,,,A"
            client.sendall(sentence(rmc))
            stop.wait(self._every)


class SimulatedMeter(_Server):
    """A meter's text on a pseudo-terminal; ``address`` says where."""

    def __init__(self, car: Car, every_s: float = 0.1) -> None:
        self._mine, self._theirs = pty.openpty()
        self.address = os.ttyname(self._theirs)
        self._car, self._every = car, every_s
        super().__init__(self._talk)

    def _talk(self, stop: threading.Event) -> None:
        while not stop.is_set():
            with contextlib.suppress(OSError):
                os.write(self._mine, f"{self._car.volts(self._car.t):+.4E} V DC\r\n".encode())
            stop.wait(self._every)

    def stop(self) -> None:
        """End it and let go of its line."""
        super().stop()
        for handle in (self._mine, self._theirs):
            with contextlib.suppress(OSError):
                os.close(handle)


class SimulatedSignal:
    """A tone ring's signal as a sound card would hear it, in pieces; see ``scope.Blocks``."""

    rate = 48_000

    def __init__(self, car: Car, per_m: float = 24.0, peak: float = 0.6) -> None:
        self._car, self._per_m, self._peak = car, per_m, peak
        self._turns, self._t = 0.0, car.t
        self._noise = np.random.default_rng(1)
        self._closed = False

    def read(self) -> Floats:
        """What came since the last call; a tenth of a second at least."""
        while not self._closed and self._car.t - self._t < PIECE_S:
            time.sleep(PIECE_S / 5)
        if self._closed:
            return np.zeros(0, np.float32)
        count = round((self._car.t - self._t) * self.rate)
        cycles = self._turns + self._per_m * self._car.speed(self._t) * (
            np.arange(count) / self.rate
        )
        self._t += count / self.rate
        self._turns = float(cycles[-1]) % 1.0 + self._per_m * self._car.speed(self._t) / self.rate
        hiss = self._noise.normal(0, 0.01, count)
        return np.asarray(self._peak * np.sin(2 * np.pi * cycles) + hiss, np.float32)

    def close(self) -> None:
        """No more comes."""
        self._closed = True


class SimulatedResponder(_Server):
    """An engine computer on a virtual bus that answers service 01."""

    def __init__(self, car: Car, channel: str = "zombrel") -> None:
        import can

        self.channel = channel
        self._car = car
        self._bus: Any = can.Bus(interface="virtual", channel=channel)
        super().__init__(self._answer)

    def _values(self, pid: int) -> bytes | None:
        t = self._car.t
        match pid:
            case 0x0C:
                n = min(65535, round(self._car.engine(t) * 60 * 4))
                return bytes((n >> 8, n & 255))
            case 0x0D:
                return bytes((min(255, round(self._car.speed(t) / KMH)),))
            case 0x05:
                return bytes((round(self._car.coolant(t) - ZERO_C + 40),))
            case 0x42:
                n = round(self._car.volts(t) * 1000)
                return bytes((n >> 8, n & 255))
            case _:
                return None

    def _answer(self, stop: threading.Event) -> None:
        import can

        while not stop.is_set():
            m = self._bus.recv(0.1)
            if m is None or m.arbitration_id != ASK or len(m.data) < 3 or m.data[1] != SERVICE:  # noqa: PLR2004
                continue
            found = self._values(m.data[2])
            if found is None:
                continue
            data = bytes((2 + len(found), ANSWER, m.data[2])) + found
            self._bus.send(
                can.Message(arbitration_id=FIRST, data=data.ljust(8, b"\0"), is_extended_id=False)
            )

    def stop(self) -> None:
        """End it and let go of its line."""
        super().stop()
        self._bus.shutdown()
