"""Import every calculation so that the registry is full."""

from zombrel.calc import job, speed, wiring
from zombrel.calc.registry import CALCS, describe, run, split

__all__ = ["CALCS", "describe", "job", "run", "speed", "split", "wiring"]
