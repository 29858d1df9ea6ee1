"""Relay coil as the load, and its contact with what that switches.

`coil` holds the rules of the winding, `contact` those of the contact. A contact on AC or above what may be
built here is a
circuit of its own: it is judged, and neither wired nor simulated.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import StringConstraints, ValidationInfo, field_validator

from ..cards.card import RelayCard, coil_henries
from ..circuit.devices import Device, Relay, Resistor
from ..fields import Q
from ..quantity import show
from .coil import Coil
from .contact import STARTS, WALL_DC, Contact, contact_verdicts, ladder, wall_cautions
from .contract import Corner, Demand, Measure, Part, Probe, Schedule, Stage, Step, View, Watch
from .drawing import HEIGHT, Link, Pen
from .findings import Verdict
from .wording import Say, Sentence, Word


class RelayCoil(Stage):
    role = "load"
    title = "Relay coil"
    purpose = "A coil pulls a contact over, which switches something bigger."
    choose = "The load runs on another supply, on AC, or needs isolation from the control."
    avoid = "It must switch many times a second, or the battery cannot spare the coil's current."
    letters = {"relay": "K", "contact_load": "M"}
    cards = {"card": RelayCard}

    kind: Literal["relay_coil"] = "relay_coil"
    card: str = "relay-12v-96r"
    resistance: Annotated[float, Q("Ω", 1.0, 1e6)] = 96.0
    measured_at: Annotated[float, Q("°C", -40.0, 80.0)] = 25.0
    rated: Annotated[float, Q("V", 1.0, 500.0)] = 12.0
    hottest: Annotated[float, Q("°C", -20.0, 120.0)] = 52.0
    time_constant: Annotated[float, Q("s", 1e-5, 1.0)] = 4.7e-3
    contact_load: Literal["resistive", "motor", "lamp", "signal"] = "motor"
    contact_volts: Annotated[float, Q("V", 0.1, 500.0)] = 12.6
    contact_current: Annotated[float, Q("A", 1e-6, 100.0)] = 1.2
    contact_supply: Literal["DC", "AC"] = "DC"
    contact_name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)] = (
        "Fan"
    )

    @field_validator("time_constant")
    @classmethod
    def _possible(cls, time_constant: float, info: ValidationInfo) -> float:
        coil_henries(time_constant, info.data.get("resistance", 1.0))
        return time_constant

    @property
    def summary(self) -> str:
        return f"{show(self.resistance, 'Ω')} coil"

    def _card(self, view: View) -> RelayCard:
        return view.drawer.card(self.card, RelayCard, view.path("card"))

    def _coil(self, view: View) -> Coil:
        return Coil(
            self._card(view), self.resistance, self.rated, self.measured_at, self.hottest, self.time_constant
        )

    @property
    def _apart(self) -> bool:
        """Whether the contact side is a circuit of its own that is not drawn, wired or simulated."""
        return self.contact_supply == "AC" or self.contact_volts > WALL_DC

    def fitted(self) -> tuple[str, ...]:
        return ("relay",) if self._apart else ("relay", "contact_load")

    def _starts(self) -> float:
        """What the contact's load takes at the start [A]."""
        return self.contact_current * STARTS[self.contact_load]

    def phrase(self, say: Say) -> Sentence:
        return (say.field("resistance"), Word(text="coil"))

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
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

    def demand(self, view: View) -> Demand:
        coil = self._coil(view)
        return Demand(
            cold=coil.coldest,
            typical=self.resistance,
            hot=coil.warmest,
            inductance=coil.inductance,
            drop_out=coil.drop_out,
            release_travel=coil.card.release,
            name="coil",
            energised=f"{self.contact_name} runs",
            cold_volts=coil.card.pull_in * self.rated,
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        drop, drop_worst = (view.switch.drop, view.switch.drop_worst) if view.switch else (0.0, 0.0)
        coil = self._coil(view)
        contact = contact_verdicts(
            self.contact_name,
            coil.card.ratings,
            self.contact_load,
            self.contact_current,
            self._starts(),
            self.contact_volts,
            ac=self.contact_supply == "AC",
        )
        return (*coil.verdicts(view, drop, drop_worst), *contact)

    def contact(self, view: View) -> Contact:
        return ladder(
            self.contact_name,
            self._card(view).ratings,
            self.contact_load,
            self.contact_current,
            self._starts(),
            self.contact_volts,
            self.contact_supply == "AC",
        )

    def cautions(self, view: View) -> tuple[str, ...]:
        return wall_cautions(
            self.contact_volts, self.contact_supply == "AC", f"{self.contact_name} at the contact"
        )

    def measures(self, view: View) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Coil resistance",
                mode="ohms",
                red="one coil pin",
                black="the other coil pin",
                path=view.path("resistance"),
                means=(
                    "Relay out, power off. The coil is the pair that reads 20 Ω to 1k. OL or 0: those are "
                    "contact pins. Take the leads' own resistance off."
                ),
            ),
            Measure(
                title="Contact at rest",
                mode="ohms",
                red="COM",
                black="NC",
                means="0 Ω at rest: that pair is COM and NC. COM to NO reads OL until the coil clicks.",
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        rule = self._coil(view).params(corner.celsius)
        if self._apart:
            yield Relay(name=view.refs["relay"], a=view.top, b=view.bottom, **rule)
            return
        yield Relay(name=view.refs["relay"], a=view.top, b=view.bottom, com="plus", no="contact", **rule)
        yield Resistor(
            name=view.refs["contact_load"],
            a="contact",
            b="0",
            resistance=max(self.contact_volts / self.contact_current, 1e-3),
        )

    def draw(self, pen: Pen, view: View) -> None:
        x, relay = pen.x, view.refs["relay"]
        pen.hang(
            relay,
            "coil",
            x + 1.5,
            view.side,
            label=relay,
            value=show(self.resistance, "Ω"),
            path=view.path("resistance"),
            where="above",
        )
        far, low = x + 9.0, view.side == "low"
        coil_y, contact_y, load_y = (4.5, 4.5, 18.0) if low else (HEIGHT - 4.5, 12.0, 23.0)
        label = f"{self.contact_name}: own circuit" if self._apart else ""
        contact = pen.place(
            relay,
            "contact",
            far,
            contact_y,
            label=label,
            value="",
            side="right",
            pins=() if self._apart else ("com", "no"),
        )
        bend = () if low else ((x + 5.0, coil_y), (x + 5.0, contact_y))
        pen.links.append(Link(points=((x + 3.8, coil_y), *bend, (far - 0.7, contact_y))))
        pen.x = far + (6.0 if self._apart else 1.5)
        if self._apart:
            return
        load = view.refs["contact_load"]
        symbol = {"motor": "motor", "lamp": "lamp", "resistive": "heater", "signal": "heater"}[
            self.contact_load
        ]
        motor = pen.place(
            load,
            symbol,
            far,
            load_y,
            label=self.contact_name,
            value="",
            path=view.path("contact_current"),
            side="left",
        )
        pen.wire((far, 0.0), contact["com"], load=True, part=load)
        pen.wire(contact["no"], motor["a"], load=True, part=load)
        pen.wire(motor["b"], (far, HEIGHT), load=True, part=load)

    def parts(self, view: View) -> tuple[Part, ...]:
        card = self._card(view)
        return (
            Part(
                ref=view.refs["relay"],
                title=card.title,
                value=f"{show(self.rated, 'V')}, {show(self.resistance, 'Ω')}",
                kind="relay",
                rating=f"contact {show(card.ratings['resistive'].run, 'A')}"
                if "resistive" in card.ratings
                else "",
                card=card.id,
                legs=card.legs,
                face=card.face,
                stock=view.drawer.count(card.id),
                price=card.price,
                path=view.path("card"),
                on_board=False,
            ),
        )

    def probes(self, view: View) -> tuple[Probe, ...]:
        relay = view.refs["relay"]
        return (
            Probe(
                id="coil_current",
                title="Coil current",
                red=f"lead of {relay} opened, + side",
                black="other end of the opened lead",
                quantity="current",
                device=relay,
                terminal="a",
                states=(view.on,),
            ),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        relay, coil = view.refs["relay"], self._coil(view)
        limits = ((coil.pull_in, "pulls in"), (coil.drop_out, "lets go"))
        return (
            Watch(
                id=f"i({relay})", title="Coil current", unit="A", signal=f"i({relay})", place=2, limits=limits
            ),
            Watch(
                id="contact",
                title="Contact",
                unit="",
                signal=f"state({relay},2)",
                place=4,
                words=("open", "closed"),
            ),
        )

    def steps(self, view: View) -> tuple[Step, ...]:
        relay, out = view.refs["relay"], view.switch.output if view.switch else "output"
        rail = "+ rail" if view.side == "low" else "0 V rail"
        low, high = self.resistance * 0.97 + 0.1, self.resistance * 1.03 + 0.4
        return (
            Step(
                id="coil_ohms",
                action="check",
                title="Coil, before it is wired",
                part=relay,
                detail=(
                    "Meter on ohms across the pair of pins that reads 20 Ω to 1 kΩ. OL or 0: those are "
                    "contact pins."
                ),
                expect=f"{show(low, 'Ω')} to {show(high, 'Ω')}",
            ),
            Step(
                id="coil_leads",
                action="link",
                title=f"Coil leads of {relay}: {rail} and {out}",
                part=relay,
                detail=(
                    f"{relay} stays off the board. One coil lead to the {rail}, the other to the {out}'s "
                    "strip."
                ),
            ),
            *(
                ()
                if self._apart
                else (
                    Step(
                        id="contact_leads",
                        action="link",
                        title=f"{self.contact_name} at the contact",
                        part=relay,
                        detail=f"+ of the supply to COM, NO to the {self.contact_name.lower()}, its other "
                        "lead to 0 V at the supply. "
                        f"{show(self.contact_current, 'A')} never goes through the board. On NO, a "
                        "dead pin stops it.",
                    ),
                )
            ),
        )


def fraction_of_rise(i: float, i_end: float, tau: float) -> float:
    """Time for a coil's current to reach i on its way to i_end [s]: −τ·ln(1 − i/i_end)."""
    return math.inf if i >= i_end else -tau * math.log(1 - i / i_end)
