"""A complementary pair: NPN and PNP emitter followers, so that one output drives two loads in turn.

An emitter follower does not saturate: the output stays one VBE short of the signal, which must itself swing
to the supply. Between the two VBEs neither conducts, and the resting load keeps what the signal does not
reach.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import BipolarCard, NpnCard, PnpCard
from ...cards.points import junctions
from ...circuit.devices import Resistor
from ...fields import Q
from ...quantity import show, show_part
from ..contract.facts import Loss, Side, Switch
from ..contract.parts import Placed, from_card, resistor, two_wire
from ..contract.site import Site
from ..drawing.pen import HEIGHT, HIGH_Y, Pen
from ..drawing.switches import draw_series
from ..rules.feed import feed_currents, from_low_side
from ..rules.supplied import settled
from ..rules.switching import Body, direct_only, heat_checks, load_current
from ..say.checks import Check, Remedy, Shown, check, high
from ..say.windows import Window, bound, window
from .base import Cooled

RESTING = 0.1  # share of the supply that a resting load may keep, as a relay's must-release is


class Complementary(Cooled):
    title = "Complementary pair"
    purpose = "An NPN and a PNP follow the signal: high runs one load, low runs the other."
    choose = "Two loads take turns, and the signal swings from rail to rail."
    avoid = "The signal does not reach the supply, or both loads must be off at times."
    picture = "npn"
    output = "emitters"
    controls = ("bases",)
    cards = {"card": NpnCard, "lower": PnpCard}

    kind: Literal["complementary"] = "complementary"
    card: str = "npn-60v-1a"
    lower: str = "pnp-60v-1a"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] = 220.0
    other: Annotated[float, Q("Ω", 1.0, 1e6)] = 400.0  # the load that runs while the signal is low

    @property
    def summary(self) -> str:
        return f"NPN and PNP, {show_part(self.r_base)} Ω"

    @property
    def side(self) -> Side:
        return "high"

    def make(self, site: Site) -> Iterable[Placed]:
        other = self.other
        yield resistor(site, "series", "Base resistor", "r_base", "signal", "bases")
        yield from_card(site, "switch", "Q", "card", {"c": "plus", "b": "bases", "e": "emitters"})
        yield from_card(site, "lower", "Q", "lower", {"c": "zero", "b": "bases", "e": "emitters"})
        yield two_wire(
            "other",
            "R",
            "Other load",
            Resistor,
            lambda c: {"resistance": other},
            legs={"a": "plus", "b": "emitters"},
            field="other",
            value=show(other, "Ω"),
            mark=show(other, "Ω"),
        )

    def _cards(self, site: Site) -> tuple[BipolarCard, BipolarCard]:
        return site.card("card", BipolarCard), site.card("lower", BipolarCard)

    def _base_current(self, site: Site) -> float:
        """What the followers' bases take at the full supply, at the least gain [A]."""
        upper, lower = self._cards(site)
        volts = site.rail.high
        return max(site.demand().most(volts) / upper.gain_min, volts / self.other / lower.gain_min)

    def switches(self, site: Site) -> Switch:
        upper, lower = self._cards(site)
        command, rail = site.command, site.rail
        # What the follower keeps below its signal: a VBE, and its base current's drop.
        base = self.r_base + command.high.ohms
        most = math.inf if command.follows else command.high.volts.typical
        short = max(rail.typical - command.high.volts.typical, 0.0) if command.follows else 0.0

        def across(amps: float) -> float:
            i_b = amps / upper.gain
            return junctions(upper, amps, i_b).v_be + i_b * base + short

        ohms = (self.r_base + command.high.ohms) / min(upper.gain_min, lower.gain_min)
        return Switch(
            ref=site.ref("switch"),
            output="emitters",
            side="high",
            rail=site.rail,
            losses=(Loss(across, lambda amps: upper.v_be_sat + ohms * amps),),
            reaches=most,
            breakdown=upper.v_ceo,
            capacitance=2e-11,
            on="high",
            active=self.runs(site) == "active",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        need, rail, command = self._base_current(site), site.rail, site.command
        most = RESTING * rail.typical
        bounds = (
            bound(
                "high",
                max(most / need, 1e-3),
                "base resistor drops little",
                detail=f"{most:.3g} V / {show(need, 'A')}",
                guards="resting",
                formula="R_{B} ≤ 0.1·V / I_{B}",
                because="A follower's base current flows for as long as a load runs.",
            ),
            bound(
                "low",
                max(rail.high / command.burst / (1 - site.tolerance) - command.high.ohms, 1e-3),
                f"{command.name} under {show(command.burst, 'A')} if an output is shorted",
                detail=f"{rail.high:.3g} V / {show(command.burst, 'A')}",
                guards="pin_burst",
                formula="R_{B} ≥ V_{high} / I_{burst}",
                because="A shorted output pulls the bases to the rail.",
            ),
        )
        return (window(site, "r_base", "series", "base resistor", bounds),)

    def checks(self, site: Site) -> Iterator[Check]:
        command, demand, rail = site.command, site.demand(), site.rail
        upper, _ = self._cards(site)
        need, amps = self._base_current(site), demand.most(rail.high)
        yield from feed_currents(
            from_low_side(command),
            "",
            "",
            steady=(need / 2, need),
            burst=(
                rail.typical / (self.r_base + command.high.ohms),
                rail.high / (self.r_base * (1 - site.tolerance)),
            ),
            formula="I_{B} = I_{load} / h_{FE,min}",
            numbers=f"= {show(amps, 'A')} / {upper.gain_min:g} = {show(need, 'A')}",
            because="A follower passes on its load's current, divided by its gain.",
            cure=Remedy(text="Take transistors with more gain."),
        )
        rests = max(command.short(rail), command.low.volts.typical, 0.0)
        left, limit = rests + 0.6, RESTING * rail.typical
        yield check(
            "resting",
            "The resting load is off",
            "need",
            "turns off",
            unit="V",
            nominal=left,
            most=limit,
            at=high("signal at its worst"),
            says=f"It keeps {show(left, 'V')}; {show(limit, 'V')} is a tenth of the supply.",
            formula="V_{rest} = V_{high} − V_{signal} + V_{BE}",
            numbers=f"= {rests:.3g} + 0.6 = {show(left, 'V')}",
            because=(
                "A follower's output stays a VBE short of the signal on both sides: that dead band stands "
                "across the load that should rest."
            ),
            cure=(
                "Let a signal that swings to the supply drive it: a timer's output, or a transistor with a "
                "pull-up."
            ),
        )
        yield from load_current(
            self.switches(site),
            demand,
            upper.current,
            "allowed",
            upper.current,
            "Beyond this its gain is gone.",
            Shown("i(switch.c)", self.runs(site), within=0.03) if left <= limit else None,
        )
        switch = self.switches(site)
        usual, top = settled(switch, demand, rail.high), min(rail.high, switch.reaches)
        least = max(top - switch.lost_worst(usual.amps), 0.0)
        short, runs = rail.high - least, demand.most(least)
        heat = (rail.high - usual.volts) * usual.amps
        watts = max(short * runs, heat)
        yield from heat_checks(
            site,
            Body(upper.r_th, upper.t_j_max, upper.power, self.heatsink),
            nominal=heat,
            worst=watts,
            how="P = (V_{high} − V_{out}) · I",
            numbers=f"= {short:.3g} V · {show(runs, 'A')} = {show(watts, 'W')}",
            shown=Shown("p(switch)", self.runs(site), within=0.06) if left <= limit else None,
        )
        yield from direct_only(site)

    def draw(self, pen: Pen, site: Site) -> None:
        x0, y = pen.output
        far = draw_series(pen, site, "series")
        series, q, p, other = (site.ref(n) for n in ("series", "switch", "lower", "other"))
        a = pen.part(site, "switch", "npn", x0 + 13.6, 9.0)
        b = pen.part(site, "lower", "pnp", x0 + 13.6, 23.0)
        x = a["b"][0] - 1.6
        pen.wire(far, (x, y), part=series)
        pen.wire(a["b"], (x, 9.0), (x, 23.0), b["b"], part=series)
        pen.wire(a["c"], (a["c"][0], 0.0), load=True, part=q)
        pen.wire(b["c"], (b["c"][0], HEIGHT), load=True, part=p)
        pen.wire(a["e"], b["e"], load=True, part=q)
        end = a["e"][0] + 6.0
        o = pen.part(site, "other", "heater", end, 6.0, label="Other")
        pen.wire((end, 0.0), o["a"], part=other)
        pen.wire((a["e"][0], y), (end, y), load=True, part=q)
        pen.wire(o["b"], (end, HIGH_Y), part=other)
        pen.tag(site.lane("emitters"), "V", end - 2.0, HIGH_Y - 2.0)
        pen.output, pen.x = (end, HIGH_Y), end
