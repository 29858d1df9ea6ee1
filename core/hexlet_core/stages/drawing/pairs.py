"""How two transistors that switch each other lie in a drawing."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from .pen import HEIGHT, Pen, Point, Turn
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


def draw_toggle(pen: Pen, site: Site, large: bool) -> None:
    """The zener to the left; the two transistors at the outside, base resistors and steering capacitors
    crossing over between them, the emitters on one line that the button lays to 0 V. `large` capacitors are
    electrolytic.
    """
    symbol = "electrolytic" if large else "capacitor"
    x = max(pen.x, pen.rail_x) + 2.0
    fed, bases, emitters = 3.4, 19.5, 23.4
    feed = pen.part(site, "feed", "resistor", x + 4.0, fed, turn=270, side="below")
    pen.wire((x, 0.0), (x, fed), feed["a"], part=site.ref("feed"))
    z, s = x + 9.0, x + 13.0
    zener = pen.part(site, "reference", "zener", z, 20.0, side="left")
    smooth = pen.part(site, "smooth", "capacitor", s, 20.0)
    for column, top, foot, ref in (
        (z, zener["k"], zener["a"], site.ref("reference")),
        (s, smooth["a"], smooth["b"], site.ref("smooth")),
    ):
        pen.wire((column, fed), top, part=ref)
        pen.wire(foot, (column, HEIGHT), part=ref)
    ends = (s + 9.0, s + 54.0)  # the collectors' columns: on side, off side
    nodes = (ends[0] + 8.0, ends[1] - 15.0)
    pen.wire(feed["b"], (ends[1], fed), part=site.ref("feed"))
    left = pen.part(site, "switch_on", "npn_left", ends[0] + 2.0, bases, side="left")
    right = pen.part(site, "switch_off", "npn", ends[1] - 2.0, bases)
    for own, column, at, node in (("on", ends[0], left, nodes[0]), ("off", ends[1], right, nodes[1])):
        q = site.ref(f"switch_{own}")
        r = pen.part(site, f"collector_{own}", "resistor", column, 7.5)
        pen.wire((column, fed), r["a"], part=site.ref(f"collector_{own}"))
        pen.wire(r["b"], at["c"], part=q)
        pen.wire(at["e"], (column, emitters), part=q)
        pen.wire((node, bases), at["b"], part=q)
    _steered(pen, site, "off", symbol, (ends[0], 12.2), (nodes[1], bases), 8.8)
    _steered(pen, site, "on", symbol, (ends[1], 15.0), (nodes[0], bases), 18.6)
    # What favours one base as the supply comes up.
    start = ends[1] - 8.0
    r = pen.part(site, "start", "resistor", start, 7.5, side="left")
    pen.wire((start, fed), r["a"], part=site.ref("start"))
    c = pen.part(site, "start_c", symbol, start, 15.6, side="left")
    pen.wire(r["b"], c["a"], part=site.ref("start"))
    pen.wire(c["b"], (start, bases), part=site.ref("start_c"))
    # The emitters' line, its resistor and the button across that.
    middle = (nodes[0] + nodes[1]) / 2
    pen.wire((ends[0], emitters), (ends[1], emitters), part=site.ref("emitter"))
    button = site.beyond("contact")
    r = pen.part(site, "emitter", "resistor", middle - 6.0, 26.7, side="left")
    c = pen.part(site, "calm", "capacitor", middle + 14.0, 26.7)
    b = pen.part(button, "contact", "button_no", middle + 5.0, 26.7)
    feet = (
        (middle - 6.0, r["a"], r["b"], site.ref("emitter")),
        (middle + 5.0, b["com"], b["no"], button.ref("contact")),
        (middle + 14.0, c["a"], c["b"], site.ref("calm")),
    )
    for column, top, foot, ref in feet:
        pen.wire((column, emitters), top, part=ref)
        pen.wire(foot, (column, HEIGHT), part=ref)
    end = (ends[1] + 4.0, 16.0)
    pen.wire((ends[1], 16.0), end, part=site.ref("switch_off"))
    pen.output = end
    pen.x = max(pen.x, end[0])


def _steered(pen: Pen, site: Site, own: str, symbol: str, begin: Point, end: Point, beside: float) -> None:
    """A base resistor from a collector over to the other base, and its steering capacitor beside it."""
    way, y = (1 if begin[0] < end[0] else -1), begin[1]
    turn: Turn = 270 if way > 0 else 90
    middle = (begin[0] + end[0]) / 2
    side: Literal["above", "below"] = "above" if beside < y else "below"
    r = pen.part(site, f"cross_{own}", "resistor", middle, y, turn=turn, side=side)
    pen.wire(begin, r["a"], part=site.ref(f"cross_{own}"))
    pen.wire(r["b"], (end[0], y), end, part=site.ref(f"cross_{own}"))
    c = pen.part(site, f"steer_{own}", symbol, middle, beside, turn=turn, side=side)
    out = 5.0 * way
    pen.wire((middle - out, y), (middle - out, beside), c["a"], part=site.ref(f"steer_{own}"))
    pen.wire(c["b"], (middle + out, beside), (middle + out, y), part=site.ref(f"steer_{own}"))
