"""Transistor astable: two transistors that turn each other off in turn, each for a time of its own.

When one turns on, its collector falls and a capacitor throws the other's base below ground; a resistor
brings it back. t = R_B·C·ln((V − V_low) / (V − V_BE)), about R_B·C·ln 2: `rules.pair.Thrown`. Above some 5 V
the emitter junction breaks down unless a diode lies in the base's lead.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...cards.card import BipolarCard, DiodeCard, NpnCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import Finder, StateRow, Throw
from ..contract.facts import Command, Take
from ..contract.parts import Placed, from_card, resistor
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.pairs import draw_transistor_astable
from ..drawing.pen import Pen
from ..rules.beating import beating, beats, follows
from ..rules.finding import pairs
from ..rules.pair import Thrown, collector_command, reversed_capacitor, reversed_check, saturates
from ..rules.timing import leak_of, symbol_of, timing_capacitor, tolerance_of
from ..rules.wanted import Telling, Times, asked_for, ends_of, spread_words, time_bounds, wish_checks
from ..say.checks import Change, Check, Shown, check, low
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence, Word
from .base import ByItself

CYCLES = 3  # that are measured
SPREAD_VBE = 0.03  # how far a base-emitter voltage is off, either way [V]
LOADED = 0.5  # share of its swing that may be taken until it stops, assumed
ROUNDED = 0.2  # share of a half period that a collector may take to rise


class TransistorAstable(ByItself):
    title = "Transistor astable"
    purpose = "On and off by itself: two transistors, two capacitors, and parts from any drawer."
    choose = "Something shall blink and no timer is at hand, or how it works is the point."
    avoid = "The edges must be sharp, the pace steady over the supply, or the two times far apart."
    picture = "blink"
    cards = {"card": NpnCard, "diode": DiodeCard}

    kind: Literal["transistor_astable"] = "transistor_astable"
    card: str = "npn-40v-200ma"
    r_c: Annotated[float, Q("Ω", 100.0, 1e6)] = 1.8e3
    r_on: Annotated[float, Q("Ω", 100.0, 1e8)] = 47e3
    r_off: Annotated[float, Q("Ω", 100.0, 1e8)] = 47e3
    c_time: Annotated[float, Q("F", 1e-11, 0.1)] = 15e-6
    diodes: Literal["fitted", "none"] = "fitted"
    diode: str = "diode-200ma-100v"
    r_bleed: Annotated[float, Q("Ω", 1e3, 1e8)] = 470e3
    wanted: Annotated[float, Q("s", 1e-5, 1e5)] = 1.0
    at_least: Annotated[float, Q("s", 1e-6, 1e5)] = 0.6
    at_most: Annotated[float, Q("s", 1e-5, 1e6)] = 1.5

    @property
    def summary(self) -> str:
        return (
            f"Transistor astable, every {show(math.log(2) * (self.r_on + self.r_off) * self.c_time, 's', 2)}"
        )

    def gives(self, site: Site) -> Command:
        """The second collector, high for as long as that transistor is off."""
        on, off = self.thrown(site, "on"), self.thrown(site, "off", free=True)
        words = "is low or high before it runs"
        given = collector_command(site.rail, self.r_c, on.low, "astable", "the supply comes up", words)
        return replace(given, beat=beating(on.seconds, off.seconds))

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        fitted = self.diodes == "fitted"
        for own, base in (("1", "r_off"), ("2", "r_on")):
            out = "out" if own == "2" else "collector"
            across = "collector" if own == "2" else "out"  # whose collector throws this base
            node = f"node_{own}" if fitted else f"base_{own}"
            yield resistor(site, f"collector_{own}", f"Collector resistor {own}", "r_c", "plus", out)
            yield from_card(site, f"switch_{own}", "Q", "card", {"c": out, "b": f"base_{own}", "e": "zero"})
            yield resistor(site, f"base_{own}", f"Base resistor {own}", base, "plus", node)
            yield timing_capacitor(site, f"timing_{own}", f"Capacitor to base {own}", "c_time", across, node)
            if fitted:
                legs = {"a": node, "k": f"base_{own}"}
                yield from_card(site, f"keep_{own}", "D", "diode", legs, title=f"Base diode {own}")
                yield resistor(site, f"bleed_{own}", f"Base {own} to 0 V", "r_bleed", f"base_{own}", "zero")

    # --- its times ----------------------------------------------------------------------------------
    def thrown(
        self, site: Site, half: Literal["on", "off"], volts: float | None = None, free: bool = False
    ) -> Thrown:
        """The base whose time is the output's on or off time, everything at its nominal value.

        The output throws the one whose time is the off time: what hangs on it counts, unless it is `free`.
        """
        hung = [] if free or half == "on" else list(site.seen("out"))
        return Thrown(
            volts=site.rail.typical if volts is None else volts,
            base=self.r_on if half == "on" else self.r_off,
            farads=self.c_time,
            collector=self.r_c,
            feeds=self.r_c,
            card=site.card("card", BipolarCard),
            diode=site.card("diode", DiodeCard) if self.diodes == "fitted" else None,
            bleed=self.r_bleed if self.diodes == "fitted" else math.inf,
            leak=leak_of(self.c_time),
            taken=Take.sum(hung).ohms,
        )

    def period(self, site: Site, ohms: float = 0.0, farads: float = 0.0) -> float:
        """Both times together [s], its parts off by these shares."""
        both = (self.thrown(site, "on"), self.thrown(site, "off"))
        return sum(replace(t, base=t.base * (1 + ohms), farads=t.farads * (1 + farads)).seconds for t in both)

    def times(self, site: Site) -> Times:
        """Its period, and over all tolerances; the base-emitter volts move it a little more."""
        r, c = site.tolerance, tolerance_of(self.c_time)
        more = 2 * SPREAD_VBE / site.rail.typical
        return Times(
            self.period(site), self.period(site, -r, -c) * (1 - more), self.period(site, r, c) * (1 + more)
        )

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        on, times = self.thrown(site, "on"), self.times(site)
        refs = site.ref("base_1"), site.ref("base_2")
        shown = Shown(
            "out",
            "steady",
            "period",
            look=(CYCLES + 0.6) * times.nominal,
            level=site.rail.typical / 2,
            within=0.02,
            because="where a base begins to conduct is taken from a junction's own volts",
        )
        telling = Telling(
            says="Every",
            formula="T = (R_{on} + R_{off}) × C × ln((V − V_{low}) / (V − V_{BE}))",
            numbers=(
                f"({show_part(self.r_on)} + {show_part(self.r_off)}) × {show(self.c_time, 'F')}, from "
                f"{show(on.bottom, 'V')} to {show(on.begins, 'V')}: {show(times.nominal, 's')}"
            ),
            because=spread_words(site, site.ref("timing_1"), self.c_time, *refs),
            part=" and ".join(refs),
            shown=shown,
        )
        yield from wish_checks(self, times, telling)
        yield from self._base_checks(site)
        yield self._loaded(site)
        half = min(self.thrown(site, h).seconds for h in ("on", "off"))
        rises = 3 * self.r_c * self.c_time
        yield check(
            "rounded",
            "Collector is up before it falls again",
            "practice",
            "time",
            unit="s",
            nominal=rises,
            most=max(ROUNDED * half, 1e-9) if math.isfinite(half) else 1e9,
            at=low("the shorter half"),
            says=f"It takes {show(rises, 's')} of {show(half, 's')} to rise.",
            formula="3 · R_{C} · C ≤ t / 5",
            numbers=f"3 · {show(self.r_c, 'Ω')} · {show(self.c_time, 'F')} = {show(rises, 's')}",
            because="It fills through the collector resistor; a small base resistor leaves no time.",
            cure=f"Make {site.ref('collector_1')} smaller or {refs[0]} larger.",
        )

    def _loaded(self, site: Site) -> Check:
        hung = Take.sum(list(site.seen("out"))).ohms
        share = self.r_c / (self.r_c + hung)
        q = site.ref("collector_2")
        return check(
            "loaded",
            "What hangs on the output",
            "need",
            "time",
            unit="",
            nominal=share,
            most=LOADED,
            at=low("while it is high"),
            says=f"Takes {share:.0%} of the swing; more than {LOADED:.0%} stops it.",
            formula="R_{C} / (R_{C} + R_{next})",
            numbers=f"{show(self.r_c, 'Ω')} beside {show(hung, 'Ω')}",
            because="The output's fall throws the other base: what takes of its height shortens that time.",
            cure=f"Drive a MOSFET's gate instead of a base, or make {q} smaller.",
        )

    def _base_checks(self, site: Site) -> Iterator[Check]:
        card = site.card("card", BipolarCard)
        halves: tuple[tuple[Literal["on", "off"], str], ...] = (("on", "2"), ("off", "1"))
        for half, own in halves:
            t = self.thrown(site, half, site.rail.low)
            yield saturates(
                card,
                id=f"saturates_{own}",
                q=site.ref(f"switch_{own}"),
                drive=t.drive,
                amps=t.volts / self.r_c,
                part=site.ref(f"base_{own}"),
            )
        cure = Change(path=site.path("diodes"), value="fitted")
        top = self.thrown(site, "on", site.rail.high)
        yield reversed_check(top, "the moment the other turns on", cure)
        yield from reversed_capacitor(top, site.ref("timing_1"))

    def windows(self, site: Site) -> tuple[Window, ...]:
        times, card = self.times(site), site.card("card", BipolarCard)
        if not 0 < times.least <= times.most < math.inf:
            return ()
        down, up = self.at_least / times.least, self.at_most / times.most
        whole = self.r_on + self.r_off
        low_volts = site.rail.low
        most = card.gain_min * self.r_c * 0.9 * (low_volts - 1.3) / low_volts
        saturates = bound(
            "high",
            max(most, 1.0),
            "turned fully on",
            detail=f"gain {card.gain_min:g}",
            guards="saturates_2",
            formula="R_{B} ≤ β · R_{C}",
            because="Larger, and its transistor stays half on: it does not run.",
        )
        on = time_bounds(self, down * whole - self.r_off, up * whole - self.r_off)
        off = time_bounds(self, down * whole - self.r_on, up * whole - self.r_on)
        c = time_bounds(self, down * self.c_time, up * self.c_time)
        return (
            window(site, "r_on", "base_2", "base resistor, on time", [*on, saturates]),
            window(site, "r_off", "base_1", "base resistor, off time", [*off, saturates]),
            window(site, "c_time", "timing_1", "timing capacitors", c),
        )

    def finds(self, site: Site) -> Finder:
        """Capacitors to choose from, each with the on-time resistor that it needs, the nearest first."""
        per = self.period(site) / (self.r_on + self.r_off) / self.c_time or math.log(2)

        def needs(farads: float) -> float:
            return self.wanted / per / farads - self.r_off

        return pairs(site, self, ("r_on", "c_time"), needs, "C × R_on")

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        ways = (("fitted", "with base diodes"), ("none", "without base diodes"))
        return {
            "behave": (
                *asked_for(say, "On and off every"),
                Word(text="Built"),
                say.field("diodes", note="against breakdown", choices=ways),
            )
        }

    # --- what it does -------------------------------------------------------------------------------
    def scenes(self, site: Site) -> tuple[Scene, ...]:
        on, off = self.thrown(site, "on").seconds, self.thrown(site, "off").seconds
        # Which of the two conducts first is chance: it is read once it has found its pace.
        return tuple(s for s in beats(on, on, off, 2 * (on + off)) if s.id == "steady" or s.mean)

    def states(self, site: Site) -> tuple[StateRow, ...]:
        on, off, times = self.thrown(site, "on"), self.thrown(site, "off"), self.times(site)
        pace = f"on for {show(on.seconds, 's')}, off for {show(off.seconds, 's')}"
        spread = f"every {ends_of(times)}"
        below = (
            f"{show(on.bottom, 'V')} at {site.ref('base_2')}: a capacitor keeps its volts when its end falls"
        )
        high_, low_ = (replace(on, volts=v).seconds for v in (site.rail.high, site.rail.low))
        return (
            StateRow(state="Power comes on", load="on or off first, by chance", why="the faster one wins"),
            StateRow(state="From then on", load=pace, why=below),
            StateRow(state="Over all parts", load=spread, why=f"each ±{tolerance_of(self.c_time):.0%}"),
            StateRow(
                state="Supply low, high",
                load=f"on for {show(low_, 's')}, {show(high_, 's')}",
                why="junctions do not grow with the supply",
            ),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        times = self.times(site)
        return follows(times.least, times.most)

    def settles(self, site: Site) -> float:
        t = self.period(site)
        return 2 * t if math.isfinite(t) else 3 * self.wanted

    def plays(self, site: Site) -> tuple[Play, ...]:
        t = self.period(site)
        return (
            Play("Power on, and running", 4.5 * (t if math.isfinite(t) else self.wanted), plugged=0.02 * t),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (
            Probe(
                id="out",
                title="Second collector to 0 V",
                red=f"{site.ref('switch_2')} collector",
                signal="out",
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        node = "node_2" if self.diodes == "fitted" else "base_2"
        begins = self.thrown(site, "on").begins
        limits = ((begins, f"{show(begins, 'V')}, conducts here"),)
        return (
            Watch(id="base", title="Thrown base", unit="V", signal=node, place=3, limits=limits),
            Watch(id="out", title="Astable", unit="V", signal="out", place=4),
        )

    def plates(self, site: Site) -> tuple[Throw, ...]:
        return tuple(
            Throw(
                f"timing_{own}",
                f"{site.ref(f'switch_{other}')}'s collector",
                f"{site.ref(f'switch_{own}')}'s base",
                site.ref(f"base_{own}"),
                site.ref(f"collector_{other}"),
            )
            for own, other in (("1", "2"), ("2", "1"))
        )

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_transistor_astable(pen, site, symbol_of(self.c_time), self.diodes == "fitted")
