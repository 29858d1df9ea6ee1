"""The press map: what becomes of a press, by how long it is held and on which supply.

Each press is a run of the whole design, bounce included. Neighbouring holds with the same outcome are one
span; where the outcome changes, the edge is sought by halving. A press shorter than its own bounce has no
steady contact and is left out. Where one button turns on and off, the same is asked of the wait before the
next press: how soon it counts.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np

from ..circuit import batch
from ..circuit.curve import Flags
from ..circuit.devices import Button, Floats
from ..circuit.measure import signal
from ..circuit.solve import transient
from ..design.study import Study
from ..errors import DocumentError, HexletError, Problem
from ..fields import Document
from ..quantity import show
from ..stages.contract import Act, Corner, Scene, Site
from ..stages.contract.scenes import UPSTREAM
from ..stages.contract.stage import Behaving
from .lanes import spans_of
from .lit import half_amps, load_of, load_signal

SHORTEST, LONGEST, USUAL = 5e-3, 10.0, 0.15  # holds [s]; the usual one is what a person does
GRID = 12  # holds tried a row, before edges are sought
HALVINGS = 4  # of a grid's step, at an edge
BEGIN = 0.05  # when the press begins [s]
FOLLOWS = (
    0.2  # how near a time on must be to the hold, and how much longer than a tap's, to be the hold itself
)
Kind = Literal["on", "off", "pulse", "held", "nothing", "back", "unsettled"]
From = Literal["off", "on"]
WORDS: dict[Kind, str] = {
    "on": "turns on",
    "off": "turns off",
    "pulse": "on for a time",
    "held": "on while held",
    "nothing": "no change",
    "back": "off and back on",
    "unsettled": "no answer",
}


class PressSpan(Document):
    """Holds from `low` to `high` [s] with one outcome; `meant` is whether the usual press has the same."""

    low: float
    high: float
    kind: Kind
    words: str
    meant: bool


class PressRow(Document):
    """One supply [V], and whether the load was off or on before the press."""

    begin: From
    supply: float
    spans: tuple[PressSpan, ...]


class PressMap(Document):
    """Every row; the usual hold, and how many presses were run."""

    rows: tuple[PressRow, ...]
    again: tuple[PressRow, ...]  # the next press of the usual length, after a wait in place of a hold
    low: float
    high: float
    usual: float
    runs: int
    button: str


class MapStep(Document):
    """How far the work is, and the map at the end."""

    done: int
    of: int
    map: PressMap | None = None


@dataclass(frozen=True)
class _Press:
    """One press to run."""

    begin: From
    supply: float
    hold: float
    wait: float | None = None  # since the one before it, where that is what is asked [s]

    @property
    def asked(self) -> float:
        """The hold, or the wait [s]."""
        return self.hold if self.wait is None else self.wait

    def between(self, other: _Press) -> _Press:
        """The press half-way to another, by ratio."""
        half = float(np.sqrt(self.asked * other.asked))
        if self.wait is None:
            return _Press(self.begin, self.supply, half)
        return _Press(self.begin, self.supply, self.hold, half)


@dataclass(frozen=True)
class _Outcome:
    kind: Kind
    seconds: float = 0.0


def presser(here: Study) -> tuple[Behaving, Site, str, str]:
    """What decides what a press does, its place, and the blocks that turn it on and off: one for both where
    there is one button.

    Raises:
        DocumentError: the design has no behaviour, or nothing that presses.
    """
    found = next(((stage, site) for stage, site in here.pairs if isinstance(stage, Behaving)), None)
    if found is None or here.open:
        raise DocumentError(
            Problem("blocks", "Nothing here decides what a press does. Put in a behaviour first.")
        )
    stage, site = found
    acts = here.acted_by(site.id, Scene("press", "", (Act(UPSTREAM, "active"),))).acts
    if not acts:
        raise DocumentError(Problem(f"blocks.{site.id}", "Nothing presses it yet. Join a button to it."))
    who = off = acts[0].who
    if stage.presses:
        who, off = (next((b for b, _ in site.joined(port)), who) for port in stage.presses)
    return stage, site, who, off


class _Tried:
    """The design under presses: who presses, whose current tells, and how long an outcome takes to settle."""

    def __init__(self, here: Study, channel: int) -> None:
        stage, site, self.who, self.off = presser(here)
        self.here, self.block, self.settles = here, site.id, stage.settles(site)
        # What may rest in either state is off only where it has come up so.
        rests = here.scene(site.id, "idle")
        self.cold = rests is not None and rests.cold
        self.first = BEGIN + (rests.look or 0.0 if rests is not None and self.cold else 0.0)
        self.load = load_of(here, channel)
        self.name = load_signal(here, self.load)
        self.amps = {volts: half_amps(here, self.load, volts) for volts in self.supplies}

    @property
    def supplies(self) -> tuple[float, ...]:
        supply = self.here.design.supply
        return tuple(dict.fromkeys((supply.low, supply.typical, supply.high)))

    @property
    def button(self) -> str:
        refs = {b: ref for b, ref, _ in self.here.placed if ref in self.here.actors}
        return " and ".join(dict.fromkeys(refs[b] for b in (self.who, self.off) if b in refs))

    @property
    def shortest(self) -> float:
        """The shortest hold with a steady contact [s]."""
        circuit = self.here.netlist(Corner(supply=self.supplies[0]))
        bounces = [
            d.bounce.duration
            for d in circuit.devices
            if isinstance(d, Button) and d.name in self.button.split(" and ") and d.bounce
        ]
        return max([SHORTEST, *(1.2 * b for b in bounces)])

    def run(self, press: _Press) -> _Outcome:
        """What becomes of one press."""
        begin, acts = self.first, []
        if press.begin == "on":
            acts.append(Act(self.who, "active", begin, USUAL))
            begin += USUAL + (self.settles if press.wait is None else press.wait)
        acts.append(Act(self.off if press.begin == "on" else self.who, "active", begin, press.hold))
        stop = begin + press.hold + self.settles
        try:
            circuit = self.here.acted(Corner(supply=press.supply), tuple(acts))
            waves = transient(circuit, stop, from_rest=self.cold)
        except HexletError:
            return _Outcome("unsettled")
        on = np.abs(signal(waves, self.name)) > self.amps[press.supply]
        after = waves.time >= begin
        return _told(waves.time[after], on[after], press)


def _told(time: Floats, on: Flags, press: _Press) -> _Outcome:
    """An outcome from when the load was on, from the press to the end."""
    last, ever_off = bool(on[-1]), not bool(on.all())
    if press.begin == "on":
        return _Outcome(("back" if ever_off else "nothing") if last else "off")
    if last:
        return _Outcome("on")
    if not on.any():
        return _Outcome("nothing")
    return _Outcome("pulse", sum(b - a for a, b in spans_of(time, on)))


def press_map(here: Study, channel: int = 1) -> Iterator[MapStep]:
    """Run every press; yields progress, and the map last. Closing the iterator cancels the rest.

    Raises:
        DocumentError: the design has no behaviour, or nothing that presses.
    """
    tried = _Tried(here, channel)
    holds = sorted({*np.geomspace(tried.shortest, LONGEST, GRID).tolist(), USUAL})
    found: dict[_Press, _Outcome] = {}
    presses = [_Press("off", v, h) for v in tried.supplies for h in holds]
    of = len(presses) * 2
    yield from _ran(tried, presses, found, of)
    stays = all(found[_Press("off", v, USUAL)].kind == "on" for v in tried.supplies)
    if stays:
        yield from _ran(tried, [_Press("on", v, h) for v in tried.supplies for h in holds], found, of)
    for _ in range(HALVINGS):
        yield from _ran(tried, _between(found), found, of)
    again: dict[_Press, _Outcome] = {}
    toggles = stays and tried.off == tried.who and found[_Press("on", tried.supplies[0], USUAL)].kind == "off"
    if toggles:
        waits = np.geomspace(SHORTEST, LONGEST, GRID).tolist()
        presses = [_Press("on", v, USUAL, w) for v in tried.supplies for w in waits]
        yield from _ran(tried, presses, again, len(presses))
        for _ in range(HALVINGS):
            yield from _ran(tried, _between(again), again, len(again))
    runs = len(found) + len(again)
    yield MapStep(done=runs, of=runs, map=_drawn(tried, found, again))


def _ran(tried: _Tried, presses: list[_Press], found: dict[_Press, _Outcome], of: int) -> Iterator[MapStep]:
    for press, outcome in zip(presses, batch.stream(tried.run, presses), strict=True):
        found[press] = outcome
        yield MapStep(done=len(found), of=max(of, len(found) + 1))


def _rows(found: dict[_Press, _Outcome]) -> dict[tuple[From, float], list[tuple[_Press, _Outcome]]]:
    """The presses of each row by hold. A time on that grows with the hold is the hold itself."""
    rows: dict[tuple[From, float], list[tuple[_Press, _Outcome]]] = {}
    for press in sorted(found, key=lambda p: (p.begin == "on", p.supply, p.asked)):
        row = rows.setdefault((press.begin, press.supply), [])
        own = next((o.seconds for _, o in row if o.kind == "pulse"), 0.0)
        outcome = found[press]
        grown = outcome.seconds > (1 + FOLLOWS) * own and own > 0
        if outcome.kind == "pulse" and grown and abs(outcome.seconds - press.hold) <= FOLLOWS * press.hold:
            outcome = _Outcome("held", outcome.seconds)
        row.append((press, outcome))
    return rows


def _between(found: dict[_Press, _Outcome]) -> list[_Press]:
    """A press half-way, by ratio, wherever the outcome changes."""
    return [
        a.between(b)
        for row in _rows(found).values()
        for (a, one), (b, other) in pairwise(row)
        if one.kind != other.kind
    ]


def _spans(row: list[tuple[_Press, _Outcome]], usual: Kind) -> tuple[PressSpan, ...]:
    """Neighbouring presses of one outcome as spans, each up to half-way to the next."""
    spans: list[PressSpan] = []
    for press, outcome in row:
        if spans and spans[-1].kind == outcome.kind:
            spans[-1] = spans[-1].model_copy(update={"high": press.asked})
            continue
        if spans:
            edge = float(np.sqrt(spans[-1].high * press.asked))
            spans[-1] = spans[-1].model_copy(update={"high": edge})
        low = spans[-1].high if spans else press.asked
        words = f"on for {show(outcome.seconds, 's')}" if outcome.kind == "pulse" else WORDS[outcome.kind]
        meant = outcome.kind == usual
        spans.append(PressSpan(low=low, high=press.asked, kind=outcome.kind, words=words, meant=meant))
    return tuple(spans)


def _drawn(tried: _Tried, found: dict[_Press, _Outcome], again: dict[_Press, _Outcome]) -> PressMap:
    rows = [
        PressRow(
            begin=begin, supply=supply, spans=_spans(row, next(o.kind for p, o in row if p.hold == USUAL))
        )
        for (begin, supply), row in _rows(found).items()
    ]
    waits = [
        PressRow(begin=begin, supply=supply, spans=_spans(row, "off"))
        for (begin, supply), row in _rows(again).items()
    ]
    return PressMap(
        rows=tuple(rows),
        again=tuple(waits),
        low=tried.shortest,
        high=LONGEST,
        usual=USUAL,
        runs=len(found) + len(again),
        button=tried.button,
    )
