"""How the parts of latches lie in a drawing whose two transistors hold each other on."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .pen import HEIGHT, OUTPUT_Y, Pen, Point

if TYPE_CHECKING:
    from ..contract.site import Site

GATE = 21.0  # the height of the gate's line


def _gate(pen: Pen, site: Site, x: float, line: float, foot: float) -> float:
    """The on button over the gate's line, what calms the gate under it; returns the column to the right."""
    own, ref = site.beyond("on"), site.ref("gate")
    r = pen.part(site, "on", "resistor", x, 4.0, side="left")
    pen.wire((x, 0.0), r["a"], part=site.ref("on"))
    at = pen.part(own, "contact", "button_no", x, 13.0, side="left")
    pen.wire(r["b"], at["com"], part=site.ref("on"))
    pen.wire(at["no"], (x, line), part=own.ref("contact"))
    for local, symbol, column in (("gate", "resistor", x + 1.0), ("calm", "capacitor", x + 7.0)):
        p = pen.part(site, local, symbol, column, (line + foot) / 2)
        pen.wire((column, line), p["a"], part=site.ref(local))
        if p["b"] != (column, foot):
            pen.wire(p["b"], (column, foot), part=site.ref(local))
    end = x + 13.0
    pen.wire((x, line), (end, line), part=ref)
    return end


def draw_thyristor_latch(pen: Pen, site: Site, shorts: bool) -> None:
    """The on button and the gate to the left, what holds itself on in the middle, the off button beside it,
    or between it and 0 V.
    """
    x = max(pen.x, pen.rail_x) + 4.0
    gate = GATE if shorts else GATE - 4.0
    foot = HEIGHT if shorts else HEIGHT - 6.4
    end = _gate(pen, site, x, gate, foot)
    q, off = site.ref("switch"), site.beyond("off")
    ref = off.ref("contact")
    if site.fitted("upper"):
        out, at_foot = _pair(pen, site, end, gate, foot)
    else:
        t = pen.part(site, "switch", "thyristor", end + 6.0, gate - 1.8)
        pen.wire((end, gate), t["g"], part=site.ref("gate"))
        out, at_foot = (t["a"][0], OUTPUT_Y), (t["k"][0], foot)
        pen.wire(t["k"], at_foot, load=True, part=q)
        pen.wire(t["a"], out, load=True, part=q)
    if shorts:
        column = out[0] + 6.0
        at = pen.part(off, "contact", "button_no", column, 20.0)
        pen.wire(out, (column, OUTPUT_Y), at["com"], load=True, part=q)
        pen.wire(at["no"], (column, HEIGHT), part=ref)
        out = (column, OUTPUT_Y)
    else:
        at = pen.part(off, "contact", "button_nc", at_foot[0], HEIGHT - 3.0)
        pen.wire((x + 1.0, foot), at_foot, part=q)
        pen.wire(at_foot, at["com"], load=True, part=ref)
        pen.wire(at["nc"], (at_foot[0], HEIGHT), load=True, part=ref)
    pen.tag(site.lane("gate"), "V", x + 10.0, gate)
    pen.tag(site.lane("anode"), "V", out[0] - 2.0, OUTPUT_Y)
    pen.output, pen.x = out, out[0]


def _pair(pen: Pen, site: Site, x: float, gate: float, foot: float) -> tuple[Point, Point]:
    """The NPN at the foot and the PNP at the anode, each one's collector on the other's base; returns the
    anode and the foot.
    """
    q, upper = site.ref("switch"), site.ref("upper")
    low = pen.part(site, "switch", "npn", x + 5.0, gate, side="left")
    pen.wire((x, gate), low["b"], part=q)
    at_foot = (low["e"][0], foot)
    if low["e"] != at_foot:
        pen.wire(low["e"], at_foot, load=True, part=q)
    between = low["c"][1] - 1.0
    top = pen.part(site, "upper", "pnp", x + 19.0, between)
    pen.wire(low["c"], (low["c"][0], between), top["b"], part=q)
    out = (top["e"][0], OUTPUT_Y)
    if top["e"] != out:
        pen.wire(top["e"], out, load=True, part=upper)
    r = pen.part(site, "anode", "resistor", x + 13.5, OUTPUT_Y, turn=90, side="above")
    pen.wire(r["a"], out, part=site.ref("anode"))
    pen.wire(r["b"], (x + 9.0, OUTPUT_Y), (x + 9.0, between), part=site.ref("anode"))
    low_y = gate + 4.6
    pen.wire(top["c"], (top["c"][0], low_y), (x - 1.0, low_y), (x - 1.0, gate), part=upper)
    return out, at_foot


