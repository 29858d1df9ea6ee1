"""From a card's numbers to a device model's parameters, one documented rule a parameter.

Every rule is checked by measuring the model the way a datasheet measures and finding the card's number again
(tests/core/test_cards.py).

Parameters are those at 25 °C; what a temperature does to them is the devices' own matter
(`circuit.devices.heat`).
"""

from __future__ import annotations

import math
from functools import cache
from typing import Any, Literal

from ..circuit import devices as d
from ..circuit.devices.base import log1p_exp, thermal_voltage
from ..circuit.devices.heat import COPPER_DRIFT, ROOM
from ..roots import root
from .card import (
    BipolarCard,
    BridgeCard,
    BuzzerCard,
    CapacitorCard,
    ComparatorCard,
    CounterCard,
    DiodeCard,
    FieldEffectCard,
    ForwardPoint,
    FuseCard,
    LampCard,
    LedCard,
    ModuleCard,
    MotorCard,
    OptocouplerCard,
    PotentiometerCard,
    RelayCard,
    ResistorCard,
    ThyristorCard,
    TimerCard,
    ZenerCard,
)

Spread = Literal["min", "typ", "max"]
SILICON_IDEALITY, SCHOTTKY_IDEALITY = 1.8, 1.05
BETA_REVERSE = 3.0
EARLY_VOLTAGE = 80.0
V_BE_SPREAD = 0.03  # between transistors of one kind, either way [V]
CHANNEL_SPREAD = 0.2  # of a MOSFET's transconductance, and so of its on-resistance, either way
LEAST_PULL_IN = 0.7  # of what a relay must pull in at: where the best of its kind does
MOST_RELEASE = 3.0  # times what a relay must let go at: where the best of its kind does
LEAST_TRAVEL = 0.5  # of a relay's longest operate and release times
MOSFET_SLOPE = 1.4
ZENER_DRIFT, NO_DRIFT = (
    9e-4,
    5.1,
)  # a zener drifts by this much a kelvin for each volt above the one that does not [1/K, V]
Params = dict[str, Any]


def copper(resistance: float, celsius: float, measured_at: float = ROOM) -> float:
    """A copper winding's resistance at another temperature [Ω].

    >>> round(copper(96.0, 52.0, 21.0), 1)
    107.6
    """
    return resistance * (1 + COPPER_DRIFT * (celsius - measured_at))


def _forward(points: tuple[ForwardPoint, ...], ideality: float, celsius: float) -> Params:
    """I_S, n and R_S so that the curve passes through one or two points."""
    v_t = thermal_voltage(ROOM)
    first, last = points[0], points[-1]
    r_series = 0.0
    if len(points) == 2:
        swing = ideality * v_t * math.log(last.current / first.current)
        r_series = (last.voltage - first.voltage - swing) / (last.current - first.current)
        if r_series < 0:  # the points lie closer than this ideality allows: fit it instead
            ideality = (last.voltage - first.voltage) / (v_t * math.log(last.current / first.current))
            r_series = 0.0
    junction = first.voltage - r_series * first.current
    i_s = first.current / math.expm1(max(junction, 0.02) / (ideality * v_t))
    return {"i_s": i_s, "ideality": ideality, "r_series": r_series, "temperature": celsius}


def _apart(junction: Params, volts: float) -> dict[str, tuple[float, float]]:
    """The extremes of I_S for forward volts that much apart, either way [V]."""
    share = math.exp(volts / (junction["ideality"] * thermal_voltage(ROOM)))
    return {"i_s": (junction["i_s"] / share, junction["i_s"] * share)} if volts else {}


@cache
def diode(card: DiodeCard, celsius: float = ROOM) -> Params:
    """Forward points exactly; breakdown at the rated reverse voltage."""
    ideality = SCHOTTKY_IDEALITY if card.schottky else SILICON_IDEALITY
    junction = _forward(card.forward, ideality, celsius)
    return junction | {
        "breakdown": card.reverse,
        "capacitance": card.capacitance,
        "spread": _apart(junction, card.forward_spread),
    }


