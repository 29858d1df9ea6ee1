"""How two transistors that switch each other lie in a drawing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .pen import HEIGHT, Pen

if TYPE_CHECKING:
    from ..contract.site import Site


def draw_transistor_astable(pen: Pen, site: Site, symbol: str, diodes: bool) -> None:
    """The two transistors at the outside, their base resistors between, the capacitors crossing over."""
    x = max(pen.x, pen.rail_x) + 3.0
    first, second = x + 2.0, x + 34.0  # the collectors' columns
    node_1, node_2 = x + 12.0, x + 24.0  # the columns of the two bases' nodes
    high, bases = 9.5, 22.0  # the capacitors' upper line, and the bases' height
    # Collectors, with what feeds them.
    left = pen.part(site, "switch_1", "npn_left", first + 2.0, bases, side="left")
    right = pen.part(site, "switch_2", "npn", second - 2.0, bases)
    for own, column, at in (("1", left["c"][0], left), ("2", right["c"][0], right)):
        feed, q = pen.part(site, f"collector_{own}", "resistor", column, 4.0), site.ref(f"switch_{own}")
        pen.wire((column, 0.0), feed["a"], part=site.ref(f"collector_{own}"))
        pen.wire(feed["b"], at["c"], part=q)
        pen.wire(at["e"], (column, HEIGHT), part=q)
    # Base resistors from the rail down to each node.
    for own, node in (("1", node_1), ("2", node_2)):
        r = pen.part(site, f"base_{own}", "resistor", node, 4.0, side="right" if own == "2" else "left")
        pen.wire((node, 0.0), r["a"], part=site.ref(f"base_{own}"))
        pen.wire(r["b"], (node, bases), part=site.ref(f"base_{own}"))
    # Capacitors: from the first collector over to the second node, and the other way round, one lower.
    low = high + 5.0
    a = pen.part(site, "timing_2", symbol, (node_1 + node_2) / 2, high, turn=270, side="above")
    pen.wire((left["c"][0], high), a["a"], part=site.ref("timing_2"))
    pen.wire(a["b"], (node_2, high), part=site.ref("timing_2"))
    b = pen.part(site, "timing_1", symbol, (node_1 + node_2) / 2, low, turn=90, side="below")
    pen.wire((right["c"][0], low), b["a"], part=site.ref("timing_1"))
    pen.wire(b["b"], (node_1, low), part=site.ref("timing_1"))
    # From each node to its base, through a diode where one is fitted.
    for own, node, at, way in (("1", node_1, left, -1), ("2", node_2, right, 1)):
        base, ref = at["b"], site.ref(f"base_{own}")
        if not diodes:
            pen.wire((node, bases), base, part=ref)
            continue
        keep = site.ref(f"keep_{own}")
        d = pen.part(
            site,
            f"keep_{own}",
            "diode",
            node + way * 2.6,
            bases,
            turn=90 if way > 0 else 270,
            side="above",
            value="",
        )
        pen.wire((node, bases), d["a"], part=keep)
        pen.wire(d["k"], base, part=keep)
        column = (d["k"][0] + base[0]) / 2
        r = pen.part(site, f"bleed_{own}", "resistor", column, 26.0, side="right" if way < 0 else "left")
        pen.wire((column, bases), r["a"], part=site.ref(f"bleed_{own}"))
        pen.wire(r["b"], (column, HEIGHT), part=site.ref(f"bleed_{own}"))
    pen.tag(site.lane("base"), "V", node_2, 18.5)
    out = (right["c"][0], 16.0)
    end = (second + 4.0, 16.0)
    pen.wire(out, end, part=site.ref("switch_2"))
    pen.output = end
    pen.x = max(pen.x, end[0])
