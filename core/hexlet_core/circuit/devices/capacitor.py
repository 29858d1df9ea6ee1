"""Capacitor: q = C·v behind its series resistance (ESR), with leakage across it.

`initial` is the voltage it starts with when a run begins from rest. Valid for fixed C; the fall of a
ceramic's capacitance with voltage and dielectric absorption are left out.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance


class Capacitor(Device):
    """A capacitor [F]; `leakage` is the resistance across it [Ω], none when left out."""

    code = 2
    terminals = ("a", "b")
    holds = (("a", "b"),)
    main = "capacitance"

    device: Literal["capacitor"] = "capacitor"
    a: Node
    b: Node
    capacitance: Annotated[float, Q("F", 1e-15, 1e5)]
    leakage: Annotated[float, Q("Ω", 1e3, 1e15)] | None = None
    esr: Annotated[float, Q("Ω", 0.0, 1e5)] = 0.0
    initial: Annotated[float, Q("V", -1e4, 1e4)] = 0.0
    tolerance: Annotated[float, Q("", 0.0, 0.9)] = 0.0
    limit: Annotated[float, Q("V", 0.1, 1e5)] | None = None

    def inner_nodes(self) -> int:
        return 1 if self.esr > 0 else 0

    def numbers(self) -> list[float]:
        return [
            self.capacitance,
            0.0 if self.leakage is None else 1.0 / self.leakage,
            1.0 / self.esr if self.esr > 0 else 0.0,
        ]

    def start_charge(self) -> list[tuple[int, float]]:
        q = self.capacitance * self.initial
        return [(2 if self.esr > 0 else 0, q), (1, -q)] if q else []

    def ratings(self) -> list[tuple[str, str, str, float]]:
        return [] if self.limit is None else [("voltage", "a", "b", self.limit)]


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
    f, a, b = ia[p + 1], ia[p + 4], ia[p + 5]
    c, g, g_series = fa[f], fa[f + 1], fa[f + 2]
    if g_series > 0.0:
        j = ia[p + 6]
        stamp_conductance(J, a, j, g_series)
        flow(F, a, j, g_series * (x[a] - x[j]))
        a = j
    v = x[a] - x[b]
    stamp_conductance(J, a, b, g)
    stamp_conductance(C, a, b, c)
    flow(F, a, b, g * v)
    flow(Q, a, b, c * v)
    return 0
