"""Thyristor latch: a touch of the gate turns the load on, and the load's own current keeps it on.

Either a thyristor, or an NPN and a PNP that hold each other on and do as one. Nothing flows while it is off.
It goes off where the current fails: a button shorts it, or another one breaks its line. A load that
takes less than its holding current is not held.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import BipolarCard, NpnCard, PnpCard, ThyristorCard
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import StateRow
from ..contract.facts import Contact, Loss, Switch
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.ports import Port
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.regenerative import draw_thyristor_latch
from ..rules.buttons import plays, scenes
from ..rules.held import OFF_BELOW
from ..rules.kick import peak_check
from ..rules.regenerative import Held, Pair, Single
from ..rules.supplied import settled
from ..rules.switching import Body, heat_checks, load_current
from ..say.checks import Change, Check, Shown, check, high, low
from ..say.windows import Bound, Window, bound, window
from ..say.wording import Say, Sentence, Word
from .base import Uncommanded

SURELY = 2.0  # times the holding current, and times what triggers
SETTLED = 0.3  # after a press all is decided [s]
HOT = 30.0  # times as much as a junction leaks when cool
RATINGS = (0.1, 0.25, 0.5, 1.0, 2.0, 3.0, 5.0, 10.0, 16.0)  # of buttons [A]
THYRISTOR_RTH = 150.0  # of a small one in the open, assumed [K/W]
REACH = 16e-12  # between anode and gate, where two transistors do it [F]


class ThyristorLatch(Uncommanded):
    title = "Thyristor latch"
    purpose = "A touch turns the load on and its own current keeps it on; off, nothing flows at all."
    choose = "An alarm, a lamp or a valve that must stay on, and nothing may be drawn before."
    avoid = "The load takes a few milliamps only, comes and goes by itself, or a volt less is too little."
    picture = "latch"
    output = "anode"
    controls = ("gate",)
    stateful = True
    presses = ("on", "off")
    cards = {"npn": NpnCard, "pnp": PnpCard, "thyristor": ThyristorCard}

    kind: Literal["thyristor_latch"] = "thyristor_latch"
    made: Literal["pair", "thyristor"] = "pair"
    off: Literal["shorting", "interrupting"] = "shorting"
    npn: str = "npn-60v-1a"
    pnp: str = "pnp-60v-1a"
    thyristor: str = "thyristor-400v-800ma"
    r_gate: Annotated[float, Q("Ω", 100.0, 1e6)] = 3.3e3
    r_anode: Annotated[float, Q("Ω", 100.0, 1e7)] = 6.8e3
    c_gate: Annotated[float, Q("F", 1e-11, 1e-5)] = 47e-9
    r_on: Annotated[float, Q("Ω", 10.0, 1e6)] = 4.7e3

    @property
    def summary(self) -> str:
        return f"{'Thyristor' if self.made == 'thyristor' else 'NPN and PNP'} latch, {self.off} button"

    def ports(self) -> tuple[Port, ...]:
        shorts = self.off == "shorting"
        off = {"com": "anode", "make": "zero"} if shorts else {"com": "foot", "break": "zero"}
        return (
            *super().ports(),
            Port("on", "contact", "in", {"com": "touch", "make": "gate"}, form="make"),
            Port("off", "contact", "in", off, form="make" if shorts else "break"),
        )

    @property
    def foot(self) -> str:
        """Where its current leaves: 0 V, or what a button lays there."""
        return "zero" if self.off == "shorting" else "foot"

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "on", "On button's resistor", "r_on", "plus", "touch")
        yield resistor(site, "gate", "Gate resistor", "r_gate", "gate", self.foot)
        yield capacitor(site, "calm", "Gate capacitor", "c_gate", "gate", self.foot)
        if self.made == "thyristor":
            legs = {"a": "anode", "k": self.foot, "g": "gate"}
            yield from_card(site, "switch", "Q", "thyristor", legs)
            return
        yield resistor(site, "anode", "Anode resistor", "r_anode", "anode", "between")
        yield from_card(site, "upper", "Q", "pnp", {"c": "gate", "b": "between", "e": "anode"})
        yield from_card(site, "switch", "Q", "npn", {"c": "between", "b": "gate", "e": self.foot})

    def held(self, site: Site) -> Held:
        """What holds itself on: two transistors, or one thyristor."""
        if self.made == "thyristor":
            return Single(site.card("thyristor", ThyristorCard), self.r_gate)
        npn, pnp = site.card("npn", BipolarCard), site.card("pnp", BipolarCard)
        return Pair(npn, pnp, self.r_gate, self.r_anode)

    # --- facts --------------------------------------------------------------------------------------
    def switches(self, site: Site) -> Switch:
        held = self.held(site)
        return Switch(
            ref=site.ref("switch"),
            output=self.output,
            side=self.side,
            rail=site.rail,
            losses=(Loss(held.volts, lambda amps: max(held.worst, held.volts(amps))),),
            breakdown=held.breakdown,
            capacitance=2e-11,
            on="high",
            active=True,
            opens=1e-3,
        )

    def pressed(self, volts: float) -> float:
        """What the on button gives the gate [A]."""
        return max(volts - 0.7, 0.0) / self.r_on

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        held, switch, demand = self.held(site), self.switches(site), site.demand()
        yield from peak_check(switch, site.rail, demand, self.output)
        yield self._held_on(site, held)
        yield self._sets(site, held)
        yield self._calm(site)
        yield from self._buttons(site)
        limit = held.current
        yield from load_current(
            switch,
            demand,
            limit,
            "allowed",
            4 * limit,
            "Four times as much is assumed for a moment.",
            Shown(
                "i(switch.k)" if self.made == "thyristor" else "i(switch.e)",
                "active",
                times=-1.0,
                within=0.04,
                floor=5e-4,
            ),
        )
        yield from self._heat(site, held, switch)

    def _held_on(self, site: Site, held: Held) -> Check:
        rail, demand, switch = site.rail, site.demand(), self.switches(site)
        amps = settled(switch, demand, rail.low).amps
        least = amps * demand.takes(rail.low).low / max(demand.amps(rail.low), 1e-12)
        return check(
            "held_on",
            "The load's current holds it",
            "need",
            "turns on",
            unit="A",
            nominal=amps,
            worst=least,
            least=SURELY * held.holding,
            at=low("the load at its least, the weakest gains"),
            says=f"The load takes {show(least, 'A')}; {show(held.holding, 'A')} hold, twice that surely.",
            formula="I_{load} ≥ 2 · I_{hold},  I_{hold} ≈ V_{BE} / R_{gate} + V_{BE} / R_{anode}",
            numbers=f"{show(least, 'A')} ≥ 2 · {show(held.holding, 'A')}",
            because="Nothing but the load's own current keeps it on: less than that, and it lets go.",
            cure=f"Make {site.ref('gate')} larger, or put a resistor across the load.",
        )

    def _sets(self, site: Site, held: Held) -> Check:
        rail = site.rail
        return check(
            "sets",
            "A press turns it on",
            "need",
            "turns on",
            unit="A",
            nominal=self.pressed(rail.typical),
            worst=self.pressed(rail.low) / (1 + site.tolerance),
            least=SURELY * held.triggers,
            at=low("the gate resistor's share counted"),
            says=f"The button gives {show(self.pressed(rail.low), 'A')}; {show(held.triggers, 'A')} are "
            "needed, twice that surely.",
            formula="(V − V_{BE}) / R_{on} ≥ 2 · I_{gate}",
            numbers=f"{show(self.pressed(rail.low), 'A')} ≥ 2 · {show(held.triggers, 'A')}",
            because="The gate resistor takes its share first.",
            cure=f"Make {site.ref('on')} smaller.",
        )

    def _calm(self, site: Site) -> Check:
        rail = site.rail
        leaks = 0.0 if self.made == "thyristor" else site.card("pnp", BipolarCard).leakage * HOT
        lifted = rail.high * REACH / (REACH + self.c_gate)
        worst = lifted + leaks * self.r_gate
        return check(
            "calm",
            "Stays off by itself",
            "need",
            "turns off",
            unit="V",
            nominal=lifted,
            worst=worst,
            most=OFF_BELOW,
            at=high("the supply comes at once, and hot"),
            says=f"The gate is lifted to {show(worst, 'V')}; it turns on from {OFF_BELOW} V.",
            formula="V · C_{anode} / C_{gate} + I_{leak} · R_{gate} ≤ 0.4 V",
            numbers=f"{show(lifted, 'V')} + {show(leaks * self.r_gate, 'V')}",
            because="A jump of the supply couples into the gate, and what leaks when hot adds to it.",
            cure=f"Make {site.ref('calm')} larger, or {site.ref('gate')} smaller.",
        )

    def _buttons(self, site: Site) -> Iterator[Check]:
        amps = site.demand().most(site.rail.high)
        contact = site.told("off", Contact)
        if contact is not None:
            yield check(
                "off_carries",
                "The off button carries the load",
                "limit",
                "contact",
                unit="A",
                nominal=amps,
                most=contact.most,
                at=high("the load cold"),
                says=f"{show(amps, 'A')} of {show(contact.most, 'A')}.",
                formula="I = I_{load}",
                numbers=f"= {show(amps, 'A')}",
                because="It takes the whole load: beside the latch, or in its line.",
                cure="Take a button for more current, or a latch that a button on a base lets go.",
                changes=(Change(path=site.beyond("off").path("most"), value=_rating(amps)),),
            )

    def _heat(self, site: Site, held: Held, switch: Switch) -> Iterator[Check]:
        demand, volts = site.demand(), site.rail.high
        amps, most = settled(switch, demand, volts).amps, demand.most(volts)
        if isinstance(held, Pair):
            usual, worst, card = held.heat(amps, held.volts(amps)), held.heat(most, held.worst), held.npn
            body = Body(card.r_th, card.t_j_max, card.power, None)
        else:
            usual, worst = held.volts(amps) * amps, held.worst * most
            body = Body(THYRISTOR_RTH, 125.0, (125.0 - 25.0) / THYRISTOR_RTH, None)
        yield from heat_checks(
            site,
            body,
            nominal=usual,
            worst=max(worst, usual),
            how="P = V · I, of which the lower transistor has the larger part",
            numbers=f"= {show(most, 'A')} · {show(held.worst, 'V')}: {show(worst, 'W')}",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        rail, demand, held = site.rail, site.demand(), self.held(site)
        on = [
            bound(
                "high",
                max(rail.low - 0.7, 0.1) / (SURELY * held.triggers) / (1 + site.tolerance),
                "turns on",
                detail=show(held.triggers, "A"),
                guards="sets",
                formula="R ≤ (V − V_{BE}) / (2 · I_{gate})",
                because="The gate resistor takes its share first.",
            )
        ]
        found = [window(site, "r_on", "on", "on button's resistor", on)]
        spare = demand.takes(max(rail.low - held.worst, 0.1)).low / SURELY
        if isinstance(held, Pair) and spare > 1.3 * 0.62 / self.r_anode:
            gate: list[Bound] = [
                bound(
                    "low",
                    1.2 * 0.62 / (spare - 1.3 * 0.62 / self.r_anode),
                    "the load holds it",
                    detail=show(spare, "A"),
                    guards="held_on",
                    formula="R ≥ V_{BE} / (I_{load} / 2 − V_{BE} / R_{anode})",
                    because="Smaller, and the load's current does not hold it.",
                ),
                bound(
                    "high",
                    OFF_BELOW / max(site.card("pnp", BipolarCard).leakage * HOT, 1e-9),
                    "stays off when hot",
                    detail=f"{OFF_BELOW} V",
                    guards="calm",
                    formula="R ≤ 0.4 V / I_{leak}",
                    because="What leaks when hot must not lift the gate.",
                ),
            ]
            found.append(window(site, "r_gate", "gate", "gate resistor", gate))
        return tuple(found)

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        made = (("pair", "an NPN and a PNP"), ("thyristor", "a thyristor"))
        off = (("shorting", "shorts it"), ("interrupting", "breaks the load's line"))
        return {
            "behave": (
                Word(text="One button turns the load on; it is held by"),
                say.field("made", note="made of", choices=made),
                Word(text="until the other one"),
                say.field("off", note="goes off", choices=off),
            )
        }

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        runs, q = site.demand().energised, site.ref("switch")
        pressed = "still on" if self.off == "shorting" else "off"
        why = (
            "the button carries the load past it" if self.off == "shorting" else "its current has no way out"
        )
        both = "on while held" if self.off == "shorting" else "off"
        return (
            StateRow(state="Supply plugged in", load="off", why=f"{site.ref('gate')} holds the gate at 0 V"),
            StateRow(state="On pressed", load=runs, why=f"{site.ref('on')} feeds the gate of {q}"),
            StateRow(state="Let go", load="stays on", why="the load's own current holds it"),
            StateRow(state="Off pressed", load=pressed, why=why),
            StateRow(state="Off let go", load="off", why="no current was left to hold it"),
            StateRow(state="Both pressed", load=both, why="the one let go last has its way"),
            StateRow(
                state="Load unplugged for a moment", load="off", why="nothing flows, so nothing is held"
            ),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return "Press on and let go, then press off and let go.", "on and stays on, then off"

    def settles(self, site: Site) -> float:
        return SETTLED

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        return scenes(site, SETTLED)

    def plays(self, site: Site) -> tuple[Play, ...]:
        return plays(site, SETTLED)

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (
            Probe(id="gate", title="Gate to 0 V", red="gate strip", signal="gate"),
            Probe(id="anode", title="Anode to 0 V", red="anode strip", signal="anode"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            Watch(id="anode", title="Anode", unit="V", signal="anode", place=3, peak=True),
            Watch(id="gate", title="Gate", unit="V", signal="gate", place=5),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_thyristor_latch(pen, site, self.off == "shorting")


def _rating(amps: float) -> float:
    """The first of the usual ratings that carries a current with a fifth to spare [A]."""
    return next((r for r in RATINGS if r >= 1.25 * amps), RATINGS[-1])
