"""rehearse(design, script): the design in time, as lanes a person reads, with the measured marks.

Lanes come from the same netlist that the verdicts are about. Waveforms are thinned by error: a point is kept
where leaving it out would move the curve by more than a two-hundredth of its range.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np

from ..circuit.devices import Floats, Potentiometer
from ..circuit.measure import signal
from ..circuit.solve import transient
from ..circuit.waves import Stress, Waves
from ..design.document import SUPPLY
from ..design.script import Script, SweepInput
from ..design.study import Study
from ..fields import Document
from ..quantity import show
from ..stages.contract import Corner, Watch
from .events import Happening, told
from .insides import Inside, insides
from .lanes import Lane, spans_of, thin
from .plates import Plates, plates
from .script import circuit, script_of, who_of

MADE = {"relay": 2, "button": 1}  # which of its states tells that the normally open contact is closed
RAIL = f"{SUPPLY}.plus"  # the supply's lane
IDLE = 0.02  # a part conducts above this share of its largest current, and above a microamp


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


class Actor(Document):
    """A part that events can move: what it is called, and which verb moves it."""

    ref: str
    block: str
    title: str
    does: Literal["set", "press", "turn"]


class Rehearsal(Document):
    """The answer of `rehearse`."""

    script: Script
    stop: float
    events: tuple[float, ...]
    happenings: tuple[Happening, ...]
    actors: tuple[Actor, ...]
    parts: tuple[str, ...]  # what can be lifted
    nodes: tuple[str, ...]  # where a meter can go
    lanes: tuple[Lane, ...]
    marks: tuple[Mark, ...]
    insides: tuple[Inside, ...]  # of timers
    plates: tuple[Plates, ...]  # of capacitors that throw a base
    conducting: tuple[Spell, ...]
    closed: tuple[Spell, ...]  # when the normally open contact of a relay or button is made
    passed: tuple[str, ...]  # limits that were passed, in words
    steps: int


def waves_of(here: Study, script: Script, corner: Corner | None = None) -> Waves:
    """The raw trajectory behind a rehearsal."""
    return transient(circuit(here, script, corner), script.stop)


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
            place=watch.place,
        )


def watched(here: Study) -> tuple[Watch, ...]:
    """Every quantity worth watching, in the circuit's own names, signal first."""
    word = here.design.supply.word.capitalize()
    found = [Watch(id=RAIL, title=word, unit="V", signal=here.flow.net(SUPPLY, "plus"), place=1)]
    for block, watch in here.watches:
        names = {"id": f"{block}.{watch.id}", "signal": here.signal(block, watch.signal)}
        found.append(watch.model_copy(update=names))
    twice = {w.title for w in found if [o.title for o in found].count(w.title) > 1}
    return tuple(sorted((_told_apart(here, w, twice) for w in found), key=lambda w: w.place))


def _told_apart(here: Study, watch: Watch, twice: set[str]) -> Watch:
    """Watches of the same title are called by the part that stands for their block, too."""
    if watch.title not in twice:
        return watch
    return watch.model_copy(update={"title": f"{watch.title} {here.first(watch.id.partition('.')[0])}"})


def node_word(here: Study, node: str) -> str:
    """A node of the circuit as it is called on the board; one inside a part keeps its own name."""
    block, _, local = node.partition(".")
    return here.word(block, local) if local and (block in here.design.blocks or block == SUPPLY) else node


def names_of(here: Study) -> dict[str | None, str]:
    """What each signal is called, by its block and by its part; under None the first one; and every node."""
    found: dict[str | None, str] = {}
    for watch in watched(here):
        block = watch.id.partition(".")[0]
        if watch.place == 0 and block not in found:
            refs = [ref for id, ref, _ in here.placed if id == block and ref in here.actors]
            found.update(dict.fromkeys((block, *refs), watch.title))
    first = who_of(here, None)
    for block, _, part in here.placed:
        for local in part.legs.values():
            node = here.flow.net(block, local)
            found.setdefault(node, node_word(here, node))
    return found | ({None: found[first]} if first in found else {})


def traces(here: Study, waves: Waves) -> tuple[Trace, ...]:
    """The watched quantities along a trajectory."""
    return tuple(Trace(w, signal(waves, w.signal)) for w in watched(here))


class RawMark(NamedTuple):
    """A mark before it is worded: what it is, where, when, since when, and its number."""

    id: str
    lane: str
    time: float
    begin: float | None
    value: float
    unit: str
    words: str


def found_marks(waves: Waves, over: Sequence[Trace], script: Script) -> tuple[RawMark, ...]:
    """The peak above the supply, how long after which event a contact changes, and at how many volts of an
    input that is swept the load comes on and lets go.
    """
    edges = [e.at for e in script.events if e.do in ("set", "press") and e.at > 0]
    found: list[RawMark] = list(_swept(waves, over, script))
    supply = next(t.value for t in over if t.watch.id == RAIL)
    for trace in over:
        if trace.watch.peak:
            peak = int(np.argmax(trace.value))
            if trace.value[peak] > supply[peak] + 0.1:
                found.append(
                    RawMark(
                        "peak",
                        trace.watch.id,
                        float(waves.time[peak]),
                        None,
                        float(trace.value[peak]),
                        "V",
                        "peak",
                    )
                )
        if trace.watch.words is not None and trace.watch.place > 0:
            for k in np.flatnonzero(np.diff(trace.value)) + 1:
                t = float(waves.time[k])
                edge = max((e for e in edges if e < t), default=None)
                if edge is not None and not any(m.begin == edge and m.lane == trace.watch.id for m in found):
                    word = "closes" if trace.value[k] > 0.5 else "lets go"
                    found.append(RawMark(f"{word}@{edge:g}", trace.watch.id, t, edge, t - edge, "s", word))
    return tuple(found)


