"""Low-battery cut-off with hysteresis: a comparator holds a share of the battery against a zener.

Above the upper volts its output pulls the P-MOSFET's gate down and the load runs; under the lower ones it
lets go. The feedback resistor sets how far apart the two lie: farther than what the load's own current drops
in the battery, or it chatters.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import ComparatorCard, FieldEffectCard, PMosfetCard, ZenerCard
from ...cards.points import reverse_volts
from ...fields import Q
from ...quantity import show
from ...roots import root
from ..contract.descriptions import TURNS, StateRow, TurnCurve
from ..contract.parts import Placed, capacitor, from_card, potentiometer, resistor
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.latches import draw_cut_off
from ..drawing.pen import Pen
from ..rules.feed import Names, from_rail
from ..rules.gate_drive import GateDrive
from ..rules.kick import peak_check
from ..rules.saturated import mosfet_load
from ..rules.switching import back_feed
from ..rules.timer import supply_checks
from ..say.checks import Check, Shown, check, high, low, when
from ..say.windows import Window, bound, window
from .battery_guard import CLOSED, BatteryGuard

APART = 1.5  # how many times the load's own drop the two levels lie apart
WASTE = 2e-3  # what a guard may take from a battery that is flat [A]
SETTLED = 6.0  # time constants of the filter until it follows


class CutOff(BatteryGuard):
    title = "Battery guard"
    purpose = "It runs while the battery is full enough, and is cut off before that is ruined."
    choose = "A lead-acid or lithium battery that nobody watches, and a load that may stop by itself."
    avoid = "It must stay off until somebody comes: a latch does; or the guard's own milliamp is too much."
    picture = "cutoff"
    controls = ("gate", "share")
    cards = {"card": PMosfetCard, "comparator": ComparatorCard, "zener": ZenerCard}

    kind: Literal["cut_off"] = "cut_off"
    comparator: str = "comparator-open"
    zener: str = "zener-5v1"
    r_zener: Annotated[float, Q("Ω", 100.0, 1e6)] = 10e3
    r_ref: Annotated[float, Q("Ω", 1e3, 1e7)] = 22e3
    r_back: Annotated[float, Q("Ω", 1e3, 1e8)] = 470e3
    r_gate: Annotated[float, Q("Ω", 1e3, 1e6)] = 10e3

    @property
    def summary(self) -> str:
        return f"Battery guard, {show(self.wanted, 'V')}"

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "feed", "Zener's resistor", "r_zener", "plus", "zener")
        yield from_card(site, "reference", "Z", "zener", {"a": "zero", "k": "zener"})
        yield resistor(site, "top", "Divider's upper resistor", "r_top", "plus", "upper")
        legs = {"a": "upper", "w": "share", "b": "lower"}
        yield potentiometer(site, "trim", "Trimmer", ("r_trim", "turn"), legs)
        yield resistor(site, "bottom", "Divider's lower resistor", "r_bottom", "lower", "zero")
        yield capacitor(site, "filter", "Filter capacitor", "c_filter", "share", "zero")
        yield resistor(site, "ref", "Resistor from the zener", "r_ref", "zener", "level")
        yield resistor(site, "back", "Feedback resistor", "r_back", "gate", "level")
        legs = {"p": "level", "m": "share", "out": "gate", "vcc": "plus", "vee": "zero"}
        yield from_card(site, "comparator", "U", "comparator", legs)
        yield resistor(site, "pull", "Gate pull-up", "r_gate", "plus", "gate")
        yield from_card(site, "switch", "Q", "card", {"g": "gate", "d": "drain", "s": "plus"})

    def _reference(self, site: Site, volts: float, off: float) -> float:
        """The zener's volts on a battery; off by a share [V]."""
        card = site.card("zener", ZenerCard)

        def over(amps: float) -> float:
            return volts - amps * self.r_zener - reverse_volts(card, amps)

        most = max(volts, 0.1) / self.r_zener
        amps = root(over, 1e-9, most) if over(1e-9) > 0 > over(most) else 1e-9
        return min(reverse_volts(card, amps) * (1 + off), volts)

    def cuts(self, site: Site, turn: float | None = None, divider: float = 0.0, ref: float = 0.0) -> float:
        """The battery's volts at which it lets go."""
        card, share = (
            site.card("comparator", ComparatorCard),
            self.share(self.turn if turn is None else turn, divider),
        )

        def over(volts: float) -> float:
            drop = card.drop_low.drop / card.drop_low.current * volts / self.r_gate
            level = self._reference(site, volts, ref) * self.r_back + drop * self.r_ref
            return share * volts - level / (self.r_ref + self.r_back)

        return self.crossing(over)

    def returns(
        self, site: Site, turn: float | None = None, divider: float = 0.0, zener: float = 0.0
    ) -> float:
        """The battery's volts at which it comes on again."""
        share, back = self.share(self.turn if turn is None else turn, divider), self.r_back + self.r_gate

        def over(volts: float) -> float:
            level = self._reference(site, volts, zener) * back + volts * self.r_ref
            return share * volts - level / (self.r_ref + back)

        return self.crossing(over)

    def apart(self, site: Site) -> float:
        return site.card("zener", ZenerCard).tolerance

    def formula(self) -> str:
        return "k · V = V_{zener} · R_{back} / (R_{ref} + R_{back})"

    def curves(self, site: Site) -> tuple[TurnCurve, ...]:
        returns = tuple(self.returns(site, t) for t in TURNS)
        return (*super().curves(site), TurnCurve(title="on again at", unit="V", values=returns))

    # --- facts --------------------------------------------------------------------------------------
    def drive(self, site: Site) -> GateDrive:
        """Its gate, pulled down by the comparator."""
        rail, card = site.rail, site.card("comparator", ComparatorCard)
        ohms = card.drop_low.drop / card.drop_low.current
        keeps = ohms * rail.low / self.r_gate, ohms * rail.high / self.r_gate
        u = site.ref("comparator")
        return GateDrive(
            feed=from_rail(rail, site.demand().amps(rail.typical), 2 * keeps[1], keeps, u),
            card=site.card("card", FieldEffectCard),
            series=ohms,
            pull=self.r_gate,
            high=rail.high,
            hot=site.hot,
            on_within=1e-2,
            carries=site.demand().most(rail.high),
            rests=site.demand().rests,
            what=site.demand().name,
            tolerance=site.tolerance,
            series_ref=u,
            pull_ref=site.ref("pull"),
            names=Names("gate", high=True, on=CLOSED),
            rail="the + rail",
            clamp=site.attached(),
        )

    def drains(self, site: Site, volts: float, on: bool) -> float:
        """What the guard itself takes from the battery [A]."""
        card = site.card("comparator", ComparatorCard)
        zener = max(volts - site.card("zener", ZenerCard).voltage, 0.0) / self.r_zener
        divider = volts / (self.r_top + self.r_trim + self.r_bottom)
        return zener + divider + card.quiescent + (volts / self.r_gate if on else 0.0)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        demand, gate = site.demand(), self.drive(site)
        yield from self.level_checks(site)
        yield from self._return_checks(site)
        yield self.inrush_check(site)
        yield from self._supply_checks(site)
        yield from peak_check(self.switches(site), site.rail, demand, self.output)
        yield from gate.checks()
        yield from mosfet_load(site, self.switches(site), demand, gate, sinks=False)
        yield from back_feed(site, demand)
        yield from supply_checks(site, "Comparator", "comparator", "comparator")

    def _return_checks(self, site: Site) -> Iterator[Check]:
        cuts = self.cuts(site)
        returns, drop = self.returns(site), site.rail.resistance * site.demand().amps(site.rail.low)
        apart = returns - cuts if math.isfinite(returns) else 0.0
        yield check(
            "chatters",
            "Does not chatter",
            "need",
            "volts",
            unit="V",
            nominal=apart,
            worst=0.9 * apart,
            least=APART * drop,
            at=low("the battery recovers as the load goes off"),
            says=f"Off at {show(cuts, 'V')}, on from {show(returns, 'V')}; the load drops {show(drop, 'V')}.",
            formula="V_{on} − V_{off} ≥ 1.5 · I_{load} · R_{battery}",
            numbers=f"{show(apart, 'V')} ≥ 1.5 · {show(drop, 'V')}",
            because="Let go, the battery comes up by what the load had dropped: on again at once.",
            cure=f"Make {site.ref('back')} smaller.",
        )
        yield check(
            "comes_back",
            "Comes on with a full battery",
            "need",
            "volts",
            unit="V",
            nominal=returns,
            worst=self.returns(site, None, site.tolerance / 10, 0.0),
            most=site.rail.high,
            at=high("the battery charged"),
            says=f"On again from {show(returns, 'V')}; a full battery has {show(site.rail.high, 'V')}.",
            formula="V_{on} < V_{full}",
            numbers=f"{show(returns, 'V')} < {show(site.rail.high, 'V')}",
            because="With too much hysteresis it never comes on again.",
            cure=f"Make {site.ref('back')} larger.",
        )

    def _supply_checks(self, site: Site) -> Iterator[Check]:
        rail = site.rail
        card, volts = site.card("zener", ZenerCard), self._reference(site, rail.typical, 0.0)
        yield check(
            "zener_fed",
            "Zener has its volts",
            "practice",
            "level",
            unit="V",
            nominal=volts,
            least=(1 - 2 * card.tolerance) * card.voltage,
            at=when("through its resistor"),
            says=f"{show(volts, 'V')} of {show(card.voltage, 'V')}.",
            formula="V_{zener} at (V − V_{zener}) / R",
            numbers=f"{show(volts, 'V')}",
            because="Starved, a zener is soft: its volts follow the battery, and the level with them.",
            cure=f"Make {site.ref('feed')} smaller.",
            shown=Shown("zener", "active", within=0.02),
        )
        amps = self.drains(site, self.at_least, on=False)
        yield check(
            "drains",
            "What the guard itself takes",
            "practice",
            "at rest",
            unit="A",
            nominal=amps,
            most=WASTE,
            at=low("cut off, on a flat battery"),
            says=f"{show(amps, 'A')}: {show(amps * 24, 'Ah', 2)} a day from a battery that is flat.",
            formula="I = (V − V_{zener}) / R + V / R_{divider} + I_{comparator}",
            numbers=f"{show(amps, 'A')}",
            because="Cut off, it goes on emptying the battery that it saves.",
            cure=f"Make {site.ref('feed')} larger.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        drop = APART * site.rail.resistance * site.demand().amps(site.rail.low)
        least = self.cuts(site)
        found = []
        if drop > 0:
            found.append(
                bound(
                    "high",
                    self.r_ref * max(least / self.share(self.turn) / drop - 1, 1.0) * self.share(self.turn),
                    "does not chatter",
                    detail=show(drop, "V"),
                    guards="chatters",
                    formula="R_{back} ≤ about R_{ref} · V / ΔV",
                    because="Larger, and the two levels lie closer than what the load drops.",
                    soft=True,
                )
            )
        return (window(site, "r_back", "back", "feedback resistor", found),)

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        cuts, returns, u = self.cuts(site), self.returns(site), site.ref("comparator")
        off, on = (
            show(self.drains(site, v, on), "A", 2) for v, on in ((cuts, False), (site.rail.typical, True))
        )
        return (
            StateRow(state="Battery full", load=site.demand().energised, why=f"{u} pulls the gate down"),
            StateRow(state=f"Falls to {show(cuts, 'V')}", load="off", why="its share is under the zener's"),
            StateRow(
                state="Recovers a little", load="stays off", why=f"on again only from {show(returns, 'V')}"
            ),
            StateRow(
                state="The guard itself", load=f"takes {on} on, {off} off", why="zener, divider, comparator"
            ),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return (
            "On a supply that can be turned: slowly down until it cuts off, slowly up until it is on again.",
            f"off at {show(self.cuts(site), 'V')}, on again at {show(self.returns(site), 'V')}",
        )

    def settles(self, site: Site) -> float:
        return SETTLED * self.c_filter * self.r_top + 0.1

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        return (Scene("active", "on a full battery", (), look=2 * self.settles(site), cold=True),)

    def plays(self, site: Site) -> tuple[Play, ...]:
        low_end, high_end, t = 0.85 * self.cuts(site), 1.05 * self.returns(site), self.settles(site)
        high_end = min(high_end, site.rail.high * 1.1)
        if not math.isfinite(low_end + high_end):
            return ()
        return (
            Play(
                "Battery slowly down and up",
                30 * t,
                supply=((0.0, high_end, 1e-3), (2 * t, low_end, 12 * t), (16 * t, high_end, 12 * t)),
            ),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        found = (
            ("zener", "Zener to 0 V", "zener strip"),
            ("share", "Divider's tap to 0 V", "share strip"),
            ("gate", "Gate to 0 V", "gate strip"),
            ("drain", "Drain to 0 V", "drain strip"),
        )
        return tuple(Probe(id=n, title=t, red=r, signal=n, scenes=("active",)) for n, t, r in found)

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            Watch(id="drain", title="Drain", unit="V", signal="drain", place=3),
            Watch(id="share", title="Battery's share", unit="V", signal="share", place=5),
            Watch(id="level", title="Level", unit="V", signal="level", place=5),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_cut_off(pen, site)
