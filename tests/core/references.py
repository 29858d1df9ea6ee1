"""Hand-written equations of two circuits, for solvers of another package: the oracles' and the bench's other
side.

Each right-hand side is compiled, so that a comparison of speed is one of methods. State order is in the
docstrings.
"""

from typing import Any

import numba
import numpy as np
from hexlet_core.circuit.devices import Bipolar, Capacitor, Resistor, VoltageSource
from hexlet_core.circuit.devices.base import thermal_voltage
from hexlet_core.circuit.netlist import Netlist
from scipy.integrate import solve_ivp

Array = np.ndarray[Any, np.dtype[np.float64]]
V_T = thermal_voltage(25.0)
I_S, BETA, BETA_R, C_BE, C_BC, TRANSIT = 1e-14, 150.0, 3.0, 2e-11, 6e-12, 4e-10
SUPPLY, R_C, R_B1, R_B2, C_COUPLE = 9.0, 1e3, 33e3, 33.3e3, 22e-6


MODEL = {
    "i_s": I_S,
    "beta_f": BETA,
    "beta_r": BETA_R,
    "early": 1e6,
    "r_c": 1e-3,
    "c_be": C_BE,
    "c_bc": C_BC,
    "transit": TRANSIT,
    "breakdown": 1e3,
    "reverse_breakdown": 1e3,
}


def astable() -> Netlist:
    """Two transistors that switch each other, with the numbers above."""
    return Netlist.of(
        [
            VoltageSource(name="V", a="plus", b="0", value=SUPPLY),
            Resistor(name="RC1", a="plus", b="c1", resistance=R_C),
            Resistor(name="RC2", a="plus", b="c2", resistance=R_C),
            Resistor(name="RB1", a="plus", b="b1", resistance=R_B1),
            Resistor(name="RB2", a="plus", b="b2", resistance=R_B2),
            Capacitor(name="C1", a="c1", b="b2", capacitance=C_COUPLE),
            Capacitor(name="C2", a="c2", b="b1", capacitance=C_COUPLE),
            Bipolar(name="Q1", c="c1", b="b1", e="0", **MODEL),
            Bipolar(name="Q2", c="c2", b="b2", e="0", **MODEL),
        ]
    )


@numba.njit(cache=False, error_model="numpy")  # type: ignore[untyped-decorator]
def transistors(y: Array, mass: Array, flow: Array) -> None:
    """Two transistors' charges into `mass` and currents out of `flow`; y = (c1, b1, c2, b2) [V]."""
    for k in range(2):
        c, b = 2 * k, 2 * k + 1
        v_be, v_bc = y[b], y[b] - y[c]
        e_be, e_bc = np.exp(min(v_be / V_T, 100.0)), np.exp(min(v_bc / V_T, 100.0))
        i_cc, i_ec = I_S * (e_be - 1.0), I_S * (e_bc - 1.0)
        flow[c] -= (i_cc - i_ec) * (1.0 - v_bc * 1e-6) - i_ec / BETA_R
        flow[b] -= i_cc / BETA + i_ec / BETA_R
        mass[b, b] += C_BE + TRANSIT * I_S / V_T * e_be + C_BC
        mass[b, c] -= C_BC
        mass[c, c] += C_BC
        mass[c, b] -= C_BC


@numba.njit(cache=False, error_model="numpy")  # type: ignore[untyped-decorator]
def couple(mass: Array, a: int, b: int, c: float) -> None:
    """A capacitor between two of the states."""
    mass[a, a] += c
    mass[b, b] += c
    mass[a, b] -= c
    mass[b, a] -= c


