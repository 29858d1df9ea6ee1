"""Toggle of two transistors: each press turns it over, as the button is let go.

Two transistors hold each other off. The button lays their common emitters to 0 V; let go, these rise by what
flows through the emitter resistor and both transistors leave off for a moment. The steering capacitors still
hold what was: the one that was off finds more volts at its base, and wins. It needs sides that are alike, so
what makes it come up off must not last: a capacitor that favours one base as the supply comes up. A zener
keeps the supply's own sags from doing what the button does, and a capacitor at the emitters lets them rise
so slowly that what hangs on one collector does not decide the race.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from ...cards.card import BipolarCard, NpnCard, ZenerCard
from ...cards.points import junctions, reverse_volts
from ...fields import Q
from ...quantity import Interval, show, show_part
from ..contract.descriptions import StateRow
from ..contract.facts import Command, Contact, Fact, Level, Take
from ..contract.parts import ELECTROLYTIC, Placed, capacitor, from_card, resistor
from ..contract.ports import Port, rail_in
from ..contract.scenes import UPSTREAM, Act, Play, Probe, Scene, Watch
from ..contract.site import Site
from ..contract.stage import Behaviour
from ..drawing.pairs import draw_toggle
from ..drawing.pen import Pen
from ..rules.held import SHORT
from ..rules.pair import collector_command, saturates
from ..rules.trigger import PRESS
from ..say.checks import Check, Shown, check, high, low, when
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence, Word

V_BE = 0.65  # of a transistor that is on [V]
LIFTS, MOST = 0.3, 0.8  # the emitters' step that turns the one off, and the other still on [V]
ALIKE = 20.0  # times the collector resistor that what hangs on the output must be
REGULATES = 1e-3  # what the zener keeps for itself, to hold its volts [A]
SPENT = 3.0  # time constants of the base resistors after which the next press counts
COMES = 3.0  # times as long as the steering capacitors fill that one base must be favoured


class Toggle(Behaviour):
    title = "Toggle, two transistors"
    purpose = "Each press of one button turns the load over, as it is let go."
    choose = "One button, plain parts, and a few milliamps all the time do no harm."
    avoid = "It must take nothing while it is off, or act as the button goes down."
    picture = "latch"
    stateful = True
    cards = {"card": NpnCard, "zener": ZenerCard}

    kind: Literal["toggle"] = "toggle"
    card: str = "npn-40v-200ma"
    zener: str = "zener-5v1"
    r_feed: Annotated[float, Q("Ω", 10.0, 1e5)] = 390.0
    c_feed: Annotated[float, Q("F", 1e-9, 1e-3)] = 1e-6
    r_c: Annotated[float, Q("Ω", 100.0, 1e5)] = 1e3
    r_cross: Annotated[float, Q("Ω", 1e3, 1e7)] = 15e3
    c_steer: Annotated[float, Q("F", 1e-8, 1e-3)] = 10e-6
    r_emitter: Annotated[float, Q("Ω", 1.0, 1e5)] = 100.0
    c_emitter: Annotated[float, Q("F", 1e-11, 1e-4)] = 1e-6
    r_start: Annotated[float, Q("Ω", 100.0, 1e6)] = 10e3
    c_start: Annotated[float, Q("F", 1e-8, 1e-3)] = 10e-6
    again_within: Annotated[float, Q("s", 1e-3, 1e2)] = 1.0

    @property
    def summary(self) -> str:
        return f"Toggle, {show_part(self.r_c)} and {show(self.c_steer, 'F')}"

    def ports(self) -> tuple[Port, ...]:
        return (
            rail_in(),
            Port("contact", "contact", "in", {"com": "emitters", "make": "zero"}, form="make"),
            Port("out", "command", "out", {"out": "out", "ref": "zero"}),
        )

    def tell(self, port: str, site: Site) -> Fact | None:
        return self.gives(site) if port == "out" else None

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "feed", "Zener's resistor", "r_feed", "plus", "fed")
        yield from_card(site, "reference", "Z", "zener", {"a": "zero", "k": "fed"})
        yield capacitor(site, "smooth", "Capacitor at the zener", "c_feed", "fed", "zero")
        for own, collector, across in (("off", "out", "other"), ("on", "other", "out")):
            base, side = f"base_{own}", f"{own} side"
            yield resistor(site, f"collector_{own}", f"Collector resistor, {side}", "r_c", "fed", collector)
            legs = {"c": collector, "b": base, "e": "emitters"}
            yield from_card(site, f"switch_{own}", "Q", "card", legs)
            yield resistor(site, f"cross_{own}", f"Base resistor, {side}", "r_cross", across, base)
            yield capacitor(site, f"steer_{own}", f"Steering capacitor, {side}", "c_steer", across, base)
        yield resistor(site, "emitter", "Emitter resistor", "r_emitter", "emitters", "zero")
        yield capacitor(site, "calm", "Capacitor at the emitters", "c_emitter", "emitters", "zero")
        yield resistor(site, "start", "Starting resistor", "r_start", "fed", "start")
        yield capacitor(site, "start_c", "Starting capacitor", "c_start", "start", "base_off")

    # --- its states ---------------------------------------------------------------------------------
    def fed(self, site: Site, volts: float) -> float:
        """What its zener gives both sides [V]."""
        card = site.card("zener", ZenerCard)
        spare = (volts - card.voltage) / self.r_feed - self._takes(card.voltage)
        if spare <= 0.0:
            return volts - self.r_feed * self._takes(card.voltage)
        return min(reverse_volts(card, spare), volts)

    def _takes(self, fed: float) -> float:
        """What both sides take of the zener's volts [A]."""
        return fed / (self.r_c + self.r_emitter) + fed / (self.r_c + self.r_cross)

    def step(self, fed: float) -> float:
        """How far the emitters come down as the button is pressed [V]."""
        return self._takes(fed) * self.r_emitter

    def _drive(self, fed: float) -> float:
        """The base current of the one that is on [A]."""
        return max(fed - V_BE - self.step(fed), 0.0) / (self.r_c + self.r_cross)

    def fills(self) -> float:
        """The time constant in which a press lets the steering capacitors follow [s]."""
        return self.r_c * self.c_steer

    def waits(self) -> float:
        """How long after a press the next one counts [s]."""
        return SPENT * self.r_cross * self.c_steer

    def gives(self, site: Site) -> Command:
        """The off side's collector: up while that one does not conduct."""
        rail, card = site.rail, site.card("card", BipolarCard)
        fed = Interval(*(self.fed(site, v) for v in (rail.low, rail.typical, rail.high)))
        keeps = junctions(card, fed.typical / self.r_c, max(self._drive(fed.typical), 1e-9)).v_ce
        down = Interval(*(keeps + self.step(v) for v in (fed.low, fed.typical, fed.high)))
        base = collector_command(rail, self.r_c, keeps, "toggle", "nobody presses", "comes up off")

        def behind(v: float) -> float:
            return (v * self.r_cross + (V_BE + self.step(v)) * self.r_c) / (self.r_c + self.r_cross)

        return replace(
            base,
            high=Level(Interval(*(behind(v) for v in (fed.low, fed.typical, fed.high))), self.r_c),
            low=Level(down, self.r_emitter),
            rest=replace(base.rest, volts=down.typical, ohms=self.r_emitter),
            follows=False,
        )

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        card, fed = site.card("card", BipolarCard), self.fed(site, site.rail.low)
        q, part = site.ref("switch_off"), site.ref("cross_off")
        drive, amps = max(self._drive(fed), 1e-9), fed / (self.r_c + self.r_emitter)
        yield saturates(card, id="holds", q=q, drive=drive, amps=amps, part=part)
        yield from self._step(site, fed)
        yield self._alike(site)
        yield from self._supply_checks(site)
        yield from self._time_checks(site)
        yield self._reversed(site, card)

    def _step(self, site: Site, fed: float) -> Iterator[Check]:
        step, off, r = self.step(fed), 2 * site.tolerance, site.ref("emitter")
        told: dict[str, Any] = {
            "unit": "V",
            "nominal": step,
            "formula": "V_{E} = V_{fed} · R_{E} / (R_{C} + R_{E})",
            "numbers": f"{show(fed, 'V')} · {show_part(self.r_emitter)} / {show_part(self.r_c)}",
            "at": low("both resistors off one way"),
        }
        yield check(
            "step",
            "Let go, the one that conducts leaves off",
            "need",
            "turns off",
            worst=step * (1 - off),
            least=LIFTS,
            says=f"The emitters rise by {show(step, 'V')} as the button is let go; {LIFTS} V are enough.",
            because="Too little, and the one that conducts goes on conducting.",
            cure=f"Make {r} larger.",
            shown=Shown("emitters", "idle", within=0.1, floor=0.03),
            **told,
        )
        yield check(
            "step_most",
            "Let go, the other one comes on",
            "need",
            "turns on",
            worst=step * (1 + off),
            most=MOST,
            says=f"The emitters rise by {show(step, 'V')} as the button is let go; {MOST} V at most.",
            because="Too much, and the other one does not come on surely.",
            cure=f"Make {r} smaller.",
            **told,
        )

    def _alike(self, site: Site) -> Check:
        hung = Take.sum(list(site.seen("out"))).ohms
        ratio = hung / self.r_c if math.isfinite(hung) else 1e3
        return check(
            "alike",
            "Both sides are alike",
            "practice",
            "level",
            unit="",
            nominal=ratio,
            least=ALIKE,
            at=when("what hangs on the output counted"),
            says=f"What hangs on the output takes as {show(hung, 'Ω')} do: {ratio:.3g} times "
            f"{show_part(self.r_c)}.",
            formula="R_{load} ≥ 20 · R_{C}",
            numbers=f"{show(hung, 'Ω')} / {show_part(self.r_c)}",
            because="A side that is loaded loses against the other one, and stays where it is.",
            cure="Join a MOSFET's gate, or a base through a larger resistor.",
        )

    def _supply_checks(self, site: Site) -> Iterator[Check]:
        rail, zener, z = site.rail, site.card("zener", ZenerCard), site.ref("reference")
        volts = zener.voltage * (1 + zener.tolerance)
        given, taken = (rail.low - volts) / self.r_feed, self._takes(volts)
        yield check(
            "regulates",
            "The zener holds its volts",
            "need",
            "volts",
            unit="A",
            nominal=(rail.low - zener.voltage) / self.r_feed - self._takes(zener.voltage),
            worst=given - taken,
            least=REGULATES,
            at=low("a zener of many volts"),
            says=f"{show(max(given, 0.0), 'A')} come, {show(taken, 'A')} are taken; {z} wants "
            f"{show(REGULATES, 'A')}.",
            formula="(V − V_{Z}) / R_{feed} − V_{Z} / (R_{C} + R_{E}) ≥ 1 mA",
            numbers=f"{show(given, 'A')} − {show(taken, 'A')}",
            because="Without it every sag of the supply turns the toggle over as a press does.",
            cure=f"Make {site.ref('feed')} smaller, or the collector resistors larger.",
        )
        least = zener.voltage * (1 - zener.tolerance)
        watts = least * ((rail.high - least) / self.r_feed - self._takes(least))
        yield check(
            "zener_heat",
            "Zener's heat",
            "limit",
            "heat",
            unit="W",
            nominal=watts,
            most=zener.power,
            at=high("a zener of few volts"),
            says=f"{show(max(watts, 0.0), 'W')} of {show(zener.power, 'W')}.",
            formula="P = V_{Z} · ((V − V_{Z}) / R_{feed} − I)",
            numbers=f"= {show(watts, 'W')}",
            because="What both sides do not take, the zener does.",
            cure=f"Make {site.ref('feed')} larger.",
        )

    def _time_checks(self, site: Site) -> Iterator[Check]:
        fills, wait, contact = self.fills(), self.waits(), site.told("contact", Contact)
        c = site.ref("steer_on")
        yield check(
            "press",
            "Shortest press counts",
            "need",
            "time",
            unit="s",
            nominal=fills,
            worst=1.5 * fills,
            most=SHORT,
            at=when("large capacitors, a quick tap"),
            says=f"A press of {show(1.5 * fills, 's')} counts; a quick one lasts {show(SHORT, 's')}.",
            formula="R_{C} · C_{steer}",
            numbers=f"{show_part(self.r_c)} · {show(self.c_steer, 'F')} = {show(fills, 's')}",
            because="During the press the capacitors must follow the emitters down.",
            cure=f"Make {c} and its twin smaller.",
        )
        if contact is not None:
            yield check(
                "bounce",
                "Bounce counts once",
                "need",
                "time",
                unit="s",
                nominal=fills,
                worst=fills * 0.8,
                least=contact.bounce,
                at=when("small capacitors"),
                says=f"It remembers for {show(fills, 's')}; the button bounces for "
                f"{show(contact.bounce, 's')}.",
                formula="R_{C} · C_{steer} ≥ t_{bounce}",
                numbers=f"{show_part(self.r_c)} · {show(self.c_steer, 'F')} = {show(fills, 's')}",
                because="A capacitor that has followed before the contact rests is turned over again by it.",
                cure=f"Make {c} and its twin larger.",
            )
        yield check(
            "again",
            "Ready for the next press",
            "wish",
            "time",
            unit="s",
            nominal=wait,
            worst=1.2 * wait,
            most=self.again_within,
            at=when("large capacitors"),
            says=f"{show(wait, 's')} after the last one.",
            formula="3 · R_{cross} · C_{steer}",
            numbers=f"3 · {show_part(self.r_cross)} · {show(self.c_steer, 'F')}",
            because="The steering capacitors must have come to rest first.",
            cure=f"Make {c} and its twin smaller.",
            wish="again_within",
        )
        favoured = self.r_start * self.c_start
        yield check(
            "comes_up_off",
            "Comes up off",
            "need",
            "plugged in",
            unit="s",
            nominal=favoured,
            worst=0.8 * favoured,
            least=COMES * fills,
            at=when("a small starting capacitor"),
            says=f"One base is favoured for {show(favoured, 's')}; the steering capacitors fill within "
            f"{show(fills, 's')}. On a supply that takes longer to come up it is a race.",
            formula="R_{start} · C_{start} ≥ 3 · R_{C} · C_{steer}",
            numbers=f"{show_part(self.r_start)} · {show(self.c_start, 'F')} = {show(favoured, 's')}",
            because="Two sides that are alike race: a capacitor decides it, for as long as it fills.",
            cure=f"Make {site.ref('start_c')} larger.",
        )

    def _reversed(self, site: Site, card: BipolarCard) -> Check:
        fed = self.fed(site, site.rail.high)
        thrown = max(fed - self.step(fed) - V_BE, 0.0)
        q = site.ref("switch_on")
        return check(
            "thrown",
            "Bases thrown below their emitters",
            "limit",
            "peak",
            unit="V",
            nominal=thrown,
            most=card.v_ebo,
            at=high("as it turns over"),
            says=f"{show(thrown, 'V')} of {show(card.v_ebo, 'V')} at {q}'s base.",
            formula="V_{EB} = V_{fed} − V_{E} − V_{BE}",
            numbers=f"= {show(thrown, 'V')}",
            because="As one collector falls, its steering capacitor takes the other base down with it.",
            cure="Take a zener of fewer volts.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        fed = self.fed(site, site.rail.low)
        off = 1 - 2 * site.tolerance
        contact = site.told("contact", Contact)
        share = LIFTS / off / fed
        step = [
            bound(
                "low",
                self.r_c * share / max(1 - share, 1e-3),
                "turns over",
                detail=f"{LIFTS} V",
                guards="step",
                formula="R_{E} ≥ R_{C} · V_{E} / (V_{fed} − V_{E})",
                because="Smaller, and the one that conducts does not let go.",
            ),
            bound(
                "high",
                self.r_c * MOST / (1 + 2 * site.tolerance) / max(fed - MOST, 1e-3),
                "the other one wins",
                detail=f"{MOST} V",
                guards="step_most",
                formula="R_{E} ≤ R_{C} · V_{E} / (V_{fed} − V_{E})",
                because="Larger, and neither wins surely.",
            ),
        ]
        steer = [
            bound(
                "high",
                SHORT / 1.5 / self.r_c,
                "a quick press counts",
                detail=show(SHORT, "s"),
                guards="press",
                formula="C ≤ t / (1.5 · R_{C})",
                because="During the press it must follow the emitters down.",
            )
        ]
        if contact is not None:
            steer.append(
                bound(
                    "low",
                    contact.bounce / 0.8 / self.r_c,
                    "bounce counts once",
                    detail=show(contact.bounce, "s"),
                    guards="bounce",
                    formula="C ≥ t_{bounce} / (0.8 · R_{C})",
                    because="It must remember longer than the contact bounces.",
                )
            )
        return (
            window(site, "r_emitter", "emitter", "emitter resistor", step),
            window(site, "c_steer", "steer_on", "steering capacitors", steer),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        asked = (Word(text="Each press turns it over; the next one counts within"), say.field("again_within"))
        return {"behave": asked}

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        on, off = site.ref("switch_on"), site.ref("switch_off")
        start, wait = site.ref("start_c"), show(self.waits(), "s", 2)
        return (
            StateRow(state="Supply plugged in", load="off", why=f"{start} feeds {off} first"),
            StateRow(state="Pressed", load="as it was", why="the emitters lie at 0 V"),
            StateRow(state="Let go", load="turned over", why=f"the one of {on} and {off} that was off wins"),
            StateRow(state="Pressed again too soon", load="may not count", why=f"ready after {wait}"),
            StateRow(
                state="A supply that comes up slowly",
                load="on or off",
                why=f"slower than {show(self.r_start * self.c_start, 's', 2)} it is a race",
            ),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return "Press and let go, wait a second, press and let go again.", "on and stays on, then off"

    def settles(self, site: Site) -> float:
        return 1.3 * self.waits()

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        begin = 5 * self.r_start * self.c_start
        press = Act(UPSTREAM, "active", begin, PRESS)
        later = begin + PRESS + 2 * self.waits()
        return (
            Scene("idle", "off", (), look=begin, cold=True),
            Scene("active", "on after a press", (press,), look=later, cold=True),
            Scene("rest", "button unplugged", (), look=begin, cold=True),
        )

    def plays(self, site: Site) -> tuple[Play, ...]:
        begin, wait = 5 * self.r_start * self.c_start, 1.3 * self.waits()

        def presses(*times: float) -> tuple[Act, ...]:
            return tuple(Act(UPSTREAM, "active", begin + t, PRESS) for t in times)

        stop = begin + 2 * (wait + PRESS)
        return (
            Play("Press on, press off", stop, presses(0.0, wait + PRESS), 0.02),
            Play("Held down for long", stop, (Act(UPSTREAM, "active", begin, wait),), 0.02),
            Play("Pressed again at once", stop, presses(0.0, 2 * PRESS), 0.02),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (
            Probe(id="fed", title="Zener to 0 V", red="fed strip", signal="fed"),
            Probe(id="emitters", title="Emitters to 0 V", red="emitters strip", signal="emitters"),
            Probe(id="out", title="Output to 0 V", red="out strip", signal="out"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            Watch(id="base_on", title="On side's base", unit="V", signal="base_on", place=5),
            Watch(id="base_off", title="Off side's base", unit="V", signal="base_off", place=5),
            Watch(id="out", title="Toggle", unit="V", signal="out", place=4),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_toggle(pen, site, self.c_steer >= ELECTROLYTIC)
