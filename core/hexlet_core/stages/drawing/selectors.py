"""How a selector's buttons, relays and contacts lie in a drawing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .pen import HEIGHT, HIGH_Y, Link, Pen

if TYPE_CHECKING:
    from ..contract.site import Site

LINE = 8.0  # the height of the hold line
STEP = 6.8  # from button to button
CHANNEL = 24.0  # from channel to channel
BEHIND = 15  # from an open channel to those that are folded


def draw_selector(pen: Pen, site: Site, count: int, zeners: bool) -> None:
    """Buttons to the left, each in the line of those before it; a relay and its contacts a channel."""
    x = max(pen.x, pen.rail_x) + 3.0
    off = site.beyond("off")
    at = pen.part(off, "contact", "button_nc", x, LINE, turn=270, side="above", value="")
    ref = off.ref("contact")
    pen.wire((at["com"][0], 0.0), at["com"], part=ref)
    end = at["nc"]
    base = x + STEP * count + 6.4
    opened = [k for k in range(1, count + 1) if _port(k) not in pen.folded]
    columns = {k: base + n * CHANNEL for n, k in enumerate(opened)}
    for k in range(1, count + 1):
        own = site.beyond(f"button_{k}")
        ref, x = own.ref("contact"), x + STEP
        at = pen.part(own, "contact", "button_co", x, LINE, turn=180, side="above", value="")
        pen.wire(end, (at["com"][0], LINE), part=ref)
        level = LINE + 6.0 + 0.9 * k
        if _port(k) in pen.folded:
            pen.place(f"TO{k}", "terminal", at["no"][0], level, label=f"to {k}", side="below", pins=())
            pen.wire(at["no"], (at["no"][0], level), part=ref)
        else:
            pen.wire(at["no"], (at["no"][0], level), (columns[k], level), part=ref)
        up = (at["nc"][0] + 0.5, at["nc"][1])
        pen.wire(at["nc"], up, (up[0], LINE), part=ref)
        end = (up[0], LINE)
    pen.wire(end, (columns[opened[-1]], LINE), part=ref)
    for k in opened:
        _draw_channel(pen, site, k, columns[k], zeners)
    if pen.folded:
        pen.fold(list(pen.folded.values()), columns[opened[-1]] + BEHIND)
    first = opened[0]
    pen.tag(site.lane(f"coil_{first}"), "A", columns[first] + 3.0, HEIGHT - 4.0)
    pen.x = columns[first] + 6.0
    pen.output = pen.outs[_port(first)]


def _port(k: int) -> str:
    """The output port of a channel."""
    return "out" if k == 1 else f"out_{k}"


def _draw_channel(pen: Pen, site: Site, k: int, x: float, zeners: bool) -> None:
    relay, diode = site.ref(f"relay_{k}"), site.ref(f"diode_{k}")
    hold = pen.place(relay, "contact", x, LINE + 3.0, pins=("com", "no"))
    coil = pen.part(site, f"relay_{k}", "coil", x, 24.0, pins=("a", "b"), side="right")
    pen.wire(hold["no"], coil["a"], part=relay)
    pen.wire(coil["b"], (x, HEIGHT), part=relay)
    column = x - 4.5
    middle = 26.5 if zeners else 24.6
    d = pen.part(site, f"diode_{k}", "diode", column, middle, side="left")
    top = d["k"]
    if zeners:
        z = pen.part(site, f"zener_{k}", "zener", column, 21.6, turn=180, side="left")
        pen.wire(d["k"], z["k"], part=diode)
        top = z["a"]
    pen.wire(top, (column, 20.2), (x, 20.2), part=diode)
    pen.wire(d["a"], (column, HEIGHT), part=diode)
    far = x + 6.0
    load = pen.place(relay, "contact", far, 4.0, pins=("com", "no"), named={"com": "com2", "no": "no2"})
    pen.wire((far, 0.0), load["com2"], load=True, part=relay)
    pen.wire(load["no2"], (far, HIGH_Y), load=True, part=relay)
    pen.links.append(Link(points=((x + 0.6, LINE + 3.0), (far - 0.6, LINE + 3.0), (far - 0.6, 4.0))))
    pen.outs[_port(k)] = (far, HIGH_Y)
