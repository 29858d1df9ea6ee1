"""A resistor in the load's line: a coil or lamp for fewer volts runs on a higher supply.

The load gets V·R_load/(R + R_load), as long as its resistance holds: R = R_load·(V/V_rated − 1). What it
takes at v is what it takes at u, with u + R·I(u) = v.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal

from ...fields import Q
from ...quantity import Interval, show, show_part
from ...roots import root
from ..contract.facts import Demand, Loss, Switch, Takes
from ..contract.parts import Placed, resistor
from ..contract.site import Site
from ..drawing.pen import Pen
from ..rules.supplied import settled
from ..say.checks import Check, Shown, check, high
from ..say.wording import Say, Sentence, Word
from .in_one_line import InOneLine


class Dropper(InOneLine):
    title = "Dropping resistor"
    purpose = "A resistor in the load's line takes what the supply has too much."
    choose = "A coil or lamp rated for less than the supply, that takes a known current."
    avoid = "The load's current changes: then its volts do, too. A regulator holds them."
    picture = "heater"
    noun = "resistor"

    kind: Literal["dropper"] = "dropper"
    r_line: Annotated[float, Q("Ω", 0.1, 1e6)] = 100.0
    watts: Annotated[float, Q("W", 0.05, 100.0)] = 1.0

    @property
    def summary(self) -> str:
        return f"{show_part(self.r_line)} Ω in line"

    def make(self, site: Site) -> Iterable[Placed]:
        a, b = ("top", "fed") if self.line == "upper" else ("fed", "bottom")
        yield resistor(site, "line", "Dropping resistor", "r_line", a, b)

    def through(self, port: str, fact: Any, site: Site) -> Any:
        r, tol = self.r_line, site.tolerance
        if isinstance(fact, Switch):
            return replace(fact, losses=(*fact.losses, Loss.ohms(r, r * (1 + tol))))
        if isinstance(fact, Demand):
            return replace(fact, takes=behind(fact.takes, r, tol))
        return fact

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "guard": (
                Word(text="A resistor of"),
                say.field("r_line"),
                Word(text="that stands"),
                say.field("watts", note="rated", origin="rated"),
                Word(text="lies in the load's line"),
            )
        }

    def checks(self, site: Site) -> Iterator[Check]:
        rail, r = site.rail, self.r_line
        demand = site.demand()
        demand = replace(demand, takes=behind(demand.takes, r, site.tolerance))
        usual, worst = settled(site.switch, demand, rail.high).amps, demand.most(rail.high)
        yield check(
            "dropper_heat",
            "Heat in the dropping resistor",
            "limit",
            "heat",
            unit="W",
            nominal=usual**2 * r,
            worst=max(worst**2 * r, usual**2 * r),
            most=self.watts,
            at=high("load cold"),
            says=f"{show(worst**2 * r, 'W')} of {show(self.watts, 'W')}.",
            formula="P = I^2 · R",
            numbers=f"= {show(worst, 'A')}² · {show(r, 'Ω')}",
            because="What the supply has too much turns into heat here.",
            cure="Take a resistor for more watts, two in series, or a load rated for the supply.",
            shown=Shown("p(line)", site.switch.runs, within=0.05, floor=1e-4),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        (x, y), upper = pen.output, self.line == "upper"
        turn, side = (270, "below") if upper else (90, "above")
        at = pen.part(site, "line", "resistor", pen.x + 4.0, y, turn=turn, side=side)  # type: ignore[arg-type]
        near, far = ("a", "b") if upper else ("b", "a")
        pen.wire((x, y), at[near], load=True, part=site.ref("line"))
        pen.output, pen.x = at[far], at[far][0]


def behind(takes: Takes, ohms: float, tolerance: float) -> Takes:
    """What a load takes behind a resistor [Ω]: at the ends, with the resistor at its own."""

    def at(volts: float, end: str, r: float) -> float:
        def over(u: float) -> float:
            return u + r * float(getattr(takes(u), end)) - volts

        if volts <= 0 or over(0.0) >= 0:
            return max(volts, 0.0) / r  # all it wants and more: the resistor takes everything
        return float(getattr(takes(root(over, 0.0, volts)), end))

    def through(volts: float) -> Interval:
        low, high = (1 + tolerance) * ohms, (1 - tolerance) * ohms
        return Interval(at(volts, "low", low), at(volts, "typical", ohms), at(volts, "high", high))

    return through
