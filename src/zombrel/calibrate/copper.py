"""Resistance of copper conductors.

Reference: IEC 60028: annealed copper 1.7241·10⁻⁸ Ω·m at 20 °C, temperature coefficient 0.00393 /K.
"""

from __future__ import annotations

RHO_20 = 1.724e-8
"""Resistivity at 20 °C [Ω·m]."""
ALPHA = 0.00393
"""Rise of it with temperature [1/K]."""


def resistance_per_m(area_mm2: float, kelvin: float = 293.15) -> float:
    """Resistance per metre [Ω/m] of a section [mm²] at conductor temperature ``kelvin`` [K]."""
    return RHO_20 / (area_mm2 * 1e-6) * (1 + ALPHA * (kelvin - 293.15))
