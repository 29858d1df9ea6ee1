"""What one-button latches share: a capacitor that remembers the opposite of the state, and two NPN.

One NPN pulls the switch on, the other empties the memory meanwhile; both bases are held through the holding
resistor from a net that is up while the switch is on. The button lays the memory on the bases: full, it turns
on; empty, it turns off.
"""

from __future__ import annotations

import math
from abc import abstractmethod
from collections.abc import Iterable, Iterator
from typing import Annotated, ClassVar

from ...cards.card import BipolarCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import StateRow
from ..contract.facts import Contact
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.ports import Port
from ..contract.scenes import UPSTREAM, Act, Play, Probe, Scene, Watch
from ..contract.site import Site
from ..rules.held import (
    JUNCTION,
    OFF_BELOW,
    OVERDRIVE,
    SHORT,
    WASTE,
    empties,
    falls_check,
    keeps,
    waste_bound,
)
from ..rules.trigger import PRESS
from ..say.checks import Check, check, high, when
from ..say.windows import Bound, Window, bound, window
from ..say.wording import Say, Sentence, Word
from .base import Uncommanded

EMPTY = 3  # time constants after which the memory counts as changed
ENOUGH = 2.0  # volts of the memory that turn it on


class Memorised(Uncommanded):
    """A kind says from which net it is held, what its pulling NPN carries and how soon it lets go."""

    stateful = True
    waste: ClassVar[float] = WASTE  # what holding may take [A]

    npn: str = "npn-40v-200ma"
    r_hold: Annotated[float, Q("Ω", 1e2, 1e7)] = 56e3
    r_base: Annotated[float, Q("Ω", 1e2, 1e6)] = 10e3
    r_empty_base: Annotated[float, Q("Ω", 1e2, 1e6)] = 10e3
    r_bleed: Annotated[float, Q("Ω", 1e2, 1e6)] = 22e3
    c_base: Annotated[float, Q("F", 1e-12, 1e-5)] = 100e-9
    r_charge: Annotated[float, Q("Ω", 1e3, 1e8)] = 1e6
    c_memory: Annotated[float, Q("F", 1e-8, 1e-2)] = 10e-6
    r_empty: Annotated[float, Q("Ω", 1e2, 1e6)] = 4.7e3
    r_button: Annotated[float, Q("Ω", 10.0, 1e5)] = 470.0
    again_within: Annotated[float, Q("s", 1e-3, 1e3)] = 3.0

    @property
    def over_load(self) -> bool:
        """Whether its loop closes over the load."""
        return True

    @property
    @abstractmethod
    def held_from(self) -> str:
        """The net that holds it: up while it is on."""

    @abstractmethod
    def pulled(self, volts: float) -> float:
        """What the pulling NPN must carry [A]."""

    @abstractmethod
    def letting_go(self, site: Site) -> float:
        """How long the switch takes to open once its NPN is off [s]."""

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
        yield resistor(site, "base_2", "Base resistor of the emptying NPN", "r_empty_base", "base_2", "hold")
        yield resistor(site, "bleed", "Pull-down", "r_bleed", "hold", "zero")
        yield capacitor(site, "base", "Bounce capacitor", "c_base", "hold", "zero")
        yield resistor(site, "hold", "Holding resistor", "r_hold", self.held_from, "hold")
        yield from_card(site, "puller", "Q", "npn", {"c": "pulled", "b": "base_1", "e": "zero"})
        yield resistor(site, "base_1", "Base resistor of the pulling NPN", "r_base", "hold", "base_1")

    # --- its loop -----------------------------------------------------------------------------------
    def held(self, volts: float) -> float:
        """The pulling NPN's base current while it holds itself [A]: pull-down and the other base share."""
        bases = 1 / self.r_base + 1 / self.r_empty_base
        node = (volts / self.r_hold + JUNCTION * bases) / (1 / self.r_hold + 1 / self.r_bleed + bases)
        return max(node - JUNCTION, 0.0) / self.r_base

    def lets_go(self, site: Site) -> float:
        """How long until it surely does not hold itself any more [s]: its load's own capacitor counted."""
        least = keeps(self.r_hold, self.r_bleed)
        return self.letting_go(site) + (empties(site, least, self.r_hold) if self.over_load else 0.0)

    def left(self, volts: float) -> float:
        """What the bases keep while the empty memory lies on them [V]."""
        kept = volts * self.r_empty / self.r_charge
        return kept + volts * self.r_button / (self.r_button + self.r_hold)

    def grace(self, volts: float) -> float:
        """How long the empty memory takes what holds the bases, until it has filled itself [s]."""
        return max(OFF_BELOW - self.left(volts), 0.0) * self.c_memory * self.r_hold / volts

    def waits(self, site: Site) -> tuple[float, float]:
        """How long after turning on and after turning off the next press counts [s]."""
        tau = self.r_charge * self.c_memory
        filled = tau * math.log(site.rail.low / max(site.rail.low - ENOUGH, 1e-3))
        return EMPTY * self.r_empty * self.c_memory, filled

    # --- what is said -------------------------------------------------------------------------------
    def memory_checks(self, site: Site) -> Iterator[Check]:
        """Whether each press turns it over once: held for long, short, and soon again."""
        yield self._held_down(site)
        yield self._taken(site)
        yield self._shortest(site)
        if self.over_load:
            cure = "Hold the button longer, or take the soft latch whose pilot leaves the load out."
            least = keeps(self.r_hold, self.r_bleed)
            yield falls_check(site, least, empties(site, least, self.r_hold), cure)
        yield self._again(site)
        contact = site.told("contact", Contact)
        if contact is not None:
            yield self._gulp(site, contact)

    def _held_down(self, site: Site) -> Check:
        rail = site.rail
        crept = rail.high * self.r_bleed / (self.r_bleed + self.r_charge)
        return check(
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

    def _taken(self, site: Site) -> Check:
        rail, left = site.rail, self.left
        return check(
            "takes_base",
            "A press takes what holds it",
            "need",
            "turns off",
            unit="V",
            nominal=left(rail.typical),
            worst=left(rail.high),
            most=OFF_BELOW,
            at=high("a hot transistor"),
            says=f"Pressed, the bases are left {show(left(rail.high), 'V')}; off is under {OFF_BELOW} V.",
            formula="V · R_{empty} / R_{charge} + V · R_{button} / (R_{button} + R_{hold}) ≤ 0.4 V",
            numbers=f"{rail.high:.3g} V · {show_part(self.r_button)} / {show_part(self.r_hold)}",
            because="The empty memory must take all that comes through the holding resistor.",
            cure=f"Make {site.ref('button')} smaller, or {site.ref('hold')} larger.",
        )

    def _shortest(self, site: Site) -> Check:
        go, grace = self.letting_go(site), self.grace(site.rail.high)
        return check(
            "press",
            "Shortest press counts",
            "need",
            "time",
            unit="s",
            nominal=go,
            worst=go * 1.5,
            most=min(SHORT, grace),
            at=when("a quick tap, a hot transistor"),
            says=f"A press of {show(go, 's')} turns it off; a quick one lasts {show(SHORT, 's')}, and after "
            f"{show(grace, 's')} the memory has filled too far.",
            formula="R_{pull} · (C_{iss} + C_{gate}) · ln(V / V_{th}) + R_{base} · C_{base} "
            "≤ (0.4 V − V_{left}) · C_{memory} · R_{hold} / V",
            numbers=f"= {show(go, 's')} against {show(grace, 's')}",
            because="The switch must have let go before the button does, and before what holds it has filled "
            "the memory.",
            cure="Make the capacitor at its gate or base smaller, or the pull-up.",
        )

    def _again(self, site: Site) -> Check:
        after_on, after_off = self.waits(site)
        slow = max(after_on, after_off)
        return check(
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

    def _gulp(self, site: Site, contact: Contact) -> Check:
        amps = site.rail.high / self.r_button
        return check(
            "button_gulp",
            "Button's first moment",
            "limit",
            "surge",
            unit="A",
            nominal=site.rail.typical / self.r_button,
            worst=amps,
            most=contact.most,
            at=high("the memory full"),
            says=f"{show(amps, 'A')} of {show(contact.most, 'A')} as the memory meets the bases.",
            formula="I = V / R_{button}",
            numbers=f"{show(site.rail.high, 'V')} / {show_part(self.r_button)}",
            because="A full capacitor gives all it has at once; only this resistor is in its way.",
            cure=f"Make {site.ref('button')} larger.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        rail, gain = site.rail, site.card("npn", BipolarCard).gain_min
        need = self.pulled(rail.low) / (gain / OVERDRIVE)
        node = JUNCTION + need * self.r_base
        taken = node / self.r_bleed + need + (node - JUNCTION) / self.r_empty_base
        kept = rail.high * self.r_empty / self.r_charge
        hold: list[Bound] = [
            waste_bound(site, self.waste),
            bound(
                "low",
                self.r_button * (rail.high / max(OFF_BELOW - kept, 1e-3) - 1),
                "a press takes it",
                detail=f"{OFF_BELOW} V",
                guards="takes_base",
                formula="R ≥ R_{button} · (V / (0.4 V − V_{kept}) − 1)",
                because="The empty memory must take all that comes through it.",
            ),
            bound(
                "high",
                max(rail.low - node, 0.1) / taken,
                "holds itself on",
                detail=show(taken, "A"),
                guards="holds",
                formula="R ≤ (V − V_{base}) / I",
                because="The current through it must feed both bases and the pull-down.",
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
                self.again_within / 1.2 / self.c_memory / math.log(rail.low / max(rail.low - ENOUGH, 1e-3)),
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
        runs, q, memory = site.demand().energised, site.ref("puller"), site.ref("memory")
        holds = f"through {site.ref('hold')} it feeds {q}"
        return (
            StateRow(
                state="Supply plugged in", load="off", why=f"{memory} is empty, and nothing feeds a base"
            ),
            StateRow(state="Pressed while off", load=runs, why=f"{memory} is full and feeds the bases"),
            StateRow(state="Let go", load="stays on", why=holds),
            StateRow(state="Pressed while on", load="off", why=f"{memory} is empty and takes the bases"),
            StateRow(
                state="Pressed again too soon",
                load="may not count",
                why=f"ready {after_on} after turning on, {after_off} after turning off",
            ),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return "Press once and let go, wait three seconds, press again.", "on and stays on, then off"

    def settles(self, site: Site) -> float:
        return 1.3 * max(self.waits(site)) + 2 * self.lets_go(site)

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        press = Act(UPSTREAM, "active", 0.05, PRESS)
        return (
            Scene("idle", "off", ()),
            Scene("active", "on after a press", (press,), look=1.5),
            Scene("rest", "button unplugged", ()),
        )

    def plays(self, site: Site) -> tuple[Play, ...]:
        wait = self.settles(site)

        def presses(*times: float) -> tuple[Act, ...]:
            return tuple(Act(UPSTREAM, "active", t, PRESS) for t in times)

        return (
            Play("Press on, press off", 3 * wait, presses(0.2 * wait, 1.6 * wait)),
            Play("Held down for long", 3 * wait, (Act(UPSTREAM, "active", 0.2 * wait, wait),)),
            Play("Pressed again at once", 2 * wait, presses(0.2 * wait, 0.2 * wait + 0.25)),
            Play("Supply plugged in", 2 * wait, plugged=0.2 * wait),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        main, out = self.main, self.output
        return (
            Probe(id=main, title=f"{main.capitalize()} to 0 V", red=f"{main} strip", signal=main),
            Probe(id="hold", title="Hold strip to 0 V", red="hold strip", signal="hold"),
            Probe(id=out, title=f"{out.capitalize()} to 0 V", red=f"{out} strip", signal=out),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        out = self.output
        return (
            Watch(id="memory", title="Memory", unit="V", signal="memory", place=0),
            Watch(id=out, title=out.capitalize(), unit="V", signal=out, place=3),
            Watch(id="hold", title="Hold", unit="V", signal="hold", place=5),
        )
