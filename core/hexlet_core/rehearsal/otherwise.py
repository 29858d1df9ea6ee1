"""What becomes of a time when things go otherwise: held on, pressed again, a dip of the supply, a meter.

Each way is a script that anybody can rehearse; it is run on the whole design at its ordinary corner, and told
by when the load is on. A dip is also tried over its depth and its length.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Literal, Protocol, runtime_checkable

import numpy as np

from ..circuit import batch
from ..circuit.curve import Flags
from ..circuit.devices import Floats
from ..circuit.measure import signal
from ..circuit.waves import Waves
from ..design.document import SUPPLY
from ..design.insert import by_itself
from ..design.script import Event, ProbeNode, Script, SetPin, SetSupply
from ..design.study import Study
from ..errors import DocumentError, HexletError, Problem
from ..fields import Document
from ..quantity import show
from ..stages.contract import Act, Command, Open, Scene, Site
from ..stages.contract.scenes import UPSTREAM
from ..stages.contract.stage import Behaving
from ..stages.rules.trigger import PRESS
from ..stages.rules.wanted import Times
from .counting import Taking, counting
from .lanes import spans_of, thin
from .lit import half_amps, load_of, load_signal
from .rehearse import waves_of
from .script import PLUGGED, dip

READ = ("cap", "gate", "base")  # the watched quantity that makes the time
LEAD = 0.15  # of a time, before anything happens
SAME = 0.02  # two times are the same within this
LOST = 0.25  # of the supply: gone under it
SAG, SAGS = 0.5, 0.05  # how far a supply dips, as a share of it, and for how long [s]
DEPTHS = (0.75, 0.5, 0.25, 0.0)  # of the supply, in the map
LENGTHS = (1e-3, 10e-3, 0.1, 1.0)  # of a dip, in the map [s]
FOLLOWED = 0.3  # a shorter time nobody takes by hand [s]
BEATS = 4.2  # that are run of what beats
MOST_BEATS = 256  # of an oscillator within a time that is run

Fate = Literal["through", "short", "long", "off", "unsettled"]
FATES: dict[Fate, str] = {
    "through": "as before",
    "short": "cut short",
    "long": "lasts longer",
    "off": "goes off",
    "unsettled": "no answer",
}


class Span(Document):
    """From when to when the load is on [s]."""

    begin: float
    end: float


class Course(Document):
    """One way for things to go: its script, when the load is on, the volts that make the time over time [s],
    and whether all is as when nothing happens.
    """

    title: str
    why: str
    script: Script
    on: tuple[Span, ...]
    time: tuple[float, ...]
    volts: tuple[float, ...]
    says: str
    same: bool


class Count(Document):
    """A time as it may be counted: from what, until what [s]."""

    begins: str
    ends: str
    seconds: float


class Dip(Document):
    """A dip of the supply to some volts, for a while [s]: what becomes of the time that is running."""

    volts: float
    seconds: float
    fate: Fate
    words: str


class Otherwise(Document):
    """Every way, the usual one first; how that may be counted, and taken by hand; the map of dips."""

    block: str
    title: str
    courses: tuple[Course, ...]
    counts: tuple[Count, ...]
    by_hand: tuple[Taking, ...]
    dips: tuple[Dip, ...]


class OtherwiseStep(Document):
    """How far the work is, and the answer at the end."""

    done: int
    of: int
    otherwise: Otherwise | None = None


@runtime_checkable
class Timing(Protocol):
    """Keeps a time."""

    def times(self, site: Site) -> Times: ...


@runtime_checkable
class Counting(Protocol):
    """Counts an oscillator's beats."""

    @property
    def beats(self) -> int: ...


@dataclass(frozen=True)
class _Asked:
    """A way before it is run."""

    title: str
    why: str
    script: Script


@dataclass(frozen=True)
class _Ran:
    """When the load was on, and the waves."""

    on: tuple[tuple[float, float], ...]
    waves: Waves | None


