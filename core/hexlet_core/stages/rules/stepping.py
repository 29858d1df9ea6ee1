"""Halting what runs by itself, and stepping it by hand: one contact holds its capacitor up through a
resistor, another pulls it down through a smaller one.

Up, the output goes low and its discharge pin pulls against the halting resistor; down, the stepping resistor
pulls against everything else. Between its two levels the timer keeps its state, so that a contact that
bounces makes one step as long as its capacitor does not come from one level to the other meanwhile.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated

from ...fields import Document, Q
from ...quantity import show, show_part
from ..contract.facts import Contact
from ..contract.parts import Placed, resistor
from ..contract.ports import Port
from ..contract.scenes import Act, Scene
from ..contract.site import Site
from ..say.checks import Check, Shown, check, high, when
from ..say.windows import Bound, Window, bound, window
from .trigger import PRESS

LEVEL = 1 / 3  # of the supply, where it goes on; twice that is where it stops
REACHED = 3.0  # time constants until a press has brought the capacitor down


class Haltable(Document):
    """Its two resistors: there where a contact is joined."""

    r_halt: Annotated[float, Q("Ω", 10.0, 1e7)] = 10e3
    r_step: Annotated[float, Q("Ω", 10.0, 1e7)] = 1e3

    def stepping_ports(self) -> tuple[Port, ...]:
        """Where the two contacts join."""
        sides = (("halt", {"com": "halted", "make": "plus"}), ("step", {"com": "stepped", "make": "zero"}))
        return tuple(
            Port(name, "contact", "in", nets, needed=False, form="make", words=f"a contact that {name}s it")
            for name, nets in sides
        )

    def stepping_parts(self, site: Site) -> Iterator[Placed]:
        """A resistor for each contact that is joined."""
        if site.joined("halt"):
            yield resistor(site, "halt", "Halting resistor", "r_halt", "halted", "cap")
        if site.joined("step"):
            yield resistor(site, "step", "Stepping resistor", "r_step", "cap", "stepped")


@dataclass(frozen=True)
class Stepping:
    """What the two resistors pull against: what empties now and at a trimmer's end [Ω], what fills [Ω], the
    capacitor [F].

    `volts` are the supply's. The halting resistor counts where its contact is joined.
    """

    stage: Haltable
    site: Site
    empties: float
    least: float
    fills: float
    farads: float
    volts: float

    @property
    def _up(self) -> float:
        """All that pulls up while the output is high [Ω]."""
        halted = 1 / self.stage.r_halt if self.site.joined("halt") else 0.0
        return 1 / (1 / self.fills + halted)

    def held(self, empties: float, off: float = 0.0) -> float:
        """Where the capacitor stands while it is halted, the two resistors apart by a tolerance [V]."""
        low, high = empties * (1 - off), self.stage.r_halt * (1 + off)
        return self.volts * low / (low + high)

    def pulled(self, off: float = 0.0) -> float:
        """Where it is pulled to while it is stepped [V]."""
        low, high = self.stage.r_step * (1 + off), self._up * (1 - off)
        return self.volts * low / (low + high)

    def checks(self) -> Iterator[Check]:
        """Whether it stays halted, and whether a press makes one step."""
        site, tol = self.site, self.site.tolerance
        level = LEVEL * self.volts
        if site.joined("halt"):
            ref, volts = site.ref("halt"), self.held(self.empties)
            yield check(
                "halt_holds",
                "Halted, it stands still",
                "need",
                "level",
                unit="V",
                nominal=volts,
                worst=self.held(self.least, tol),
                least=level,
                at=when("the discharge resistor small, the halting one large"),
                says=f"Held at {show(volts, 'V')}; under {show(level, 'V')} it goes on.",
                formula="V × R_{B} / (R_{B} + R_{halt}) ≥ V / 3",
                numbers=f"{show(volts, 'V')} ≥ {show(level, 'V')}",
                because="Once the output is low, the discharge pin pulls the capacitor down against it.",
                cure=f"Make {ref} smaller, or keep the discharge resistor larger at the trimmer's end.",
                shown=Shown("cap", "halted", within=0.05),
            )
        if not site.joined("step"):
            return
        ref, volts = site.ref("step"), self.pulled()
        yield check(
            "step_reaches",
            "Haltable, it goes high",
            "need",
            "level",
            unit="V",
            nominal=volts,
            worst=self.pulled(tol),
            most=level,
            at=when("the stepping resistor large, all others small"),
            says=f"Pulled down to {show(volts, 'V')}; it goes high under {show(level, 'V')}.",
            formula="V × R_{step} / (R_{step} + R_{up}) ≤ V / 3",
            numbers=f"{show_part(self.stage.r_step)} against {show(self._up, 'Ω')}: {show(volts, 'V')}",
            because="All that fills the capacitor pulls against the stepping resistor.",
            cure=f"Make {ref} smaller.",
            shown=Shown("cap", "stepped", within=0.05) if site.joined("halt") else None,
        )
        yield from self._step_checks(ref)

    def _step_checks(self, ref: str) -> Iterator[Check]:
        contact = self.site.told("step", Contact)
        amps = self.volts / self.stage.r_step
        if contact is not None:
            yield check(
                "step_surge",
                "Contact onto the capacitor",
                "limit",
                "surge",
                unit="A",
                nominal=amps,
                most=contact.most,
                at=high("the capacitor full"),
                says=f"{show(amps, 'A')} of {show(contact.most, 'A')} for the {contact.name}.",
                formula="I = V / R_{step}",
                numbers=f"{show(self.volts, 'V')} / {show_part(self.stage.r_step)} = {show(amps, 'A')}",
                because="A contact straight onto a charged capacitor pits.",
                cure=f"Make {ref} larger.",
            )
            again = self._up * self.farads * math.log(2)
            yield check(
                "step_once",
                "One step a press",
                "practice",
                "time",
                unit="s",
                nominal=again,
                least=contact.bounce,
                at=when("a contact that bounces"),
                says=f"It takes {show(again, 's')} from level to level; the contact bounces "
                f"{show(contact.bounce, 's')}.",
                formula="R_{up} × C × ln 2 ≥ t_{bounce}",
                numbers=f"{show(self._up, 'Ω')} × {show(self.farads, 'F')} × 0.693 = {show(again, 's')}",
                because="Between its two levels the timer keeps its state: only what comes from one to the "
                "other counts a bounce.",
                cure="Take a larger capacitor, or a larger halting resistor.",
            )
        down = REACHED * self.stage.r_step * self.farads
        yield check(
            "step_quick",
            "Down within a press",
            "practice",
            "time",
            unit="s",
            nominal=down,
            most=PRESS,
            at=when("an ordinary press"),
            says=f"Down after {show(down, 's')}; a press lasts {show(PRESS, 's')}.",
            formula="3 × R_{step} × C ≤ t_{press}",
            numbers=f"3 × {show_part(self.stage.r_step)} × {show(self.farads, 'F')} = {show(down, 's')}",
            because="A press that is over before makes no step.",
            cure=f"Make {ref} smaller.",
        )

    def windows(self) -> Iterator[Window]:
        """The windows of the two resistors."""
        if self.site.joined("halt"):
            yield window(self.site, "r_halt", "halt", "halting resistor", [self._halting()])
        if self.site.joined("step"):
            yield window(self.site, "r_step", "step", "stepping resistor", list(self._stepping()))

    def _halting(self) -> Bound:
        return bound(
            "high",
            2 * self.least * (1 - self.site.tolerance) / (1 + self.site.tolerance),
            "stands still",
            detail=show(LEVEL * self.volts, "V"),
            guards="halt_holds",
            formula="R_{halt} ≤ 2 × R_{B}",
            because="Larger, and the discharge pin pulls the capacitor to where it goes on.",
        )

    def _stepping(self) -> Iterator[Bound]:
        yield bound(
            "high",
            self._up / 2 * (1 - self.site.tolerance) / (1 + self.site.tolerance),
            "goes high",
            detail=show(LEVEL * self.volts, "V"),
            guards="step_reaches",
            formula="R_{step} ≤ R_{up} / 2",
            because="Larger, and what fills the capacitor keeps it up.",
        )
        yield bound(
            "high",
            PRESS / REACHED / self.farads,
            "down within a press",
            detail=show(PRESS, "s"),
            guards="step_quick",
            formula="R_{step} ≤ t_{press} / (3 × C)",
            because="Larger, and a press is over before the capacitor is down.",
            soft=True,
        )

    def scenes(self, settled: float) -> Iterator[Scene]:
        """Halted, and stepped while it is halted; `settled` is how long both take [s]."""
        halts = [Act(block, "active") for block, _ in self.site.joined("halt")]
        steps = [Act(block, "active", settled) for block, _ in self.site.joined("step")]
        if halts:
            yield Scene("halted", "while it is halted", tuple(halts), look=settled, cold=True)
        if halts and steps:
            yield Scene("stepped", "while it is stepped", (*halts, *steps), look=4 * settled, cold=True)
