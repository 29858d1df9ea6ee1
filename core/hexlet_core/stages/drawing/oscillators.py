"""How an amplifier's or a counter's parts lie in a drawing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .pen import HEIGHT, Pen
from .trimmer import in_line

if TYPE_CHECKING:
    from ..contract.site import Site


def draw_amp_oscillator(pen: Pen, site: Site, symbol: str) -> None:
    """The capacitor and its resistor over the amplifier, the divider that makes its levels to the left."""
    x = max(pen.x, pen.rail_x) + 4.0
    trim = 10.0 if site.fitted("trim") else 0.0
    c, d, centre = x, x + 7.0, x + 17.0 + trim  # the columns of capacitor and divider, the amplifier's middle
    u = site.ref("amplifier")
    at = pen.part(site, "amplifier", "amplifier", centre, 16.0, value="", side="below")
    pen.wire(at["vcc"], (centre, 0.0), part=u)
    pen.wire(at["vee"], (centre, HEIGHT), part=u)
    bottom = pen.part(site, "timing", symbol, c, 24.5, side="left")
    pen.wire((c, at["m"][1]), bottom["a"], part=site.ref("timing"))
    pen.wire(bottom["b"], (c, HEIGHT), part=site.ref("timing"))
    pen.wire((c, at["m"][1]), at["m"], part=site.ref("timing"))
    out, end = at["out"], centre + 9.0
    over = pen.part(site, "time", "resistor", centre - 8.0 - trim, 8.0, turn=90, side="above")
    pen.wire((c, at["m"][1]), (c, 8.0), over["b"], part=site.ref("time"))
    far = over["a"]
    if trim:
        far = (centre - 4.0, 8.0)
        in_line(pen, site, centre - 9.0, 270, over["a"], far)
    pen.wire(far, (end - 2.0, 8.0), (end - 2.0, out[1]), part=site.ref("trim" if trim else "time"))
    level = at["p"][1]
    upper = pen.part(site, "upper", "resistor", d, 4.0, side="left")
    lower = pen.part(site, "lower", "resistor", d, 25.5, side="right")
    pen.wire((d, 0.0), upper["a"], part=site.ref("upper"))
    pen.wire(upper["b"], (d, level), part=site.ref("upper"))
    pen.wire((d, level), lower["a"], part=site.ref("lower"))
    pen.wire(lower["b"], (d, HEIGHT), part=site.ref("lower"))
    pen.wire((d, level), at["p"], part=site.ref("upper"))
    back = pen.part(site, "back", "resistor", centre, 23.0, turn=90, side="below")
    pen.wire(at["p"], (at["p"][0], 23.0), back["b"], part=site.ref("back"))
    pen.wire(back["a"], (end - 2.0, 23.0), (end - 2.0, out[1]), part=site.ref("back"))
    pen.wire(out, (end, out[1]), part=u)
    pen.tag(site.lane("cap"), "V", c - 0.5, 19.5)
    pen.output = (end, out[1])
    pen.x = max(pen.x, end)
