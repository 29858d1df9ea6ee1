"""What a card's model does at an operating point: the ordinary part's volts and ohms, as in the circuit.

Formulas that tell what ordinary parts do take their numbers here; what must hold for every specimen is judged
with the card's own guarantees.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import NamedTuple

from ..circuit.devices.base import thermal_voltage
from ..circuit.devices.heat import ROOM
from ..roots import root
from .card import BipolarCard, DiodeCard, FieldEffectCard, LedCard, OptocouplerCard, ZenerCard
from .derive import (
    BETA_REVERSE,
    EARLY_VOLTAGE,
    MOSFET_SLOPE,
    bipolar,
    channel_current,
    diode,
    led,
    mosfet,
    optocoupler,
)

STEEP = 1e4  # how fast the volts rise where more than the light carries is wanted [V]
PLENTY = 1e3  # a collector current that nothing here carries [A]
PROBE = 1e-3  # the drain voltage at which a small channel resistance is taken [V]


class Junctions(NamedTuple):
    """A conducting transistor's volts; `saturated` is whether its base current is enough."""

    v_ce: float
    v_be: float
    saturated: bool


@lru_cache(4096)
def channel_volts(card: FieldEffectCard, v_gs: float, amps: float) -> float:
    """Drain-source volts of the typical model at 25 °C, at a gate voltage [V] and a drain current [A].

    Where the gate does not let so much through they rise steeply: the load's line decides.
    """
    model = mosfet(card)
    beta, v_th, theta = (float(model[name]) for name in ("beta", "v_th", "theta"))
    v_t = thermal_voltage(ROOM)

    def carries(v_ds: float) -> float:
        return channel_current(v_gs - v_th, v_ds, beta, theta, v_t)

    if amps <= carries(PROBE):
        return PROBE * amps / max(carries(PROBE), 1e-30)
    pinched = max((v_gs - v_th) / MOSFET_SLOPE, 0.0) + 8 * v_t
    most = carries(pinched)
    if amps >= most:
        return pinched + STEEP * (amps / max(most, 1e-12) - 1)
    return root(lambda v: carries(v) - amps, 0.0, pinched)


def forward_volts(card: DiodeCard, amps: float) -> float:
    """Forward voltage of a diode's model at 25 °C and a current [A]."""
    model = diode(card)
    i_s, n = model["i_s"], model["ideality"]
    return float(n * thermal_voltage(ROOM) * math.log1p(amps / i_s) + model["r_series"] * amps)


@lru_cache(4096)
def lit_amps(card: LedCard | OptocouplerCard, count: int, ohms: float, volts: float) -> float:
    """The current through LEDs in a row behind a resistor, or through an optocoupler's one, at 25 °C [A]."""
    if isinstance(card, LedCard):
        model = led(card)
        names = ("i_s", "ideality", "r_series")
    else:
        model = optocoupler(card)
        names = ("led_i_s", "led_ideality", "led_series")
    i_s, ideality, series = (float(model[name]) for name in names)
    v_t = thermal_voltage(ROOM)

    def left(amps: float) -> float:
        return volts - count * (ideality * v_t * math.log1p(amps / i_s) + series * amps) - amps * ohms

    return root(left, 0.0, volts / ohms) if volts > 0 else 0.0


@lru_cache(4096)
def junctions(card: BipolarCard, i_c: float, i_b: float) -> Junctions:
    """V_CE and V_BE of the typical model at 25 °C that carries a collector and a base current [A].

    The charge-control equations of `cards.derive.bipolar`, solved for i_cc. Where the base current does not
    saturate it, V_CE is what the Early effect wants for so much collector current.
    """
    model, v_t = bipolar(card), thermal_voltage(ROOM)
    i_k, i_low, beta = (float(model[name]) for name in ("i_k", "i_low", "beta_f"))
    i_c, i_b = max(i_c, 1e-9), max(i_b, 1e-12)

    def forward(i_cc: float) -> float:
        return (i_cc + math.sqrt(i_low * i_cc)) / beta

    def miss(i_cc: float) -> float:
        i_ec = BETA_REVERSE * (i_b - forward(i_cc))
        return (i_cc - i_ec) * 2 / (1 + math.sqrt(1 + 4 * i_cc / i_k)) - i_ec / BETA_REVERSE - i_c

    most = ((math.sqrt(i_low + 4 * beta * i_b) - math.sqrt(i_low)) / 2) ** 2 * (1 - 1e-9)
    saturated = miss(most) > 0
    i_cc = root(miss, 0.0, most) if saturated else most
    carries = min(i_c, most * 2 / (1 + math.sqrt(1 + 4 * most / i_k)))
    v_be = v_t * math.log1p(i_cc / model["i_s"]) + model["r_b"] * i_b + model["r_e"] * (carries + i_b)
    i_ec = BETA_REVERSE * (i_b - forward(i_cc))
    inner = v_t * math.log(i_cc / max(i_ec, 1e-9 * i_cc))
    v_ce = inner + model["r_c"] * carries + model["r_e"] * (carries + i_b)
    if not saturated:
        v_ce += EARLY_VOLTAGE * (i_c / carries - 1)
    return Junctions(v_ce, v_be, saturated)


