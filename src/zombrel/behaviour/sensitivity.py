"""Which input moves a result most.

Each input is moved by a stated amount, the others held, and the change of the result is
compared: a one-at-a-time sensitivity (Saltelli et al., *Global Sensitivity Analysis*, ch. 1).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

from zombrel.job.value import Value

PART = 0.01
"""Each input is moved by one per cent."""


class Mover(Value, frozen=True):
    """One input and what one per cent of it does."""

    name: str
    change: float
    """Change of the result, in its unit."""


def movers(
    result: Callable[[Mapping[str, float]], float], inputs: Mapping[str, float]
) -> tuple[Mover, ...]:
    """Inputs by how much one per cent of each changes the result, the strongest first."""
    base = result(inputs)
    found = [
        Mover(name, result({**inputs, name: value * (1 + PART)}) - base)
        for name, value in inputs.items()
    ]
    return tuple(sorted(found, key=lambda m: -abs(m.change)))


def in_words(found: tuple[Mover, ...], write: Callable[[float], str]) -> str:
    """The strongest, in a sentence."""
    if not found or found[0].change == 0:
        return ""
    first = found[0]
    rest = "".join(f"; {m.name}: {write(m.change)}" for m in found[1:3] if m.change)
    return f"1 % of {first.name}: {write(first.change)}{rest}"
