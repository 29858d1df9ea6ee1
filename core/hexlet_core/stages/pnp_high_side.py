"""PNP transistor as a high-side switch: its emitter at the supply, its base pulled down to turn it on.

Choose it when the load must stay tied to 0 V. Base released must reach the supply, which is what the pull-
up is for.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import BipolarCard, PnpCard
from ..circuit.devices import Device
from ..fields import Q
from ..quantity import show_part
from .base_drive import BaseDrive, forced_gain
from .contract import Corner, Offer, Schedule, Switch, View
from .drawing import Pen
from .findings import Verdict
from .high_side import SHIFT_CARDS, HighSide
from .npn_low_side import bipolar_load, bipolar_switch, transistor


class PnpHighSide(HighSide):
    title = "PNP, high side"
    purpose = "A PNP transistor connects the load's upper end to the supply; the load stays at 0 V."
    choose = "The load's other end must be at 0 V: a chassis, a cable's shield, a module with its own ground."
    avoid = "The load draws more than half an amp, or a low-side switch would do: that needs fewer parts."
    output = "collector"
    cards = {"card": PnpCard, **SHIFT_CARDS}
    controls = ("base",)

    kind: Literal["pnp_high_side"] = "pnp_high_side"
    card: str = "pnp-60v-1a"
    forced_gain: Annotated[float, Q("", 2.0, 200.0)] | None = None

    @property
    def summary(self) -> str:
        return f"PNP, {show_part(self.r_drive)} Ω" + ("" if self.shift != "none" else ", direct")

    def control(self, view: View, offer: Offer) -> BaseDrive:
        card = self.card_of(view)
        assert isinstance(card, BipolarCard)
        amps = view.high / view.demand.cold if view.demand else 0.0
        return BaseDrive(
            self.feed(view, offer),
            card,
            self.r_drive,
            self.r_pull,
            amps,
            forced_gain(card, self.forced_gain),
            view.tolerance,
            view.refs["series"],
            view.refs.get("pull", "R_{pull}"),
        )

    def switch(self, view: View) -> Switch:
        return bipolar_switch(view, self.card_of(view), self.output)

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        if view.offer is None or view.demand is None:
            return ()
        return (
            *self.control_verdicts(view, view.offer),
            *bipolar_load(view, view.demand, self.control(view, view.offer)),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield from self.shift_devices(view, corner, "base")
        yield transistor(view, self.card_of(view), corner, "switch", view.nodes["out"], "base", "plus")

    def draw(self, pen: Pen, view: View) -> None:
        self.draw_all(pen, view, "pnp", ("b", "c", "e"), "base")
