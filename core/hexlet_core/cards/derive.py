"""From a card's numbers to a device model's parameters, one documented rule a parameter.

Every rule is checked by measuring the model the way a datasheet measures and finding the card's
number again (tests/core/test_cards.py).

Temperature: a forward voltage or VBE falls 2 mV a kelvin, a MOSFET's threshold 2 mV a kelvin, its
resistance rises 0.5 % a kelvin, copper 0.39 % a kelvin; all from 25 °C.
"""

from __future__ import annotations

import math
from functools import cache
from typing import Literal

from scipy.optimize import brentq

from ..circuit import devices as d
from ..circuit.devices.base import log1p_exp, thermal_voltage
from .card import DiodeCard, ForwardPoint, MosfetCard, NpnCard, RelayCard, ZenerCard

Spread = Literal["min", "typ", "max"]
Kelvin25 = 25.0
JUNCTION_DRIFT = -2e-3  # [V/K]
THRESHOLD_DRIFT = -2e-3  # [V/K]
ON_RESISTANCE_DRIFT = 5e-3  # [1/K]
COPPER_DRIFT = 3.9e-3  # [1/K]
SILICON_IDEALITY, SCHOTTKY_IDEALITY = 1.8, 1.05
BETA_REVERSE = 3.0
EARLY_VOLTAGE = 80.0
MOSFET_SLOPE = 1.4
Params = dict[str, float]


def copper(resistance: float, celsius: float, measured_at: float = Kelvin25) -> float:
    """A copper winding's resistance at another temperature [Ω].

    >>> round(copper(96.0, 52.0, 21.0), 1)
    107.6
    """
    return resistance * (1 + COPPER_DRIFT * (celsius - measured_at))


def _forward(points: tuple[ForwardPoint, ...], ideality: float, celsius: float) -> Params:
    """I_S, n and R_S so that the curve passes through one or two points, shifted for temperature."""
    v_t = thermal_voltage(celsius)
    shift = JUNCTION_DRIFT * (celsius - Kelvin25)
    first, last = points[0], points[-1]
    r_series = 0.0
    if len(points) == 2:
        swing = ideality * v_t * math.log(last.current / first.current)
        r_series = (last.voltage - first.voltage - swing) / (last.current - first.current)
        if r_series < 0:  # the points lie closer than this ideality allows: fit it instead
            ideality = (last.voltage - first.voltage) / (v_t * math.log(last.current / first.current))
            r_series = 0.0
    junction = first.voltage + shift - r_series * first.current
    i_s = first.current / math.expm1(max(junction, 0.02) / (ideality * v_t))
    return {"i_s": i_s, "ideality": ideality, "r_series": r_series, "temperature": celsius}


@cache
def diode(card: DiodeCard, celsius: float = Kelvin25) -> Params:
    """Forward points exactly; breakdown at the rated reverse voltage."""
    ideality = SCHOTTKY_IDEALITY if card.schottky else SILICON_IDEALITY
    return _forward(card.forward, ideality, celsius) | {"breakdown": card.reverse, "capacitance": card.capacitance}


@cache
def zener(card: ZenerCard, celsius: float = Kelvin25, spread: Spread = "typ") -> Params:
    """V_Z at the test current exactly, with the card's impedance there (slope V_B = Z·I)."""
    voltage = card.voltage * {"min": 1 - card.tolerance, "typ": 1.0, "max": 1 + card.tolerance}[spread]
    return _forward((card.forward,), 1.1, celsius) | {
        "breakdown": voltage,
        "breakdown_current": card.test_current,
        "breakdown_slope": card.impedance * card.test_current,
        "capacitance": card.capacitance,
    }


@cache
def npn(card: NpnCard, celsius: float = Kelvin25, spread: Spread = "typ") -> Params:
    """β_F from the gain, I_S from VBE(sat), R_C from VCE(sat), both at their test currents.

    In saturation i_c = i_cc − i_ec(1 + 1/β_R) and i_b = i_cc/β_F + i_ec/β_R fix i_cc and i_ec; then
    VBE = V_T·ln(i_cc/I_S), and what VCE(sat) exceeds V_T·ln(i_cc/i_ec) is R_C·i_c. The gain was measured
    near V_CE = 1 V, where the Early effect is under 1 %.
    """
    gain = {"min": card.gain_min, "typ": card.gain, "max": card.gain_max}[spread]
    v_t = thermal_voltage(Kelvin25)
    i_c, i_b = card.sat_collector, card.sat_base
    i_ec = (i_b - i_c / card.gain) / ((1 + 1 / BETA_REVERSE) / card.gain + 1 / BETA_REVERSE)
    i_cc = i_c + i_ec * (1 + 1 / BETA_REVERSE)
    r_c = max((card.v_ce_sat - v_t * math.log(i_cc / i_ec)) / i_c, 1e-3)
    hot = thermal_voltage(celsius)
    i_s = i_cc / math.exp((card.v_be_sat + JUNCTION_DRIFT * (celsius - Kelvin25)) / hot)
    return {
        "i_s": i_s, "beta_f": gain, "beta_r": BETA_REVERSE, "early": EARLY_VOLTAGE, "r_c": r_c,
        "breakdown": card.v_ceo, "temperature": celsius,
    }  # fmt: skip