@cache
def zener(card: ZenerCard, celsius: float = ROOM, spread: Spread = "typ") -> Params:
    """V_Z at the test current exactly, with the card's impedance there (slope V_B = Z·I)."""
    voltage = card.voltage * {"min": 1 - card.tolerance, "typ": 1.0, "max": 1 + card.tolerance}[spread]
    return _forward((card.forward,), 1.1, celsius) | {
        "breakdown": voltage,
        "breakdown_drift": ZENER_DRIFT * (card.voltage - NO_DRIFT) if card.drift is None else card.drift,
        "breakdown_current": card.test_current,
        "breakdown_slope": card.impedance * card.test_current,
        "capacitance": card.capacitance,
        "spread": {"breakdown": (card.voltage * (1 - card.tolerance), card.voltage * (1 + card.tolerance))},
    }


def _gains(card: BipolarCard) -> tuple[float, float]:
    """I_K and I_L from the gains at three currents: β = β_F/((1 + i_c/I_K)·(1 + √(I_L/i_cc))), i_cc = i_c·(1
    + i_c/I_K).

    Without a gain at a low current, recombination takes a quarter at a thousandth of the test current. The
    two depend on each other a little: they are found in turn.
    """
    at, i_k, r = card.gain_at, 1e6, 0.0  # r = √(I_L/i_cc) at the test current
    low = card.gain_low.current if card.gain_low else at / 1000
    for _ in range(30):
        heavy = 1 + at / i_k
        apart = math.sqrt(_transport(at, i_k) / _transport(low, i_k))
        ratio = card.gain / card.gain_low.gain * heavy / (1 + low / i_k) if card.gain_low else 4 / 3
        r = min(max((ratio - 1) / max(apart - ratio, 1e-3), 0.0), 1.0)  # (1 + apart·r)/(1 + r) = ratio
        if card.gain_far is not None:
            far = card.gain_far.current
            near = (1 + r) / (1 + r * math.sqrt(_transport(at, i_k) / _transport(far, i_k)))
            c = card.gain / card.gain_far.gain * near
            i_k = max((far - c * at) / max(c - 1.0, 1e-6), at)
    return i_k, min(r * r * _transport(at, i_k), 1.0)


def _transport(i_c: float, i_k: float) -> float:
    """i_cc behind an active collector current."""
    return i_c * (1 + i_c / i_k)


