"""A relay's contact as the switch: a transistor pulls the coil, the contact carries the load without a drop.

The coil is judged by `rules.coil`, the contact by `rules.contact`, the transistor's base by
`rules.base_drive`; the
freewheel diode of the coil belongs to it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...cards.card import BipolarCard, DiodeCard, NpnCard, RelayCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import Ladder
from ..contract.facts import Demand, Loss, Side, Switch
from ..contract.parts import Placed, from_card, resistor
from ..contract.scenes import Watch
from ..contract.site import Site
from ..drawing.pen import HIGH_Y, OUTPUT_Y, Link, Pen
from ..drawing.switches import BIPOLAR, draw_low_side
from ..rules.base_drive import BaseDrive, forced_gain
from ..rules.coil import Coil
from ..rules.contact import Switched, contact_checks, contact_switch, ladder
from ..rules.feed import Names, from_low_side, sag
from ..rules.kick import peak_check, stands
from ..rules.supplied import supplied
from ..say.checks import Check, Shown, check, high
from ..say.windows import Window, window
from .base import TransistorDrive

LETS_GO = 10.0  # coil time constants in which the contact has surely opened


class RelayContact(TransistorDrive):
    title = "Relay contact"
    purpose = "A transistor pulls a relay, whose contact connects the load to the supply."
    choose = "No drop at all, isolation, or a load that no transistor in the drawer carries."
    avoid = (
        "It switches often, or must not click; the contact wears, and the coil draws for as long as it is on."
    )
    picture = "contact"
    output = "switched"
    controls = ("base", "coil")
    cards = {"first": NpnCard, "card": RelayCard, "diode": DiodeCard}

    kind: Literal["relay_contact"] = "relay_contact"
    card: str = "relay-12v-400r"
    first: str = "npn-40v-200ma"
    diode: str = "diode-200ma-100v"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] = 680.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 4700.0
    hottest: Annotated[float, Q("°C", -20.0, 120.0)] = 52.0

    @property
    def summary(self) -> str:
        return f"Relay contact, {show_part(self.r_base)} Ω"

    @property
    def side(self) -> Side:
        return "high"

    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "series", "Base resistor", "r_base", "signal", "base")
        if self.r_pull is not None:
            yield resistor(site, "pull", "Base pull-down", "r_pull", "base", "zero")
        yield from_card(site, "first", "Q", "first", {"c": "coil", "b": "base", "e": "zero"})
        yield from_card(site, "diode", "D", "diode", {"a": "coil", "k": "plus"}, mark="")
        coil = self.coil(site)
        legs = {"a": "plus", "b": "coil", "com": "plus", "no": "switched"}
        ohms = show(coil.resistance, "Ω")
        yield from_card(site, "switch", "K", "card", legs, numbers=coil.numbers, mark=ohms)

    def coil(self, site: Site) -> Coil:
        """The relay's winding."""
        card = site.card("card", RelayCard)
        return Coil(card, card.coil, card.rated, 25.0, self.hottest, card.time_constant)

    def base(self, site: Site) -> BaseDrive:
        """The transistor's base, driven by the command."""
        card = site.card("first", BipolarCard)
        return BaseDrive(
            feed=from_low_side(site.command),
            card=card,
            series=self.r_base,
            pull=self.r_pull,
            collector=site.rail.high / self.coil(site).coldest,
            rests=self.coil(site).demand("").rests,
            what="coil",
            gain=forced_gain(card),
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("base", "first", on=self.runs(site)),
        )

    def switches(self, site: Site) -> Switch:
        return contact_switch(site, "switch", "switched", self.runs(site) == "active")

    def _puller(self, site: Site) -> Switch:
        """The transistor as the coil's switch, on the rail that the contact's load draws on, too."""
        base, rail = self.base(site), site.rail
        load = site.demand().amps(rail.low)

        def lost(feed: float) -> Callable[[float], float]:
            return lambda amps: sag(rail, amps + load)[1] + base.across(amps, feed)

        keeps = base.card.v_ce_sat
        loss = Loss(lost(base.feed.weak), lambda amps: sag(rail, amps + load)[0] + keeps, lost(base.usual))
        bare = replace(rail, losses=(), resistance=0.0)
        return replace(self.switches(site), ref=site.ref("first"), rail=bare, losses=(loss,))

    def windows(self, site: Site) -> tuple[Window, ...]:
        base = self.base(site)
        return (
            window(site, "r_base", "series", "base resistor", base.series_bounds()),
            window(site, "r_pull", "pull", "base pull-down", base.pull_bounds(), without=math.inf),
        )

    def _switched(self, site: Site, demand: Demand) -> Switched:
        runs, name = demand.most(site.rail.high), demand.name.capitalize()
        starts = max(self.switches(site).surge(demand), runs)
        return Switched(name, demand.use, runs, starts, site.rail.high, site.rail.ac)

    def ladder(self, site: Site) -> Ladder:
        return ladder(site.card("card", RelayCard).ratings, self._switched(site, site.demand()))

    def checks(self, site: Site) -> Iterator[Check]:
        base, coil, rail, demand = self.base(site), self.coil(site), site.rail, site.demand()
        yield from peak_check(self.switches(site), rail, demand, self.output, LETS_GO * coil.time_constant)
        yield from base.checks()
        got = supplied(self._puller(site), coil.demand("the contact closes"))
        kicked = rail.high + site.card("diode", DiodeCard).volts_near(rail.high / coil.coldest)
        yield stands(site.ref("first"), kicked, base.card.v_ceo, "first_", "Transistor: ")
        yield from coil.checks(
            rail, got, Shown("v(plus,coil)", self.runs(site)), tag="switch_", who="Relay: "
        )
        yield from contact_checks(coil.card.ratings, self._switched(site, demand), tag="switch_")
        amps, diode = rail.high / coil.coldest, site.card("diode", DiodeCard)
        yield check(
            "coil_diode",
            "Relay: its freewheel diode",
            "limit",
            "current",
            unit="A",
            nominal=got.high / coil.resistance,
            worst=amps,
            most=diode.current,
            at=high("coil cold"),
            says=f"{show(amps, 'A')} of {show(diode.current, 'A')}, each time it lets go.",
            formula="I_{D} = V_{high} / R_{coil}",
            numbers=f"= {show(amps, 'A')}",
            because="The coil's current goes on through the diode from the first moment.",
            cure="Pick a diode for more current.",
            shown=Shown(
                "i(diode.a)",
                "ended" if self.runs(site) == "active" else "begun",
                "highest",
                look=1e-3,
                within=0.05,
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        contact = Watch(
            id="relay", title="Contact", unit="", signal="state(switch,2)", place=4, words=("open", "closed")
        )
        return (*super().watches(site), contact)

    def draw(self, pen: Pen, site: Site) -> None:
        t = draw_low_side(pen, site, "npn", BIPOLAR, "base", local="first")
        x, d, k = t["c"][0], site.ref("diode"), site.ref("switch")
        at = pen.part(site, "diode", "diode", x, 4.5, side="left")
        pen.wire((x, 0.0), at["k"], part=d)
        pen.wire(at["a"], t["c"], part=d)
        coil = pen.part(site, "switch", "coil", x + 5.5, 4.5, pins=("a", "b"), side="above")
        pen.wire((x + 5.5, 0.0), coil["a"], part=k)
        pen.wire(coil["b"], (x + 5.5, OUTPUT_Y), (x, OUTPUT_Y), part=k)
        far = x + 12.0
        c = pen.place(k, "contact", far, 4.5, pins=("com", "no"))
        pen.wire((far, 0.0), c["com"], load=True, part=k)
        pen.wire(c["no"], (far, HIGH_Y), load=True, part=k)
        pen.links.append(Link(points=((x + 7.8, 4.5), (far - 0.7, 4.5))))
        pen.tag(site.lane("switched"), "V", far + 3.2, HIGH_Y - 5.0)
        pen.output, pen.x = (far, HIGH_Y), far
