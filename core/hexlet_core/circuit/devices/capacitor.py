"""Capacitor: q = C·(v_a − v_b), with an optional leakage conductance across it."""

from __future__ import annotations

from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance


class Capacitor(Device):
    """A linear capacitor [F]; `leakage` is the resistance across it [Ω], none when left out."""

    code = 2
    terminals = ("a", "b")

    device: Literal["capacitor"] = "capacitor"
    a: Node
    b: Node
    capacitance: Annotated[float, Q("F", 1e-15, 10.0)]
    leakage: Annotated[float, Q("Ω", 1e3, 1e15)] | None = None

    def numbers(self) -> list[float]:
        return [self.capacitance, 0.0 if self.leakage is None else 1.0 / self.leakage]


def load(ia: Ints, p: int, fa: Floats, sa: Floats, lim: Floats, x: Floats, alpha: float, J: Floats, F: Floats, Q: Floats) -> int:
    f, a, b = ia[p + 1], ia[p + 4], ia[p + 5]
    c, g = fa[f], fa[f + 1]
    v = x[a] - x[b]
    stamp_conductance(J, a, b, g + alpha * c)
    flow(F, a, b, g * v)
    flow(Q, a, b, c * v)
    return 0
