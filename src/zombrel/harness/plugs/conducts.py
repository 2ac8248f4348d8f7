"""What conducts to what: pins named ``plug.cavity``, and the nets that they form.

Reference: nets as connected components of an undirected graph, any textbook of graph theory.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

Pair = tuple[str, str]


def plug_of(pin: str) -> str:
    """The name of the plug of ``P1.12`` or ``P1.``: ``P1``."""
    return split_pin(pin)[0].rstrip(". -")


class Nets:
    """Which pins conduct to one another."""

    def __init__(self, pairs: Iterable[Pair]) -> None:
        self._up: dict[str, str] = {}
        for a, b in pairs:
            self.join(a, b)

    def join(self, a: str, b: str) -> None:
        """``a`` and ``b`` conduct from now on."""
        self._up[self.of(a)] = self.of(b)

    def of(self, pin: str) -> str:
        """A name for the net ``pin`` lies in; a pin never mentioned is its own."""
        self._up.setdefault(pin, pin)
        while self._up[pin] != pin:
            self._up[pin] = self._up[self._up[pin]]
            pin = self._up[pin]
        return pin

    def joined(self, a: str, b: str) -> bool:
        """``a`` conducts to ``b``."""
        return self.of(a) == self.of(b)


def split_pin(pin: str) -> tuple[str, int | None]:
    """``"P1.12" -> ("P1.", 12)``; no number: None."""
    found = re.search(r"(\d+)$", pin)
    return (pin[: found.start()], int(found[1])) if found else (pin, None)
