"""Electronic module: an input capacitor, and a current that is drawn only above a working voltage.

It starts when the capacitor's voltage passes `starts`, then draws `current` (and v/`resistance` if given),
and stops when the voltage falls below `stops`. Valid for loads whose current is about constant while they
work.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import model_validator

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance

SOFT = 0.05  # the constant current fades below this voltage [V]


class Module(Device):
    """Plus `a`, minus `b`."""

    code = 17
    terminals = ("a", "b")
    conducts = (("a", "b"),)

    device: Literal["module"] = "module"
    a: Node
    b: Node
    current: Annotated[float, Q("A", 0.0, 100.0)] = 0.05
    idle: Annotated[float, Q("A", 0.0, 1.0)] = 1e-5
    resistance: Annotated[float, Q("Ω", 1e-3, 1e9)] | None = None
    capacitance: Annotated[float, Q("F", 1e-12, 1.0)] = 1e-4
    esr: Annotated[float, Q("Ω", 1e-3, 1e3)] = 0.05
    starts: Annotated[float, Q("V", 0.05, 500.0)] = 3.0
    stops: Annotated[float, Q("V", 0.01, 500.0)] = 2.5

    @model_validator(mode="after")
    def _possible(self) -> Module:
        if self.stops >= self.starts:
            raise ValueError(
                "The module must stop below the voltage at which it starts. Check the two voltages."
            )
        return self

    def inner_nodes(self) -> int:
        return 1

    def numbers(self) -> list[float]:
        return [
            self.current,
            self.idle,
            0.0 if self.resistance is None else 1.0 / self.resistance,
            self.capacitance,
            1.0 / self.esr,
            self.starts,
            self.stops,
        ]

    def state(self) -> list[float]:
        return [0.0]  # working

    def watched(self) -> list[int]:
        return [2]


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
    f, a, b, j = ia[p + 1], ia[p + 4], ia[p + 5], ia[p + 6]
    on = sa[ia[p + 2]] > 0.5
    g_esr, c = fa[f + 4], fa[f + 3]
    stamp_conductance(J, a, j, g_esr)
    flow(F, a, j, g_esr * (x[a] - x[j]))
    v = x[j] - x[b]
    level = fa[f] if on else fa[f + 1]
    soft = math.tanh(v / SOFT)
    g = fa[f + 2] if on else 0.0
    flow(F, j, b, level * soft + g * v)
    stamp_conductance(J, j, b, level * (1.0 - soft * soft) / SOFT + g)
    stamp_conductance(C, j, b, c)
    flow(Q, j, b, c * v)
    return 0


def watch(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats) -> float:
    f, v = ia[p + 1], x[ia[p + 6]] - x[ia[p + 5]]
    return fa[f + 6] - v if sa[ia[p + 2]] > 0.5 else v - fa[f + 5]


def fire(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats, t: float) -> None:
    sa[ia[p + 2]] = 1.0 - sa[ia[p + 2]]
