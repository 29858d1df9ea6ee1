"""Two NPN transistors as a high-gain pair: the first one's emitter feeds the second one's base.

Gains multiply, so a weak pin drives amps; but the output never falls below the second one's VBE plus the
first one's
VCE(sat): that drop heats, and starves a load on a low supply.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import BipolarCard, NpnCard
from ..circuit.devices import Device, Resistor
from ..fields import Q
from ..quantity import show_part
from .base_drive import BaseDrive
from .contract import Corner, Demand, Offer, Schedule, Switch, View
from .drawing import HEIGHT, OUTPUT_Y, Pen
from .drive import Drive, draw_pull, draw_series
from .feed import from_low_side
from .findings import Verdict, Window, window
from .npn_low_side import bipolar_load, bipolar_switch, transistor

OVERDRIVE = 4.0  # of the product of the two least gains: two in each


class PairLowSide(Drive):
    title = "High-gain pair"
    purpose = "Two NPN transistors, the first one driving the second, pull the load to 0 V."
    choose = "The pin is weak, only bipolars are in the drawer, and a volt of drop does not matter."
    avoid = "The supply is low or the load draws amps: the drop of about a volt heats and starves."
    letters = {"series": "R", "pull": "R", "first": "Q", "switch": "Q"}
    output = "collector"
    cards = {"first": NpnCard, "card": NpnCard}
    resistors = {"series": ("Base resistor", "r_base"), "pull": ("Base pull-down", "r_pull")}
    fits = {"first": "first", "switch": "card"}
    controls = ("base", "middle")

    kind: Literal["pair_low_side"] = "pair_low_side"
    first: str = "npn-40v-200ma"
    card: str = "npn-60v-1a"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] = 10e3
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 15e3

    @property
    def summary(self) -> str:
        return f"Pair, {show_part(self.r_base)} Ω"

    def _cards(self, view: View) -> tuple[BipolarCard, BipolarCard]:
        first, second = self.card_of(view, "first"), self.card_of(view)
        assert isinstance(first, BipolarCard) and isinstance(second, BipolarCard)
        return first, second

    def _drop(self, view: View) -> float:
        """What the output keeps above the second one's VCE(sat) [V]."""
        first, second = self._cards(view)
        return first.v_ce_sat + second.v_be_sat - second.v_ce_sat

    def _base(self, view: View, offer: Offer, demand: Demand) -> BaseDrive:
        first, second = self._cards(view)
        gain = first.gain_min * second.gain_min / OVERDRIVE
        return BaseDrive(
            from_low_side(offer),
            second,
            self.r_base,
            self.r_pull,
            view.high / demand.cold,
            gain,
            view.tolerance,
            view.refs["series"],
            view.refs.get("pull", "R_{pull}"),
            junctions=2,
        )

    def switch(self, view: View) -> Switch:
        return bipolar_switch(view, self.card_of(view), self.output, self._drop(view))

    def windows(self, view: View) -> tuple[Window, ...]:
        if view.offer is None or view.demand is None:
            return ()
        base, stock = self._base(view, view.offer, view.demand), view.stock()
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

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        if view.offer is None or view.demand is None:
            return ()
        base = self._base(view, view.offer, view.demand)
        return (*base.verdicts(), *bipolar_load(view, view.demand, base, self._drop(view)))

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        tol, out = 1 + corner.resistors, view.nodes["out"]
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
        first, second = self._cards(view)
        yield transistor(view, first, corner, "first", out, "base", "middle")
        yield transistor(view, second, corner, "switch", out, "middle", "0")

    def draw(self, pen: Pen, view: View) -> None:
        x0, y = pen.output
        far = draw_series(pen, view, "series", self.r_base, "r_base")
        first, second = view.refs["first"], view.refs["switch"]
        a = pen.place(first, "npn", x0 + 12.6, y, label=first, value="", path=view.path("first"), side="left")
        pen.wire(far, a["b"], part=view.refs["series"])
        if self.r_pull is not None:
            draw_pull(pen, view, "pull", self.r_pull, "r_pull", (x0 + 7.8, y), HEIGHT)
        b = pen.place(second, "npn", x0 + 19.0, y + 3.0, label=second, value="", path=view.path("card"))
        pen.wire(a["e"], b["b"], part=first)
        pen.wire(a["c"], (a["c"][0], OUTPUT_Y), (b["c"][0], OUTPUT_Y), load=True, part=first)
        pen.wire(b["c"], (b["c"][0], OUTPUT_Y), load=True, part=second)
        pen.wire(b["e"], (b["e"][0], HEIGHT), load=True, part=second)
        pen.tag("base", "V", x0 + 7.2, y - 2.8)
        pen.tag(view.nodes["out"], "V", a["c"][0] - 2.0, OUTPUT_Y)
        pen.control, pen.output = (x0 + 7.8, y), (b["c"][0], OUTPUT_Y)
        pen.x = b["c"][0]
