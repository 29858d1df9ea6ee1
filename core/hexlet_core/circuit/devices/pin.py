"""Logic pin: a level behind a source resistance, changing at given times; it may also float.

i = u/√(1 + (u/I_max)²) with u = (v_out − level)/R, level and R constant between changes. Floating is a very
high R, a weak pull-up while booting is a level at the supply behind its own R. I_max, if given, is where the
output stage stops giving; clamp diodes to the rails are left out.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field, model_validator

from ...fields import Document, Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance


class PinStep(Document):
    """From `time` on, the pin is `level` [V] behind `resistance` [Ω], reached from the level before within
    `ramp` [s].
    """

    time: Annotated[float, Q("s", 0.0, 1e7)]
    level: Annotated[float, Q("V", -100.0, 100.0)]
    resistance: Annotated[float, Q("Ω", 1e-3, 1e12)]
    ramp: Annotated[float, Q("s", 0.0, 1e5)] = 0.0


class Pin(Device):
    """A controller's output between `out` and `ref`."""

    code = 7
    terminals = ("out", "ref")
    conducts = (("out", "ref"),)

    device: Literal["pin"] = "pin"
    out: Node
    ref: Node = "0"
    steps: list[PinStep] = Field(min_length=1)
    current_limit: Annotated[float, Q("A", 1e-6, 100.0)] | None = None

    @model_validator(mode="after")
    def _in_order(self) -> Pin:
        times = [s.time for s in self.steps]
        if times != sorted(times) or times[0] != 0.0:
            raise ValueError("The pin's steps must begin at time 0 and not go backwards.")
        return self

    def numbers(self) -> list[float]:
        pieces: list[tuple[float, float, float, float]] = []  # time, level there, slope, conductance
        for k, step in enumerate(self.steps):
            g, end = 1.0 / step.resistance, self.steps[k + 1].time if k + 1 < len(self.steps) else math.inf
            if step.ramp > 0.0 and pieces:
                time, level, slope, _ = pieces[-1]
                before = level + slope * (step.time - time)
                pieces.append((step.time, before, (step.level - before) / step.ramp, g))
            if step.ramp == 0.0 or not pieces or step.time + step.ramp < end:
                pieces.append((step.time + (step.ramp if pieces else 0.0), step.level, 0.0, g))
        limit = 0.0 if self.current_limit is None else 1.0 / self.current_limit
        return [limit, float(len(pieces)), *(n for piece in pieces for n in piece)]

    def state(self) -> list[float]:
        return [0.0]  # the step in force


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
    scale: float,
) -> int:
    a, b = ia[p + 4], ia[p + 5]
    k = ia[p + 1] + 2 + 4 * int(sa[ia[p + 2]])
    g = fa[k + 3]
    i = g * (x[a] - x[b] - scale * (fa[k + 1] + fa[k + 2] * (t - fa[k])))
    over = i * fa[ia[p + 1]]
    root = math.sqrt(1.0 + over * over)
    stamp_conductance(J, a, b, g / (root * root * root))
    flow(F, a, b, i / root)
    return 0


def moves(ia: Ints, p: int, fa: Floats, sa: Floats) -> bool:
    return fa[ia[p + 1] + 4 + 4 * int(sa[ia[p + 2]])] != 0.0


def next_time(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> float:
    f, k = ia[p + 1] + 1, int(sa[ia[p + 2]]) + 1
    return fa[f + 1 + 4 * k] if k < int(fa[f]) else math.inf


def fire(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats, t: float) -> None:
    sa[ia[p + 2]] += 1.0
