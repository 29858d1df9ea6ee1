"""Bipolar transistor: Ebers-Moll transport form with Early effect, gain roll-off, resistances, charges.

    i_cc = I_S (exp(v_be/V_T) − 1),  i_ec = I_S (exp(v_bc/V_T) − 1),  h = 2/(1 + √(1 + 4·i_cc/I_K))
    i_c = (i_cc − i_ec)·h·(1 − v_bc/V_A) − i_ec/β_R,   i_b = i_cc/β_F + i_ec/β_R

so that the active gain is β_F/(1 + i_c/I_K), and falls at low currents by recombination in the base,
√(I_L·i_cc)/β_F more, to half at I_L. Base and emitter resistances drop R_B·i_b + R_E·i_e of the base's
voltage, in one branch between the base and a node inside; what R_E drops of the collector's voltage stands in
R_C. Beyond V_CEO the collector breaks down exponentially to the emitter, and the base-emitter junction does
so beyond V_EBO in reverse. Charges: fixed junction capacitances and the transit time. Numbers are those at 25
°C; `heat` says what `temperature` does to them. Valid for switching.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from ...fields import Q
from .base import (
    Device,
    Floats,
    Ints,
    Node,
    beyond,
    critical_voltage,
    flow,
    limit_both,
    limit_junction,
    soft_exp_slope,
    stamp_conductance,
    stamp_control,
    thermal_voltage,
)
from .heat import GAIN_DRIFT, saturation, scaled

BREAKDOWN_CURRENT = 1e-3  # the current at which V_CEO is counted [A]
BREAKDOWN_SLOPE = 0.3  # [V] per factor e
REVERSE_CURRENT, REVERSE_SLOPE = 1e-5, 0.1  # the same for V_EBO


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
    i_s: Annotated[float, Q("A", 1e-30, 1e-6)] = 1e-14
    beta_f: Annotated[float, Q("", 0.01, 1e5)] = 100.0
    beta_r: Annotated[float, Q("", 0.01, 1e3)] = 3.0
    early: Annotated[float, Q("V", 5.0, 1e6)] = 80.0
    i_k: Annotated[float, Q("A", 1e-6, 1e9)] = 1e6
    i_low: Annotated[float, Q("A", 0.0, 1.0)] = 0.0
    r_c: Annotated[float, Q("Ω", 1e-6, 1e3)] = 0.5
    r_b: Annotated[float, Q("Ω", 0.0, 1e5)] = 0.0
    r_e: Annotated[float, Q("Ω", 0.0, 1e3)] = 0.0
    c_be: Annotated[float, Q("F", 1e-13, 1e-8)] = 2e-11
    c_bc: Annotated[float, Q("F", 1e-13, 1e-8)] = 6e-12
    transit: Annotated[float, Q("s", 0.0, 1e-3)] = 4e-10
    breakdown: Annotated[float, Q("V", 3.0, 1e4)] = 40.0
    reverse_breakdown: Annotated[float, Q("V", 1.0, 1e4)] = 6.0
    temperature: Annotated[float, Q("°C", -60.0, 250.0)] = 25.0

    def inner_nodes(self) -> int:
        return 1 + (self.r_b + self.r_e > 0)

    def ratings(self) -> list[tuple[str, str, str, float]]:
        return (
            [("base-emitter", "e", "b", self.reverse_breakdown)]
            if self.polarity == "npn"
            else [("base-emitter", "b", "e", self.reverse_breakdown)]
        )

    def numbers(self) -> list[float]:
        v_t, i_s = thermal_voltage(self.temperature), saturation(self.i_s, 1.0, self.temperature)
        return [
            1.0 if self.polarity == "npn" else -1.0,
            i_s,
            v_t,
            critical_voltage(v_t, i_s),
            self.beta_f * scaled(GAIN_DRIFT, self.temperature),
            self.beta_r,
            1.0 / self.early,
            1.0 / (self.r_c + self.r_e),
            self.c_be,
            self.c_bc,
            self.transit,
            self.breakdown,
            4.0 / self.i_k,
            1.0 / (self.r_b + self.r_e) if self.r_b + self.r_e > 0 else 0.0,
            self.r_e,
            self.reverse_breakdown,
            critical_voltage(REVERSE_SLOPE, REVERSE_CURRENT * 1e-3),
            math.sqrt(self.i_low * i_s),
        ]

    def junctions(self) -> list[float]:
        return [0.0, 0.0, 0.0]


def load(
    ia: Ints,
    p: int,
    fa: Floats,
    sa: Floats,
    lim: Floats,
    x: Floats,
    J: Floats,
    C: Floats,
    F: Floats,
    Q: Floats,
) -> int:
    f, l = ia[p + 1], ia[p + 3]
    c, b, e, k = ia[p + 4], ia[p + 5], ia[p + 6], ia[p + 7]
    pol, i_s, v_t, v_crit, beta_f, beta_r, inv_early = (
        fa[f],
        fa[f + 1],
        fa[f + 2],
        fa[f + 3],
        fa[f + 4],
        fa[f + 5],
        fa[f + 6],
    )
    g_c, c_be, c_bc, transit, v_ceo = fa[f + 7], fa[f + 8], fa[f + 9], fa[f + 10], fa[f + 11]
    knee, g_b, r_e, v_ebo, z_crit, low = (
        fa[f + 12],
        fa[f + 13],
        fa[f + 14],
        fa[f + 15],
        fa[f + 16],
        fa[f + 17],
    )
    stamp_conductance(J, c, k, g_c)
    flow(F, c, k, g_c * (x[c] - x[k]))
    outer = b
    if g_b > 0.0:
        b = ia[p + 8]

    v_be, v_bc = pol * (x[b] - x[e]), pol * (x[b] - x[k])
    u_be = limit_both(v_be, lim[l], v_t, v_crit, v_ebo, REVERSE_SLOPE, z_crit)
    u_bc = limit_junction(v_bc, lim[l + 1], v_t, v_crit)
    lim[l], lim[l + 1] = u_be, u_bc
    d_be, d_bc = v_be - u_be, v_bc - u_bc
    limited = 1 if abs(d_be) + abs(d_bc) > 1e-9 else 0

    e_be, e_bc = soft_exp_slope(u_be / v_t), soft_exp_slope(u_bc / v_t)
    i_cc, g_cc = i_s * (e_be * beyond(u_be / v_t) - 1.0), i_s / v_t * e_be
    i_ec, g_ec = i_s * (e_bc * beyond(u_bc / v_t) - 1.0), i_s / v_t * e_bc
    root = math.sqrt(1.0 + knee * max(i_cc, 0.0))
    h = 2.0 / (1.0 + root)
    dh = -knee / (root * (1.0 + root) ** 2) if i_cc > 0.0 else 0.0
    early = 1.0 - u_bc * inv_early
    i_t = i_cc - i_ec
    i_c = i_t * h * early - i_ec / beta_r
    g_c1 = (h + i_t * dh) * g_cc * early
    g_c2 = -g_ec * h * early - i_t * h * inv_early - g_ec / beta_r
    back = -(u_be + v_ebo) / REVERSE_SLOPE
    e_z = soft_exp_slope(back)
    i_z, g_z = REVERSE_CURRENT * e_z * beyond(back), REVERSE_CURRENT / REVERSE_SLOPE * e_z
    e_low = math.sqrt(e_be)
    i_low, g_low = low * (e_low - 1.0), 0.5 * low / v_t * e_low
    i_b1, g_b1 = (i_cc + i_low) / beta_f + 1e-12 * u_be - i_z, (g_cc + g_low) / beta_f + 1e-12 + g_z
    i_b2, g_b2 = i_ec / beta_r + 1e-12 * u_bc, g_ec / beta_r + 1e-12
    flow(F, k, e, pol * (i_c + g_c1 * d_be + g_c2 * d_bc))
    flow(F, b, e, pol * (i_b1 + i_b2 + g_b1 * d_be + g_b2 * d_bc))
    stamp_control(J, k, e, b, e, g_c1)
    stamp_control(J, k, e, b, k, g_c2)
    stamp_control(J, b, e, b, e, g_b1)
    stamp_control(J, b, e, b, k, g_b2)

    if g_b > 0.0:
        behind = pol * r_e * (i_c + g_c1 * d_be + g_c2 * d_bc)
        flow(F, outer, b, g_b * (x[outer] - x[b] - behind))
        stamp_conductance(J, outer, b, g_b)
        stamp_control(J, outer, b, b, e, -g_b * r_e * g_c1)
        stamp_control(J, outer, b, b, k, -g_b * r_e * g_c2)

    over = (v_be - v_bc) - v_ceo
    if over > -40.0 * BREAKDOWN_SLOPE or lim[l + 2] > -40.0 * BREAKDOWN_SLOPE:
        u = limit_junction(over, lim[l + 2], BREAKDOWN_SLOPE, 4.0 * BREAKDOWN_SLOPE)
        if abs(u - over) > 1e-9:
            limited = 1
        lim[l + 2] = u
        e_over = soft_exp_slope(u / BREAKDOWN_SLOPE)
        g = BREAKDOWN_CURRENT / BREAKDOWN_SLOPE * e_over
        flow(F, k, e, pol * (BREAKDOWN_CURRENT * e_over * beyond(u / BREAKDOWN_SLOPE) + g * (over - u)))
        stamp_conductance(J, k, e, g)

    flow(Q, b, e, pol * (c_be * v_be + transit * (i_cc + g_cc * d_be)))
    stamp_conductance(C, b, e, c_be + transit * g_cc)
    flow(Q, b, k, pol * c_bc * v_bc)
    stamp_conductance(C, b, k, c_bc)
    return limited
