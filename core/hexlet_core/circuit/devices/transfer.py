"""Current transfer: what flows through one path sets a current in another, with a lag and saturation.

    v_a = v_b,   τ·dy/dt = i − y,   i_out = gain·y/(1 + |y|/I_knee)   from c to d

The heart of an optocoupler. Valid while the output side is a current source; saturation belongs to the
transistor that follows.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow


class Transfer(Device):
    """Sensed path `a`–`b`, output current from `c` through the device to `d`."""

    code = 14
    terminals = ("a", "b", "c", "d")
    conducts = (("a", "b"),)
    fixes = (("a", "b"),)

    device: Literal["transfer"] = "transfer"
    a: Node
    b: Node
    c: Node
    d: Node
    gain: Annotated[float, Q("", -1e6, 1e6)]
    knee: Annotated[float, Q("A", 1e-9, 1e9)] = 1e6
    lag: Annotated[float, Q("s", 0.0, 1.0)] = 1e-6

    def branches(self) -> int:
        return 2

    def couples(self) -> list[tuple[int, ...]]:
        return [(0, 1, 4), (4, 5), (2, 5), (3, 5)]

    def numbers(self) -> list[float]:
        return [self.gain, 1.0 / self.knee, self.lag]


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
    f, a, b, c, d, k, m = ia[p + 1], ia[p + 4], ia[p + 5], ia[p + 6], ia[p + 7], ia[p + 8], ia[p + 9]
    gain, inv_knee, lag = fa[f], fa[f + 1], fa[f + 2]
    i, y = x[k], x[m]
    flow(F, a, b, i)
    J[a, k] += 1.0
    J[b, k] -= 1.0
    F[k] += x[a] - x[b]
    J[k, a] += 1.0
    J[k, b] -= 1.0
    F[m] += y - i
    Q[m] += lag * y
    J[m, m] += 1.0
    C[m, m] += lag
    J[m, k] -= 1.0
    bend = 1.0 / (1.0 + abs(y) * inv_knee)
    flow(F, c, d, gain * y * bend)
    g = gain * bend * bend
    J[c, m] += g
    J[d, m] -= g
    return 0
