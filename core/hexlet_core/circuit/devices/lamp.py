"""Filament lamp: a resistance that follows the filament's temperature T.

    R = R_cold·(T/T_0)^e,   C·dT/dt = v²/R − P·(T⁴ − T_a⁴)/(T_hot⁴ − T_0⁴)

e comes from the cold and the hot resistance, C from the time the rated power takes to heat the filament. T_a
is the ambient; cold and rated numbers are those at T_0 = 25 °C. The unknown T(name) is the rise above T_0 in
kelvins. Valid from cold to somewhat above rated voltage; lead-out losses are taken as radiated.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance

T_COLD = 298.15  # [K]


class Lamp(Device):
    """A lamp of a rated `volts` and `watts`; `ratio` is hot over cold resistance."""

    code = 15
    terminals = ("a", "b")
    conducts = (("a", "b"),)

    device: Literal["lamp"] = "lamp"
    a: Node
    b: Node
    volts: Annotated[float, Q("V", 0.5, 500.0)]
    watts: Annotated[float, Q("W", 1e-3, 5e3)]
    ratio: Annotated[float, Q("", 2.0, 20.0)] = 10.0
    hot: Annotated[float, Q("K", 1000.0, 3600.0)] = 2600.0
    heating: Annotated[float, Q("s", 1e-4, 10.0)] = 0.05
    ambient: Annotated[float, Q("°C", -60.0, 250.0)] = 25.0

    def branches(self) -> int:
        return 1

    def branch_names(self) -> list[str]:
        return [f"T({self.name})"]

    def numbers(self) -> list[float]:
        r_hot = self.volts**2 / self.watts
        exponent = math.log(self.ratio) / math.log(self.hot / T_COLD)
        top = self.hot / T_COLD
        # In units of the rated power; the fifth is C/P per kelvin = heating/(T_hot − T_0).
        surroundings = ((self.ambient + 273.15) / T_COLD) ** 4
        return [
            self.ratio / r_hot,
            exponent,
            1.0 / self.watts,
            1.0 / (top**4 - 1.0),
            self.heating / (self.hot - T_COLD),
            surroundings,
        ]

    def couples(self) -> list[tuple[int, ...]]:
        return [(0, 1, 2)]

    def start_charge(self) -> list[tuple[int, float]]:
        warm = self.ambient + 273.15 - T_COLD
        return [(2, self.heating / (self.hot - T_COLD) * warm)] if abs(warm) > 1e-9 else []


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
    f, a, b, k = ia[p + 1], ia[p + 4], ia[p + 5], ia[p + 6]
    v, rise = x[a] - x[b], x[k]
    share_of = max(1.0 + rise / T_COLD, 0.2)  # T/T_0
    g = fa[f] * share_of ** (-fa[f + 1])
    dg = -fa[f + 1] * g / share_of / T_COLD
    stamp_conductance(J, a, b, g)
    flow(F, a, b, g * v)
    J[a, k] += v * dg
    J[b, k] -= v * dg
    share, loss, capacity = fa[f + 2], fa[f + 3], fa[f + 4]
    F[k] += (share_of**4 - fa[f + 5]) * loss - v * v * g * share
    Q[k] += capacity * rise
    J[k, k] += 4.0 * share_of**3 / T_COLD * loss - v * v * dg * share
    C[k, k] += capacity
    J[k, a] -= 2.0 * v * g * share
    J[k, b] += 2.0 * v * g * share
    return 0
