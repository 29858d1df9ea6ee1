"""How two transistors that switch each other lie in a drawing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .pen import HEIGHT, Pen
from .trimmer import in_line

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


def draw_transistor_one_shot(pen: Pen, site: Site, symbol: str) -> None:
    """The transistor that holds to the left, the thrown one to the right, the button under its base."""
    left = max(pen.x, pen.rail_x) + 5.0  # the first collector's column
    pulled, node = left + 8.0, left + 17.0  # the columns of the first base and of the capacitor's end
    base = node + 10.0  # and of the second base
    right = base + 12.0  # the second collector's
    line, held, bases = 9.0, 11.6, 16.0
    q1 = pen.part(site, "switch_1", "npn_left", left + 2.0, bases, side="left")
    q2 = pen.part(site, "switch_2", "npn", right - 2.0, bases)
    for own, column, at in (("1", left, q1), ("2", right, q2)):
        feed, ref = pen.part(site, f"collector_{own}", "resistor", column, 4.0), site.ref(f"switch_{own}")
        pen.wire((column, 0.0), feed["a"], part=site.ref(f"collector_{own}"))
        pen.wire(feed["b"], at["c"], part=ref)
        pen.wire(at["e"], (column, HEIGHT), part=ref)
    # What holds the first one.
    hold = pen.part(site, "hold", "resistor", base + 4.0, held, turn=90, side="below")
    pen.wire((right, held), hold["a"], part=site.ref("hold"))
    pen.wire(hold["b"], (pulled, held), (pulled, bases), part=site.ref("hold"))
    pen.wire((pulled, bases), q1["b"], part=site.ref("switch_1"))
    pull = pen.part(site, "pull", "resistor", pulled, 22.0)
    pen.wire((pulled, bases), pull["a"], part=site.ref("pull"))
    pen.wire(pull["b"], (pulled, HEIGHT), part=site.ref("pull"))
    # The capacitor, and the way back to the second base.
    c = pen.part(site, "timing", symbol, (left + pulled) / 2 + 1.0, line, turn=270, side="above")
    pen.wire((left, line), c["a"], part=site.ref("timing"))
    pen.wire(c["b"], (node, line), part=site.ref("timing"))
    x = node + 9.0 if site.fitted("trim") else node
    r = pen.part(site, "time", "resistor", x, 4.0)
    pen.wire((x, 0.0), r["a"], part=site.ref("time"))
    if site.fitted("trim"):
        in_line(pen, site, node + 4.5, 90, r["b"], (node, r["b"][1]))
    end = (node, r["b"][1])
    pen.wire(end, (node, bases), part=site.ref("trim" if site.fitted("trim") else "time"))
    if site.fitted("keep"):
        keep = site.ref("keep")
        d = pen.part(site, "keep", "diode", node + 2.8, bases, turn=90, side="below", value="")
        pen.wire((node, bases), d["a"], part=keep)
        pen.wire(d["k"], (base, bases), part=keep)
        x = node + 6.2
        bleed = pen.part(site, "bleed_2", "resistor", x, 23.0, side="left")
        pen.wire((x, bases), bleed["a"], part=site.ref("bleed_2"))
        pen.wire(bleed["b"], (x, HEIGHT), part=site.ref("bleed_2"))
    else:
        pen.wire((node, bases), (base, bases), part=site.ref("time"))
    pen.wire((base, bases), q2["b"], part=site.ref("switch_2"))
    _pressed(pen, site, base, bases)
    pen.tag(site.lane("base"), "V", node, 12.6)
    pen.wire((right, 12.0), (right + 4.0, 12.0), (right + 4.0, bases), part=site.ref("switch_2"))
    pen.output = (right + 4.0, bases)
    pen.x = max(pen.x, right + 4.0)


def _pressed(pen: Pen, site: Site, base: float, bases: float) -> None:
    """The button under the second base, through its capacitor or straight."""
    touch = bases
    if site.fitted("coupling"):
        touch = 22.2
        pressed = pen.part(site, "coupling", "capacitor", base, 19.1, side="left")
        pen.wire((base, bases), pressed["a"], part=site.ref("coupling"))
        pen.wire(pressed["b"], (base, touch), part=site.ref("coupling"))
        beside = pen.part(site, "bleed", "resistor", base + 4.2, 19.1, turn=180)
        pen.wire((base + 4.2, bases), beside["b"], part=site.ref("bleed"))
        pen.wire(beside["a"], (base + 4.2, touch), (base, touch), part=site.ref("bleed"))
    own = site.beyond("contact")
    at, line = pen.part(own, "contact", "button_no", base, 26.0, side="right"), own.ref("contact")
    pen.wire((base, touch), at["com"], part=line)
    pen.wire(at["no"], (base, HEIGHT), part=line)
