"""Relay self-hold: a start button pulls a relay, its own spare contact holds it, a stop button lets it go.

Stop lies in the line that holds and pulls: it wins over start. No transistor, no drop in the load's line, and
nothing drawn while it is off.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Any, ClassVar, Literal

from ...cards.card import DiodeCard, RelayCard
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import Ladder, StateRow
from ..contract.facts import Contact, Demand, Draw, Side, Switch
from ..contract.parts import Placed, from_card
from ..contract.ports import Port
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.latches import draw_relay_hold
from ..drawing.pen import Pen
from ..rules.buttons import plays, scenes
from ..rules.coil import Coil, time_to_rise
from ..rules.contact import Switched, contact_checks, contact_switch, ladder
from ..rules.held import SHORT
from ..rules.kick import peak_check
from ..rules.supplied import Supplied
from ..say.checks import Check, Shown, check, high, when
from ..say.wording import Say, Sentence, Word
from .base import Uncommanded

LETS_GO = 10.0  # coil time constants in which the contact has surely opened
SETTLED = 0.4  # after a press all is decided [s]


class RelayHold(Uncommanded):
    title = "Relay self-hold"
    purpose = "Start and stop buttons: the relay's own spare contact holds it in between."
    choose = "No drop and no transistor, a load of several amps, and a stop that always wins."
    avoid = "It must come back by itself after the supply failed, or the click and the coil's current matter."
    picture = "contact"
    output = "switched"
    controls: ClassVar[tuple[str, ...]] = ("coil",)
    stateful = True
    presses = ("on", "off")
    cards = {"card": RelayCard, "diode": DiodeCard}

    kind: Literal["relay_hold"] = "relay_hold"
    card: str = "relay-12v-320r-two"
    diode: str = "diode-200ma-100v"
    hottest: Annotated[float, Q("°C", -20.0, 120.0)] = 52.0

    @property
    def summary(self) -> str:
        return "Relay self-hold"

    @property
    def side(self) -> Side:
        return "high"

    def ports(self) -> tuple[Port, ...]:
        return (
            *super().ports(),
            Port("on", "contact", "in", {"com": "feed", "make": "coil"}, form="make"),
            Port("off", "contact", "in", {"com": "plus", "break": "feed"}, form="break"),
        )

    def make(self, site: Site) -> Iterable[Placed]:
        coil = self.coil(site)
        legs = {"a": "coil", "b": "zero", "com": "feed", "no": "coil", "com2": "plus", "no2": "switched"}
        ohms = show(coil.resistance, "Ω")
        yield from_card(site, "switch", "K", "card", legs, numbers=coil.numbers, mark=ohms)
        yield from_card(site, "diode", "D", "diode", {"a": "zero", "k": "coil"}, mark="")

    def coil(self, site: Site) -> Coil:
        """The relay's winding."""
        card = site.card("card", RelayCard)
        return Coil(card, card.coil, card.rated, 25.0, self.hottest, card.time_constant)

    # --- facts --------------------------------------------------------------------------------------
    def switches(self, site: Site) -> Switch:
        return contact_switch(site, "switch", "switched")

    def tell(self, port: str, site: Site) -> Any:
        if port == "rail":
            rail, demand = site.rail, site.demand()
            return Draw(
                demand.most(rail.high) + rail.high / self.coil(site).coldest, demand.surge(rail), 0.05
            )
        return super().tell(port, site)

    shown: ClassVar[Shown] = Shown("coil", "active", within=0.03)  # where the coil's volts are

    def supplied(self, site: Site) -> Supplied:
        """What its coil gets."""
        rail = site.rail
        return Supplied(rail.low, rail.low, 0.0, 0.0, rail.high, rail.high)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        coil, rail, demand = self.coil(site), site.rail, site.demand()
        yield from peak_check(self.switches(site), rail, demand, self.output, LETS_GO * coil.time_constant)
        yield from coil.checks(rail, self.supplied(site), self.shown, "switch_", "Relay: ")
        yield from contact_checks(coil.card.ratings, self._switched(site, demand), tag="switch_")
        yield self._press(site, coil)
        yield from self.button_checks(site, coil)

    def _press(self, site: Site, coil: Coil) -> Check:
        rises = time_to_rise(coil.pull_in, self.supplied(site).low_worst / coil.warmest, coil.time_constant)
        whole = rises + coil.card.operate
        return check(
            "press",
            "A quick press pulls it",
            "need",
            "time",
            unit="s",
            nominal=whole,
            worst=1.5 * whole if math.isfinite(whole) else whole,
            most=SHORT,
            at=when("a hot coil on the lowest supply"),
            says=f"Its contact is shut after {show(whole, 's')}; a quick press lasts {show(SHORT, 's')}.",
            formula="(L / R) · ln(I / (I − I_{pull})) + t_{travel}",
            numbers=f"{show(rises, 's')} + {show(coil.card.operate, 's')} = {show(whole, 's')}",
            because="Let go before, and nothing holds it.",
            cure="Take a quicker relay, or press longer.",
        )

    def button_checks(self, site: Site, coil: Coil) -> Iterator[Check]:
        """What its buttons carry."""
        amps = site.rail.high / coil.coldest
        for port in ("on", "off"):
            contact = site.told(port, Contact)
            if contact is not None:
                yield check(
                    f"{port}_carries",
                    f"The {'start' if port == 'on' else 'stop'} button carries the coil",
                    "limit",
                    "contact",
                    unit="A",
                    nominal=amps,
                    most=contact.most,
                    at=high("coil cold"),
                    says=f"{show(amps, 'A')} of {show(contact.most, 'A')}.",
                    formula="I = V_{high} / R_{cold}",
                    numbers=f"= {show(amps, 'A')}",
                    because="Both lie in the coil's line, and break its current.",
                    cure="Take a button for more current, or a coil of more ohms.",
                )

    def _switched(self, site: Site, demand: Demand) -> Switched:
        runs, name = demand.most(site.rail.high), demand.name.capitalize()
        starts = max(self.switches(site).surge(demand), runs)
        return Switched(name, demand.use, runs, starts, site.rail.high, site.rail.ac)

    def ladder(self, site: Site) -> Ladder:
        return ladder(site.card("card", RelayCard).ratings, self._switched(site, site.demand()))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {"behave": (Word(text="Start turns the load on, stop turns it off."),)}

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        k = site.ref("switch")
        return (
            StateRow(state="Supply plugged in", load="off", why=f"nothing feeds {k} until it is started"),
            StateRow(state="Start pressed", load=site.demand().energised, why=f"the button feeds {k}"),
            StateRow(state="Let go", load="stays on", why=f"{k}'s own contact feeds it"),
            StateRow(state="Stop pressed", load="off", why="it cuts what feeds and what holds"),
            StateRow(state="Both pressed", load="off", why="stop lies before start"),
            StateRow(state="Supply fails and returns", load="off", why="it has let go meanwhile"),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return "Press start and let go, then press stop.", "on and stays on, then off"

    def settles(self, site: Site) -> float:
        return SETTLED

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        return scenes(site, SETTLED)

    def plays(self, site: Site) -> tuple[Play, ...]:
        return plays(site, SETTLED, "Both pressed, stop let go first")

    def probes(self, site: Site) -> tuple[Probe, ...]:
        scenes = ("idle", "active", "taken_off")
        return (
            Probe(id="coil", title="Coil to 0 V", red="coil strip", signal="coil", scenes=scenes),
            Probe(id="switched", title="Load to 0 V", red="switched strip", signal="switched", scenes=scenes),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        words = ("open", "closed")
        return (
            Watch(id="switched", title="Load's line", unit="V", signal="switched", place=3),
            Watch(id="relay", title="Contacts", unit="", signal="state(switch,2)", place=4, words=words),
            Watch(id="coil", title="Coil", unit="V", signal="coil", place=5),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_relay_hold(pen, site)
