"""An optocoupler's LED behind its resistor: what drives it, and whether enough comes across."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from ...cards.card import OptocouplerCard
from ...cards.points import lit_amps
from ...quantity import show
from ..say.checks import Check, Remedy, check, strongest, weakest
from ..say.windows import Bound, bound
from .feed import Feed, Names, feed_currents

AGEING = 0.67  # of the transfer ratio that is left after years of light, assumed


@dataclass(frozen=True)
class LedDrive:
    """The LED behind `series`, driven by `feed`, to let the transistor carry `collector` [A]."""

    feed: Feed
    card: OptocouplerCard
    series: float
    collector: float
    tolerance: float
    ref: str
    names: Names
    tag: str = ""
    who: str = ""

    @property
    def needs(self) -> float:
        """LED current at the least transfer ratio, aged [A]."""
        return self.collector / (self.card.transfer_min * AGEING)

    def usual(self, volts: float) -> float:
        """The current that an ordinary LED takes from a drive voltage [A]."""
        return lit_amps(self.card, 1, self.series + self.feed.resistance, volts)

    def current(self, volts: float, sign: int = 0) -> float:
        """LED current from a drive voltage [A]."""
        ohms = self.series * (1 + sign * self.tolerance) + self.feed.resistance
        return max(volts - self.card.led.voltage, 0.0) / ohms

    def bounds(self) -> list[Bound]:
        """Constraints on the LED's resistor."""
        feed, tol, v, ref = self.feed, self.tolerance, self.card.led.voltage, self.ref
        most = max(feed.on.low - v, 1e-3) / self.needs / (1 + tol) - feed.resistance
        found = [
            bound(
                "high",
                max(most, 1e-3),
                f"LED gets its {show(self.needs, 'A', 2)}",
                detail=f"({feed.on.low:.3g} − {v:.3g}) / {show(self.needs, 'A')}",
                guards=f"{self.tag}transfer",
                formula=f"{ref} ≤ (V_{{{feed.name},min}} − V_{{F}}) / I_{{F}}",
                because="The least transfer ratio, aged, must still carry the load.",
            )
        ]
        limits = [("LED", self.card.led_current, "opto_led")]
        if feed.limited:
            limits = [(feed.name, feed.steady, "pin_steady"), *limits]
        for what, limit, guards in limits:
            found.append(
                bound(
                    "low",
                    max((feed.on.high - v) / limit / (1 - tol) - feed.resistance, 1e-3),
                    f"{what} under {show(limit, 'A')}",
                    detail=f"({feed.on.high:.3g} − {v:.3g}) / {show(limit, 'A')}",
                    guards=self.tag + guards,
                    formula=f"{ref} ≥ (V_{{{feed.name},max}} − V_{{F}}) / I",
                    because="The highest level drives the most.",
                )
            )
        return found

    def checks(self) -> Iterator[Check]:
        """Currents of the command and LED, and whether the transfer carries the load."""
        feed, card, ref, tag, who = self.feed, self.card, self.ref, self.tag, self.who
        taken = self.usual(feed.on.typical), self.current(feed.on.high, -1)
        cure = Remedy(text=f"Change {ref}: its window shows what is allowed.")
        yield from feed_currents(
            feed,
            tag,
            who,
            steady=taken,
            burst=None,
            formula=f"I_{{F}} = (V_{{{feed.name},max}} − V_{{F}}) / {ref}",
            numbers=f"= {show(taken[1], 'A')}",
            because="The LED takes what the resistor lets through.",
            cure=cure,
            shown=self.names.taken(),
        )
        yield check(
            f"{tag}opto_led",
            f"{who}LED current",
            "limit",
            "current",
            unit="A",
            nominal=self.usual(feed.on.high),
            worst=taken[1],
            most=card.led_current,
            at=strongest(f"{feed.name} at its highest"),
            says=f"{show(taken[1], 'A')} of {show(card.led_current, 'A')}.",
            formula=f"I_{{F}} = (V − V_{{F}}) / {ref}",
            numbers=f"= ({feed.on.high:.3g} − {card.led.voltage:.3g}) / {show(self.series, 'Ω')}",
            because="More light now is less light in a few years.",
            cure=cure,
            shown=self.names.into("a"),
        )
        lit, least = self.current(feed.on.low, 1), card.transfer_min * AGEING
        usual, gets = self.usual(feed.weak) * card.transfer, lit * least
        yield check(
            f"{tag}transfer",
            f"{who}Transfer carries it",
            "need",
            "turns on",
            unit="A",
            nominal=usual,
            worst=min(gets, usual),
            least=self.collector,
            at=weakest("least transfer ratio, aged"),
            says=f"It must carry {show(self.collector, 'A')}; the weakest carries {show(gets, 'A')}.",
            formula="I_{C} ≤ CTR_{min} · ageing · I_{F}",
            numbers=f"{card.transfer_min:g} · {AGEING:g} · {show(lit, 'A')} = {show(gets, 'A')}",
            because="The transfer ratio is promised as a minimum, and a third is taken off for the years.",
            cure=cure,
            shown=replace(self.names.into("a"), times=card.transfer),
        )
