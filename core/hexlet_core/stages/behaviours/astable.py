"""555 astable: on and off again and again, for times that two resistors and a capacitor set.

t_on = (R_A + R_B)·C·ln 2 and t_off = R_B·C·ln 2, with what the discharge pin leaves, what leaks and what a
steering diode drops: `rules.timer.Cycle`. Without the diode the on time is the longer one.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import DiodeCard, TimerCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import Finder, StateRow
from ..contract.facts import Command
from ..contract.parts import Placed, from_card, resistor
from ..contract.ports import Port
from ..contract.scenes import Act, Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.timers import draw_astable
from ..rules.beating import beating, beats, follows
from ..rules.finding import pairs
from ..rules.leak import Leak
from ..rules.pins import TimerPins
from ..rules.stepping import REACHED, Haltable, Stepping
from ..rules.timer import CALM, Cycle, control_seconds, discharge_bound, oscillating, supply_checks
from ..rules.timing import symbol_of, timing_capacitor, tolerance_of
from ..rules.trigger import PRESS
from ..rules.trimmed import Tuned, in_line, time_checks, trim_windows, tuning
from ..rules.wanted import Telling, Times, asked_for, ends_of, spread_words, time_bounds
from ..say.checks import Check, Shown, check, high
from ..say.windows import Window, window
from ..say.wording import Say, Sentence, Word
from .base import ByItself

CYCLES = 3  # that are measured


class Astable(TimerPins, Haltable, Tuned, ByItself):
    title = "555 astable"
    purpose = "On and off by itself, again and again, at a pace that two resistors and a capacitor set."
    choose = "Something shall blink, tick or be clocked, from a few times a minute to some thousand a second."
    avoid = "The pace must be right to the second in an hour: a controller keeps better time."
    picture = "blink"
    cards = {"card": TimerCard, "diode": DiodeCard}

    resistor = ("r_b", "b", "discharge resistor")
    capacitor = ("c_time", "timing", "timing capacitor")

    kind: Literal["astable"] = "astable"
    card: str = "timer-cmos"
    r_a: Annotated[float, Q("Ω", 100.0, 1e8)] = 10e3
    r_b: Annotated[float, Q("Ω", 100.0, 1e8)] = 68e3
    c_time: Annotated[float, Q("F", 1e-11, 0.1)] = 10e-6
    steer: Literal["none", "diode"] = "none"
    diode: str = "diode-200ma-100v"
    wanted: Annotated[float, Q("s", 1e-5, 1e5)] = 1.0
    at_least: Annotated[float, Q("s", 1e-6, 1e5)] = 0.7
    at_most: Annotated[float, Q("s", 1e-5, 1e6)] = 1.4

    @property
    def summary(self) -> str:
        ohms = self.r_a + (2 if self.steer == "none" else 1) * (self.ohms)
        return f"555 astable, every {show(math.log(2) * ohms * self.c_time, 's')}"

    def ports(self) -> tuple[Port, ...]:
        return (*super().ports(), *self.stepping_ports())

    def gives(self, site: Site) -> Command:
        """Its output, high for as long as it is on."""
        cycle = self.cycle(site)
        return oscillating(site.card("card", TimerCard), site.rail, beating(cycle.on, cycle.off))

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield from_card(site, "timer", "U", "card", self.timer_legs(dis="dis", out="out"))
        yield resistor(site, "a", "Charging resistor", "r_a", "plus", "dis")
        yield resistor(site, "b", "Discharge resistor", "r_b", "dis", self.behind("cap"))
        yield from self.trimmer(site, "cap")
        if self.steer == "diode":
            yield from_card(site, "steer", "D", "diode", {"a": "dis", "k": "cap"}, title="Steering diode")
        yield timing_capacitor(site, "timing", "Timing capacitor", "c_time", "cap", "zero")
        yield from self.stepping_parts(site)
        yield from self.calmed(site)

    # --- its times ----------------------------------------------------------------------------------
    def cycle(self, site: Site) -> Cycle:
        """The capacitor's cycle, everything at its nominal value."""
        return Cycle.of(
            site.card("card", TimerCard),
            site.rail,
            r_a=self.r_a,
            r_b=self.ohms,
            farads=self.c_time,
            steer=site.card("diode", DiodeCard) if self.steer == "diode" else None,
        )

    def times(self, site: Site) -> Times:
        """Its period, and over all tolerances."""
        r, c = site.tolerance, tolerance_of(self.c_time)
        share = site.card("card", TimerCard).threshold_tolerance
        made = self.cycle(site)
        return Times(made.period, *(made.scaled(w * r, w * c, w * share).period for w in (-1, 1)))

    def stepping(self, site: Site) -> Stepping:
        """What its two contacts pull against, its trimmer at the end that is worst."""
        least = self.fixed + (in_line(self.r_trim, 0.0) if self.by_hand else 0.0)
        fills = self.r_a + (least if self.steer == "none" else 0.0)
        return Stepping(self, site, self.ohms, least, fills, self.c_time, site.rail.typical)

    def leak(self, site: Site) -> Leak:
        """What leaks at the end of its time."""
        return self.cycle(site).leaking

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        yield from self._pace_checks(site)
        yield self._leaks(site)
        yield from supply_checks(site)
        yield from self.pin_checks(site)
        yield self._discharged(site)
        yield from self.stepping(site).checks()

    def _pace_checks(self, site: Site) -> Iterator[Check]:
        cycle, a, b, c = self.cycle(site), site.ref("a"), site.ref("b"), site.ref("timing")
        t = cycle.period
        formula = "T = (R_{A} + 2·R_{B}) × C × ln 2"
        r_b = self.ohms_words
        whole = f"({show_part(self.r_a)} + 2 · {r_b})"
        numbers = f"{whole} × {show(self.c_time, 'F')} × 0.693 ≈ {show(t, 's')}"
        if cycle.steer is not None:
            formula = "T ≈ (R_{A} + R_{B}) × C × ln 2, and what the diode drops"
            whole = f"({show_part(self.r_a)} + {r_b})"
            numbers = f"{whole} × {show(self.c_time, 'F')}, with the diode {show(t, 's')}"
        shown = Shown(
            "state(timer)",
            "steady",
            "period",
            look=(CYCLES + 0.6) * t,
            level=0.5,
            within=0.01,
            because="a charge and a discharge between two levels, with what leaks",
        )
        because = spread_words(site, c, self.c_time, a, b, more=", and the timer's own level a little")
        telling = Telling("Every", formula, numbers, because, b, shown)
        yield from time_checks(site, self, telling)

    def _leaks(self, site: Site) -> Check:
        return self.leak(site).check(
            self.cycle(site).period,
            formula="I_{leak} ≤ (V − V_{threshold}) / (R_{A} + R_{B}) / 5",
            because="What leaks never reaches the capacitor: it slows down, and at last it stands still.",
            part=site.ref("a"),
            ref=site.ref("timing"),
        )

    def _discharged(self, site: Site) -> Check:
        card, top = site.card("card", TimerCard), site.rail.high
        amps = top / self.r_a + 2 / 3 * top / self.r_b
        return check(
            "discharge",
            "What the discharge pin carries",
            "limit",
            "current",
            unit="A",
            nominal=amps,
            most=card.output,
            at=high("the moment it begins to empty"),
            says=f"{show(amps, 'A')} of {show(card.output, 'A')} through {site.ref('timer')}'s pin 7.",
            formula="I = V / R_{A} + ⅔ V / R_{B}",
            numbers=f"{show(top / self.r_a, 'A')} + {show(2 / 3 * top / self.r_b, 'A')} = {show(amps, 'A')}",
            because="While the output is low the pin carries all that the charging resistor gives.",
            cure=f"Make {site.ref('a')} larger; for near equal times take the steering diode.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        return (*self._own_windows(site), *self.stepping(site).windows())

    def _own_windows(self, site: Site) -> tuple[Window, ...]:
        cycle, times, card = self.cycle(site), self.times(site), site.card("card", TimerCard)
        t = times.nominal
        if not math.isfinite(times.most):
            return ()
        feeds = discharge_bound(card, site.rail, "R_{A}", "While the output is low")
        if self.by_hand:
            return (window(site, "r_a", "a", "charging resistor", [feeds]), *trim_windows(site, self))
        per = t / (self.r_a + (1 if cycle.steer else 2) * self.r_b)  # seconds an ohm in all
        shorter, longer = per * times.least / t, per * times.most / t

        twice = 1 if cycle.steer else 2
        low, high = self.at_least / shorter, self.at_most / longer
        r_a = time_bounds(self, low - twice * self.r_b, high - twice * self.r_b)
        r_a.append(feeds)
        r_b = time_bounds(self, (low - self.r_a) / twice, (high - self.r_a) / twice)
        c = time_bounds(
            self, self.c_time * self.at_least / times.least, self.c_time * self.at_most / times.most
        )
        return (
            window(site, "r_a", "a", "charging resistor", r_a),
            window(site, "r_b", "b", "discharge resistor", r_b),
            window(site, "c_time", "timing", "timing capacitor", c),
        )

    def finds(self, site: Site) -> Finder:
        """Capacitors to choose from, each with the discharge resistor that it needs, the nearest first."""
        twice, product = 1 if self.steer == "diode" else 2, self.wanted / math.log(2)

        def needs(farads: float) -> float:
            return (product / farads - self.r_a) / twice - self.line

        return pairs(site, self, ("r_b", "c_time"), needs, "C × R_B", self.line > 0)

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        ways = (("none", "the longer part of it"), ("diode", "as long as the charging resistor says"))
        return {
            "behave": (
                *asked_for(say, "On and off every"),
                Word(text="It is on"),
                say.field("steer", note="steering diode", choices=ways),
                *tuning(say, self),
            ),
            "guard": self.pin_words(say),
        }

    # --- what it does -------------------------------------------------------------------------------
    def scenes(self, site: Site) -> tuple[Scene, ...]:
        cycle = self.cycle(site)
        made = beats(cycle.first, cycle.on, cycle.off, awake=CALM * self._calms(site))
        settled = 10 * self.c_time * (self.r_halt + self.r_step) + CALM * self._calms(site)
        return (*made, *self.stepping(site).scenes(settled))

    def _calms(self, site: Site) -> float:
        return control_seconds(site.card("card", TimerCard), self.at_control)

    def states(self, site: Site) -> tuple[StateRow, ...]:
        cycle = self.cycle(site)
        a, b, c = site.ref("a"), site.ref("b"), site.ref("timing")
        pace = f"on for {show(cycle.on, 's')}, off for {show(cycle.off, 's')}"
        spread = f"every {ends_of(self.times(site))}"
        through = f"{a} and the diode fill" if cycle.steer else f"{a} and {b} fill"
        first = StateRow(
            state="Power comes on", load=f"on at once, for {show(cycle.first, 's')}", why=f"{c} is empty"
        )
        return (
            *([first] if cycle.period > CALM * self._calms(site) else []),
            StateRow(state="From then on", load=pace, why=f"{through} {c}, {b} empties it"),
            StateRow(state="Over all parts", load=spread, why=f"{c} is ±{tolerance_of(self.c_time):.0%}"),
            *self._by_contacts(site),
            StateRow(state="Supply changes", load="no other pace", why="both levels are shares of it"),
        )

    def _by_contacts(self, site: Site) -> Iterator[StateRow]:
        if site.joined("halt"):
            c, ref = site.ref("timing"), site.ref("halt")
            yield StateRow(state="Halted", load="off, and stays off", why=f"{ref} holds {c} up")
        if site.joined("step"):
            pulls = f"{site.ref('step')} pulls {site.ref('timing')} down"
            yield StateRow(state="Haltable", load="on for as long as it is pressed", why=pulls)

    def trial(self, site: Site) -> tuple[str, str]:
        times = self.promised(site)
        return follows(times.least, times.most)

    def settles(self, site: Site) -> float:
        cycle = self.cycle(site)
        return cycle.first + cycle.period if math.isfinite(cycle.first + cycle.period) else 3 * self.wanted

    def plays(self, site: Site) -> tuple[Play, ...]:
        t = self.cycle(site).period
        t = t if math.isfinite(t) else self.wanted
        return (
            Play("Power on, and running", 4.5 * t, plugged=0.1 * t),
            Play("The first cycles", 2.2 * t, plugged=0.1 * t),
            *self._by_hand(site, t),
        )

    def _by_hand(self, site: Site, t: float) -> Iterator[Play]:
        press = max(PRESS, REACHED * self.r_step * self.c_time)
        steps = [
            Act(b, "active", 2 * t + k * 3 * press, press) for b, _ in site.joined("step") for k in (0, 1)
        ]
        for block, _ in site.joined("halt"):
            acts = (Act(block, "active", 1.4 * t), *steps)
            yield Play("Halted, and stepped by hand" if steps else "Halted", 2.5 * t + 6 * press, acts)

    def probes(self, site: Site) -> tuple[Probe, ...]:
        u = site.ref("timer")
        return (
            Probe(id="ctrl", title="Control pin to 0 V", red=f"{u} pin 5", signal="ctrl"),
            Probe(id="out", title="Timer's output to 0 V", red=f"{u} pin 3", signal="out"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        cycle = self.cycle(site)
        limits = tuple((v, show(v, "V")) for v in (cycle.bottom, cycle.top))
        return (
            Watch(id="cap", title="Capacitor", unit="V", signal="cap", place=3, limits=limits),
            Watch(id="out", title="Astable", unit="V", signal="out", place=4),
        )

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_astable(pen, site, symbol_of(self.c_time))
