"""How surely a state is kept: how it wakes, which dips it forgets in, how many of all builds do it all, and
what waiting costs.

Every run is the whole design. As the supply comes up, at speeds from a microsecond to a second, the parts
are ordinary or at opposite ends, half of them in the hottest surroundings. A build passes when it comes up
off, is turned on, rides a sag, is turned off and rides another.
"""

from __future__ import annotations

import math
import random
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..circuit import batch, vary
from ..circuit.devices.heat import ROOM
from ..circuit.measure import signal
from ..circuit.netlist import Netlist
from ..circuit.solve import transient
from ..design.document import Supply
from ..design.script import Event, Script, SetPin, SetSupply
from ..design.study import Study
from ..errors import DocumentError, HexletError, Problem
from ..fields import Document
from ..quantity import show
from ..stages.contract import Corner
from ..stages.rules.trigger import PRESS
from .lit import half_amps, load_of, load_signal
from .press_map import presser
from .script import PLUGGED, circuit, dip

RAMPS = tuple(10.0**k for k in range(-6, 1))  # how fast the supply comes up [s]
ENDS = 8  # sets of parts at opposite ends, beside the ordinary ones
BUILDS = 200  # sets of parts drawn at random
DEPTHS = (0.8, 0.6, 0.4, 0.2, 0.0)  # of the supply, in a dip
LENGTHS = (1e-3, 10e-3, 0.1, 1.0)  # of a dip [s]
SAG, SAGS = 0.8, 0.1  # how far the supply sags in the trial of a build, and for how long [s]
WIDE, WIDER = (
    3.0,
    120,
)  # times as far apart as the parts are, to see what gives first; so many of those builds
LEADS = 0.25  # how far apart lost and kept builds must lie in a part for it to lead, of its whole spread
LIMITS = ("pull_in", "drop_out", "operate_travel", "release_travel")
SEED = 14
SHELF = 1000.0  # from here on a battery loses more by itself than it is drawn on, assumed [days]
LEAST = 1e-6  # under this a current is a leakage that ordinary parts do not tell [A]
STILL = 12.0  # times what a press takes to be decided, until nothing charges any more
LOOK = 0.05  # how long before the next step its outcome is looked at [s]


class Wake(Document):
    """The supply comes up within `ramp` [s]: of so many sets of parts, how many come up on."""

    ramp: float
    on: int
    of: int


class Forgets(Document):
    """A dip to some volts for a while [s] while it is on: whether it stays on."""

    volts: float
    seconds: float
    stays: bool


class Lost(Document):
    """What a build did not do, and how many did not."""

    words: str
    count: int


class Match(Document):
    """Builds with their parts so many times farther apart: how many of how many did everything, and which
    parts decide.
    """

    times: float
    passed: int
    builds: int
    leads: tuple[str, ...]
    says: str


class Drawn(Document):
    """What ordinary parts take from the supply [A]: in all while off, and beside the load's while on."""

    off: float
    on: float
    says: str


class Keeping(Document):
    """How it wakes, where it forgets, how many builds of all do everything, and what it draws."""

    wakes: tuple[Wake, ...]
    dips: tuple[Forgets, ...]
    passed: int
    builds: int
    lost: tuple[Lost, ...]
    match: Match
    drawn: Drawn | None  # nothing where ordinary parts do not settle
    says: str


class HoldingStep(Document):
    """How far the work is, and the answer at the end."""

    done: int
    of: int
    holding: Keeping | None = None


@dataclass(frozen=True)
class _Run:
    """A circuit to run up to `stop`, and the moments it is looked at [s]."""

    circuit: Netlist
    stop: float
    looks: tuple[float, ...]


