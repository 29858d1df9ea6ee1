"""555 timer, bipolar or CMOS: two comparators, a latch, a discharge transistor and an output stage.

The divider (R from the supply to `ctrl`, 2R to ground) sets the threshold at `ctrl` and the trigger at
half of
it. Reset wins over trigger, trigger over threshold. `delay` is how long an input must last, and how late the
output follows. Output high is `drop_high` below the supply behind `r_high`: a follower, which cannot sink,
unless it is `push_pull`. Low is `r_low` to ground. The discharge transistor is `r_discharge`, limited to
`discharge_limit`. Each
change of the output may draw `spike` from the supply for `spike_time`. Below `least` volts it remembers
nothing: the
comparators work, the output and the discharge are weak. As the supply rises through it the latch takes
what the
pins say; where they say nothing either state is possible, `wakes` says which is taken, and the state keeps
when that
was. Valid for slow inputs; comparators have no offset of their own.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, limit_step, stamp_conductance, wakes_or_forgets

RESET_LEVEL = 0.7  # [V]
SOFT = 2e-3  # [V] over which the follower cuts off
KEEP = 1e-5  # what little the high output sinks [S]
RESET_PULL = 1e-6  # the reset pin's own pull-up [S]
BIAS_SOFT = 0.05  # [V] over which a bias current fades at its rail
WEAK = 0.05  # share of its drive that an output has below that
HIGH, UNTIL, PHASE, AWAKE, UNDECIDED = (
    0,
    1,
    2,
    3,
    4,
)  # places in its state: the last is when it woke undecided, or −1
CHANGING, SPIKE = 1.0, 2.0


class Timer(Device):
    """The eight pins; a `dis` or `ctrl` that is not wired may be left out."""

    code = 18
    terminals = ("vcc", "gnd", "trig", "thr", "ctrl", "reset", "dis", "out")
    conducts = (
        ("vcc", "gnd"),
        ("vcc", "ctrl"),
        ("out", "gnd"),
        ("dis", "gnd"),
        ("trig", "vcc"),
        ("thr", "gnd"),
        ("reset", "vcc"),
    )

    device: Literal["timer"] = "timer"
    vcc: Node
    gnd: Node = "0"
    trig: Node
    thr: Node
    ctrl: Node | None = None
    reset: Node
    dis: Node | None = None
    out: Node
    divider: Annotated[float, Q("Ω", 100.0, 1e7)] = 5e3
    threshold_share: Annotated[float, Q("", 0.3, 0.9)] = 2 / 3
    drop_high: Annotated[float, Q("V", 0.0, 5.0)] = 1.2
    r_high: Annotated[float, Q("Ω", 0.01, 1e5)] = 5.0
    push_pull: bool = False
    r_low: Annotated[float, Q("Ω", 0.01, 1e5)] = 10.0
    r_discharge: Annotated[float, Q("Ω", 0.1, 1e5)] = 20.0
    discharge_limit: Annotated[float, Q("A", 1e-4, 10.0)] = 0.2
    threshold_bias: Annotated[float, Q("A", 0.0, 1e-3)] = 0.0
    trigger_bias: Annotated[float, Q("A", 0.0, 1e-3)] = 0.0
    quiescent: Annotated[float, Q("A", 0.0, 0.1)] = 3e-3
    delay: Annotated[float, Q("s", 0.0, 1e-3)] = 0.0
    spike: Annotated[float, Q("A", 0.0, 5.0)] = 0.0
    spike_time: Annotated[float, Q("s", 1e-9, 1e-4)] = 2e-7
    least: Annotated[float, Q("V", 0.5, 30.0)] = 2.0
    most: Annotated[float, Q("V", 1.0, 60.0)] = 16.0
    wakes: Literal["low", "high"] = "low"

    def inner_nodes(self) -> int:
        return 1 if self.ctrl is None else 0

    def record_nodes(self) -> list[str]:
        """Ground stands in for a discharge pin that is not wired; an unwired control pin is an inner node."""
        return [
            self.vcc,
            self.gnd,
            self.trig,
            self.thr,
            self.reset,
            self.dis or self.gnd,
            self.out,
            *([self.ctrl] if self.ctrl else []),
        ]

    def places(self) -> dict[str, int]:
        return {
            t: k
            for k, t in enumerate(("vcc", "gnd", "trig", "thr", "reset", "dis", "out", "ctrl"))
            if t in self.nodes()
        }

    def couples(self) -> list[tuple[int, ...]]:
        return [(0, 1, 7), (0, 6), (1, 6), (1, 5), (0, 2), (1, 3), (0, 4)]

    def undecided(self) -> tuple[int, str]:
        text = (
            "Its inputs say nothing as the supply rises: its output may come up low or high. Taken here: "
            f"{self.wakes}."
        )
        return UNDECIDED, text

    def ratings(self) -> list[tuple[str, str, str, float]]:
        return [("supply", "vcc", "gnd", self.most)]

    def numbers(self) -> list[float]:
        r = self.divider
        return [
            1.0 / r,
            1.0 / (r * self.threshold_share / (1.0 - self.threshold_share)),
            self.drop_high,
            1.0 / self.r_high,
            1.0 / self.r_low,
            1.0 / self.r_discharge,
            self.discharge_limit,
            self.threshold_bias,
            self.trigger_bias,
            self.quiescent,
            self.delay,
            self.spike,
            self.spike_time,
            self.least,
            float(self.push_pull),
            float(self.wakes == "high"),
        ]

    def state(self) -> list[float]:
        return [float(self.wakes == "high"), math.inf, 0.0, 0.0, -1.0]

    def junctions(self) -> list[float]:
        return [0.0]

    def watched(self) -> list[int]:
        return [2, 3, 7]


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
    vcc, gnd, trig, thr = ia[p + 4], ia[p + 5], ia[p + 6], ia[p + 7]
    reset, dis, out, ctrl = ia[p + 8], ia[p + 9], ia[p + 10], ia[p + 11]
    high = sa[s + HIGH] > 0.5
    drive = 1.0 if sa[s + AWAKE] > 0.5 else WEAK
    limited = 0
    stamp_conductance(J, vcc, ctrl, fa[f])
    flow(F, vcc, ctrl, fa[f] * (x[vcc] - x[ctrl]))
    stamp_conductance(J, ctrl, gnd, fa[f + 1])
    flow(F, ctrl, gnd, fa[f + 1] * (x[ctrl] - x[gnd]))
    stamp_conductance(J, reset, vcc, RESET_PULL)
    flow(F, reset, vcc, RESET_PULL * (x[reset] - x[vcc]))
    # Output: a follower that can only source, or a resistance to ground.
    if high:
        u = x[vcc] - fa[f + 2] - x[out]
        root = math.sqrt(u * u + SOFT * SOFT)
        if fa[f + 14] > 0.5:
            flow(F, vcc, out, drive * fa[f + 3] * u)
            stamp_conductance(J, vcc, out, drive * fa[f + 3])
        else:
            flow(F, vcc, out, 0.5 * drive * fa[f + 3] * (u + root) + KEEP * u)
            stamp_conductance(J, vcc, out, 0.5 * drive * fa[f + 3] * (1.0 + u / root) + KEEP)
    else:
        stamp_conductance(J, out, gnd, drive * fa[f + 4])
        flow(F, out, gnd, drive * fa[f + 4] * (x[out] - x[gnd]))
        v, l = x[dis] - x[gnd], ia[p + 3]
        u = limit_step(v, lim[l], max(fa[f + 6] / fa[f + 5], 0.5 * abs(lim[l])))
        limited = 1 if u != v else 0
        lim[l] = u
        ratio = u * fa[f + 5] / fa[f + 6]
        root = math.sqrt(1.0 + ratio * ratio)
        g = drive * fa[f + 5] / (root * root * root)
        flow(F, dis, gnd, drive * fa[f + 5] * u / root + g * (v - u))
        stamp_conductance(J, dis, gnd, g)
    if fa[f + 7] > 0.0:
        u = math.tanh((x[thr] - x[gnd]) / BIAS_SOFT)
        flow(F, thr, gnd, fa[f + 7] * u)
        stamp_conductance(J, thr, gnd, fa[f + 7] * (1.0 - u * u) / BIAS_SOFT)
    if fa[f + 8] > 0.0:
        u = math.tanh((x[vcc] - x[trig]) / BIAS_SOFT)
        flow(F, vcc, trig, fa[f + 8] * u)
        stamp_conductance(J, vcc, trig, fa[f + 8] * (1.0 - u * u) / BIAS_SOFT)
    drawn = fa[f + 9] + (fa[f + 11] if sa[s + PHASE] == SPIKE else 0.0)
    u = math.tanh((x[vcc] - x[gnd]) / 0.5)
    flow(F, vcc, gnd, drawn * u)
    stamp_conductance(J, vcc, gnd, drawn * (1.0 - u * u) / 0.5 + 1e-9)
    flow(F, vcc, gnd, 1e-9 * (x[vcc] - x[gnd]))
    return limited


def power(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats) -> float:
    """Positive when the supply wakes it, or makes it forget [V]."""
    return wakes_or_forgets(sa[ia[p + 2] + AWAKE] > 0.5, x[ia[p + 4]] - x[ia[p + 5]], fa[ia[p + 1] + 13])


def wants_change(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats) -> float:
    """Positive when the inputs ask for the other output [V]."""
    gnd = x[ia[p + 5]]
    free = x[ia[p + 8]] - gnd - RESET_LEVEL
    threshold = x[ia[p + 11]]
    below = 0.5 * (threshold + gnd) - x[ia[p + 6]]
    above = x[ia[p + 7]] - threshold
    if sa[ia[p + 2] + HIGH] > 0.5:
        return max(-free, min(above, -below))
    return min(free, below)


def watch(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats) -> float:
    asked = wants_change(ia, p, fa, sa, x)
    return max(-asked if sa[ia[p + 2] + PHASE] == CHANGING else asked, power(ia, p, fa, sa, x))


def next_time(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> float:
    return sa[ia[p + 2] + UNTIL]


def wake(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats, t: float) -> None:
    """Begin to remember: what the pins say, or either where they say nothing."""
    s, gnd, threshold = ia[p + 2], x[ia[p + 5]], x[ia[p + 11]]
    sa[s + AWAKE], sa[s + UNTIL], sa[s + PHASE] = 1.0, math.inf, 0.0
    if x[ia[p + 8]] - gnd < RESET_LEVEL:
        sa[s + HIGH] = 0.0
    elif x[ia[p + 6]] < 0.5 * (threshold + gnd):
        sa[s + HIGH] = 1.0
    elif x[ia[p + 7]] > threshold:
        sa[s + HIGH] = 0.0
    else:
        sa[s + HIGH], sa[s + UNDECIDED] = fa[ia[p + 1] + 15], t


def fire(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats, t: float) -> None:
    f, s = ia[p + 1], ia[p + 2]
    phase = sa[s + PHASE]
    if t >= sa[s + UNTIL]:
        sa[s + UNTIL], sa[s + PHASE] = math.inf, 0.0
        if phase == SPIKE:
            return
    elif power(ia, p, fa, sa, x) > 0.0:
        if sa[s + AWAKE] > 0.5:
            sa[s + AWAKE] = 0.0
        else:
            wake(ia, p, fa, sa, x, t)
        return
    elif phase == CHANGING:  # the input did not last
        sa[s + UNTIL], sa[s + PHASE] = math.inf, 0.0
        return
    elif fa[f + 10] > 0.0:
        sa[s + UNTIL], sa[s + PHASE] = t + fa[f + 10], CHANGING
        return
    sa[s + HIGH] = 1.0 - sa[s + HIGH]
    if fa[f + 11] > 0.0:
        sa[s + UNTIL], sa[s + PHASE] = t + fa[f + 12], SPIKE


def finish(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> None:
    s = ia[p + 2]
    if sa[s + PHASE] == CHANGING:
        sa[s + HIGH] = 1.0 - sa[s + HIGH]
    sa[s + UNTIL], sa[s + PHASE], sa[s + UNDECIDED] = math.inf, 0.0, -1.0
