"""Measurements on waveforms: what a person would read off a trace.

A signal is named by text: a node ("out"), two nodes ("v(out,in)"), an unknown ("i(K1)"), the current into a
terminal ("i(Q1.c)"), a device's power ("p(Q1)") or a discrete state ("state(U1)", "state(K1,2)"). Between rows
the curve is a straight line; rows are close enough for that (see `transient.record_step`).
"""

from __future__ import annotations

import re
from typing import Annotated, Literal

import numpy as np
from pydantic import StringConstraints

from ..errors import DocumentError, Problem
from ..fields import Document, Q
from .devices import Floats
from .solve import Waves

What = Literal[
    "level", "mean", "lowest", "highest", "peak", "delay", "rise", "fall", "width", "period", "frequency", "duty",
    "overshoot", "energy", "time_above", "transitions", "settled", "chatter", "final",
]  # fmt: skip
Edge = Literal["rise", "fall", "either"]
TERMINAL = re.compile(r"^i\(([^().]+(?:\.[^().]+)*)\.([a-z0-9]+)\)$")


def signal(waves: Waves, name: str) -> Floats:
    """The values of a named signal, shape (rows,).

    Raises:
        DocumentError: nothing has that name.
    """
    try:
        if name == "0" or name in waves.netlist.packed.unknowns:
            return waves[name]
        if name.startswith("v(") and name.endswith(")"):
            plus, _, minus = name[2:-1].partition(",")
            return waves[plus.strip()] - waves[minus.strip() or "0"]
        if name.startswith("p(") and name.endswith(")"):
            return waves.power(name[2:-1])
        if name.startswith("state(") and name.endswith(")"):
            device, _, index = name[6:-1].partition(",")
            return waves.state(device.strip(), int(index or 0))
        found = TERMINAL.match(name)
        if found:
            return waves.current(found[1], found[2])
    except (KeyError, ValueError):
        pass
    raise DocumentError(
        Problem("signal", "Nothing in this circuit has that name. A node, v(a,b), i(part.terminal), p(part) or state(part) is wanted.", got=name)
    )  # fmt: skip


def crossings(time: Floats, value: Floats, level: float, edge: Edge = "either") -> Floats:
    """Times at which a curve passes a level [s].

    >>> crossings(np.array([0.0, 1.0, 2.0]), np.array([0.0, 1.0, 0.0]), 0.25, "rise")
    array([0.25])
    """
    above = value >= level
    k = np.flatnonzero(above[1:] != above[:-1])
    if edge != "either":
        k = k[above[k + 1] == (edge == "rise")]
    low, high = value[k], value[k + 1]
    return np.asarray(time[k] + (level - low) / (high - low) * (time[k + 1] - time[k]))


class Measure(Document):
    """One number from a waveform, in SI units; a count or 1/0 for the questions.

    `level` is the threshold: halfway between the extremes of the window when left out. Times are counted
    from `after`; the window ends at `until`. `within` is the share of the swing that counts as settled.
    """

    name: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    what: What
    signal: Annotated[str, StringConstraints(min_length=1, max_length=80)]
    level: Annotated[float, Q("", -1e9, 1e9)] | None = None
    edge: Edge = "either"
    after: Annotated[float, Q("s", 0.0, 1e7)] = 0.0
    until: Annotated[float, Q("s", 0.0, 1e7)] | None = None
    within: Annotated[float, Q("", 1e-6, 0.5)] = 0.02
    spacing: Annotated[float, Q("s", 0.0, 1e6)] = 5e-3  # transitions closer than this are chatter

    def of(self, waves: Waves) -> float:
        """The measured value; not-a-number when the waveform does not show it.

        Raises:
            DocumentError: the signal has no meaning in this circuit.
        """
        return self.on(waves.time, signal(waves, self.signal))

    def on(self, time: Floats, value: Floats) -> float:
        """The same on plain arrays of equal length, times not falling."""
        until = time[-1] if self.until is None else min(self.until, float(time[-1]))
        if until <= self.after:
            return float("nan")
        inside = (time > self.after) & (time < until)
        ends = np.array([self.after, until])
        t = np.concatenate([ends[:1], time[inside], ends[1:]])
        v = np.concatenate([np.interp(ends[:1], time, value), value[inside], np.interp(ends[1:], time, value)])
        return float(self._value(t, v))

    def _value(self, t: Floats, v: Floats) -> float:
        low, high, span = float(v.min()), float(v.max()), float(t[-1] - t[0])
        level = self.level if self.level is not None else 0.5 * (low + high)
        match self.what:
            case "level":
                return float(v[0])
            case "final":
                return float(v[-1])
            case "mean":
                return float(np.trapezoid(v, t)) / span
            case "lowest":
                return low
            case "highest":
                return high
            case "peak":
                return float(np.abs(v).max())
            case "energy":
                return float(np.trapezoid(v, t))
            case "overshoot":
                begin, end = v[0], v[-1]
                swing = abs(end - begin)
                beyond = high - end if end >= begin else end - low
                return float(beyond / swing) if swing > 0 else float("nan")
            case "rise" | "fall":
                a, b = (0.1, 0.9) if self.what == "rise" else (0.9, 0.1)
                first = crossings(t, v, low + a * (high - low), self.what)
                last = crossings(t, v, low + b * (high - low), self.what)
                last = last[last > first[0]] if len(first) else last
                return float(last[0] - first[0]) if len(first) and len(last) else float("nan")
            case "time_above":
                return float(_time_above(t, v, level))
            case "settled":
                band = self.within * max(high - low, 1e-9)
                return float(np.ptp(v[t >= t[0] + 0.8 * span]) <= band)
        edges = crossings(t, v, level, self.edge)
        match self.what:
            case "delay":
                return float(edges[0] - self.after) if len(edges) else float("nan")
            case "transitions":
                return float(len(edges))
            case "chatter":
                return float(np.count_nonzero(np.diff(crossings(t, v, level)) < self.spacing))
        rising, falling = crossings(t, v, level, "rise"), crossings(t, v, level, "fall")
        if self.what == "width":
            after = falling[falling > rising[0]] if len(rising) else falling[:0]
            return float(after[0] - rising[0]) if len(after) else float("nan")
        if len(rising) < 2:
            return float("nan")
        period = float((rising[-1] - rising[0]) / (len(rising) - 1))
        if self.what == "period":
            return period
        if self.what == "frequency":
            return 1.0 / period
        whole = (t >= rising[0]) & (t <= rising[-1])
        ends = np.array([rising[0], rising[-1]])
        tt = np.concatenate([ends[:1], t[whole], ends[1:]])
        vv = np.concatenate([[level], v[whole], [level]])
        return float(_time_above(tt, vv, level) / (rising[-1] - rising[0]))  # duty


def _time_above(t: Floats, v: Floats, level: float) -> float:
    """How long a broken line lies above a level [s]."""
    a, b, gaps = v[:-1] - level, v[1:] - level, np.diff(t)
    with np.errstate(divide="ignore", invalid="ignore"):
        part = np.where(a > 0, a / (a - b), b / (b - a))
    share = np.where((a > 0) & (b > 0), 1.0, np.where((a <= 0) & (b <= 0), 0.0, part))
    return float((share * gaps).sum())
