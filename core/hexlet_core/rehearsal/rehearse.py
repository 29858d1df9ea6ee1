"""rehearse(design, script): the design in time, as lanes a person reads, with the measured marks.

Lanes come from the same netlist that the verdicts are about. Waveforms are thinned by error: a point is
kept where leaving it out would move the curve by more than a two-hundredth of its range.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from ..cards import Drawer
from ..circuit.devices import Floats, Ints
from ..circuit.measure import signal
from ..circuit.solve import transient
from ..circuit.waves import Stress, Waves
from ..design.circuit import views
from ..design.document import Design
from ..fields import Document
from ..quantity import show
from ..stages.contract import Corner, Watch
from .events import Happening, told
from .script import Script, circuit, presets

THIN = 1 / 400  # share of a lane's range that thinning may move its curve
IDLE = 0.02  # a part conducts above this share of its largest current, and above a microamp


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


class Mark(Document):
    """A measured moment: a delay, a peak, a release."""

    lane: str
    time: float
    begin: float | None = None
    text: str


class Spell(Document):
    """When a part conducts, as (begin, end) pairs."""

    ref: str
    spans: tuple[tuple[float, float], ...]


class Rehearsal(Document):
    """The answer of `rehearse`."""

    script: Script
    stop: float
    events: tuple[float, ...]
    happenings: tuple[Happening, ...]
    parts: tuple[str, ...]  # what can be lifted
    nodes: tuple[str, ...]  # where a meter can go
    lanes: tuple[Lane, ...]
    marks: tuple[Mark, ...]
    conducting: tuple[Spell, ...]
    passed: tuple[str, ...]  # limits that were passed, in words
    steps: int


def waves_of(design: Design, script: Script, drawer: Drawer, corner: Corner | None = None) -> Waves:
    """The raw trajectory behind a rehearsal."""
    return transient(circuit(design, script, drawer, corner), script.stop)


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


@dataclass(frozen=True)
class Trace:
    """A watched quantity at every row of a trajectory, before it is thinned."""

    watch: Watch
    value: Floats

    def lane(self, time: Floats) -> Lane:
        """As it is shown: thinned, or for a digital quantity its changes."""
        watch = self.watch
        if watch.words is None:
            k = thin(time, self.value)
            times, values = time[k], self.value[k]
        else:
            k = np.concatenate([[0], np.flatnonzero(np.diff(self.value)) + 1])
            times, values = np.append(time[k], time[-1]), np.append(self.value[k], self.value[-1])
        return Lane(
            id=watch.id,
            title=watch.title,
            unit=watch.unit,
            digital=watch.words is not None,
            time=tuple(times.tolist()),
            value=tuple(values.tolist()),
            words=watch.words,
            limits=watch.limits,
            shown=watch.shown,
        )


def _spans(time: Floats, on: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> tuple[tuple[float, float], ...]:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], on, [False]]).astype(int)))
    return tuple(
        (float(time[a]), float(time[min(b, len(time) - 1)]))
        for a, b in zip(edges[::2], edges[1::2], strict=True)
    )


def traces(design: Design, drawer: Drawer, waves: Waves) -> tuple[Trace, ...]:
    """The quantities that the stages say are worth watching, signal first."""
    supply = Watch(id="plus", title=design.supply.word.capitalize(), unit="V", signal="plus", place=1)
    pairs = zip(design.stages, views(design, drawer), strict=True)
    found = [supply, *(w for stage, view in pairs for w in stage.watches(view))]
    return tuple(Trace(w, signal(waves, w.signal)) for w in sorted(found, key=lambda w: w.place))


class Found(NamedTuple):
    """A mark before it is worded: what it is, where, when, since when, and its number."""

    id: str
    lane: str
    time: float
    begin: float | None
    value: float
    unit: str
    words: str


def found_marks(waves: Waves, over: Sequence[Trace], edges: Sequence[float]) -> tuple[Found, ...]:
    """The peak above the supply, and how long after which event a contact changes."""
    found: list[Found] = []
    supply = next(t.value for t in over if t.watch.id == "plus")
    for trace in over:
        if trace.watch.peak:
            peak = int(np.argmax(trace.value))
            if trace.value[peak] > supply[peak] + 0.1:
                found.append(
                    Found(
                        "peak",
                        trace.watch.id,
                        float(waves.time[peak]),
                        None,
                        float(trace.value[peak]),
                        "V",
                        "peak",
                    )
                )
        if trace.watch.words is not None:
            for k in np.flatnonzero(np.diff(trace.value)) + 1:
                t = float(waves.time[k])
                edge = max((e for e in edges if e < t), default=None)
                if edge is not None and not any(m.begin == edge and m.lane == trace.watch.id for m in found):
                    word = "closes" if trace.value[k] > 0.5 else "lets go"
                    found.append(Found(f"{word}@{edge:g}", trace.watch.id, t, edge, t - edge, "s", word))
    return tuple(found)


def _warned(stresses: Sequence[Stress]) -> Iterator[str]:
    for s in stresses:
        yield (
            f"{s.device.partition('.')[0]} {s.what}: {show(s.reached, 'V')} of {show(s.limit, 'V')} "
            f"allowed, first at {show(s.time, 's')}"
        )


def rehearse(design: Design, script: Script | None = None, drawer: Drawer | None = None) -> Rehearsal:
    """Run a design under a script.

    Raises:
        SettleError: no convergence; names the time and the node.
        DocumentError: an event names a part or node that the design does not have.
    """
    drawer = drawer or Drawer()
    script = script or presets(design, drawer)[0]
    waves = waves_of(design, script, drawer)
    shown = traces(design, drawer, waves)
    edges = [e.at for e in script.events if e.do == "set" and e.at > 0]
    marks = [
        Mark(
            lane=m.lane,
            time=m.time,
            begin=m.begin,
            text=f"+{show(m.value, m.unit)}, {m.words}"
            if m.begin is not None
            else f"{show(m.value, m.unit)} {m.words}",
        )
        for m in found_marks(waves, shown, edges)
    ]
    conducting = []
    for device in waves.netlist.devices:
        first = device.terminals[1] if device.device == "mosfet" else next(iter(device.nodes()))
        current = (
            np.abs(waves[f"i({device.name})"])
            if device.device == "relay"
            else np.abs(waves.conduction(device.name, first))
        )
        floor = max(IDLE * float(current.max()), 1e-6)
        conducting.append(Spell(ref=device.name, spans=_spans(waves.time, current > floor)))
    changes = {0.0, *(e.at for e in script.events), *(m.time for m in marks), script.stop}
    fitted = [p.ref for s, v in zip(design.stages, views(design, drawer), strict=True) for p in s.parts(v)]
    return Rehearsal(
        script=script,
        stop=script.stop,
        events=tuple(sorted(changes)),
        happenings=told(script.events, design.supply.word.capitalize()),
        parts=tuple(
            ref for ref in fitted if ref in {d.name.partition(".")[0] for d in waves.netlist.devices}
        ),
        nodes=tuple(n for n in waves.netlist.packed.unknowns if not set("#(:") & set(n)),
        lanes=tuple(t.lane(waves.time) for t in shown),
        marks=tuple(marks),
        conducting=tuple(conducting),
        passed=tuple(_warned(waves.stresses())),
        steps=waves.counts.steps,
    )
