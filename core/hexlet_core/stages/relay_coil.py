"""Relay coil as the load, and its contact with what that switches.

A coil's copper rises 0.39 % in resistance a kelvin, and its pull-in voltage with it: it may operate cold
and refuse hot. A contact is judged by the type of its load: what it runs, what it makes, and the least
that keeps it clean.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import StringConstraints

from ..cards.card import RelayCard
from ..cards.derive import COPPER_DRIFT, copper
from ..cards.derive import relay as relay_rule
from ..circuit.devices import Device, Relay, Resistor
from ..fields import Q
from ..quantity import show
from .contract import Corner, Demand, Part, Probe, Schedule, Stage, Step, View, Watch
from .drawing import HEIGHT, OUTPUT_Y, Link, Pen
from .findings import Remedy, Verdict, Working, judge
from .wording import Say, Sentence, Word

COLD = 0.0  # the coldest coil considered [°C]
STARTS = {"resistive": 1.0, "motor": 6.0, "lamp": 10.0, "signal": 1.0}  # inrush over running current


class RelayCoil(Stage):
    role = "load"
    title = "Relay coil"
    purpose = "A coil pulls a contact over, which switches something bigger."
    choose = "The load runs on another supply, on AC, or needs isolation from the control."
    avoid = "It must switch many times a second, or the battery cannot spare the coil's current."
    letters = {"relay": "K", "contact_load": "M"}

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
    contact_name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)] = "Fan"

    @property
    def summary(self) -> str:
        return f"{show(self.resistance, 'Ω')} coil"

    def _card(self, view: View) -> RelayCard:
        return view.drawer.card(self.card, RelayCard, view.path("card"))

    def _inductance(self) -> float:
        return self.time_constant * self.resistance

    def _pull_in(self, card: RelayCard) -> float:
        return card.pull_in * self.rated / self.resistance

    def _drop_out(self, card: RelayCard) -> float:
        return card.must_release * self.rated / self.resistance

    def phrase(self, say: Say) -> Sentence:
        return (say.field("resistance"), Word(text="coil"))

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                Word(text="A coil of"), say.field("resistance"), Word(text="marked"), say.field("rated", note="on its case"), Word(text="hottest"),
                say.field("hottest", origin="assumed"), *fed,
            ),
            "guard": (Word(text="and the coil's time constant is"), say.field("time_constant", origin="assumed")),
        }  # fmt: skip

    def demand(self, view: View) -> Demand:
        card, at = self._card(view), self.measured_at
        return Demand(
            cold=copper(self.resistance, min(COLD, at), at), typical=self.resistance,
            hot=copper(self.resistance, max(self.hottest, at), at), inductance=self._inductance(),
            drop_out=self._drop_out(card), release_travel=card.release,
            name="coil", energised=f"{self.contact_name} runs",
        )  # fmt: skip

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        card, demand = self._card(view), self.demand(view)
        drop, drop_worst = (view.switch.drop, view.switch.drop_worst) if view.switch else (0.0, 0.0)
        warm = demand.hot / demand.typical
        needs, holds = card.pull_in * self.rated * warm, card.must_hold * self.rated * warm
        gets, gets_worst = view.low - drop, view.low - drop_worst
        most = card.coil_max * self.rated
        rating = card.ratings.get(self.contact_load)
        rise = self.hottest - self.measured_at
        found = [
            judge(
                "pull_in", "load", f"Pull-in on a low {view.supply_name}", nominal=gets, worst=gets_worst, limit=needs,
                unit="V", sense="at least", corner="supply low, coil hot, largest drop",
                sentence=f"Hot coil needs {show(needs, 'V')}, gets {show(gets_worst, 'V')}.",
                working=Working(
                    formula=f"V_{{pull}} = {card.pull_in:.0%} · V_{{rated}} · (1 + {COPPER_DRIFT:.4f}·ΔT)".replace("%", " %"),
                    substituted=f"= {card.pull_in * self.rated:.3g} · (1 + {COPPER_DRIFT:.4f} · {rise:.3g}) = {show(needs, 'V')}; "
                    f"gets {show(view.low, 'V')} − {show(drop_worst, 'V')}",
                    reason="Copper gains 0.39 % a kelvin, so a hot coil needs more volts for the same pull. "
                    f"{show(self.hottest, '°C')} is the hottest coil you expect; measuring it would settle this.",
                ),
                remedy=Remedy(text="Use a coil rated for less, keep it cooler, or cut off before the battery is this low."),
            ),
            judge(
                "hold", "load", "Holds on through the deepest sag", nominal=gets, worst=gets_worst, limit=holds, unit="V",
                sense="at least", corner="supply low, coil hot",
                sentence=f"Needs {show(holds, 'V')} to hold, gets {show(gets_worst, 'V')}.",
                working=Working(
                    formula="V_{hold} = share · V_{rated} · R_{hot}/R", substituted=f"= {card.must_hold} · {self.rated:.3g} · {warm:.3f} = {show(holds, 'V')}",
                    reason="Once pulled in, the closed iron needs less. Half the rated voltage is assumed unless the card says.",
                ),
            ),
            judge(
                "coil_max", "load", f"Coil on a full {view.supply_name}", nominal=view.high - drop, worst=view.high, limit=most,
                unit="V", sense="at most", corner="supply high, no drop in the switch",
                sentence=f"Gets {show(view.high, 'V')}, allowed {show(most, 'V')}.",
                working=Working(
                    formula="V_{max} = share · V_{rated}", substituted=f"= {card.coil_max:.3g} · {self.rated:.3g} = {show(most, 'V')}",
                    reason="Above this the winding runs too hot when it stays on.",
                ),
                remedy=Remedy(text="Put a resistor in series with the coil, or use a coil rated for more."),
            ),
        ]  # fmt: skip
        if rating is None:
            return tuple(found)
        start = self.contact_current * STARTS[self.contact_load]
        kind = {"motor": "a motor", "lamp": "a lamp", "resistive": "a heater", "signal": "a signal"}[self.contact_load]
        found += [
            judge(
                "contact_run", "load", f"{self.contact_name} run on the contact", nominal=self.contact_current, worst=self.contact_current,
                limit=rating.run, unit="A", sense="at most", corner="running",
                sentence=f"{show(self.contact_current, 'A')} of {show(rating.run, 'A')} for {kind}.",
                working=Working(
                    formula="I_{run} ≤ I_{rated, this load}", substituted=f"{show(self.contact_current, 'A')} ≤ {show(rating.run, 'A')}",
                    reason="A contact's rating depends on what it switches: a motor or lamp is allowed far less than a heater.",
                ),
                remedy=Remedy(text="Take a relay with a bigger contact for this type of load."),
            ),
            judge(
                "contact_make", "load", f"{self.contact_name} start on the contact", nominal=start, worst=start, limit=rating.make,
                unit="A", sense="at most", corner="starting from rest or cold",
                sentence=f"{show(start, 'A')} at the start, makes {show(rating.make, 'A')}.",
                working=Working(
                    formula="I_{start} = k · I_{run}", substituted=f"= {STARTS[self.contact_load]:g} · {show(self.contact_current, 'A')} = {show(start, 'A')}",
                    reason="Motors draw five to eight times their running current at the start, cold lamps ten times.",
                ),
                remedy=Remedy(text="Take a relay that may make more, or limit the start current."),
            ),
            judge(
                "contact_clean", "load", "Contact keeps itself clean", nominal=self.contact_current, worst=self.contact_current,
                limit=rating.least, unit="A", sense="at least", corner="least current",
                sentence=f"Wants {show(rating.least, 'A')}, gets {show(self.contact_current, 'A')}.",
                working=Working(
                    formula="I_{least} ≤ I_{run}", substituted=f"{show(rating.least, 'A')} ≤ {show(self.contact_current, 'A')}",
                    reason="A small current never burns the film off a power contact: it turns into a dry contact.",
                ),
                remedy=Remedy(text="Use a signal relay with gilded contacts, or load the contact a little."),
            ),
            judge(
                "contact_volts", "load", "Volts across the contact", nominal=self.contact_volts, worst=self.contact_volts,
                limit=rating.volts, unit="V", sense="at most", corner="contact open",
                sentence=f"{show(self.contact_volts, 'V')} of {show(rating.volts, 'V')} DC.",
                working=Working(
                    formula="V_{contact} ≤ V_{rated}", substituted=f"{show(self.contact_volts, 'V')} ≤ {show(rating.volts, 'V')}",
                    reason="DC arcs do not go out by themselves; the DC rating is well under the AC one.",
                ),
                remedy=Remedy(text="Above 30 V AC or 60 V DC this program gives ratings only. Local code and a licensed person decide."),
            ),
        ]  # fmt: skip
        return tuple(found)

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        card = self._card(view)
        resistance = copper(self.resistance, corner.celsius, self.measured_at)
        rule = relay_rule(card) | {
            "resistance": resistance,
            "inductance": self._inductance(),
            "pull_in": self._pull_in(card),
            "drop_out": self._drop_out(card),
        }
        yield Relay(name=view.refs["relay"], a="plus", b=view.nodes["in"], com="plus", no="contact", **rule)
        yield Resistor(name=view.refs["contact_load"], a="contact", b="0", resistance=max(self.contact_volts / self.contact_current, 1e-3))

    def draw(self, pen: Pen, view: View) -> None:
        x, out = pen.x, pen.output
        relay = view.refs["relay"]
        coil = pen.place(
            relay, "coil", x + 1.5, 4.5, label=relay, value=show(self.resistance, "Ω"), path=view.path("resistance"), side="above",
            pins=("a", "b"),
        )  # fmt: skip
        pen.wire((x + 1.5, 0.0), coil["a"], load=True, part=relay)
        pen.wire(coil["b"], (x + 1.5, OUTPUT_Y), load=True, part=relay)
        pen.wire(out, (x + 1.5, OUTPUT_Y), load=True, part=relay)
        pen.tag(f"i({relay})", "A", x + 1.5, OUTPUT_Y + 2.2)
        far = x + 9.0
        contact = pen.place(relay, "contact", far, 4.5, label="", value="", side="right", pins=("com", "no"))
        load = view.refs["contact_load"]
        symbol = {"motor": "motor", "lamp": "lamp", "resistive": "heater", "signal": "heater"}[self.contact_load]
        motor = pen.place(load, symbol, far, 18.0, label=self.contact_name, value="", path=view.path("contact_current"), side="left")
        pen.wire((far, 0.0), contact["com"], load=True, part=load)
        pen.wire(contact["no"], motor["a"], load=True, part=load)
        pen.wire(motor["b"], (far, HEIGHT), load=True, part=load)
        pen.links.append(Link(points=((x + 3.8, 4.5), (far - 0.7, 4.5))))
        pen.x = far + 1.5

    def parts(self, view: View) -> tuple[Part, ...]:
        card = self._card(view)
        return (
            Part(
                ref=view.refs["relay"], title=card.title, value=f"{show(self.rated, 'V')}, {show(self.resistance, 'Ω')}", kind="relay",
                rating=f"contact {show(card.ratings['resistive'].run, 'A')}" if "resistive" in card.ratings else "", card=card.id,
                legs=card.legs, face=card.face, stock=view.drawer.count(card.id), price=card.price, path=view.path("card"), on_board=False,
            ),
        )  # fmt: skip

    def probes(self, view: View) -> tuple[Probe, ...]:
        relay = view.refs["relay"]
        return (
            Probe(
                id="coil_current", title="Coil current", red=f"lead of {relay} opened, + side", black="other end of the opened lead",
                quantity="current", device=relay, terminal="a", states=("high",),
            ),
        )  # fmt: skip

    def watches(self, view: View) -> tuple[Watch, ...]:
        relay, card = view.refs["relay"], self._card(view)
        limits = ((self._pull_in(card), "pulls in"), (self._drop_out(card), "lets go"))
        return (
            Watch(id=f"i({relay})", title="Coil current", unit="A", signal=f"i({relay})", place=2, limits=limits),
            Watch(id="contact", title="Contact", unit="", signal=f"state({relay},2)", place=4, words=("open", "closed")),
        )

    def steps(self, view: View) -> tuple[Step, ...]:
        relay, out = view.refs["relay"], view.switch.output if view.switch else "output"
        low, high = self.resistance * 0.97 + 0.1, self.resistance * 1.03 + 0.4
        return (
            Step(
                id="coil_ohms", action="check", title="Coil, before it is wired", part=relay,
                detail="Meter on ohms across the pair of pins that reads 20 Ω to 1 kΩ. OL or 0: those are contact pins.",
                expect=f"{show(low, 'Ω')} to {show(high, 'Ω')}",
            ),
            Step(
                id="coil_leads", action="link", title=f"Coil leads of {relay}: + rail and {out}", part=relay,
                detail=f"{relay} stays off the board. One coil lead to the + rail, the other to the {out}'s strip.",
            ),
            Step(
                id="contact_leads", action="link", title=f"{self.contact_name} at the contact", part=relay,
                detail=f"+ of the supply to COM, NO to the {self.contact_name.lower()}, its other lead to 0 V at the supply. "
                f"{show(self.contact_current, 'A')} never goes through the board. On NO, a dead pin stops it.",
            ),
        )  # fmt: skip


def fraction_of_rise(i: float, i_end: float, tau: float) -> float:
    """Time for a coil's current to reach i on its way to i_end [s]: −τ·ln(1 − i/i_end)."""
    return math.inf if i >= i_end else -tau * math.log(1 - i / i_end)
