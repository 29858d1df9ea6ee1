"""Held latch: a button turns the load on, another one off; its own output holds it meanwhile.

A P-MOSFET switches. The output feeds the base of the NPN that holds its gate down, so the loop closes over
the load: a short there lets it go. The other button, or a command, takes the base. Its output may feed what
commands it: a timer that cuts its own supply.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import BipolarCard, NpnCard, PMosfetCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import StateRow
from ..contract.facts import Command, Contact, Fact, Rail
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.ports import Port
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.latches import draw_held_latch
from ..drawing.pen import Pen
from ..rules.buttons import plays, scenes
from ..rules.held import JUNCTION, OVERDRIVE, empties, falls_check, holds_check, keeps, waste_bound
from ..say.checks import Check, check, high, low
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence, Word
from .latched import Latched

SETTLED = 0.5  # after a press all is decided [s]


class HeldLatch(Latched):
    title = "Held latch, on and off buttons"
    purpose = "One button turns the load on, another one off; off, it takes nothing."
    choose = "Two buttons, or a button and something that cuts it off again: a timer, a low battery."
    avoid = "One button shall do both, or the load is so large a capacitor that it keeps its volts."
    picture = "latch"
    presses = ("on", "off")
    controls = ("gate", "base")
    cards = {"card": PMosfetCard, "npn": NpnCard}

    kind: Literal["held_latch"] = "held_latch"
    r_gate: Annotated[float, Q("Ω", 1.0, 1e6)] = 4.7e3
    c_gate: Annotated[float, Q("F", 1e-11, 1e-6)] = 4.7e-9
    r_hold: Annotated[float, Q("Ω", 1e2, 1e7)] = 68e3
    r_bleed: Annotated[float, Q("Ω", 1e2, 1e6)] = 22e3
    r_on: Annotated[float, Q("Ω", 1e2, 1e6)] = 10e3
    r_cut: Annotated[float, Q("Ω", 1e2, 1e6)] = 22e3

    @property
    def summary(self) -> str:
        return f"Held latch, {show_part(self.r_hold)} Ω"

    def ports(self) -> tuple[Port, ...]:
        cut = {"out": "cut", "ref": "zero"}
        return (
            *super().ports(),
            Port("on", "contact", "in", {"com": "touch", "make": "base"}, form="make"),
            Port("off", "contact", "in", {"com": "base", "make": "zero"}, form="make"),
            Port("cut", "command", "in", cut, needed=False, words="what cuts it off"),
            Port("fed", "rail", "out", {"plus": "drain", "zero": "zero"}, needed=False),
        )

    def tell(self, port: str, site: Site) -> Fact | None:
        return self.feeds(site.rail) if port == "fed" else super().tell(port, site)

    def feeds(self, rail: Rail) -> Rail:
        """Its output as a rail: there while it is on."""
        return rail

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "on", "On button's resistor", "r_on", "plus", "touch")
        yield resistor(site, "bleed", "Pull-down", "r_bleed", "base", "zero")
        yield resistor(site, "hold", "Holding resistor", "r_hold", "base", "drain")
        yield from_card(site, "puller", "Q", "npn", {"c": "pulled", "b": "base", "e": "zero"})
        yield resistor(site, "series", "Gate resistor", "r_gate", "gate", "pulled")
        yield resistor(site, "pull", "Gate pull-up", "r_pull", "plus", "gate")
        yield capacitor(site, "gate", "Gate capacitor", "c_gate", "plus", "gate")
        yield from_card(site, "switch", "Q", "card", {"g": "gate", "d": "drain", "s": "plus"})
        if site.joined("cut"):
            yield resistor(site, "cut", "Cutting resistor", "r_cut", "cut", "cutter")
            yield from_card(site, "cutter", "Q", "npn", {"c": "base", "b": "cutter", "e": "zero"})

    # --- its loop -----------------------------------------------------------------------------------
    def held(self, volts: float) -> float:
        return max((volts - JUNCTION) / self.r_hold - JUNCTION / self.r_bleed, 0.0)

    def beside(self, volts: float) -> float:
        return volts / self.r_hold

    def pulled(self, volts: float) -> float:
        return volts / (self.r_pull + self.r_gate)

    def pressed(self, volts: float) -> float:
        """The base current while the on button is held, the output still down [A]."""
        taken = JUNCTION / self.r_bleed + JUNCTION / self.r_hold
        return max((volts - JUNCTION) / self.r_on - taken, 0.0)

    @property
    def keeps(self) -> float:
        """The output's volts under which it surely lets go [V]."""
        return keeps(self.r_hold, self.r_bleed)

    def empties(self, site: Site) -> float:
        """How long its load's own capacitor keeps the output above that [s]."""
        return empties(site, self.keeps, self.r_hold)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        q, r = site.ref("puller"), site.ref("hold")
        yield from self.switch_checks(site)
        yield holds_check(
            site, self.pulled, self.held, f"The output feeds {q} through {r}; the pull-down takes its share."
        )
        yield self._sets(site)
        yield self.plugged_check(site)
        yield from self._off_checks(site)

    def _sets(self, site: Site) -> Check:
        rail, gain = site.rail, site.card("npn", BipolarCard).gain_min
        wanted = self.pulled(rail.low) / max(self.pressed(rail.low), 1e-12)
        return check(
            "sets",
            "A press turns it on",
            "need",
            "turns on",
            unit="",
            nominal=self.pulled(rail.typical) / max(self.pressed(rail.typical), 1e-12),
            worst=wanted,
            most=gain / OVERDRIVE,
            at=low("the weakest transistor"),
            says=f"Pressed, {site.ref('puller')} wants a gain of {wanted:.2g}; it has {gain:.0f} at least.",
            formula="I_{C} / I_{B} ≤ h_{FE,min} / 3",
            numbers=f"{show(self.pulled(rail.low), 'A')} / {show(self.pressed(rail.low), 'A')}",
            because="Until the output is up, the button alone feeds the base.",
            cure=f"Make {site.ref('on')} smaller.",
        )

    def _off_checks(self, site: Site) -> Iterator[Check]:
        rail = site.rail
        contact = site.told("off", Contact)
        amps = rail.high / self.r_on
        if contact is not None:
            yield check(
                "both",
                "Both buttons at once",
                "limit",
                "current",
                unit="A",
                nominal=amps,
                most=contact.most,
                at=high("both held"),
                says=f"{show(amps, 'A')} from button to button; off wins while both are held.",
                formula="I = V / R_{on}",
                numbers=f"{show(rail.high, 'V')} / {show_part(self.r_on)} = {show(amps, 'A')}",
                because="The off button lies straight at the base: it takes what the on button gives.",
                cure=f"Make {site.ref('on')} larger.",
            )
        cure = "Hold the button longer, or take the soft latch whose loop leaves the load out."
        yield falls_check(site, self.keeps, self.empties(site), cure)
        given = site.told("cut", Command)
        if given is not None:
            yield from self._cut_checks(site, given)

    def _cut_checks(self, site: Site, given: Command) -> Iterator[Check]:
        card, rail = site.card("npn", BipolarCard), site.rail
        drive = max(given.high.volts.low - JUNCTION, 0.0) / (self.r_cut + given.high.ohms)
        takes = rail.high / self.r_hold + rail.high / self.r_on
        carries = drive * card.gain_min / OVERDRIVE
        yield check(
            "cuts",
            "The command cuts it off",
            "need",
            "turns off",
            unit="A",
            nominal=drive * card.gain / OVERDRIVE,
            worst=carries,
            least=takes,
            at=low("the weakest transistor, the on button held"),
            says=f"{site.ref('cutter')} takes {show(carries, 'A')}; the base gets up to {show(takes, 'A')}.",
            formula="β · I_{B} / 3 ≥ V / R_{hold} + V / R_{on}",
            numbers=f"{show(drive, 'A')} · {card.gain_min:.0f} / 3 = {show(carries, 'A')}",
            because="It must take all that holds the base, the on button's as well.",
            cure=f"Make {site.ref('cut')} smaller.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        rail, gain = site.rail, site.card("npn", BipolarCard).gain_min
        need = self.pulled(rail.low) / (gain / OVERDRIVE) + JUNCTION / self.r_bleed
        hold = [
            waste_bound(site),
            bound(
                "high",
                max(rail.low - JUNCTION, 0.1) / need,
                "holds itself on",
                detail=show(need, "A"),
                guards="holds",
                formula="R ≤ (V − V_{BE}) / I",
                because="Through it the output must feed the base and the pull-down.",
            ),
        ]
        on = [
            bound(
                "high",
                max(rail.low - JUNCTION, 0.1) / (need + JUNCTION / self.r_hold),
                "turns on",
                detail=show(need, "A"),
                guards="sets",
                formula="R ≤ (V − V_{BE}) / I",
                because="Until the output is up, the button alone feeds the base.",
            )
        ]
        return (
            window(site, "r_hold", "hold", "holding resistor", hold),
            window(site, "r_on", "on", "on button's resistor", on),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {"behave": (Word(text="One button turns the load on, the other one off."),)}

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        runs, q, r = site.demand().energised, site.ref("puller"), site.ref("hold")
        rows = [
            StateRow(
                state="Supply plugged in", load="off", why=f"{site.ref('gate')} holds the gate at the supply"
            ),
            StateRow(state="On pressed", load=runs, why=f"{site.ref('on')} feeds {q}"),
            StateRow(state="Let go", load="stays on", why=f"the output feeds {q} through {r}"),
            StateRow(state="Off pressed", load="off", why=f"{q} gets nothing"),
            StateRow(state="Both pressed", load="off", why="off lies straight at the base"),
            StateRow(state="Output shorted", load="off", why=f"nothing comes through {r} any more"),
        ]
        if site.joined("cut"):
            rows.append(StateRow(state="Cut", load="off", why=f"{site.ref('cutter')} takes {q}'s base"))
        return tuple(rows)

    def trial(self, site: Site) -> tuple[str, str]:
        return "Press on and let go, then press off.", "on and stays on, then off"

    def settles(self, site: Site) -> float:
        return SETTLED + 2 * self.empties(site)

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        return (*scenes(site, self.settles(site)), Scene("rest", "buttons unplugged", ()))

    def plays(self, site: Site) -> tuple[Play, ...]:
        t = self.settles(site)
        return (*plays(site, t), Play("Supply plugged in", 1.5 * t, plugged=0.2 * t))

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (
            Probe(id="gate", title="Gate to 0 V", red="gate strip", signal="gate"),
            Probe(id="base", title="Base to 0 V", red="base strip", signal="base"),
            Probe(
                id="drain",
                title="Drain to 0 V",
                red="drain strip",
                signal="drain",
                scenes=("idle", "active", "taken_off"),
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            Watch(id="drain", title="Drain", unit="V", signal="drain", place=3),
            Watch(id="base", title="Base", unit="V", signal="base", place=5),
            Watch(id="gate", title="Gate", unit="V", signal="gate", place=5, shown=False),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_held_latch(pen, site)
