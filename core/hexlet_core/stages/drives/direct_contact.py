"""A contact straight in the load's line: no transistor at all.

Choose it where a person stands beside the load. The contact carries the whole current, makes its inrush and
breaks its winding; what it is rated for decides. Drop I·R of contact and lead.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal

from ...quantity import show
from ..contract.facts import Contact, Loss, Switch
from ..contract.parts import Placed
from ..contract.ports import Port, rail_in
from ..contract.site import Site
from ..drawing.pen import HIGH_Y, Pen
from ..rules.kick import peak_check
from ..rules.supplied import settled
from ..say.checks import Check, check, high
from .base import NoTransistor

MAKES = 3.0  # times what it carries that a small contact makes, assumed
ARCS = 300.0  # what strikes an arc across an opening contact [V]
OPEN = 2e-12  # across an open contact [F]


class DirectContact(NoTransistor):
    title = "Contact, straight"
    purpose = "The button or switch itself joins the load to the supply."
    choose = "A person beside the load, and a contact rated for its current."
    avoid = "A long thin lead, a motor's or lamp's start, or a coil without a freewheel part."
    picture = "button"
    output = "switched"

    kind: Literal["direct_contact"] = "direct_contact"

    def ports(self) -> tuple[Port, ...]:
        return (
            rail_in(),
            Port("contact", "contact", "in", {"com": "plus", "make": "switched"}, form="make"),
            Port("out", "load", "out", {"top": "switched", "bottom": "zero"}, side="high"),
        )

    def runs(self, site: Site) -> Literal["active", "idle"]:
        return "active"

    def make(self, site: Site) -> Iterable[Placed]:
        return ()

    def contact(self, site: Site) -> Contact:
        """What is joined to it."""
        return site.one("contact", Contact)

    def switches(self, site: Site) -> Switch:
        contact = self.contact(site)
        return Switch(
            ref=site.beyond("contact").ref("contact"),
            output="switched",
            side="high",
            rail=site.rail,
            losses=(Loss.ohms(contact.ohms, 2 * contact.ohms),),
            breakdown=ARCS,
            capacitance=OPEN,
            on="high",
            active=True,
        )

    def checks(self, site: Site) -> Iterator[Check]:
        switch, demand, contact, rail = self.switches(site), site.demand(), self.contact(site), site.rail
        amps, name = demand.most(rail.high), contact.name
        yield from peak_check(switch, rail, demand, self.output)
        yield check(
            "contact_carries",
            f"{name.capitalize()} carries the load",
            "limit",
            "current",
            unit="A",
            nominal=settled(switch, demand, rail.high).amps,
            worst=amps,
            most=contact.most,
            at=high("load cold"),
            says=f"{show(amps, 'A')} of {show(contact.most, 'A')} through the {name}.",
            formula="I = V_{high} / R_{cold}",
            numbers=f"= {show(amps, 'A')}",
            because="No transistor takes the load's current off the contact.",
            cure=f"Take a {name} for more current, or let it command a transistor.",
        )
        surge = switch.surge(demand)
        if surge > 0:
            yield check(
                "contact_makes",
                f"{name.capitalize()} makes the inrush",
                "limit",
                "surge",
                unit="A",
                nominal=surge,
                most=MAKES * contact.most,
                at=high("load cold"),
                says=f"{show(surge, 'A')} at the first moment, of {show(MAKES * contact.most, 'A')}.",
                formula="I = V_{high} / (R_{load,cold} + R_{in line}) ≤ 3 · I_{contact}",
                numbers=f"{show(surge, 'A')} ≤ 3 · {show(contact.most, 'A')}",
                because="A contact that bounces while it makes an inrush welds.",
                cure=f"Take a {name} for more current, or let it command a transistor.",
            )

    def draw(self, pen: Pen, site: Site) -> None:
        own, x = site.beyond("contact"), max(pen.x, pen.rail_x) + 4.0
        ref = own.ref("contact")
        at = pen.part(own, "contact", "button_no", x, HIGH_Y / 2, side="left")
        pen.wire((x, 0.0), at["com"], load=True, part=ref)
        pen.wire(at["no"], (x, HIGH_Y), load=True, part=ref)
        pen.tag(site.lane("switched"), "V", x + 2.0, HIGH_Y - 2.4)
        pen.output, pen.x = (x, HIGH_Y), x
