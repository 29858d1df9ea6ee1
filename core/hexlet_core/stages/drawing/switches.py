"""How resistors and transistors of switches lie in a drawing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .pen import HEIGHT, HIGH_Y, OUTPUT_Y, SIGNAL_Y, Pen, Point
from .trimmer import below

if TYPE_CHECKING:
    from ..contract.site import Site

CONTROL_Y = 7.0  # the base or gate of a high-side transistor
Legs = tuple[str, str, str]  # control, output, rail
BIPOLAR: Legs = ("b", "c", "e")
FIELD_EFFECT: Legs = ("g", "d", "s")


def draw_series(pen: Pen, site: Site, local: str) -> Point:
    """A resistor in the signal's line, where one is fitted; returns its far end."""
    x0, y = pen.output
    if not site.fitted(local):
        return pen.output
    at = pen.part(site, local, "resistor", x0 + 3.8, y, turn=270, side="below")
    pen.wire((x0, y), at["a"], part=site.ref(local))
    return at["b"]


def draw_pull(pen: Pen, site: Site, local: str, node: Point, to: float) -> None:
    """A pull resistor between a node of the drawing and a rail at height `to`, if it is fitted."""
    if not site.fitted(local):
        return
    ref, (x, y) = site.ref(local), node
    p = pen.part(site, local, "resistor", x, 23.0 if to > y else 3.5)
    near, far = (p["a"], p["b"]) if to > y else (p["b"], p["a"])
    if near != node:
        pen.wire(node, near, part=ref)
    pen.wire(far, (x, to), part=ref)


def draw_low_side(
    pen: Pen,
    site: Site,
    symbol: str,
    legs: Legs,
    control: str,
    *,
    series: str = "series",
    pull: str = "pull",
    local: str = "switch",
    output: str = "",
) -> dict[str, Point]:
    """A low-side transistor: series resistor, pull-down, transistor.

    `control` is its own net; with `output`, the net it switches, its output goes up to `OUTPUT_Y`.
    """
    g, d, s = legs
    x0, y = pen.output
    far = draw_series(pen, site, series)
    node = (x0 + 7.8, y)
    q = site.ref(local)
    t = pen.part(site, local, symbol, x0 + 12.6, y)
    pen.wire(far, t[g], part=site.ref(series))
    draw_pull(pen, site, pull, node, HEIGHT)
    pen.wire(t[s], (t[s][0], HEIGHT), load=bool(output), part=q)
    pen.tag(site.lane(control), "V", node[0] - 0.6, SIGNAL_Y - 2.8)
    if output:
        pen.control = node
        draw_up(pen, site, t[d], local, output)
    return t


def draw_held_gate(pen: Pen, site: Site, symbol: str) -> None:
    """Resistor and diode in the signal's line, the capacitor and what empties it at the gate, the switch."""
    x0, y = pen.output
    far = draw_series(pen, site, "series")
    d = pen.part(site, "keep", "diode", x0 + 10.0, y, turn=90, side="above", value="")
    pen.wire(far, d["a"], part=site.ref("keep"))
    node, q = (x0 + 14.5, y), site.ref("switch")
    pen.wire(d["k"], node, part=site.ref("keep"))
    c = pen.part(site, "hold", symbol, node[0], 23.0, side="left")
    pen.wire(node, c["a"], part=site.ref("hold"))
    pen.wire(c["b"], (node[0], HEIGHT), part=site.ref("hold"))
    trim = site.fitted("trim")
    right = (node[0] + (8.0 if trim else 4.5), y)
    if trim:
        lower = below(pen, site, right)
        r = pen.part(site, "pull", "resistor", right[0], lower[1] + 3.0)
        pen.wire(r["b"], (right[0], HEIGHT), part=site.ref("pull"))
    else:
        draw_pull(pen, site, "pull", right, HEIGHT)
    t = pen.part(site, "switch", "n_mosfet", right[0] + (7.5 if trim else 6.0), y)
    pen.wire(node, t["g"], part=site.ref("hold"))
    pen.wire(t["s"], (t["s"][0], HEIGHT), load=True, part=q)
    pen.tag(site.lane("gate"), "V", node[0] + 1.6, SIGNAL_Y - 2.8)
    pen.control = right
    draw_up(pen, site, t["d"], "switch", "drain")


def draw_up(pen: Pen, site: Site, begin: Point, local: str, output: str) -> None:
    """A low-side switch's output, from its transistor up to `OUTPUT_Y`."""
    end = (begin[0], OUTPUT_Y)
    pen.wire(begin, end, load=True, part=site.ref(local))
    pen.tag(site.lane(output), "V", end[0] - 3.4, OUTPUT_Y)
    pen.output, pen.x = end, end[0]


def draw_high_side(pen: Pen, site: Site, symbol: str, legs: Legs, begin: Point, output: str) -> None:
    """A high-side switch whose control is reached from `begin`, with its pull-up; its output goes down to
    `HIGH_Y`.
    """
    g, d, s = legs
    q = site.ref("switch")
    t = pen.part(site, "switch", symbol, begin[0] + 9.4, CONTROL_Y)
    pen.wire(begin, t[g], part=q)
    pen.control = (begin[0] + 2.6, CONTROL_Y)
    draw_pull(pen, site, "pull", pen.control, 0.0)
    pen.wire(t[s], (t[s][0], 0.0), load=True, part=q)
    out = (t[d][0], HIGH_Y)
    pen.wire(t[d], out, load=True, part=q)
    pen.tag(site.lane(output), "V", out[0] + 3.4, HIGH_Y - 5.0)
    pen.output, pen.x = out, out[0]
