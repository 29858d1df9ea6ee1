"""Relay self-hold with transistors for buttons: one normally off pulls the relay, one normally on lets it go.

The relay's own spare contact bridges the upper transistor; the lower one conducts through its pull-up until
the stop line is laid to 0 V. The buttons carry base currents only, and many relays may share the stop line.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, ClassVar, Literal

from ...cards.card import BipolarCard, DiodeCard, NpnCard, RelayCard
from ...cards.points import junctions
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import StateRow
from ..contract.facts import Contact
from ..contract.parts import Placed, from_card, resistor
from ..contract.ports import Port
from ..contract.scenes import Probe, Watch
from ..contract.site import Site
from ..drawing.latches import draw_relay_hold_npn
from ..drawing.pen import Pen
from ..rules.base_drive import BaseDrive, forced_gain
from ..rules.coil import Coil
from ..rules.feed import Names, from_rail
from ..rules.kick import stands
from ..rules.supplied import Supplied
from ..say.checks import Check, Shown, check, high
from ..say.windows import Window, window
from .relay_hold import RelayHold


class RelayHoldNpn(RelayHold):
    title = "Relay self-hold, transistors"
    purpose = "A relay holds itself; small buttons work two transistors that set it and let it go."
    choose = "Small or distant buttons, or several relays that one line shall let go."
    avoid = "The supply is so low that two transistors' drop keeps the relay from pulling."
    controls = ("coil", "middle")
    cards = {"card": RelayCard, "diode": DiodeCard, "npn": NpnCard}

    kind: Literal["relay_hold_npn"] = "relay_hold_npn"  # type: ignore[assignment]
    npn: str = "npn-40v-200ma"
    r_set: Annotated[float, Q("Ω", 100.0, 1e6)] = 2.7e3
    r_set_pull: Annotated[float, Q("Ω", 100.0, 1e7)] = 10e3
    r_low: Annotated[float, Q("Ω", 10.0, 1e6)] = 1.2e3
    r_up: Annotated[float, Q("Ω", 10.0, 1e6)] = 1.2e3

    shown: ClassVar[Shown] = Shown("v(plus,coil)", "active", within=0.03)

    @property
    def summary(self) -> str:
        return f"Relay self-hold, {show_part(self.r_set)} and {show_part(self.r_up)}"

    def ports(self) -> tuple[Port, ...]:
        return (
            *(p for p in super().ports() if p.kind != "contact"),
            Port("on", "contact", "in", {"com": "plus", "make": "set"}, form="make"),
            Port("off", "contact", "in", {"com": "reset", "make": "zero"}, form="make"),
        )

    def make(self, site: Site) -> Iterable[Placed]:
        coil = self.coil(site)
        legs = {"a": "plus", "b": "coil", "com": "coil", "no": "middle", "com2": "plus", "no2": "switched"}
        ohms = show(coil.resistance, "Ω")
        yield from_card(site, "switch", "K", "card", legs, numbers=coil.numbers, mark=ohms)
        yield from_card(site, "diode", "D", "diode", {"a": "coil", "k": "plus"}, mark="")
        yield resistor(site, "set", "Base resistor of the setting NPN", "r_set", "set", "base_set")
        yield resistor(site, "set_pull", "Its pull-down", "r_set_pull", "base_set", "middle")
        yield from_card(site, "setter", "Q", "npn", {"c": "coil", "b": "base_set", "e": "middle"})
        yield resistor(site, "up", "Pull-up of the stop line", "r_up", "plus", "reset")
        yield resistor(site, "low", "Base resistor of the lower NPN", "r_low", "reset", "base_low")
        yield from_card(site, "lower", "Q", "npn", {"c": "middle", "b": "base_low", "e": "zero"})

    # --- its transistors ----------------------------------------------------------------------------
    def _bases(self, site: Site) -> tuple[BaseDrive, BaseDrive]:
        """The upper one, while start is held; the lower one, as long as stop is not."""
        rail, card = site.rail, site.card("npn", BipolarCard)
        amps = rail.high / self.coil(site).coldest

        def base(
            series: float, pull: float | None, lift: float, tag: str, who: str, names: Names
        ) -> BaseDrive:
            local = "set" if tag == "set_" else "low"
            return BaseDrive(
                feed=from_rail(rail, amps),
                card=card,
                series=series,
                pull=pull,
                collector=amps,
                rests=amps / 20,
                what="coil",
                gain=forced_gain(card),
                tolerance=site.tolerance,
                series_ref=site.ref("set") if local == "set" else f"{site.ref('up')} + {site.ref('low')}",
                pull_ref=site.ref("set_pull"),
                names=names,
                lift=lift,
                lifts=lift / 2,
                tag=tag,
                who=who,
            )

        upper = base(
            self.r_set,
            self.r_set_pull,
            card.v_ce_sat,
            "set_",
            "Setting NPN: ",
            Names("base_set", "setter", "set"),
        )
        lower = base(
            self.r_up + self.r_low, None, 0.0, "low_", "Lower NPN: ", Names("base_low", "lower", "low")
        )
        return upper, lower

    def supplied(self, site: Site) -> Supplied:
        """What its coil gets: less both transistors while it is pulled."""
        rail, card, coil = site.rail, site.card("npn", BipolarCard), self.coil(site)
        _, lower = self._bases(site)

        def drop(volts: float) -> float:
            amps = volts / coil.resistance
            return junctions(card, amps, lower.ordinary(volts)).v_ce

        most = 2 * card.v_ce_sat
        usual = rail.low - drop(rail.low)
        return Supplied(
            usual, rail.low - most, rail.low - usual, most, rail.high - drop(rail.high), rail.high
        )

    # --- what is said -------------------------------------------------------------------------------
    def button_checks(self, site: Site, coil: Coil) -> Iterator[Check]:
        rail, card = site.rail, site.card("npn", BipolarCard)
        for base in self._bases(site):
            for found in base.checks():
                if found.about in ("turns on", "taken", "level"):
                    # The upper one is bridged once it has pulled: nothing shows there any more.
                    yield found if base.tag == "low_" else replace(found, shown=None)
        for local in ("setter", "lower"):
            who = "Setting NPN: " if local == "setter" else "Lower NPN: "
            yield stands(site.ref(local), rail.high, card.v_ceo, f"{local}_", who)
        currents = (("on", "start", rail.high / self.r_set), ("off", "stop", rail.high / self.r_up))
        for port, word, amps in currents:
            contact = site.told(port, Contact)
            if contact is not None:
                yield check(
                    f"{port}_carries",
                    f"The {word} button carries a base",
                    "limit",
                    "contact",
                    unit="A",
                    nominal=amps,
                    most=contact.most,
                    at=high("held"),
                    says=f"{show(amps, 'A')} of {show(contact.most, 'A')}.",
                    formula="I = V_{high} / R",
                    numbers=f"= {show(amps, 'A')}",
                    because="A base's current is all that it carries.",
                    cure="Take a button for more current.",
                )

    def windows(self, site: Site) -> tuple[Window, ...]:
        upper, lower = self._bases(site)
        rest = [
            b.model_copy(update={"value": max(b.value - self.r_low, 1e-3)}) for b in lower.series_bounds()
        ]
        return (
            window(site, "r_set", "set", "base resistor of the setting NPN", upper.series_bounds()),
            window(site, "r_up", "up", "pull-up of the stop line", rest),
        )

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        k, q, low = site.ref("switch"), site.ref("setter"), site.ref("lower")
        return (
            StateRow(state="Supply plugged in", load="off", why=f"{q} is off, and so is {k}"),
            StateRow(state="Start pressed", load=site.demand().energised, why=f"{q} and {low} pull {k}"),
            StateRow(state="Let go", load="stays on", why=f"{k}'s own contact bridges {q}"),
            StateRow(state="Stop pressed", load="off", why=f"{low} gets no base current"),
            StateRow(state="Both pressed", load="off", why=f"{low} lies under both"),
            StateRow(state="Supply fails and returns", load="off", why="it has let go meanwhile"),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        scenes = ("idle", "active", "taken_off")
        return (
            Probe(id="coil", title="Coil's lower end to 0 V", red="coil strip", signal="coil", scenes=scenes),
            Probe(id="middle", title="Middle to 0 V", red="middle strip", signal="middle", scenes=scenes),
            Probe(id="switched", title="Load to 0 V", red="switched strip", signal="switched", scenes=scenes),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            *(w for w in super().watches(site) if w.id != "coil"),
            Watch(id="coil", title="Coil's lower end", unit="V", signal="coil", place=5, peak=True),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_relay_hold_npn(pen, site)