@lru_cache(4096)
def active_base(card: BipolarCard, i_c: float) -> float:
    """The base current that lets an ordinary transistor just carry a collector current, not saturated [A]."""
    model = bipolar(card)
    i_cc = i_c * (1 + i_c / float(model["i_k"]))
    return float((i_cc + math.sqrt(float(model["i_low"]) * i_cc)) / model["beta_f"])


@lru_cache(4096)
def most_collector(card: BipolarCard, i_b: float) -> float:
    """The collector current that an ordinary transistor carries out of saturation at a base current [A]."""
    model = bipolar(card)
    i_k, i_low, beta = (float(model[name]) for name in ("i_k", "i_low", "beta_f"))
    i_cc = ((math.sqrt(i_low + 4 * beta * max(i_b, 0.0)) - math.sqrt(i_low)) / 2) ** 2
    return i_cc * 2 / (1 + math.sqrt(1 + 4 * i_cc / i_k))


def channel_amps(card: FieldEffectCard, v_gs: float, v_ds: float, shift: float = 0.0) -> float:
    """Drain current of the typical model at 25 °C, its threshold moved by `shift` [V] [A]."""
    model = mosfet(card)
    beta, v_th, theta = (float(model[name]) for name in ("beta", "v_th", "theta"))
    return channel_current(v_gs - v_th - shift, v_ds, beta, theta, thermal_voltage(ROOM))


def jump_charge(card: FieldEffectCard, volts: float) -> float:
    """What a MOSFET that is off takes from its gate as its source jumps away from its drain by volts [C].

    The charge of `circuit.devices.mosfet` between gate and drain, from 0 V on: C_low·V + (C_high − C_low)/2 ·
    a·ln 2, once V is well above a.
    """
    model = mosfet(card)
    low, more, a = model["c_gd_low"], model["c_gd_high"] - model["c_gd_low"], model["v_gd_scale"]
    ln_cosh = volts / a + math.log1p(math.exp(-2 * volts / a)) - math.log(2)
    return float(low * volts + more / 2 * (volts - a * ln_cosh))


@lru_cache(4096)
def active_volts(card: BipolarCard, i_b: float) -> float:
    """V_BE of an ordinary transistor that is not saturated, at a base current [V]."""
    return junctions(card, PLENTY, i_b).v_be


@lru_cache(4096)
def opto_volts(card: OptocouplerCard, amps: float, lit: float) -> float:
    """Volts across an ordinary optocoupler's transistor at its current, the LED at another, at 25 °C [V].

    The equations of `cards.derive.optocoupler`; where the light does not carry so much it rises steeply.
    """
    model, v_t = optocoupler(card), thermal_voltage(ROOM)
    gain, most = float(model["gain"]), card.transfer * lit
    carries = min(amps, most * (1 - 1e-3))
    back = 1 / BETA_REVERSE
    i_ec = max(most / (gain + 1) - carries / gain, 1e-12) / ((1 + back) / gain + back)
    v_ce = v_t * math.log((carries + i_ec * (1 + back)) / i_ec) + model["saturation"] * carries
    return float(v_ce) + STEEP * max(amps / max(most, 1e-12) - 1, 0.0)


def reverse_volts(card: ZenerCard, amps: float) -> float:
    """A zener's volts at a current [A]: V_Z and its impedance there, as many again for each e-fold."""
    slope = card.impedance * card.test_current
    return max(card.voltage + slope * math.log(max(amps, 1e-9) / card.test_current), 0.0)
