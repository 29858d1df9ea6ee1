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


BUS, STOP = 17.6, 29.2  # the height of the buttons' lines, and of the stop line
CELL = 11.0  # from one transistor of a chain to the next


def draw_chain_selector(pen: Pen, site: Site, count: int, zeners: bool) -> None:
    """Buttons to the left, each with a line across all channels; a chain of PNPs, a coil with its two NPNs
    and the load's contact a channel.
    """
    x = max(pen.x, pen.rail_x) + 4.0
    opened = [k for k in range(1, count + 1) if _port(k) not in pen.folded]
    lines = {k: BUS + 0.9 * (k - 1) for k in range(1, count + 1)}
    width = CELL * (count - 1) + 42.0
    first = x + 9.5 * count + 18.0
    columns = {k: first + n * width for n, k in enumerate(opened)}
    far = columns[opened[-1]] + CELL * (count - 1) + 8.0  # where the lines end
    for k in range(1, count + 1):
        own, column = site.beyond(f"button_{k}"), x + 9.5 * (k - 1)
        at = pen.part(own, "contact", "button_no", column, 5.0, side="left")
        pen.wire((column, 0.0), at["com"], part=own.ref("contact"))
        pen.wire(at["no"], (column, lines[k]), part=own.ref("contact"))
        r = pen.part(site, f"line_{k}", "resistor", column + 4.0, 25.0)
        pen.wire((column + 4.0, lines[k]), r["a"], part=site.ref(f"line_{k}"))
        pen.wire(r["b"], (column + 4.0, HEIGHT), part=site.ref(f"line_{k}"))
        pen.wire((column, lines[k]), (far, lines[k]), part=own.ref("contact"))
    column = x + 9.5 * count
    u = pen.part(site, "up", "resistor", column, 5.0, side="left")
    pen.wire((column, 0.0), u["a"], part=site.ref("up"))
    pen.wire(u["b"], (column, STOP), part=site.ref("up"))
    off = site.beyond("off")
    at = pen.part(off, "contact", "button_no", column + 6.0, 13.0)
    pen.wire((column, 9.5), (column + 6.0, 9.5), at["com"], part=off.ref("contact"))
    pen.wire(at["no"], (column + 6.0, HEIGHT), part=off.ref("contact"))
    pen.wire((column, STOP), (far, STOP), part=site.ref("up"))
    for k in opened:
        _chain_channel(pen, site, k, columns[k], count, lines, zeners)
    if pen.folded:
        pen.fold(list(pen.folded.values()), columns[opened[-1]] + width + 2.0)
    pen.output = pen.outs[_port(opened[0])]
    pen.x = pen.output[0]


def _chain_channel(
    pen: Pen, site: Site, k: int, x: float, count: int, lines: dict[int, float], zeners: bool
) -> None:
    """One channel from its chain to its load's contact."""
    top, base = 2.0, 8.0
    end = (x - 6.0, 0.0)
    pen.wire(end, (end[0], top), part=site.ref(f"relay_{k}"))
    at = (end[0], top)
    others = [j for j in range(1, count + 1) if j != k]
    for n, j in enumerate(others):
        column, name = x + CELL * n, f"{k}_{j}"
        ref = site.ref(f"guard_{name}")
        q = pen.part(site, f"guard_{name}", "pnp", column, 4.0, turn=270, side="above", value="")
        pen.wire(at, q["e"], part=ref)
        b = pen.part(site, f"be_{name}", "resistor", column - 5.0, 5.0, side="left")
        pen.wire((column - 5.0, base), (column, base), part=site.ref(f"be_{name}"))
        pen.wire(q["b"], (column, base), part=ref)
        r = pen.part(site, f"down_{name}", "resistor", column, 25.0, side="left")
        pen.wire((column, base), r["a"], part=site.ref(f"down_{name}"))
        pen.wire(r["b"], (column, HEIGHT), part=site.ref(f"down_{name}"))
        d = pen.part(site, f"lift_{name}", "schottky", column + 3.4, 12.0, value="")
        lift = site.ref(f"lift_{name}")
        pen.wire(d["k"], (column + 3.4, base), (column, base), part=lift)
        pen.wire(d["a"], (column + 3.4, lines[j]), part=lift)
        at = q["c"]
        assert b["a"] == (column - 5.0, top)
    coil = x + CELL * (count - 2) + 22.0
    relay = site.ref(f"relay_{k}")
    pen.wire(at, (coil + 5.0, top), part=relay)
    _chain_relay(pen, site, k, coil, top, zeners)
    own = f"set_{k}"
    middle, low = 14.0, 25.0
    q = pen.part(site, f"setter_{k}", "npn", coil - 2.0, middle, value="")
    bottom = pen.part(site, f"lower_{k}", "npn", coil - 2.0, low, value="")
    pen.wire((coil, 10.6), q["c"], part=relay)
    pen.wire(q["e"], bottom["c"], part=site.ref(f"setter_{k}"))
    pen.wire(bottom["e"], (coil, HEIGHT), part=site.ref(f"lower_{k}"))
    for local, symbol_at, node, line in (
        (own, q["b"], middle, lines[k]),
        (f"low_{k}", bottom["b"], low, STOP),
    ):
        r = pen.part(site, local, "resistor", coil - 9.0, node, turn=270, side="above")
        pen.wire((coil - 13.0, line), (coil - 13.0, node), r["a"], part=site.ref(local))
        pen.wire(r["b"], symbol_at, part=site.ref(local))
    hold = pen.place(relay, "contact", coil + 9.0, 14.0, pins=("com", "no"))
    pen.wire((coil, 10.6), (coil + 9.0, 10.6), hold["com"], part=relay)
    pen.wire(hold["no"], (coil + 9.0, 19.6), (coil, 19.6), part=relay)
    far = coil + 15.0
    load = pen.place(relay, "contact", far, 4.0, pins=("com", "no"), named={"com": "com2", "no": "no2"})
    pen.wire((far, 0.0), load["com2"], load=True, part=relay)
    pen.wire(load["no2"], (far, HIGH_Y), load=True, part=relay)
    pen.links.append(Link(points=((coil + 9.6, 14.0), (far - 0.6, 14.0), (far - 0.6, 4.0))))
    pen.outs[_port(k)] = (far, HIGH_Y)


def _chain_relay(pen: Pen, site: Site, k: int, coil: float, top: float, zeners: bool) -> None:
    """The coil under its chain, with its freewheel path beside it."""
    relay, diode = site.ref(f"relay_{k}"), site.ref(f"diode_{k}")
    c = pen.part(site, f"relay_{k}", "coil", coil, 6.0, pins=("a", "b"), side="left")
    pen.wire((coil, top), c["a"], part=relay)
    pen.wire(c["b"], (coil, 10.6), part=relay)
    column = coil + 5.0
    d = pen.part(site, f"diode_{k}", "diode", column, 8.4 if zeners else 6.0)
    pen.wire(d["a"], (column, 10.6), part=diode)
    if not zeners:
        pen.wire((column, top), d["k"], part=diode)
        return
    z = pen.part(site, f"zener_{k}", "zener", column, 4.2, turn=180)
    if z["a"] != (column, top):
        pen.wire((column, top), z["a"], part=site.ref(f"zener_{k}"))
    if d["k"] != z["k"]:
        pen.wire(d["k"], z["k"], part=diode)
