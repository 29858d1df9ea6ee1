"""How a trimmer in line with a resistor lies in a drawing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .pen import Pen, Point, Turn

if TYPE_CHECKING:
    from ..contract.site import Site


def in_line(pen: Pen, site: Site, x: float, turn: Turn, begin: Point, end: Point) -> None:
    """A lying trimmer from `begin` to `end`, its wiper joined to its further end."""
    ref, side = site.ref("trim"), "above" if turn == 90 else "below"
    p = pen.part(site, "trim", "potentiometer", x, begin[1], turn=turn, side=side)
    w, b = p["w"], p["b"]
    pen.wire(begin, p["a"], part=ref)
    pen.wire(b, (b[0], end[1]), end, part=ref)
    pen.wire(w, (b[0], w[1]), b, part=ref)


def below(pen: Pen, site: Site, begin: Point) -> Point:
    """A standing trimmer under `begin`, its wiper joined to its upper end; returns its lower one."""
    (x, y), ref = begin, site.ref("trim")
    p = pen.part(site, "trim", "potentiometer", x, y + 4.5, turn=180, side="right")
    w, b = p["w"], p["b"]
    pen.wire(begin, b, part=ref)
    pen.wire(w, (w[0], b[1]), b, part=ref)
    return p["a"]
