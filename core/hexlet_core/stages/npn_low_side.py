"""NPN transistor as a low-side switch.

Choose it for coils and lamps up to the transistor's current where the pin can spare a tenth of the load
current. `base_drive` holds the rules of its base; dissipation is VCE(sat)·IC + VBE·IB.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import BipolarCard, NpnCard
from ..cards.derive import bipolar as npn_rule
from ..circuit.devices import Bipolar, Device, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .base_drive import BaseDrive, forced_gain
from .contract import Corner, Demand, Offer, Schedule, Switch, View
from .drawing import Pen
from .drive import Drive, draw_low_side
from .feed import from_low_side
from .findings import Change, Verdict, Window, window
from .findings import Offer as Try
from .switching import heat_verdicts, load_current


class NpnLowSide(Drive):
    title = "Bipolar"
    purpose = "An NPN transistor pulls the load's lower end to 0 V."
    choose = "Load up to some 200 mA, a pin that can spare a tenth of it, parts from any drawer."
    avoid = "The pin is weak, or the load draws more than half an amp."
    letters = {"series": "R", "pull": "R", "switch": "Q"}
    output = "collector"
    cards = {"card": NpnCard}
    resistors = {"series": ("Base resistor", "r_base"), "pull": ("Base pull-down", "r_pull")}
    fits = {"switch": "card"}
    controls = ("base",)

    kind: Literal["npn_low_side"] = "npn_low_side"
    card: str = "npn-40v-200ma"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] = 1e3
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 10e3
    forced_gain: Annotated[float, Q("", 2.0, 200.0)] | None = None

    @property
    def summary(self) -> str:
        return f"Bipolar, {show_part(self.r_base)} Ω"

    def _base(self, view: View, offer: Offer, demand: Demand) -> BaseDrive:
        card = self.card_of(view)
        assert isinstance(card, BipolarCard)
        return BaseDrive(
            from_low_side(offer),
            card,
            self.r_base,
            self.r_pull,
            view.high / demand.cold,
            forced_gain(card, self.forced_gain),
            view.tolerance,
            view.refs["series"],
            view.refs.get("pull", "R_{pull}"),
        )

    def switch(self, view: View) -> Switch:
        return bipolar_switch(view, self.card_of(view), self.output)

    def windows(self, view: View) -> tuple[Window, ...]:
        offer, demand = view.offer, view.demand
        if offer is None or demand is None:
            return ()
        base, stock = self._base(view, offer, demand), view.stock()
        card, least, head = base.card, base.least_series(), max(offer.high.low - base.card.v_be_sat, 1e-3)
        offers = []
        gain = base.collector * (least * (1 + view.tolerance) + offer.resistance) / head
        if base.gain < gain <= card.gain_min:
            gain = float(-(-gain // 1)) + 1
            offers.append(
                Try(
                    title=f"Force a gain of {gain:g}, not {base.gain:g}",
                    standing="fits" if gain <= card.gain_min / 2 else "tight",
                    detail=(
                        f"from {show(least, 'Ω')}; the card promises at least {card.gain_min:g} out of "
                        "saturation"
                    ),
                    changes=(Change(path=view.path("forced_gain"), value=gain),),
                )
            )
        wanted = view.high * least / head / base.gain
        offers.append(
            Try(
                title=f"A load of {show(wanted, 'Ω', 2)} or more",
                detail=f"then {show(least, 'Ω')} or more would do",
                standing="unknown",
            )
        )
        return (
            window(
                view.path("r_base"),
                base.series_ref,
                "base resistor",
                "Ω",
                self.r_base,
                base.series_bounds(),
                stock=stock,
                offers=offers,
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
        offer, demand = view.offer, view.demand
        if offer is None or demand is None:
            return ()
        base = self._base(view, offer, demand)
        return (*base.verdicts(), *bipolar_load(view, demand, base))

    def heats(self, view: View) -> dict[str, float]:
        top = view.offer.high.high if view.offer else 0.0
        return {"series": top**2 / self.r_base, "pull": 0.7**2 / self.r_pull if self.r_pull else 0.0}

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
        yield transistor(view, self.card_of(view), corner, "switch", view.nodes["out"], "base", "0")

    def draw(self, pen: Pen, view: View) -> None:
        pull = ("pull", self.r_pull, "r_pull") if self.r_pull is not None else None
        draw_low_side(pen, view, "npn", ("b", "c", "e"), "base", ("series", self.r_base, "r_base"), pull)


def transistor(view: View, card: object, corner: Corner, local: str, c: str, b: str, e: str) -> Bipolar:
    """A bipolar transistor from its card at a corner."""
    assert isinstance(card, BipolarCard)
    return Bipolar(name=view.refs[local], c=c, b=b, e=e, **npn_rule(card, corner.celsius, corner.spread))


def bipolar_switch(view: View, card: object, output: str, drop: float = 0.0) -> Switch:
    """A saturated transistor to the load and the guard; `drop` is what stands in series with it [V]."""
    assert isinstance(card, BipolarCard)
    return Switch(
        ref=view.refs["switch"],
        output=output,
        drop=card.v_ce_sat * 0.7 + drop,
        drop_worst=card.v_ce_sat + drop,
        breakdown=card.v_ceo,
        capacitance=2e-11,
        avalanche_energy=0.0,
        control="base",
        reverse=card.v_ebo,
    )


def bipolar_load(view: View, demand: Demand, base: BaseDrive, drop: float = 0.0) -> list[Verdict]:
    """The load's current and heat in a saturated transistor with `drop` more across it than VCE(sat) [V]."""
    card, volts, i_b = base.card, base.card.v_ce_sat + drop, base.taken()[1]
    watts = volts * base.collector + card.v_be_sat * i_b
    return [
        *load_current(
            demand,
            view,
            card.current,
            "allowed",
            card.current,
            "A bipolar has no more to give: beyond this it leaves saturation.",
        ),
        *heat_verdicts(
            view,
            nominal=watts * 0.8,
            worst=watts,
            r_th=card.r_th,
            t_max=card.t_j_max,
            power=card.power,
            how="P = V_{CE,sat} · I_{C} + V_{BE} · I_{B}",
            numbers=(
                f"= {volts:.3g} · {show(base.collector, 'A')} + {card.v_be_sat:.3g} · {show(i_b, 'A')} = "
                f"{show(watts, 'W')}"
            ),
        ),
    ]
