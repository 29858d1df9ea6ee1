"""A bipolar transistor's base: how much current it needs and gets, and what keeps it off.

I_B = I_C/β with a forced gain β well under hFE, so that the weakest specimen is still saturated. Formulas:
Ohm's law and the card's saturation voltages. Several junctions in a row (a pair) add their VBE and multiply
their gains.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from ...cards.card import BipolarCard
from ...cards.points import active_base, active_volts, junctions, most_collector
from ...quantity import show
from ...roots import root
from ..say.checks import Check, Remedy, Shown, check, high, strongest, weakest, when
from ..say.windows import Bound, bound
from .feed import NOT_THERE, OFF_CURE, Feed, Names, Trickle, feed_currents, rest_words, rests_check

V_BE_OFF = 0.4  # a hot base below this passes no current that matters [V]
SILENT, SMALL = 0.3, 1e-12  # no junction passes anything below these [V], [A]
OFF_BY = 0.02  # how far a junction's volts are from those of its model [V]
READY = 0.06  # how much sooner the readiest junction conducts, its spread and 15 K counted [V]
WARM_LEAKAGE = 3  # times the leakage at 25 °C, on a warm day
HOT_LEAKAGE = 30  # leakage doubles every ten kelvins: thirty times at 75 °C
SOFT = "A base that gets more than it needs keeps its drop small, whatever the specimen and the cold do."
LEAKS = "Leakage doubles every ten kelvins: thirty times at 75 °C."


@dataclass(frozen=True)
class BaseDrive:
    """One base: `feed` through `series`, `pull` to the emitter's rail, `collector` the current to carry at
    its worst [A].

    `tag` begins its checks' ids and `who` their titles, where a block has several. `lift` is what stands
    between the
    emitter and its rail [V].
    """

    feed: Feed
    card: BipolarCard
    series: float
    pull: float | None
    collector: float
    gain: float
    tolerance: float
    series_ref: str
    pull_ref: str
    names: Names
    rests: float  # what flows through it when what it switches surely does nothing [A]
    what: str = "load"
    stays_on: bool = False  # whether that should run while nobody gives a command
    first: BipolarCard | None = None  # of a pair, whose emitter feeds this base
    lift: float = 0.0
    lifts: float | None = None  # the same with ordinary parts
    tag: str = ""
    who: str = ""

    @property
    def needs(self) -> float:
        """Base current for the load at its worst [A]."""
        return self.collector / self.gain

    @property
    def junctions(self) -> int:
        """Base junctions in a row."""
        return 1 if self.first is None else 2

    @property
    def v_be(self) -> float:
        """Most volts the base takes [V]."""
        return self.card.v_be_sat * self.junctions + self.lift

    def volts(self, i_b: float) -> float:
        """Volts that ordinary junctions take at a base current, the load at its worst [V]."""
        lift = self.lift if self.lifts is None else self.lifts
        if self.first is None:
            return lift + junctions(self.card, self.collector, i_b).v_be
        between = max(min(active_base(self.card, self.collector), i_b * self.first.gain), i_b)
        first = junctions(self.first, between - i_b, i_b)
        return lift + first.v_be + junctions(self.card, self.collector, between).v_be

    def across(self, amps: float, volts: float) -> float:
        """Volts across the ordinary switch at a load's current [A], its feed giving `volts` [V]."""
        i_b = self.ordinary(volts)
        if self.first is None:
            return junctions(self.card, amps, i_b).v_ce
        between = max(active_base(self.card, amps), i_b)
        above = junctions(self.first, between - i_b, i_b).v_ce
        return above + junctions(self.card, amps, between).v_be

    @property
    def usual(self) -> float:
        """What its feed gives as a rule while the supply is high [V]."""
        return self.feed.on.high if self.feed.follows else self.feed.on.typical

    def _junctions(self, i_b: float) -> float:
        """Volts that ordinary junctions take while nothing saturates, at a base current [V]."""
        if self.first is None:
            return active_volts(self.card, i_b)
        return active_volts(self.first, i_b) + active_volts(self.card, i_b + most_collector(self.first, i_b))

    def _carries(self, i_b: float, extreme: bool) -> float:
        """The collector current a base current lets through [A]."""
        carried = i_b
        for card in (self.first, self.card):
            if card is not None:
                carried = most_collector(card, carried) * (card.gain_max / card.gain if extreme else 1.0)
        return carried

    def _quiet(self) -> tuple[float, float]:
        """Base current [A] and volts at which the readiest specimen lets through what still rests."""
        i_b = root(lambda i: self._carries(i, True) - self.rests, 0.0, self.rests)
        return i_b, max(self._junctions(i_b) - READY * self.junctions, 0.0)

    def _let(self, volts: float, ohms: float, extreme: bool) -> tuple[float, float]:
        """Volts at the base and current through the load, for a level behind a resistance with the pull."""
        pulled = (self.pull or 1e12) * (1 + self.tolerance if extreme else 1.0)
        level, behind = volts * pulled / (ohms + pulled), ohms * pulled / (ohms + pulled)
        ready = READY * self.junctions if extreme else 0.0

        def left(i_b: float) -> float:
            return level - max(self._junctions(i_b) - ready, 0.0) - i_b * behind

        if level <= SILENT * self.junctions or left(SMALL) <= 0:
            return level, 0.0
        i_b = root(left, SMALL, level / behind, share=1e-7)
        return level - i_b * behind, min(self._carries(i_b, extreme), self.collector)

    def trickle(self, volts: float, ohms: float) -> Trickle:
        """What a level [V] behind a resistance [Ω] before the series resistor lets through."""
        level, usual = self._let(volts, ohms + self.series, False)
        return Trickle(level, usual, self._let(volts, ohms + self.series, True)[1])

    def ordinary(self, v: float) -> float:
        """Base current from a drive voltage with ordinary parts [A]."""
        ohms = self.series + self.feed.resistance

        def left(i_b: float) -> float:
            v_be = self.volts(i_b)
            pulled = (v_be - self.lift) / self.pull if self.pull else 0.0
            return (v - v_be) / ohms - pulled - i_b

        most = v / ohms
        free = root(left, 0.0, most) if most > 0 and left(0.0) > 0 > left(most) else 0.0
        given = self.feed.most - (self.v_be - self.lift) / self.pull if self.pull else self.feed.most
        return min(free, max(given, 0.0))

    @property
    def v_be_min(self) -> float:
        return self.card.v_be_min * self.junctions

    @property
    def off(self) -> float:
        """The base's volts under which it is surely off [V]."""
        return V_BE_OFF * self.junctions

    def gets(self, v: float, sign: int = 0) -> float:
        """Base current from a drive voltage, the resistors off by `sign` tolerances [A]."""
        ohms = self.series * (1 + sign * self.tolerance) + self.feed.resistance
        through = min(max(v - self.v_be, 0.0) / ohms, self.feed.least)
        return max(through - ((self.v_be - self.lift) / self.pull if self.pull else 0.0), 0.0)

    def taken(self) -> tuple[float, float]:
        """Current taken from the feed, nominal and worst [A]."""
        on, r = self.feed.on, self.feed.resistance
        i_b = self.ordinary(on.typical)
        return (
            max(on.typical - self.volts(i_b), 0.0) / (self.series + r),
            min(
                max(on.high - self.v_be_min, 0.0) / (self.series * (1 - self.tolerance) + r),
                math.inf if self.feed.limits is None else self.feed.limits.high,
            ),
        )

    def least_series(self) -> float:
        """The lowest series resistor its limits allow [Ω]."""
        return max(b.value for b in self.series_bounds() if b.side == "low")

    def series_bounds(self) -> list[Bound]:
        """Constraints on the series resistor."""
        feed, tol, v, r_b, r_p = self.feed, self.tolerance, self.v_be, self.series_ref, self.pull_ref
        drain = (v - self.lift) / (self.pull * (1 - tol)) if self.pull else 0.0
        swing = max(feed.on.high - self.v_be_min, 1e-6)
        found = []
        for amps, words, guards, soft in (
            (
                self.saturates_from,
                f"weakest saturates from {show(self.saturates_from, 'A', 2)}",
                "fully_on",
                False,
            ),
            (self.needs, f"base gets its {show(self.needs, 'A', 2)}", "overdrive", True),
        ):
            total = amps + drain
            most = max(feed.on.low - v, 1e-3) / total / (1 + tol) - feed.resistance
            found.append(
                bound(
                    "high",
                    max(most, 1e-3),
                    words,
                    detail=f"({feed.on.low:.3g} − {v:.3g}) / {show(total, 'A')}",
                    guards=f"{self.tag}{guards}",
                    formula=f"{r_b} ≤ (V_{{{feed.name},min}} − V_{{BE}}) / (I_{{B}} + V_{{BE}}/{r_p})",
                    because=SOFT if soft else "Below this the weakest specimen is saturated.",
                    soft=soft,
                )
            )
        limits = [("base", self.card.base_current, "base_max")]
        if feed.limited:
            limits = [
                (feed.name, feed.steady, "pin_steady"),
                (f"{feed.name} burst", feed.burst, "pin_burst"),
                *limits,
            ]
        for what, limit, guards in limits:
            found.append(
                bound(
                    "low",
                    max(swing / limit / (1 - tol) - feed.resistance, 1e-3),
                    f"{what} under {show(limit, 'A')}",
                    detail=f"({feed.on.high:.3g} − {self.v_be_min:.3g}) / {show(limit, 'A')}",
                    guards=self.tag + guards,
                    formula=f"{r_b} ≥ (V_{{{feed.name},max}} − V_{{BE,min}}) / I",
                    because=f"The {feed.name} at its highest and the base at its lowest draw the most.",
                )
            )
        return found

    def pull_bounds(self) -> list[Bound]:
        """Constraints on the pull resistor that keeps it off."""
        feed, tol, r_b, r_p, off = self.feed, self.tolerance, self.series_ref, self.pull_ref, self.off
        leak, rest = self.card.leakage * HOT_LEAKAGE, self.feed.rest
        found = []
        gain = math.prod(c.gain_max for c in (self.first, self.card) if c is not None)
        over = leak * (1 + gain) - self.rests
        if over > 0:
            found.append(
                bound(
                    "high",
                    off * gain / over / (1 + tol),
                    "hot leakage does not turn it on",
                    detail=f"{show(leak, 'A')} leak",
                    guards=f"{self.tag}unplugged",
                    formula=f"I_{{leak,hot}} + (I_{{leak,hot}} − {off:g} V/{r_p})·h_{{FE}} ≤ I_{{rests}}",
                    because=LEAKS,
                )
            )
        if rest is not None and 0 < self.rests < self.collector:
            i_b, v_b = self._quiet()
            given = (rest.volts - v_b) / (rest.ohms + self.series)
            if given > i_b:
                limit = v_b / (given - i_b) / (1 + tol)
                found.append(
                    bound(
                        "high",
                        limit,
                        f"stays off while {rest.when}",
                        detail=f"{feed.name} {rest.words}",
                        guards=f"{self.tag}boot",
                        formula=f"{r_p} ≤ V_{{BE}} / (I_{{{r_b}}} − I_{{B}})",
                        numbers=f"= {show(v_b, 'V')} / ({show(given, 'A')} − {show(i_b, 'A')})",
                        because=f"The {feed.name} {rest.words}.",
                    )
                )
        through = (feed.on.low - self.v_be) / ((self.series + feed.resistance) * (1 + tol))
        for amps, guards, soft in ((self.saturates_from, "fully_on", False), (self.needs, "overdrive", True)):
            spare, v = through - amps, self.v_be - self.lift
            if spare > 0:  # else no pull helps, and the check on the base says so
                found.append(
                    bound(
                        "low",
                        v / spare / (1 - tol),
                        "base still gets its current" if soft else "weakest still saturates",
                        detail=f"{v:.3g} V / {show(spare, 'A')} to spare",
                        guards=f"{self.tag}{guards}",
                        formula=f"{r_p} ≥ V_{{BE,sat}} / (I_{{{r_b}}} − I_{{B}})",
                        numbers=f"= {v:.3g} / {show(spare, 'A')}",
                        because="What the pull-down takes does not reach the base.",
                        soft=soft,
                    )
                )
        return found

    def checks(self) -> Iterator[Check]:
        """Currents at the feed, turned fully on, base limit, off at rest and unplugged."""
        card, feed, tol, r_b, tag, who = (
            self.card,
            self.feed,
            self.tolerance,
            self.series_ref,
            self.tag,
            self.who,
        )
        taken = self.taken()
        fitted = f"Change {r_b}: its window shows what is allowed."
        cure = Remedy(text=fitted if self.series else "Fit a base resistor.")
        swing = f"({feed.on.high:.3g} − {self.v_be_min:.3g})"
        ohms = show(self.series * (1 - tol) + feed.resistance, "Ω")
        yield from feed_currents(
            feed,
            tag,
            who,
            steady=taken,
            burst=taken,
            formula=f"I = (V_{{{feed.name},max}} − V_{{BE,min}}) / {r_b}",
            numbers=f"= {swing} / {ohms} = {show(taken[1], 'A')}",
            because=(
                "A base is a diode: all it is given above 0.7 V drives current through the resistor, for as "
                "long as it is on."
            ),
            cure=cure,
            shown=self.names.taken(),
        )
        yield from self._on_checks(cure)
        yield check(
            f"{tag}base_max",
            f"{who}Base current",
            "limit",
            "current",
            unit="A",
            nominal=self.ordinary(feed.on.high),
            worst=taken[1],
            most=card.base_current,
            at=strongest(f"{feed.name} at its highest"),
            says=f"{show(taken[1], 'A')} of {show(card.base_current, 'A')}.",
            formula=f"I_{{B}} ≤ (V_{{{feed.name},max}} − V_{{BE,min}}) / {r_b}",
            numbers=f"= {show(taken[1], 'A')}",
            because="The junction's own limit.",
            cure=cure,
            shown=self._into(),
        )
        yield from self._off_checks()

    @property
    def saturates_from(self) -> float:
        """Base current from which the weakest specimen is saturated [A]."""
        weakest = self.card.gain_min * (self.first.gain_min if self.first else 1.0)
        return self.collector / weakest

    def _on_checks(self, cure: Remedy) -> Iterator[Check]:
        """Whether the weakest specimen saturates, and whether it has the margin that good builders keep."""
        card, feed, tag, who = self.card, self.feed, self.tag, self.who
        usual, gets, least = self.ordinary(feed.weak), self.gets(feed.on.low, 1), self.saturates_from
        ends = f"{feed.name} at its lowest, load cold, supply high"
        product = f"{card.gain_min:g}" + (f" · {self.first.gain_min:g}" if self.first else "")
        yield check(
            f"{tag}fully_on",
            f"{who}Turned fully on",
            "need",
            "turns on",
            unit="A",
            nominal=usual,
            worst=min(gets, usual),
            least=least,
            at=weakest(f"{ends}, least gain"),
            says=f"The weakest needs {show(least, 'A')} of base current, gets {show(gets, 'A')}.",
            formula="I_{B} · h_{FE,min} ≥ I_{C}",
            numbers=f"{show(gets, 'A')} · {product} against {show(self.collector, 'A')}",
            because="With less it leaves saturation: volts stay across it, and it heats.",
            cure=cure,
            shown=self._into(),
        )
        yield check(
            f"{tag}overdrive",
            f"{who}Base overdriven",
            "practice",
            "turns on",
            unit="A",
            nominal=usual,
            worst=min(gets, usual),
            least=self.needs,
            at=weakest(ends),
            says=f"A forced gain of {self.gain:g} wants {show(self.needs, 'A')}; it gets {show(gets, 'A')}.",
            formula="I_{B} = I_{C} / β",
            numbers=f"= {show(self.collector, 'A')} / {self.gain:g} = {show(self.needs, 'A')}",
            because=(
                f"β is forced to {self.gain:g}, well under the least gain of {product}: the drop is then "
                "small, whatever the specimen and the cold do."
            ),
            cure=cure,
            shown=self._into(),
        )

    def _into(self) -> Shown:
        """Where its base current shows: two junctions may take half of what a weak signal gives, and a pull
        takes nearly all of it where it is as small as the series resistor.
        """
        within = 0.06 if self.first is None else 0.15
        leads = 1 / max(self.series + self.feed.resistance, 1.0) + (1 / self.pull if self.pull else 0.0)
        floor = OFF_BY * self.junctions * leads
        because = "its volts are those with the load at its worst"
        return self.names.into("b", within=within, floor=floor, because=because)

    def _off_checks(self) -> Iterator[Check]:
        card, feed, tag, who, rest = self.card, self.feed, self.tag, self.who, self.feed.rest
        cure = Remedy(
            text=f"Fit or lower the pull resistor: {self.pull_ref if self.pull else 'none is fitted'}."
        )
        common = {"rests": self.rests, "what": self.what, "control": "base"}
        stays = common | {"full": self.collector if self.stays_on else None}
        near = 0.3 * self.rests
        if feed.off > 0.1:
            yield rests_check(
                f"{tag}off_level",
                f"{who}Turned fully off",
                "turns off",
                trickle=replace(
                    self.trickle(feed.off, feed.off_resistance),
                    usual=self.trickle(feed.remains, feed.off_resistance).usual,
                ),
                at=high(f"{feed.name} at the end that should turn it off"),
                formula="V_{off} = V_{rail} − V_{signal}",
                numbers=f"= {show(feed.off, 'V')} from the {feed.name}",
                because=NOT_THERE,
                cure=OFF_CURE,
                shown=self.names.into("c", self.names.off, within=0.15, floor=near),
                **common,  # type: ignore[arg-type]
            )
        if rest is not None:
            because, words = rest_words(feed)
            found = self.trickle(rest.volts, rest.ohms)
            yield rests_check(
                f"{tag}boot",
                f"{who}Stays off while {rest.when}",
                "at rest",
                trickle=found,
                at=strongest(f"{words}, most gain, warm"),
                formula="V_{B} = V_{rest} · R_{pull} / (R_{rest} + R_{B} + R_{pull}), I_{C} = h_{FE} · I_{B}",
                numbers=f"{show(found.level, 'V')} at the base, {show(found.usual, 'A', 2)} as a rule",
                because=because,
                cure=cure,
                shown=self.names.into("c", "boot", within=0.15, floor=near),
                **stays,  # type: ignore[arg-type]
            )
        gains = [c.gain for c in (self.first, card) if c is not None]
        most = [c.gain_max for c in (self.first, card) if c is not None]
        held = V_BE_OFF * self.junctions / self.pull / (1 + self.tolerance) if self.pull else 0.0
        hot = card.leakage * HOT_LEAKAGE
        usual = card.leakage * WARM_LEAKAGE
        leak = Trickle(
            min(hot * (self.pull or 1e9), 0.7 * self.junctions),
            usual + max(usual - held, 0.0) * math.prod(gains),
            hot + max(hot - held, 0.0) * math.prod(most),
        )
        yield rests_check(
            f"{tag}unplugged",
            f"{who}Stays off unplugged",
            "unplugged",
            trickle=leak,
            at=when("75 °C, most gain"),
            formula="I_{C} = I_{leak,hot} + (I_{leak,hot} − V_{B}/R_{pull}) · h_{FE}",
            numbers=f"{show(hot, 'A')} leak, {show(held, 'A')} flow off through the pull resistor",
            because=LEAKS,
            cure=cure,
            **stays,  # type: ignore[arg-type]
        )


def forced_gain(card: BipolarCard, asked: float | None = None) -> float:
    """Forced gain: what was asked, else min(15, hFE(min)/2)."""
    return asked or min(15.0, card.gain_min / 2)