@cache
def bipolar(card: BipolarCard, celsius: float = ROOM, spread: Spread = "typ") -> Params:
    """β_F, I_K and I_L from the gains; R_C and R_E from VCE(sat); I_S and R_B from V_BE at two currents.

    In saturation i_c = (i_cc − i_ec)·h − i_ec/β_R and i_b = (i_cc + √(I_L·i_cc))/β_F + i_ec/β_R fix i_cc and
    i_ec. What VCE(sat) exceeds V_T·ln(i_cc/i_ec) is (R_C + R_E)·i_c. V_BE = V_T·ln(i_cc/I_S) + R_B·i_b +
    R_E·i_e at the small current and in saturation gives I_S and R_B; R_E takes half of what the junction
    leaves of V_BE(sat), and at most half of what it leaves of VCE(sat). The gain was measured near V_CE = 1
    V, where the Early effect is under 1 %.
    """
    i_k, i_low = _gains(card)

    def beta(gain: float) -> float:
        i_cc = _transport(card.gain_at, i_k)
        return gain * (i_cc + math.sqrt(i_low * i_cc)) / card.gain_at

    v_t, typical = thermal_voltage(ROOM), beta(card.gain)
    i_c, i_b = card.sat_collector, card.sat_base

    def reverse(i_cc: float) -> float:
        return BETA_REVERSE * (i_b - (i_cc + math.sqrt(i_low * i_cc)) / typical)

    def collector(i_cc: float) -> float:
        i_ec = reverse(i_cc)
        return (i_cc - i_ec) * 2 / (1 + math.sqrt(1 + 4 * i_cc / i_k)) - i_ec / BETA_REVERSE - i_c

    most = ((math.sqrt(i_low + 4 * typical * i_b) - math.sqrt(i_low)) / 2) ** 2  # where i_ec would be nothing
    i_cc = root(collector, 0.0, most * (1 - 1e-12))
    across = max(card.v_ce_sat - v_t * math.log(i_cc / reverse(i_cc)), 2e-3)
    on = card.v_be_on_at
    on_cc = _transport(on, i_k)
    on_b = (on_cc + math.sqrt(i_low * on_cc)) / typical
    left = max(card.v_be_sat - card.v_be_on - v_t * math.log(i_cc / on_cc), 0.0)
    r_e = min(0.5 * left / (i_c + i_b - on - on_b), 0.5 * across / i_c)
    r_b = max((left - r_e * (i_c + i_b - on - on_b)) / (i_b - on_b), 0.0) if i_b > on_b else 0.0
    i_s = i_cc / math.exp((card.v_be_sat - r_b * i_b - r_e * (i_c + i_b)) / v_t)
    apart = math.exp(V_BE_SPREAD / v_t)
    return {
        "i_s": i_s,
        "beta_f": beta({"min": card.gain_min, "typ": card.gain, "max": card.gain_max}[spread]),
        "beta_r": BETA_REVERSE,
        "early": EARLY_VOLTAGE,
        "i_k": i_k,
        "i_low": i_low,
        "r_c": max(across / i_c - r_e, 1e-3),
        "r_b": r_b,
        "r_e": r_e,
        "breakdown": card.v_ceo,
        "reverse_breakdown": card.v_ebo,
        "temperature": celsius,
        "polarity": card.kind,
        "spread": {"beta_f": (beta(card.gain_min), beta(card.gain_max)), "i_s": (i_s / apart, i_s * apart)},
    }


def channel_current(v: float, v_ds: float, beta: float, theta: float, v_t: float) -> float:
    """The channel equation of `circuit.devices.mosfet`, v = v_gs − v_th [A]."""
    s = 2 * MOSFET_SLOPE * v_t
    l_f, l_r = log1p_exp(v / s), log1p_exp((v - MOSFET_SLOPE * v_ds) / s)
    return 2 * MOSFET_SLOPE * beta * v_t**2 * (l_f**2 - l_r**2) / (1 + theta * s * l_f)


@cache
def _channel(card: FieldEffectCard) -> tuple[float, float, float]:
    """β, V_th and θ at 25 °C from the typical threshold and the on-resistance at the outermost gate voltages.

    With one point, a fifth of it is taken as the part the gate does not govern.
    """
    v_t = thermal_voltage(ROOM)
    points = sorted(card.on, key=lambda p: p.v_gs)
    low, high = points[0], points[-1]

    def resistance_fit(v_th: float) -> tuple[float, float]:
        # With o the overdrive less n·V_DS/2 at the test current: R = (1/β)/o + (θ/β)·v_ov/o, linear in
        # 1/β and θ/β.
        over = [p.v_gs - v_th for p in (low, high)]
        less = [
            max(v - MOSFET_SLOPE * p.resistance * p.current / 2, 1e-3)
            for v, p in zip(over, (low, high), strict=True)
        ]
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
        current = channel_current(card.threshold - v_th, card.threshold, beta, theta, v_t)
        return math.log(current / card.threshold_current)

    v_th = root(miss, card.threshold - 1.5, min(low.v_gs - 0.02, card.threshold + 1.5))
    beta, theta = resistance_fit(v_th)
    return beta, v_th, theta


