"""Voltage and current sources: constant, piecewise linear (once or repeating), sine.

The segment of a piecewise-linear source is discrete state, advanced when its corner is reached. A step that
ends on a corner therefore still sees the old segment, and the next one sees the new: jumps are exact.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field, model_validator

from ...fields import Document, Q
from .base import Device, Floats, Ints, Node, flow, log1p_exp, logistic

Volts = Annotated[float, Q("V", -1e6, 1e6)]
Seconds = Annotated[float, Q("s", 0.0, 1e7)]
GIVES_WAY = 0.01  # share of its current limit within which a source's voltage is gone


class Sine(Document):
    """offset + amplitude·sin(2π·frequency·t + phase)."""

    amplitude: Annotated[float, Q("", 0.0, 1e6)]
    frequency: Annotated[float, Q("Hz", 1e-6, 1e9)]
    phase: Annotated[float, Q("°", -360.0, 360.0)] = 0.0


class Source(Device):
    """What both sources share: a constant `value`, `points` over time, or a `sine` about `value`.

    `points` are (time, value) pairs, times not falling; two at one time are a jump. `period` repeats them.
    """

    terminals = ("a", "b")

    a: Node
    b: Node
    value: Annotated[float, Q("", -1e6, 1e6)] = 0.0
    points: list[tuple[Seconds, Volts]] = Field(default_factory=list)
    period: Annotated[float, Q("s", 1e-9, 1e7)] | None = None
    sine: Sine | None = None

    @model_validator(mode="after")
    def _in_order(self) -> Source:
        times = [t for t, _ in self.points]
        if times != sorted(times):
            raise ValueError("The points' times must not go backwards. Sort them.")
        if self.period is not None and (not times or times[-1] > self.period):
            raise ValueError("The period must hold all points. Make it longer.")
        if self.points and self.sine:
            raise ValueError("A source has points or a sine, not both.")
        return self

    def _shape(self) -> list[float]:
        # base, sine amplitude, angular frequency, phase, period, count, then pairs
        sine = self.sine or Sine(amplitude=0.0, frequency=1.0)
        head = [self.value, sine.amplitude, 2 * math.pi * sine.frequency, math.radians(sine.phase)]
        flat = [number for pair in self.points for number in pair]
        return [*head, self.period or 0.0, float(len(self.points)), *flat]

    def state(self) -> list[float]:
        return [0.0, 0.0]  # points passed in this round, rounds done


class VoltageSource(Source):
    """v_a − v_b = value − resistance·i, a source with an optional series resistance [Ω].

    With `limit`, a bench supply's: beyond that current [A] the voltage gives way, to nothing within a
    hundredth more.
    """

    code = 4
    conducts = (("a", "b"),)
    fixes = (("a", "b"),)

    device: Literal["voltage"] = "voltage"
    value: Annotated[float, Q("V", -1e6, 1e6)] = 0.0
    resistance: Annotated[float, Q("Ω", 0.0, 1e9)] = 0.0
    limit: Annotated[float, Q("A", 1e-6, 1e6)] | None = None

    def branches(self) -> int:
        return 1

    def stiff(self) -> bool:
        return self.resistance == 0.0 and self.limit is None

    def numbers(self) -> list[float]:
        limit = self.limit or 0.0
        most = max(
            [
                abs(self.value),
                *(abs(v) for _, v in self.points),
                self.sine.amplitude if self.sine else 0.0,
                1.0,
            ]
        )
        return [self.resistance, *self._shape(), limit, most / (GIVES_WAY * limit) if limit else 0.0]


class CurrentSource(Source):
    """A current [A] from `a` through the source to `b`."""

    code = 5

    device: Literal["current"] = "current"
    value: Annotated[float, Q("A", -1e6, 1e6)] = 0.0

    def numbers(self) -> list[float]:
        return [0.0, *self._shape()]


def value_at(fa: Floats, f: int, sa: Floats, s: int, t: float) -> float:
    """The source's value at `t`, on the segment its state says."""
    base = fa[f] + fa[f + 1] * math.sin(fa[f + 2] * t + fa[f + 3])
    count = int(fa[f + 5])
    if count == 0:
        return base
    local = t - sa[s + 1] * fa[f + 4]
    k = int(sa[s])
    first = f + 6
    if k == 0:
        return fa[first + 1]
    if k >= count:
        return fa[first + 2 * (count - 1) + 1]
    t0, v0 = fa[first + 2 * (k - 1)], fa[first + 2 * (k - 1) + 1]
    t1, v1 = fa[first + 2 * k], fa[first + 2 * k + 1]
    if t1 <= t0:
        return v1
    return v0 + (v1 - v0) * (local - t0) / (t1 - t0)


def moves(fa: Floats, f: int, sa: Floats, s: int) -> bool:
    """Whether the shape whose numbers begin at `f` is between two points, or a sine."""
    return fa[f + 1] != 0.0 or 0.0 < sa[s] < fa[f + 5]


def load_voltage(
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
    f, s, a, b, k = ia[p + 1], ia[p + 2], ia[p + 4], ia[p + 5], ia[p + 6]
    i = x[k]
    flow(F, a, b, i)
    J[a, k] += 1.0
    J[b, k] -= 1.0
    F[k] += x[a] - x[b] - fa[f] * i - scale * value_at(fa, f + 1, sa, s, t)
    J[k, a] += 1.0
    J[k, b] -= 1.0
    J[k, k] -= fa[f]
    last = f + 7 + 2 * int(fa[f + 6])
    limit = fa[last]
    if limit > 0.0:  # gives way like a resistance that sets in at the limit, either way
        width = 0.1 * GIVES_WAY * limit
        up, down = (-i - limit) / width, (i - limit) / width
        F[k] += fa[last + 1] * width * (log1p_exp(up) - log1p_exp(down))
        J[k, k] -= fa[last + 1] * (logistic(up) + logistic(down))
    return 0


def load_current(
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
    f, s, a, b = ia[p + 1], ia[p + 2], ia[p + 4], ia[p + 5]
    flow(F, a, b, scale * value_at(fa, f + 1, sa, s, t))
    return 0


def next_time(ia: Ints, p: int, f: int, fa: Floats, sa: Floats) -> float:
    """The next corner of the shape whose numbers begin at `f` [s]."""
    s = ia[p + 2]
    count, period, k = int(fa[f + 5]), fa[f + 4], int(sa[s])
    if k < count:
        return sa[s + 1] * period + fa[f + 6 + 2 * k]
    if count > 0 and period > 0.0:
        return (sa[s + 1] + 1.0) * period
    return math.inf


def fire(ia: Ints, p: int, f: int, fa: Floats, sa: Floats) -> None:
    """Pass a corner."""
    s = ia[p + 2]
    if int(sa[s]) < int(fa[f + 5]):
        sa[s] += 1.0
    else:
        sa[s] = 0.0
        sa[s + 1] += 1.0
