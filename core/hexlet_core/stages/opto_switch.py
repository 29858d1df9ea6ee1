"""Optocoupler as the switch: light carries the command, and its transistor carries a small load.

The transistor gives no more than CTR·I_F. CTR is promised as a minimum, and falls over the years: a third
is taken off.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import OptocouplerCard
from ..cards.derive import optocoupler as opto_rule
from ..circuit.devices import Device, Optocoupler, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .contract import Corner, Demand, Offer, Schedule, Switch, View
from .drawing import HEIGHT, Pen
from .drive import Drive, draw_series, draw_up
from .feed import Feed, feed_currents, from_low_side
from .findings import Bound, Remedy, Verdict, Window, Working, judge, window
from .switching import load_current

AGEING = 0.67  # of the transfer ratio that is left after years of light, assumed
FAINT = 0.8  # share of the LED's volts below which it gives no light that matters
OFF_SHARE = 0.05  # of the load's current that counts as off


class LedDrive:
    """The optocoupler's LED behind `series`, driven by `feed`, to let its transistor carry `collector`
    [A].
    """

    def __init__(
        self,
        feed: Feed,
        card: OptocouplerCard,
        series: float,
        collector: float,
        tolerance: float,
        ref: str,
        tag: str = "",
        who: str = "",
    ) -> None:
        self.feed, self.card, self.series, self.collector, self.tolerance, self.ref, self.tag, self.who = (
            feed,
            card,
            series,
            collector,
            tolerance,
            ref,
            tag,
            who,
        )

    @property
    def needs(self) -> float:
        """LED current at the least transfer ratio, aged [A]."""
        return self.collector / (self.card.transfer_min * AGEING)

    def current(self, volts: float, sign: int = 0) -> float:
        """LED current from a drive voltage [A]."""
        return max(volts - self.card.led.voltage, 0.0) / (
            self.series * (1 + sign * self.tolerance) + self.feed.resistance
        )

    def bounds(self) -> list[Bound]:
        """Constraints on the LED's resistor."""
        feed, tol, v, ref = self.feed, self.tolerance, self.card.led.voltage, self.ref
        most = max(feed.on.low - v, 1e-3) / self.needs / (1 + tol) - feed.resistance
        limits = [(feed.name, feed.steady, "pin_steady")] if feed.limited else []
        return [
            Bound(
                side="high",
                value=max(most, 1e-3),
                title=f"LED gets its {show(self.needs, 'A', 2)}",
                detail=f"({feed.on.low:.3g} − {v:.3g}) / {show(self.needs, 'A')}",
                verdict=f"{self.tag}transfer",
                working=Working(
                    formula=f"{ref} ≤ (V_{{{feed.name},min}} − V_{{F}}) / I_{{F}}",
                    substituted=f"= ({feed.on.low:.3g} − {v:.3g}) / {show(self.needs, 'A')}",
                    reason="The least transfer ratio, aged, must still carry the load.",
                ),
            ),
            *(
                Bound(
                    side="low",
                    value=max((feed.on.high - v) / limit / (1 - tol) - feed.resistance, 1e-3),
                    title=f"{what} under {show(limit, 'A')}",
                    detail=f"({feed.on.high:.3g} − {v:.3g}) / {show(limit, 'A')}",
                    verdict=f"{self.tag}{verdict}",
                    working=Working(
                        formula=f"{ref} ≥ (V_{{{feed.name},max}} − V_{{F}}) / I",
                        substituted=f"= ({feed.on.high:.3g} − {v:.3g}) / {show(limit, 'A')}",
                        reason="The highest level drives the most.",
                    ),
                )
                for what, limit, verdict in (*limits, ("LED", self.card.led_current, "opto_led"))
            ),
        ]

    def verdicts(self) -> list[Verdict]:
        """Currents of the signal and LED, and whether the transfer carries the load."""
        feed, card, ref, tag, who = self.feed, self.card, self.ref, self.tag, self.who
        taken = self.current(feed.on.typical), self.current(feed.on.high, -1)
        gets, gets_worst = self.current(feed.on.low), self.current(feed.on.low, 1)
        fix = Remedy(text=f"Change {ref}: its window shows what is allowed.")
        return [
            *feed_currents(
                feed,
                tag,
                who,
                steady=taken,
                burst=None,
                formula=f"I_{{F}} = (V_{{{feed.name},max}} − V_{{F}}) / {ref}",
                substituted=f"= {show(taken[1], 'A')}",
                reason="The LED takes what the resistor lets through.",
                fix=fix,
            ),
            judge(
                f"{tag}opto_led",
                "drive",
                f"{who}LED current",
                nominal=taken[0],
                worst=taken[1],
                limit=card.led_current,
                unit="A",
                sense="at most",
                corner=f"{feed.name} at its highest",
                sentence=f"{show(taken[1], 'A')} of {show(card.led_current, 'A')}.",
                working=Working(
                    formula=f"I_{{F}} = (V − V_{{F}}) / {ref}",
                    substituted=f"= ({feed.on.high:.3g} − {card.led.voltage:.3g}) / {show(self.series, 'Ω')}",
                    reason="More light now is less light in a few years.",
                ),
                remedy=fix,
            ),
            judge(
                f"{tag}transfer",
                "drive",
                f"{who}Transfer carries it",
                nominal=gets,
                worst=gets_worst,
                limit=self.needs,
                unit="A",
                sense="at least",
                corner="least transfer ratio, aged",
                sentence=f"LED needs {show(self.needs, 'A')}, gets {show(gets_worst, 'A')}.",
                working=Working(
                    formula="I_{F} = I_{C} / (CTR_{min} · ageing)",
                    substituted=(
                        f"= {show(self.collector, 'A')} / ({card.transfer_min:g} · {AGEING:g}) = "
                        f"{show(self.needs, 'A')}"
                    ),
                    reason=(
                        "The transfer ratio is promised as a minimum, and a third is taken off for the years."
                    ),
                ),
                remedy=fix,
            ),
        ]


