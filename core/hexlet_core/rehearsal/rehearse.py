"""rehearse(design, script): the design in time, as lanes a person reads, with the measured marks.

Lanes come from the same netlist that the verdicts are about. Waveforms are thinned by error: a point is
kept where leaving it out would move the curve by more than a two-hundredth of its range.
"""

from __future__ import annotations

import numpy as np

from ..cards import Drawer
from ..circuit.devices import Floats, Ints, Relay
from ..circuit.solve import Waves, transient
from ..design.document import Design
from ..fields import Document
from ..quantity import show
from ..stages.contract import Corner
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
    lanes: tuple[Lane, ...]
    marks: tuple[Mark, ...]
    conducting: tuple[Spell, ...]
    steps: int


def waves_of(design: Design, script: Script, drawer: Drawer, corner: Corner | None = None) -> Waves:
    """The raw trajectory behind a rehearsal."""
    return transient(circuit(design, script, drawer, corner), script.stop)


def thin(time: Floats, value: Floats, share: float = THIN) -> Ints:
    """Indices that keep a curve within `share` of its range: the line-simplification rule of the farthest point."""
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


def _lane(waves: Waves, id: str, title: str, unit: str, value: Floats, **more: object) -> Lane:
    k = thin(waves.time, value)
    return Lane(id=id, title=title, unit=unit, digital=False, time=tuple(waves.time[k].tolist()), value=tuple(value[k].tolist()), **more)  # type: ignore[arg-type]


def _digital(waves: Waves, id: str, title: str, value: Floats, words: tuple[str, str]) -> Lane:
    change = np.flatnonzero(np.diff(value)) + 1
    k = np.concatenate([[0], change])
    times = np.append(waves.time[k], waves.time[-1])
    return Lane(
        id=id, title=title, unit="", digital=True, time=tuple(times.tolist()),
        value=tuple(np.append(value[k], value[-1]).tolist()), words=words,
    )  # fmt: skip


def _spans(time: Floats, on: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> tuple[tuple[float, float], ...]:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], on, [False]]).astype(int)))
    return tuple((float(time[a]), float(time[min(b, len(time) - 1)])) for a, b in zip(edges[::2], edges[1::2], strict=True))


def rehearse(design: Design, script: Script | None = None, drawer: Drawer | None = None) -> Rehearsal:
    """Run a design under a script.

    Raises:
        SettleError: no convergence; names the time and the node.
    """
    drawer = drawer or Drawer()
    script = script or presets(design)[0]
    waves = waves_of(design, script, drawer)
    devices = {d.name: d for d in waves.netlist.devices}
    output = next(s.output for s in design.stages if s.role == "drive")
    lanes = [_lane(waves, "pin", "Pin", "V", waves["pin"]), _lane(waves, "plus", design.supply.word.capitalize(), "V", waves["plus"])]
    marks: list[Mark] = []
    edges = [e.at for e in script.events if e.do == "set"]
    relay = next((d for d in devices.values() if isinstance(d, Relay)), None)
    if relay is not None:
        limits = ((relay.pull_in, "pulls in"), (relay.drop_out, "lets go"))
        lanes.append(_lane(waves, f"i({relay.name})", "Coil current", "A", waves[f"i({relay.name})"], limits=limits))
    else:
        load = next(
            d.name for d in devices.values() if d.nodes().get("b") == output and d.nodes().get("a") == "plus" and d.device == "resistor"
        )  # type: ignore[attr-defined]
        lanes.append(_lane(waves, f"i({load})", "Load current", "A", waves.conduction(load, "a")))
    out = waves[output]
    lanes.append(_lane(waves, output, output.capitalize(), "V", out))
    peak = int(np.argmax(out))
    supply = waves["plus"]
    if out[peak] > supply[peak] + 0.1:
        marks.append(Mark(lane=output, time=float(waves.time[peak]), text=f"{show(float(out[peak]), 'V')} peak"))
    if relay is not None:
        closed = waves.state(relay.name, 2)
        lanes.append(_digital(waves, "contact", "Contact", closed, ("open", "closed")))
        for k in np.flatnonzero(np.diff(closed)) + 1:
            t = float(waves.time[k])
            edge = max((e for e in edges if e < t), default=None)
            if edge is not None and not any(m.begin == edge and m.lane == "contact" for m in marks):
                word = "closes" if closed[k] > 0.5 else "lets go"
                marks.append(Mark(lane="contact", time=t, begin=edge, text=f"+{show(t - edge, 's')}, {word}"))
    control = "gate" if "gate" in waves.netlist.packed.unknowns else "base"
    lanes.append(_lane(waves, control, control.capitalize(), "V", waves[control], shown=False))
    conducting = []
    for name, device in devices.items():
        first = device.terminals[1] if device.device in ("mosfet",) else device.terminals[0]  # type: ignore[attr-defined]
        current = np.abs(waves.conduction(name, first))
        if device.device == "relay":  # type: ignore[attr-defined]
            current = np.abs(waves[f"i({name})"])
        floor = max(IDLE * float(current.max()), 1e-6)
        conducting.append(Spell(ref=name, spans=_spans(waves.time, current > floor)))
    changes = {0.0, *(e.at for e in script.events), *(m.time for m in marks), script.stop}
    return Rehearsal(
        script=script, stop=script.stop, events=tuple(sorted(changes)), lanes=tuple(lanes), marks=tuple(marks),
        conducting=tuple(conducting), steps=waves.counts.steps,
    )  # fmt: skip
