"""Soft power latch: one button turns the load on and off, and off it takes nothing to speak of.

A P-MOSFET switches. Its NPN holds its gate down as long as a pilot PNP, held down by the same NPN, feeds that
NPN's base: the loop closes at the gate, so that what the load does to its own volts does not matter. A
capacitor remembers the opposite of the state, and the button lays it on the base: full, it turns on; empty,
it turns off.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import BipolarCard, FieldEffectCard, NpnCard, PMosfetCard, PnpCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import StateRow
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.ports import Port
from ..contract.scenes import UPSTREAM, Act, Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.latches import draw_soft_latch
from ..drawing.pen import Pen
from ..rules.trigger import PRESS
from ..say.checks import Check, check, high, when
from ..say.windows import Bound, Window, bound, window
from ..say.wording import Say, Sentence, Word
from .latched import JUNCTION, OFF_BELOW, OVERDRIVE, SHORT, Latched

EMPTY = 3  # time constants after which the memory counts as changed
ENOUGH = 2.0  # volts of the memory that turn it on


class SoftLatch(Latched):
    title = "Soft power latch"
    purpose = "One press turns the load on, the next turns it off; off, it takes next to nothing."
    choose = "A small button shall switch a battery load, and nothing may drain the battery while it is off."
    avoid = "Several buttons in far places, or it must come back on by itself after the supply failed."
    picture = "latch"
    controls = ("gate", "hold")
    cards = {"card": PMosfetCard, "npn": NpnCard, "pilot": PnpCard}

    kind: Literal["soft_latch"] = "soft_latch"
    pilot: str = "pnp-40v-200ma"
    r_pilot: Annotated[float, Q("Ω", 1e3, 1e7)] = 100e3
    r_hold: Annotated[float, Q("Ω", 1e2, 1e7)] = 56e3
    r_base: Annotated[float, Q("Ω", 1e2, 1e6)] = 10e3
    r_bleed: Annotated[float, Q("Ω", 1e2, 1e6)] = 22e3
    c_base: Annotated[float, Q("F", 1e-12, 1e-5)] = 100e-9
    r_charge: Annotated[float, Q("Ω", 1e3, 1e8)] = 1e6
    c_memory: Annotated[float, Q("F", 1e-8, 1e-2)] = 10e-6
    r_empty: Annotated[float, Q("Ω", 1e2, 1e6)] = 12e3
    r_button: Annotated[float, Q("Ω", 10.0, 1e5)] = 820.0
    again_within: Annotated[float, Q("s", 1e-3, 1e3)] = 3.0

    @property
    def summary(self) -> str:
        return f"Soft latch, {show_part(self.r_hold)} Ω"

    def ports(self) -> tuple[Port, ...]:
        return (
            *super().ports(),
            Port("contact", "contact", "in", {"com": "button", "make": "hold"}, form="make"),
        )

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "charge", "Memory's charging resistor", "r_charge", "plus", "memory")
        yield capacitor(site, "memory", "Memory capacitor", "c_memory", "memory", "zero")
        yield resistor(site, "button", "Button's resistor", "r_button", "memory", "button")
        yield resistor(site, "empty", "Memory's emptying resistor", "r_empty", "memory", "emptied")
        yield from_card(site, "emptier", "Q", "npn", {"c": "emptied", "b": "base_2", "e": "zero"})
        yield resistor(site, "base_2", "Base resistor of the emptying NPN", "r_base", "base_2", "hold")
        yield resistor(site, "bleed", "Pull-down", "r_bleed", "hold", "zero")
        yield capacitor(site, "base", "Bounce capacitor", "c_base", "hold", "zero")
        yield resistor(site, "hold", "Holding resistor", "r_hold", "fed", "hold")
        yield from_card(site, "pilot", "Q", "pilot", {"c": "fed", "b": "pilot", "e": "plus"})
        yield resistor(site, "pilot_base", "Pilot's base resistor", "r_pilot", "pilot", "pulled")
        yield from_card(site, "puller", "Q", "npn", {"c": "pulled", "b": "base_1", "e": "zero"})
        yield resistor(site, "base_1", "Base resistor of the pulling NPN", "r_base", "hold", "base_1")
        yield resistor(site, "series", "Gate resistor", "r_gate", "gate", "pulled")
        yield resistor(site, "pull", "Gate pull-up", "r_pull", "plus", "gate")
        yield capacitor(site, "gate", "Gate capacitor", "c_gate", "plus", "gate")
        yield from_card(site, "switch", "Q", "card", {"g": "gate", "d": "drain", "s": "plus"})

    # --- its loop -----------------------------------------------------------------------------------
    def held(self, volts: float) -> float:
        """The base current of each NPN while it holds itself [A]: the pilot feeds, the bleed takes."""
        fed = 1 / self.r_hold + 1 / self.r_bleed + 2 / self.r_base
        node = (volts / self.r_hold + 2 * JUNCTION / self.r_base) / fed
        return max(node - JUNCTION, 0.0) / self.r_base

    def pulled(self, volts: float) -> float:
        """What the pulling NPN must carry [A]: the gate's pull-up and the pilot's base."""
        return volts / (self.r_pull + self.r_gate) + max(volts - JUNCTION, 0.0) / self.r_pilot

    def letting_go(self, site: Site) -> float:
        """How long the gate takes to let go once its NPN is off [s]."""
        card = site.card("card", FieldEffectCard)
        charge = self.r_pull * (card.c_iss + self.c_gate)
        return charge * math.log(max(site.rail.high / card.threshold_min, 1.0)) + self.r_base * self.c_base

    def waits(self, site: Site) -> tuple[float, float]:
        """How long after turning on and after turning off the next press counts [s]."""
        tau = self.r_charge * self.c_memory
        filled = tau * math.log(site.rail.low / max(site.rail.low - ENOUGH, 1e-3))
        return EMPTY * self.r_empty * self.c_memory, filled

    def checks(self, site: Site) -> Iterator[Check]:
        yield from self.switch_checks(site)
        yield from self._loop_checks(site)
        yield from self._press_checks(site)

    def _loop_checks(self, site: Site) -> Iterator[Check]:
        rail, q, r = site.rail, site.ref("puller"), site.ref("hold")
        yield self.holds_check(
            site, f"The pilot feeds {q} through {r}; the pull-down and the other base take their share."
        )
        crept = rail.high * self.r_bleed / (self.r_bleed + self.r_charge)
        yield check(
            "stays_off_held",
            "Stays off while the button is held down",
            "need",
            "turns off",
            unit="V",
            nominal=rail.typical * self.r_bleed / (self.r_bleed + self.r_charge),
            worst=crept,
            most=OFF_BELOW,
            at=high("a hot transistor"),
            says=f"Held down, the base creeps up to {show(crept, 'V')}; it turns on from {OFF_BELOW} V.",
            formula="V · R_{bleed} / (R_{bleed} + R_{charge}) ≤ 0.4 V",
            numbers=f"{rail.high:.3g} V · {show_part(self.r_bleed)} / {show_part(self.r_charge)}",
            because="Through the held button the memory fills again, and would turn it on once more.",
            cure=f"Make {site.ref('charge')} larger.",
        )
        yield self.plugged_check(site)

    def _press_checks(self, site: Site) -> Iterator[Check]:
        go, (after_on, after_off) = self.letting_go(site), self.waits(site)
        yield check(
            "press",
            "Shortest press counts",
            "need",
            "time",
            unit="s",
            nominal=go,
            worst=go * 1.5,
            most=SHORT,
            at=when("a quick tap"),
            says=f"A press of {show(go, 's')} turns it off; a quick one lasts {show(SHORT, 's')}.",
            formula="R_{pull} · (C_{iss} + C_{gate}) · ln(V / V_{th}) + R_{base} · C_{base}",
            numbers=f"= {show(go, 's')}",
            because="The gate must have let go before the button does, or the pilot holds it again.",
            cure=f"Make {site.ref('gate')} or {site.ref('pull')} smaller.",
        )
        slow = max(after_on, after_off)
        yield check(
            "again",
            "Ready for the next press",
            "wish",
            "time",
            unit="s",
            nominal=slow,
            worst=slow * 1.2,
            most=self.again_within,
            at=when("a large capacitor, a low supply"),
            says=f"{show(after_on, 's')} after turning on, {show(after_off, 's')} after turning off.",
            formula="3 · R_{empty} · C;  R_{charge} · C · ln(V / (V − 2 V))",
            numbers=f"{show(after_on, 's')}; {show(after_off, 's')}",
            because="The memory must have changed sides first.",
            cure=f"Make {site.ref('memory')} smaller.",
            wish="again_within",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        rail, gain = site.rail, site.card("npn", BipolarCard).gain_min
        need = self.pulled(rail.low) / (gain / OVERDRIVE)
        node = JUNCTION + need * self.r_base
        taken = node / self.r_bleed + 2 * need
        hold: list[Bound] = [
            self.waste_bound(site),
            bound(
                "high",
                max(rail.low - node, 0.1) / taken,
                "holds itself on",
                detail=show(taken, "A"),
                guards="holds",
                formula="R ≤ (V − V_{base}) / I",
                because="The pilot's current through it must feed both bases and the pull-down.",
            ),
        ]
        crept = [
            bound(
                "low",
                self.r_bleed * (rail.high / OFF_BELOW - 1),
                "stays off while held",
                detail=f"{OFF_BELOW} V",
                guards="stays_off_held",
                formula="R ≥ R_{bleed} · (V / 0.4 V − 1)",
                because="What it lets through the held button must not turn the base on.",
            ),
            bound(
                "high",
                self.again_within / 1.2 / self.c_memory / math.log(rail.low / (rail.low - ENOUGH)),
                "ready for the next press",
                detail=show(self.again_within, "s"),
                guards="again",
                formula="R ≤ t / (C · ln(V / (V − 2 V)))",
                because="It fills the memory while the load is off.",
            ),
        ]
        return (
            window(site, "r_hold", "hold", "holding resistor", hold),
            window(site, "r_charge", "charge", "memory's charging resistor", crept),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (
                Word(text="Each press turns the load over; the next one counts within"),
                say.field("again_within", note="wanted"),
            )
        }

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        after_on, after_off = (show(t, "s", 2) for t in self.waits(site))
        runs = site.demand().energised
        return (
            StateRow(
                state="Supply plugged in", load="off", why=f"{site.ref('gate')} holds the gate at the supply"
            ),
            StateRow(
                state="Pressed while off", load=runs, why=f"{site.ref('memory')} is full and feeds the base"
            ),
            StateRow(state="Let go", load="stays on", why=f"{site.ref('pilot')} feeds {site.ref('puller')}"),
            StateRow(
                state="Pressed while on", load="off", why=f"{site.ref('memory')} is empty and takes the base"
            ),
            StateRow(
                state="Pressed again too soon",
                load="may not count",
                why=f"ready {after_on} after turning on, {after_off} after turning off",
            ),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return "Press once and let go, wait three seconds, press again.", "on and stays on, then off"

    def settles(self, site: Site) -> float:
        return 1.3 * max(self.waits(site))

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        press = Act(UPSTREAM, "active", 0.05, PRESS)
        return (
            Scene("idle", "off", ()),
            Scene("active", "on after a press", (press,), look=1.5),
            Scene("rest", "button unplugged", ()),
        )

    def plays(self, site: Site) -> tuple[Play, ...]:
        wait = 1.3 * max(self.waits(site))

        def presses(*times: float) -> tuple[Act, ...]:
            return tuple(Act(UPSTREAM, "active", t, PRESS) for t in times)

        return (
            Play("Press on, press off", 3 * wait, presses(0.2 * wait, 1.6 * wait)),
            Play("Held down for long", 3 * wait, (Act(UPSTREAM, "active", 0.2 * wait, wait),)),
            Play("Pressed again at once", 2 * wait, presses(0.2 * wait, 0.2 * wait + 0.25)),
            Play("Supply plugged in", 2 * wait, plugged=0.2 * wait),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (
            Probe(id="gate", title="Gate to 0 V", red="gate strip", signal="gate"),
            Probe(id="hold", title="Hold strip to 0 V", red="hold strip", signal="hold"),
            Probe(id="drain", title="Drain to 0 V", red="drain strip", signal="drain"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            Watch(id="memory", title="Memory", unit="V", signal="memory", place=0),
            Watch(id="drain", title="Drain", unit="V", signal="drain", place=3),
            Watch(id="hold", title="Hold", unit="V", signal="hold", place=5),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_soft_latch(pen, site)
