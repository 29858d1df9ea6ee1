"""Push button: a changeover contact that follows a list of presses, with reproducible bounce.

Pressing opens NC at once and closes NO after the plunger's travel; releasing does the reverse. The side that
closes bounces. A button without one of the sides is an ordinary make or break contact. `press_at` and
`press_for`
add one press of a length that a sweep or a map may vary. A press that begins at 0 is held from the start.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field, model_validator

from ...fields import Document, Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance
from .switch import Bounce, bounce_offsets


class Press(Document):
    """Held down from `at` for a time [s]."""

    at: Annotated[float, Q("s", 0.0, 1e7)]
    hold: Annotated[float, Q("s", 1e-6, 1e7)]


class Button(Device):
    """Common `com`, normally open `no`, normally closed `nc`; either side may be left out."""

    code = 12
    terminals = ("com", "no", "nc")
    conducts = (("com", "no"), ("com", "nc"))

    device: Literal["button"] = "button"
    com: Node
    no: Node | None = None
    nc: Node | None = None
    presses: Annotated[list[Press], Field(max_length=1000)] = []
    press_at: Annotated[float, Q("s", 0.0, 1e7)] = 0.0
    press_for: Annotated[float, Q("s", 0.0, 1e7)] = 0.0
    travel: Annotated[float, Q("s", 0.0, 0.1)] = 1e-4
    on_resistance: Annotated[float, Q("Ω", 1e-6, 1e6)] = 0.1
    off_resistance: Annotated[float, Q("Ω", 1.0, 1e15)] = 1e10
    bounce: Bounce | None = None

    @model_validator(mode="after")
    def _in_order(self) -> Button:
        if self.no is None and self.nc is None:
            raise ValueError("A button needs a contact: wire its normally open or its normally closed side.")
        end = -1.0
        for press in self.all_presses():
            if press.at <= end:
                raise ValueError(
                    "A press begins before the one before it has ended. Move it, or join the two."
                )
            end = press.at + press.hold
        return self

    def record_nodes(self) -> list[str]:
        return [self.com, self.no or self.com, self.nc or self.com]

    def places(self) -> dict[str, int]:
        return {t: k for k, t in enumerate(self.terminals) if t in self.nodes()}

    def couples(self) -> list[tuple[int, ...]]:
        return [(0, 1), (0, 2)]

    def all_presses(self) -> list[Press]:
        """Every press in order of time."""
        one = [Press(at=self.press_at, hold=self.press_for)] if self.press_for > 0 else []
        return sorted([*self.presses, *one], key=lambda p: p.at)

    def steps(self) -> list[tuple[float, bool, bool]]:
        """(time, NO closed, NC closed), ascending."""
        found: list[tuple[float, bool, bool]] = []
        presses = self.all_presses()
        for k, press in enumerate(presses):
            for at, until, side, salt in (
                (press.at, press.at + press.hold, 0, 2 * k),
                (
                    press.at + press.hold,
                    presses[k + 1].at if k + 1 < len(presses) else math.inf,
                    1,
                    2 * k + 1,
                ),
            ):
                if at == 0.0:
                    continue
                found.append((at, False, False))
                closed = True
                for t in (0.0, *bounce_offsets(self.bounce, salt)):
                    touch = at + self.travel + t
                    if touch < until:
                        found.append((touch, closed and side == 0, closed and side == 1))
                    closed = not closed
        return found

    def numbers(self) -> list[float]:
        steps = self.steps()
        flat = [float(v) for step in steps for v in step]
        return [1.0 / self.on_resistance, 1.0 / self.off_resistance, float(len(steps)), *flat]

    def state(self) -> list[float]:
        held = any(p.at == 0.0 for p in self.all_presses())
        return [0.0, float(held), float(not held)]  # steps done, NO closed, NC closed


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
    f, s, com = ia[p + 1], ia[p + 2], ia[p + 4]
    for side in range(2):
        node = ia[p + 5 + side]
        g = fa[f] if sa[s + 1 + side] > 0.5 else fa[f + 1]
        stamp_conductance(J, com, node, g)
        flow(F, com, node, g * (x[com] - x[node]))
    return 0


def next_time(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> float:
    f, k = ia[p + 1], int(sa[ia[p + 2]])
    return fa[f + 3 + 3 * k] if k < int(fa[f + 2]) else math.inf


def fire(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats, t: float) -> None:
    f, s = ia[p + 1], ia[p + 2]
    k = int(sa[s])
    sa[s] += 1.0
    sa[s + 1], sa[s + 2] = fa[f + 4 + 3 * k], fa[f + 5 + 3 * k]
