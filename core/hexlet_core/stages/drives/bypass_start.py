"""Soft start by a resistor that a relay bypasses: the load's empty capacitor fills through the resistor, and
a moment later a contact takes its place.

A MOSFET whose gate a resistor and a capacitor let rise pulls the relay. What the load draws meanwhile flows
through the resistor too: it keeps the capacitor from filling, and makes a second gulp as the contact shuts.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from ...cards.card import DiodeCard, FieldEffectCard, MosfetCard, RelayCard
from ...cards.points import channel_amps
from ...fields import Q
from ...quantity import show, show_part
from ...roots import root
from ..contract.descriptions import Ladder, StateRow
from ..contract.facts import Demand, Draw, Side, Switch
from ..contract.parts import ELECTROLYTIC, Placed, capacitor, from_card, resistor
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.latches import draw_bypass_start
from ..drawing.pen import Pen
from ..rules.coil import Coil
from ..rules.contact import Switched, contact_checks, contact_switch, ladder
from ..rules.kick import stands
from ..rules.supplied import Supplied
from ..say.checks import Check, Shown, check, high, low, when
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence, Word
from .base import Uncommanded

FILLED = 4.0  # time constants of resistor and load's capacitor before the contact shuts
STANDS = 5.0  # joules a resistor stands at once, for each watt it is rated, assumed [s]
SPREAD = 0.2  # of the timing capacitor
UP = 0.8  # share of the supply that a load should have before the bypass
NEVER = 20.0  # a start that takes longer is looked at no further [s]


class BypassStart(Uncommanded):
    title = "Soft start, resistor and relay"
    purpose = "A resistor fills the load's capacitor as the supply comes; then a relay bypasses it."
    choose = "A large capacitor and a large current afterwards: the contact drops next to nothing."
    avoid = "The load runs as soon as it has a few volts, or the supply comes and goes quickly."
    picture = "softstart"
    output = "switched"
    controls = ("gate", "coil")
    cards = {"card": RelayCard, "diode": DiodeCard, "mosfet": MosfetCard}

    kind: Literal["bypass_start"] = "bypass_start"
    card: str = "relay-12v-96r"
    diode: str = "diode-200ma-100v"
    mosfet: str = "nmos-55v-5a-logic"
    r_inrush: Annotated[float, Q("Ω", 0.1, 1e4)] = 10.0
    p_inrush: Annotated[float, Q("W", 0.1, 1e3)] = 5.0
    r_time: Annotated[float, Q("Ω", 1e3, 1e8)] = 220e3
    c_time: Annotated[float, Q("F", 1e-9, 1e-2)] = 10e-6
    hottest: Annotated[float, Q("°C", -20.0, 120.0)] = 52.0
    gulp: Annotated[float, Q("A", 1e-3, 100.0)] = 2.0

    @property
    def summary(self) -> str:
        return f"Soft start, {show_part(self.r_inrush)} Ω and a relay"

    @property
    def side(self) -> Side:
        return "high"

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        coil = self.coil(site)
        yield resistor(site, "inrush", "Starting resistor", "r_inrush", "plus", "switched")
        legs = {"a": "plus", "b": "coil", "com": "plus", "no": "switched"}
        yield from_card(
            site, "switch", "K", "card", legs, numbers=coil.numbers, mark=show(coil.resistance, "Ω")
        )
        yield from_card(site, "diode", "D", "diode", {"a": "coil", "k": "plus"}, mark="")
        yield resistor(site, "time", "Timing resistor", "r_time", "plus", "gate")
        yield capacitor(site, "timing", "Timing capacitor", "c_time", "gate", "zero")
        yield from_card(site, "empties", "D", "diode", {"a": "gate", "k": "plus"}, mark="")
        yield from_card(site, "puller", "Q", "mosfet", {"g": "gate", "d": "coil", "s": "zero"})

    def coil(self, site: Site) -> Coil:
        """The relay's winding."""
        card = site.card("card", RelayCard)
        return Coil(card, card.coil, card.rated, 25.0, self.hottest, card.time_constant)

    # --- its start ----------------------------------------------------------------------------------
    def pulls(self, site: Site, volts: float, shift: float = 0.0) -> float:
        """The gate's volts at which the relay pulls in; the threshold off by `shift` [V]."""
        card, coil = site.card("mosfet", FieldEffectCard), self.coil(site)
        left = volts - coil.pull_in * coil.resistance

        def over(v_gs: float) -> float:
            return channel_amps(card, v_gs, left, shift) - coil.pull_in

        return root(over, 0.0, volts) if left > 0.0 and over(0.0) < 0.0 < over(volts) else math.inf

    def waits(self, site: Site, volts: float, shift: float = 0.0, off: float = 0.0) -> float:
        """How long after the supply the contact shuts [s]: the threshold off by `shift` [V], the timing
        capacitor by a share.
        """
        gate = self.pulls(site, volts, shift)
        if volts <= 1.02 * gate:
            return math.inf
        rises = self.r_time * self.c_time * (1 + off) * math.log(volts / (volts - gate))
        return rises + self.coil(site).card.operate

    def behind(self, site: Site, volts: float) -> float:
        """What the load has in the end while only the resistor feeds it [V]: it stops and starts about the
        volts under which it takes nothing, where the resistor does not let it run.
        """
        demand = site.demand()

        def left(v: float) -> float:
            return volts - self.r_inrush * demand.amps(max(v, 0.0)) - v

        runs = (
            root(left, 0.0, volts) if left(0.0) > 0.0 > left(volts) else (volts if left(volts) >= 0 else 0.0)
        )
        return max(runs, min(demand.idles, volts))

    def farads(self, site: Site) -> float:
        """The load's own capacitor [F]."""
        rush = site.demand().inrush
        return rush.farads if rush is not None else 0.0

    def left(self, site: Site, volts: float, after: float) -> float:
        """How far the load still is under the supply as the contact shuts [V]."""
        ends, farads = self.behind(site, volts), self.farads(site)
        if farads <= 0.0:
            return volts - ends
        share = ends / volts if volts > 0 else 1.0  # of the resistor beside the load's own resistance
        tau = self.r_inrush * farads * share
        return volts - ends * (1 - math.exp(-min(after / max(tau, 1e-12), 700.0)))

    def gulps(self, site: Site, volts: float, off: float = 0.0) -> tuple[float, float]:
        """What flows as the supply comes, and again as the contact shuts, beside the load's own [A]."""
        rail, rush = site.rail, site.demand().inrush
        ohms = (rush.ohms if rush is not None else 0.0) + rail.resistance
        first = volts / (self.r_inrush * (1 - abs(off)) + ohms)
        card = site.card("mosfet", FieldEffectCard)
        early = card.threshold_min - card.threshold if off else 0.0
        after = self.waits(site, volts, early, -SPREAD if off else 0.0)
        if rush is None:
            return first, 0.0
        contact = site.card("card", RelayCard).contact_resistance
        return first, self.left(site, volts, after) / (ohms + contact)

    # --- facts --------------------------------------------------------------------------------------
    def switches(self, site: Site) -> Switch:
        made = contact_switch(site, "switch", "switched")
        return replace(made, ramp=self.r_inrush * self.farads(site), slow=True)

    def tell(self, port: str, site: Site) -> Any:
        if port == "rail":
            rail, demand, farads = site.rail, site.demand(), self.farads(site)
            first, second = self.gulps(site, rail.high)
            coil = rail.high / self.coil(site).coldest
            return Draw(demand.most(rail.high) + coil, max(first, second), self.r_inrush * farads / 2)
        return super().tell(port, site)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        rail, coil, mosfet = site.rail, self.coil(site), site.card("mosfet", FieldEffectCard)
        yield from self._gulps(site)
        yield self._runs_behind(site)
        yield self._energy(site)
        got = Supplied(rail.low, rail.low - 0.1, 0.0, 0.1, rail.high, rail.high)
        shown = Shown("v(plus,coil)", "active", within=0.03)
        yield from coil.checks(rail, got, shown, "switch_", "Relay: ")
        yield from contact_checks(coil.card.ratings, self._switched(site, site.demand()), tag="switch_")
        yield from self._puller_checks(site, mosfet, coil)

    def _gulps(self, site: Site) -> Iterator[Check]:
        rail = site.rail
        usual, worst = self.gulps(site, rail.typical), self.gulps(site, rail.high, site.tolerance)
        told = (
            ("first_gulp", "What it draws as the supply comes", "V / R_{start}", "inrush"),
            ("second_gulp", "What it draws as the contact shuts", "(V − V_{load}) / R_{line}", "time"),
        )
        for k, (id, title, formula, local) in enumerate(told):
            later = f"{show(self.left(site, rail.typical, self._after(site)), 'V')} are missing by then. "
            yield check(
                id,
                title,
                "wish",
                "surge",
                unit="A",
                nominal=usual[k],
                worst=worst[k],
                most=self.gulp,
                at=high("small parts, an early threshold"),
                says=f"{later if k else ''}Up to {show(worst[k], 'A')}; {show(self.gulp, 'A')} asked.",
                formula=formula,
                numbers=f"{show(usual[k], 'A')} as a rule",
                because="What the capacitor has not taken through the resistor it takes through the contact."
                if k
                else "An empty capacitor is a short: the resistor alone limits it.",
                cure=f"Make {site.ref(local)} larger.",
                wish="gulp",
            )

    def _after(self, site: Site) -> float:
        return self.waits(site, site.rail.typical)

    def _runs_behind(self, site: Site) -> Check:
        rail = site.rail
        low_end = self.behind(site, rail.low)
        return check(
            "runs_behind",
            "Load fills behind the resistor",
            "practice",
            "gets its volts",
            unit="V",
            nominal=self.behind(site, rail.typical),
            worst=low_end,
            least=UP * rail.low,
            at=low("the load running"),
            says=f"Behind the resistor it comes to {show(low_end, 'V')} of {show(rail.low, 'V')}.",
            formula="V_{load} = V − I_{load} · R_{start}",
            numbers=f"{show(low_end, 'V')}",
            because="A load that already runs holds its capacitor down: the rest comes as a gulp.",
            cure=f"Make {site.ref('inrush')} smaller, or keep the load off until the contact has shut.",
        )

    def _energy(self, site: Site) -> Check:
        volts, card = site.rail.high, site.card("mosfet", FieldEffectCard)
        after = min(self.waits(site, volts, card.threshold_max - card.threshold, SPREAD), NEVER)
        amps = site.demand().amps(self.behind(site, volts))
        joules = self.farads(site) * volts**2 / 2 + amps**2 * self.r_inrush * after
        return check(
            "start_energy",
            "Heat pulse in the starting resistor",
            "limit",
            "heat",
            unit="J",
            nominal=joules,
            most=STANDS * self.p_inrush,
            at=high("a late threshold"),
            says=f"{show(joules, 'J')} in one start; {show(self.p_inrush, 'W')} stand about "
            f"{show(STANDS * self.p_inrush, 'J')} at once.",
            formula="E = C · V² / 2 + I² · R · t",
            numbers=f"= {show(joules, 'J')}",
            because="As much goes into the resistor as into the capacitor, and the load's current adds.",
            cure="Take a resistor for more watts, or a shorter wait.",
        )

    def _puller_checks(self, site: Site, mosfet: FieldEffectCard, coil: Coil) -> Iterator[Check]:
        rail, q = site.rail, site.ref("puller")
        yield stands(q, rail.high, mosfet.v_ds, "puller_", "MOSFET: ")
        amps = rail.high / coil.coldest
        yield check(
            "puller_current",
            "MOSFET carries the coil",
            "limit",
            "current",
            unit="A",
            nominal=rail.high / coil.resistance,
            worst=amps,
            most=mosfet.current_hot,
            at=high("coil cold"),
            says=f"{show(amps, 'A')} of {show(mosfet.current_hot, 'A')}.",
            formula="I = V / R_{coil}",
            numbers=f"= {show(amps, 'A')}",
            because="It carries the coil for as long as the load runs.",
            cure="Take a MOSFET for more current.",
        )
        need = mosfet.lowest_on.v_gs
        for id, title, sort, about, worst, least, most, cure in (
            (
                "fully_on",
                "Gate voltage",
                "need",
                "turns on",
                rail.low,
                0.9 * need,
                None,
                "Take a MOSFET for fewer volts at its gate.",
            ),
            (
                "gate_max",
                "Gate voltage, highest",
                "limit",
                "level",
                rail.high,
                None,
                mosfet.v_gs_max,
                "Clamp the gate with a zener.",
            ),
        ):
            yield check(
                id,
                title,
                sort,  # type: ignore[arg-type]
                about,  # type: ignore[arg-type]
                unit="V",
                nominal=rail.typical,
                worst=worst,
                least=least,
                most=most,
                at=low("in the end") if least is not None else high("in the end"),
                says=f"Comes to {show(worst, 'V')} in the end.",
                formula="V_{gate} → V",
                numbers=f"{show(worst, 'V')}",
                because="The timing capacitor charges to the whole supply.",
                cure=cure,
            )
        watts = rail.high**2 / 4 / coil.coldest
        yield check(
            "half_on",
            "MOSFET half on for a moment",
            "limit",
            "heat",
            unit="W",
            nominal=watts,
            most=mosfet.power,
            at=when("its gate rises slowly"),
            says=f"{show(watts, 'W')} of {show(mosfet.power, 'W')} as the gate passes its threshold.",
            formula="P = V² / (4 · R_{coil})",
            numbers=f"= {show(watts, 'W')}",
            because="Half-way it has half the volts at half the current, for a tenth of the wait.",
            cure="Take a larger MOSFET, or a relay of more ohms.",
        )

    def _switched(self, site: Site, demand: Demand) -> Switched:
        runs, name = demand.most(site.rail.high), demand.name.capitalize()
        starts = max(self.gulps(site, site.rail.high)[1] if self.farads(site) else 0.0, runs)
        if demand.inrush is not None and not self.farads(site):
            starts = max(self.switches(site).surge(demand), runs)
        return Switched(name, demand.use, runs, starts, site.rail.high, site.rail.ac)

    def ladder(self, site: Site) -> Ladder:
        return ladder(site.card("card", RelayCard).ratings, self._switched(site, site.demand()))

    def windows(self, site: Site) -> tuple[Window, ...]:
        rail, demand, card = site.rail, site.demand(), site.card("mosfet", FieldEffectCard)
        amps = max(demand.amps(UP * rail.low), 1e-9)
        start = [
            bound(
                "low",
                rail.high / self.gulp / (1 - site.tolerance),
                "comes up gently",
                detail=show(self.gulp, "A"),
                guards="first_gulp",
                formula="R ≥ V / I_{most}",
                because="An empty capacitor is a short: the resistor alone limits it.",
            ),
            bound(
                "high",
                (1 - UP) * rail.low / amps,
                "the load fills behind it",
                detail=show(amps, "A"),
                guards="runs_behind",
                formula="R ≤ 0.2 · V / I_{load}",
                because="What the load draws already drops across it.",
            ),
        ]
        early = self.pulls(site, rail.high, card.threshold_min - card.threshold)
        log = math.log(rail.high / max(rail.high - early, 1e-3))
        need = FILLED * self.r_inrush * self.farads(site)
        time = [
            bound(
                "low",
                need / (self.c_time * (1 - SPREAD) * log),
                "the capacitor has filled",
                detail=show(need, "s"),
                guards="second_gulp",
                formula="R · C · ln(V / (V − V_{th})) ≥ 4 · R_{start} · C_{load}",
                because="Sooner, and the contact shuts onto a capacitor that is still empty.",
            )
        ]
        return (
            window(site, "r_inrush", "inrush", "starting resistor", start),
            window(site, "r_time", "time", "timing resistor", time),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        asked = (Word(text="It starts gently, with no more than"), say.field("gulp", note="wanted"))
        return {"behave": asked}

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        after, volts = self._after(site), site.rail.typical
        first, second = self.gulps(site, volts)
        k, r = site.ref("switch"), site.ref("inrush")
        return (
            StateRow(state="Supply comes", load=f"takes {show(first, 'A', 2)}", why=f"{r} alone feeds it"),
            StateRow(
                state="Meanwhile",
                load=f"comes to {show(volts - self.left(site, volts, after), 'V', 2)}",
                why="its capacitor fills, and what it draws already keeps it down",
            ),
            StateRow(
                state=f"After {show(after, 's', 2)}",
                load=f"{site.demand().energised}, gulps {show(second, 'A', 2)}",
                why=f"{k} bypasses {r}",
            ),
            StateRow(
                state="Supply fails and returns at once",
                load="no soft start",
                why=f"{k} has not let go yet, and {site.ref('timing')} empties through {site.ref('empties')}",
            ),
            StateRow(state="Load shorted meanwhile", load=f"{r} carries it all", why="a fuse must open"),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return (
            "Plug the supply in and listen for the relay.",
            f"a click after {show(self._after(site), 's', 2)}",
        )

    def settles(self, site: Site) -> float:
        return min(2 * self._after(site), NEVER) + 0.2

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        tau = self.r_time * self.c_time
        return (
            Scene("active", "on, bypassed", (), look=min(6 * tau, 600.0) + self.settles(site), cold=True),
        )

    def plays(self, site: Site) -> tuple[Play, ...]:
        t = self.settles(site)
        return (
            Play("Plugged in", 2 * t, plugged=0.1 * t),
            Play(
                "Plugged in, fails for a moment",
                4 * t,
                plugged=0.1 * t,
                supply=((2 * t, 0.0, 1e-3), (2 * t + 0.05, site.rail.typical, 1e-3)),
            ),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        found = (("gate", "Gate to 0 V"), ("coil", "Coil's lower end to 0 V"), ("switched", "Load to 0 V"))
        return tuple(Probe(id=n, title=t, red=f"{n} strip", signal=n, scenes=("active",)) for n, t in found)

    def watches(self, site: Site) -> tuple[Watch, ...]:
        words = ("open", "closed")
        return (
            Watch(id="switched", title="Load's line", unit="V", signal="switched", place=3),
            Watch(id="relay", title="Contact", unit="", signal="state(switch)", place=4, words=words),
            Watch(id="gate", title="Gate", unit="V", signal="gate", place=5),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_bypass_start(pen, site, self.c_time >= ELECTROLYTIC)
