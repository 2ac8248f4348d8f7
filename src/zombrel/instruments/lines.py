"""Lines of text from a port, serial, pseudo-terminal or TCP; receiver and meter read them."""

from __future__ import annotations

import queue
import re
import socket
import time
from abc import ABC, abstractmethod
from collections.abc import Iterator
from typing import Protocol

from zombrel.job.problem import Problem
from zombrel.logs.nmea import fixes_of, indicated
from zombrel.logs.recording import What
from zombrel.logs.units import UNITS, unit_named

BAUD = 4800
"""Usual of receivers (NMEA 0183); ``PORT@9600`` says another."""
WAIT_S = 0.25
SILENT_S = 10.0
"""So long without a byte, and the line counts as dead [s]."""
LONGEST = 4096


class Port(Protocol):
    """Bytes from somewhere."""

    def read(self) -> bytes:
        """What came; empty after a short wait for nothing.

        Raises:
            OSError: the line is gone.
        """
        ...

    def close(self) -> None:
        """Let go of it."""
        ...


class TcpPort:
    """A connection to a server of lines."""

    def __init__(self, host: str, port: int) -> None:
        self._socket = socket.create_connection((host, port), timeout=3.0)
        self._socket.settimeout(WAIT_S)

    def read(self) -> bytes:
        """What came; raises OSError once the other side hung up."""
        try:
            data = self._socket.recv(4096)
        except TimeoutError:
            return b""
        if not data:
            raise OSError("the other side hung up")
        return data

    def close(self) -> None:
        """Hang up."""
        self._socket.close()


class SerialPort:
    """A serial line or a pseudo-terminal."""

    def __init__(self, name: str, baud: int) -> None:
        import serial

        self._serial = serial.Serial(name, baud, timeout=WAIT_S)

    def read(self) -> bytes:
        """What came within a short wait."""
        return bytes(self._serial.read(max(1, self._serial.in_waiting)))

    def close(self) -> None:
        """Let go of the line."""
        self._serial.close()


def open_port(address: str) -> Port:
    """The port at ``tcp:HOST:PORT``, or a serial line as ``/dev/ttyUSB0`` or ``/dev/ttyUSB0@9600``.

    Raises:
        Problem: there is no such port, or nothing answers.
    """
    try:
        if address.startswith("tcp:"):
            host, _, port = address[4:].rpartition(":")
            if not host or not port.isdigit():
                raise Problem(f"“{address}” is no address: write tcp:127.0.0.1:2947.")
            return TcpPort(host, int(port))
        name, _, baud = address.partition("@")
        return SerialPort(name, int(baud) if baud.isdigit() else BAUD)
    except (OSError, ValueError) as error:
        raise Problem(f"Nothing answers at {address}: {error}. Is it plugged in?") from error


class LineSource(ABC):
    """Lines from a port, each made into values by ``parse``."""

    name = "line"

    def __init__(self, address: str) -> None:
        self.address = address
        self._port = open_port(address)
        self._closed = False

    @abstractmethod
    def parse(self, line: str) -> Iterator[tuple[str, What, float]]:
        """What one line says."""

    def samples(self) -> Iterator[tuple[str, What, float]]:
        """Values as lines come in.

        Raises:
            Problem: the line is gone, or silent for long.
        """
        rest, heard = b"", time.monotonic()
        while not self._closed:
            try:
                data = self._port.read()
            except Exception as error:
                if self._closed:
                    return
                raise Problem(f"The {self.name} at {self.address} is gone: {error}.") from error
            if not data:
                if time.monotonic() - heard > SILENT_S:
                    raise Problem(f"The {self.name} at {self.address} says nothing.")
                continue
            heard = time.monotonic()
            *lines, rest = (rest + data).replace(b"\r", b"\n").split(b"\n")
            rest = rest[-LONGEST:]
            for line in lines:
                if line.strip():
                    yield from self.parse(line.decode("ascii", "replace").strip())

    def close(self) -> None:
        """Let go of the port."""
        self._closed = True
        self._port.close()


class Receiver(LineSource):
    """A satellite receiver: NMEA 0183."""

    name = "receiver"

    def parse(self, line: str) -> Iterator[tuple[str, What, float]]:
        """Speed and course of a fix; what a helper keyed in."""
        if line.startswith("$PZIND"):
            try:
                shown = indicated(line)
            except (ValueError, IndexError):
                return
            if shown is not None:
                yield "indicated speed", "speed", shown
            return
        found, _ = fixes_of(line)
        for fix in found:
            if fix.speed is not None:
                yield "satellite speed", "speed", fix.speed
                if fix.course == fix.course:  # a course that was sent
                    yield "heading", "angle", fix.course


SIZES = {"k": 1e3, "M": 1e6, "m": 1e-3, "µ": 1e-6, "u": 1e-6, "": 1.0}
READING = re.compile(
    r"([-+]?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?)\s*([kMmµu]?)\s*(V|A|Ω|ohm|Hz|°C|C)\b", re.I
)
"""A figure, its size and its unit, as meters send them."""


def display(text: str) -> tuple[str, What, float] | None:
    """What a meter's display says: (channel, what, value [SI]); None for an overload or words."""
    found = READING.search(text)
    if found is None:
        return None
    value = float(found[1]) * SIZES.get(found[2], 1.0)
    spelt = found[3].casefold()
    if spelt in ("ω", "ohm"):
        return "resistance", "resistance", value
    if spelt == "hz":
        return "rate Hz", "number", value
    unit = UNITS[unit_named(found[3])]
    names: dict[What, str] = {"voltage": "volts", "current": "amps", "temperature": "degrees"}
    return names.get(unit.what, "value"), unit.what, value * unit.size + unit.zero


class Meter(LineSource):
    """A meter that sends its display as text: ``+12.34E+0 V DC``, ``4.71 kohm``, ``OL``."""

    name = "meter"

    def parse(self, line: str) -> Iterator[tuple[str, What, float]]:
        """One reading of the display; nothing for an overload or words."""
        found = display(line)
        if found is not None:
            yield found


class Typed:
    """A meter whose display somebody reads and types: each reading at the moment it was entered."""

    name = "typed meter"

    def __init__(self) -> None:
        self._typed: queue.Queue[tuple[str, What, float] | None] = queue.Queue()

    def enter(self, text: str) -> None:
        """One reading with its unit, as ``12.6 V``, ``4.71 kohm`` or ``88 °C``.

        Raises:
            Problem: no figure with a unit of a meter.
        """
        found = display(text.replace(",", "."))
        if found is None:
            raise Problem(
                f"“{text}” is no reading: write 12.6 V, 4.71 kohm, 20 mA, 88 °C or 50 Hz."
            )
        self._typed.put(found)

    def samples(self) -> Iterator[tuple[str, What, float]]:
        """Readings as they are entered."""
        while (found := self._typed.get()) is not None:
            yield found

    def close(self) -> None:
        """No more is entered."""
        self._typed.put(None)
