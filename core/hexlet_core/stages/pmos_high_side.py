"""P-MOSFET as a high-side switch: its source at the supply, its gate pulled down to turn it on.

`r_drive` and the pull-up divide the supply, so that |VGS| stays inside its limit at the high supply and
above the fully-on
voltage at the low one. The pull-up alone empties the gate: it sets the turn-off time, and what is wasted
while it is on.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import FieldEffectCard, PMosfetCard
from ..circuit.devices import Device
from ..fields import Q
from ..quantity import show_part
from .contract import Corner, Offer, Schedule, Switch, View
from .drawing import Pen
from .findings import Verdict
from .gate_drive import GateDrive
from .high_side import SHIFT_CARDS, HighSide
from .nmos_low_side import channel, mosfet_load, mosfet_switch
from .switching import back_feed


class PmosHighSide(HighSide):
    title = "P-MOSFET, high side"
    purpose = "A P-channel MOSFET connects the load's upper end to the supply with little drop."
    choose = "The load must stay tied to 0 V and draws more than a bipolar carries well."
    avoid = "The supply is too low for the gate, or the load side may feed back through the body diode."
    output = "drain"
    cards = {"card": PMosfetCard, **SHIFT_CARDS}
    controls = ("gate",)

    kind: Literal["pmos_high_side"] = "pmos_high_side"
    card: str = "pmos-55v-12a"
    r_drive: Annotated[float, Q("Ω", 1.0, 1e7)] = 220.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 10e3
    r_shift: Annotated[float, Q("Ω", 1.0, 1e7)] = 1000.0
    on_within: Annotated[float, Q("s", 1e-8, 1.0)] = 100e-6
    off_within: Annotated[float, Q("s", 1e-8, 1.0)] = 500e-6

    @property
    def summary(self) -> str:
        return f"P-MOSFET, {show_part(self.r_drive)} Ω" + ("" if self.shift != "none" else ", direct")

    def pulled(self, view: View) -> float:
        return view.high / (self.r_drive + (self.r_pull or 1e6))

    def control(self, view: View, offer: Offer) -> GateDrive:
        card = self.card_of(view)
        assert isinstance(card, FieldEffectCard)
        return GateDrive(
            self.feed(view, offer),
            card,
            self.r_drive,
            self.r_pull,
            view.high,
            view.hot,
            self.on_within,
            view.tolerance,
            view.refs["series"],
            view.refs.get("pull", "R_{pull}"),
            back=self.off_within if self.shift != "none" else None,
            rail="the + rail",
            clamp=math.inf if view.gate_clamp is None else view.gate_clamp,
        )

    def switch(self, view: View) -> Switch:
        card = self.card_of(view)
        assert isinstance(card, FieldEffectCard)
        return mosfet_switch(view, card, self.output, self.control(view, view.offer) if view.offer else None)

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        if view.offer is None or view.demand is None:
            return ()
        return (
            *self.control_verdicts(view, view.offer),
            *mosfet_load(view, view.demand, self.control(view, view.offer)),
            *back_feed(view, view.demand),
        )

    def heats(self, view: View) -> dict[str, float]:
        through = view.high / (self.r_drive + (self.r_pull or 1e9))
        return {"series": through**2 * self.r_drive, "pull": through**2 * (self.r_pull or 0.0)}

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield from self.shift_devices(view, corner, "gate")
        yield channel(view, self.card_of(view), corner, "switch", "gate", view.nodes["out"], "plus")

    def draw(self, pen: Pen, view: View) -> None:
        self.draw_all(pen, view, "p_mosfet", ("g", "d", "s"), "gate")
