"""How the parts of battery guards lie in a drawing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .pen import HEIGHT, HIGH_Y, Pen, Point

if TYPE_CHECKING:
    from ..contract.site import Site


def draw_cut_off_latch(pen: Pen, site: Site, symbol: str) -> None:
    """The PNP and its button to the left, divider and reference in the middle, the switch to the right; the
    reference as a zener or as a diode.
    """
    x = max(pen.x, pen.rail_x) + 4.0
    u = x + 11.0  # the column of the PNP's base
    d = u + 14.0  # the divider's
    j, e = d + 14.0, d + 25.0  # those of the judging NPN, and of the gate's NPN's base
    line, held = 12.0, 10.9  # the heights of the feed, and of what holds the PNP
    _starter(pen, site, x, u)
    top = pen.part(site, "feeder", "pnp", u + 8.0, 7.0, side="above")
    pen.wire((u, 7.0), top["b"], part=site.ref("upper"))
    pen.wire(top["e"], (top["e"][0], 0.0), part=site.ref("feeder"))
    feed = (top["c"][0], line)
    pen.wire(top["c"], feed, part=site.ref("feeder"))
    pen.wire(feed, (e, line), part=site.ref("feeder"))
    # The divider, its tap on the base of the NPN that judges.
    for local, glyph, y in (
        ("top", "resistor", 15.0),
        ("trim", "potentiometer", 21.0),
        ("bottom", "resistor", 27.0),
    ):
        pen.part(site, local, glyph, d, y, side="left")
    q = pen.part(site, "judge", "npn", j - 2.0, 21.0, side="right")
    pen.wire((d + 3.0, 21.0), q["b"], part=site.ref("trim"))
    c = pen.part(site, "filter", "electrolytic", d + 6.0, 26.0)
    pen.wire((d + 6.0, 21.0), c["a"], part=site.ref("filter"))
    pen.wire(c["b"], (d + 6.0, HEIGHT), part=site.ref("filter"))
    pen.wire((u, 13.0), (u + 4.0, 13.0), (u + 4.0, held), (j, held), q["c"], part=site.ref("judge"))
    level = 25.0
    pen.wire(q["e"], (j, level), part=site.ref("judge"))
    zener = symbol == "zener"
    z = pen.part(site, "reference", symbol, j, level + 2.2, turn=0 if zener else 180, side="left")
    pen.wire(z["a" if zener else "k"], (j, HEIGHT), part=site.ref("reference"))
    r = pen.part(site, "ref", "resistor", j + 5.0, 16.0)
    pen.wire((j + 5.0, line), r["a"], part=site.ref("ref"))
    pen.wire(r["b"], (j + 5.0, level), (j, level), part=site.ref("ref"))
    out = _switch(pen, site, e, line)
    pen.tag(site.lane("share"), "V", d + 4.0, 21.0)
    pen.tag(site.lane("level"), "V", j + 2.6, level)
    pen.tag(site.lane("drain"), "V", out[0], 14.0)
    pen.output, pen.x = out, out[0]


def _starter(pen: Pen, site: Site, x: float, u: float) -> None:
    """What holds the PNP's base up, what holds it down, and the button with its capacitor."""
    own, held = site.beyond("contact"), 15.0
    up = pen.part(site, "upper", "resistor", u, 4.0, side="left")
    pen.wire((u, 0.0), up["a"], part=site.ref("upper"))
    back = pen.part(site, "back", "resistor", u, 10.0, side="left")
    pen.wire(back["b"], (u, held), (x, held), part=site.ref("back"))
    c = pen.part(site, "start", "electrolytic", x, 18.5, side="left")
    r = pen.part(site, "rearm", "resistor", x + 5.0, 18.5)
    b = pen.part(own, "contact", "button_no", x, 26.0, side="left")
    pen.wire((x, held), c["a"], part=site.ref("start"))
    pen.wire((x + 5.0, held), r["a"], part=site.ref("rearm"))
    pen.wire(r["b"], (x + 5.0, 22.2), (x, 22.2), part=site.ref("rearm"))
    pen.wire(c["b"], b["com"], part=site.ref("start"))
    pen.wire(b["no"], (x, HEIGHT), part=own.ref("contact"))


def _switch(pen: Pen, site: Site, e: float, line: float) -> Point:
    """The gate's NPN on the feed, and the switch; returns its output."""
    base, gate = 21.0, 8.0
    r = pen.part(site, "hold", "resistor", e, 16.0)
    pen.wire((e, line), r["a"], part=site.ref("hold"))
    pen.wire(r["b"], (e, base), part=site.ref("hold"))
    b = pen.part(site, "bleed", "resistor", e, 26.0)
    pen.wire((e, base), b["a"], part=site.ref("bleed"))
    pen.wire(b["b"], (e, HEIGHT), part=site.ref("bleed"))
    q = pen.part(site, "puller", "npn", e + 7.0, base)
    pen.wire((e, base), q["b"], part=site.ref("puller"))
    pen.wire(q["e"], (q["e"][0], HEIGHT), part=site.ref("puller"))
    g = q["c"][0]
    s = pen.part(site, "series", "resistor", g, 13.0)
    pen.wire((g, gate), s["a"], part=site.ref("series"))
    pen.wire(s["b"], q["c"], part=site.ref("series"))
    for local, glyph, column in (("pull", "resistor", g), ("gate", "capacitor", g - 5.0)):
        p = pen.part(site, local, glyph, column, 4.0)
        pen.wire((column, 0.0), p["a"], part=site.ref(local))
        pen.wire(p["b"], (column, gate), part=site.ref(local))
    switch = pen.part(site, "switch", "p_mosfet", g + 12.0, gate)
    pen.wire((g - 5.0, gate), switch["g"], part=site.ref("series"))
    pen.wire(switch["s"], (switch["s"][0], 0.0), load=True, part=site.ref("switch"))
    out = (switch["d"][0], HIGH_Y)
    pen.wire(switch["d"], out, load=True, part=site.ref("switch"))
    pen.control = (g + 5.5, gate)
    return out
