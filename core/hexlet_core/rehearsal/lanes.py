"""Lanes: a quantity over time as it is sent and drawn, with no more points than its curve needs."""

from __future__ import annotations

import numpy as np

from ..circuit.curve import Flags
from ..circuit.devices.base import Floats, Ints
from ..fields import Document

THIN = 1 / 400  # share of a lane's range that thinning may move its curve


class Lane(Document):
    """One quantity over time. Digital lanes hold 0 and 1; `words` name the two."""

    id: str
    title: str
    unit: str
    digital: bool
    time: tuple[float, ...]
    value: tuple[float, ...]
    words: tuple[str, str] | None = None
    limits: tuple[tuple[float, str], ...] = ()
    shown: bool = True
    place: int = 0  # as `Watch.place`: 0 signal, 1 supply, 2 load, 3 output, 4 contact, 5 control


def thin(time: Floats, value: Floats, share: float = THIN) -> Ints:
    """Indices that keep a curve within `share` of its range: the line-simplification rule of the farthest
    point.
    """
    if len(time) < 3:
        return np.arange(len(time))
    spread = float(np.ptp(value)) or 1.0
    keep = np.zeros(len(time), bool)
    keep[[0, -1]] = True
    stack = [(0, len(time) - 1)]
    while stack:
        a, b = stack.pop()
        if b - a < 2:
            continue
        span = time[b] - time[a]
        part = slice(a + 1, b)
        line = value[a] + (value[b] - value[a]) * ((time[part] - time[a]) / span if span > 0 else 0.0)
        off = np.abs(value[part] - line)
        k = int(np.argmax(off))
        if off[k] > share * spread:
            keep[a + 1 + k] = True
            stack += [(a, a + 1 + k), (a + 1 + k, b)]
    return np.flatnonzero(keep)


def spans_of(time: Floats, on: Flags) -> tuple[tuple[float, float], ...]:
    """When something is so: from and to, as often as it is."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], on, [False]]).astype(int)))
    return tuple(
        (float(time[a]), float(time[min(b, len(time) - 1)]))
        for a, b in zip(edges[::2], edges[1::2], strict=True)
    )


def hidden(id: str, time: Floats, values: Floats, unit: str = "V") -> Lane:
    """A lane that another picture than the strip's shows: thinned, or without a unit its changes alone."""
    k = thin(time, values) if unit else np.flatnonzero(np.diff(values, prepend=-1.0, append=-1.0))
    k = np.minimum(k, len(time) - 1)
    return Lane(
        id=id,
        title=id,
        unit=unit,
        digital=not unit,
        time=tuple(time[k].tolist()),
        value=tuple(values[k].tolist()),
        shown=False,
    )
