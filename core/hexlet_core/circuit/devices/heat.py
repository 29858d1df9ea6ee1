"""What a device's temperature does to its numbers, which are given at 25 °C. One rule each, all linear in T −
25 °C.

A junction's voltage falls 2 mV a kelvin at 1 mA. With kT/q that is V_T·ln(1000) ≈ 0.18 V of the diode law's
slope less at a microamp, −2.6 mV/K there for an ideality of 1; the law with silicon's 1.12 eV gives −2.4. A
transistor's gain rises 0.5 % a kelvin, a MOSFET's threshold falls 2 mV a kelvin and its resistance rises 0.5
% a kelvin, copper rises 0.39 % a kelvin.
"""

from __future__ import annotations

import math

from .base import thermal_voltage

ROOM = 25.0  # at which numbers are given [°C]
JUNCTION_DRIFT = -2e-3  # [V/K]
JUNCTION_AT = 1e-3  # at this current [A]
GAIN_DRIFT = 5e-3  # [1/K]
THRESHOLD_DRIFT = -2e-3  # [V/K]
ON_RESISTANCE_DRIFT = 5e-3  # [1/K]
COPPER_DRIFT = 3.9e-3  # [1/K]
LEAST = 0.05  # no number falls below this share of itself


def scaled(drift: float, celsius: float) -> float:
    """By what a number with that drift [1/K] is multiplied.

    >>> round(scaled(COPPER_DRIFT, 52.0), 4)
    1.1053
    """
    return max(1.0 + drift * (celsius - ROOM), LEAST)


def saturation(i_s: float, ideality: float, celsius: float) -> float:
    """A junction's saturation current [A] at a temperature, from that at 25 °C.

    >>> v_t = thermal_voltage(75.0)
    >>> round(v_t * math.log(1e-3 / saturation(1e-14, 1.0, 75.0)) - thermal_voltage(25.0) * math.log(1e-3 /
    1e-14), 4)
    -0.1
    """
    if celsius == ROOM:
        return i_s
    cold = ideality * thermal_voltage(ROOM) * math.log1p(JUNCTION_AT / i_s)
    volts = max(cold + JUNCTION_DRIFT * (celsius - ROOM), 1e-3)
    return JUNCTION_AT / math.expm1(min(volts / (ideality * thermal_voltage(celsius)), 600.0))
