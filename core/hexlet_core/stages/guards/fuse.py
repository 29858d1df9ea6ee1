"""Fuse in the rail: it carries the load for good, opens on a short, survives the inrush and saves
the wire.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from ...cards import catalogue
from ...cards.card import FuseCard
from ...fields import Q
from ...quantity import show
from ..contract.facts import Draw, Loss, Rail
from ..contract.parts import Placed, from_card
from ..contract.site import Site
from ..contract.stage import InRail
from ..drawing.pen import Pen
from ..say.checks import Check, check, high, low, when
from ..say.wording import Say, Sentence, Word

CARRY = 0.75  # share of its rating that a fuse carries for good at room temperature
BLOWS = 4.0  # times its rating that opens it at once, assumed
MELT = 0.5  # share of its melting I²t that one inrush may use, so that it survives many


class Fuse(InRail):
    title = "Fuse"
    purpose = "It opens when something is shorted, before the wire burns."
    choose = "Any battery. A battery drives hundreds of amps into a short."
    avoid = "The supply limits its current itself, lower than any wire minds."
    picture = "fuse"
    cards = {"card": FuseCard}

    kind: Literal["fuse"] = "fuse"
    card: str = "fuse-3a15-slow"
    wire: Annotated[float, Q("A", 0.1, 200.0)] = 5.0

    @property
    def summary(self) -> str:
        known = catalogue().get(self.card)
        return known.brief if known is not None else "Fitted"

    def make(self, site: Site) -> Iterable[Placed]:
        amps = show(site.card("card", FuseCard).current, "A")
        legs = {"a": "before", "b": "plus"}
        yield from_card(site, "fuse", "F", "card", legs, on_board=False, mark=amps)

    def through(self, port: str, fact: Any, site: Site) -> Any:
        if port == "out" and isinstance(fact, Rail):
            lost = Loss.ohms(site.card("card", FuseCard).resistance)
            return replace(fact, losses=(*fact.losses, lost))
        return fact

    def checks(self, site: Site) -> Iterator[Check]:
        card, rail = site.card("card", FuseCard), site.rail
        draw: Draw = site.drawn()
        yield check(
            "fuse_carry",
            "Fuse carries the load",
            "limit",
            "current",
            unit="A",
            nominal=draw.amps,
            most=CARRY * card.current,
            at=high("for good"),
            says=f"{show(draw.amps, 'A')} of {show(CARRY * card.current, 'A')}.",
            formula="I ≤ 0.75 · I_{fuse}",
            numbers=f"{show(draw.amps, 'A')} ≤ 0.75 · {show(card.current, 'A')}",
            because="A fuse at its full rating ages and opens some day for nothing.",
            cure="Take a fuse for more current, if the wire stands it.",
        )
        yield check(
            "fuse_wire",
            "Fuse saves the wire",
            "need",
            "current",
            unit="A",
            nominal=card.current,
            most=self.wire,
            at=when("a short on the far side"),
            says=f"{show(card.current, 'A')} fuse, wire takes {show(self.wire, 'A')}.",
            formula="I_{fuse} ≤ I_{wire}",
            numbers=f"{show(card.current, 'A')} ≤ {show(self.wire, 'A')}",
            because="The fuse must be the weakest part of the loop.",
            cure="Take a smaller fuse, or a thicker wire.",
        )
        short = rail.low / max(rail.resistance + card.resistance, 1e-4)
        yield check(
            "fuse_opens",
            "Fuse opens on a short",
            "need",
            "current",
            unit="A",
            nominal=short,
            least=BLOWS * card.current,
            at=low("a dead short"),
            says=f"{show(short, 'A')} flow; {show(BLOWS * card.current, 'A')} open it at once.",
            formula="V_{low} / R_{supply} ≥ 4 · I_{fuse}",
            numbers=f"= {rail.low:.3g} / {show(rail.resistance + card.resistance, 'Ω')} = {show(short, 'A')}",
            because="A weak supply feeds a short for minutes without opening the fuse.",
            cure="Take a smaller or quicker fuse, or let the supply's own limit do it.",
        )
        yield check(
            "fuse_volts",
            "Fuse stands the supply",
            "limit",
            "volts",
            unit="V",
            nominal=rail.high,
            most=card.volts,
            at=high("just opened"),
            says=f"{show(rail.high, 'V')} of {show(card.volts, 'V')}.",
            formula="V_{high} ≤ V_{fuse}",
            numbers=f"{rail.high:.3g} ≤ {card.volts:.3g}",
            because="Above its volts the arc inside does not go out.",
            cure="Take a fuse for more volts.",
        )
        if draw.surge > 0:
            melt, allowed = draw.surge**2 * draw.seconds, MELT * card.melting
            yield check(
                "fuse_surge",
                "Fuse rides the inrush",
                "limit",
                "surge",
                unit="A²s",
                nominal=melt,
                most=allowed,
                at=high("load cold"),
                says=f"{show(melt, 'A²s')} of {show(allowed, 'A²s')} it takes often.",
                formula="I²t = I_{surge}^2 · t",
                numbers=f"= {show(draw.surge, 'A')}² · {show(draw.seconds, 's')}",
                because=(
                    "The inrush dies away: the time is that of its first current with the same heat. Half "
                    "of what melts it is allowed."
                ),
                cure="Take a slow fuse.",
            )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "guard": (
                Word(text="A fuse of"),
                Word(text=site.card("card", FuseCard).brief),
                Word(text="saves a wire for"),
                say.field("wire", note="wire's limit", origin="assumed"),
            )
        }

    def draw(self, pen: Pen, site: Site) -> None:
        ref, x = site.ref("fuse"), pen.rail_x
        at = pen.part(site, "fuse", "fuse", x + 4.0, 0.0, turn=270, side="below")
        pen.wire((x, 0.0), at["a"], load=True, part=ref)
        pen.rail_x = at["b"][0]
