"""Counter timer: an oscillator is counted, and its output goes high after as many beats as a tap asks for.

From zero, tap n rises after 2ⁿ⁻¹ falling edges: t = t_first + (2ⁿ⁻¹ − 1)·T. The tap stops the oscillator, so
that the count stays. A capacitor resets the counter when the supply comes up; a kick resets it any time.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import CounterCard, DiodeCard, NpnCard, TimerCard
from ...fields import Q
from ...quantity import Interval, show, show_part
from ..contract.descriptions import Finder, StateRow
from ..contract.facts import Command, Fact, Level, Rest
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.ports import Port, rail_in
from ..contract.scenes import UPSTREAM, Act, Play, Probe, Scene, Watch
from ..contract.site import Site
from ..contract.stage import Behaviour
from ..drawing.pen import Pen
from ..drawing.timers import draw_counter_timer
from ..rules.finding import pairs
from ..rules.leak import Leak
from ..rules.pins import CalmedTimer
from ..rules.timer import Cycle, supply_checks
from ..rules.timing import symbol_of, timing_capacitor, tolerance_of
from ..rules.trimmed import Tuned, time_checks, trim_windows, tuning
from ..rules.wanted import Telling, Times, asked_for, ends_of, spread_words, time_bounds
from ..say.checks import Change, Check, Shown, check, high, holds, low, when
from ..say.windows import Window, window
from ..say.wording import Say, Sentence, Word

CYCLES = 3  # of the oscillator that are measured
SHOWN = 64  # beats that are run through in the circuit; more are reckoned from the pace
KICK = 0.1  # how long a kick lasts [s]
STEADY = 4.0  # times the current of its card's drop an output gives steadily, assumed
HALF = 0.5  # share of the supply at which the counter's reset acts, assumed as for the device


Tap = Literal["4", "5", "6", "7", "8", "9", "10", "11", "12", "13", "14"]


class CounterTimer(CalmedTimer, Tuned, Behaviour):
    title = "Counter timer"
    purpose = "On a long time after the supply came up or after the last kick: an oscillator that is counted."
    choose = "Minutes to hours with small parts, or an alarm when something stops giving its sign of life."
    avoid = "A second or a minute would do: a one-shot or a power-on delay has fewer parts."
    picture = "counter"
    cards = {"card": TimerCard, "counter": CounterCard, "npn": NpnCard, "diode": DiodeCard}

    resistor = ("r_b", "b", "discharge resistor")
    capacitor = ("c_time", "timing", "timing capacitor")

    kind: Literal["counter_timer"] = "counter_timer"
    card: str = "timer-cmos"
    counter: str = "counter-14"
    npn: str = "npn-40v-200ma"
    diode: str = "diode-200ma-100v"
    r_a: Annotated[float, Q("Ω", 100.0, 1e8)] = 33e3
    r_b: Annotated[float, Q("Ω", 100.0, 1e8)] = 470e3
    c_time: Annotated[float, Q("F", 1e-11, 0.1)] = 470e-9
    tap: Tap = "10"
    second: Tap | Literal["none"] = "none"  # closed at the same time, as a row of switches allows
    r_stop: Annotated[float, Q("Ω", 100.0, 1e7)] = 47e3
    r_run: Annotated[float, Q("Ω", 100.0, 1e7)] = 47e3
    c_reset: Annotated[float, Q("F", 1e-11, 1e-3)] = 100e-9
    r_reset: Annotated[float, Q("Ω", 100.0, 1e8)] = 100e3
    wanted: Annotated[float, Q("s", 1e-3, 1e6)] = 160.0
    at_least: Annotated[float, Q("s", 1e-4, 1e6)] = 120.0
    at_most: Annotated[float, Q("s", 1e-3, 1e7)] = 220.0

    @property
    def beats(self) -> int:
        """Falling edges until its tap rises."""
        return int(2 ** (int(self.tap) - 1))

    @property
    def closed(self) -> tuple[str, ...]:
        """Its taps that lie on the output."""
        return (self.tap,) if self.second in ("none", self.tap) else (self.tap, self.second)

    @property
    def summary(self) -> str:
        pace = math.log(2) * (self.r_a + 2 * self.ohms) * self.c_time
        return f"Counter timer, {show(self.beats * pace, 's', 2)}"

    def ports(self) -> tuple[Port, ...]:
        kick = {"out": "kick", "ref": "zero"}
        return (
            rail_in(),
            Port("kick", "command", "in", kick, needed=False, words="what kicks it"),
            Port("out", "command", "out", {"out": "out", "ref": "zero"}),
        )

    def tell(self, port: str, site: Site) -> Fact | None:
        return self.gives(site) if port == "out" else None

    def gives(self, site: Site) -> Command:
        """Its tap, high when the count is reached."""
        card, rail = site.card("counter", CounterCard), site.rail
        ohms = card.output.drop / card.output.current
        return Command(
            high=Level(Interval(rail.low, rail.typical, rail.high), ohms),
            low=Level(Interval.spread(0.0, 0.0), ohms),
            rest=Rest(0.0, ohms, "is low until the count is reached", "it counts", here=True),
            steady=STEADY * card.output.current,
            burst=math.inf,  # its own resistance limits it
            name="counter",
            follows=True,
        )

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        legs = {"vcc": "plus", "gnd": "zero", "trig": "cap", "thr": "cap", "ctrl": "ctrl", "reset": "run"}
        yield from_card(site, "timer", "U", "card", legs | {"dis": "dis", "out": "clock"})
        yield resistor(site, "a", "Charging resistor", "r_a", "plus", "dis")
        yield resistor(site, "b", "Discharge resistor", "r_b", "dis", self.behind("cap"))
        yield from self.trimmer(site, "cap")
        yield timing_capacitor(site, "timing", "Timing capacitor", "c_time", "cap", "zero")
        legs = {"vdd": "plus", "vss": "zero", "clk": "clock", "reset": "clear"}
        legs |= {f"q{tap}": "out" for tap in self.closed}
        yield from_card(site, "counter", "U", "counter", legs)
        yield capacitor(site, "clear", "Reset capacitor", "c_reset", "plus", "clear")
        yield resistor(site, "clear_pull", "Reset resistor", "r_reset", "clear", "zero")
        if site.joined("kick"):
            yield from_card(site, "kick", "D", "diode", {"a": "kick", "k": "clear"}, title="Kick's diode")
        yield resistor(site, "stop", "Stop resistor", "r_stop", "out", "stop")
        yield from_card(site, "stopper", "Q", "npn", {"b": "stop", "c": "run", "e": "zero"})
        yield resistor(site, "run", "Run resistor", "r_run", "plus", "run")
        yield from self.calmed(site, "Capacitor at the chips' supply")

    # --- its time -----------------------------------------------------------------------------------
    def cycle(self, site: Site) -> Cycle:
        """The oscillator's cycle, everything at its nominal value."""
        return Cycle.of(
            site.card("card", TimerCard), site.rail, r_a=self.r_a, r_b=self.ohms, farads=self.c_time
        )

    @staticmethod
    def _after(cycle: Cycle, beats: int) -> float:
        return cycle.first + (beats - 1) * cycle.period

    def times(self, site: Site) -> Times:
        """The time from the supply's coming up, and over all tolerances."""
        r, c = site.tolerance, tolerance_of(self.c_time)
        share = site.card("card", TimerCard).threshold_tolerance
        made = self.cycle(site)
        return Times(
            self._after(made, self.beats),
            self._after(made.scaled(-r, -c, -share), self.beats),
            self._after(made.scaled(r, c, share), self.beats),
        )

    def leak(self, site: Site) -> Leak:
        """What leaks at the end of a beat."""
        return self.cycle(site).leaking

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        times, cycle = self.times(site), self.cycle(site)
        b, c, n = site.ref("b"), site.ref("timing"), self.beats
        few = n <= SHOWN
        shown = Shown(
            "out" if few else "state(timer)",
            "plugged" if few else "steady",
            "delay" if few else "period",
            look=1.2 * times.nominal if few else (CYCLES + 0.6) * cycle.period,
            level=site.rail.typical / 2 if few else 0.5,
            edge="rise" if few else "either",
            times=1.0 if few else times.nominal / cycle.period,
            within=max(0.02, 1 / n),
            because="the reset holds the count for its own short time",
        )
        telling = Telling(
            says="On after",
            formula="t = t_{first} + (2^{n−1} − 1) × T",
            numbers=f"{n} beats of {show(cycle.period, 's')}: {show(times.nominal, 's')}",
            because=spread_words(site, c, self.c_time, site.ref("a"), b),
            part=b,
            shown=shown if math.isfinite(times.nominal) and len(self.closed) == 1 else None,
        )
        yield from time_checks(site, self, telling)
        yield self.leak(site).check(
            cycle.period,
            formula="I_{leak} ≤ (V − V_{threshold}) / (R_{A} + R_{B}) / 5",
            because="What leaks never reaches the capacitor: every beat is longer, and at last none comes.",
            part=b,
            ref=c,
        )
        yield from supply_checks(site)
        yield from supply_checks(site, "Counter", "counter", "counter")
        yield from self.calm_checks(site)
        yield from self._reset_checks(site, cycle)

    def _reset_checks(self, site: Site, cycle: Cycle) -> Iterator[Check]:
        card = site.card("counter", CounterCard)
        held = self.c_reset * self.r_reset * math.log(1 / HALF)
        yield check(
            "resets",
            "Reset lasts as the supply comes up",
            "need",
            "plugged in",
            unit="s",
            nominal=held,
            worst=held * (1 - tolerance_of(self.c_reset)),
            least=1e-3,
            at=when("a supply that comes up in a millisecond"),
            says=f"Held for {show(held, 's')} after it is up.",
            formula="t = R_{reset} · C_{reset} · ln 2",
            numbers=f"{show_part(self.r_reset)} · {show(self.c_reset, 'F')} · 0.693 = {show(held, 's')}",
            because="A counter that is not reset wakes with any count, as it does on a slower supply.",
            cure=f"Make {site.ref('clear')} larger.",
        )
        yield check(
            "misses",
            "Reset is over before the first beat",
            "practice",
            "time",
            unit="s",
            nominal=held,
            most=max(cycle.first / 2, 1e-9) if math.isfinite(cycle.first) else 1e9,
            at=when("the first beat"),
            says=f"Held for {show(held, 's')}; the first beat comes after {show(cycle.first, 's')}.",
            formula="t_{reset} < t_{first}",
            numbers=f"{show(held, 's')} < {show(cycle.first, 's')}",
            because="Beats that come while the counter is held are not counted: the time is longer by them.",
            cure=f"Make {site.ref('clear')} smaller.",
        )
        there = all(int(tap) in card.taps for tap in self.closed)
        yield holds(
            "tap_there",
            "The counter has that tap",
            "need",
            "place",
            there,
            at=when("by its card"),
            says=f"Tap {' and '.join(self.closed)} of {', '.join(str(t) for t in card.taps)}.",
            formula="n ∈ taps",
            numbers=f"{self.tap}",
            because="Not every stage of a ripple counter is brought out to a pin.",
            cure="Take a tap that the chip has.",
        )
        if len(self.closed) > 1:
            yield self._one_tap(site, card)
        given = site.seen("kick")
        if given and isinstance(given[0], Command):
            volts = given[0].high.volts.low - 0.7
            yield check(
                "kicks",
                "Kick reaches the reset",
                "need",
                "turns off",
                unit="V",
                nominal=volts,
                least=HALF * site.rail.low,
                at=low("the kick at its lowest"),
                says=f"Comes to {show(volts, 'V')}; it resets from {show(HALF * site.rail.low, 'V')}.",
                formula="V_{kick} − V_{diode} ≥ V / 2",
                numbers=f"{show(volts, 'V')} ≥ {show(HALF * site.rail.low, 'V')}",
                because="The counter's inputs ask for half of its own supply.",
                cure="Lift the kick to the counter's supply, by a button to + or a transistor.",
            )

    def _one_tap(self, site: Site, card: CounterCard) -> Check:
        ohms = card.output.drop / card.output.current
        amps, most = site.rail.high / (2 * ohms), STEADY * card.output.current
        return check(
            "one_tap",
            "One tap at a time",
            "limit",
            "current",
            unit="A",
            nominal=amps,
            most=most,
            at=high("one high, the other low"),
            says=f"Taps {' and '.join(self.closed)} drive {show(amps, 'A')} into each other.",
            formula="I = V / (2 · R_{out})",
            numbers=f"{show(site.rail.high, 'V')} / (2 · {show(ohms, 'Ω')}) = {show(amps, 'A')}",
            because="Two outputs on one strip fight whenever they differ: no level is one, and both heat.",
            cure=f"Open tap {self.closed[1]}.",
            changes=(Change(path=site.path("second"), value="none"),),
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        times = self.times(site)
        if self.by_hand:
            return trim_windows(site, self)
        if not 0 < times.least <= times.most < math.inf:
            return ()
        down, up = self.at_least / times.least, self.at_most / times.most
        whole = self.r_a + 2 * self.ohms
        r = time_bounds(self, (down * whole - self.r_a) / 2, (up * whole - self.r_a) / 2)
        c = time_bounds(self, down * self.c_time, up * self.c_time)
        return window(site, *self.resistor, r), window(site, *self.capacitor, c)

    def finds(self, site: Site) -> Finder:
        """Capacitors to choose from, each with the discharge resistor that it needs, the nearest first."""
        product = self.wanted / self.beats / math.log(2)

        def needs(farads: float) -> float:
            return (product / farads - self.r_a) / 2 - self.line

        return pairs(
            site, self, ("r_b", "c_time"), needs, "C × R_B", self.by_hand, instead="Take a higher tap."
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        taps = tuple((str(t), f"tap {t}") for t in site.card("counter", CounterCard).taps if t >= 4)
        more = (("none", "no other tap"), *taps)
        return {
            "behave": (
                *asked_for(say, "On", "after the supply comes up, or after the last kick."),
                Word(text="Taken at"),
                say.field("tap", note="of the counter", choices=taps),
                Word(text="and"),
                say.field("second", note="closed as well", choices=more),
                *tuning(say, self),
            ),
            "guard": self.calm_words(say),
        }

    # --- what it does -------------------------------------------------------------------------------
    def scenes(self, site: Site) -> tuple[Scene, ...]:
        t = self.settles(site)
        cycle = self.cycle(site)
        found = [Scene("plugged", "as the supply comes up", look=0.0, cold=True)]
        if math.isfinite(cycle.first + cycle.period):
            found.append(Scene("steady", "while it counts", look=cycle.first + cycle.period, cold=True))
            early = min(0.4 * t, cycle.first + 2.5 * cycle.period)
            found.append(Scene("idle", "while it counts", look=early, cold=True))
        if self.beats <= SHOWN:
            found.append(Scene("active", "when the count is reached", look=1.2 * t, cold=True))
        return tuple(found)

    def states(self, site: Site) -> tuple[StateRow, ...]:
        times, cycle = self.times(site), self.cycle(site)
        ends = ends_of(times)
        u = site.ref("counter")
        taps = [t for t in site.card("counter", CounterCard).taps if t >= 4]
        all_of = ", ".join(f"{t}: {show(self._after(cycle, 2 ** (t - 1)), 's', 2)}" for t in taps)
        late = f"up to {show(cycle.period, 's', 2)} sooner"
        rows = [
            StateRow(
                state="Supply comes up",
                load=f"on after {show(times.nominal, 's')}, {ends}",
                why=f"tap {self.tap} rises after {self.beats} beats and stops them",
            ),
            StateRow(state="Other taps", load=all_of, why="each next tap takes twice as long"),
        ]
        if site.joined("kick"):
            rows += [
                StateRow(state="Kicked before that", load="off, the whole time again", why=f"{u} is reset"),
                StateRow(state="Kicked between two beats", load=late, why="the oscillator does not wait"),
                StateRow(state="Kicked when it is on", load="off, the whole time again", why="it runs again"),
            ]
        return tuple(rows)

    def trial(self, site: Site) -> tuple[str, str]:
        ends = ends_of(self.promised(site))
        return "Switch the supply on and wait: the load comes on by itself.", f"after {ends}"

    def settles(self, site: Site) -> float:
        t = self.times(site).nominal
        return t if math.isfinite(t) else self.wanted

    def plays(self, site: Site) -> tuple[Play, ...]:
        cycle = self.cycle(site)
        if not math.isfinite(cycle.period):
            return (Play("Supply switched on", self.wanted, plugged=0.1 * self.wanted),)
        beat = cycle.period
        whole = min(self.beats, SHOWN)
        plays = [Play("Supply switched on", cycle.first + (whole + 4) * beat, plugged=0.5 * beat)]
        kick = (Act(UPSTREAM, "active", cycle.first + 0.5 * whole * beat, max(KICK, 0.1 * beat)),)
        if whole <= 16 and self.beats <= SHOWN:
            stop = cycle.first + (1.7 * whole + 4) * beat
            plays.append(Play("Kicked half-way", stop, kick, plugged=0.5 * beat))
        return tuple(plays)

    def probes(self, site: Site) -> tuple[Probe, ...]:
        u = site.ref("counter")
        return (Probe(id="tap", title="Tap to 0 V", red=f"{u} pin q{self.tap}", signal="out"),)

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            Watch(id="clock", title="Beats", unit="V", signal="clock", place=3),
            Watch(id="out", title="Counter", unit="V", signal="out", place=4),
        )

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_counter_timer(pen, site, symbol_of(self.c_time), tuple(f"q{tap}" for tap in self.closed))