@cache
def mosfet(card: FieldEffectCard, celsius: float = ROOM, spread: Spread = "typ") -> Params:
    """Channel by `_channel`; capacitances from Ciss, Crss, Coss; the Miller charge from Qgd.

    Charge passed while the drain falls from half its rating to zero with the gate at the plateau is Qgd; the
    high value of C_gd is chosen for that.
    """
    beta, v_th, theta = _channel(card)
    shift = {"min": card.threshold_min, "typ": card.threshold, "max": card.threshold_max}[
        spread
    ] - card.threshold
    a, swing = 2.0, card.v_ds / 2
    plateau = card.threshold + 0.5

    def charge(v: float) -> float:  # of the switched part, per farad: (v + a·ln cosh(v/a))/2
        return 0.5 * (v + a * (abs(v) / a + math.log1p(math.exp(-2 * abs(v) / a)) - math.log(2)))

    c_high = card.c_rss + max(card.q_gd - card.c_rss * swing, 0.0) / (
        charge(plateau) - charge(plateau - swing)
    )
    body = _forward((card.body,), 1.2, celsius)
    return {
        "beta": beta,
        "v_th": v_th + shift,
        "theta": theta,
        "slope": MOSFET_SLOPE,
        "c_gs": card.c_iss - card.c_rss,
        "c_gd_low": card.c_rss,
        "c_gd_high": c_high,
        "c_ds": card.c_oss - card.c_rss,
        "v_gd_scale": a,
        "i_s": body["i_s"],
        "ideality": body["ideality"],
        "breakdown": card.v_ds,
        "gate_leakage": min(card.v_gs_max / card.gate_leakage, 1e15),
        "temperature": celsius,
        "polarity": card.kind[0],
        "gate_limit": card.v_gs_max,
        "spread": {
            "v_th": tuple(v_th + t - card.threshold for t in (card.threshold_min, card.threshold_max)),
            "beta": (beta * (1 - CHANNEL_SPREAD), beta * (1 + CHANNEL_SPREAD)),
        },
    }


def relay(card: RelayCard, coil: float | None = None, rated: float | None = None) -> Params:
    """Pull-in and must-release as coil currents at 25 °C; L from the time constant. What a sheet promises is
    its worst: others of its kind pull in at less, let go at more, and are quicker.

    Args:
        card: its sheet.
        coil: its resistance [Ω] where it was measured, shape ().
        rated: its rated voltage [V] where that is another.
    """
    ohms = card.coil if coil is None else coil
    rated_amps = (card.rated if rated is None else rated) / ohms
    pull_in, drop_out = card.pull_in * rated_amps, card.must_release * rated_amps
    least = LEAST_PULL_IN * pull_in
    return {
        "resistance": ohms,
        "inductance": card.time_constant * ohms,
        "pull_in": pull_in,
        "drop_out": drop_out,
        "operate_travel": card.operate,
        "release_travel": card.release,
        "contact_resistance": card.contact_resistance,
        "spread": {
            "resistance": (ohms * (1 - card.coil_tolerance), ohms * (1 + card.coil_tolerance)),
            "pull_in": (least, pull_in),
            "drop_out": (drop_out, max(min(MOST_RELEASE * drop_out, 0.9 * least), drop_out)),
            "operate_travel": (LEAST_TRAVEL * card.operate, card.operate),
            "release_travel": (LEAST_TRAVEL * card.release, card.release),
        },
    }


def resistor(card: ResistorCard) -> Params:
    """Value and tolerance as on the card."""
    return {"resistance": card.value, "tolerance": card.tolerance}


def capacitor(card: CapacitorCard) -> Params:
    """An electrolytic leaks a tenth of max(3 µA, 0.01·C·V) at its rated voltage."""
    leak = (
        max(3e-6, 0.01 * card.value * card.voltage) / 10
        if card.dielectric in ("electrolytic", "tantalum")
        else 0.0
    )
    return {
        "capacitance": card.value,
        "tolerance": card.tolerance,
        "esr": card.esr or 0.0,
        "limit": card.voltage,
        "leakage": card.voltage / leak if leak else None,
    }


