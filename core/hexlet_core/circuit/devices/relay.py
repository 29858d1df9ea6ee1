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

from pydantic import Field, model_validator

from ...fields import Document, Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance
from .heat import COPPER_DRIFT, scaled
from .switch import Bounce, bounce_offsets

LOSS_RATIO = 500.0
MOST_HENRIES = 100.0
REST, PULLING, HELD, LETTING_GO = 0.0, 1.0, 2.0, 3.0


class Pole(Document):
    """One more changeover contact."""

    com: Node
    no: Node | None = None
    nc: Node | None = None


class Relay(Device):
    """Coil `a`–`b`; contact `com` with `no` and `nc`, each of which may be left out; up to five more
    `poles`.
    """

    code = 11
    terminals = ("a", "b", "com", "no", "nc")
    conducts = (("a", "b"), ("com", "no"), ("com", "nc"))

    device: Literal["relay"] = "relay"
    a: Node
    b: Node
    com: Node | None = None
    no: Node | None = None
    nc: Node | None = None
    resistance: Annotated[float, Q("Ω", 0.01, 1e7)]
    inductance: Annotated[float, Q("H", 1e-6, MOST_HENRIES)]
    pull_in: Annotated[float, Q("A", 1e-9, 1e5)]
    drop_out: Annotated[float, Q("A", 1e-12, 1e5)]
    operate_travel: Annotated[float, Q("s", 1e-6, 1.0)] = 3e-3
    release_travel: Annotated[float, Q("s", 1e-6, 1.0)] = 1.3e-3
    contact_resistance: Annotated[float, Q("Ω", 1e-6, 100.0)] = 0.05
    loss: Annotated[float, Q("Ω", 1.0, 1e9)] | None = None  # 500 times the resistance when left out
    bounce: Bounce | None = None
    poles: Annotated[list[Pole], Field(max_length=5)] = []
    temperature: Annotated[float, Q("°C", -60.0, 250.0)] = 25.0

    @model_validator(mode="after")
    def _lets_go_below(self) -> Relay:
        if self.drop_out >= self.pull_in:
            raise ValueError(
                "A relay lets go at less current than it pulls in at. Make drop_out smaller than pull_in."
            )
        return self

    def branches(self) -> int:
        return 1

    def nodes(self) -> dict[str, str]:
        more = {
            f"{t}{k + 2}": getattr(pole, t) for k, pole in enumerate(self.poles) for t in ("com", "no", "nc")
        }
        return super().nodes() | {t: n for t, n in more.items() if n is not None}

    def pairs(self) -> tuple[tuple[str, str], ...]:
        more = [(f"com{k + 2}", f"{t}{k + 2}") for k in range(len(self.poles)) for t in ("no", "nc")]
        return (*self.conducts, *more)

    def record_nodes(self) -> list[str]:
        """Nodes in record order; a contact that is not wired lies on its own common, where it is idle."""
        found = [self.a, self.b]
        for pole in (Pole(com=self.com or self.no or self.nc or "0", no=self.no, nc=self.nc), *self.poles):
            found += [pole.com, pole.no or pole.com, pole.nc or pole.com]
        return found

    def places(self) -> dict[str, int]:
        order = ["a", "b", "com", "no", "nc"] + [
            f"{t}{k + 2}" for k in range(len(self.poles)) for t in ("com", "no", "nc")
        ]
        return {t: k for k, t in enumerate(order) if t in self.nodes()}

    def couples(self) -> list[tuple[int, ...]]:
        count = 1 + len(self.poles)
        contacts = [(2 + 3 * k, 2 + 3 * k + side) for k in range(count) for side in (1, 2)]
        return [(0, 1, 2 + 3 * count), *contacts]

    def watched(self) -> list[int]:
        return [5 + 3 * len(self.poles)]

    def numbers(self) -> list[float]:
        offsets = bounce_offsets(self.bounce)
        warm = self.resistance * scaled(COPPER_DRIFT, self.temperature)
        return [
            warm,
            self.inductance,
            self.pull_in,
            self.drop_out,
            self.operate_travel,
            self.release_travel,
            1.0 / self.contact_resistance,
            1e-9,
            1.0 / (self.loss or LOSS_RATIO * self.resistance),
            1.0 + len(self.poles),
            float(len(offsets)),
            *offsets,
        ]

    def state(self) -> list[float]:
        # phase, next time, NO closed, NC closed, touches done, time of first touch
        return [REST, math.inf, 0.0, 1.0, 0.0, 0.0]


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
    f, s = ia[p + 1], ia[p + 2]
    poles = int(fa[f + 9])
    a, b, k = ia[p + 4], ia[p + 5], ia[p + 6 + 3 * poles]
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
    J[k, k] -= r * share
    C[k, k] -= fa[f + 1]
    g_no = fa[f + 6] if sa[s + 2] > 0.5 else fa[f + 7]
    g_nc = fa[f + 6] if sa[s + 3] > 0.5 else fa[f + 7]
    for pole in range(poles):
        com, no, nc = ia[p + 6 + 3 * pole], ia[p + 7 + 3 * pole], ia[p + 8 + 3 * pole]
        stamp_conductance(J, com, no, g_no)
        flow(F, com, no, g_no * (x[com] - x[no]))
        stamp_conductance(J, com, nc, g_nc)
        flow(F, com, nc, g_nc * (x[com] - x[nc]))
    return 0


def next_time(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> float:
    return sa[ia[p + 2] + 1]


def watch(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats) -> float:
    f, phase = ia[p + 1], sa[ia[p + 2]]
    i = abs(x[ia[p + 6 + 3 * int(fa[f + 9])]])
    if phase == REST or phase == LETTING_GO:
        return i - fa[f + 2]
    return fa[f + 3] - i


def fire(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats, t: float) -> None:
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
    sa[s + 1] = sa[s + 5] + fa[f + 11 + k] if k < int(fa[f + 10]) else math.inf


def finish(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> None:
    s = ia[p + 2]
    if sa[s] == PULLING or sa[s] == HELD:
        sa[s], sa[s + 2], sa[s + 3] = HELD, 1.0, 0.0
    else:
        sa[s], sa[s + 2], sa[s + 3] = REST, 0.0, 1.0
    sa[s + 1], sa[s + 4] = math.inf, 1e9