def _swept(waves: Waves, over: Sequence[Trace], script: Script) -> Iterator[RawMark]:
    """Where each sweep of the input changes a contact; the load's current, where there is none."""
    sweeps = [e for e in script.events if isinstance(e, SweepInput) and e.source is None]
    source = next((t for t in over if t.watch.place == 0 and t.watch.unit == "V"), None)
    loads = [t for t in over if t.watch.words is not None and t.watch.place > 0]
    loads = loads or [t for t in over if t.watch.place == 2 and t.watch.unit == "A"]
    if source is None:
        return
    for trace in loads:
        on = trace.value > 0.5 * max(float(trace.value.max()), 1e-9)
        for sweep in sweeps:
            after = np.flatnonzero(np.diff(on.astype(int))) + 1
            k = next(
                (int(k) for k in after if sweep.at <= waves.time[k] <= sweep.at + sweep.over + 0.1), None
            )
            if k is None:
                continue
            word = "comes on" if on[k] else "lets go"
            volts, time = float(source.value[k]), float(waves.time[k])
            yield RawMark(f"{word}@{sweep.at:g}", trace.watch.id, time, None, volts, "V", f"in: {word}")


def _warned(stresses: Sequence[Stress]) -> Iterator[str]:
    for s in stresses:
        yield (
            f"{s.device.partition('.')[0]} {s.what}: {show(s.reached, 'V')} of {show(s.limit, 'V')} allowed, "
            f"first at {show(s.time, 's')}"
        )


def rehearse(here: Study, script: Script | None = None) -> Rehearsal:
    """Run a design under a script.

    Raises:
        SettleError: no convergence; names the time and the node.
        DocumentError: an event names a part or node that the design does not have.
    """
    script, _ = script_of(here, script)
    waves = waves_of(here, script)
    shown = traces(here, waves)
    marks = [
        Mark(
            lane=m.lane,
            time=m.time,
            begin=m.begin,
            text=f"+{show(m.value, m.unit)}, {m.words}"
            if m.begin is not None
            else f"{show(m.value, m.unit)} {m.words}",
        )
        for m in found_marks(waves, shown, script)
    ]
    changes = {0.0, *(e.at for e in script.events), *(m.time for m in marks), script.stop}
    fitted = {d.name.partition(".")[0] for d in waves.netlist.devices}
    return Rehearsal(
        script=script,
        stop=script.stop,
        events=tuple(sorted(changes)),
        happenings=told(script.events, here.design.supply.word.capitalize(), names_of(here)),
        actors=actors_of(here),
        parts=tuple(ref for _, ref, p in here.placed if p.listed and ref in fitted),
        nodes=probed(waves),
        lanes=tuple(t.lane(waves.time) for t in shown),
        marks=tuple(marks),
        insides=tuple(insides(waves)),
        plates=tuple(plates(here, waves)),
        conducting=tuple(_conducting(waves)),
        closed=tuple(_closed(waves)),
        passed=tuple(_warned(waves.stresses())),
        steps=waves.counts.steps,
    )


def probed(waves: Waves) -> tuple[str, ...]:
    """The nets that a builder can probe: neither inside a device nor a current."""
    return tuple(n for n in waves.netlist.packed.unknowns if not set("#(:") & set(n))


def _conducting(waves: Waves) -> Iterator[Spell]:
    """When each part carries a current that matters beside its largest."""
    for device in waves.netlist.devices:
        first = device.terminals[1] if device.device == "mosfet" else next(iter(device.nodes()))
        current = (
            np.abs(waves[f"i({device.name})"])
            if device.device == "relay"
            else np.abs(waves.conduction(device.name, first))
        )
        floor = max(IDLE * float(current.max()), 1e-6)
        yield Spell(ref=device.name, spans=spans_of(waves.time, current > floor))


def _closed(waves: Waves) -> Iterator[Spell]:
    """When each normally open contact is made."""
    for device in waves.netlist.devices:
        if device.device in MADE:
            made = waves.state(device.name, MADE[device.device]) > 0.5
            yield Spell(ref=device.name, spans=spans_of(waves.time, made))


def actors_of(here: Study) -> tuple[Actor, ...]:
    """Everything of the design that an event can set, press or turn."""
    found = []
    for block, ref, part in here.placed:
        if ref in here.actors:
            title = f"{ref}, {part.title.lower()}"
            does: Literal["set", "press"] = "set" if part.poses is not None else "press"
            found.append(Actor(ref=ref, block=block, title=title, does=does))
        elif issubclass(part.device, Potentiometer):
            found.append(Actor(ref=ref, block=block, title=f"{ref}, {part.title.lower()}", does="turn"))
    return tuple(found)