def potentiometer(card: PotentiometerCard) -> Params:
    """Value, tolerance and end resistance as on the card."""
    return {"resistance": card.value, "tolerance": card.tolerance, "end_resistance": card.end_resistance}


@cache
def led(card: LedCard, celsius: float = ROOM) -> Params:
    """V_F at I_F exactly; an ideality of 2 and an eighth of a volt in the series resistance are assumed."""
    drop = 0.125
    point = ForwardPoint(current=card.forward.current, voltage=card.forward.voltage - drop)
    junction = _forward((point,), 2.0, celsius)
    return junction | {
        "r_series": drop / card.forward.current,
        "breakdown": card.reverse,
        "spread": _apart(junction, card.forward_spread),
    }


@cache
def thyristor(card: ThyristorCard) -> Params:
    """R_GK from the gate current, α_p from the holding current, R_on from the on-state voltage.

    The gate turns it on once R_GK no longer takes all its current: R_GK = V_BE/I_GT. The holding current's
    formula (see the device) then gives α_p = (β_n·V_BE/(R_GK·I_H) + 1)/(1 + β_n), V_BE being that at I_H.
    """
    gain = 20.0
    v_t = thermal_voltage(ROOM)
    # On, V = V_T·(ln(i/I_S)) of one junction and a saturated transistor's small rest; the remainder is
    # resistance.
    i_s = (
        card.on.current / math.exp(0.85 * card.on.voltage / v_t)
        if card.on.voltage < 1.2
        else card.on.current / math.exp(0.9 / v_t)
    )
    i_s = min(max(i_s, 1e-20), 1e-8)
    gate = v_t * math.log(card.gate_current / gain / i_s)
    r_gk = gate / card.gate_current
    alpha = (gain * v_t * math.log(card.holding / i_s) / (r_gk * card.holding) + 1.0) / (1.0 + gain)
    base: Params = {
        "gain_n": gain,
        "alpha_p": alpha,
        "r_gk": r_gk,
        "r_ag": 1e9,
        "i_s": i_s,
        "breakdown": card.voltage,
    }
    return base | {
        "r_on": max((card.on.voltage - v_t * math.log(card.on.current / i_s) - 0.03) / card.on.current, 1e-4)
    }


@cache
def optocoupler(card: OptocouplerCard, spread: Spread = "typ") -> Params:
    """The transfer at its LED current exactly; the output resistance from the saturation voltage."""
    transfer = {"min": card.transfer_min, "typ": card.transfer, "max": card.transfer_max}[spread]
    diode_part = _forward((card.led,), 1.6, ROOM)
    i_c, led_current = card.saturation.current, card.saturation_led
    v_t = thermal_voltage(ROOM)
    gain = 200.0
    i_b = card.transfer * led_current / (gain + 1)
    i_ec = (i_b - i_c / gain) / ((1 + 1 / BETA_REVERSE) / gain + 1 / BETA_REVERSE)
    rest = v_t * math.log((i_c + i_ec * (1 + 1 / BETA_REVERSE)) / i_ec) if i_ec > 0 else 0.0
    return {
        "transfer": transfer,
        "knee": 1e6,
        "lag": card.speed / 2.2,
        "led_i_s": diode_part["i_s"],
        "led_ideality": 1.6,
        "led_series": 0.0,
        "gain": gain,
        "saturation": max((card.saturation.voltage - rest) / i_c, 1e-3),
        "breakdown": card.v_ceo,
        "spread": {"transfer": (card.transfer_min, card.transfer_max)},
    }


def fuse(card: FuseCard) -> Params:
    """Its cold resistance. It does not melt: whether it would is a verdict."""
    return {"resistance": card.resistance, "tolerance": 0.0}


def bridge(card: BridgeCard, celsius: float = ROOM) -> Params:
    """Each of the four rectifiers, through its forward point, breaking down at the rated reverse voltage."""
    return _forward((card.forward,), SILICON_IDEALITY, celsius) | {"breakdown": card.reverse}


