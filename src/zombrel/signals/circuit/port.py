"""A chain as its source sees it: one voltage behind one resistance, and what the input has of it.

Reference: Thévenin's theorem with superposition (any textbook of circuits).
"""

from __future__ import annotations

from zombrel.job.value import Value


class Port(Value, frozen=True):
    """A chain seen from the terminals of its source, the source taken away."""

    open_v: float
    """Across the terminals [V]."""
    ohm: float
    """What the source looks into [Ω]."""
    pin_v: float
    """Of the input above the device's ground [V]."""
    per_amp: float
    """By how much that falls for each ampere that the source takes [Ω]."""
    lift_v: float
    """Of the source's foot above the device's ground [V]."""

    def behind(self, emf: float, ohm: float) -> float:
        """Volts at the input with ``emf`` [V] behind ``ohm`` [Ω] between the terminals."""
        return self.pin_v - self.per_amp * (self.open_v - emf) / (self.ohm + ohm)

    def lifted(self, volts: float) -> Port:
        """The same with the source's foot standing ``volts`` [V] higher."""
        return self.but(open_v=self.open_v - volts, lift_v=self.lift_v + volts)

    @property
    def share(self) -> float:
        """Of a source's own volts, how much reaches the input for no resistance of its own."""
        return self.per_amp / self.ohm if self.ohm else 0.0
