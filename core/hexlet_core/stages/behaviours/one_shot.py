"""555 one-shot: one press, and it is on for a time that a resistor and a capacitor set.

t = R·C·ln 3, less what the discharge pin leaves, more what leaks: `rules.timer.Charge`. The trigger must be
over before the time is; a coupling capacitor makes it so, however long the press.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from ...cards.card import BipolarCard, DiodeCard, NpnCard, PnpCard, TimerCard
from ...cards.points import active_base, active_volts, forward_volts, junctions
from ...fields import Q
from ...quantity import Interval, show
from ..contract.descriptions import Finder, StateRow
from ..contract.facts import Command, Level
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.ports import Port, rail_in
from ..contract.scenes import MOMENT, UPSTREAM, Act, Play, Probe, Scene, Watch
from ..contract.site import Site
from ..contract.stage import Behaviour
from ..drawing.pen import Pen
from ..drawing.timers import draw_timer
from ..rules.leak import Leak
from ..rules.pins import TimerPins
from ..rules.timer import Charge, discharge_bound, output_of, supply_checks
from ..rules.timing import LARGE, leak_of, symbol_of, timing_capacitor, tolerance_of
from ..rules.trigger import PRESS, Trigger
from ..rules.trimmed import Counted, time_checks, trim_windows, tuned_pairs, tuning
from ..rules.wanted import Telling, Times, asked_for, ends_of, spread_words, time_bounds
from ..say.checks import Change, Check, Shown, check, high
from ..say.windows import Bound, Window, window
from ..say.wording import Say, Sentence, Word

LEAST_LOG = 1e-3  # of a time that ends as it begins, so that a window still has ends


class OneShot(TimerPins, Counted, Behaviour):
    title = "555 one-shot"
    purpose = "One press, and the load is on for a set time, then off by itself."
    choose = "The load must go off by itself, between a hundredth of a second and some minutes after a press."
    avoid = "It must run for hours, or to the second: a counter or a controller keeps better time."
    picture = "oneshot"
    cards = {"card": TimerCard, "emptier": PnpCard, "diode": DiodeCard, "inverter": NpnCard}

    resistor = ("r_time", "time", "timing resistor")
    capacitor = ("c_time", "timing", "timing capacitor")

    kind: Literal["one_shot"] = "one_shot"
    card: str = "timer-cmos"
    r_time: Annotated[float, Q("Ω", 100.0, 1e8)] = 390e3
    r_trim: Annotated[float, Q("Ω", 100.0, 1e7, marked=True)] = 500e3
    c_time: Annotated[float, Q("F", 1e-11, 0.1)] = 100e-6
    r_discharge: Annotated[float, Q("Ω", 1.0, 1e5)] | None = 150.0
    trigger: Literal["coupled", "direct", "extends"] = "coupled"
    r_trigger: Annotated[float, Q("Ω", 100.0, 1e7)] = 27e3
    c_trigger: Annotated[float, Q("F", 1e-11, 1e-3)] = 33e-9
    clamp: Literal["none", "diode"] = "none"  # to the supply, where a stiff signal lifts the trigger above it
    emptier: str = "pnp-40v-200ma"  # what empties the capacitor as long as the trigger is low
    keeps: Literal["diode", "none"] = "diode"  # what keeps its emitter junction from breaking down
    diode: str = "diode-200ma-100v"
    input: Literal["falls", "rises"] = "falls"
    inverter: str = "npn-40v-200ma"
    r_invert: Annotated[float, Q("Ω", 10.0, 1e7)] = 22e3
    r_lift: Annotated[float, Q("Ω", 10.0, 1e7)] = 10e3
    wanted: Annotated[float, Q("s", 1e-5, 1e5)] = 45.0
    at_least: Annotated[float, Q("s", 1e-6, 1e5)] = 30.0
    at_most: Annotated[float, Q("s", 1e-5, 1e6)] = 60.0

    @property
    def summary(self) -> str:
        made = Charge(1.0, self.ohms, self.c_time, leak=leak_of(self.c_time))
        return f"555 one-shot, {show(made.seconds, 's')}"

    @property
    def runs_from(self) -> str:
        return "release" if self.trigger == "extends" else "press"

    @property
    def coupled(self) -> bool:
        return self.trigger == "coupled"

    @property
    def given(self) -> str:
        """The net that the signal gives: before the inverter where there is one."""
        return "given" if self.input == "rises" else "signal"

    def ports(self) -> tuple[Port, ...]:
        return (
            rail_in(),
            Port("command", "command", "in", {"out": self.given, "ref": "zero"}, passes="out"),
            Port("out", "command", "out", {"out": "out", "ref": "zero"}, passes="command"),
        )

    def through(self, port: str, fact: Any, site: Site) -> Any:
        if port != "out":
            return fact
        return output_of(site.card("card", TimerCard), site.rail, "timer", "nobody presses")

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        trig = "trig" if self.coupled else "signal"
        dis = "dis" if self.r_discharge is not None else "cap"
        yield from_card(site, "timer", "U", "card", self.timer_legs(trig=trig, dis=dis, out="out"))
        yield resistor(site, "time", "Timing resistor", "r_time", "plus", self.behind("cap"))
        yield from self.trimmer(site, "cap")
        yield timing_capacitor(site, "timing", "Timing capacitor", "c_time", "cap", "zero")
        if self.r_discharge is not None:
            yield resistor(site, "discharge", "Discharge resistor", "r_discharge", "cap", "dis")
        if self.input == "rises":
            yield resistor(site, "invert", "Inverter's base resistor", "r_invert", "given", "inverted")
            legs = {"b": "inverted", "c": "signal", "e": "zero"}
            yield from_card(site, "inverter", "Q", "inverter", legs)
            yield resistor(site, "lift", "Inverter's collector resistor", "r_lift", "plus", "signal")
        if self.trigger == "extends":
            end = "held" if self.keeps == "diode" else "cap"
            yield from_card(site, "emptier", "Q", "emptier", {"b": "signal", "e": end, "c": "zero"})
            if self.keeps == "diode":
                legs = {"a": "cap", "k": "held"}
                yield from_card(site, "keep", "D", "diode", legs, title="Diode before the emitter")
        if self.coupled:
            yield capacitor(site, "coupling", "Coupling capacitor", "c_trigger", "signal", "trig")
            yield resistor(site, "pull", "Trigger pull-up", "r_trigger", "plus", "trig")
            if self.clamp == "diode":
                legs = {"a": "trig", "k": "plus"}
                yield from_card(site, "clamp", "D", "diode", legs, title="Diode that keeps the trigger down")
        yield from self.calmed(site)

    # --- its time -----------------------------------------------------------------------------------
    def charge(self, site: Site) -> Charge:
        """The timing capacitor's charge, everything at its nominal value."""
        card, volts = site.card("card", TimerCard), site.rail.typical
        held = card.discharge.drop / card.discharge.current + (self.r_discharge or 0.0)
        begin = volts * held / (held + self.ohms)
        if self.trigger == "extends":
            begin = self._emptied(site)
        return Charge(
            volts, self.ohms, self.c_time, begin=begin, bias=card.threshold_bias, leak=leak_of(self.c_time)
        )

    def _emptied(self, site: Site) -> float:
        """Down to where the transistor across the capacitor empties it [V]."""
        card = site.card("emptier", BipolarCard)
        amps = site.rail.typical / self.ohms
        above = active_volts(card, active_base(card, amps))
        kept = forward_volts(site.card("diode", DiodeCard), amps) if self.keeps == "diode" else 0.0
        return self.commanded(site).low.volts.typical + above + kept

    def commanded(self, site: Site) -> Command:
        """The command as the trigger sees it: turned round where an inverter lies before it."""
        given = site.command
        if self.input == "falls":
            return given
        card, rail = site.card("inverter", BipolarCard), site.rail
        base = (given.high.volts.low - card.v_be_on) / (self.r_invert + given.high.ohms)
        low = min(junctions(card, rail.typical / self.r_lift, max(base, 1e-9)).v_ce, rail.typical)
        return replace(
            given,
            high=Level(Interval(rail.low, rail.typical, rail.high), self.r_lift),
            low=Level(Interval.spread(low, 0.0), 10.0),
            sense="low" if given.sense == "high" else "high",
            follows=True,
            name=f"inverted {given.name}",
        )

    def per(self, site: Site) -> float:
        """Its time for each ohm and farad: ln 3 and a little, never quite nothing."""
        return max(self.charge(site).seconds / self.ohms / self.c_time, LEAST_LOG)

    def times(self, site: Site) -> Times:
        """Its time, and over all tolerances."""
        r, c = site.tolerance, tolerance_of(self.c_time)
        share = site.card("card", TimerCard).threshold_tolerance
        made = self.charge(site)
        # What empties it does not do so before a first, short press: that one is the longest.
        whole = replace(made, begin=0.0) if self.trigger == "extends" else made
        times = Times(made.seconds, made.scaled(-r, -c, -share).seconds, whole.scaled(r, c, share).seconds)
        return times.later(self.plus)

    def triggered(self, site: Site) -> Trigger:
        """Its trigger, on the typical supply."""
        return Trigger(
            self.commanded(site),
            site.rail.typical,
            self.r_trigger,
            self.c_trigger if self.coupled else 0.0,
            self.charge(site).seconds,
            site.ref("coupling"),
            Change(path=site.path("trigger"), value="coupled"),
            Change(path=site.path("input"), value="rises" if self.input == "falls" else "falls"),
            clamp=Change(path=site.path("clamp"), value="diode"),
            clamped=self.clamp == "diode",
            counts_from_release=self.trigger == "extends",
        )

    def leak(self, site: Site) -> Leak:
        """What leaks at the end of its time."""
        made = self.charge(site)
        return Leak(made.bias, made.end, self.c_time, made.last)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        yield from self._time_checks(site)
        yield from self.triggered(site).checks()
        yield from self._chip_checks(site)
        yield from self._emptier_checks(site)

    def _time_checks(self, site: Site) -> Iterator[Check]:
        made, r, c = self.charge(site), site.ref("time"), site.ref("timing")
        t = made.seconds
        extends = self.trigger == "extends"
        shown = Shown(
            "state(timer)",
            "extended" if extends else "pulse",
            "delay" if extends else "width",
            look=1.6 * t,
            level=0.5,
            edge="fall" if extends else "either",
            plus=self.plus,
            because="a charge through a resistor, with its leakage, in closed form",
        )
        own = ", and the timer's own level a little; what leaks makes it longer"
        telling = Telling(
            says=self.says,
            formula="t = R_{time} × C_{time} × ln 3",
            numbers=f"{self.ohms_words} × {show(self.c_time, 'F')} × 1.0986 = {show(t, 's')}",
            because=spread_words(site, c, self.c_time, r, more=own),
            part=r,
            shown=shown,
        )
        yield from time_checks(site, self, telling)
        yield self.leak(site).check(
            math.log(3) * self.ohms * self.c_time,
            formula="I_{leak} ≤ (V − V_{threshold}) / R_{time} / 5",
            because="What leaks never reaches the capacitor: the time grows, and past the limit never ends.",
            part=r,
            ref=c,
        )

    def _chip_checks(self, site: Site) -> Iterator[Check]:
        card, rail, u = site.card("card", TimerCard), site.rail, site.ref("timer")
        yield from supply_checks(site)
        yield from self.pin_checks(site)
        full = self.charge(site).share * rail.high
        held = card.discharge.drop / card.discharge.current + (self.r_discharge or 0.0)
        yield check(
            "discharge",
            "Discharge of the capacitor",
            "practice" if self.c_time < LARGE else "limit",
            "surge",
            unit="A",
            nominal=full / held if self.c_time >= LARGE else 0.0,
            most=card.output,
            at=high("the end of the time"),
            says=f"{site.ref('timing')} is emptied with {show(full / held, 'A')} through {u}.",
            formula="I = ⅔ V / (R_{discharge} + R_{pin})",
            numbers=f"{show(full, 'V')} / {show(held, 'Ω')} = {show(full / held, 'A')}",
            because="A large capacitor wears a bare discharge pin out; a small one is empty at once.",
            cure="Fit 100 Ω between the capacitor and the discharge pin.",
            changes=(Change(path=site.path("r_discharge"), value=100.0),),
        )

    def _emptier_checks(self, site: Site) -> Iterator[Check]:
        if self.trigger != "extends":
            return
        card, rail = site.card("emptier", BipolarCard), site.rail
        volts = rail.high - self._emptied(site)
        kept = self.keeps == "diode"
        q = site.ref("emptier")
        yield check(
            "reversed",
            "Emitter junction of what empties it",
            "limit",
            "volts",
            unit="V",
            nominal=0.0 if kept else volts,
            most=card.v_ebo,
            at=high("the trigger up again, the capacitor still empty"),
            says=(
                f"{show(volts, 'V')} stand at the diode, none at {q}."
                if kept
                else f"{show(volts, 'V')} at a junction that stands {show(card.v_ebo, 'V')}."
            ),
            formula="V_{BE} = V − V_{capacitor}",
            numbers=f"{show(rail.high, 'V')} − {show(self._emptied(site), 'V')} = {show(volts, 'V')}",
            because="Broken down, it charges the capacitor through the trigger's pull-up: no time is left.",
            cure="Fit a diode between the capacitor and the emitter.",
            changes=(Change(path=site.path("keeps"), value="diode"),),
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        r, c = site.tolerance, tolerance_of(self.c_time)
        share = site.card("card", TimerCard).threshold_tolerance
        log = self.per(site)
        longest, shortest = (
            log * (1 + r) * (1 + c) * (1 + 2 * share),
            log * (1 - r) * (1 - c) * (1 - 2 * share),
        )
        card = site.card("card", TimerCard)
        if self.by_hand:
            return trim_windows(site, self)

        def times(other: float) -> list[Bound]:
            least, most = self.at_least - self.plus, self.at_most - self.plus
            return time_bounds(self, least / (shortest * other), most / (longest * other))

        bounds = times(self.c_time)
        bounds += self.leak(site).bound(self.ohms, self.line)
        bounds.append(discharge_bound(card, site.rail, "R", "At rest"))
        return (
            window(site, "r_time", "time", "timing resistor", bounds),
            window(site, "c_time", "timing", "timing capacitor", times(self.r_time)),
        )

    def finds(self, site: Site) -> Finder:
        """Capacitors to choose from, each with the resistor that it needs, the nearest first."""
        return tuned_pairs(site, self, self.per(site))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        ways = (
            ("coupled", "counts as a short one"),
            ("direct", "keeps it on until let go"),
            ("extends", "keeps it on, then counts anew"),
        )
        edges = (("falls", "falls"), ("rises", "rises"))
        return {
            "behave": (
                *asked_for(say, "One press: on for", "then off by itself."),
                *self.counting(say),
                Word(text="A long press"),
                say.field("trigger", note="the trigger", choices=ways),
                Word(text="It starts as the signal"),
                say.field("input", note="an inverter turns it", choices=edges),
                *tuning(say, self),
            ),
            "guard": (*self.pin_words(say), *self._clamp_words(say)),
        }

    def _clamp_words(self, say: Say) -> Sentence:
        if not self.coupled:
            return ()
        ways = (("none", "no diode"), ("diode", "a diode to plus"))
        return Word(text="The trigger has"), say.field("clamp", note="against its lift", choices=ways)

    # --- what it does -------------------------------------------------------------------------------
    def scenes(self, site: Site) -> tuple[Scene, ...]:
        t = self.charge(site).seconds
        half = PRESS + (t / 2 if math.isfinite(t) else 1.0)
        press = self._press(site)
        twice = (Act(UPSTREAM, "active", MOMENT, press), Act(UPSTREAM, "active", half - press, press))
        return (
            Scene("idle", "before a press", (Act(UPSTREAM, "idle"),)),
            Scene("active", "while it runs", (Act(UPSTREAM, "active", 0.05, self._press(site)),), look=half),
            Scene("rest", "signal unplugged", (Act(UPSTREAM, "floating"),)),
            Scene("pulse", "one press", (Act(UPSTREAM, "active", MOMENT, self._press(site)),), look=0.0),
            Scene("extended", "pressed again, and let go", twice, look=half),
        )

    def states(self, site: Site) -> tuple[StateRow, ...]:
        times = self.own(site)
        r, c = site.ref("time"), site.ref("timing")
        usual = f"on for {show(times.nominal, 's')}, {ends_of(times)}"
        held = ("off at its time", f"{site.ref('coupling')} lets only the start of a press through")
        again = StateRow(state="Pressed again while it is on", load="no change", why=f"{c} goes on charging")
        if self.trigger == "extends":
            anew = f"{site.ref('emptier')} empties {c}"
            again = StateRow(state="Pressed again while it is on", load="the whole time again", why=anew)
        if not self.coupled:
            held = ("on until it is let go", "the trigger lies on the signal itself")
        return (
            StateRow(state="Pressed once", load=usual, why=f"{r} charges {c} up to two thirds of the supply"),
            again,
            StateRow(state="Held past the end", load=held[0], why=held[1]),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        ends = ends_of(self.promised(site))
        return (
            "Press once and let go: the load comes on, and goes off by itself.",
            f"{self.says[0].lower()}{self.says[1:]} {ends}",
        )

    def settles(self, site: Site) -> float:
        longest = self.own(site).most
        return 1.1 * longest if math.isfinite(longest) else 3 * self.wanted

    def _press(self, site: Site) -> float:
        return min(PRESS, self.charge(site).seconds / 4)

    def plays(self, site: Site) -> tuple[Play, ...]:
        t = self.charge(site).seconds
        if not math.isfinite(t):
            t = self.wanted
        press, up = self._press(site), UPSTREAM
        long = Act(up, "active", 0.1 * t, 1.2 * t)
        return (
            Play("One press", 1.5 * t, (Act(up, "active", 0.1 * t, press),)),
            Play(
                "One press, pressed again half-way",
                1.7 * t,
                (Act(up, "active", 0.1 * t, press), Act(up, "active", 0.6 * t, press)),
            ),
            Play("Held past the end", 1.7 * t, (long,)),
            Play("Supply switched on", 1.5 * t, plugged=0.1 * t),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        u = site.ref("timer")
        trig = "trig" if self.coupled else "signal"
        return (
            Probe(id="trig", title="Trigger to 0 V", red=f"{u} pin 2", signal=trig, scenes=("idle",)),
            Probe(id="cap", title="Timing capacitor to 0 V", red=f"{u} pin 6", signal="cap"),
            Probe(id="out", title="Timer's output to 0 V", red=f"{u} pin 3", signal="out"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        ends = self.charge(site).end
        limits = ((ends, f"{show(ends, 'V')}, ends here"),)
        return (
            Watch(id="cap", title="Capacitor", unit="V", signal="cap", place=3, limits=limits),
            Watch(id="out", title="One-shot", unit="V", signal="out", place=4),
        )

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_timer(pen, site, self.coupled, symbol_of(self.c_time))
