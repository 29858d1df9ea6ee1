"""Comparator or operational amplifier: a gain that saturates at its output swing, with one lag.

    τ·dy/dt = tanh(A·(v_p − v_m + V_off)/V_swing) − y,   v_o = v_low + (v_high − v_low)·(1 + y)/2

where v_high and v_low lie the given drops inside the rails and V_swing is half their distance. A push-pull
output is v_o behind `r_out`; an open collector only pulls down. Inputs draw `bias`. Valid for switching; slew
rate is represented by the lag.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance

INPUT = 1e-10  # input conductance [S]


class Comparator(Device):
    """Inputs `p` and `m`, output `out`, rails `vcc` and `vee`."""

    code = 20
    terminals = ("p", "m", "out", "vcc", "vee")
    conducts = (("p", "vee"), ("m", "vee"), ("out", "vee"), ("vcc", "vee"))

    device: Literal["comparator"] = "comparator"
    p: Node
    m: Node
    out: Node
    vcc: Node
    vee: Node = "0"
    gain: Annotated[float, Q("", 10.0, 1e7)] = 1e5
    offset: Annotated[float, Q("V", -1.0, 1.0)] = 0.0
    drop_high: Annotated[float, Q("V", 0.0, 10.0)] = 1.5
    drop_low: Annotated[float, Q("V", 0.0, 10.0)] = 0.1
    r_out: Annotated[float, Q("Ω", 0.1, 1e5)] = 50.0
    open_collector: bool = False
    bias: Annotated[float, Q("A", -1e-3, 1e-3)] = 0.0
    quiescent: Annotated[float, Q("A", 0.0, 0.1)] = 1e-3
    lag: Annotated[float, Q("s", 1e-9, 1e-2)] = 1e-6

    def branches(self) -> int:
        return 1

    def numbers(self) -> list[float]:
        return [
            self.gain,
            self.offset,
            self.drop_high,
            self.drop_low,
            1.0 / self.r_out,
            float(self.open_collector),
            self.bias,
            self.quiescent,
            self.lag,
        ]

    def watched(self) -> list[int]:
        return [0, 1]


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
    f, plus, minus, out, vcc, vee, k = (
        ia[p + 1],
        ia[p + 4],
        ia[p + 5],
        ia[p + 6],
        ia[p + 7],
        ia[p + 8],
        ia[p + 9],
    )
    gain, g, y = fa[f], fa[f + 4], x[k]
    supply = x[vcc] - x[vee]
    swing = max(0.5 * (supply - fa[f + 2] - fa[f + 3]), 0.05)
    u = gain * (x[plus] - x[minus] + fa[f + 1]) / swing
    goal = math.tanh(u)
    slope = gain / swing * (1.0 - goal * goal)
    F[k] += y - goal
    Q[k] += fa[f + 8] * y
    J[k, k] += 1.0
    C[k, k] += fa[f + 8]
    J[k, plus] -= slope
    J[k, minus] += slope
    if swing > 0.05:  # the swing follows the supply
        by_supply = 0.5 * u / swing * (1.0 - goal * goal)
        J[k, vcc] += by_supply
        J[k, vee] -= by_supply
    if fa[f + 5] > 0.5:
        share = 0.5 * (1.0 - y)
        v = x[out] - x[vee] - fa[f + 3] * share
        flow(F, out, vee, g * share * v)
        stamp_conductance(J, out, vee, g * share)
        J[out, k] -= 0.5 * g * (v - fa[f + 3] * share)
        J[vee, k] += 0.5 * g * (v - fa[f + 3] * share)
    else:
        level = fa[f + 3] + swing * (1.0 + y)  # above the lower rail
        flow(F, out, vee, g * (x[out] - x[vee] - level))
        stamp_conductance(J, out, vee, g)
        J[out, k] -= g * swing
        J[vee, k] += g * swing
        if swing > 0.05:
            J[out, vcc] -= 0.5 * g * (1.0 + y)
            J[out, vee] += 0.5 * g * (1.0 + y)
            J[vee, vcc] += 0.5 * g * (1.0 + y)
            J[vee, vee] -= 0.5 * g * (1.0 + y)
    for pin in (plus, minus):
        flow(F, pin, vee, fa[f + 6] + INPUT * (x[pin] - x[vee]))
        stamp_conductance(J, pin, vee, INPUT)
    u = math.tanh(supply / 0.5)
    flow(F, vcc, vee, fa[f + 7] * u)
    stamp_conductance(J, vcc, vee, fa[f + 7] * (1.0 - u * u) / 0.5)
    return 0
