"""Power MOSFET: one smooth channel equation from subthreshold to triode, body diode, charges.

    i = [Φ(v_gs − V_th) − Φ(v_gs − V_th − n·v_ds)] / (1 + θ·v_ov)
    Φ(v) = 2nβV_T²·ln²(1 + exp(v/(2nV_T))),   v_ov = 2nV_T·ln(1 + exp((v_gs − V_th)/(2nV_T)))

In strong inversion this is the square law, and the on-resistance is 1/(β·v_ov) + θ/β: θ is the part of the
resistance that the gate does not govern. The gate-drain capacitance falls from a high to a low value as the
drain rises past the gate, which makes the Miller plateau. The body diode breaks down at V_DS and takes the
avalanche. Gate breakdown is not modelled: passing `gate_limit` is reported with the answer. Numbers are those
at 25 °C; `heat` says what `temperature` does to them. Self-heating is left out.
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
    limit_step,
    log1p_exp,
    logistic,
    soft_exp_slope,
    stamp_conductance,
    stamp_control,
    thermal_voltage,
)
from .heat import ON_RESISTANCE_DRIFT, ROOM, THRESHOLD_DRIFT, saturation, scaled

BREAKDOWN_CURRENT = 1e-3
BREAKDOWN_SLOPE = 0.2
GATE_STEP = 2.0  # the gate voltage may move this far in one iteration [V]
LN2 = math.log(2.0)


class Mosfet(Device):
    """Gate `g`, drain `d`, source `s`; the body is tied to the source."""

    code = 10
    terminals = ("g", "d", "s")
    conducts = (("d", "s"),)

    device: Literal["mosfet"] = "mosfet"
    polarity: Literal["n", "p"] = "n"
    g: Node
    d: Node
    s: Node
    beta: Annotated[float, Q("", 1e-6, 1e5)] = 1.0
    v_th: Annotated[float, Q("V", -10.0, 20.0)] = 1.5
    theta: Annotated[float, Q("", 0.0, 100.0)] = 0.0
    slope: Annotated[float, Q("", 1.0, 10.0)] = 1.4
    gate_leakage: Annotated[float, Q("Ω", 1e6, 1e15)] = 1e11
    c_gs: Annotated[float, Q("F", 1e-13, 1e-6)] = 4e-10
    c_gd_low: Annotated[float, Q("F", 1e-14, 1e-6)] = 4e-11
    c_gd_high: Annotated[float, Q("F", 1e-14, 1e-5)] = 4e-10
    c_ds: Annotated[float, Q("F", 1e-14, 1e-6)] = 8e-11
    v_gd_scale: Annotated[float, Q("V", 0.05, 50.0)] = 2.0
    i_s: Annotated[float, Q("A", 1e-30, 1e-3)] = 1e-12
    ideality: Annotated[float, Q("", 0.5, 5.0)] = 1.2
    breakdown: Annotated[float, Q("V", 3.0, 1e4)] = 55.0
    temperature: Annotated[float, Q("°C", -60.0, 250.0)] = 25.0
    gate_limit: Annotated[float, Q("V", 0.5, 1e3)] | None = None

    def ratings(self) -> list[tuple[str, str, str, float]]:
        return [] if self.gate_limit is None else [("gate", "g", "s", self.gate_limit)]

    def numbers(self) -> list[float]:
        v_t = thermal_voltage(self.temperature)
        body, i_s = self.ideality * v_t, saturation(self.i_s, self.ideality, self.temperature)
        beta = self.beta / scaled(ON_RESISTANCE_DRIFT, self.temperature)
        v_th = self.v_th + THRESHOLD_DRIFT * (self.temperature - ROOM)
        return [
            1.0 if self.polarity == "n" else -1.0,
            beta,
            v_th,
            self.theta,
            self.slope,
            v_t,
            1.0 / self.gate_leakage,
            self.c_gs,
            self.c_gd_low,
            0.5 * (self.c_gd_high - self.c_gd_low),
            self.v_gd_scale,
            self.c_ds,
            i_s,
            body,
            critical_voltage(body, i_s),
            self.breakdown,
            critical_voltage(BREAKDOWN_SLOPE, BREAKDOWN_CURRENT * 1e-3),
        ]

    def junctions(self) -> list[float]:
        return [0.0, 0.0]


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
    gate, drain, source = ia[p + 4], ia[p + 5], ia[p + 6]
    pol, beta, v_th, theta, n, v_t, g_leak = (
        fa[f],
        fa[f + 1],
        fa[f + 2],
        fa[f + 3],
        fa[f + 4],
        fa[f + 5],
        fa[f + 6],
    )
    c_gs, c_gd, c_half, scale, c_ds = fa[f + 7], fa[f + 8], fa[f + 9], fa[f + 10], fa[f + 11]
    i_s, v_body, v_crit, v_bd, b_crit = fa[f + 12], fa[f + 13], fa[f + 14], fa[f + 15], fa[f + 16]

    v_gs, v_ds = pol * (x[gate] - x[source]), pol * (x[drain] - x[source])
    u_gs = limit_step(v_gs, lim[l], GATE_STEP)
    lim[l] = u_gs
    d_gs = v_gs - u_gs
    limited = 1 if abs(d_gs) > 1e-9 else 0

    s = 2.0 * n * v_t
    a_f, a_r = (u_gs - v_th) / s, (u_gs - v_th - n * v_ds) / s
    l_f, l_r = log1p_exp(a_f), log1p_exp(a_r)
    slope_f, slope_r = logistic(a_f), logistic(a_r)
    square = 2.0 * n * beta * v_t * v_t
    drop = 1.0 + theta * s * l_f
    i_ch = square * (l_f * l_f - l_r * l_r) / drop
    d_f, d_r = 2.0 * beta * v_t * l_f * slope_f, 2.0 * beta * v_t * l_r * slope_r
    g_m = (d_f - d_r - i_ch * theta * slope_f) / drop
    g_ds = n * d_r / drop + 1e-12
    flow(F, drain, source, pol * (i_ch + g_m * d_gs + 1e-12 * v_ds))
    stamp_control(J, drain, source, gate, source, g_m)
    stamp_conductance(J, drain, source, g_ds)

    v = -v_ds
    u = limit_both(v, lim[l + 1], v_body, v_crit, v_bd, BREAKDOWN_SLOPE, b_crit)
    if abs(u - v) > 1e-9 * (1.0 + abs(v)):
        limited = 1
    lim[l + 1] = u
    over = -(u + v_bd) / BREAKDOWN_SLOPE
    e_body, e_over = soft_exp_slope(u / v_body), soft_exp_slope(over)
    i = i_s * (e_body * beyond(u / v_body) - 1.0) - BREAKDOWN_CURRENT * e_over * beyond(over)
    g = i_s / v_body * e_body + BREAKDOWN_CURRENT / BREAKDOWN_SLOPE * e_over
    flow(F, source, drain, pol * (i + g * (v - u)))
    stamp_conductance(J, source, drain, g)

    flow(F, gate, source, g_leak * pol * v_gs)
    stamp_conductance(J, gate, source, g_leak)
    stamp_conductance(C, gate, source, c_gs)
    flow(Q, gate, source, pol * c_gs * v_gs)
    w = v_gs - v_ds
    r = abs(w) / scale
    ln_cosh = r + math.log1p(math.exp(-2.0 * r)) - LN2
    flow(Q, gate, drain, pol * (c_gd * w + c_half * (w + scale * ln_cosh)))
    stamp_conductance(C, gate, drain, c_gd + c_half * (1.0 + math.tanh(w / scale)))
    flow(Q, drain, source, pol * c_ds * v_ds)
    stamp_conductance(C, drain, source, c_ds)
    return limited