class OptoSwitch(Drive):
    title = "Optocoupler"
    purpose = "Light carries the command across; its transistor switches a load of a few milliamps."
    choose = "The controller must stay apart from the load's circuit, and the load is an input or an LED."
    avoid = "The load takes more than some 10 mA: let the optocoupler drive a transistor instead."
    letters = {"series": "R", "switch": "U"}
    output = "collector"
    cards = {"card": OptocouplerCard}
    resistors = {"series": ("LED resistor", "r_led")}
    fits = {"switch": "card"}
    controls = ("light",)

    kind: Literal["opto_switch"] = "opto_switch"
    card: str = "optocoupler-35v"
    r_led: Annotated[float, Q("Ω", 1.0, 1e7)] = 330.0

    @property
    def summary(self) -> str:
        return f"Optocoupler, {show_part(self.r_led)} Ω"

    def _card(self, view: View) -> OptocouplerCard:
        return view.drawer.card(self.card, OptocouplerCard, view.path("card"))

    def _led(self, view: View, offer: Offer, demand: Demand) -> LedDrive:
        return LedDrive(
            from_low_side(offer),
            self._card(view),
            self.r_led,
            view.high / demand.cold,
            view.tolerance,
            view.refs["series"],
        )

    def switch(self, view: View) -> Switch:
        card = self._card(view)
        return Switch(
            ref=view.refs["switch"],
            output=self.output,
            drop=card.saturation.voltage * 0.7,
            drop_worst=card.saturation.voltage,
            breakdown=card.v_ceo,
            capacitance=1e-11,
            avalanche_energy=0.0,
        )

    def windows(self, view: View) -> tuple[Window, ...]:
        if view.offer is None or view.demand is None:
            return ()
        led = self._led(view, view.offer, view.demand)
        return (
            window(
                view.path("r_led"), led.ref, "LED resistor", "Ω", self.r_led, led.bounds(), stock=view.stock()
            ),
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        offer, demand = view.offer, view.demand
        if offer is None or demand is None:
            return ()
        card, led = self._card(view), self._led(view, offer, demand)
        rest, amps = offer.rest, view.high / demand.cold
        faint = max(rest.level - FAINT * card.led.voltage, 0.0) / (rest.resistance + self.r_led)
        leaks, limit = (faint * card.transfer, faint * card.transfer_max), OFF_SHARE * amps
        return (
            *led.verdicts(),
            judge(
                "boot",
                "drive",
                f"Stays off while {rest.when}",
                nominal=leaks[0],
                worst=leaks[1],
                limit=limit,
                unit="A",
                sense="at most",
                corner=f"{offer.name} {rest.words}, most transfer",
                sentence=(
                    f"{show(leaks[1], 'A')} trickle through it; {show(limit, 'A')} is a twentieth of the "
                    "load's."
                ),
                working=Working(
                    formula="I_{C} = CTR_{max} · (V_{rest} − V_{F}) / (R_{rest} + R)",
                    substituted=f"= {card.transfer_max:g} · {show(faint, 'A')} = {show(leaks[1], 'A')}",
                    reason=f"The {offer.name} {rest.words}.",
                ),
                remedy=Remedy(text="Put a resistor across the optocoupler's LED."),
            ),
            *load_current(
                demand,
                view,
                card.saturation.current * 10,
                "its transistor carries",
                card.saturation.current * 10,
                "It has no more to give.",
            ),
        )

    def cautions(self, view: View) -> tuple[str, ...]:
        return (
            (
                "The optocoupler keeps the two sides apart only if nothing else joins them: here both "
                "share one 0 V, so nothing is isolated on the board. Give the controller a supply of its "
                "own if it must be."
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield Resistor(
            name=view.refs["series"],
            a=view.nodes["in"],
            b="light",
            resistance=self.r_led * (1 + corner.resistors),
            tolerance=view.tolerance,
        )
        yield Optocoupler(
            name=view.refs["switch"],
            a="light",
            k="0",
            c=view.nodes["out"],
            e="0",
            **opto_rule(self._card(view), corner.spread),
        )

    def draw(self, pen: Pen, view: View) -> None:
        x0, _ = pen.output
        far = draw_series(pen, view, "series", self.r_led, "r_led")
        u = view.refs["switch"]
        at = pen.place(u, "optocoupler", x0 + 13.0, 19.0, label=u, value="", path=view.path("card"))
        pen.wire(far, at["a"], part=view.refs["series"])
        pen.wire(at["k"], (at["k"][0], HEIGHT), part=u)
        pen.wire(at["e"], (at["e"][0], HEIGHT), load=True, part=u)
        pen.tag("light", "V", x0 + 8.0, 13.2)
        draw_up(pen, view, at["c"], u)
