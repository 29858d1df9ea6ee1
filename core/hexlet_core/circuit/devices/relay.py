"""Relay: coil (R and L in series), pull-in and drop-out by current, armature travel, changeover contact.

The armature starts to move when the coil current passes `pull_in` and touches the other side after
`operate_travel`; it starts back when the current falls below `drop_out` and leaves after
`release_travel`. The contact then bounces a reproducible number of times. The coil's inductance is
taken as the same in both positions. A loss resistance lies across the inductance alone: the iron's eddy
currents, which stop the coil from ringing for ever with a few picofarads. With i the inductance's current
and v the coil's voltage, the terminals carry (i + v/R_loss)/(1 + R/R_loss).
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance
from .switch import Bounce, bounce_offsets

LOSS_RATIO = 500.0
REST, PULLING, HELD, LETTING_GO = 0.0, 1.0, 2.0, 3.0


class Relay(Device):
    """Coil `a`–`b`; contact `com` with `no` and `nc`, each of which may be left out."""

    code = 11
    terminals = ("a", "b", "com", "no", "nc")
    conducts = (("a", "b"), ("com", "no"), ("com", "nc"))

    device: Literal["relay"] = "relay"
    a: Node
    b: Node
    com: Node | None = None
    no: Node | None = None
    nc: Node | None = None
    resistance: Annotated[float, Q("Ω", 0.1, 1e6)]
    inductance: Annotated[float, Q("H", 1e-6, 100.0)]
    pull_in: Annotated[float, Q("A", 1e-6, 100.0)]
    drop_out: Annotated[float, Q("A", 1e-7, 100.0)]
    operate_travel: Annotated[float, Q("s", 1e-6, 1.0)] = 3e-3
    release_travel: Annotated[float, Q("s", 1e-6, 1.0)] = 1.3e-3
    contact_resistance: Annotated[float, Q("Ω", 1e-6, 100.0)] = 0.05
    loss: Annotated[float, Q("Ω", 1.0, 1e9)] | None = None  # 500 times the resistance when left out
    bounce: Bounce | None = None

    def branches(self) -> int:
        return 1

    def record_nodes(self) -> list[str]:
        """Nodes in record order; a contact that is not wired lies on its own common, where it is idle."""
        com = self.com or self.no or self.nc or "0"
        return [self.a, self.b, com, self.no or com, self.nc or com]

    def numbers(self) -> list[float]:
        offsets = bounce_offsets(self.bounce)
        return [
            self.resistance, self.inductance, self.pull_in, self.drop_out,
            self.operate_travel, self.release_travel, 1.0 / self.contact_resistance, 1e-9,
            1.0 / (self.loss or LOSS_RATIO * self.resistance), float(len(offsets)), *offsets,
        ]  # fmt: skip

    def state(self) -> list[float]:
        # phase, next time, NO closed, NC closed, touches done, time of first touch
        return [REST, math.inf, 0.0, 1.0, 0.0, 0.0]


def load(ia: Ints, p: int, fa: Floats, sa: Floats, lim: Floats, x: Floats, alpha: float, J: Floats, F: Floats, Q: Floats) -> int:
    f, s = ia[p + 1], ia[p + 2]
    a, b, com, no, nc, k = ia[p + 4], ia[p + 5], ia[p + 6], ia[p + 7], ia[p + 8], ia[p + 9]
    r, g_loss = fa[f], fa[f + 8]
    share = 1.0 / (1.0 + r * g_loss)
    i = x[k]
    v = x[a] - x[b]
    through = (i + v * g_loss) * share
    flow(F, a, b, through)
    stamp_conductance(J, a, b, g_loss * share)
    J[a, k] += share
    J[b, k] -= share
    F[k] += v - r * through
    Q[k] -= fa[f + 1] * i
    J[k, a] += share
    J[k, b] -= share
    J[k, k] -= r * share + alpha * fa[f + 1]
    g = fa[f + 6] if sa[s + 2] > 0.5 else fa[f + 7]
    stamp_conductance(J, com, no, g)
    flow(F, com, no, g * (x[com] - x[no]))
    g = fa[f + 6] if sa[s + 3] > 0.5 else fa[f + 7]
    stamp_conductance(J, com, nc, g)
    flow(F, com, nc, g * (x[com] - x[nc]))
    return 0


def next_time(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> float:
    return sa[ia[p + 2] + 1]


def watch(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats) -> float:
    f, phase, i = ia[p + 1], sa[ia[p + 2]], abs(x[ia[p + 9]])
    if phase == REST or phase == LETTING_GO:
        return i - fa[f + 2]
    return fa[f + 3] - i


def fire(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> None:
    f, s = ia[p + 1], ia[p + 2]
    phase = sa[s]
    if t < sa[s + 1]:  # the current crossed its threshold
        if phase == REST:
            sa[s], sa[s + 1], sa[s + 3] = PULLING, t + fa[f + 4], 0.0
        elif phase == HELD:
            sa[s], sa[s + 1], sa[s + 2] = LETTING_GO, t + fa[f + 5], 1.0
        elif phase == PULLING:
            sa[s], sa[s + 1], sa[s + 3] = REST, math.inf, 1.0
        else:
            sa[s], sa[s + 1] = HELD, math.inf
        return
    side = s + 2 if phase == PULLING or phase == HELD else s + 3
    if phase == PULLING:
        sa[s], sa[s + 2], sa[s + 4], sa[s + 5] = HELD, 1.0, 0.0, t
    elif phase == LETTING_GO:
        sa[s], sa[s + 2], sa[s + 3], sa[s + 4], sa[s + 5] = REST, 0.0, 1.0, 0.0, t
    else:
        sa[side] = 1.0 - sa[side]
        sa[s + 4] += 1.0
    k = int(sa[s + 4])
    sa[s + 1] = sa[s + 5] + fa[f + 10 + k] if k < int(fa[f + 9]) else math.inf