def draw_npn_latch(pen: Pen, site: Site, at_rail: bool) -> None:
    """The on button and the base to the left, the NPN at 0 V, the PNP above it: at the rail with its base at
    the output, or on its own resistor with the load at its base.
    """
    x = max(pen.x, pen.rail_x) + 4.0
    own, off = site.beyond("on"), site.beyond("off")
    q = site.ref("switch")
    r = pen.part(site, "on", "resistor", x, 4.0, side="left")
    pen.wire((x, 0.0), r["a"], part=site.ref("on"))
    at = pen.part(own, "contact", "button_no", x, 13.0, side="left")
    pen.wire(r["b"], at["com"], part=site.ref("on"))
    pen.wire(at["no"], (x, GATE), part=own.ref("contact"))
    if at_rail:
        b = pen.part(off, "contact", "button_no", x, 26.0, side="left")
        pen.wire((x, GATE), b["com"], part=off.ref("contact"))
        pen.wire(b["no"], (x, HEIGHT), part=off.ref("contact"))
    columns = [("calm", "capacitor", x + 5.0)]
    if site.fitted("pull"):
        columns.append(("pull", "resistor", x + 13.0))
    for local, symbol, column in columns:
        p = pen.part(site, local, symbol, column, 26.0, side="left" if local == "pull" else "right")
        pen.wire((column, GATE), p["a"], part=site.ref(local))
        pen.wire(p["b"], (column, HEIGHT), part=site.ref(local))
    h = x + 20.0  # the column in which the PNP feeds the base
    low = pen.part(site, "switch", "npn", h + 17.0, GATE)
    pen.wire((x, GATE), low["b"], part=q)
    pen.wire(low["e"], (low["e"][0], HEIGHT), load=True, part=q)
    out = (low["c"][0], OUTPUT_Y)
    pen.wire(low["c"], out, load=True, part=q)
    pen.control = (h + 5.0, GATE)
    if at_rail:
        _holder_at_rail(pen, site, h, out[0])
    else:
        _holder_on_resistor(pen, site, h, out)
    pen.tag(site.lane("base"), "V", x + 3.0, GATE)
    pen.tag(site.lane("collector"), "V", out[0] - 3.4, OUTPUT_Y)
    pen.output, pen.x = out, out[0]


def _holder_at_rail(pen: Pen, site: Site, h: float, collector: float) -> None:
    """The PNP at the rail, its base on the rail and on the output."""
    holder = site.ref("holder")
    top = pen.part(site, "holder", "pnp_left", h + 2.0, 4.5, side="left")
    pen.wire(top["e"], (h, 0.0), part=holder)
    s = pen.part(site, "series", "resistor", h, 13.0)
    pen.wire(top["c"], s["a"], part=holder)
    pen.wire(s["b"], (h, GATE), part=site.ref("series"))
    node, level = h + 8.0, 13.0
    up = pen.part(site, "upper", "resistor", node, 4.0)
    pen.wire((node, 0.0), up["a"], part=site.ref("upper"))
    pen.wire(top["b"], (h + 6.0, 4.5), (h + 6.0, 8.0), (node, 8.0), part=holder)
    back = pen.part(site, "back", "resistor", (node + collector) / 2, level, turn=270, side="below")
    pen.wire(up["b"], (node, level), back["a"], part=site.ref("back"))
    pen.wire(back["b"], (collector, level), part=site.ref("back"))


def _holder_on_resistor(pen: Pen, site: Site, h: float, out: Point) -> None:
    """The PNP on a resistor of its own, its base at the output; off takes what that resistor gives."""
    off = site.beyond("off")
    s = pen.part(site, "series", "resistor", h, 4.0)
    pen.wire((h, 0.0), s["a"], part=site.ref("series"))
    top = pen.part(site, "holder", "pnp_left", h + 2.0, 14.5, side="left")
    pen.wire(s["b"], top["e"], part=site.ref("series"))
    pen.wire(top["c"], (h, GATE), part=site.ref("holder"))
    pen.wire(top["b"], (out[0], 14.5), part=site.ref("holder"))
    up = pen.part(site, "upper", "resistor", h + 10.0, OUTPUT_Y, turn=270, side="above")
    pen.wire((h, OUTPUT_Y), up["a"], part=site.ref("upper"))
    pen.wire(up["b"], out, part=site.ref("upper"))
    column = h - 5.0
    b = pen.part(off, "contact", "button_no", column, 14.0, side="left")
    pen.wire((h, 8.4), (column, 8.4), b["com"], part=off.ref("contact"))
    pen.wire(b["no"], (column, HEIGHT), part=off.ref("contact"))
