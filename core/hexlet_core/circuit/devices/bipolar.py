"""Bipolar transistor: Ebers-Moll transport form with Early effect, collector resistance, capacitances.

    i_cc = I_S (exp(v_be/V_T) − 1),  i_ec = I_S (exp(v_bc/V_T) − 1)
    i_c = (i_cc − i_ec)(1 − v_bc/V_A) − i_ec/β_R,   i_b = i_cc/β_F + i_ec/β_R

Beyond V_CEO the collector breaks down exponentially to the emitter. Valid for switching at one fixed
temperature; gain roll-off at high current and base-emitter breakdown are left out.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ...fields import Q
from .base import (
    Device,
    Floats,
    Ints,
    Node,
    critical_voltage,
    flow,
    limit_junction,
    soft_exp,
    soft_exp_slope,
    stamp_conductance,
    stamp_control,
    thermal_voltage,
)

BREAKDOWN_CURRENT = 1e-3  # the current at which V_CEO is counted [A]
BREAKDOWN_SLOPE = 0.3  # [V] per factor e


class Bipolar(Device):
    """Collector `c`, base `b`, emitter `e`."""

    code = 9
    terminals = ("c", "b", "e")
    conducts = (("c", "e"), ("b", "e"), ("b", "c"))

    device: Literal["bipolar"] = "bipolar"
    polarity: Literal["npn", "pnp"] = "npn"
    c: Node
    b: Node
    e: Node
    i_s: Annotated[float, Q("A", 1e-20, 1e-6)] = 1e-14
    beta_f: Annotated[float, Q("", 1.0, 1e5)] = 100.0
    beta_r: Annotated[float, Q("", 0.01, 1e3)] = 3.0
    early: Annotated[float, Q("V", 5.0, 1e6)] = 80.0
    r_c: Annotated[float, Q("Ω", 1e-6, 1e3)] = 0.5
    c_be: Annotated[float, Q("F", 1e-13, 1e-8)] = 2e-11
    c_bc: Annotated[float, Q("F", 1e-13, 1e-8)] = 6e-12
    transit: Annotated[float, Q("s", 0.0, 1e-6)] = 4e-10
    breakdown: Annotated[float, Q("V", 3.0, 1e4)] = 40.0
    temperature: Annotated[float, Q("°C", -60.0, 250.0)] = 25.0

    def inner_nodes(self) -> int:
        return 1

    def numbers(self) -> list[float]:
        v_t = thermal_voltage(self.temperature)
        return [
            1.0 if self.polarity == "npn" else -1.0,
            self.i_s, v_t, critical_voltage(v_t, self.i_s), self.beta_f, self.beta_r, 1.0 / self.early,
            1.0 / self.r_c, self.c_be, self.c_bc, self.transit, self.breakdown,
        ]  # fmt: skip

    def junctions(self) -> list[float]:
        return [0.0, 0.0, 0.0]


def load(ia: Ints, p: int, fa: Floats, sa: Floats, lim: Floats, x: Floats, alpha: float, J: Floats, F: Floats, Q: Floats) -> int:
    f, l = ia[p + 1], ia[p + 3]
    c, b, e, k = ia[p + 4], ia[p + 5], ia[p + 6], ia[p + 7]
    pol, i_s, v_t, v_crit, beta_f, beta_r, inv_early = (
        fa[f], fa[f + 1], fa[f + 2], fa[f + 3], fa[f + 4], fa[f + 5], fa[f + 6],
    )  # fmt: skip
    g_c, c_be, c_bc, transit, v_ceo = fa[f + 7], fa[f + 8], fa[f + 9], fa[f + 10], fa[f + 11]
    stamp_conductance(J, c, k, g_c)
    flow(F, c, k, g_c * (x[c] - x[k]))

    v_be, v_bc = pol * (x[b] - x[e]), pol * (x[b] - x[k])
    u_be = limit_junction(v_be, lim[l], v_t, v_crit)
    u_bc = limit_junction(v_bc, lim[l + 1], v_t, v_crit)
    lim[l], lim[l + 1] = u_be, u_bc
    d_be, d_bc = v_be - u_be, v_bc - u_bc
    limited = 1 if abs(d_be) + abs(d_bc) > 1e-9 else 0

    i_cc, g_cc = i_s * (soft_exp(u_be / v_t) - 1.0), i_s / v_t * soft_exp_slope(u_be / v_t)
    i_ec, g_ec = i_s * (soft_exp(u_bc / v_t) - 1.0), i_s / v_t * soft_exp_slope(u_bc / v_t)
    early = 1.0 - u_bc * inv_early
    i_c = (i_cc - i_ec) * early - i_ec / beta_r
    g_c1 = g_cc * early
    g_c2 = -g_ec * early - (i_cc - i_ec) * inv_early - g_ec / beta_r
    i_b = i_cc / beta_f + i_ec / beta_r + 1e-12 * (u_be + u_bc)
    g_b1, g_b2 = g_cc / beta_f + 1e-12, g_ec / beta_r + 1e-12
    flow(F, k, e, pol * (i_c + g_c1 * d_be + g_c2 * d_bc))
    flow(F, b, e, pol * (i_b + g_b1 * d_be + g_b2 * d_bc))
    stamp_control(J, k, e, b, e, g_c1)
    stamp_control(J, k, e, b, k, g_c2)
    stamp_control(J, b, e, b, e, g_b1)
    stamp_control(J, b, e, b, k, g_b2)

    over = (v_be - v_bc) - v_ceo
    u = limit_junction(over, lim[l + 2], BREAKDOWN_SLOPE, 4.0 * BREAKDOWN_SLOPE)
    lim[l + 2] = u
    if abs(u - over) > 1e-9:
        limited = 1
    g = BREAKDOWN_CURRENT / BREAKDOWN_SLOPE * soft_exp_slope(u / BREAKDOWN_SLOPE)
    flow(F, k, e, pol * (BREAKDOWN_CURRENT * soft_exp(u / BREAKDOWN_SLOPE) + g * (over - u)))
    stamp_conductance(J, k, e, g)

    flow(Q, b, e, pol * (c_be * v_be + transit * (i_cc + g_cc * d_be)))
    stamp_conductance(J, b, e, alpha * (c_be + transit * g_cc))
    flow(Q, b, k, pol * c_bc * v_bc)
    stamp_conductance(J, b, k, alpha * c_bc)
    return limited
