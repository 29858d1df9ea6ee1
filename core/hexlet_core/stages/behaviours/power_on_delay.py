"""Power-on delay: the load comes on a while after the supply does.

The capacitor hangs on the supply, so that its other end starts there and falls through the resistor; under a
third of the supply the timer's trigger turns the output on. t = R·C·ln 3: `rules.timer.Charge`, the capacitor
seen from the supply.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...cards.card import DiodeCard, TimerCard
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import Finder, StateRow
from ..contract.facts import Command
from ..contract.parts import Placed, from_card, resistor
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.timers import draw_power_on_delay
from ..rules.leak import Leak
from ..rules.pins import TimerPins
from ..rules.timer import Charge, output_of, supply_checks
from ..rules.timing import leak_of, symbol_of, timing_capacitor, tolerance_of
from ..rules.trimmed import Tuned, time_checks, tuned_pairs, tuned_windows, tuning
from ..rules.wanted import Telling, Times, asked_for, ends_of, spread_words
from ..say.checks import Check, Shown
from ..say.windows import Window
from ..say.wording import Say, Sentence
from .base import ByItself


class PowerOnDelay(TimerPins, Tuned, ByItself):
    title = "Power-on delay"
    purpose = "The load comes on a set time after the supply does, and stays on."
    choose = "Something else must be up first, or everything at once would be too much for the supply."
    avoid = "The supply drops out for moments: the delay then begins anew, or does not begin at all."
    picture = "delay"
    cards = {"card": TimerCard, "diode": DiodeCard}

    resistor = ("r_time", "time", "timing resistor")
    capacitor = ("c_time", "timing", "timing capacitor")

    kind: Literal["power_on_delay"] = "power_on_delay"
    card: str = "timer-cmos"
    r_time: Annotated[float, Q("Ω", 100.0, 1e8)] = 680e3
    c_time: Annotated[float, Q("F", 1e-11, 0.1)] = 10e-6
    diode: str = "diode-200ma-100v"
    wanted: Annotated[float, Q("s", 1e-5, 1e5)] = 7.5
    at_least: Annotated[float, Q("s", 1e-6, 1e5)] = 5.0
    at_most: Annotated[float, Q("s", 1e-5, 1e6)] = 11.0

    @property
    def summary(self) -> str:
        made = Charge(1.0, self.ohms, self.c_time, leak=leak_of(self.c_time))
        return f"Power-on delay, {show(made.seconds, 's')}"

    def gives(self, site: Site) -> Command:
        """Its output, high when the time is over."""
        given = output_of(site.card("card", TimerCard), site.rail, "timer", "the supply comes up")
        return replace(given, rest=replace(given.rest, words="is low until the delay is over"))

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield from_card(site, "timer", "U", "card", self.timer_legs(out="out"))
        made = timing_capacitor(site, "timing", "Timing capacitor", "c_time", "plus", "cap")
        yield made
        yield resistor(site, "time", "Timing resistor", "r_time", self.behind("cap"), "zero")
        yield from self.trimmer(site, "cap")
        yield from_card(
            site, "empty", "D", "diode", {"a": "zero", "k": "cap"}, title="Diode that empties the capacitor"
        )
        yield from self.calmed(site)

    # --- its time -----------------------------------------------------------------------------------
    def charge(self, site: Site) -> Charge:
        """The timing capacitor's charge as it is seen from the supply, everything at its nominal value."""
        card = site.card("card", TimerCard)
        bias = card.trigger_bias - card.threshold_bias
        return Charge(site.rail.typical, self.ohms, self.c_time, bias=bias, leak=leak_of(self.c_time))

    def times(self, site: Site) -> Times:
        """Its time, and over all tolerances."""
        r, c = site.tolerance, tolerance_of(self.c_time)
        # A threshold that is high puts the trigger, half of it, nearer to where the capacitor starts.
        share = site.card("card", TimerCard).threshold_tolerance / 2
        made = self.charge(site)
        return Times(made.seconds, *(made.scaled(w * r, w * c, w * share).seconds for w in (-1, 1)))

    def leak(self, site: Site) -> Leak:
        """What leaks at the end of its time."""
        made = self.charge(site)
        return Leak(max(made.bias, 0.0), made.end, self.c_time, made.last)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        times, r, c = self.times(site), site.ref("time"), site.ref("timing")
        t = times.nominal
        shown = Shown(
            "state(timer)",
            "plugged",
            "delay",
            look=1.4 * t,
            level=0.5,
            edge="rise",
            within=0.01,
            because="a charge through a resistor, with its leakage, in closed form",
        )
        telling = Telling(
            says="On after",
            formula="t = R_{time} × C_{time} × ln 3",
            numbers=f"{self.ohms_words} × {show(self.c_time, 'F')} × 1.0986 = {show(t, 's')}",
            because=spread_words(site, c, self.c_time, r, more=", and the timer's own level a little"),
            part=r,
            shown=shown,
        )
        yield from time_checks(site, self, telling)
        yield self.leak(site).check(
            math.log(3) * self.ohms * self.c_time,
            formula="I_{leak} ≤ V / 3 / R_{time} / 5",
            because="What leaks through the capacitor holds the timer's pins up, at last for good.",
            part=r,
            ref=c,
        )
        yield from supply_checks(site)
        yield from self.pin_checks(site)

    def windows(self, site: Site) -> tuple[Window, ...]:
        return tuned_windows(site, self, self.leak(site).bound(self.ohms, self.line))

    def finds(self, site: Site) -> Finder:
        """Capacitors to choose from, each with the resistor that it needs, the nearest first."""
        return tuned_pairs(site, self, math.log(3))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (*asked_for(say, "On", "after the supply comes up."), *tuning(say, self)),
            "guard": self.pin_words(say),
        }

    # --- what it does -------------------------------------------------------------------------------
    def scenes(self, site: Site) -> tuple[Scene, ...]:
        t = self.settles(site)
        return (
            Scene("idle", "while it waits", look=0.45 * t, cold=True),
            Scene("active", "when the time is over", look=1.5 * t, cold=True),
            Scene("plugged", "as the supply comes up", look=0.0, cold=True),
        )

    def states(self, site: Site) -> tuple[StateRow, ...]:
        times = self.times(site)
        r, c = site.ref("time"), site.ref("timing")
        after = f"off for {show(times.nominal, 's')}, {ends_of(times)}, then on"
        again = "off, and the delay begins anew"
        return (
            StateRow(
                state="Supply comes up", load=after, why=f"{r} draws {c}'s lower end down from the supply"
            ),
            StateRow(
                state="Supply off and on", load=again, why=f"{site.ref('empty')} empties {c} as it falls"
            ),
            StateRow(state="A short sag", load="no change", why=f"{c} follows the supply with both its ends"),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        ends = ends_of(self.promised(site))
        return "Switch the supply on and count: the load comes on by itself.", f"after {ends}"

    def settles(self, site: Site) -> float:
        t = self.charge(site).seconds
        return t if math.isfinite(t) else self.wanted

    def plays(self, site: Site) -> tuple[Play, ...]:
        t = self.settles(site)
        return (Play("Supply switched on", 1.6 * t, plugged=0.1 * t),)

    def probes(self, site: Site) -> tuple[Probe, ...]:
        u = site.ref("timer")
        return (
            Probe(id="cap", title="Timing strip to 0 V", red=f"{u} pin 6", signal="cap", scenes=("active",)),
            Probe(id="out", title="Timer's output to 0 V", red=f"{u} pin 3", signal="out"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        level = site.rail.typical / 3
        limits = ((level, f"{show(level, 'V')}, comes on here"),)
        return (
            Watch(id="cap", title="Timing strip", unit="V", signal="cap", place=3, limits=limits),
            Watch(id="out", title="Delayed", unit="V", signal="out", place=4),
        )

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_power_on_delay(pen, site, symbol_of(self.c_time))
