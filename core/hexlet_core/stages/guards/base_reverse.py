"""Base-emitter diode: it keeps a negative swing from breaking the base's junction down."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import DiodeCard
from ...fields import Q
from ...quantity import show
from ..contract.parts import Placed, from_card
from ..contract.site import Site
from ..contract.stage import AtControl
from ..drawing.pen import Pen
from ..say.checks import Check, check, when
from ..say.wording import Say, Sentence, Word
from .at_control import draw_control, ends

SWING_LEFT = 0.7  # what a diode across the junction leaves of a negative swing [V]


class BaseReverse(AtControl):
    title = "Base-emitter diode"
    purpose = "A diode against the base's junction keeps a negative swing from breaking it down."
    choose = "A capacitor couples into the base: timing stages swing it far below its emitter."
    avoid = "Nothing drives the base beyond its rail."
    picture = "diode"
    belongs = "base"
    cards = {"diode": DiodeCard}

    kind: Literal["base_reverse"] = "base_reverse"
    diode: str = "diode-200ma-100v"
    swing: Annotated[float, Q("V", 0.0, 400.0)] = 11.0

    @property
    def summary(self) -> str:
        return "Fitted"

    def make(self, site: Site) -> Iterable[Placed]:
        yield from_card(site, "diode", "D", "diode", ends(site), mark="")

    def checks(self, site: Site) -> Iterator[Check]:
        limit = site.control.reverse
        if limit is None:
            return
        left = min(self.swing, SWING_LEFT)
        yield check(
            "base_reverse",
            "Base's reverse voltage",
            "limit",
            "volts",
            unit="V",
            nominal=left,
            most=limit,
            at=when("the full swing"),
            says=(
                f"{show(self.swing, 'V')} are cut to {show(left, 'V')}; the junction breaks at "
                f"{show(limit, 'V')}."
            ),
            formula="V_{EB} ≤ V_{EBO}",
            numbers=f"{show(left, 'V')} ≤ {show(limit, 'V')}",
            because="A base driven below its emitter breaks down at some 5 V and loses gain each time.",
            cure="Put a diode in series with the base, or lower the supply.",
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        swing = say.field("swing", note="negative swing")
        return {"guard": (Word(text="The base is driven beyond its rail by up to"), swing)}

    def draw(self, pen: Pen, site: Site) -> None:
        draw_control(pen, site, "diode", "diode")
