"""The pins of a 555 that are easily forgotten: reset, control, and the capacitor at its supply.

Fields, parts, words and checks are alike in all kinds that are built on one: they take `TimerPins` in.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from ...cards.card import TimerCard
from ...fields import Document, Q
from ...quantity import show
from ..contract.parts import Placed, capacitor
from ..contract.site import Site
from ..say.checks import Change, Check, check, holds, when
from ..say.wording import Say, Sentence, Word

EDGE = 2e-7  # how long both halves of an output stage conduct at once [s]
DIPS = 0.1  # of the supply, what such an edge may take from it at the chip
QUIET = 1e-9  # at the control pin, against what couples in [F]


class CalmedTimer(Document):
    """A 555 with a capacitor at its control pin and one at its supply, if they were not forgotten."""

    control: Literal["calmed", "open"] = "calmed"
    c_control: Annotated[float, Q("F", 1e-11, 1e-5)] = 10e-9
    decoupling: Literal["fitted", "none"] = "fitted"
    c_supply: Annotated[float, Q("F", 1e-10, 1e-2)] = 100e-9

    @property
    def at_control(self) -> float:
        """What hangs at the control pin [F]."""
        return self.c_control if self.control == "calmed" else 0.0

    def calmed(self, site: Site, supply: str = "Capacitor at the timer's supply") -> Iterator[Placed]:
        """Its two small capacitors."""
        if self.control == "calmed":
            yield capacitor(site, "control", "Control pin's capacitor", "c_control", "ctrl", "zero")
        if self.decoupling == "fitted":
            yield capacitor(site, "supply", supply, "c_supply", "plus", "zero")

    def calm_words(self, say: Say) -> Sentence:
        """The two as words with fields."""
        control = (("calmed", "with its capacitor"), ("open", "left open"))
        supply = (("fitted", "with its capacitor"), ("none", "with none"))
        return (
            Word(text="Control pin"),
            say.field("control", note="control pin", choices=control),
            Word(text="supply"),
            say.field("decoupling", note="at the chip", choices=supply),
        )

    def calm_checks(self, site: Site) -> Iterator[Check]:
        """Whether the two capacitors are there, and large enough."""
        card, rail = site.card("card", TimerCard), site.rail
        u, c = site.ref("timer"), site.ref("supply")
        need = card.spike * EDGE / (DIPS * rail.typical)
        has = self.c_supply if self.decoupling == "fitted" else 0.0
        yield check(
            "decoupled",
            "Capacitor at the chip's supply",
            "practice",
            "place",
            unit="F",
            nominal=has,
            least=max(need, QUIET),
            at=when("an edge of its output"),
            says=(
                f"{c} gives {u} what it takes at an edge."
                if has
                else f"Nothing near {u} holds its supply at an edge."
            ),
            formula="C ≥ I_{spike} × t_{edge} / (V / 10)",
            numbers=f"{show(has, 'F')} ≥ {show(max(need, QUIET), 'F')}",
            because="Both halves of its output conduct for a moment; over long wires the supply dips, and it "
            "starts or forgets by itself.",
            facet="guard",
            cure=f"Fit 100 nF straight across pins 1 and 8 of {u}.",
            changes=(
                Change(path=site.path("decoupling"), value="fitted"),
                Change(path=site.path("c_supply"), value=max(100e-9, 2 * need)),
            ),
        )
        yield check(
            "control_quiet",
            "Control pin kept quiet",
            "practice",
            "place",
            unit="F",
            nominal=self.at_control,
            least=QUIET,
            at=when("something that switches nearby"),
            says=(
                f"{site.ref('control')} keeps its levels still."
                if self.at_control
                else f"Pin 5 of {u} is open: what couples in moves both of its levels."
            ),
            formula="C_{control} ≥ 1 nF",
            numbers=f"{show(self.at_control, 'F')} ≥ {show(QUIET, 'F')}",
            because="Both comparators hang on that pin, behind some kilohms.",
            facet="guard",
            cure="Fit 10 nF from the control pin to 0 V.",
            changes=(
                Change(path=site.path("control"), value="calmed"),
                Change(path=site.path("c_control"), value=10e-9),
            ),
        )


class TimerPins(CalmedTimer):
    """The same, with a reset pin that nothing uses."""

    reset: Literal["tied", "open"] = "tied"

    def timer_legs(self, **more: str) -> dict[str, str]:
        """Its legs' nets: both comparators on the timing capacitor, the reset pin tied or open."""
        reset = "plus" if self.reset == "tied" else "reset"
        usual = {"vcc": "plus", "gnd": "zero", "trig": "cap", "thr": "cap", "ctrl": "ctrl", "reset": reset}
        return usual | more

    def pin_words(self, say: Say) -> Sentence:
        """All three as words with fields."""
        reset = (("tied", "tied to plus"), ("open", "left open"))
        return (
            Word(text="Reset"),
            say.field("reset", note="reset pin", choices=reset),
            *self.calm_words(say),
        )

    def pin_checks(self, site: Site) -> Iterator[Check]:
        """Whether the reset pin has a level, and the two capacitors are there."""
        u = site.ref("timer")
        yield holds(
            "reset_tied",
            "Reset pin has a level",
            "practice",
            "place",
            self.reset == "tied",
            at=when("a hand nearby"),
            says=(
                f"Pin 4 of {u} is tied to plus."
                if self.reset == "tied"
                else f"Pin 4 of {u} is open: it reads high until something couples in."
            ),
            formula="pin 4 → plus",
            numbers=self.reset,
            because="A reset pin acts at some 0.7 V; an open one lets a hand or a spark end the time.",
            facet="guard",
            cure=f"Tie pin 4 of {u} to its supply.",
            changes=(Change(path=site.path("reset"), value="tied"),),
        )
        yield from self.calm_checks(site)
