"""Ripple counter: counts falling edges of its clock; tap n is the clock divided by 2ⁿ.

Counting from zero, tap n first rises after 2ⁿ⁻¹ clocks. The clock input has hysteresis (30 % and 70 % of the
supply), a high reset holds the count at zero. Each tap is the supply or ground behind an output
resistance. Below
`least` volts it forgets; as the supply rises through it the count is unknown unless the reset is held: it
is taken as
`start`, and the state keeps when that was.
All stages change at once: the ripple's delay is left out.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance, wakes_or_forgets

LOW, HALF, HIGH = 0.3, 0.5, 0.7
INPUT = 1e-9  # input conductance [S]
COUNT, CLOCK, HELD, AWAKE, UNDECIDED = (
    0,
    1,
    2,
    3,
    4,
)  # places in its state: the last is when it woke unknown, or −1


class Counter(Device):
    """`taps` names the node of each tap that is used, by its number."""

    code = 19
    terminals = ("vdd", "vss", "clk", "reset")
    conducts = (("vdd", "vss"), ("clk", "vss"), ("reset", "vss"))

    device: Literal["counter"] = "counter"
    vdd: Node
    vss: Node = "0"
    clk: Node
    reset: Node
    taps: Annotated[dict[Annotated[int, Field(ge=1, le=24)], Node], Field(min_length=1, max_length=14)]
    stages: Annotated[int, Field(ge=1, le=24)] = 14
    start: Annotated[int, Field(ge=0, le=2**24)] = 0
    r_out: Annotated[float, Q("Ω", 1.0, 1e5)] = 400.0
    quiescent: Annotated[float, Q("A", 0.0, 0.1)] = 1e-6
    least: Annotated[float, Q("V", 0.5, 30.0)] = 2.0

    @model_validator(mode="after")
    def _taps_exist(self) -> Counter:
        beyond = sorted(n for n in self.taps if n > self.stages)
        if beyond:
            raise ValueError(
                f"This counter has {self.stages} stages. Leave out tap {beyond[0]}, or give it more stages."
            )
        return self

    def undecided(self) -> tuple[int, str]:
        return (
            UNDECIDED,
            f"Its reset is not held as the supply rises: its count is unknown. Taken here: {self.start}.",
        )

    def nodes(self) -> dict[str, str]:
        return super().nodes() | {f"q{n}": node for n, node in self.taps.items()}

    def pairs(self) -> tuple[tuple[str, str], ...]:
        return (*self.conducts, *((f"q{n}", "vss") for n in self.taps))

    def couples(self) -> list[tuple[int, ...]]:
        taps = range(4, 4 + len(self.taps))
        return [(0, 1), (2, 1), (3, 1), *((k, 0) for k in taps), *((k, 1) for k in taps)]

    def numbers(self) -> list[float]:
        return [
            1.0 / self.r_out,
            self.quiescent,
            float(2**self.stages),
            float(len(self.taps)),
            *(float(2 ** (n - 1)) for n in self.taps),
            self.least,
            float(self.start % 2**self.stages),
        ]

    def state(self) -> list[float]:
        return [float(self.start % 2**self.stages), 0.0, 0.0, 0.0, -1.0]

    def watched(self) -> list[int]:
        return [2, 3]


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
    f, vdd, vss = ia[p + 1], ia[p + 4], ia[p + 5]
    count = int(sa[ia[p + 2] + COUNT])
    for k in range(2):
        pin = ia[p + 6 + k]
        stamp_conductance(J, pin, vss, INPUT)
        flow(F, pin, vss, INPUT * (x[pin] - x[vss]))
    g = fa[f + 1]  # the quiescent current, as drawn at 1 V
    stamp_conductance(J, vdd, vss, g)
    flow(F, vdd, vss, g * (x[vdd] - x[vss]))
    for k in range(int(fa[f + 3])):
        tap = ia[p + 8 + k]
        rail = vdd if (count // int(fa[f + 4 + k])) % 2 == 1 else vss
        stamp_conductance(J, tap, rail, fa[f])
        flow(F, tap, rail, fa[f] * (x[tap] - x[rail]))
    return 0


def power(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats) -> float:
    """Positive when the supply wakes it, or makes it forget [V]."""
    f = ia[p + 1]
    return wakes_or_forgets(
        sa[ia[p + 2] + AWAKE] > 0.5, x[ia[p + 4]] - x[ia[p + 5]], fa[f + 4 + int(fa[f + 3])]
    )


def watch(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats) -> float:
    s, vss = ia[p + 2], x[ia[p + 5]]
    supply, clk, reset = x[ia[p + 4]] - vss, x[ia[p + 6]] - vss, x[ia[p + 7]] - vss
    wakes = power(ia, p, fa, sa, x)
    if sa[s + AWAKE] < 0.5:
        return wakes
    if sa[s + HELD] > 0.5:
        return max(LOW * supply - reset, wakes)
    edge = LOW * supply - clk if sa[s + CLOCK] > 0.5 else clk - HIGH * supply
    return max(edge, reset - HALF * supply, wakes)


def fire(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats, t: float) -> None:
    f, s, vss = ia[p + 1], ia[p + 2], x[ia[p + 5]]
    supply, clk, reset = x[ia[p + 4]] - vss, x[ia[p + 6]] - vss, x[ia[p + 7]] - vss
    if power(ia, p, fa, sa, x) > 0.0:
        if sa[s + AWAKE] > 0.5:
            sa[s + AWAKE] = 0.0
            return
        sa[s + AWAKE], sa[s + CLOCK] = 1.0, 1.0 if clk > HALF * supply else 0.0
        if reset > HALF * supply:
            sa[s + COUNT], sa[s + HELD] = 0.0, 1.0
        else:
            sa[s + COUNT], sa[s + HELD], sa[s + UNDECIDED] = fa[f + 5 + int(fa[f + 3])], 0.0, t
    elif sa[s + HELD] > 0.5:
        sa[s + HELD] = 0.0
        sa[s + CLOCK] = 1.0 if clk > HALF * supply else 0.0
    elif reset > HALF * supply:
        sa[s + COUNT], sa[s + HELD] = 0.0, 1.0
    elif sa[s + CLOCK] > 0.5:
        sa[s + COUNT], sa[s + CLOCK] = (sa[s + COUNT] + 1.0) % fa[f + 2], 0.0
    else:
        sa[s + CLOCK] = 1.0


def finish(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> None:
    sa[ia[p + 2] + UNDECIDED] = -1.0
