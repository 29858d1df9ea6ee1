"""Transistor driving a transistor: the first one takes the second one's base current away, so the sense is
inverted.

The first one's collector resistor is the second one's base resistor: it drives the base while the first is
off, and is the
first one's load while it is on. An LED in that collector shows the state, and takes its drop from the
base's drive.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import BipolarCard, NpnCard
from ..circuit.devices import Device, Resistor
from ..fields import Q
from ..quantity import Interval, show, show_part
from .base_drive import BaseDrive, forced_gain
from .contract import Corner, Demand, Offer, Schedule, Switch, View
from .drawing import HEIGHT, SIGNAL_Y, Pen
from .drive import Drive, draw_low_side, draw_up
from .feed import Feed
from .findings import Remedy, Verdict, Window, Working, judge, window
from .npn_low_side import bipolar_load, bipolar_switch, transistor


class ChainLowSide(Drive):
    title = "Transistor on transistor"
    purpose = "One NPN takes the base current of another away: the load runs while the signal is low."
    choose = "The sense must be inverted, or the load shall run when the signal's wire breaks."
    avoid = "The load must stay off while the controller boots: it runs until the first transistor is driven."
    letters = {"series": "R", "pull": "R", "first": "Q", "collector": "R", "switch": "Q"}
    output = "collector"
    cards = {"first": NpnCard, "card": NpnCard}
    resistors = {
        "series": ("Base resistor", "r_base"),
        "pull": ("Base pull-down", "r_pull"),
        "collector": ("Collector resistor", "r_collector"),
    }
    fits = {"first": "first", "switch": "card"}
    controls = ("first_base", "base")

    kind: Literal["chain_low_side"] = "chain_low_side"
    first: str = "npn-40v-200ma"
    card: str = "npn-60v-1a"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] = 1800.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = None
    r_collector: Annotated[float, Q("Ω", 1.0, 1e7)] = 820.0

    @property
    def summary(self) -> str:
        return f"Inverting, {show_part(self.r_collector)} Ω"

    @property
    def inverts(self) -> bool:
        return True

    def _bases(self, view: View, offer: Offer, demand: Demand) -> tuple[BaseDrive, BaseDrive]:
        first, second = self.card_of(view, "first"), self.card_of(view)
        assert isinstance(first, BipolarCard) and isinstance(second, BipolarCard)
        stolen = view.high / self.r_collector
        # Told to be off and at rest are the same here: the first one must be driven for the load to stop.
        inner = BaseDrive(
            Feed(offer.high, offer.resistance, offer.low, None, offer.steady, offer.burst, offer.name),
            first,
            self.r_base,
            self.r_pull,
            stolen,
            forced_gain(first, None),
            view.tolerance,
            view.refs["series"],
            view.refs.get("pull", "R_{pull}"),
            tag="first_",
            who="First: ",
        )
        outer = BaseDrive(
            Feed(Interval(view.low, view.typical, view.high), name="supply"),
            second,
            self.r_collector,
            None,
            view.high / demand.cold,
            forced_gain(second, None),
            view.tolerance,
            view.refs["collector"],
        )
        return inner, outer

    def switch(self, view: View) -> Switch:
        return bipolar_switch(view, self.card_of(view), self.output)

    def windows(self, view: View) -> tuple[Window, ...]:
        if view.offer is None or view.demand is None:
            return ()
        inner, outer = self._bases(view, view.offer, view.demand)
        stock = view.stock()
        return (
            window(
                view.path("r_base"),
                inner.series_ref,
                "base resistor",
                "Ω",
                self.r_base,
                inner.series_bounds(),
                stock=stock,
            ),
            window(
                view.path("r_collector"),
                outer.series_ref,
                "collector resistor",
                "Ω",
                self.r_collector,
                outer.series_bounds(),
                stock=stock,
            ),
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        offer, demand = view.offer, view.demand
        if offer is None or demand is None:
            return ()
        inner, outer = self._bases(view, offer, demand)
        rest = offer.rest
        level = rest.level / (rest.resistance + self.r_base) if rest.resistance < 1e9 else 0.0
        gets = max(
            level - 0.7 / (rest.resistance + self.r_base) - (0.7 / self.r_pull if self.r_pull else 0.0), 0.0
        )
        skip = {"unplugged", "first_unplugged"}  # unplugged it runs, which `boot` says
        left = inner.card.v_ce_sat
        return (
            *(v for v in (*inner.verdicts(), *outer.verdicts()) if v.id not in skip),
            *bipolar_load(view, demand, outer),
            judge(
                "boot",
                "drive",
                f"Stays off while {rest.when}",
                nominal=gets,
                worst=gets,
                limit=inner.needs,
                unit="A",
                sense="at least",
                corner=f"{offer.name} {rest.words}",
                sentence=(
                    f"The first transistor needs {show(inner.needs, 'A')} to hold it off, gets "
                    f"{show(gets, 'A')}."
                ),
                working=Working(
                    formula="I_{B} = (V_{rest} − V_{BE}) / (R_{rest} + R_{B})",
                    substituted=f"= {show(gets, 'A')}",
                    reason=(
                        f"The {offer.name} {rest.words}. An inverting drive runs the load until it is told "
                        "not to."
                    ),
                ),
                remedy=Remedy(
                    text=(
                        "Take a drive that does not invert, or accept that the load runs until the program "
                        "starts."
                    )
                ),
            ),
            judge(
                "off_level",
                "drive",
                "Turned fully off",
                nominal=left,
                worst=left,
                limit=outer.off,
                unit="V",
                sense="at most",
                corner="first transistor saturated",
                sentence=(
                    f"The first one leaves {show(left, 'V')} at the base; over {show(outer.off, 'V')} it "
                    "conducts."
                ),
                working=Working(
                    formula="V_{CE,sat} ≤ 0.4 V",
                    substituted=f"{show(left, 'V')} ≤ {show(outer.off, 'V')}",
                    reason="A saturated transistor keeps less than a base needs.",
                ),
                remedy=Remedy(text="Take a first transistor with a lower VCE(sat)."),
            ),
        )

    def heats(self, view: View) -> dict[str, float]:
        return {"collector": view.high**2 / self.r_collector}

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        tol = 1 + corner.resistors
        yield Resistor(
            name=view.refs["series"],
            a=view.nodes["in"],
            b="first_base",
            resistance=self.r_base * tol,
            tolerance=view.tolerance,
        )
        if self.r_pull is not None:
            yield Resistor(
                name=view.refs["pull"],
                a="first_base",
                b="0",
                resistance=self.r_pull * tol,
                tolerance=view.tolerance,
            )
        yield transistor(view, self.card_of(view, "first"), corner, "first", "base", "first_base", "0")
        yield Resistor(
            name=view.refs["collector"],
            a="plus",
            b="base",
            resistance=self.r_collector * tol,
            tolerance=view.tolerance,
        )
        yield transistor(view, self.card_of(view), corner, "switch", view.nodes["out"], "base", "0")

    def draw(self, pen: Pen, view: View) -> None:
        pull = ("pull", self.r_pull, "r_pull") if self.r_pull is not None else None
        t = draw_low_side(
            pen,
            view,
            "npn",
            ("b", "c", "e"),
            "first_base",
            ("series", self.r_base, "r_base"),
            pull,
            local="first",
            field="first",
            output=False,
        )
        x, y = t["c"]
        ref, q = view.refs["collector"], view.refs["switch"]
        r = pen.place(
            ref,
            "resistor",
            x,
            4.5,
            label=ref,
            value=show_part(self.r_collector),
            path=view.path("r_collector"),
        )
        pen.wire((x, 0.0), r["a"], part=ref)
        pen.wire(r["b"], (x, y), part=ref)
        s = pen.place(q, "npn", x + 7.0, SIGNAL_Y, label=q, value="", path=view.path("card"))
        pen.wire((x, y), (x + 2.6, y), (x + 2.6, SIGNAL_Y), s["b"], part=ref)
        pen.control = (x + 2.6, SIGNAL_Y)
        pen.wire(s["e"], (s["e"][0], HEIGHT), load=True, part=q)
        pen.tag("base", "V", x + 3.4, y - 2.0)
        draw_up(pen, view, s["c"], q)