class _Case:
    """A design whose first behaviour keeps a time or beats, and who presses it, if anybody does."""

    def __init__(self, here: Study, channel: int) -> None:
        found = next(((s, t) for s, t in here.pairs if isinstance(s, Behaving)), None)
        if here.open or found is None:
            raise DocumentError(Problem("blocks", "Nothing here keeps a time. Put in a behaviour first."))
        stage, site = found
        self.here, self.stage, self.site, self.block = here, stage, site, site.id
        acts = here.acted_by(site.id, Scene("press", "", (Act(UPSTREAM, "active"),))).acts
        self.who = acts[0].who if acts and not by_itself(stage) else None
        self.load = load_of(here, channel)
        self.amps = half_amps(here, self.load, here.design.supply.typical)

    @cached_property
    def beat(self) -> float:
        """How long one beat lasts [s]; 0 of what keeps one time."""
        with_out = (self.block, "out")
        try:
            given = self.here.flow.leaving(with_out)
        except Open:
            return 0.0
        found = given.beat if isinstance(given, Command) else None
        return found.on + found.off if found is not None else 0.0

    @cached_property
    def seconds(self) -> float:
        """The time, or the beat [s].

        Raises: DocumentError, where none is kept or it never ends.
        """
        stage = self.stage
        t = self.beat or (stage.times(self.site).nominal if isinstance(stage, Timing) else 0.0)
        if not 0.0 < t < math.inf:
            raise DocumentError(Problem(f"blocks.{self.block}", "No time comes of these values."))
        if isinstance(stage, Counting) and stage.beats > MOST_BEATS:
            text = f"It counts {stage.beats} beats: a lower tap, up to {MOST_BEATS}, is run whole."
            raise DocumentError(Problem(f"blocks.{self.block}.tap", text))
        return t

    @property
    def lead(self) -> float:
        return LEAD * self.seconds

    @property
    def press(self) -> float:
        """How long an ordinary press lasts; a short time is pressed shorter [s]."""
        return min(PRESS, self.seconds / 4)

    @property
    def stop(self) -> float:
        return self.lead + (BEATS if self.beat else 1.6) * self.seconds + (0 if self.beat else 2 * self.press)

    @property
    def middle(self) -> float:
        """A moment at which the time is running [s]."""
        return self.lead + (1.5 if self.beat else 0.5) * self.seconds

    def begins(self, at: float | None = None, hold: float | None = None) -> tuple[Event, ...]:
        """What begins the time: a press, or the supply's coming up."""
        at = self.lead if at is None else at
        if self.who is None:
            return (SetSupply(at=at, volts=self.here.design.supply.typical, ramp=PLUGGED),)
        let_go = SetPin(at=at + (hold or self.press), level="idle", who=self.who)
        return SetPin(at=at, level="active", who=self.who), let_go

    def script(self, title: str, *events: Event, stop: float = 0.0, volts: float | None = None) -> Script:
        """The usual beginning, and what else happens."""
        begin = volts if self.who is not None else 0.0
        usual = self.begins()
        if volts is not None and self.who is None:
            usual = (SetSupply(at=self.lead, volts=volts, ramp=PLUGGED),)
        events = tuple(sorted((*usual, *events), key=lambda e: e.at))
        return Script(title=title, stop=stop or self.stop, start_volts=begin, events=events)

    def sag(self, volts: float, seconds: float) -> tuple[Event, ...]:
        """The supply's going down in the middle of the time, and up again."""
        return dip(self.middle, volts, seconds, self.here.design.supply.typical)

    def run(self, script: Script) -> _Ran:
        """When the load is on."""
        try:
            waves = waves_of(self.here, script)
        except HexletError:
            return _Ran((), None)
        on = np.abs(signal(waves, load_signal(self.here, self.load))) > self.amps
        return _Ran(spans_of(waves.time, _settled(waves.time, on, self.seconds)), waves)

    def courses(self) -> Iterator[_Asked]:
        """Everything that is tried besides the usual."""
        supply, t = self.here.design.supply, self.seconds
        if self.who is not None:
            yield self._course("Held on", "the press lasts longer than the time", stop=self.stop + 1.4 * t)
            again = self.begins(self.lead + 0.5 * t)
            yield self._course("Pressed again half-way", "while it runs", *again, stop=self.stop + 0.6 * t)
            soon = self.begins(self.lead + 1.1 * t + self.press)
            yield self._course(
                "Pressed again at once", "the moment it is over", *soon, stop=self.stop + 1.2 * t
            )
        elif not self.beat:
            over = self.lead + 1.2 * t
            off = SetSupply(at=over, volts=0.0, ramp=PLUGGED)
            on = SetSupply(at=over + max(SAGS, 0.02 * t), volts=supply.typical, ramp=PLUGGED)
            yield self._course(
                "Off and on again at once", "what is left on it", off, on, stop=self.stop + 1.4 * t
            )
        if not supply.ac:
            dip = self.sag(SAG * supply.typical, min(SAGS, t / 10))
            lasts = f"to {show(SAG * supply.typical, 'V')} for {show(min(SAGS, t / 10), 's')}"
            yield self._course("Supply dips", lasts, *dip)
            for words, volts in (("lowest", supply.low), ("highest", supply.high)):
                if volts != supply.typical:
                    title, why = f"On the {words} supply", show(volts, "V")
                    yield _Asked(title, why, self.script(title, volts=volts))
        if self.node is not None:
            meter = self.here.design.meter.resistance
            lies = ProbeNode(red=self.node, at=0.0, until=self.stop, resistance=meter)
            yield self._course("With a meter at its capacitor", show(meter, "Ω"), lies)

    def _course(self, title: str, why: str, *events: Event, stop: float = 0.0) -> _Asked:
        script = self.script(title, *events, stop=stop)
        if title == "Held on":
            held = self.begins(hold=1.4 * self.seconds + self.press)
            script = script.model_copy(update={"events": held})
        return _Asked(title, why, script)

    @cached_property
    def node(self) -> str | None:
        """The net of the capacitor that makes the time, in the circuit's own names."""
        found = next((w for b, w in self.here.watches if b == self.block and w.id in READ), None)
        return self.here.signal(self.block, found.signal) if found is not None else None

    def curve(self, ran: _Ran) -> tuple[tuple[float, ...], tuple[float, ...]]:
        """The volts at the capacitor over time, with no more points than they need."""
        if self.node is None or ran.waves is None:
            return (), ()
        time, value = ran.waves.time, signal(ran.waves, self.node)
        kept = thin(time, value)
        return tuple(time[kept].tolist()), tuple(value[kept].tolist())

    def counts(self, usual: _Ran) -> Iterator[Count]:
        """The usual time, counted from the press and from letting go, until the output falls and the load
        is off.
        """
        if self.who is None or self.beat or usual.waves is None or not usual.on:
            return
        waves, ends = usual.waves, []
        out = next((w for b, w in self.here.watches if b == self.block and w.id == "out"), None)
        if out is not None:
            value = signal(waves, self.here.signal(self.block, out.signal))
            ends.append(("its output falls", _last(waves.time, value > value.max() / 2)))
        demand = self.here.flow.stage(self.load).takes(self.here.flow.sites[self.load])  # type: ignore[attr-defined]
        least = demand.lets_go(self.here.design.supply.typical)
        amps = np.abs(signal(waves, load_signal(self.here, self.load)))
        ends.append((demand.gone, _last(waves.time, amps > least)))
        begins = (("the press", self.lead), ("letting go", self.lead + self.press))
        for begin, since in begins:
            for words, end in ends:
                if end is not None and end > since:
                    yield Count(begins=begin, ends=words, seconds=end - since)

    def told(self, ran: _Ran) -> str:
        """When the load was on, in words."""
        if ran.waves is None:
            return "no answer: the circuit did not settle"
        if not ran.on:
            return "never on"
        if self.beat:
            rises = [a for a, _ in ran.on][1:]
            if len(rises) < 2:
                return "stays on" if ran.on[-1][1] >= ran.waves.time[-1] else "stops"
            return f"every {show((rises[-1] - rises[0]) / (len(rises) - 1), 's')}"
        if self.who is None:
            return ", then ".join(f"on after {w}" for w in self._waited(ran))
        lasting = ["for good" if b >= ran.waves.time[-1] else f"for {show(b - a, 's')}" for a, b in ran.on]
        return "on " + ", then ".join(lasting)

    def _waited(self, ran: _Ran) -> Iterator[str]:
        assert ran.waves is not None
        for wait, (a, b) in zip(self.waits(ran), ran.on, strict=True):
            brief = b - a < SAME * self.seconds and b < ran.waves.time[-1]
            yield f"{show(wait, 's')} for {show(b - a, 's', 2)}" if brief else show(wait, "s")

    def waits(self, ran: _Ran) -> Iterator[float]:
        """How long after the supply had come up the load was on, each time [s]."""
        assert ran.waves is not None
        supply = signal(ran.waves, self.here.flow.net(SUPPLY, "plus"))
        ups = spans_of(ran.waves.time, supply > LOST * self.here.design.supply.typical)
        for a, _ in ran.on:
            yield a - max((u for u, _ in ups if u <= a), default=0.0)

    def fate(self, ran: _Ran, usual: _Ran) -> Fate:
        """What a dip made of the time that was running."""
        if ran.waves is None or usual.waves is None or not usual.on:
            return "unsettled"
        if not ran.on:
            return "off"
        ends = (ran.on[-1], usual.on[-1])
        got, meant = (e[0] if self.who is None else e[1] for e in ends)
        if abs(got - meant) <= SAME * self.seconds:
            return "through"
        return "short" if got < meant else "long"


