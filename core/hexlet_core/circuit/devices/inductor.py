"""Inductor with its winding resistance: v_a − v_b = R·i + L·di/dt, with i as the unknown.

The current as the unknown keeps rounding at a voltage floor when the step is tiny. Saturation of the core is
left out.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow
from .heat import COPPER_DRIFT, scaled


class Inductor(Device):
    """A linear inductor [H] with series resistance [Ω]."""

    code = 3
    terminals = ("a", "b")
    conducts = (("a", "b"),)
    main = "inductance"

    device: Literal["inductor"] = "inductor"
    a: Node
    b: Node
    inductance: Annotated[float, Q("H", 1e-9, 1e4)]
    resistance: Annotated[float, Q("Ω", 1e-6, 1e9)] = 1e-3
    tolerance: Annotated[float, Q("", 0.0, 0.9)] = 0.0
    temperature: Annotated[float, Q("°C", -60.0, 250.0)] = 25.0

    def branches(self) -> int:
        return 1

    def numbers(self) -> list[float]:
        return [self.inductance, self.resistance * scaled(COPPER_DRIFT, self.temperature)]


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
    inductance, resistance = fa[f], fa[f + 1]
    i = x[k]
    flow(F, a, b, i)
    J[a, k] += 1.0
    J[b, k] -= 1.0
    F[k] += x[a] - x[b] - resistance * i
    Q[k] -= inductance * i
    J[k, a] += 1.0
    J[k, b] -= 1.0
    J[k, k] -= resistance
    C[k, k] -= inductance
    return 0