class _Kept:
    """A design that keeps a state: who turns it on and off, and whose current tells."""

    def __init__(self, here: Study, channel: int) -> None:
        self.here = here
        self.stage, self.site, self.on, self.off = presser(here)
        self.wait = self.stage.settles(self.site) + 0.3
        self.load = load_of(here, channel)
        self.volts = here.design.supply.typical
        self.amps = half_amps(here, self.load, self.volts)
        self.name = load_signal(here, self.load)

    def script(self, stop: float, *events: Event, ramp: float = PLUGGED) -> Script:
        """The supply comes up, and what else happens."""
        begin = SetSupply(at=LOOK, volts=self.volts, ramp=ramp)
        return Script(title="Trial", stop=stop, start_volts=0.0, events=(begin, *events))

    def press(self, who: str, at: float) -> tuple[Event, ...]:
        return SetPin(at=at, level="active", who=who), SetPin(at=at + PRESS, level="idle", who=who)

    def sag(self, at: float, volts: float, seconds: float) -> tuple[Event, ...]:
        return dip(at, volts, seconds, self.volts)

    def trial(self) -> tuple[Script, tuple[tuple[float, bool, str], ...]]:
        """Everything a build is asked to do, and when it is looked at: for which state, and what went wrong
        where it is not in that.
        """
        w, sag = self.wait, SAG * self.volts
        times = [LOOK + w * (k + 1) for k in range(5)]
        events = (
            *self.press(self.on, times[0]),
            *self.sag(times[1], sag, SAGS),
            *self.press(self.off, times[2]),
            *self.sag(times[3], sag, SAGS),
        )
        looks = (
            (times[0], False, "comes up on"),
            (times[1], True, "is not turned on"),
            (times[2], True, f"goes off in a sag to {show(sag, 'V')}"),
            (times[3], False, "is not turned off"),
            (times[4], False, f"comes on in a sag to {show(sag, 'V')}"),
        )
        return self.script(times[4] + LOOK, *events), tuple((t - LOOK, s, words) for t, s, words in looks)

    def ran(self, run: _Run) -> tuple[bool | None, ...]:
        """Whether the load is on at each moment; not known where the circuit does not settle."""
        try:
            waves = transient(run.circuit, run.stop, from_rest=True)
        except HexletError:
            return tuple(None for _ in run.looks)
        amps = np.abs(signal(waves, self.name))
        return tuple(bool(np.interp(at, waves.time, amps) > self.amps) for at in run.looks)

    def made(self, script: Script, celsius: float = ROOM) -> Netlist:
        return circuit(self.here, script, Corner(supply=self.volts, celsius=celsius))

    def drawn(self) -> Drawn | None:
        """What the ordinary circuit draws while it is on, and off once all its capacitors have settled."""
        on, off = LOOK + self.wait, LOOK + 2 * self.wait
        events = (*self.press(self.on, on), *self.press(self.off, off))
        script = self.script(off + STILL * self.wait, *events)
        try:
            waves = transient(self.made(script), script.stop, from_rest=True)
        except HexletError:
            return None
        whole, load = (np.abs(signal(waves, name)) for name in ("i(BAT)", self.name))
        idle = float(whole[-1])
        own = max(float(np.interp(off - LOOK, waves.time, whole - load)), 0.0)
        return Drawn(off=idle, on=own, says=_waiting(idle, own, self.here.design.supply))


def _ends(over: tuple[vary.Factor, ...], seed: int) -> vary.Changes:
    """Every part at one of its ends, by chance."""
    draw = random.Random(seed)
    return vary.changes([(f, draw.choice((f.low, f.high))) for f in over])


def holding(here: Study, channel: int = 1) -> Iterator[HoldingStep]:
    """Every run in turn, then the answer. Closing the iterator ends the work.

    Raises:
        DocumentError: nothing in the design keeps a state that somebody presses.
    """
    if here.design.supply.ac:
        raise DocumentError(Problem("supply", "A state is tried on a supply that does not alternate."))
    kept = _Kept(here, channel)
    script, looks = kept.trial()
    base = kept.made(script)
    over = vary.factors(base)
    times = tuple(t for t, _, _ in looks)
    runs = [_Run(base.varied(vary.draw(over, SEED, k)), script.stop, times) for k in range(BUILDS)]
    for ramp in RAMPS:
        rises = kept.script(LOOK + ramp + kept.wait, ramp=ramp)
        warm = (kept.made(rises), kept.made(rises, here.design.ambient.high))
        sets = [warm[0], *(warm[k % 2].varied(_ends(over, SEED + k)) for k in range(ENDS))]
        runs += [_Run(made, rises.stop, (rises.stop - LOOK / 2,)) for made in sets]
    dips = [(depth * kept.volts, seconds) for depth in DEPTHS for seconds in LENGTHS]
    for volts, seconds in dips:
        at = LOOK + 2 * kept.wait
        events = (*kept.press(kept.on, LOOK + kept.wait), *kept.sag(at, volts, seconds))
        dipped = kept.script(at + seconds + kept.wait, *events)
        runs.append(_Run(kept.made(dipped), dipped.stop, (dipped.stop - LOOK / 2,)))
    whole = len(runs) + WIDER
    found: list[tuple[bool | None, ...]] = []
    for outcome in batch.stream(kept.ran, runs):
        found.append(outcome)
        yield HoldingStep(done=len(found), of=whole)
    wide = [_wider(f) for f in over]
    tries = [vary.deviations(wide, SEED + 1, k) for k in range(WIDER)]
    wider = [
        _Run(
            base.varied(vary.changes([(f, f.at(u)) for f, u in zip(wide, us, strict=True)])),
            script.stop,
            times,
        )
        for us in tries
    ]
    met = []
    for outcome in batch.stream(kept.ran, wider):
        met.append(all(got is meant for got, (_, meant, _) in zip(outcome, looks, strict=True)))
        yield HoldingStep(done=len(runs) + len(met), of=whole)
    answer = _told(found, looks, dips, kept.drawn(), _matched(wide, tries, met))
    yield HoldingStep(done=whole, of=whole, holding=answer)