def _settled(time: Floats, on: Flags, seconds: float) -> Flags:
    """On and off without what is too short to be seen beside the time: a contact's bounce."""
    kept = on.copy()
    for a, b in spans_of(time, ~on):
        if b - a < seconds / 500:
            kept[(time >= a) & (time <= b)] = True
    return kept


def _last(time: Floats, on: Flags) -> float | None:
    """When it was on for the last time; none where it never was, or is still."""
    spans = spans_of(time, on)
    return spans[-1][1] if spans and spans[-1][1] < time[-1] else None


def otherwise(here: Study, channel: int = 1) -> Iterator[OtherwiseStep]:
    """Every run in turn, then the answer. Closing the iterator ends the work.

    Raises:
        DocumentError: the design keeps no time, or none that ends.
    """
    case = _Case(here, channel)
    began = "one press" if case.who is not None else "the supply comes up"
    usual = _Asked("As it is meant", began, case.script("As it is meant"))
    asked = [usual, *case.courses()]
    maps = [] if case.beat or here.design.supply.ac else [(d, s) for d in DEPTHS for s in LENGTHS]
    typical = here.design.supply.typical
    dips = [(d * typical, s) for d, s in maps if s < case.seconds / 3]
    scripts = [a.script for a in asked] + [case.script("Dip", *case.sag(*dip)) for dip in dips]
    ran: list[_Ran] = []
    for one in batch.stream(case.run, scripts):
        ran.append(one)
        yield OtherwiseStep(done=len(ran), of=len(scripts))
    first = ran[0]
    said = case.told(first)
    courses = tuple(_course(case, a, r, first) for a, r in zip(asked, ran, strict=False))
    fates = [case.fate(r, first) for r in ran[len(asked) :]]
    found = Otherwise(
        block=case.block,
        title=f"{here.flow.stage(case.block).title}: {said}",
        courses=courses,
        counts=tuple(case.counts(first)),
        by_hand=counting(case.seconds, case.beat > 0) if case.seconds >= FOLLOWED else (),
        dips=tuple(
            Dip(volts=v, seconds=s, fate=fate, words=FATES[fate])
            for (v, s), fate in zip(dips, fates, strict=True)
        ),
    )
    yield OtherwiseStep(done=len(scripts), of=len(scripts), otherwise=found)


def _course(case: _Case, asked: _Asked, ran: _Ran, usual: _Ran) -> Course:
    time, volts = case.curve(ran)
    return Course(
        title=asked.title,
        why=asked.why,
        script=asked.script,
        on=tuple(Span(begin=a, end=b) for a, b in ran.on),
        time=time,
        volts=volts,
        says=case.told(ran),
        same=_alike(case, ran, usual),
    )


def _alike(case: _Case, ran: _Ran, usual: _Ran) -> bool:
    """Whether the load is on for as long as usually, however often."""
    if not ran.on or not usual.on:
        return ran.on == usual.on
    if case.beat:
        return case.told(ran) == case.told(usual)
    lengths = [b - a for a, b in (*ran.on, *usual.on)]
    if case.who is None:
        lengths = [*case.waits(ran), *case.waits(usual)]
    return max(lengths) - min(lengths) <= SAME * case.seconds
