"""NPN held by a PNP: two small transistors that hold each other on, a button to begin and one to end.

The NPN switches the load at its lower end; the PNP feeds its base for as long as the NPN holds the PNP's base
down. Either the PNP lies at the supply and its base at the output, or it lies on a resistor of its own as the
upper half of a thyristor does, the load at its base: then that resistor's current holds, and the load may be
as small as it likes.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...cards.card import BipolarCard, NpnCard, PnpCard
from ...cards.points import junctions, most_collector
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import StateRow
from ..contract.facts import Control, Switch
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.ports import Port
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.regenerative import draw_npn_latch
from ..rules.base_drive import BaseDrive, forced_gain
from ..rules.buttons import plays, scenes
from ..rules.feed import Names, from_rail
from ..rules.held import (
    JUNCTION,
    KEPT_DOWN,
    OFF_BELOW,
    OVERDRIVE,
    empties,
    falls_check,
    holds_check,
    keeps,
    starts_check,
)
from ..rules.kick import peak_check
from ..rules.saturated import bipolar_load
from ..say.checks import Check, check, high, low
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence, Word
from .base import Uncommanded

SETTLED = 0.3  # after a press all is decided [s]
SHARE = 0.65  # of its resistor's current that a PNP at the load's end passes on to the base, both saturated
REACH = 12e-12  # between the NPN's collector and its base [F]


class NpnLatch(Uncommanded):
    title = "NPN latch, held by a PNP"
    purpose = "One button turns the load on, another one off; two small transistors hold each other on."
    choose = "Small buttons, a load at the supply of up to half an amp, and nothing drawn while it is off."
    avoid = "One button shall do both, or what holds the base is too much while it is on."
    picture = "latch"
    output = "collector"
    controls = ("base",)
    main = "base"
    stateful = True
    presses = ("on", "off")
    cards = {"card": NpnCard, "pnp": PnpCard}

    kind: Literal["npn_latch"] = "npn_latch"
    loop: Literal["output", "anode"] = "output"
    card: str = "npn-60v-1a"
    pnp: str = "pnp-40v-200ma"
    forced_gain: Annotated[float, Q("", 2.0, 200.0)] | None = None
    r_feed: Annotated[float, Q("Ω", 10.0, 1e6)] = 1e3
    r_pull: Annotated[float, Q("Ω", 100.0, 1e7)] | None = 4.7e3
    c_base: Annotated[float, Q("F", 1e-11, 1e-5)] = 47e-9
    r_back: Annotated[float, Q("Ω", 100.0, 1e7)] = 4.7e3
    r_upper: Annotated[float, Q("Ω", 100.0, 1e7)] = 6.8e3
    r_on: Annotated[float, Q("Ω", 10.0, 1e6)] = 2.2e3

    @property
    def summary(self) -> str:
        where = "" if self.loop == "output" else ", load at the anode gate"
        return f"NPN held by a PNP, {show_part(self.r_feed)} Ω{where}"

    def ports(self) -> tuple[Port, ...]:
        end = "base" if self.loop == "output" else "anode"
        return (
            *super().ports(),
            Port("on", "contact", "in", {"com": "touch", "make": "base"}, form="make"),
            Port("off", "contact", "in", {"com": end, "make": "zero"}, form="make"),
        )

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "on", "On button's resistor", "r_on", "plus", "touch")
        if self.r_pull is not None:
            yield resistor(site, "pull", "Base pull-down", "r_pull", "base", "zero")
        yield capacitor(site, "calm", "Base capacitor", "c_base", "base", "zero")
        if self.loop == "output":
            yield resistor(site, "upper", "Upper pull-up", "r_upper", "plus", "upper")
            yield resistor(site, "back", "Resistor from the output", "r_back", "upper", "collector")
            yield from_card(site, "holder", "Q", "pnp", {"c": "fed", "b": "upper", "e": "plus"})
            yield resistor(site, "series", "Base resistor", "r_feed", "fed", "base")
        else:
            yield resistor(site, "series", "Anode resistor", "r_feed", "plus", "anode")
            yield resistor(site, "upper", "Upper resistor", "r_upper", "anode", "collector")
            yield from_card(site, "holder", "Q", "pnp", {"c": "base", "b": "collector", "e": "anode"})
        yield from_card(site, "switch", "Q", "card", {"c": "collector", "b": "base", "e": "zero"})

    # --- its loop -----------------------------------------------------------------------------------
    def held(self, volts: float) -> float:
        """The PNP's base current while it is on [A]."""
        if self.loop == "anode":
            return self.fed(volts) * (1 - SHARE)
        return max((volts - JUNCTION) / self.r_back - JUNCTION / self.r_upper, 0.0)

    @property
    def share(self) -> float:
        """How much of what comes through the feeding resistor reaches the NPN's base."""
        return 1.0 if self.loop == "output" else SHARE

    def fed(self, volts: float) -> float:
        """What comes through the feeding resistor [A]."""
        drops = JUNCTION if self.loop == "output" else 2 * JUNCTION
        return max(volts - drops, 0.0) / self.r_feed

    def beside(self, volts: float) -> float:
        """What the NPN carries besides the load [A]."""
        return volts / self.r_back if self.loop == "output" else self.fed(volts) / 2

    def pressed(self, volts: float) -> float:
        """The base current while the on button is held and the PNP does not feed it yet [A]."""
        return max((volts - JUNCTION) / self.r_on - JUNCTION / (self.r_pull or 1e12), 0.0)

    @property
    def keeps(self) -> float:
        """The load's volts under which it surely lets go [V]."""
        return keeps(self.r_back, self.r_upper) if self.loop == "output" else OFF_BELOW

    # --- facts --------------------------------------------------------------------------------------
    def drive(self, site: Site) -> BaseDrive:
        """The NPN's base, fed by the PNP."""
        rail, card, pnp = site.rail, site.card("card", BipolarCard), site.card("pnp", BipolarCard)
        usual = min(junctions(pnp, self.fed(rail.low), max(self.held(rail.low), 1e-9)).v_ce, pnp.v_ce_sat)
        demand = site.demand()
        return BaseDrive(
            feed=from_rail(rail, demand.amps(rail.typical), pnp.v_ce_sat, (usual, usual)),
            card=card,
            series=self.r_feed / self.share,
            pull=self.r_pull,
            collector=demand.most(rail.high) + self.beside(rail.high),
            rests=demand.rests,
            what=demand.name,
            gain=forced_gain(card, self.forced_gain),
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("base"),
        )

    def switches(self, site: Site) -> Switch:
        return self.bipolar_switch(site, self.drive(site))

    def controlled(self, site: Site) -> Control:
        return Control("base", reverse=site.card("card", BipolarCard).v_ebo)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        demand, base, rail = site.demand(), self.drive(site), site.rail
        switch = self.switches(site)
        yield from peak_check(switch, rail, demand, self.output)
        for found in base.checks():
            # At the load's end the PNP's share varies with the load: the circuit shows another number.
            yield found if self.loop == "output" else replace(found, shown=None)
        for found in bipolar_load(site, switch, demand, base, beside=self.beside(rail.high)):
            yield found if self.loop == "output" or found.id != "heat" else replace(found, shown=None)
        usual = most_collector(base.card, base.ordinary(base.feed.weak))
        least = usual * base.card.gain_min / base.card.gain
        because = KEPT_DOWN if self.loop == "output" else "Half on, it turns the start into heat."
        cure = "Take a latch with a MOSFET, or a relay."
        yield from starts_check(site, switch.surge(demand), usual, least, because, cure)
        yield holds_check(
            site,
            self.fed,
            self.held,
            "The PNP feeds the base only as far as the NPN holds the PNP's own base down.",
            card="pnp",
            holder="holder",
            through="back" if self.loop == "output" else "series",
        )
        yield self._sets(site)
        yield self._calm(site)
        cure = "Hold the button longer: what the load's capacitor still has turns it on again."
        yield falls_check(site, self.keeps, empties(site, self.keeps, max(self.r_back, 1e3)), cure)

    def _sets(self, site: Site) -> Check:
        rail, card = site.rail, site.card("card", BipolarCard)
        wanted = site.demand().most(rail.low) / 2
        least = self.pressed(rail.low) * card.gain_min
        return check(
            "sets",
            "A press turns it on",
            "need",
            "turns on",
            unit="A",
            nominal=self.pressed(rail.typical) * card.gain,
            worst=least,
            least=wanted,
            at=low("the weakest transistor"),
            says=f"Pressed, it carries {show(least, 'A')}; half the load's {show(2 * wanted, 'A')} bring the "
            "output far enough down.",
            formula="h_{FE} · I_{B} ≥ I_{load} / 2",
            numbers=f"{card.gain_min:.0f} · {show(self.pressed(rail.low), 'A')} = {show(least, 'A')}",
            because="Until the PNP joins in, the button alone feeds the base.",
            cure=f"Make {site.ref('on')} smaller.",
        )

    def _calm(self, site: Site) -> Check:
        rail = site.rail
        lifted = rail.high * REACH / (REACH + self.c_base)
        return check(
            "calm",
            "Stays off when the supply is plugged in",
            "need",
            "plugged in",
            unit="V",
            nominal=lifted,
            worst=2 * lifted,
            most=OFF_BELOW,
            at=high("the supply comes at once"),
            says=f"The base is lifted by {show(2 * lifted, 'V')}; it turns on from {OFF_BELOW} V.",
            formula="V · C_{cb} / (C_{cb} + C_{base}) ≤ 0.4 V",
            numbers=f"{show(lifted, 'V')}, and as much again for what spreads",
            because="The collector jumps with the supply and takes the base along.",
            cure=f"Make {site.ref('calm')} larger.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        base, rail, pnp = self.drive(site), site.rail, site.card("pnp", BipolarCard)
        card = site.card("card", BipolarCard)
        need = site.demand().most(rail.low) / 2 / card.gain_min + JUNCTION / (self.r_pull or 1e12)
        on = [
            bound(
                "high",
                max(rail.low - JUNCTION, 0.1) / max(need, 1e-9),
                "turns on",
                detail=show(need, "A"),
                guards="sets",
                formula="R ≤ (V − V_{BE}) / I_{B}",
                because="Until the PNP joins in, the button alone feeds the base.",
            )
        ]
        feed = [b.model_copy(update={"value": b.value * self.share}) for b in base.series_bounds()]
        found = [
            window(site, "r_feed", "series", "resistor that feeds the base", feed),
            window(site, "r_on", "on", "on button's resistor", on),
        ]
        if self.loop == "output":
            holds = OVERDRIVE * self.fed(rail.low) / pnp.gain_min + JUNCTION / self.r_upper
            back = [
                bound(
                    "high",
                    max(rail.low - JUNCTION, 0.1) / holds,
                    "holds itself on",
                    detail=show(holds, "A"),
                    guards="holds",
                    formula="R ≤ (V − V_{BE}) / (3 · I_{C} / h_{FE} + V_{BE} / R_{upper})",
                    because="Through it the NPN holds the PNP's base down.",
                )
            ]
            found.append(window(site, "r_back", "back", "resistor from the output", back))
        return tuple(found)

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        choices = (("output", "at the supply"), ("anode", "on a resistor, the load at its base"))
        return {
            "behave": (
                Word(text="One button turns the load on, the other one off; the PNP that holds it lies"),
                say.field("loop", note="the loop", choices=choices),
            )
        }

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        runs, q, holder = site.demand().energised, site.ref("switch"), site.ref("holder")
        off = f"{q} gets nothing" if self.loop == "output" else f"{holder} gets nothing to pass on"
        return (
            StateRow(state="Supply plugged in", load="off", why=f"{site.ref('calm')} holds the base at 0 V"),
            StateRow(state="On pressed", load=runs, why=f"{site.ref('on')} feeds {q}"),
            StateRow(state="Let go", load="stays on", why=f"{holder} feeds {q}, which holds {holder}"),
            StateRow(state="Off pressed", load="off", why=off),
            StateRow(
                state="Both pressed",
                load="off" if self.loop == "output" else "on while on is held",
                why="off lies straight at the base"
                if self.loop == "output"
                else f"{site.ref('on')} still feeds {q}",
            ),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return "Press on and let go, then press off.", "on and stays on, then off"

    def settles(self, site: Site) -> float:
        return SETTLED + 2 * empties(site, self.keeps, max(self.r_back, 1e3))

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        return scenes(site, self.settles(site))

    def plays(self, site: Site) -> tuple[Play, ...]:
        return plays(site, self.settles(site))

    def probes(self, site: Site) -> tuple[Probe, ...]:
        third = "fed" if self.loop == "output" else "anode"
        return (
            Probe(id="base", title="Base to 0 V", red="base strip", signal="base"),
            Probe(id=third, title=f"{third.capitalize()} to 0 V", red=f"{third} strip", signal=third),
            Probe(id="collector", title="Collector to 0 V", red="collector strip", signal="collector"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            Watch(id="collector", title="Collector", unit="V", signal="collector", place=3, peak=True),
            Watch(id="base", title="Base", unit="V", signal="base", place=5),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_npn_latch(pen, site, self.loop == "output")
