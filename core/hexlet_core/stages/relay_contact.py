"""A relay's contact as the switch: an NPN drives the coil, and the contact joins the load to the supply.

The contact has no drop to speak of and isolates; its rating depends on what the load is, and it wears. The
coil brings its
own pull-in, its own freewheel diode, and its current.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import BipolarCard, DiodeCard, NpnCard, RelayCard
from ..cards.derive import diode as diode_rule
from ..circuit.devices import Device, Diode, Relay, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .base_drive import BaseDrive, forced_gain
from .coil import Coil
from .contact import Contact, contact_verdicts, ladder
from .contract import Corner, Demand, Offer, Schedule, Side, Switch, View, Watch
from .drawing import HIGH_Y, OUTPUT_Y, Link, Pen
from .drive import Drive, draw_low_side
from .feed import from_low_side
from .findings import Remedy, Verdict, Window, Working, judge, window
from .npn_low_side import transistor


class RelayContact(Drive):
    title = "Relay contact"
    purpose = "A transistor pulls a relay, whose contact connects the load to the supply."
    choose = "No drop at all, isolation, or a load that no transistor in the drawer carries."
    avoid = (
        "It switches often, or must not click; the contact wears, and the coil draws for as long as it is on."
    )
    letters = {"series": "R", "pull": "R", "first": "Q", "diode": "D", "switch": "K"}
    output = "switched"
    cards = {"first": NpnCard, "card": RelayCard, "diode": DiodeCard}
    resistors = {"series": ("Base resistor", "r_base"), "pull": ("Base pull-down", "r_pull")}
    fits = {"first": "first", "switch": "card", "diode": "diode"}
    controls = ("base", "coil")

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

    def _relay(self, view: View) -> RelayCard:
        return view.drawer.card(self.card, RelayCard, view.path("card"))

    def _coil(self, view: View) -> Coil:
        card = self._relay(view)
        return Coil(card, card.coil, card.rated, 25.0, self.hottest, card.time_constant)

    def _base(self, view: View, offer: Offer) -> BaseDrive:
        card = self.card_of(view, "first")
        assert isinstance(card, BipolarCard)
        return BaseDrive(
            from_low_side(offer),
            card,
            self.r_base,
            self.r_pull,
            view.high / self._coil(view).coldest,
            forced_gain(card, None),
            view.tolerance,
            view.refs["series"],
            view.refs.get("pull", "R_{pull}"),
        )

    def switch(self, view: View) -> Switch:
        relay = self._relay(view)
        rating = next(iter(relay.ratings.values()))
        drop = view.low / view.demand.typical * relay.contact_resistance if view.demand else 0.0
        return Switch(
            ref=view.refs["switch"],
            output=self.output,
            drop=drop,
            drop_worst=2 * drop,
            breakdown=10 * rating.volts,
            capacitance=5e-12,
            avalanche_energy=0.0,
            resistance=relay.contact_resistance,
        )

    def windows(self, view: View) -> tuple[Window, ...]:
        if view.offer is None:
            return ()
        base, stock = self._base(view, view.offer), view.stock()
        return (
            window(
                view.path("r_base"),
                base.series_ref,
                "base resistor",
                "Ω",
                self.r_base,
                base.series_bounds(),
                stock=stock,
            ),
            window(
                view.path("r_pull"),
                view.refs.get("pull", "R"),
                "base pull-down",
                "Ω",
                self.r_pull,
                base.pull_bounds(),
                stock=stock,
                removable=True,
            ),
        )

    def _use(self, view: View, demand: Demand) -> tuple[float, float]:
        """Running and starting current of the load through the contact [A]."""
        runs = view.high / demand.cold
        return runs, max(demand.surge, runs)

    def contact(self, view: View) -> Contact | None:
        demand = view.demand
        return (
            None
            if demand is None
            else ladder(
                demand.name.capitalize(),
                self._relay(view).ratings,
                demand.use,
                *self._use(view, demand),
                view.high,
                view.ac,
            )
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        offer, demand = view.offer, view.demand
        if offer is None or demand is None:
            return ()
        base, coil, diode = (
            self._base(view, offer),
            self._coil(view),
            view.drawer.card(self.diode, DiodeCard, view.path("diode")),
        )
        amps = view.high / coil.coldest
        own = [
            v.model_copy(update={"id": f"switch_{v.id}", "title": f"Relay: {v.title}"})
            for v in coil.verdicts(view, base.card.v_ce_sat * 0.7, base.card.v_ce_sat, "drive")
        ]
        contact = contact_verdicts(
            demand.name.capitalize(),
            coil.card.ratings,
            demand.use,
            *self._use(view, demand),
            view.high,
            ac=view.ac,
            facet="drive",
        )
        return (
            *base.verdicts(),
            *own,
            *[v.model_copy(update={"id": f"switch_{v.id}"}) for v in contact],
            judge(
                "coil_diode",
                "drive",
                "Relay: its freewheel diode",
                nominal=amps,
                worst=amps,
                limit=diode.current,
                unit="A",
                sense="at most",
                corner="supply high, coil cold",
                sentence=f"{show(amps, 'A')} of {show(diode.current, 'A')}, each time it lets go.",
                working=Working(
                    formula="I_{D} = V_{high} / R_{coil}",
                    substituted=f"= {show(amps, 'A')}",
                    reason="The coil's current goes on through the diode from the first moment.",
                ),
                remedy=Remedy(text="Pick a diode for more current."),
            ),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        k = view.refs["switch"]
        return (
            *super().watches(view),
            Watch(
                id="relay",
                title="Contact",
                unit="",
                signal=f"state({k},2)",
                place=4,
                words=("open", "closed"),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        tol = 1 + corner.resistors
        yield Resistor(
            name=view.refs["series"],
            a=view.nodes["in"],
            b="base",
            resistance=self.r_base * tol,
            tolerance=view.tolerance,
        )
        if self.r_pull is not None:
            yield Resistor(
                name=view.refs["pull"],
                a="base",
                b="0",
                resistance=self.r_pull * tol,
                tolerance=view.tolerance,
            )
        yield transistor(view, self.card_of(view, "first"), corner, "first", "coil", "base", "0")
        diode = view.drawer.card(self.diode, DiodeCard, view.path("diode"))
        yield Diode(name=view.refs["diode"], a="coil", k="plus", **diode_rule(diode, corner.celsius))
        yield Relay(
            name=view.refs["switch"],
            a="plus",
            b="coil",
            com="plus",
            no=view.nodes["out"],
            **self._coil(view).params(corner.celsius),
        )

    def draw(self, pen: Pen, view: View) -> None:
        pull = ("pull", self.r_pull, "r_pull") if self.r_pull is not None else None
        t = draw_low_side(
            pen,
            view,
            "npn",
            ("b", "c", "e"),
            "base",
            ("series", self.r_base, "r_base"),
            pull,
            local="first",
            field="first",
            output=False,
        )
        x, d, k = t["c"][0], view.refs["diode"], view.refs["switch"]
        at = pen.place(d, "diode", x, 4.5, label=d, value="", path=view.path("diode"), side="left")
        pen.wire((x, 0.0), at["k"], part=d)
        pen.wire(at["a"], t["c"], part=d)
        coil = pen.place(
            k,
            "coil",
            x + 5.5,
            4.5,
            label=k,
            value=show(self._relay(view).coil, "Ω"),
            path=view.path("card"),
            pins=("a", "b"),
            side="above",
        )
        pen.wire((x + 5.5, 0.0), coil["a"], part=k)
        pen.wire(coil["b"], (x + 5.5, OUTPUT_Y), (x, OUTPUT_Y), part=k)
        far = x + 12.0
        c = pen.place(k, "contact", far, 4.5, pins=("com", "no"))
        pen.wire((far, 0.0), c["com"], load=True, part=k)
        pen.wire(c["no"], (far, HIGH_Y), load=True, part=k)
        pen.links.append(Link(points=((x + 7.8, 4.5), (far - 0.7, 4.5))))
        pen.tag(view.nodes["out"], "V", far + 3.2, HIGH_Y - 5.0)
        pen.output, pen.x = (far, HIGH_Y), far
