"""A complementary pair: NPN and PNP emitter followers, so that one output drives two loads in turn.

An emitter follower does not saturate: the output stays one VBE short of the signal, which must itself
swing to the supply.
Between the two VBEs neither conducts, and the resting load keeps what the signal does not reach.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import BipolarCard, NpnCard, PnpCard
from ..circuit.devices import Device, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .contract import Corner, Demand, Offer, Part, Schedule, Side, Switch, View
from .drawing import HEIGHT, HIGH_Y, Pen
from .drive import Drive, draw_series
from .feed import feed_currents, from_low_side
from .findings import Bound, Remedy, Verdict, Window, Working, judge, window
from .npn_low_side import transistor
from .switching import heat_verdicts, load_current

RESTING = 0.1  # share of the supply that a resting load may keep, as a relay's must-release is


class Complementary(Drive):
    title = "Complementary pair"
    purpose = "An NPN and a PNP follow the signal: high runs one load, low runs the other."
    choose = "Two loads take turns, and the signal swings from rail to rail."
    avoid = "The signal does not reach the supply, or both loads must be off at times."
    letters = {"series": "R", "switch": "Q", "lower": "Q", "other": "R"}
    output = "emitters"
    cards = {"card": NpnCard, "lower": PnpCard}
    resistors = {"series": ("Base resistor", "r_base")}
    fits = {"switch": "card", "lower": "lower"}
    controls = ("bases",)

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

    def _cards(self, view: View) -> tuple[BipolarCard, BipolarCard]:
        upper, lower = self.card_of(view), self.card_of(view, "lower")
        assert isinstance(upper, BipolarCard) and isinstance(lower, BipolarCard)
        return upper, lower

    def _base_current(self, view: View, demand: Demand) -> float:
        """What the followers' bases take at the full supply, at the least gain [A]."""
        upper, lower = self._cards(view)
        return max(view.high / demand.cold / upper.gain_min, view.high / self.other / lower.gain_min)

    def _short(self, view: View, offer: Offer, level: float) -> float:
        """How far the output stays below the supply when high [V]."""
        drop = (
            self._base_current(view, view.demand) * (self.r_base + offer.resistance) if view.demand else 0.0
        )
        return max(view.low - level, 0.0) + self._cards(view)[0].v_be_sat + drop

    def switch(self, view: View) -> Switch:
        upper, _ = self._cards(view)
        short = self._short(view, view.offer, view.offer.high.low) if view.offer else upper.v_be_sat
        return Switch(
            ref=view.refs["switch"],
            output=self.output,
            drop=short * 0.9,
            drop_worst=short,
            breakdown=upper.v_ceo,
            capacitance=2e-11,
            avalanche_energy=0.0,
        )

    def _bounds(self, view: View, offer: Offer, demand: Demand) -> list[Bound]:
        need = self._base_current(view, demand)
        most = RESTING * view.typical / need
        return [
            Bound(
                side="high",
                value=max(most, 1e-3),
                title="base resistor drops little",
                detail=f"{RESTING * view.typical:.3g} V / {show(need, 'A')}",
                verdict="resting",
                working=Working(
                    formula="R_{B} ≤ 0.1·V / I_{B}",
                    substituted=f"= {RESTING * view.typical:.3g} / {show(need, 'A')}",
                    reason="A follower's base current flows for as long as a load runs.",
                ),
            ),
            Bound(
                side="low",
                value=max(view.high / offer.burst / (1 - view.tolerance) - offer.resistance, 1e-3),
                title=f"{offer.name} under {show(offer.burst, 'A')} if an output is shorted",
                detail=f"{view.high:.3g} V / {show(offer.burst, 'A')}",
                verdict="pin_burst",
                working=Working(
                    formula="R_{B} ≥ V_{high} / I_{burst}",
                    substituted=f"= {view.high:.3g} / {show(offer.burst, 'A')}",
                    reason="A shorted output pulls the bases to the rail.",
                ),
            ),
        ]

    def windows(self, view: View) -> tuple[Window, ...]:
        if view.offer is None or view.demand is None:
            return ()
        return (
            window(
                view.path("r_base"),
                view.refs["series"],
                "base resistor",
                "Ω",
                self.r_base,
                self._bounds(view, view.offer, view.demand),
                stock=view.stock(),
            ),
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        offer, demand = view.offer, view.demand
        if offer is None or demand is None:
            return ()
        upper, _ = self._cards(view)
        need, amps = self._base_current(view, demand), view.high / demand.cold
        fix = Remedy(
            text=(
                "Let a signal that swings to the supply drive it: a timer's output, or a transistor with a "
                "pull-up."
            )
        )
        rests = [offer.short(view.low, view.typical, view.high), max(offer.low, 0.0)]
        left = max(rests) + 0.6
        limit = RESTING * view.typical
        watts = self._short(view, offer, offer.high.typical) * amps
        found = feed_currents(
            from_low_side(offer),
            "",
            "",
            steady=(need / 2, need),
            burst=(
                view.typical / (self.r_base + offer.resistance),
                view.high / (self.r_base * (1 - view.tolerance)),
            ),
            formula="I_{B} = I_{load} / h_{FE,min}",
            substituted=f"= {show(amps, 'A')} / {upper.gain_min:g} = {show(need, 'A')}",
            reason="A follower passes on its load's current, divided by its gain.",
            fix=Remedy(text="Take transistors with more gain."),
        )
        return (
            *found,
            judge(
                "resting",
                "drive",
                "The resting load is off",
                nominal=left,
                worst=left,
                limit=limit,
                unit="V",
                sense="at most",
                corner="supply high, signal at its worst",
                sentence=f"It keeps {show(left, 'V')}; {show(limit, 'V')} is a tenth of the supply.",
                working=Working(
                    formula="V_{rest} = V_{high} − V_{signal} + V_{BE}",
                    substituted=f"= {max(rests):.3g} + 0.6 = {show(left, 'V')}",
                    reason=(
                        "A follower's output stays a VBE short of the signal on both sides: that dead band "
                        "stands across the load that should rest."
                    ),
                ),
                remedy=fix,
            ),
            *load_current(
                demand, view, upper.current, "allowed", upper.current, "Beyond this its gain is gone."
            ),
            *heat_verdicts(
                view,
                nominal=watts * 0.8,
                worst=watts,
                r_th=upper.r_th,
                t_max=upper.t_j_max,
                power=upper.power,
                how="P = (V_{high} − V_{out}) · I",
                numbers=(
                    f"= {self._short(view, offer, offer.high.typical):.3g} V · {show(amps, 'A')} = "
                    f"{show(watts, 'W')}"
                ),
            ),
        )

    def parts(self, view: View) -> tuple[Part, ...]:
        line = Part(
            ref=view.refs["other"],
            title="Other load",
            value=show(self.other, "Ω"),
            kind="load",
            path=view.path("other"),
            on_board=False,
        )
        return (*super().parts(view), line)

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        upper, lower = self._cards(view)
        out = view.nodes["out"]
        yield Resistor(
            name=view.refs["series"],
            a=view.nodes["in"],
            b="bases",
            resistance=self.r_base * (1 + corner.resistors),
            tolerance=view.tolerance,
        )
        yield transistor(view, upper, corner, "switch", "plus", "bases", out)
        yield transistor(view, lower, corner, "lower", "0", "bases", out)
        yield Resistor(name=view.refs["other"], a="plus", b=out, resistance=self.other)

    def draw(self, pen: Pen, view: View) -> None:
        x0, y = pen.output
        far = draw_series(pen, view, "series", self.r_base, "r_base")
        q, p, other = view.refs["switch"], view.refs["lower"], view.refs["other"]
        a = pen.place(q, "npn", x0 + 13.6, 9.0, label=q, value="", path=view.path("card"))
        b = pen.place(p, "pnp", x0 + 13.6, 23.0, label=p, value="", path=view.path("lower"))
        x = a["b"][0] - 1.6
        pen.wire(far, (x, y), part=view.refs["series"])
        pen.wire(a["b"], (x, 9.0), (x, 23.0), b["b"], part=view.refs["series"])
        pen.wire(a["c"], (a["c"][0], 0.0), load=True, part=q)
        pen.wire(b["c"], (b["c"][0], HEIGHT), load=True, part=p)
        pen.wire(a["e"], b["e"], load=True, part=q)
        end = a["e"][0] + 6.0
        o = pen.place(
            other, "heater", end, 6.0, label="Other", value=show(self.other, "Ω"), path=view.path("other")
        )
        pen.wire((end, 0.0), o["a"], part=other)
        pen.wire((a["e"][0], y), (end, y), load=True, part=q)
        pen.wire(o["b"], (end, HIGH_Y), part=other)
        pen.tag(view.nodes["out"], "V", end - 2.0, HIGH_Y - 2.0)
        pen.output, pen.x = (end, HIGH_Y), end
