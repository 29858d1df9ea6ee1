"""Resistor: i = (v_a − v_b)/R, with R = R_25·(1 + drift·(T − 25 °C)).

Valid for its whole range; voltage dependence and noise are left out.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance


class Resistor(Device):
    """A linear resistor [Ω]."""

    code = 1
    terminals = ("a", "b")
    conducts = (("a", "b"),)
    main = "resistance"

    device: Literal["resistor"] = "resistor"
    a: Node
    b: Node
    resistance: Annotated[float, Q("Ω", 1e-6, 1e12)]
    tolerance: Annotated[float, Q("", 0.0, 0.9)] = 0.0
    drift: Annotated[float, Q("1/K", -0.1, 0.1)] = 0.0
    temperature: Annotated[float, Q("°C", -60.0, 1000.0)] = 25.0

    def numbers(self) -> list[float]:
        return [1.0 / (self.resistance * max(1.0 + self.drift * (self.temperature - 25.0), 1e-3))]


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
    a, b = ia[p + 4], ia[p + 5]
    g = fa[ia[p + 1]]
    stamp_conductance(J, a, b, g)
    flow(F, a, b, g * (x[a] - x[b]))
    return 0
