"""What the high-side switches share: a helper transistor that shifts the command's level, and the resistors
round it.

The switch's control hangs on the + rail by `r_pull`; who pulls it down through `r_drive` is the shifter, or,
where the command reaches the rail, the command itself. The shifter is judged like any low-side switch with
`r_drive` as its load.
"""

from __future__ import annotations

import math
from abc import abstractmethod
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...cards.card import BipolarCard, Card, FieldEffectCard, MosfetCard, NpnCard
from ...cards.points import channel_amps, channel_volts, most_collector
from ...fields import Q
from ...quantity import Interval
from ..contract.facts import Side
from ..contract.parts import Placed, from_card, resistor
from ..contract.site import Site
from ..drawing.pen import SIGNAL_Y, Pen
from ..drawing.switches import (
    BIPOLAR,
    CONTROL_Y,
    FIELD_EFFECT,
    Legs,
    draw_high_side,
    draw_low_side,
    draw_series,
)
from ..rules.base_drive import BaseDrive, forced_gain
from ..rules.feed import OFF_CURE, Feed, Names, from_high_side, from_low_side, from_rail
from ..rules.gate_drive import GateDrive
from ..rules.kick import stands
from ..say.checks import Change, Check, Remedy
from ..say.windows import Window, window
from .base import Cooled

UNPULLED = 1e9  # what holds a control that has no pull-up [Ω]
SHIFT_DROP = 0.3  # what a saturated shifter keeps for itself [V]
SHIFT_CARDS: dict[str, type[Card]] = {"shift_npn": NpnCard, "shift_nmos": MosfetCard}