@numba.njit(cache=False, error_model="numpy")  # type: ignore[untyped-decorator]
def astable_rhs(t: float, y: Array) -> Array:
    """dy/dt of the astable; y = (c1, b1, c2, b2) [V]. Charges: coupling, junctions and transit time."""
    mass, flow = np.zeros((4, 4)), np.zeros(4)
    transistors(y, mass, flow)
    couple(mass, 0, 3, C_COUPLE)
    couple(mass, 2, 1, C_COUPLE)
    flow[0] += (SUPPLY - y[0]) / R_C
    flow[2] += (SUPPLY - y[2]) / R_C
    flow[1] += (SUPPLY - y[1]) / R_B1
    flow[3] += (SUPPLY - y[3]) / R_B2
    return np.linalg.solve(mass, flow)  # type: ignore[return-value]


@numba.njit(cache=False, error_model="numpy")  # type: ignore[untyped-decorator]
def one_shot_rhs(t: float, y: Array, trigger: float) -> Array:
    """dy/dt of the transistor one-shot of the oracles; y = (c1, b1, c2, b2) [V], a trigger voltage behind 4.7
    kΩ.
    """
    mass, flow = np.zeros((4, 4)), np.zeros(4)
    transistors(y, mass, flow)
    couple(mass, 0, 3, 1e-6)
    flow[0] += (5.0 - y[0]) / 1e3
    flow[1] += (y[2] - y[1]) / 10e3 + (trigger - y[1]) / 4.7e3
    flow[2] += (5.0 - y[2]) / 1e3 - (y[2] - y[1]) / 10e3
    flow[3] += (5.0 - y[3]) / 47e3
    return np.linalg.solve(mass, flow)  # type: ignore[return-value]


@numba.njit(cache=False, error_model="numpy")  # type: ignore[untyped-decorator]
def fan_rhs(t: float, y: Array, pin: float, q: Array, d: Array, v_t: float) -> Array:
    """dy/dt of the fan relay; y = (coil current, gate, drain); q, d: the MOSFET's and the diode's numbers."""
    i, v_g, v_d = y
    beta, v_th, theta, n, c_gs, c_low, c_high, scale, c_ds, i_s, ideality = q
    r_coil, l_coil, supply = 96.0, 96.0 * 4.7e-3, 12.6
    s = 2 * n * v_t
    a, b = (v_g - v_th) / s, (v_g - v_th - n * v_d) / s
    l_f = a + np.log1p(np.exp(-a)) if a > 0 else np.log1p(np.exp(a))
    l_r = b + np.log1p(np.exp(-b)) if b > 0 else np.log1p(np.exp(b))
    channel = 2 * n * beta * v_t**2 * (l_f**2 - l_r**2) / (1 + theta * s * l_f)
    body = i_s * np.expm1(min(-v_d / (ideality * v_t), 60.0))
    wheel = d[0] * np.expm1(min((v_d - supply) / (d[1] * v_t), 60.0))
    through = (i + (supply - v_d) / (500 * r_coil)) / (1 + 1 / 500)
    c_gd = c_low + 0.5 * (c_high - c_low) * (1 + np.tanh((v_g - v_d) / scale))
    into_gate, into_drain = (pin - v_g) / 245.0 - v_g / 6800.0, through - channel + body - wheel
    m00, m11 = c_gs + c_gd, c_ds + c_gd + d[2]
    det = m00 * m11 - c_gd * c_gd
    out = np.empty(3)
    out[0] = (supply - v_d - r_coil * through) / l_coil
    out[1] = (m11 * into_gate + c_gd * into_drain) / det
    out[2] = (c_gd * into_gate + m00 * into_drain) / det
    return out


def integrated(
    rhs: Any,
    y: Array,
    pieces: list[tuple[float, float, tuple[Any, ...]]],
    method: Any,
    rtol: float,
    **how: Any,
) -> tuple[Array, Array]:
    """Times and states by a solver of another package, restarted at each piece's beginning."""
    times, states = [], []
    for begin, end, args in pieces:
        found = solve_ivp(
            rhs, (begin, end), y, method=method, rtol=rtol, atol=rtol * 1e-3, args=args or None, **how
        )
        y = found.y[:, -1]
        times.append(found.t)
        states.append(found.y)
    return np.concatenate(times), np.concatenate(states, axis=1)
