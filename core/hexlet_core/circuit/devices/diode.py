"""Junction diode, Schottky or zener: exponential forward and in breakdown, series resistance, capacitance.

    i = I_S (exp(v/(n·V_T)) − 1) − I_ZT exp(−(v + V_Z)/V_B)

V_B sets the slope in breakdown: a zener's impedance at I_ZT is V_B/I_ZT. Numbers are those at 25 °C;
`heat` says
what `temperature` does to them. Valid from leakage to surge currents; reverse recovery is left out.
"""

from __future__ import annotations

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
    soft_exp_slope,
    stamp_conductance,
    thermal_voltage,
)
from .heat import ROOM, saturation


class Diode(Device):
    """Anode `a`, cathode `k`."""

    code = 8
    terminals = ("a", "k")
    conducts = (("a", "k"),)

    device: Literal["diode"] = "diode"
    a: Node
    k: Node
    i_s: Annotated[float, Q("A", 1e-60, 1e-2)] = 1e-12
    ideality: Annotated[float, Q("", 0.5, 300.0)] = 1.0
    r_series: Annotated[float, Q("Ω", 0.0, 1e6)] = 0.0
    capacitance: Annotated[float, Q("F", 1e-13, 1e-6)] = 1e-11
    breakdown: Annotated[float, Q("V", 0.5, 1e5)] = 100.0
    breakdown_current: Annotated[float, Q("A", 1e-9, 10.0)] = 1e-3
    breakdown_slope: Annotated[float, Q("V", 1e-3, 100.0)] = 0.1
    breakdown_drift: Annotated[float, Q("V/K", -1.0, 1.0)] = 0.0
    temperature: Annotated[float, Q("°C", -60.0, 250.0)] = 25.0

    def inner_nodes(self) -> int:
        return 1 if self.r_series > 0 else 0

    def numbers(self) -> list[float]:
        v_t, i_s = (
            self.ideality * thermal_voltage(self.temperature),
            saturation(self.i_s, self.ideality, self.temperature),
        )
        breakdown = max(self.breakdown + self.breakdown_drift * (self.temperature - ROOM), 0.1)
        return [
            i_s,
            v_t,
            critical_voltage(v_t, i_s),
            breakdown,
            self.breakdown_current,
            self.breakdown_slope,
            critical_voltage(self.breakdown_slope, self.breakdown_current * 1e-3),
            1.0 / self.r_series if self.r_series > 0 else 0.0,
            self.capacitance,
        ]

    def junctions(self) -> list[float]:
        return [0.0]


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
    f, l, a, k, j = ia[p + 1], ia[p + 3], ia[p + 4], ia[p + 5], ia[p + 6]
    i_s, v_t, v_crit, v_z, i_z, v_b, z_crit, g_series, c = (
        fa[f],
        fa[f + 1],
        fa[f + 2],
        fa[f + 3],
        fa[f + 4],
        fa[f + 5],
        fa[f + 6],
        fa[f + 7],
        fa[f + 8],
    )
    if g_series > 0.0:
        stamp_conductance(J, a, j, g_series)
        flow(F, a, j, g_series * (x[a] - x[j]))
    else:
        j = a
    v = x[j] - x[k]
    u = limit_both(v, lim[l], v_t, v_crit, v_z, v_b, z_crit)
    limited = 1 if abs(u - v) > 1e-9 * (1.0 + abs(v)) else 0
    lim[l] = u
    back = -(u + v_z) / v_b
    e, e_z = soft_exp_slope(u / v_t), soft_exp_slope(back)
    i = i_s * (e * beyond(u / v_t) - 1.0) - i_z * e_z * beyond(back)
    g = i_s / v_t * e + i_z / v_b * e_z + 1e-12
    stamp_conductance(J, j, k, g)
    stamp_conductance(C, j, k, c)
    flow(F, j, k, i + g * (v - u) + 1e-12 * u)
    flow(Q, j, k, c * v)
    return limited