class HighSide(Cooled):
    """A switch between the + rail and the load; `main` is its base or gate."""

    shift: Literal["none", "npn", "nmos"] = "npn"
    shift_npn: str = "npn-40v-200ma"
    shift_nmos: str = "nmos-55v-5a-logic"
    r_shift: Annotated[float, Q("Ω", 1.0, 1e7)] = 1000.0
    r_shift_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 3300.0
    r_drive: Annotated[float, Q("Ω", 1.0, 1e7)] = 820.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 10e3

    @property
    def side(self) -> Side:
        return "high"

    @property
    def inverts(self) -> bool:
        return self.shift == "none"

    @abstractmethod
    def control(self, site: Site) -> BaseDrive | GateDrive:
        """The switch's own base or gate."""

    @abstractmethod
    def begins(self, site: Site) -> float:
        """The volts between rail and control at which the switch may begin [V]."""

    @abstractmethod
    def placed_switch(self, site: Site) -> Placed:
        """The switch itself."""

    def make(self, site: Site) -> Iterable[Placed]:
        begin, end = "signal", self.main
        if self.shift != "none":
            yield resistor(site, "shift_series", "Shifter's resistor", "r_shift", "signal", "shift_control")
            if self.r_shift_pull is not None:
                yield resistor(
                    site, "shift_pull", "Shifter's pull-down", "r_shift_pull", "shift_control", "zero"
                )
            legs = (
                {"c": "shift_out", "b": "shift_control", "e": "zero"}
                if self.shift == "npn"
                else {"g": "shift_control", "d": "shift_out", "s": "zero"}
            )
            yield from_card(site, "shift", "Q", f"shift_{self.shift}", legs)
            begin, end = self.main, "shift_out"
        yield resistor(site, "series", "Drive resistor", "r_drive", begin, end)
        if self.r_pull is not None:
            yield resistor(site, "pull", "Pull-up", "r_pull", "plus", self.main)
        yield self.placed_switch(site)

    def feed(self, site: Site) -> Feed:
        """What pulls the control away from the rail."""
        if self.shift == "none":
            return from_high_side(site.command, site.rail, site.demand().amps(site.rail.typical))
        amps = site.demand().amps(site.rail.typical)
        feed = from_rail(site.rail, amps, SHIFT_DROP, self._shift_keeps(site))
        return replace(feed, limits=self._shift_carries(site))

    def _shift_keeps(self, site: Site) -> tuple[float, float]:
        """What an ordinary shifter keeps for itself on the low and on the high rail [V]."""
        shifter, rail = self.shifter(site), site.rail

        def keeps(volts: float, feed: float, gate: float) -> float:
            amps = self.pulled(site) * volts / rail.high
            if isinstance(shifter, BaseDrive):
                return min(shifter.across(amps, feed), SHIFT_DROP)
            return min(channel_volts(shifter.card, gate, amps), SHIFT_DROP) if shifter else 0.0

        if isinstance(shifter, BaseDrive):
            return keeps(rail.low, shifter.feed.weak, 0.0), keeps(rail.high, shifter.usual, 0.0)
        if shifter is None:
            return 0.0, 0.0
        return keeps(rail.low, 0.0, shifter.least), keeps(rail.high, 0.0, shifter.usual)

    def _shift_carries(self, site: Site) -> Interval | None:
        """What the shifter carries: the weakest, an ordinary one on a weak signal, the strongest [A]."""
        shifter, volts = self.shifter(site), site.rail.low
        if isinstance(shifter, BaseDrive):
            card, feed = shifter.card, shifter.feed
            weak, usual = (most_collector(card, shifter.ordinary(v)) for v in (feed.weak, shifter.usual))
            least = most_collector(card, shifter.gets(feed.on.low, 1)) * card.gain_min / card.gain
            return Interval(min(least, weak), weak, max(usual, weak) * card.gain_max / card.gain)
        if shifter is None:
            return None
        least, weak, usual = (
            channel_amps(shifter.card, v, volts, -shift)
            for v, shift in (
                (shifter.worst, shifter.card.threshold - shifter.card.threshold_max),
                (shifter.least, 0.0),
                (shifter.usual, shifter.card.threshold - shifter.card.threshold_min),
            )
        )
        return Interval(min(least, weak), weak, max(usual, weak))

    def pulled(self, site: Site) -> float:
        """The most the shifter carries for as long as it is on [A]."""
        return site.rail.high / self.r_drive

    def unheard(self, site: Site) -> float:
        """What the shifter may pass so that the switch still rests [A]: it falls across the pull-up."""
        return self.begins(site) / (self.r_pull or UNPULLED)

    def shifter(self, site: Site) -> BaseDrive | GateDrive | None:
        """The helper at 0 V; None where the command does it itself."""
        if self.shift == "none":
            return None
        feed = from_low_side(site.command)
        series_ref, pull_ref = site.ref("shift_series"), site.ref("shift_pull")
        names = Names("shift_control", "shift", "shift_series", on=self.runs(site))
        if self.shift == "npn":
            npn = site.card("shift_npn", BipolarCard)
            return BaseDrive(
                feed=feed,
                card=npn,
                series=self.r_shift,
                pull=self.r_shift_pull,
                collector=self.pulled(site),
                rests=self.unheard(site),
                what=self.main,
                gain=forced_gain(npn),
                tolerance=site.tolerance,
                tag="shift_",
                who="Shifter: ",
                series_ref=series_ref,
                pull_ref=pull_ref,
                names=names,
            )
        return GateDrive(
            feed=feed,
            card=site.card("shift_nmos", FieldEffectCard),
            series=self.r_shift,
            pull=self.r_shift_pull,
            high=site.rail.high,
            hot=site.hot,
            on_within=1e-4,
            carries=self.pulled(site),
            rests=self.unheard(site),
            what=self.main,
            tolerance=site.tolerance,
            tag="shift_",
            who="Shifter: ",
            series_ref=series_ref,
            pull_ref=pull_ref,
            names=names,
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        main, shifter = self.control(site), self.shifter(site)
        what = self.main
        found = [
            window(site, "r_drive", "series", f"{what} resistor", main.series_bounds()),
            window(site, "r_pull", "pull", f"{what} pull-up", main.pull_bounds(), without=math.inf),
        ]
        if shifter is not None:
            pulls = shifter.pull_bounds()
            found += [
                window(site, "r_shift", "shift_series", "shifter's resistor", shifter.series_bounds()),
                window(site, "r_shift_pull", "shift_pull", "shifter's pull-down", pulls, without=math.inf),
            ]
        return tuple(found)

    def control_checks(self, site: Site) -> Iterator[Check]:
        """Those of the switch's control and of its shifter."""
        for found in self.control(site).checks():
            if found.id == "off_level" and self.shift == "none":
                shifts = Change(path=site.path("shift"), value="npn")
                found = replace(found, cure=Remedy(text=OFF_CURE, changes=(shifts,)))
            yield found
        shifter = self.shifter(site)
        if shifter is not None:
            yield from shifter.checks()
            card = shifter.card
            breakdown = card.v_ceo if isinstance(card, BipolarCard) else card.v_ds
            yield stands(site.ref("shift"), site.rail.high, breakdown, "shift_", "Shifter: ")

    def draw_all(self, pen: Pen, site: Site, symbol: str, legs: Legs) -> None:
        """Shifter, drive resistor, pull-up and switch."""
        if self.shift == "none":
            begin = (pen.output[0] + 7.8, CONTROL_Y)
            far = draw_series(pen, site, "series")
            pen.wire(far, (begin[0], SIGNAL_Y), begin, part=site.ref("series"))
        else:
            bipolar = self.shift == "npn"
            t = draw_low_side(
                pen,
                site,
                "npn" if bipolar else "n_mosfet",
                BIPOLAR if bipolar else FIELD_EFFECT,
                "shift_control",
                series="shift_series",
                pull="shift_pull",
                local="shift",
            )
            top = t["c" if bipolar else "d"]
            r = pen.part(site, "series", "resistor", top[0], top[1] - 3.0, side="left")
            assert r["b"] == top
            begin = r["a"]
        pen.tag(site.lane(self.main), "V", begin[0] + 5.6, CONTROL_Y + 4.0)
        draw_high_side(pen, site, symbol, legs, begin, self.output)