def _told(
    found: list[tuple[bool | None, ...]],
    looks: tuple[tuple[float, bool, str], ...],
    dips: list[tuple[float, float]],
    drawn: Drawn | None,
    match: Match,
) -> Keeping:
    builds, woken = found[:BUILDS], found[BUILDS:]
    lost: Counter[str] = Counter()
    for states in builds:
        wrong = (words for got, (_, meant, words) in zip(states, looks, strict=True) if got is not meant)
        first = next(wrong, None)
        if first is not None:
            lost[first] += 1
    each = ENDS + 1
    wakes = []
    for k, ramp in enumerate(RAMPS):
        own = [states[0] for states in woken[k * each : (k + 1) * each]]
        wakes.append(Wake(ramp=ramp, on=sum(s is True for s in own), of=each))
    stays = [states[0] is True for states in woken[len(RAMPS) * each :]]
    return Keeping(
        wakes=tuple(wakes),
        dips=tuple(Forgets(volts=v, seconds=s, stays=kept) for (v, s), kept in zip(dips, stays, strict=True)),
        passed=BUILDS - lost.total(),
        builds=BUILDS,
        lost=tuple(Lost(words=words, count=count) for words, count in lost.most_common()),
        match=match,
        drawn=drawn,
        says=_woken(wakes),
    )


def _wider(factor: vary.Factor) -> vary.Factor:
    """A factor whose ends lie farther apart, by ratio; a relay's own are its sheet's limits already."""
    if factor.field in LIMITS:
        return factor
    low, high = (
        factor.nominal * (end / factor.nominal) ** WIDE if end * factor.nominal > 0 else end
        for end in (factor.low, factor.high)
    )
    return replace(factor, low=low, high=high)


def _matched(over: Sequence[vary.Factor], tries: list[list[float]], met: list[bool]) -> Match:
    """Which parts tell the builds that did everything from those that did not: where their means differ."""
    passed, builds = sum(met), len(met)
    leads: list[str] = []
    if 0 < passed < builds:
        off, kept = np.array(tries), np.array(met)
        apart = off[kept].mean(axis=0) - off[~kept].mean(axis=0)
        ranked = sorted(zip(np.abs(apart), over, strict=True), key=lambda pair: -float(pair[0]))
        leads = list(dict.fromkeys(_called(f) for share, f in ranked[:3] if share >= LEADS))
    if passed == builds:
        says = f"With parts {WIDE:.0f} times as far apart as theirs still all {builds} do."
    else:
        who = f" {' and '.join(leads)} decide{'' if len(leads) > 1 else 's'} it." if leads else ""
        says = f"With parts {WIDE:.0f} times as far apart as theirs {passed} of {builds} do.{who}"
    return Match(times=WIDE, passed=passed, builds=builds, leads=tuple(leads), says=says)


VARIES = {"beta_f": "’s gain", "i_s": "’s base volts", "v_th": "’s threshold", "breakdown": "’s volts"}


def _called(factor: vary.Factor) -> str:
    """A varied number as people call it: the part, and for a transistor what of it."""
    return factor.device.partition(".")[0] + VARIES.get(factor.field, "")


def _waiting(off: float, on: float, supply: Supply) -> str:
    """What it draws, and how long its battery lasts while it is off; an ampere-hour where there is none."""
    battery = supply.word == "battery"
    charge = supply.capacity if battery else 1.0
    days = charge / (24.0 * off) if off > 0.0 else math.inf
    lasts = f"{days:.0f} days" if days >= 3.0 else f"{24.0 * days:.0f} hours"
    if days > SHELF:
        lasts = "longer than a battery keeps by itself"
    idle = show(off, "A", 2) if off >= LEAST else f"under {show(LEAST, 'A')}"
    what = f"{show(charge, 'Ah', 2)} last" if battery else "an ampere-hour lasts"
    return f"Off it draws {idle}: {what} {lasts}. On it draws {show(on, 'A', 2)} beside the load."


def _woken(wakes: list[Wake]) -> str:
    if not any(w.on for w in wakes):
        return "Comes up off, at any speed of the supply and with parts at opposite ends."
    if all(w.on == w.of for w in wakes):
        return "Comes up on, at any speed of the supply and with parts at opposite ends."
    raced = [w for w in wakes if 0 < w.on < w.of]
    if raced:
        ends = f"{show(raced[0].ramp, 's')} to {show(raced[-1].ramp, 's')}"
        return f"A race: on a supply that comes up within {ends} it depends on the parts."
    on = [w.ramp for w in wakes if w.on]
    return f"Comes up on where the supply takes {show(on[0], 's')} to {show(on[-1], 's')}, else off."
