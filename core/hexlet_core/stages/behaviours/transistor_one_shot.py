"""Transistor one-shot: a press turns one transistor off, and a capacitor keeps it off for a set time.

t = R_B·C·ln((V − V_begin) / (V − V_BE)), about R_B·C·ln 2: `rules.pair.Thrown`. A button straight at the base
empties the capacitor while it is held, so that the time hangs on the press; a small capacitor before the
base passes only its beginning on, and a diode in the base's lead keeps the rest from the capacitor and the
junction from breaking down.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...cards.card import BipolarCard, DiodeCard, NpnCard
from ...cards.points import active_base
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import Finder, StateRow, Throw
from ..contract.facts import Command, Fact, Take
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.ports import Port, rail_in
from ..contract.scenes import MOMENT, UPSTREAM, Act, Play, Probe, Scene, Watch
from ..contract.site import Site
from ..contract.stage import Behaviour
from ..drawing.pairs import draw_transistor_one_shot
from ..drawing.pen import Pen
from ..rules.pair import Thrown, collector_command, reversed_capacitor, reversed_check, saturates
from ..rules.timing import leak_of, symbol_of, timing_capacitor, tolerance_of
from ..rules.trigger import PRESS
from ..rules.trimmed import Counted, time_checks, tuned_pairs, tuned_windows, tuning
from ..rules.wanted import Telling, Times, asked_for, ends_of, spread_words
from ..say.checks import Change, Check, Shown, check, low
from ..say.windows import Window
from ..say.wording import Say, Sentence, Word

SPREAD_VBE = 0.03  # how far a base-emitter voltage is off, either way [V]


class TransistorOneShot(Counted, Behaviour):
    title = "Transistor one-shot"
    purpose = "One press, and the load is on for a set time: two transistors and a capacitor."
    choose = "A tenth of a second to some seconds, and no timer is at hand."
    avoid = "The time must be right to a few per cent over the supply, or longer than some ten seconds."
    picture = "oneshot"
    cards = {"card": NpnCard, "diode": DiodeCard}

    resistor = ("r_time", "time", "timing resistor")
    capacitor = ("c_time", "timing", "timing capacitor")

    kind: Literal["transistor_one_shot"] = "transistor_one_shot"
    card: str = "npn-40v-200ma"
    r_c: Annotated[float, Q("Ω", 100.0, 1e6)] = 1.5e3
    r_time: Annotated[float, Q("Ω", 100.0, 1e8)] = 33e3
    c_time: Annotated[float, Q("F", 1e-11, 0.1)] = 47e-6
    r_hold: Annotated[float, Q("Ω", 100.0, 1e8)] = 18e3
    r_pull: Annotated[float, Q("Ω", 100.0, 1e8)] = 10e3
    trigger: Literal["coupled", "direct"] = "coupled"
    c_trigger: Annotated[float, Q("F", 1e-11, 1e-3)] = 470e-9
    r_bleed: Annotated[float, Q("Ω", 1e3, 1e8)] = 330e3
    diodes: Literal["fitted", "none"] = "fitted"
    diode: str = "diode-200ma-100v"
    r_base: Annotated[float, Q("Ω", 1e3, 1e8)] = 220e3
    wanted: Annotated[float, Q("s", 1e-5, 1e5)] = 1.1
    at_least: Annotated[float, Q("s", 1e-6, 1e5)] = 0.8
    at_most: Annotated[float, Q("s", 1e-5, 1e6)] = 1.5

    @property
    def summary(self) -> str:
        return f"Transistor one-shot, {show(math.log(2) * self.ohms * self.c_time, 's', 2)}"

    def ports(self) -> tuple[Port, ...]:
        pressed = "touch" if self.trigger == "coupled" else "base_2"
        return (
            rail_in(),
            Port("contact", "contact", "in", {"com": pressed, "make": "zero"}, form="make"),
            Port("out", "command", "out", {"out": "out", "ref": "zero"}),
        )

    def tell(self, port: str, site: Site) -> Fact | None:
        return self.gives(site) if port == "out" else None

    def gives(self, site: Site) -> Command:
        """The second collector, high for as long as that transistor is off."""
        made, words = self.thrown(site, free=True), "is low until it is pressed"
        return collector_command(site.rail, self.r_c, made.low, "one-shot", "nobody presses", words)

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        fitted = self.diodes == "fitted"
        node = "node" if fitted else "base_2"
        yield resistor(site, "collector_1", "Collector resistor 1", "r_c", "plus", "collector")
        yield resistor(site, "collector_2", "Collector resistor 2", "r_c", "plus", "out")
        yield from_card(site, "switch_1", "Q", "card", {"c": "collector", "b": "base_1", "e": "zero"})
        yield from_card(site, "switch_2", "Q", "card", {"c": "out", "b": "base_2", "e": "zero"})
        yield resistor(site, "hold", "Holding resistor", "r_hold", "out", "base_1")
        yield resistor(site, "pull", "Base 1 to 0 V", "r_pull", "base_1", "zero")
        yield resistor(site, "time", "Timing resistor", "r_time", "plus", self.behind(node))
        yield from self.trimmer(site, node)
        yield timing_capacitor(site, "timing", "Timing capacitor", "c_time", "collector", node)
        if fitted:
            legs = {"a": "node", "k": "base_2"}
            yield from_card(site, "keep", "D", "diode", legs, title="Base diode")
            yield resistor(site, "bleed_2", "Base 2 to 0 V", "r_base", "base_2", "zero")
        if self.trigger == "coupled":
            yield capacitor(site, "coupling", "Coupling capacitor", "c_trigger", "base_2", "touch")
            yield resistor(site, "bleed", "Coupling's bleed", "r_bleed", "touch", "base_2")

    # --- its time -----------------------------------------------------------------------------------
    def thrown(self, site: Site, volts: float | None = None, free: bool = False) -> Thrown:
        """The second base's way back, everything at its nominal value; `free` leaves out what hangs on it."""
        hung = [] if free else list(site.seen("out"))
        beside = [Take(self.r_hold + self.r_pull), *hung]
        rail, card = site.rail.typical if volts is None else volts, site.card("card", BipolarCard)
        return Thrown(
            volts=rail,
            base=self.ohms,
            farads=self.c_time,
            collector=self.r_c,
            feeds=1 / (1 / self.r_c + 1 / Take.sum(beside).ohms),
            card=card,
            diode=site.card("diode", DiodeCard) if self.diodes == "fitted" else None,
            bleed=self.r_base if self.diodes == "fitted" else math.inf,
            leak=leak_of(self.c_time),
            turns=self._turns(card, rail, Take.sum(hung).ohms),
        )

    def _open(self, site: Site, rail: float) -> float:
        """What the second collector comes to while its transistor is off [V]."""
        hung = Take.sum(list(site.seen("out"))).ohms
        return rail / (1 + self.r_c / hung)

    def _turns(self, card: BipolarCard, rail: float, hung: float) -> float:
        """What the second one carries when the first lets go, or the output is half-way down [A]."""
        needs = active_base(card, rail / self.r_c) + card.v_be_on / self.r_pull
        falls = max(card.v_be_on + needs * self.r_hold, rail / (1 + self.r_c / hung) / 2)
        return (rail - falls) / self.r_c - (falls - card.v_be_on) / self.r_hold - falls / hung

    def times(self, site: Site) -> Times:
        """Its time, and over all tolerances; the base-emitter volts move it a little more."""
        r, c, made = site.tolerance, tolerance_of(self.c_time), self.thrown(site)
        more = 2 * SPREAD_VBE / site.rail.typical

        def time(ohms: float, farads: float) -> float:
            return replace(made, base=made.base * (1 + ohms), farads=made.farads * (1 + farads)).seconds

        times = Times(made.seconds, time(-r, -c) * (1 - more), time(r, c) * (1 + more))
        return times.later(self.plus)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        made, times = self.thrown(site), self.own(site)
        r, c = site.ref("time"), site.ref("timing")
        shown = Shown(
            "out",
            "pulse",
            "width",
            look=1.6 * times.nominal,
            level=self._open(site, site.rail.typical) / 2,
            within=0.03,
            plus=self.plus,
            because="where a base begins to conduct is taken from a junction's own volts",
        )
        telling = Telling(
            says=self.says,
            formula="t = R_{B} × C × ln((V − V_{begin}) / (V − V_{BE}))",
            numbers=(
                f"{self.ohms_words} × {show(self.c_time, 'F')}, {show(made.bottom, 'V')} to "
                f"{show(made.begins, 'V')}: {show(times.nominal, 's')}"
            ),
            because=spread_words(site, c, self.c_time, r),
            part=r,
            shown=shown if self.trigger == "coupled" and times.nominal > 0 else None,
        )
        yield from time_checks(site, self, telling)
        yield from self._base_checks(site)
        yield self._independent(site)

    def _base_checks(self, site: Site) -> Iterator[Check]:
        card, rail = site.card("card", BipolarCard), site.rail
        made = self.thrown(site, rail.low)
        opened = self._open(site, rail.low)
        held = max(opened - 0.7, 0.0) / (self.r_c * opened / rail.low + self.r_hold) - 0.7 / self.r_pull
        q1, q2 = site.ref("switch_1"), site.ref("switch_2")
        bases = (
            (q2, "saturates_2", made.drive, site.ref("time")),
            (q1, "saturates_1", max(held, 1e-9), site.ref("hold")),
        )
        for q, id, drive, part in bases:
            yield saturates(card, id=id, q=q, drive=drive, amps=rail.low / self.r_c, part=part)
        cure = Change(path=site.path("diodes"), value="fitted")
        top = self.thrown(site, rail.high)
        yield reversed_check(top, "the moment it is pressed", cure)
        yield from reversed_capacitor(top, site.ref("timing"))

    def _independent(self, site: Site) -> Check:
        """Whether the time hangs on how long it is pressed."""
        bare = self.trigger == "direct" and self.diodes == "none"
        small = self.c_trigger / self.c_time if self.trigger == "coupled" else 0.0
        c = site.ref("coupling")
        return check(
            "independent",
            "Press does not change the time",
            "practice",
            "time",
            unit="",
            nominal=1.0 if bare else small,
            most=0.05,
            at=low("a long press"),
            says=(
                "A held button empties the capacitor: a long press gives a short time."
                if bare
                else f"{c} is {small:.1%} of the timing capacitor."
                if self.trigger == "coupled"
                else "The diode keeps the press from the capacitor."
            ),
            formula="C_{coupling} ≤ C_{time} / 20",
            numbers=f"{show(self.c_trigger, 'F')} against {show(self.c_time, 'F')}",
            because="What passes the press on takes some of the charge that makes the time.",
            cure="Couple the button through a small capacitor, or fit the base's diode.",
            changes=(Change(path=site.path("trigger"), value="coupled"),),
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        return tuned_windows(site, self)

    def finds(self, site: Site) -> Finder:
        """Capacitors to choose from, each with the resistor that it needs, the nearest first."""
        per = self.thrown(site).seconds / self.ohms / self.c_time
        return tuned_pairs(site, self, per if math.isfinite(per) and per > 0 else math.log(2))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        ways = (("coupled", "through a small capacitor"), ("direct", "straight to the base"))
        kept = (("fitted", "with a base diode"), ("none", "without a base diode"))
        return {
            "behave": (
                *asked_for(say, "One press: on for"),
                *self.counting(say),
                Word(text="The press goes"),
                say.field("trigger", note="the trigger", choices=ways),
                say.field("diodes", note="against breakdown", choices=kept),
                *tuning(say, self),
            )
        }

    # --- what it does -------------------------------------------------------------------------------
    def scenes(self, site: Site) -> tuple[Scene, ...]:
        t = self.own(site).nominal
        half = PRESS + (t / 2 if math.isfinite(t) else 1.0)
        press = min(PRESS, t / 4) if t > 0 else PRESS
        return (
            Scene("idle", "before a press", (Act(UPSTREAM, "idle"),)),
            Scene("active", "while it runs", (Act(UPSTREAM, "active", 0.05, press),), look=half),
            Scene("pulse", "one press", (Act(UPSTREAM, "active", MOMENT, press),), look=0.0),
        )

    def states(self, site: Site) -> tuple[StateRow, ...]:
        made, times = self.thrown(site), self.own(site)
        c, q1, q2 = site.ref("timing"), site.ref("switch_1"), site.ref("switch_2")
        ends = f"on for {show(times.nominal, 's')}, {ends_of(times)}"
        below = f"{show(made.bottom, 'V')} before {q2}'s base: {c} keeps its volts as {q1}'s collector falls"
        held = "on for as long as it is held, or for its time" if self.trigger == "direct" else "its time"
        again = 5 * self.r_c * self.c_time
        return (
            StateRow(state="Before a press", load="off", why=f"{site.ref('time')} keeps {q2} on"),
            StateRow(state="Pressed once", load=ends, why=below),
            StateRow(state="Held past the end", load=held, why="only the start of a press passes"),
            StateRow(
                state="Pressed again too soon",
                load=f"shorter within {show(again, 's', 2)}",
                why=f"{c} is filled through {site.ref('collector_1')}",
            ),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        ends = ends_of(self.promised(site))
        return (
            "Press once and let go: the load comes on, and goes off by itself.",
            f"{self.says[0].lower()}{self.says[1:]} {ends}",
        )

    def settles(self, site: Site) -> float:
        times = self.own(site)
        return 1.1 * times.most + 0.1 if math.isfinite(times.most) else 3 * self.wanted

    def plays(self, site: Site) -> tuple[Play, ...]:
        t = self.own(site).nominal
        t = t if 0 < t < math.inf else self.wanted
        press = min(PRESS, t / 4)
        return (
            Play("One press", 1.7 * t, (Act(UPSTREAM, "active", 0.15 * t, press),)),
            Play("Held past the end", 2.0 * t, (Act(UPSTREAM, "active", 0.15 * t, 1.4 * t),)),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        q = site.ref("switch_2")
        return (
            Probe(id="base", title="Second base to 0 V", red=f"{q} base", signal="base_2", scenes=("idle",)),
            Probe(id="out", title="Second collector to 0 V", red=f"{q} collector", signal="out"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        node = "node" if self.diodes == "fitted" else "base_2"
        begins = self.thrown(site, free=True).begins
        limits = ((begins, f"{show(begins, 'V')}, conducts here"),)
        return (
            Watch(id="base", title="Thrown base", unit="V", signal=node, place=3, limits=limits),
            Watch(id="out", title="One-shot", unit="V", signal="out", place=4),
        )

    def plates(self, site: Site) -> tuple[Throw, ...]:
        first, second = f"{site.ref('switch_1')}'s collector", f"{site.ref('switch_2')}'s base"
        return (Throw("timing", first, second, site.ref("time"), site.ref("collector_1")),)

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_transistor_one_shot(pen, site, symbol_of(self.c_time))
