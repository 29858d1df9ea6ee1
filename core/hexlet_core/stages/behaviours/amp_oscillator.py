"""Amplifier oscillator: an operational amplifier turns over each time its capacitor passes one of two levels.

T = R·C·[ln((V_OH − V_TL)/(V_OH − V_TH)) + ln((V_TH − V_OL)/(V_TL − V_OL))], the levels from three resistors
and the output's own swing: `rules.timer.Schmitt`.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...cards.card import ComparatorCard
from ...fields import Q
from ...quantity import Interval, show, show_part
from ..contract.descriptions import Finder, StateRow
from ..contract.facts import Command, Level, Rest
from ..contract.parts import Placed, from_card, resistor
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.oscillators import draw_amp_oscillator
from ..drawing.pen import Pen
from ..rules.beating import beating, beats, follows
from ..rules.leak import Leak
from ..rules.timer import Schmitt, supply_checks
from ..rules.timing import leak_of, symbol_of, timing_capacitor, tolerance_of
from ..rules.trimmed import Tuned, time_checks, tuned_pairs, tuned_windows, tuning
from ..rules.wanted import Telling, Times, asked_for, ends_of, spread_words
from ..say.checks import Check, Shown
from ..say.windows import Window
from ..say.wording import Say, Sentence
from .base import ByItself

CYCLES = 3  # that are measured
GIVES = 0.02  # what an operational amplifier's output gives at most, assumed [A]
R_OUT = 50.0  # behind which it gives it, assumed as for the device [Ω]


class AmpOscillator(Tuned, ByItself):
    title = "Amplifier oscillator"
    purpose = "On and off by itself, from one operational amplifier, four resistors and a capacitor."
    choose = "An amplifier is at hand, or left over in its package, and the pace may be slow."
    avoid = "The pace must hold over the supply: its levels depend on how near the output comes to the rails."
    picture = "blink"
    cards = {"card": ComparatorCard}

    resistor = ("r_time", "time", "timing resistor")
    capacitor = ("c_time", "timing", "timing capacitor")

    kind: Literal["amp_oscillator"] = "amp_oscillator"
    card: str = "amplifier-single-supply"
    r_time: Annotated[float, Q("Ω", 100.0, 1e8)] = 150e3
    c_time: Annotated[float, Q("F", 1e-11, 0.1)] = 4.7e-6
    r_upper: Annotated[float, Q("Ω", 100.0, 1e7)] = 56e3
    r_lower: Annotated[float, Q("Ω", 100.0, 1e7)] = 56e3
    r_back: Annotated[float, Q("Ω", 100.0, 1e7)] = 56e3
    wanted: Annotated[float, Q("s", 1e-5, 1e5)] = 1.0
    at_least: Annotated[float, Q("s", 1e-6, 1e5)] = 0.7
    at_most: Annotated[float, Q("s", 1e-5, 1e6)] = 1.4

    @property
    def summary(self) -> str:
        return f"Amplifier oscillator, {show_part(self.r_time)} × {show(self.c_time, 'F')}"

    def gives(self, site: Site) -> Command:
        """Its output, high for as long as it is on."""
        card, rail, made = site.card("card", ComparatorCard), site.rail, self.swing(site)
        drop = card.drop_high.drop
        volts = Interval(rail.low - 1.2 * drop, rail.typical - drop, rail.high - 0.8 * drop)
        return Command(
            high=Level(volts, R_OUT),
            low=Level(Interval.spread(card.drop_low.drop, 0.0), R_OUT),
            rest=Rest(card.drop_low.drop, R_OUT, "is low until the supply is there", "the supply comes up"),
            steady=GIVES,
            burst=GIVES,
            name="amplifier",
            follows=True,
            beat=beating(made.on, made.off),
        )

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        legs = {"p": "level", "m": "cap", "out": "out", "vcc": "plus", "vee": "zero"}
        yield from_card(site, "amplifier", "U", "card", legs)
        yield resistor(site, "time", "Timing resistor", "r_time", self.behind("out"), "cap")
        yield from self.trimmer(site, "out")
        yield timing_capacitor(site, "timing", "Timing capacitor", "c_time", "cap", "zero")
        yield resistor(site, "upper", "Level resistor to the supply", "r_upper", "plus", "level")
        yield resistor(site, "lower", "Level resistor to 0 V", "r_lower", "level", "zero")
        yield resistor(site, "back", "Level resistor to the output", "r_back", "out", "level")

    # --- its times ----------------------------------------------------------------------------------
    def swing(self, site: Site, volts: float | None = None) -> Schmitt:
        """The capacitor's way up and down, everything at its nominal value."""
        card = site.card("card", ComparatorCard)
        rail = site.rail.typical if volts is None else volts
        high, low = rail - card.drop_high.drop, card.drop_low.drop
        whole = 1 / self.r_upper + 1 / self.r_lower + 1 / self.r_back
        upper, lower = ((rail / self.r_upper + out / self.r_back - card.bias) / whole for out in (high, low))
        return Schmitt(
            volts=rail,
            farads=self.c_time,
            delay=card.response,
            ohms=self.ohms + R_OUT,
            high=high,
            low=low,
            upper=upper,
            lower=max(lower, 1e-6),
            bias=card.bias,
            leak=leak_of(self.c_time),
        )

    def times(self, site: Site) -> Times:
        """Its period, and over all tolerances; the level resistors move it as much as the timing one."""
        r, c, made = site.tolerance, tolerance_of(self.c_time), self.swing(site)

        def period(ohms: float, farads: float) -> float:
            return replace(made, ohms=made.ohms * (1 + ohms), farads=made.farads * (1 + farads)).period

        return Times(period(0.0, 0.0), period(-2 * r, -c), period(2 * r, c))

    def leak(self, site: Site) -> Leak:
        """What leaks at the end of its time."""
        made, bias = self.swing(site), site.card("card", ComparatorCard).bias
        return Leak(bias, made.top, self.c_time, (made.high - made.top) / self.ohms)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        made, times = self.swing(site), self.times(site)
        r, c, t = site.ref("time"), site.ref("timing"), times.nominal
        shown = Shown(
            "out",
            "steady",
            "period",
            look=(CYCLES + 0.6) * t,
            level=site.rail.typical / 2,
            within=0.025,
            because="what hangs on the output moves how near it comes to the rails",
        )
        levels = f"between {show(made.bottom, 'V')} and {show(made.top, 'V')}"
        telling = Telling(
            says="Every",
            formula=(
                "T = R × C × [ln((V_{OH} − V_{TL})/(V_{OH} − V_{TH})) "
                "+ ln((V_{TH} − V_{OL})/(V_{TL} − V_{OL}))]"
            ),
            numbers=f"{self.ohms_words} × {show(self.c_time, 'F')}, {levels}: {show(t, 's')}",
            because=spread_words(site, c, self.c_time, r, more=", the level resistors as much again"),
            part=r,
            shown=shown,
        )
        yield from time_checks(site, self, telling)
        yield self.leak(site).check(
            t,
            formula="I_{leak} ≤ (V_{OH} − V_{TH}) / R / 5",
            because="What leaks, or goes into the input, never fills the capacitor: at last it stands still.",
            part=r,
            ref=c,
        )
        yield from supply_checks(site, "Amplifier", "amplifier")

    def windows(self, site: Site) -> tuple[Window, ...]:
        return tuned_windows(site, self, self.leak(site).bound(self.ohms, self.line))

    def finds(self, site: Site) -> Finder:
        """Capacitors to choose from, each with the resistor that it needs, the nearest first."""
        per = self.times(site).nominal / self.ohms / self.c_time
        return tuned_pairs(site, self, per if math.isfinite(per) and per > 0 else 1.0)

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {"behave": (*asked_for(say, "On and off every"), *tuning(say, self))}

    # --- what it does -------------------------------------------------------------------------------
    def scenes(self, site: Site) -> tuple[Scene, ...]:
        made = self.swing(site)
        return beats(made.first, made.on, made.off)

    def states(self, site: Site) -> tuple[StateRow, ...]:
        made, times = self.swing(site), self.times(site)
        pace = f"on for {show(made.on, 's')}, off for {show(made.off, 's')}"
        levels = f"{show(made.bottom, 'V')} to {show(made.top, 'V')}"
        spread = f"every {ends_of(times)}"
        ends = " to ".join(show(self.swing(site, v).period, "s") for v in (site.rail.low, site.rail.high))
        return (
            StateRow(
                state="Power comes on",
                load=f"on at once, for {show(made.first, 's')}",
                why=f"{site.ref('timing')} is empty",
            ),
            StateRow(state="From then on", load=pace, why=levels),
            StateRow(state="Over all parts", load=spread, why=f"{site.ref('timing')} most of all"),
            StateRow(state="Supply low to high", load=f"every {ends}", why="the output's drop stays"),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        times = self.promised(site)
        return follows(times.least, times.most)

    def settles(self, site: Site) -> float:
        made = self.swing(site)
        return made.first + made.period if math.isfinite(made.first + made.period) else 3 * self.wanted

    def plays(self, site: Site) -> tuple[Play, ...]:
        t = self.swing(site).period
        t = t if math.isfinite(t) else self.wanted
        return (Play("Power on, and running", 4.5 * t, plugged=0.1 * t),)

    def probes(self, site: Site) -> tuple[Probe, ...]:
        u = site.ref("amplifier")
        return (
            Probe(id="level", title="Level strip to 0 V", red=f"{u} + input", signal="level"),
            Probe(id="out", title="Amplifier's output to 0 V", red=f"{u} output", signal="out"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        made = self.swing(site)
        limits = tuple((v, show(v, "V")) for v in (made.bottom, made.top))
        return (
            Watch(id="cap", title="Capacitor", unit="V", signal="cap", place=3, limits=limits),
            Watch(id="out", title="Oscillator", unit="V", signal="out", place=4),
        )

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_amp_oscillator(pen, site, symbol_of(self.c_time))
