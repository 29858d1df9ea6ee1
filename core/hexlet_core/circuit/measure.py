"""Measurements on waveforms: what a person would read off a trace.

A signal is named by text: a node ("out"), two nodes ("v(out,in)"), an unknown ("i(K1)"), the current into a
terminal ("i(Q1.c)"), a device's power ("p(Q1)") or a discrete state ("state(U1)", "state(K1,2)").

A run is measured a stretch at a time: a `Tally` keeps what its measurement needs (ends, extremes, integrals,
crossings) and forgets the wave, so that an hour of a clock can be measured.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import StringConstraints, model_validator

from ..errors import DocumentError, Problem
from ..fields import Document, Q
from .curve import Curve, Edge, Flags, crossings
from .devices import Floats
from .solve import MAX_ROWS
from .waves import Waves

What = Literal[
    "level",
    "slope",
    "mean",
    "rms",
    "lowest",
    "highest",
    "peak",
    "time_of_lowest",
    "time_of_highest",
    "delay",
    "rise",
    "fall",
    "width",
    "period",
    "frequency",
    "duty",
    "overshoot",
    "energy",
    "square_time",
    "time_above",
    "transitions",
    "settled",
    "chatter",
    "final",
]
TERMINAL = re.compile(r"^i\(([^().]+(?:\.[^().]+)*)\.([a-z0-9]+)\)$")
LAST = 0.8  # from this share of the window on it is looked at whether a signal has settled
TIMED = ("delay", "width", "period", "frequency", "duty", "time_above", "transitions", "chatter")
SignalName = Annotated[str, StringConstraints(min_length=1, max_length=80)]

__all__ = ["Curve", "Edge", "Measurement", "Since", "Tally", "crossings", "curve", "measured", "signal"]


def curve(waves: Waves, name: str) -> Curve:
    """A named signal with its slopes.

    Raises:
        DocumentError: nothing has that name.
    """

    def over(value: Floats, slope: Floats) -> Curve:
        return Curve(waves.time, value, slope, waves.jumps > 0)

    try:
        if name == "0" or name in waves.netlist.packed.unknowns:
            return over(waves[name], waves.slope(name))
        if name.startswith("v(") and name.endswith(")"):
            plus, _, minus = (part.strip() for part in name[2:-1].partition(","))
            minus = minus or "0"
            return over(waves[plus] - waves[minus], waves.slope(plus) - waves.slope(minus))
        if name.startswith("p(") and name.endswith(")"):
            return over(*waves.power_and_slope(name[2:-1]))
        if name.startswith("state(") and name.endswith(")"):
            device, _, index = name[6:-1].partition(",")
            value = waves.state(device.strip(), int(index or 0))
            return over(value, np.zeros_like(value))
        found = TERMINAL.match(name)
        if found or (name.startswith("i(") and name.endswith(")")):
            device, terminal = (
                (found[1], found[2]) if found else (name[2:-1], waves.device(name[2:-1]).terminals[0])
            )
            return over(*waves.current_and_slope(device, terminal))
    except (KeyError, ValueError, IndexError):
        pass
    raise DocumentError(
        Problem(
            "signal",
            (
                "Nothing in this circuit has that name. A node, v(a,b), i(part.terminal), p(part) or "
                "state(part) is wanted."
            ),
            got=name,
        )
    )


def signal(waves: Waves, name: str) -> Floats:
    """The values of a named signal, shape (rows,).

    Raises:
        DocumentError: nothing has that name.
    """
    return curve(waves, name).value


class Since(Document):
    """A moment that another signal gives: its first passing of `level` inside the window."""

    signal: SignalName
    level: Annotated[float, Q("", -1e9, 1e9)]
    edge: Edge = "either"


class Measurement(Document):
    """One number from a waveform, in SI units; a count or 1/0 for the questions.

    `level` is the threshold: halfway between the extremes of the window when left out. `span` gives a rise
    or a fall
    its two levels, a tenth and nine tenths of the swing when left out. Times are counted from `after`, or
    from
    `since`; the window ends at `until`. `within` is the share of the swing that counts as settled.
    Transitions
    within `blank` after any passing that `since` names are not counted. `over` divides by the same number of
    another signal.
    """

    name: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    what: What
    signal: SignalName
    level: Annotated[float, Q("", -1e9, 1e9)] | None = None
    span: tuple[Annotated[float, Q("", -1e9, 1e9)], Annotated[float, Q("", -1e9, 1e9)]] | None = None
    edge: Edge = "either"
    after: Annotated[float, Q("s", 0.0, 1e7)] = 0.0
    until: Annotated[float, Q("s", 0.0, 1e7)] | None = None
    since: Since | None = None
    over: SignalName | None = None
    within: Annotated[float, Q("", 1e-6, 0.5)] = 0.02
    spacing: Annotated[float, Q("s", 0.0, 1e6)] = 5e-3  # transitions closer than this are chatter
    blank: Annotated[float, Q("s", 0.0, 1e6)] = 0.0

    @model_validator(mode="after")
    def _possible(self) -> Measurement:
        if self.until is not None and self.until <= self.after:
            raise ValueError("The window ends before it begins. Make until later than after.")
        if self.span is not None and self.what not in ("rise", "fall"):
            raise ValueError("Two levels belong to a rise or a fall. Leave span out.")
        if self.span is not None and (self.span[0] >= self.span[1]):
            raise ValueError("The lower level comes first in span.")
        if self.since is not None and self.what not in ("delay", "transitions"):
            raise ValueError(
                "Only a delay and transitions are counted since another signal. Leave since out."
            )
        if self.blank > 0 and self.since is None:
            raise ValueError("Transitions are left out after something: say in since after what.")
        return self

    @property
    def blind(self) -> bool:
        """Whether it can be measured only once the extremes are known."""
        return (self.level is None and self.what in TIMED) or (
            self.span is None and self.what in ("rise", "fall")
        )

    def of(self, waves: Waves) -> float:
        """The measured value; not-a-number when the waveform does not show it.

        Raises:
            DocumentError: the signal has no meaning in this circuit.
        """
        return measured(lambda: iter((waves,)), (self,), float(waves.time[-1]))[self.name]

    def on(self, time: Floats, value: Floats) -> float:
        """The same on plain arrays of equal length, times not falling, straight lines between."""
        line, end = Curve.lines(time, value), float(time[-1])
        extremes = Tally(self, end)
        extremes.feed(line)
        if not self.blind:
            return extremes.value()
        sighted = Tally(self, end, extremes)
        sighted.feed(line)
        return sighted.value()


class Tally:
    """What one measurement keeps of a signal; `stop` ends the run, `known` has the extremes where they decide
    levels.
    """

    def __init__(self, measure: Measurement, stop: float, known: Tally | None = None) -> None:
        self.measure = measure
        self.begin = measure.after
        self.end = stop if measure.until is None else min(measure.until, stop)
        self.low = self.high = self.first = self.last = self.first_slope = math.nan
        self.low_at = self.high_at = self.tail_low = self.tail_high = math.nan
        self.total = self.squares = 0.0
        self.levels: tuple[float, ...] = ()
        if known is not None:
            low, swing = known.low, known.high - known.low
            self.levels = (
                (low + 0.1 * swing, low + 0.9 * swing)
                if measure.what in ("rise", "fall")
                else (low + 0.5 * swing,)
            )
        if measure.span is not None:
            self.levels = measure.span
        elif measure.level is not None:
            self.levels = (measure.level,)
        self._passes: list[list[tuple[Floats, Flags]]] = [[] for _ in self.levels]
        self._marks: list[Floats] = []

    def feed(self, whole: Curve, marks: Curve | None = None) -> None:
        """Take in one stretch of the signal, and of the signal that times are counted since."""
        if whole.time[-1] <= self.begin or whole.time[0] >= self.end:
            return
        part = whole.window(self.begin, self.end).monotone()
        if math.isnan(self.first):
            self.first, self.first_slope = float(part.value[0]), float(part.slope[0])
        self.last = float(part.value[-1])
        lowest, highest = int(np.argmin(part.value)), int(np.argmax(part.value))
        if not part.value[lowest] >= self.low:
            self.low, self.low_at = float(part.value[lowest]), float(part.time[lowest])
        if not part.value[highest] <= self.high:
            self.high, self.high_at = float(part.value[highest]), float(part.time[highest])
        tail = part.value[part.time >= self.begin + LAST * (self.end - self.begin)]
        if len(tail):
            self.tail_low, self.tail_high = (
                np.fmin(self.tail_low, tail.min()),
                np.fmax(self.tail_high, tail.max()),
            )
        self.total += part.integral()
        if self.measure.what in ("rms", "square_time"):
            self.squares += part.square()
        for level, passes in zip(self.levels, self._passes, strict=True):
            times, rising = part.crossings(level)
            passes.append((times, rising))
        if marks is not None and self.measure.since is not None:
            other = marks.window(self.begin, self.end)
            self._marks.append(other.crossings(self.measure.since.level, self.measure.since.edge)[0])

    def _times(self, which: int, edge: Edge) -> Floats:
        passes = self._passes[which] if which < len(self._passes) else []
        times = np.concatenate([t for t, _ in passes]) if passes else np.empty(0)
        rising = np.concatenate([r for _, r in passes]) if passes else np.empty(0, bool)
        return times if edge == "either" else times[rising == (edge == "rise")]

    def value(self) -> float:
        """The number; not-a-number where the signal does not show it."""
        m, span = self.measure, self.end - self.begin
        if math.isnan(self.first) or span <= 0:
            return math.nan
        match m.what:
            case "level":
                return self.first
            case "slope":
                return self.first_slope
            case "final":
                return self.last
            case "mean":
                return self.total / span
            case "rms":
                return math.sqrt(self.squares / span)
            case "lowest":
                return self.low
            case "highest":
                return self.high
            case "peak":
                return max(abs(self.low), abs(self.high))
            case "time_of_lowest":
                return self.low_at - self.begin
            case "time_of_highest":
                return self.high_at - self.begin
            case "energy":
                return self.total
            case "square_time":
                return self.squares
            case "overshoot":
                swing = abs(self.last - self.first)
                beyond = self.high - self.last if self.last >= self.first else self.last - self.low
                return beyond / swing if swing > 0 else math.nan
            case "settled":
                return float(self.tail_high - self.tail_low <= m.within * max(self.high - self.low, 1e-9))
            case "rise" | "fall":
                near, far = (0, 1) if m.what == "rise" else (1, 0)
                first = self._times(near, m.what)
                last = self._times(far, m.what)
                last = last[last > first[0]] if len(first) else last
                return float(last[0] - first[0]) if len(first) and len(last) else math.nan
            case _:
                return self._timed()

    def _timed(self) -> float:
        m, edges = self.measure, self._times(0, self.measure.edge)
        marks = np.concatenate(self._marks) if self._marks else np.empty(0)
        match m.what:
            case "delay":
                begin = self.begin
                if m.since is not None:
                    if not len(marks):
                        return math.nan
                    begin = float(marks[0])
                later = edges[edges >= begin]
                return float(later[0] - begin) if len(later) else math.nan
            case "transitions":
                if m.blank > 0 and len(marks):
                    before = np.searchsorted(marks, edges, side="right") - 1
                    edges = edges[(before < 0) | (edges - marks[np.maximum(before, 0)] > m.blank)]
                return float(len(edges))
            case "chatter":
                return float(np.count_nonzero(np.diff(self._times(0, "either")) < m.spacing))
        rising, falling = self._times(0, "rise"), self._times(0, "fall")
        if m.what == "time_above":
            return self._above(rising, falling)
        if m.what == "width":
            after = falling[falling > rising[0]] if len(rising) else falling[:0]
            return float(after[0] - rising[0]) if len(after) else math.nan
        if len(rising) < 2:
            return math.nan
        period = float((rising[-1] - rising[0]) / (len(rising) - 1))
        if m.what == "period":
            return period
        if m.what == "frequency":
            return 1.0 / period
        between = falling[(falling > rising[0]) & (falling < rising[-1])]
        return float((between - rising[:-1]).sum() / (rising[-1] - rising[0]))  # duty

    def _above(self, rising: Floats, falling: Floats) -> float:
        starts = np.concatenate([[self.begin], rising]) if self.first >= self.levels[0] else rising
        ends = np.concatenate([falling, [self.end]]) if len(falling) < len(starts) else falling
        return float((ends - starts).sum())


def measured(
    run: Callable[[], Iterator[Waves]], measures: Sequence[Measurement], stop: float
) -> dict[str, float]:
    """Every measurement of a run that `run` computes a stretch at a time, without keeping more of it than
    `MAX_ROWS`.

    Measurements whose levels are shares of a swing need the run twice: it is kept if it is short, and
    computed anew if it is not.

    Raises:
        DocumentError: a signal has no meaning in this circuit.
    """
    kept: list[Waves] = []
    rows = 0

    def first_time() -> Iterator[Waves]:
        nonlocal rows
        for part in run():
            rows += len(part.time)
            kept.append(part)
            if rows > MAX_ROWS:
                kept.clear()
            yield part

    pairs = [(m, name) for m in measures for name in (m.signal, m.over) if name is not None]
    blind = any(m.blind for m, _ in pairs)
    tallies = _fed(first_time() if blind else run(), [(Tally(m, stop), name) for m, name in pairs])
    if blind:
        again = [(Tally(m, stop, t), name) for (m, name), t in zip(pairs, tallies, strict=True)]
        tallies = _fed(kept if rows <= MAX_ROWS else run(), again)
    values = {(m.name, name): t.value() for (m, name), t in zip(pairs, tallies, strict=True)}
    return {
        m.name: _ratio(values[m.name, m.signal], values[m.name, m.over])
        if m.over
        else values[m.name, m.signal]
        for m in measures
    }


def _ratio(a: float, b: float) -> float:
    return a / b if b else math.nan


def _fed(parts: Iterable[Waves], tallies: Sequence[tuple[Tally, str]]) -> list[Tally]:
    """The tallies, each fed with its signal's stretches."""
    for part in parts:
        curves: dict[str, Curve] = {}
        for tally, name in tallies:
            since = tally.measure.since.signal if tally.measure.since else None
            for needed in (name, since):
                if needed is not None and needed not in curves:
                    curves[needed] = curve(part, needed)
            tally.feed(curves[name], curves[since] if since else None)
    return [tally for tally, _ in tallies]
