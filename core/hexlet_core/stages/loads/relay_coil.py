"""Relay coil as the load, and its contact with what that switches.

A contact on AC or above what may be built here is a circuit of its own: it is judged, and neither wired nor
simulated.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from ...circuit.devices import Resistor
from ...quantity import show
from ..contract.descriptions import Step
from ..contract.parts import Placed, two_wire
from ..contract.ports import Port, rail_in
from ..contract.site import Site
from ..drawing.pen import HEIGHT, Link, Pen
from ..rules.contact import WALL_DC
from ..say.wording import Say, Sentence, Word
from .relay import RelayLoad

SYMBOL_OF = {"motor": "motor", "lamp": "lamp", "resistive": "heater", "signal": "heater"}


class RelayCoil(RelayLoad):
    title = "Relay coil"
    purpose = "A coil pulls a contact over, which switches something bigger."
    choose = "The load runs on another supply, on AC, or needs isolation from the control."
    avoid = "It must switch many times a second, or the battery cannot spare the coil's current."

    kind: Literal["relay_coil"] = "relay_coil"

    @property
    def summary(self) -> str:
        return f"{show(self.resistance, 'Ω')} coil"

    @property
    def apart(self) -> bool:
        return self.contact_supply == "AC" or self.contact_volts > WALL_DC

    def ports(self) -> tuple[Port, ...]:
        nets = {"com": "com", "make": "make", "break": "break"}
        return (
            rail_in(needed=False),
            *super().ports(),
            Port("contact", "contact", "out", nets, needed=False),
        )

    def make(self, site: Site) -> Iterable[Placed]:
        if site.joined("contact"):
            yield self.placed(site, {"com": "com", "no": "make", "nc": "break"})
            return
        if self.apart:
            yield self.placed(site, {})
            return
        yield self.placed(site, {"com": "plus", "no": "contact"})
        ohms = max(self.contact_volts / self.contact_current, 1e-3)
        yield two_wire(
            "contact_load",
            "M",
            self.contact_name,
            Resistor,
            lambda c: {"resistance": ohms},
            legs={"a": "contact", "b": "zero"},
            field="contact_current",
            listed=False,
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                Word(text="A coil of"),
                say.field("resistance"),
                Word(text="marked"),
                say.field("rated", note="on its case"),
                Word(text="hottest"),
                say.field("hottest", origin="assumed"),
                *fed,
            ),
            "guard": (
                Word(text="and the coil's time constant is"),
                say.field("time_constant", origin="assumed"),
            ),
        }

    def steps(self, site: Site) -> tuple[Step, ...]:
        if self.apart or site.joined("contact"):
            return ()
        name = self.contact_name
        return (
            Step(
                id="contact",
                action="link",
                title=f"{name} at the contact",
                part=site.ref("relay"),
                detail=(
                    f"+ of the supply to COM, NO to the {name.lower()}, its other lead to 0 V at the supply. "
                    f"{show(self.contact_current, 'A')} never goes through the board. On NO, a dead pin "
                    "stops it."
                ),
            ),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        x, relay, low_side = pen.x, site.ref("relay"), site.side == "low"
        pen.hang(site, "relay", "coil", x + 1.5, where="above")
        bare = self.apart or bool(site.joined("contact"))
        far = x + 9.0
        coil_y, contact_y, load_y = (4.5, 4.5, 18.0) if low_side else (HEIGHT - 4.5, 12.0, 23.0)
        if site.joined("contact"):
            pen.x = far
            return
        label = f"{self.contact_name}: own circuit" if bare else ""
        contact = pen.place(relay, "contact", far, contact_y, label=label, pins=() if bare else ("com", "no"))
        bend = () if low_side else ((x + 5.0, coil_y), (x + 5.0, contact_y))
        pen.links.append(Link(points=((x + 3.8, coil_y), *bend, (far - 0.7, contact_y))))
        pen.x = far + (6.0 if bare else 1.5)
        if bare:
            return
        load = site.ref("contact_load")
        symbol = SYMBOL_OF[self.contact_load]
        motor = pen.part(site, "contact_load", symbol, far, load_y, label=self.contact_name, side="left")
        pen.wire((far, 0.0), contact["com"], load=True, part=load)
        pen.wire(contact["no"], motor["a"], load=True, part=load)
        pen.ground(motor["b"], load=True, part=load)
