"""How a 555 and the parts around it lie in a drawing."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from .pen import HEIGHT, Pen, Point

if TYPE_CHECKING:
    from ..contract.site import Site


def draw_timer(pen: Pen, site: Site, bleeds: bool, coupled: bool, symbol: str) -> None:
    """A timer with its trigger, its timing column and its two small capacitors; the output leads on."""
    x0, y0 = pen.output
    node = _trigger(pen, site, coupled, x0, y0)
    column = node + 6.5
    centre = column + (13.0 if bleeds else 9.0)
    at = pen.part(site, "timer", "timer", centre, 15.0, label="555", value="", side="above")
    u = site.ref("timer")
    line = site.ref("coupling") if coupled else u
    pen.wire((node, y0), (node, at["trig"][1]), at["trig"], part=line)
    pen.wire(at["reset"], (at["reset"][0], 0.0), part=u)
    pen.wire(at["vcc"], (at["vcc"][0], 0.0), part=u)
    pen.wire(at["gnd"], (at["gnd"][0], HEIGHT), part=u)
    _timing(pen, site, symbol, column, at)
    c = pen.part(site, "control", "capacitor", at["ctrl"][0], 26.5)
    pen.wire(at["ctrl"], c["a"], part=site.ref("control"))
    pen.wire(c["b"], (c["b"][0], HEIGHT), part=site.ref("control"))
    x = centre + 9.0
    c, ref = pen.part(site, "supply", "capacitor", x, 6.0), site.ref("supply")
    pen.wire(c["a"], (x, 0.0), part=ref)
    pen.wire(c["b"], (x, HEIGHT), part=ref)
    pen.wire(at["out"], (x + 2.0, at["out"][1]), part=u)
    pen.tag(site.lane("cap"), "V", column - 0.5, 16.2)
    pen.output = (x + 2.0, at["out"][1])
    pen.x = max(pen.x, x + 2.0)


def _trigger(pen: Pen, site: Site, coupled: bool, x0: float, y0: float) -> float:
    """From the signal to the trigger's own strip; returns where that is."""
    if not coupled:
        pen.wire((x0, y0), (x0 + 2.0, y0), part=site.ref("timer"))
        return x0 + 2.0
    c, ref = (
        pen.part(site, "coupling", "capacitor", x0 + 4.0, y0, turn=270, side="below"),
        site.ref("coupling"),
    )
    pen.wire((x0, y0), c["a"], part=ref)
    node = x0 + 8.5
    pen.wire(c["b"], (node, y0), part=ref)
    r = pen.part(site, "pull", "resistor", node, 7.0, side="left")
    pen.wire((node, 0.0), r["a"], part=site.ref("pull"))
    pen.wire(r["b"], (node, y0), part=site.ref("pull"))
    return node


def _timing(pen: Pen, site: Site, symbol: str, column: float, at: Mapping[str, Point]) -> None:
    """The timing resistor and capacitor in their column, joined to the two pins beside it."""
    r, c, ref = site.ref("time"), site.ref("timing"), site.ref("timing")
    top = pen.part(site, "time", "resistor", column, 4.0, side="left")
    pen.wire((column, 0.0), top["a"], part=r)
    bottom = pen.part(site, "timing", symbol, column, 24.5, side="left")
    pen.wire(top["b"], (column, at["thr"][1]), part=r)
    pen.wire((column, at["thr"][1]), bottom["a"], part=c)
    pen.wire(bottom["b"], (column, HEIGHT), part=c)
    pen.wire((column, at["thr"][1]), at["thr"], part=ref)
    dis = at["dis"]
    if not site.fitted("discharge"):
        pen.wire((column, dis[1]), dis, part=site.ref("timer"))
        return
    d = pen.part(site, "discharge", "resistor", (column + dis[0]) / 2, dis[1], turn=270, side="above")
    pen.wire((column, dis[1]), d["a"], part=site.ref("discharge"))
    pen.wire(d["b"], dis, part=site.ref("discharge"))