def _square(v: float, v_ds: float, beta: float, theta: float, v_t: float) -> float:
    """The channel equation of `circuit.devices.mosfet`, v = v_gs − v_th [A]."""
    s = 2 * MOSFET_SLOPE * v_t
    l_f, l_r = log1p_exp(v / s), log1p_exp((v - MOSFET_SLOPE * v_ds) / s)
    return 2 * MOSFET_SLOPE * beta * v_t**2 * (l_f**2 - l_r**2) / (1 + theta * s * l_f)


@cache
def _channel(card: MosfetCard) -> tuple[float, float, float]:
    """β, V_th and θ at 25 °C from the typical threshold and the on-resistance at the outermost gate voltages.

    With one point, a fifth of it is taken as the part the gate does not govern.
    """
    v_t = thermal_voltage(Kelvin25)
    points = sorted(card.on, key=lambda p: p.v_gs)
    low, high = points[0], points[-1]

    def resistance_fit(v_th: float) -> tuple[float, float]:
        # With o the overdrive less n·V_DS/2 at the test current: R = (1/β)/o + (θ/β)·v_ov/o, linear in
        # 1/β and θ/β.
        over = [p.v_gs - v_th for p in (low, high)]
        less = [max(v - MOSFET_SLOPE * p.resistance * p.current / 2, 1e-3) for v, p in zip(over, (low, high), strict=True)]
        by_gate, fixed = [1 / o for o in less], [v / o for v, o in zip(over, less, strict=True)]
        share = 0.2 * low.resistance
        if high.v_gs > low.v_gs:
            det = by_gate[0] * fixed[1] - by_gate[1] * fixed[0]
            share = (by_gate[0] * high.resistance - by_gate[1] * low.resistance) / det
        share = min(max(share, 0.0), 0.9 * low.resistance / fixed[0])
        beta = by_gate[0] / (low.resistance - share * fixed[0])
        return beta, share * beta

    def miss(v_th: float) -> float:
        beta, theta = resistance_fit(v_th)
        current = _square(card.threshold - v_th, card.threshold, beta, theta, v_t)
        return math.log(current / card.threshold_current)

    v_th = float(brentq(miss, card.threshold - 1.5, min(low.v_gs - 0.02, card.threshold + 1.5)))
    beta, theta = resistance_fit(v_th)
    return beta, v_th, theta


@cache
def n_mosfet(card: MosfetCard, celsius: float = Kelvin25, spread: Spread = "typ") -> Params:
    """Channel by `_channel`; capacitances from Ciss, Crss, Coss; the Miller charge from Qgd.

    Charge passed while the drain falls from half its rating to zero with the gate at the plateau is Qgd;
    the high value of C_gd is chosen for that.
    """
    beta, v_th, theta = _channel(card)
    shift = {"min": card.threshold_min, "typ": card.threshold, "max": card.threshold_max}[spread] - card.threshold
    scale = 1 + ON_RESISTANCE_DRIFT * (celsius - Kelvin25)
    a, swing = 2.0, card.v_ds / 2
    plateau = card.threshold + 0.5

    def charge(v: float) -> float:  # of the switched part, per farad: (v + a·ln cosh(v/a))/2
        return 0.5 * (v + a * (abs(v) / a + math.log1p(math.exp(-2 * abs(v) / a)) - math.log(2)))

    c_high = card.c_rss + max(card.q_gd - card.c_rss * swing, 0.0) / (charge(plateau) - charge(plateau - swing))
    body = _forward((card.body,), 1.2, celsius)
    return {
        "beta": beta / scale, "v_th": v_th + shift + THRESHOLD_DRIFT * (celsius - Kelvin25), "theta": theta,
        "slope": MOSFET_SLOPE, "c_gs": card.c_iss - card.c_rss, "c_gd_low": card.c_rss, "c_gd_high": c_high,
        "c_ds": card.c_oss - card.c_rss, "v_gd_scale": a, "i_s": body["i_s"], "ideality": body["ideality"],
        "breakdown": card.v_ds, "gate_leakage": min(card.v_gs_max / card.gate_leakage, 1e15), "temperature": celsius,
    }  # fmt: skip


def relay(card: RelayCard) -> Params:
    """Pull-in and must-release as coil currents at 25 °C; L from the time constant."""
    return {
        "inductance": card.time_constant * card.coil,
        "pull_in": card.pull_in * card.rated / card.coil,
        "drop_out": card.must_release * card.rated / card.coil,
        "operate_travel": card.operate,
        "release_travel": card.release,
        "contact_resistance": card.contact_resistance,
    }


DEVICE = {"diode": d.Diode, "zener": d.Diode, "npn": d.Bipolar, "n_mosfet": d.Mosfet, "relay": d.Relay}
RULES = {"diode": diode, "zener": zener, "npn": npn, "n_mosfet": n_mosfet, "relay": relay}
