"""Potentiometer: two resistances that share a track, the wiper's place fixed or turned over time.

    R_aw = R_end + R·turn,   R_wb = R_end + R·(1 − turn)

`turns` are (time, turn) pairs joined by straight lines. Valid for linear tracks.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance
from .source import Seconds, value_at

Turn = Annotated[float, Q("", 0.0, 1.0)]


class Potentiometer(Device):
    """Track ends `a` and `b`, wiper `w`; `turn` 0 puts the wiper at `a`."""

    code = 13
    terminals = ("a", "w", "b")
    conducts = (("a", "w"), ("w", "b"))
    main = "resistance"

    device: Literal["potentiometer"] = "potentiometer"
    a: Node
    w: Node
    b: Node
    resistance: Annotated[float, Q("Ω", 1.0, 1e8)]
    turn: Turn = 0.5
    turns: Annotated[list[tuple[Seconds, Turn]], Field(max_length=1000)] = []
    end_resistance: Annotated[float, Q("Ω", 1e-3, 1e5)] = 1.0
    tolerance: Annotated[float, Q("", 0.0, 0.9)] = 0.0

    @model_validator(mode="after")
    def _in_order(self) -> Potentiometer:
        times = [t for t, _ in self.turns]
        if times != sorted(times):
            raise ValueError("The turns' times must not go backwards. Sort them.")
        return self

    def numbers(self) -> list[float]:
        flat = [number for pair in self.turns for number in pair]
        return [
            self.resistance,
            self.end_resistance,
            self.turn,
            0.0,
            0.0,
            0.0,
            0.0,
            float(len(self.turns)),
            *flat,
        ]

    def state(self) -> list[float]:
        return [0.0, 0.0]  # as a source's

    def couples(self) -> list[tuple[int, ...]]:
        return [(0, 1), (1, 2)]


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
    t: float,
) -> int:
    f, a, w, b = ia[p + 1], ia[p + 4], ia[p + 5], ia[p + 6]
    turn = value_at(fa, f + 2, sa, ia[p + 2], t)
    g_aw, g_wb = 1.0 / (fa[f + 1] + fa[f] * turn), 1.0 / (fa[f + 1] + fa[f] * (1.0 - turn))
    stamp_conductance(J, a, w, g_aw)
    flow(F, a, w, g_aw * (x[a] - x[w]))
    stamp_conductance(J, w, b, g_wb)
    flow(F, w, b, g_wb * (x[w] - x[b]))
    return 0
