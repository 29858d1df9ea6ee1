"""Soft power latch: one button turns the load on and off, and off it takes nothing to speak of.

A P-MOSFET switches. Its NPN holds its gate down as long as that NPN's base is fed: by a pilot PNP that the
same NPN holds down, so that the loop closes at the gate and what the load does to its own volts does not
matter; or straight from the load's line, with fewer parts, where the load has no capacitor to speak of.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import FieldEffectCard, NpnCard, PMosfetCard, PnpCard
from ...cards.points import jump_charge
from ...fields import Q
from ...quantity import show, show_part
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.site import Site
from ..drawing.latches import draw_soft_latch
from ..drawing.pen import Pen
from ..rules.held import JUNCTION, OFF_BELOW, holds_check, pulled_charge
from ..say.checks import Check, check, high
from ..say.wording import Say, Sentence, Word
from .latched import Latched
from .memorised import Memorised


class SoftLatch(Memorised, Latched):
    title = "Soft power latch"
    purpose = "One press turns the load on, the next turns it off; off, it takes next to nothing."
    choose = "A small button shall switch a battery load, and nothing may drain the battery while it is off."
    avoid = "Several buttons in far places, or it must come back on by itself after the supply failed."
    picture = "latch"
    controls = ("gate", "hold")
    cards = {"card": PMosfetCard, "npn": NpnCard, "pilot": PnpCard}

    kind: Literal["soft_latch"] = "soft_latch"
    loop: Literal["pilot", "load"] = "pilot"
    pilot: str = "pnp-40v-200ma"
    r_pull: Annotated[float, Q("Ω", 1e3, 1e7)] = 15e3
    c_gate: Annotated[float, Q("F", 1e-11, 1e-6)] = 33e-9
    r_hold: Annotated[float, Q("Ω", 1e2, 1e7)] = 47e3
    c_base: Annotated[float, Q("F", 1e-12, 1e-5)] = 47e-9
    r_pilot: Annotated[float, Q("Ω", 1e3, 1e7)] = 100e3

    @property
    def summary(self) -> str:
        return f"Soft latch, {show_part(self.r_hold)} Ω" + (", from the load" if self.over_load else "")

    @property
    def over_load(self) -> bool:
        return self.loop == "load"

    @property
    def held_from(self) -> str:
        return "drain" if self.over_load else "fed"

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield from super().make(site)
        if not self.over_load:
            yield from_card(site, "pilot", "Q", "pilot", {"c": "fed", "b": "pilot", "e": "plus"})
            yield resistor(site, "pilot_base", "Pilot's base resistor", "r_pilot", "pilot", "pulled")
        yield resistor(site, "series", "Gate resistor", "r_gate", "gate", "pulled")
        yield resistor(site, "pull", "Gate pull-up", "r_pull", "plus", "gate")
        yield capacitor(site, "gate", "Gate capacitor", "c_gate", "plus", "gate")
        yield from_card(site, "switch", "Q", "card", {"g": "gate", "d": "drain", "s": "plus"})

    # --- its loop -----------------------------------------------------------------------------------
    def pulled(self, volts: float) -> float:
        """What the pulling NPN must carry [A]: the gate's pull-up and the pilot's base."""
        pilot = 0.0 if self.over_load else max(volts - JUNCTION, 0.0) / self.r_pilot
        return volts / (self.r_pull + self.r_gate) + pilot

    def beside(self, volts: float) -> float:
        return volts / self.r_hold if self.over_load else 0.0

    def letting_go(self, site: Site) -> float:
        card = site.card("card", FieldEffectCard)
        ends = card.threshold_min if self.over_load else OFF_BELOW  # the pilot lets go last
        charge = self.r_pull * (card.c_iss + self.c_gate)
        return charge * math.log(max(site.rail.high / ends, 1.0)) + self.r_base * self.c_base

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        feeds = "The output" if self.over_load else site.ref("pilot")
        q, r = site.ref("puller"), site.ref("hold")
        because = f"{feeds} feeds {q} through {r}; the pull-down and the other base take their share."
        yield from self.switch_checks(site)
        yield holds_check(site, self.pulled, self.held, because)
        yield self.plugged_check(site) if self.over_load else self._pilot_rests(site)
        yield from self.memory_checks(site)

    def _pilot_rests(self, site: Site) -> Check:
        """Whether the pilot, which begins before the switch does, is off again before the bases follow."""
        rail, card = site.rail, site.card("card", FieldEffectCard)
        across = card.c_iss - card.c_rss + self.c_gate
        switched, pulls = jump_charge(card, rail.high), pulled_charge(site, rail.high)

        def rises(charge: float) -> float:
            lag = charge / across
            lasts = self.r_pull * across * math.log(max(lag / OFF_BELOW, 1.0))
            return rail.high * -math.expm1(-lasts / (self.r_hold * self.c_base))

        worst, lag = rises(switched + pulls), show((switched + pulls) / across, "V")
        return check(
            "plugged",
            "Stays off when the supply is plugged in",
            "need",
            "plugged in",
            unit="V",
            nominal=rises(switched + pulls / 2),
            worst=worst,
            most=OFF_BELOW,
            at=high("the supply comes at once, hot transistors"),
            says=f"The gate lags the supply by up to {lag}: the pilot lifts the bases to {show(worst, 'V')}; "
            f"they begin at {OFF_BELOW} V.",
            formula="t = R_{pull} · C · ln(Q / C / 0.4 V); V · (1 − exp(−t / (R_{hold} · C_{base}))) ≤ 0.4 V",
            numbers=f"{show(switched + pulls, 'C')} over {show(across, 'F')}: {show(worst, 'V')}",
            because="A pilot that conducts for a moment holds what it begins, once the bases have followed.",
            cure=f"Make {site.ref('gate')} larger.",
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        choices = (("pilot", "by a pilot at its gate"), ("load", "from its own output"))
        held = (Word(text="; it is held"), say.field("loop", note="the loop", choices=choices))
        return {"behave": (*super().givens(say, site, fed)["behave"], *held)}

    def draw(self, pen: Pen, site: Site) -> None:
        draw_soft_latch(pen, site, "p_mosfet", ("g", "d", "s"))
