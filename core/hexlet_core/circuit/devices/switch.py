"""Timed switch: a resistance that toggles at given times, with reproducible bounce."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from ...fields import Document, Q
from .base import Device, Floats, Ints, Node, flow, stamp_conductance


class Bounce(Document):
    """Contact bounce after each closing: how long it lasts [s], how many reopenings, and the seed."""

    duration: Annotated[float, Q("s", 1e-6, 1.0)] = 2e-3
    times: Annotated[int, Field(ge=1, le=20)] = 3
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1


def bounce_offsets(bounce: Bounce | None, salt: int = 0) -> list[float]:
    """Times after first touch at which the contact toggles [s], an even number of them, ascending.

    The gaps shrink as a bouncing mass loses energy; the same seed and salt give the same list.
    """
    if bounce is None:
        return []
    rng = np.random.default_rng((bounce.seed, salt))
    gaps = rng.uniform(0.5, 1.5, 2 * bounce.times) * np.geomspace(1.0, 0.2, 2 * bounce.times)
    return [float(v) for v in np.cumsum(gaps) / gaps.sum() * bounce.duration]


class ContactSwitch(Device):
    """Closed or open, toggling at `times` [s], starting `closed` or not."""

    code = 6
    terminals = ("a", "b")
    conducts = (("a", "b"),)

    device: Literal["switch"] = "switch"
    a: Node
    b: Node
    closed: bool = False
    times: list[Annotated[float, Q("s", 0.0, 1e7)]] = Field(default_factory=list)
    on_resistance: Annotated[float, Q("Ω", 1e-6, 1e6)] = 0.05
    off_resistance: Annotated[float, Q("Ω", 1.0, 1e15)] = 1e9
    bounce: Bounce | None = None

    @model_validator(mode="after")
    def _in_order(self) -> ContactSwitch:
        if self.times != sorted(self.times):
            raise ValueError("The times at which it toggles must not go backwards. Sort them.")
        return self

    def toggles(self) -> list[float]:
        """All toggle times, bounce included."""
        found: list[float] = []
        closed = self.closed
        for k, t in enumerate(self.times):
            found.append(t)
            closed = not closed
            if closed:
                found += [t + d for d in bounce_offsets(self.bounce, k)]
        return sorted(found)

    def numbers(self) -> list[float]:
        toggles = self.toggles()
        return [1.0 / self.on_resistance, 1.0 / self.off_resistance, float(len(toggles)), *toggles]

    def state(self) -> list[float]:
        return [float(self.closed), 0.0]  # closed, toggles done


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
    f, s, a, b = ia[p + 1], ia[p + 2], ia[p + 4], ia[p + 5]
    g = fa[f] if sa[s] > 0.5 else fa[f + 1]
    stamp_conductance(J, a, b, g)
    flow(F, a, b, g * (x[a] - x[b]))
    return 0


def next_time(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> float:
    f, k = ia[p + 1], int(sa[ia[p + 2] + 1])
    return fa[f + 3 + k] if k < int(fa[f + 2]) else math.inf


def fire(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats, t: float) -> None:
    s = ia[p + 2]
    sa[s] = 1.0 - sa[s]
    sa[s + 1] += 1.0
