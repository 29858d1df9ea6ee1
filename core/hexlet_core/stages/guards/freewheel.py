"""Freewheel path of a coil: none, a diode, a Schottky, a diode and a zener, a resistor and a capacitor, or
the diode that a relay brings with it.

When the switch opens, the coil's current goes on. A plain diode holds the coil at about −0.8 V, so the
current dies slowly; a zener in series lets the voltage rise and the current die fast, at the price of a
higher peak on the switch; a resistor and capacitor let it ring out. `rules.kick` has the times and peaks.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from functools import lru_cache
from typing import Annotated, Any, Literal

import numpy as np

from ...cards.card import CapacitorCard, DiodeCard, ZenerCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import Step, Way
from ..contract.facts import Demand, Kick, Switch
from ..contract.parts import Placed, from_card, resistor
from ..contract.site import Site
from ..contract.stage import InLine
from ..drawing.pen import HEIGHT, HIGH_Y, OUTPUT_Y, Pen
from ..rules.kick import lasts
from ..rules.supplied import settled, supplied
from ..say.checks import Change, Check, Shown, Sort, check, high, when
from ..say.wording import Say, Sentence, Word

School = Literal["none", "diode", "schottky", "diode_zener", "rc", "inside"]
SCHOOLS: dict[School, str] = {
    "none": "None",
    "diode": "Plain diode",
    "schottky": "Schottky",
    "diode_zener": "Diode + zener",
    "rc": "RC across it",
    "inside": "In the relay",
}

TRIED = 2.0  # at which a relay's own diode is found, well under what pulls the coil in [V]
OFFERED = ("diode", "schottky", "diode_zener", "rc")  # what a builder can fit


@lru_cache(256)
def ringing(
    current: float, until: float, *, coil: float, henries: float, damper: float, farads: float
) -> tuple[float, float]:
    """R and C across a coil that carried a current [A]: the peak above the supply [V], and how long that
    current stays over `until` [s].

    L·q'' + (R + R_s)·q' + q/C = 0 from q = 0, q' = I, solved in closed form; the coil's volts are
    R_s·q' + q/C.
    """
    total = coil + damper
    a = total / (2 * henries)
    root = np.sqrt(complex(a * a - 1 / (henries * farads)))
    s1, s2 = -a + root, -a - root
    longest = 12 * max(2 * henries / total, total * farads)
    t = np.concatenate([[0.0], np.geomspace(1e-7, longest, 6000)])
    i = np.real(current * (s1 * np.exp(s1 * t) - s2 * np.exp(s2 * t)) / (s1 - s2))
    q = np.real(current * (np.exp(s1 * t) - np.exp(s2 * t)) / (s1 - s2))
    above = np.flatnonzero(np.abs(i) > until)
    return float(np.max(damper * i + q / farads)), float(t[above[-1]]) if len(above) else 0.0


class Freewheel(InLine):
    title = "Freewheel"
    idle = (
        "This load stores no energy worth speaking of: when the switch opens, the current just stops. Long "
        "leads and motors are another matter."
    )
    purpose = "A path for the coil's current when the switch opens."
    choose = "Any coil, motor or solenoid."
    avoid = "Nothing in the load stores energy."
    picture = "diode"
    cards = {"diode": DiodeCard, "schottky": DiodeCard, "zener": ZenerCard, "capacitor": CapacitorCard}

    kind: Literal["freewheel"] = "freewheel"
    school: School = "diode"
    diode: str = "diode-1a-100v"
    schottky: str = "schottky-1a-40v"
    zener: str = "zener-15v"
    capacitor: str = "film-100n-100v"
    r_damper: Annotated[float, Q("Ω", 1.0, 1e5)] = 100.0
    turned: bool = False  # the diode the wrong way round, as it may have been fitted
    release_within: Annotated[float, Q("s", 1e-4, 10.0)] = 12e-3

    @property
    def summary(self) -> str:
        return SCHOOLS[self.school]

    @property
    def _field(self) -> str:
        """The field with the diode's card."""
        return "schottky" if self.school == "schottky" else "diode"

    def make(self, site: Site) -> Iterable[Placed]:
        # The load's upper end is always the more positive one: the band points there.
        if self.school == "none":
            return
        if self.school == "rc":
            card = site.card("capacitor", CapacitorCard)
            yield resistor(site, "damper", "Damping resistor", "r_damper", "top", "damped")
            legs = {"a": "damped", "b": "bottom"}
            yield from_card(site, "store", "C", "capacitor", legs, mark=show_part(card.value))
            return
        zener = self.school == "diode_zener"
        upper = "middle" if zener else "top"
        ends = (upper, "bottom") if self.turned else ("bottom", upper)
        amps = show(site.card(self._field, DiodeCard).current, "A")
        legs = {"a": ends[0], "k": ends[1]}
        placed = from_card(site, "diode", "D", self._field, legs, mark=amps)
        inside = self.school == "inside"  # it is bought and built in with the relay
        yield placed.at(title="Diode in the relay", on_board=False, listed=False) if inside else placed
        if zener:
            volts = show(site.card("zener", ZenerCard).voltage, "V")
            yield from_card(site, "zener", "Z", "zener", {"a": "top", "k": "middle"}, mark=volts)

    def ways(self, site: Site) -> tuple[Way, ...]:
        cards = {
            "none": "",
            "diode": self.diode,
            "schottky": self.schottky,
            "diode_zener": self.zener,
            "rc": self.capacitor,
            "inside": "",
        }
        return tuple(
            Way("school", school, title, cards[school], school not in ("rc", "inside"), school in OFFERED)
            for school, title in SCHOOLS.items()
        )

    def through(self, port: str, fact: Any, site: Site) -> Any:
        if port == "load" and isinstance(fact, Demand) and self.school != "none":
            return replace(fact, kick=self._kick(site))
        return fact

    def _kick(self, site: Site) -> Kick:
        """How far the path lets the switch rise above the supply [V], at a current, resistance and
        inductance.
        """
        if self.school == "rc":
            return Kick(
                lambda i, r, ell: self._ring(site, i, r, ell)[0],
                lambda i, r, ell: self._ring(site, i, r, ell)[0],
            )
        diode = site.card(self._field, DiodeCard)
        zener = site.card("zener", ZenerCard) if self.school == "diode_zener" else None

        def above(amps: float, extreme: bool) -> float:
            v = diode.volts_near(amps) * (1.1 if extreme else 1.0)
            if zener is None:
                return v
            over = max(amps / zener.test_current, 1.0)
            slope = zener.impedance * zener.test_current * math.log(over)
            return v + zener.voltage * (1 + zener.tolerance * extreme) + slope

        return Kick(lambda i, r, ell: above(i, False), lambda i, r, ell: above(i, True))

    def _ring(self, site: Site, current: float, r: float, ell: float) -> tuple[float, float]:
        """Peak above the supply [V] and time until the current stays under a hundredth [s], R and C across
        the coil.
        """
        return self._ringing(site, current, r, ell, 0.01 * current)

    def _ringing(self, site: Site, current: float, r: float, ell: float, until: float) -> tuple[float, float]:
        farads = site.card("capacitor", CapacitorCard).value
        return ringing(current, until, coil=r, henries=ell, damper=self.r_damper, farads=farads)

    def release(self, site: Site, cold: bool) -> float:
        """From the switch opening until the last of the loads lets go [s]."""
        got = supplied(site.switch, site.demand())
        supply = max(got.highest if cold else got.high, 1e-3)
        return max(self._lets_go(site, load, supply, cold) for load in site.demand().wound)

    def _lets_go(self, site: Site, demand: Demand, supply: float, cold: bool) -> float:
        """From the switch opening until one load lets go that got `supply` [V], [s]."""
        switch, rail, winding = site.switch, site.rail, demand.winding
        assert winding is not None
        current = demand.most(supply) if cold else demand.amps(supply)
        ohms = supply / current
        if self.school == "rc":
            until = max(winding.drop_out, 0.01 * current)
            return self._ringing(site, current, ohms, winding.henries, until)[1] + winding.travel
        volts = max(switch.breakdown - rail.high, 0.1)
        if self.school != "none":
            typical = demand.amps(supply)
            volts = self._kick(site).volts(typical, supply / typical, winding.henries)
        return lasts(supply, ohms, demand, volts * (0.95 if cold else 1.0))

    def checks(self, site: Site) -> Iterator[Check]:
        demand, switch, rail = site.demand(), site.switch, site.rail
        if rail.ac and self.school in ("diode", "schottky", "inside"):
            yield self._alternating(site)
            return
        if demand.winding is None:
            return
        if not switch.slow:
            yield self._release_check(site, demand, switch)
        if self.school == "none":
            return
        if self.school == "rc":
            yield self._store_check(site, demand)
            return
        if self.turned:
            yield self._turned_check(site)
        card, coils = site.card(self._field, DiodeCard), demand.wound
        current = sum(load.most(rail.high) for load in coils)
        usual = sum(load.amps(settled(switch, demand, rail.high).volts) for load in coils)
        numbers = f"= {rail.high:.3g} / {show(rail.high / current, 'Ω')} = {show(current, 'A')}"
        rungs: tuple[tuple[Sort, str, str, float, str, str], ...] = (
            (
                "limit",
                "freewheel_current",
                "Freewheel diode current",
                card.surge,
                f"{show(current, 'A')} of {show(card.surge, 'A')}, for a moment each time it lets go.",
                "The coil's current goes on through the diode from the first moment, and dies away.",
            ),
            (
                "practice",
                "freewheel_often",
                "Freewheel diode, often",
                card.current,
                f"{show(current, 'A')} of {show(card.current, 'A')} that it carries for good.",
                "Switched many times a second, the diode carries nearly all of the coil's current.",
            ),
        )
        for sort, id, title, most, says, because in () if switch.slow else rungs:
            yield check(
                id,
                title,
                sort,
                "current",
                unit="A",
                nominal=usual,
                worst=current,
                most=most,
                at=high("coil cold"),
                says=says,
                formula="I_{D} = V_{high} / R_{cold}",
                numbers=numbers,
                because=because,
                cure="Pick a diode for more current.",
                shown=None
                if rail.signal
                or demand.branches
                or switch.eases(demand)  # a pin's edge drives more; another load takes some
                else Shown(
                    "i(diode.a)",
                    self._opened(switch),
                    "highest",
                    look=self._look(site),
                    within=0.2,
                    because="a slow switch lets some of it decay, and small capacitances add to a small one",
                ),
            )
        stands = 1.5 * rail.high
        yield check(
            "freewheel_reverse",
            "Freewheel diode reverse",
            "limit",
            "volts",
            unit="V",
            nominal=stands,
            most=card.reverse,
            at=high("spikes included"),
            says=f"Wants {show(stands, 'V')}, rated {show(card.reverse, 'V')}.",
            formula="V_{R} ≥ 1.5 · V_{high}",
            numbers=f"= 1.5 · {rail.high:.3g} = {show(stands, 'V')}",
            because="While the coil is on, the diode holds off the whole supply, spikes included.",
            cure="Pick a diode for more reverse voltage.",
        )

    @staticmethod
    def _opened(switch: Switch) -> str:
        """The scene in which the switch has just opened."""
        return "ended" if switch.active else "begun"

    def _look(self, site: Site) -> float:
        """How long after the command all is over, a relay's contact as the switch counted in [s]."""
        return 3 * self.release(site, False) + 0.05

    def _release_check(self, site: Site, demand: Demand, switch: Switch) -> Check:
        nominal, worst = self.release(site, False), self.release(site, True)
        winding, supply = demand.winding, site.rail.high
        assert winding is not None
        ohms = supply / demand.amps(supply)
        path = (
            self._kick(site).volts(demand.amps(supply), ohms, winding.henries)
            if self.school != "none"
            else max(switch.breakdown - supply, 0.1)
        )
        shown = Shown(
            "i(diode.a)",
            self._opened(switch),
            "delay",
            look=self._look(site),
            level=max(winding.drop_out, 1e-3 * supply / ohms),
            edge="fall",
            since=("v(top,bottom)", -0.8 * path, "fall"),
            plus=winding.travel,
            within=0.05,
            because="what lies in line with the coil lowers its current a little",
        )
        # Another load, or a signal that pulls low, takes some of the current that is looked at.
        alone = not demand.branches and not site.switch.rail.signal
        ratio = (supply + path) / (winding.drop_out * ohms + path)
        until = (
            "coil cold, released by its must-release voltage"
            if winding.drop_out > 0
            else "until no current is left"
        )
        return check(
            "release",
            "Release time",
            "wish",
            "time",
            unit="s",
            nominal=nominal,
            worst=worst,
            most=self.release_within,
            at=high(until),
            says=f"{show(worst, 's')}, you asked for under {show(self.release_within, 's')}.",
            formula="t = L/R · ln((V + V_{F}) / (V_{drop} + V_{F})) + travel",
            numbers=(
                f"= {show(winding.henries / ohms, 's')} · ln({ratio:.3g}) + {show(winding.travel, 's')} = "
                f"{show(nominal, 's')}, coldest {show(worst, 's')}"
            ),
            because=(
                f"The path holds only {show(path, 'V')} against the {demand.name}. More volts there empty it "
                "sooner."
            ),
            cure="Add a zener in the freewheel path, if the switch's breakdown leaves room.",
            shown=shown if self.school not in ("none", "rc") and winding.drop_out > 0 and alone else None,
            wish="release_within",
        )

    def _alternating(self, site: Site) -> Check:
        crest = site.rail.high * math.sqrt(2)
        return check(
            "freewheel_ac",
            "Diode on alternating current",
            "limit",
            "place",
            unit="V",
            nominal=crest,
            most=0.5,
            at=when("every second half wave"),
            says=f"Every second half wave, {show(crest, 'V')} drive current through it past the load.",
            formula="V_{forward} ≤ 0.5 V",
            numbers=f"√2 · {site.rail.high:.3g} = {show(crest, 'V')}",
            because=(
                "A freewheel diode is for direct current: on AC it conducts by itself and shorts the load's "
                "half waves."
            ),
            cure="Take it out, or use a resistor and capacitor.",
            changes=(Change(path=site.path("school"), value="rc"),),
        )

    def _turned_check(self, site: Site) -> Check:
        rail, card = site.rail, site.card(self._field, DiodeCard)
        shorts = rail.high / max(rail.resistance + 0.05, 1e-3)
        return check(
            "freewheel_way",
            "Freewheel diode the right way round",
            "limit",
            "place",
            unit="A",
            nominal=shorts,
            most=card.surge,
            at=when("switch on"),
            says=f"Turned round, it shorts the supply through the switch: {show(shorts, 'A')}.",
            formula="I = (V − V_{F}) / R_{supply}",
            numbers=f"= {rail.high:.3g} / {show(rail.resistance + 0.05, 'Ω')}",
            because="Its band belongs to the positive side: then it blocks while the coil is on.",
            cure="Turn it round: band to the positive side.",
            changes=(Change(path=site.path("turned"), value=False),),
        )

    def _store_check(self, site: Site, demand: Demand) -> Check:
        card, supply, winding = site.card("capacitor", CapacitorCard), site.rail.high, demand.winding
        assert winding is not None
        current = demand.most(supply)
        volts = self._kick(site).worst(current, supply / current, winding.henries)
        return check(
            "freewheel_store",
            "Volts across the capacitor",
            "limit",
            "volts",
            unit="V",
            nominal=volts,
            most=card.voltage,
            at=high("coil cold"),
            says=f"{show(volts, 'V')} of {show(card.voltage, 'V')}.",
            formula="½·L·I^2 → ½·C·V^2",
            numbers=f"{show(card.value, 'F')} behind {show(self.r_damper, 'Ω')}: {show(volts, 'V')}",
            because="The coil's energy goes into the capacitor before the resistors burn it.",
            cure="Take a bigger capacitor, or one for more volts.",
        )

    def steps(self, site: Site) -> tuple[Step, ...]:
        if self.school != "inside":
            return ()
        limit = show(2 * site.demand().amps(TRIED), "A")
        return (
            Step(
                id="polarity",
                action="check",
                title="Which coil pin is +",
                detail=(
                    f"Look for a + at the coil's pins. Else, relay taken out: {show(TRIED, 'V')} from "
                    f"a bench supply limited to {limit} across the coil. The right way round they stand; the "
                    "wrong way round the diode holds them at 0.7 V."
                ),
                expect=f"{show(TRIED, 'V')}, not 0.7 V",
            ),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        demand = site.demand()
        if demand.winding is None:
            return {}
        name = demand.name
        gone = (
            f"the {name} lets go within"
            if demand.winding.drop_out > 0
            else f"the {name}'s current is gone within"
        )
        what = "the contact opens within" if name == "coil" else gone
        wanted = say.field("release_within", origin="wanted")
        return {"guard": (Word(text=f"When the switch opens, {what}"), wanted)}

    def draw(self, pen: Pen, site: Site) -> None:
        if self.school == "none":
            pen.x = pen.x + 2.5
            return
        x, low = pen.x + 4.2, site.side == "low"
        level = OUTPUT_Y if low else HIGH_Y
        if self.school == "rc":
            self._draw_ring(pen, site, x + 6.0, level, low)
        else:
            self._draw_diodes(pen, site, x, *((0.0, OUTPUT_Y) if low else (HIGH_Y, HEIGHT)))
        pen.wire(pen.output, (x, level), load=True, part=site.onward())
        pen.output, pen.x = (x, level), x + (9.0 if self.school == "rc" else 3.0)

    def _draw_ring(self, pen: Pen, site: Site, x: float, level: float, low: bool) -> None:
        """Resistor at the load's upper end, capacitor at its lower end."""
        r, c = site.ref("damper"), site.ref("store")
        if low:  # the upper end is the rail, the lower one the output
            a = pen.part(site, "damper", "resistor", x, level - 5.5)
            b = pen.part(site, "store", "capacitor", x - 3.0, level - 2.5, turn=90, side="above")
            pen.wire((x, 0.0), a["a"], part=r)
            pen.wire(b["b"], (x - 6.0, level), part=c)
            return
        a = pen.part(site, "damper", "resistor", x - 3.0, level + 2.5, turn=270, side="below")
        b = pen.part(site, "store", "capacitor", x, level + 6.0)
        pen.wire((x - 6.0, level), (x - 6.0, level + 2.5), a["a"], part=r)
        pen.wire(a["b"], (x, level + 2.5), b["a"], part=r)
        pen.wire(b["b"], (x, HEIGHT), part=c)

    def _draw_diodes(self, pen: Pen, site: Site, x: float, top: float, bottom: float) -> None:
        """A diode in a column, with a zener above it where there is one."""
        d, end, y = site.ref("diode"), (x, top), (top + bottom) / 2
        if self.school == "diode_zener":  # cathode to cathode
            y = top + 7.0
            up = pen.part(site, "zener", "zener", x, top + 2.4, turn=180, side="left")
            pen.wire(end, up["a"], part=site.ref("zener"))
            end = up["k"]
        symbol = "schottky" if self.school == "schottky" else "diode"
        at = pen.part(site, "diode", symbol, x, y, turn=180 if self.turned else 0, side="left")
        upper, lower = ("a", "k") if self.turned else ("k", "a")
        pen.wire(at[upper], end, part=d)
        pen.wire(at[lower], (x, bottom), part=d)