def lamp(card: LampCard) -> Params:
    """Rated point as on the card; hot over cold resistance, 10 when the cold one is not known."""
    hot = card.volts**2 / card.watts
    return {"volts": card.volts, "watts": card.watts, "ratio": hot / card.cold if card.cold else 10.0}


def motor(card: MotorCard) -> Params:
    """Currents at the rated voltage as on the card."""
    return {
        "volts": card.volts,
        "running": card.running,
        "stall": card.stall,
        "inductance": card.inductance,
        "spin_up": card.spin_up,
    }


def module(card: ModuleCard) -> Params:
    """Current, input capacitance and working voltages as on the card."""
    return {
        "current": card.current,
        "capacitance": card.capacitance,
        "starts": card.starts,
        "stops": card.stops,
    }


def buzzer(card: BuzzerCard) -> Params:
    """Rated point and the voltage at which it sounds."""
    return {"volts": card.volts, "current": card.current, "sounds": card.sounds}


def timer(card: TimerCard) -> Params:
    """The output from two drops when high and one when low, the rest as on the card."""
    light, heavy = card.high
    r_high = (heavy.drop - light.drop) / (heavy.current - light.current)
    return {
        "divider": 1e5 if card.cmos else 5e3,
        "push_pull": card.cmos,
        "drop_high": max(light.drop - r_high * light.current, 0.0),
        "r_high": r_high,
        "r_low": card.low.drop / card.low.current,
        "r_discharge": card.discharge.drop / card.discharge.current,
        "discharge_limit": card.output,
        "threshold_bias": card.threshold_bias,
        "trigger_bias": card.trigger_bias,
        "quiescent": card.quiescent,
        "delay": card.shortest_pulse,
        "spike": card.spike,
        "least": card.supply_min,
        "most": card.supply_max,
        "spread": {
            "threshold_share": (
                2 / 3 * (1 - card.threshold_tolerance),
                2 / 3 * (1 + card.threshold_tolerance),
            )
        },
    }


def counter(card: CounterCard) -> Params:
    """Output resistance from its drop; the stages as on the card."""
    return {
        "stages": card.stages,
        "r_out": card.output.drop / card.output.current,
        "quiescent": card.quiescent,
        "least": card.supply_min,
    }


def comparator(card: ComparatorCard) -> Params:
    """Gain, swing, offset and response as on the card; 50 Ω of output resistance is assumed."""
    return {
        "gain": card.gain,
        "drop_high": card.drop_high.drop,
        "drop_low": card.drop_low.drop,
        "open_collector": card.open_collector,
        "r_out": 50.0,
        "bias": card.bias,
        "lag": card.response,
        "quiescent": card.quiescent,
        "spread": {"offset": (-card.offset, card.offset)},
    }


# Which device a card's numbers go into, and by which rule.
RULES: dict[str, tuple[type[d.Device], Any]] = {
    "resistor": (d.Resistor, resistor),
    "capacitor": (d.Capacitor, capacitor),
    "potentiometer": (d.Potentiometer, potentiometer),
    "diode": (d.Diode, diode),
    "zener": (d.Diode, zener),
    "led": (d.Diode, led),
    "npn": (d.Bipolar, bipolar),
    "pnp": (d.Bipolar, bipolar),
    "n_mosfet": (d.Mosfet, mosfet),
    "p_mosfet": (d.Mosfet, mosfet),
    "thyristor": (d.Thyristor, thyristor),
    "optocoupler": (d.Optocoupler, optocoupler),
    "relay": (d.Relay, relay),
    "lamp": (d.Lamp, lamp),
    "motor": (d.Motor, motor),
    "module": (d.Module, module),
    "buzzer": (d.Buzzer, buzzer),
    "timer": (d.Timer, timer),
    "counter": (d.Counter, counter),
    "comparator": (d.Comparator, comparator),
    "fuse": (d.Resistor, fuse),
    "bridge": (d.Bridge, bridge),
}
