"""Soft start: a P-MOSFET on the high side whose output comes up at a steady rate, so that an empty capacitor
behind it fills gently.

While it comes up, all that the gate's resistor draws flows through a capacitor between gate and output:
dV/dt = I_gate / C. What the load's own capacitor takes is that times its size. The MOSFET carries half the
supply meanwhile, and turns as much into heat as goes into the capacitor. Without that capacitor the gate's
own one lets the threshold pass slowly: simpler, and the gulp hangs on the MOSFET's steepness.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...cards.card import FieldEffectCard
from ...cards.points import channel_amps
from ...fields import Q, Unless
from ...quantity import show, show_part
from ...roots import root
from ..contract.descriptions import StateRow
from ..contract.facts import Switch
from ..contract.parts import Placed, capacitor
from ..contract.scenes import UPSTREAM, Act, Play
from ..contract.site import Site
from ..drawing.pen import HIGH_Y, Pen
from ..drawing.switches import CONTROL_Y
from ..rules.gate_drive import GateDrive
from ..rules.kick import stands
from ..rules.ramp import Rise, comes_up
from ..rules.saturated import mosfet_load
from ..rules.switching import back_feed, direct_only, pulse_resistance
from ..say.checks import Check, Shown, check, high, strongest, weakest
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence, Word
from .pmos_high_side import PmosHighSide

NEVER = 10.0  # a rise that takes longer is looked at no further [s]
SPREAD = 0.1  # how far the capacitor is off that sets the rate


class SoftStart(PmosHighSide):
    title = "Soft start, high side"
    purpose = "The load's supply comes up slowly, so that its empty capacitor draws no gulp."
    choose = "A module or lamp whose inrush trips a fuse, sags a battery or welds a contact."
    avoid = "It switches more than once in some seconds: each start is a pulse of heat in the MOSFET."
    picture = "softstart"

    kind: Literal["soft_start"] = "soft_start"  # type: ignore[assignment]
    r_drive: Annotated[float, Q("Ω", 1.0, 1e7)] = 100e3
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 1e6
    r_shift: Annotated[float, Q("Ω", 1.0, 1e7)] = 4.7e3
    r_shift_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 4.7e3
    c_gate: Annotated[float, Q("F", 1e-11, 1e-4)] = 1.5e-6
    c_rate: Annotated[Annotated[float, Q("F", 1e-11, 1e-5)] | None, Unless("none")] = 150e-9
    gulp: Annotated[float, Q("A", 1e-3, 100.0)] = 2.0

    @property
    def summary(self) -> str:
        return f"Soft start, {show_part(self.r_drive)} × {show(self.c_rate or self.c_gate, 'F')}"

    @property
    def miller(self) -> float:
        """What lies between gate and output beside the MOSFET's own [F]."""
        return self.c_rate or 0.0

    def make(self, site: Site) -> Iterable[Placed]:
        yield from super().make(site)
        yield capacitor(site, "gate", "Gate capacitor", "c_gate", "plus", "gate")
        if self.c_rate is not None:
            yield capacitor(site, "rate", "Capacitor that sets the rate", "c_rate", "gate", "drain")

    # --- how it comes up ----------------------------------------------------------------------------
    def _plateau(self, site: Site, amps: float, shift: float = 0.0) -> float:
        """Between rail and gate while it carries a current [V]."""
        card, volts = site.card("card", FieldEffectCard), site.rail.typical / 2

        def over(v_gs: float) -> float:
            return channel_amps(card, v_gs, volts, shift) - amps

        return root(over, 0.0, card.v_gs_max) if over(0.0) < 0.0 < over(card.v_gs_max) else card.v_gs_max

    def rate(self, site: Site, volts: float, amps: float, off: float = 0.0, shift: float = 0.0) -> float:
        """How fast the output rises [V/s]: resistor and capacitor off by shares, the threshold by volts."""
        card, plateau = site.card("card", FieldEffectCard), self._plateau(site, amps, shift)
        drawn = max(volts - plateau, 0.0) / (self.r_drive * (1 - off * site.tolerance))
        drawn -= plateau / (self.r_pull or 1e12)
        farads = self.miller * (1 - off * SPREAD) + card.c_rss
        return max(drawn, 1e-12) / farads

    def rise(self, site: Site, volts: float, off: float = 0.0, shift: float = 0.0) -> Rise:
        """How it comes up; resistor and rate off by shares, the threshold by volts."""
        demand, ohms = site.demand(), volts / max(site.demand().amps(volts), 1e-6)
        if self._cold(site):
            assert demand.inrush is not None
            ohms = min(ohms, demand.inrush.ohms)  # a motor that stands, a filament that is cold: at most
        return comes_up(
            site.card("card", FieldEffectCard),
            volts,
            self.r_drive * (1 - off * site.tolerance),
            self.r_pull or 1e12,
            self.c_gate * (1 - off * SPREAD),
            self.miller * (1 - off * SPREAD),
            demand.inrush.farads if demand.inrush is not None else 0.0,
            ohms,
            shift,
        )

    @staticmethod
    def _cold(site: Site) -> bool:
        """Whether its load begins with less resistance than it runs with."""
        rush = site.demand().inrush
        return rush is not None and not rush.farads

    def up_within(self, site: Site) -> float:
        """How long it takes to come up [s]."""
        return self.rise(site, site.rail.typical).seconds

    def down_within(self, site: Site) -> float:
        """How long it takes to go down through its pull-up [s]."""
        volts, plateau = site.rail.typical, self._plateau(site, site.demand().amps(site.rail.typical))
        card, pull = site.card("card", FieldEffectCard), self.r_pull or 1e12
        falls = volts * (self.miller + card.c_rss) * pull / max(plateau, 0.1)
        passes = pull * (self.c_gate + card.c_iss) * math.log(max(plateau / card.threshold, 1.02))
        return falls + passes

    def switches(self, site: Site) -> Switch:
        return replace(super().switches(site), ramp=self.up_within(site), slow=True)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        demand, gate = site.demand(), self.control(site)
        switch = self.switches(site)
        yield stands(switch.ref, site.rail.high, switch.breakdown)
        yield from self._gate_checks(site, gate)
        yield self._gulp(site)
        yield self._heat(site)
        yield self._plugged(site)
        shifter = self.shifter(site)
        if shifter is not None:
            yield from shifter.checks()
            yield stands(site.ref("shift"), site.rail.high, 40.0, "shift_", "Shifter: ")
        yield from mosfet_load(site, switch, demand, gate, self.heatsink)
        yield from back_feed(site, demand)
        yield from direct_only(site)

    def _gate_checks(self, site: Site, gate: GateDrive) -> Iterator[Check]:
        card = gate.card
        need = card.lowest_on.v_gs
        yield check(
            "fully_on",
            "Gate voltage",
            "need",
            "turns on",
            unit="V",
            nominal=gate.least,
            worst=gate.worst,
            least=0.9 * need,
            at=weakest("the supply at its lowest"),
            says=f"Needs {show(0.9 * need, 'V')}, gets {show(gate.worst, 'V')} in the end.",
            formula="V_{GS} = V · R_{pull} / (R_{pull} + R_{drive})",
            numbers=f"= {show(gate.worst, 'V')}",
            because="The two resistors divide what the shifter gives.",
            cure=f"Make {site.ref('pull')} larger.",
        )
        yield check(
            "gate_max",
            "Gate voltage, highest",
            "limit",
            "level",
            unit="V",
            nominal=gate.usual,
            worst=gate.most,
            most=card.v_gs_max,
            at=strongest("the supply at its highest"),
            says=f"{show(gate.most, 'V')} of {show(card.v_gs_max, 'V')} across the gate.",
            formula="V_{GS} ≤ V_{GS,max}",
            numbers=f"{gate.most:.3g} ≤ {card.v_gs_max:.3g}",
            because="A gate's oxide breaks down once and for all.",
            cure="Clamp the gate with a zener.",
        )

    def _gulp(self, site: Site) -> Check:
        card, rail = site.card("card", FieldEffectCard), site.rail
        usual = self.rise(site, rail.typical).peak
        worst = self.rise(site, rail.high, 1.0, card.threshold - card.threshold_min).peak
        t = self.up_within(site)
        return check(
            "gulp",
            "What it draws while it comes up",
            "wish",
            "surge",
            unit="A",
            nominal=usual,
            worst=worst,
            most=self.gulp,
            at=high("small parts, an early threshold"),
            says=f"Up within {show(t, 's')}, with up to {show(worst, 'A')}; {show(self.gulp, 'A')} asked.",
            formula="I = I_{load} + C_{load} · (V − V_{GS}) / R_{drive} / C_{rate}",
            numbers=f"{show(rail.typical / t, 'V/s')} as a rule: {show(usual, 'A')}",
            shown=self._shown(site),
            because="An empty capacitor takes its size times how fast its volts rise.",
            cure=f"Make {site.ref('rate' if self.c_rate else 'gate')} or {site.ref('series')} larger.",
        )

    def _shown(self, site: Site) -> Shown | None:
        rise = self.rise(site, site.rail.typical)
        if self._cold(site) or not math.isfinite(rise.seconds):
            return None  # how soon it runs or glows is the load's own
        return Shown(
            "i(switch.d)",
            "begun",
            "lowest",
            look=rise.delay + 3 * rise.seconds,
            times=-1.0,
            within=0.2,
            floor=2e-3,
            because="a module draws its current from some volts on, where a resistance draws from none",
        )

    def _heat(self, site: Site) -> Check:
        card, demand, volts = site.card("card", FieldEffectCard), site.demand(), site.rail.high
        farads = demand.inrush.farads if demand.inrush is not None else 0.0
        up, down = self.up_within(site), self.down_within(site)
        amps = demand.most(volts)
        runs = (
            ("coming up", up, farads * volts**2 / 2 / up + volts * amps / 6),
            ("going down", down, volts * amps / 6),
        )
        words, seconds, watts = max(runs, key=lambda r: r[2] * pulse_resistance(card.r_th, r[1]))
        rises = watts * pulse_resistance(card.r_th, seconds)
        hot = site.hot + rises
        return check(
            "ramp_heat",
            "Junction, half on",
            "limit",
            "temperature",
            unit="°C",
            nominal=hot,
            most=card.t_j_max,
            at=high(words, hot=True),
            says=f"{show(watts, 'W')} for {show(seconds, 's', 2)} {words}: {hot:.0f} °C of "
            f"{card.t_j_max:.0f} °C.",
            formula="P = (C V^2 / 2) / t + V · I / 6",
            numbers=f"{show(watts, 'W')} for {show(seconds, 's', 2)}: {rises:.0f} K",
            because="Between on and off it stands half the supply and carries the current.",
            cure="Take a larger MOSFET; for going down a smaller pull-up, or a transistor across it.",
        )

    def _plugged(self, site: Site) -> Check:
        rail, card = site.rail, site.card("card", FieldEffectCard)
        across = self.miller + card.c_rss
        lifted = rail.high * across / (across + self.c_gate + card.c_iss)
        return check(
            "plugged",
            "Stays off when the supply is plugged in",
            "need",
            "plugged in",
            unit="V",
            nominal=lifted,
            most=card.threshold_min,
            at=high("the supply comes at once"),
            says=f"The gate lags the supply by {show(lifted, 'V')}; it may begin at "
            f"{show(card.threshold_min, 'V')}.",
            formula="V · C_{rate} / (C_{rate} + C_{gate} + C_{iss}) ≤ V_{th,min}",
            numbers=f"{show(lifted, 'V')} ≤ {show(card.threshold_min, 'V')}",
            because="Through the capacitor at the output the gate is held back while the supply jumps.",
            cure=f"Make {site.ref('gate')} larger.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        card, rail = site.card("card", FieldEffectCard), site.rail
        if self.c_rate is None:
            return super().windows(site)[:1]
        demand = site.demand()
        farads = demand.inrush.farads if demand.inrush is not None else 0.0
        early = card.threshold - card.threshold_min
        spare = self.gulp - demand.amps(rail.high)
        found = []
        if farads > 0 and spare > 0:
            per = self.rate(site, rail.high, self.gulp, 1.0, early) * (self.miller + card.c_rss)
            found.append(
                bound(
                    "low",
                    farads * per / spare / (1 - SPREAD) - card.c_rss,
                    "comes up gently",
                    detail=show(self.gulp, "A"),
                    guards="gulp",
                    formula="C_{rate} ≥ C_{load} · I_{gate} / (I_{most} − I_{load})",
                    because="Smaller, and the load's capacitor takes more than you asked for.",
                )
            )
        share = card.threshold_min / rail.high
        found.append(
            bound(
                "high",
                (self.c_gate + card.c_iss) * share / (1 - share),
                "stays off at plug-in",
                detail=show(card.threshold_min, "V"),
                guards="plugged",
                formula="V · C_{rate} / (C_{rate} + C_{gate}) ≤ V_{th,min}",
                because="Larger, and a supply that is plugged in turns it on for a moment.",
            )
        )
        return (window(site, "c_rate", "rate", "capacitor that sets the rate", found),)

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        asked = (Word(text="It comes up gently, with no more than"), say.field("gulp", note="wanted"))
        return {**super().givens(say, site, fed), "behave": asked}

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        up, down = show(self.up_within(site), "s", 2), show(self.down_within(site), "s", 2)
        gulp = show(self.rise(site, site.rail.typical).peak, "A", 2)
        rate = site.ref("rate" if self.c_rate else "gate")
        return (
            StateRow(state="Turned on", load=f"comes up within {up}", why=f"{rate} takes the gate's current"),
            StateRow(state="Meanwhile", load=f"takes up to {gulp}", why="its capacitor fills evenly"),
            StateRow(state="Turned off", load=f"goes down within {down}", why=f"by {site.ref('pull')} alone"),
            StateRow(state="On again at once", load="no soft start", why="the gate has not emptied yet"),
            StateRow(state="Shorted meanwhile", load="not limited", why="a fuse must open"),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        up = show(self.up_within(site), "s", 2)
        return "Turn it on: the load's volts rise evenly.", f"up within {up}, no click, no spark"

    def settles(self, site: Site) -> float:
        rise = self.rise(site, site.rail.typical)
        whole = rise.delay + 3 * rise.seconds
        return min(whole if math.isfinite(whole) else NEVER, NEVER) + min(3 * self.down_within(site), NEVER)

    def plays(self, site: Site) -> tuple[Play, ...]:
        rise = self.rise(site, site.rail.typical)
        on, t = min(rise.delay + 2 * rise.seconds, NEVER), self.settles(site)
        begin = 0.1 * on
        return (
            Play("Turned on, then off", begin + 1.5 * on + t, (Act(UPSTREAM, "active", begin, 1.5 * on),)),
            Play("Turned on", begin + 1.2 * on, (Act(UPSTREAM, "active", begin),)),
        )

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        super().draw(pen, site)
        assert pen.control is not None
        x, out = pen.control[0], pen.output
        ref = site.ref("gate")
        c = pen.part(site, "gate", "capacitor", x - 6.0, 3.5, side="left")
        pen.wire((x - 6.0, 0.0), c["a"], part=ref)
        pen.wire(c["b"], (x - 6.0, CONTROL_Y), (x, CONTROL_Y), part=ref)
        if self.c_rate is None:
            return
        m = pen.part(site, "rate", "capacitor", x, CONTROL_Y + 8.0, side="left")
        pen.wire((x, CONTROL_Y), m["a"], part=site.ref("rate"))
        pen.wire(m["b"], (x, HIGH_Y), (out[0], HIGH_Y), part=site.ref("rate"))
