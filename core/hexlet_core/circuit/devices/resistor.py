"""Resistor: i = (v_a − v_b)/R."""

from __future__ import annotations

from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance


class Resistor(Device):
    """A linear resistor [Ω]."""

    code = 1
    terminals = ("a", "b")
    conducts = (("a", "b"),)

    device: Literal["resistor"] = "resistor"
    a: Node
    b: Node
    resistance: Annotated[float, Q("Ω", 1e-6, 1e12)]

    def numbers(self) -> list[float]:
        return [1.0 / self.resistance]


def load(ia: Ints, p: int, fa: Floats, sa: Floats, lim: Floats, x: Floats, alpha: float, J: Floats, F: Floats, Q: Floats) -> int:
    a, b = ia[p + 4], ia[p + 5]
    g = fa[ia[p + 1]]
    stamp_conductance(J, a, b, g)
    flow(F, a, b, g * (x[a] - x[b]))
    return 0
