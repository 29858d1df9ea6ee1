"""What guards at the switch's output share: the switch's own rail, and the output's line led on in the
drawing.
"""

from __future__ import annotations

from ...cards.card import DiodeCard
from ...quantity import show
from ..contract.site import Site
from ..drawing.pen import HEIGHT, HIGH_Y, OUTPUT_Y, Pen, Point
from ..say.checks import Check, check, high


def own_rail(site: Site) -> tuple[str, str, float, float]:
    """The switched end's net, the switch's own rail, its height, and the output's height."""
    if site.side == "low":
        return "bottom", "zero", HEIGHT, OUTPUT_Y
    return "top", "plus", 0.0, HIGH_Y


def lead_on(pen: Pen, site: Site, x: float) -> Point:
    """Lead the output's line on to column `x`."""
    level = own_rail(site)[3]
    pen.wire(pen.output, (x, level), load=True, part=site.onward())
    pen.output = (x, level)
    return (x, level)


def blocks(site: Site, id: str, title: str, volts: float) -> Check:
    """A diode that holds off the whole supply."""
    card, stands = site.card("diode", DiodeCard), 1.5 * volts
    return check(
        id,
        title,
        "limit",
        "volts",
        unit="V",
        nominal=volts,
        worst=stands,
        most=card.reverse,
        at=high("spikes included"),
        says=f"Wants {show(stands, 'V')}, rated {show(card.reverse, 'V')}.",
        formula="V_{R} ≥ 1.5 · V_{high}",
        numbers=f"= 1.5 · {volts:.3g}",
        because="It holds off the whole supply, spikes included.",
        cure="Take a diode for more reverse voltage.",
    )
