"""How the parts of latches lie in a drawing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .pen import HEIGHT, HIGH_Y, Link, Pen, Point, Turn

if TYPE_CHECKING:
    from ..contract.site import Site


def _hang(
    pen: Pen, site: Site, local: str, symbol: str, x: float, y: float, *ends: tuple[str, Point]
) -> None:
    """A two-legged part at a place, each of its legs joined to a point."""
    at = pen.part(site, local, symbol, x, y)
    for leg, point in ends:
        if at[leg] != point:
            pen.wire(at[leg], point, part=site.ref(local))


def _lay(
    pen: Pen, site: Site, local: str, symbol: str, x: float, y: float, left: Point, right: Point
) -> None:
    """The same lying down: its first leg to the left."""
    turn: Turn = 270
    at = pen.part(site, local, symbol, x, y, turn=turn, side="above")
    for leg, point in (("a", left), ("b", right)):
        if at[leg] != point:
            pen.wire(at[leg], point, part=site.ref(local))


def draw_soft_latch(pen: Pen, site: Site, symbol: str, legs: tuple[str, str, str]) -> None:
    """Memory and button to the left, the two bases in the middle, pilot and switch to the right; of the
    switch its control, its output and its leg at the rail.
    """
    control, drain, source = legs
    m = max(pen.x, pen.rail_x) + 3.0  # the memory's column
    line = 12.0  # its height, and the button's
    _hang(pen, site, "charge", "resistor", m, 5.0, ("a", (m, 0.0)), ("b", (m, line)))
    _hang(pen, site, "memory", "electrolytic", m, 24.0, ("a", (m, line)), ("b", (m, HEIGHT)))
    pen.wire((m, line), (m + 7.0, line), part=site.ref("button"))
    _lay(pen, site, "button", "resistor", m + 10.0, line, (m + 7.0, line), (m + 13.0, line))
    _draw_button(pen, site, m + 17.0, line, m + 13.0, m + 24.0)
    # What empties the memory.
    at = pen.part(site, "emptier", "npn_left", m + 7.0, 23.0, side="left")
    column = at["c"][0]
    _hang(pen, site, "empty", "resistor", column, 16.0, ("a", (column, line)), ("b", at["c"]))
    pen.wire(at["e"], (at["e"][0], HEIGHT), part=site.ref("emptier"))
    b = m + 24.0  # the column of the hold strip
    _lay(pen, site, "base_2", "resistor", m + 14.0, 23.0, at["b"], (b, 23.0))
    pen.wire((b, line), (b, 23.0), part=site.ref("base_2"))
    _hang(pen, site, "base", "capacitor", m + 20.0, 26.5, ("a", (m + 20.0, 23.0)), ("b", (m + 20.0, HEIGHT)))
    _hang(pen, site, "bleed", "resistor", b, 26.5, ("a", (b, 23.0)), ("b", (b, HEIGHT)))
    # The NPN that pulls the gate and the pilot's base.
    puller = pen.part(site, "puller", "npn", b + 10.0, 21.5)
    _lay(pen, site, "base_1", "resistor", b + 3.6, 21.5, (b, 21.5), puller["b"])
    pen.wire(puller["e"], (puller["e"][0], HEIGHT), part=site.ref("puller"))
    g = puller["c"][0]  # the column of the gate resistor
    pulled = (g, 17.0)
    pen.wire(pulled, puller["c"], part=site.ref("puller"))
    if site.fitted("pilot"):
        _pilot(pen, site, b, pulled)
    gate = 8.0
    _hang(pen, site, "series", "resistor", g, 13.0, ("a", (g, gate)), ("b", pulled))
    _hang(pen, site, "pull", "resistor", g, 4.0, ("a", (g, 0.0)), ("b", (g, gate)))
    _hang(pen, site, "gate", "capacitor", g - 3.4, 4.0, ("a", (g - 3.4, 0.0)), ("b", (g - 3.4, gate)))
    switch = pen.part(site, "switch", symbol, g + 14.0, gate)
    pen.wire((g - 3.4, gate), switch[control], part=site.ref("series"))
    pen.wire(switch[source], (switch[source][0], 0.0), load=True, part=site.ref("switch"))
    out = (switch[drain][0], HIGH_Y)
    pen.wire(switch[drain], out, load=True, part=site.ref("switch"))
    if not site.fitted("pilot"):
        back = 18.0
        pen.wire(out, (out[0], back), part=site.ref("hold"))
        at = pen.part(site, "hold", "resistor", g + 8.0, back, turn=90, side="above")
        pen.wire((out[0], back), at["a"], part=site.ref("hold"))
        pen.wire(at["b"], (b, back), part=site.ref("hold"))
    pen.control = (g + 5.5, gate)
    pen.tag(site.lane("memory"), "V", m + 3.0, line - 2.4)
    pen.tag(site.lane("hold"), "V", b - 2.0, 18.0)
    pen.tag(site.lane(site.stage.output), "V", out[0], 15.0)  # type: ignore[attr-defined]
    pen.output = out
    pen.x = out[0]


def _pilot(pen: Pen, site: Site, b: float, pulled: Point) -> None:
    """The pilot, which feeds the hold strip; its base hangs on the pulled strip."""
    pilot = pen.part(site, "pilot", "pnp", b + 4.5, 4.0, side="above")
    pen.wire(pilot["e"], (pilot["e"][0], 0.0), part=site.ref("pilot"))
    fed = pilot["c"][0]
    _hang(pen, site, "hold", "resistor", fed, 10.4, ("a", pilot["c"]))
    pen.wire((fed, 13.4), (b, 13.4), part=site.ref("hold"))
    at = pen.part(site, "pilot_base", "resistor", b + 7.5, 17.0, turn=270, side="above")
    pen.wire(at["b"], pulled, part=site.ref("pilot_base"))  # its far leg: the net is "pilot" at "b"
    pen.wire(at["a"], (pilot["b"][0], 17.0), pilot["b"], part=site.ref("pilot_base"))


def _draw_button(pen: Pen, site: Site, x: float, y: float, left: float, right: float) -> None:
    """The button of the block that is joined to it, between two points of a line."""
    own = site.beyond("contact")
    at = pen.part(own, "contact", "button_no", x, y, turn=270, side="above")
    ref = own.ref("contact")
    pen.wire((left, y), at["com"], part=ref)
    pen.wire(at["no"], (right, y), part=ref)


def draw_held_latch(pen: Pen, site: Site) -> None:
    """The two buttons in one column, the base's line to the right of it, then the gate and the switch."""
    cut = site.fitted("cutter")
    begin, base = pen.output, 21.5
    x = max(pen.x, pen.rail_x) + (18.0 if cut else 4.0)  # the buttons' column
    if cut:
        _cutter(pen, site, begin, x, base)
    _hang(pen, site, "on", "resistor", x, 4.0, ("a", (x, 0.0)))
    on, off = site.beyond("on"), site.beyond("off")
    at = pen.part(on, "contact", "button_no", x, 12.0, side="left")
    pen.wire((x, 7.0), at["com"], part=site.ref("on"))
    pen.wire(at["no"], (x, base), part=on.ref("contact"))
    at = pen.part(off, "contact", "button_no", x, 26.0, side="left")
    pen.wire((x, base), at["com"], part=off.ref("contact"))
    pen.wire(at["no"], (x, HEIGHT), part=off.ref("contact"))
    b = x + 5.0
    pen.wire((x, base), (b, base), part=site.ref("puller"))
    _hang(pen, site, "bleed", "resistor", b, 26.0, ("a", (b, base)), ("b", (b, HEIGHT)))
    puller = pen.part(site, "puller", "npn", b + 10.0, base)
    pen.wire((b, base), puller["b"], part=site.ref("puller"))
    pen.wire(puller["e"], (puller["e"][0], HEIGHT), part=site.ref("puller"))
    g, gate = puller["c"][0], 8.0
    _hang(pen, site, "series", "resistor", g, 13.0, ("a", (g, gate)), ("b", puller["c"]))
    _hang(pen, site, "pull", "resistor", g, 4.0, ("a", (g, 0.0)), ("b", (g, gate)))
    _hang(pen, site, "gate", "capacitor", g - 5.0, 4.0, ("a", (g - 5.0, 0.0)), ("b", (g - 5.0, gate)))
    switch = pen.part(site, "switch", "p_mosfet", g + 12.0, gate)
    pen.wire((g - 5.0, gate), switch["g"], part=site.ref("series"))
    pen.wire(switch["s"], (switch["s"][0], 0.0), load=True, part=site.ref("switch"))
    out, back = (switch["d"][0], HIGH_Y), 17.0
    pen.wire(switch["d"], out, load=True, part=site.ref("switch"))
    join = (b + 2.5, base)
    _lay(pen, site, "hold", "resistor", g + 7.6, back, (join[0], back), (out[0], back))
    pen.wire((join[0], back), join, part=site.ref("hold"))
    pen.control = (g + 5.5, gate)
    pen.tag(site.lane("base"), "V", b + 5.0, base)
    pen.tag(site.lane("drain"), "V", out[0], 13.6)
    if site.joined("fed"):
        pen.switched_rail(switch["s"][0], (out[0], back), out[0] + 3.0, site.ref("switch"))
    pen.output = out
    pen.x = out[0]


def _cutter(pen: Pen, site: Site, begin: Point, column: float, base: float) -> None:
    """The transistor by which a command takes the base."""
    (x, y), low = begin, base + 3.0
    r = pen.part(site, "cut", "resistor", x + 4.5, low, turn=270, side="above")
    if "cut" in pen.returning:
        pen.stubs["cut"] = (x + 1.0, low)
        pen.wire((x + 1.0, low), r["a"], part=site.ref("cut"))
    else:
        pen.wire(begin, (x + 1.0, y), (x + 1.0, low), r["a"], part=site.ref("cut"))
    q = pen.part(site, "cutter", "npn", x + 11.0, low)
    pen.wire(r["b"], q["b"], part=site.ref("cut"))
    pen.wire(q["e"], (q["e"][0], HEIGHT), part=site.ref("cutter"))
    pen.wire(q["c"], (column, base), part=site.ref("cutter"))


def draw_set_reset(pen: Pen, site: Site) -> None:
    """The two transistors at the outside, their base resistors crossing over, a button under each base."""
    x = max(pen.x, pen.rail_x) + 3.0
    ends = (x + 2.0, x + 42.0)  # the collectors' columns: on side, off side
    nodes = (x + 15.0, x + 29.0)  # the bases' columns, with their buttons
    bases, heights = 20.5, (9.5, 14.5)  # the bases' height, and those of the resistors that cross over
    left = pen.part(site, "switch_on", "npn_left", ends[0] + 2.0, bases, side="left")
    right = pen.part(site, "switch_off", "npn", ends[1] - 2.0, bases)
    for own, column, at in (("on", ends[0], left), ("off", ends[1], right)):
        feed = pen.part(site, f"collector_{own}", "resistor", column, 4.0)
        pen.wire((column, 0.0), feed["a"], part=site.ref(f"collector_{own}"))
        pen.wire(feed["b"], at["c"], part=site.ref(f"switch_{own}"))
        pen.wire(at["e"], (column, HEIGHT), part=site.ref(f"switch_{own}"))
    middle = (nodes[0] + nodes[1]) / 2
    crossings: tuple[tuple[str, float, float, float, Turn], ...] = (
        ("off", ends[0], nodes[1], heights[0], 270),
        ("on", ends[1], nodes[0], heights[1], 90),
    )
    for own, begin, end, y, turn in crossings:
        ref = site.ref(f"cross_{own}")
        r = pen.part(site, f"cross_{own}", "resistor", middle, y, turn=turn, side="above")
        pen.wire((begin, y), r["a"], part=ref)
        pen.wire(r["b"], (end, y), (end, bases), part=ref)
    for own, other, node, at, way in (("on", "off", nodes[0], left, -1), ("off", "on", nodes[1], right, 1)):
        pen.wire((node, bases), at["b"], part=site.ref(f"switch_{own}"))
        column = node + way * 4.5
        ref = site.ref(f"pull_{own}")
        pull = pen.part(site, f"pull_{own}", "resistor", column, 25.5, side="left" if way < 0 else "right")
        pen.wire((column, bases), pull["a"], part=ref)
        pen.wire(pull["b"], (column, HEIGHT), part=ref)
        button = site.beyond(other)
        b = pen.part(button, "contact", "button_no", node, 25.5, side="right" if way < 0 else "left")
        pen.wire((node, bases), b["com"], part=button.ref("contact"))
        pen.wire(b["no"], (node, HEIGHT), part=button.ref("contact"))
    out = (ends[1] + 5.0, 16.5)
    pen.wire((ends[1], 16.5), out, part=site.ref("switch_off"))
    pen.output = out
    pen.x = max(pen.x, out[0])


def draw_relay_hold(pen: Pen, site: Site) -> None:
    """Stop over start in one column, the spare contact beside them, the coil under it, the load's contact."""
    x = max(pen.x, pen.rail_x) + 5.0
    k, line, hold = site.ref("switch"), 10.0, x + 8.0
    stop, start, node = site.beyond("off"), site.beyond("on"), 18.5
    at = pen.part(stop, "contact", "button_nc", x, 5.0, side="left")
    pen.wire((x, 0.0), at["com"], part=stop.ref("contact"))
    pen.wire(at["nc"], (x, line), part=stop.ref("contact"))
    at = pen.part(start, "contact", "button_no", x, 14.2, side="left")
    pen.wire((x, line), at["com"], part=start.ref("contact"))
    pen.wire(at["no"], (x, node), (hold, node), part=start.ref("contact"))
    c = pen.place(k, "contact", hold, 14.2, pins=("com", "no"))
    pen.wire((x, line), (hold, line), c["com"], part=k)
    coil = pen.part(site, "switch", "coil", hold, 24.0, pins=("a", "b"), side="right")
    pen.wire(c["no"], coil["a"], part=k)
    pen.wire(coil["b"], (hold, HEIGHT), part=k)
    d = pen.part(site, "diode", "diode", hold - 4.5, 24.0, side="left")
    pen.wire(d["k"], (hold - 4.5, node), part=site.ref("diode"))
    pen.wire(d["a"], (hold - 4.5, HEIGHT), part=site.ref("diode"))
    far = hold + 7.5
    load = pen.place(k, "contact", far, 4.0, pins=("com", "no"), named={"com": "com2", "no": "no2"})
    pen.wire((far, 0.0), load["com2"], load=True, part=k)
    pen.wire(load["no2"], (far, HIGH_Y), load=True, part=k)
    pen.links.append(Link(points=((hold + 0.6, 14.2), (far - 0.6, 14.2), (far - 0.6, 4.0))))
    pen.tag(site.lane("switched"), "V", far + 3.2, HIGH_Y - 5.0)
    pen.output, pen.x = (far, HIGH_Y), far


def draw_cut_off(pen: Pen, site: Site) -> None:
    """Zener and divider to the left, the comparator between, the switch to the right."""
    z = max(pen.x, pen.rail_x) + 4.0  # the zener's column
    d, centre = z + 9.0, z + 24.0  # the divider's, and the comparator's middle
    u, gate = site.ref("comparator"), 8.0
    at = pen.part(site, "comparator", "amplifier", centre, 17.0, value="", side="below")
    pen.wire(at["vcc"], (centre, 0.0), part=u)
    pen.wire(at["vee"], (centre, HEIGHT), part=u)
    _hang(pen, site, "feed", "resistor", z, 4.0, ("a", (z, 0.0)))
    zener = pen.part(site, "reference", "zener", z, 25.0, side="left")
    pen.wire((z, 7.0), zener["k"], part=site.ref("feed"))
    pen.wire(zener["a"], (z, HEIGHT), part=site.ref("reference"))
    # The divider with its trimmer; its tap goes to the comparator's lower input.
    _hang(pen, site, "top", "resistor", d, 4.0, ("a", (d, 0.0)))
    trim = pen.part(site, "trim", "potentiometer", d, 11.0, side="left")
    pen.wire((d, 7.0), trim["a"], part=site.ref("top"))
    lower = pen.part(site, "bottom", "resistor", d, 25.0, side="left")
    pen.wire(trim["b"], lower["a"], part=site.ref("bottom"))
    pen.wire(lower["b"], (d, HEIGHT), part=site.ref("bottom"))
    share, level = at["m"], at["p"]
    tap = (d + 5.0, trim["w"][1])
    pen.wire(trim["w"], tap, (tap[0], share[1]), share, part=site.ref("trim"))
    c = pen.part(site, "filter", "electrolytic", tap[0], 25.5, side="right")
    pen.wire((tap[0], share[1]), c["a"], part=site.ref("filter"))
    pen.wire(c["b"], (tap[0], HEIGHT), part=site.ref("filter"))
    # The level: from the zener, and back from the gate.
    r = pen.part(site, "ref", "resistor", z + 4.5, level[1], turn=270, side="above")
    pen.wire((z, level[1]), r["a"], part=site.ref("ref"))
    pen.wire(r["b"], level, part=site.ref("ref"))
    out, end = at["out"], centre + 8.0
    pen.wire(out, (end, out[1]), (end, gate), part=u)
    b = pen.part(site, "back", "resistor", centre + 1.0, 23.5, turn=90, side="below")
    pen.wire((end, out[1]), (end, 23.5), b["a"], part=site.ref("back"))
    pen.wire(b["b"], (level[0] - 1.5, 23.5), (level[0] - 1.5, level[1]), part=site.ref("back"))
    _hang(pen, site, "pull", "resistor", end, 4.0, ("a", (end, 0.0)), ("b", (end, gate)))
    switch = pen.part(site, "switch", "p_mosfet", end + 9.0, gate)
    pen.wire((end, gate), switch["g"], part=u)
    pen.wire(switch["s"], (switch["s"][0], 0.0), load=True, part=site.ref("switch"))
    at_load = (switch["d"][0], HIGH_Y)
    pen.wire(switch["d"], at_load, load=True, part=site.ref("switch"))
    pen.control = (end + 3.0, gate)
    pen.tag(site.lane("drain"), "V", at_load[0], 14.0)
    pen.output, pen.x = at_load, at_load[0]


def draw_relay_hold_npn(pen: Pen, site: Site) -> None:
    """The coil over the two transistors in one column, the spare contact beside the upper one, the buttons at
    their bases, the load's contact to the right.
    """
    x = max(pen.x, pen.rail_x) + 4.0
    k, start, stop = site.ref("switch"), site.beyond("on"), site.beyond("off")
    column = x + 30.0  # of the coil and the transistors
    upper, lower, middle = 16.0, 25.0, 20.0
    coil = pen.part(site, "switch", "coil", column, 5.0, pins=("a", "b"), side="left")
    pen.wire((column, 0.0), coil["a"], part=k)
    d = pen.part(site, "diode", "diode", column + 5.0, 5.0)
    pen.wire((column + 5.0, 0.0), d["k"], part=site.ref("diode"))
    pen.wire(d["a"], (column + 5.0, 10.0), part=site.ref("diode"))
    pen.wire((column, 10.0), (column + 10.0, 10.0), part=k)
    q = pen.part(site, "setter", "npn", column - 2.0, upper, side="right")
    low = pen.part(site, "lower", "npn", column - 2.0, lower, side="right")
    pen.wire(coil["b"], q["c"], part=k)
    pen.wire(q["e"], low["c"], part=site.ref("setter"))
    pen.wire(low["e"], (column, HEIGHT), part=site.ref("lower"))
    # The spare contact across the upper one.
    c = pen.place(k, "contact", column + 10.0, 15.0, pins=("com", "no"))
    pen.wire((column + 10.0, 10.0), c["com"], part=k)
    pen.wire(c["no"], (column + 10.0, middle), (column, middle), part=k)
    # Stop and its line, to the lower base.
    line = x + 5.0
    u = pen.part(site, "up", "resistor", line, 4.0, side="left")
    pen.wire((line, 0.0), u["a"], part=site.ref("up"))
    pen.wire(u["b"], (line, lower), part=site.ref("up"))
    s = pen.part(stop, "contact", "button_no", x, 20.0, side="left")
    pen.wire((line, 13.0), (x, 13.0), s["com"], part=stop.ref("contact"))
    pen.wire(s["no"], (x, HEIGHT), part=stop.ref("contact"))
    r = pen.part(site, "low", "resistor", x + 13.0, lower, turn=270, side="below")
    pen.wire((line, lower), r["a"], part=site.ref("low"))
    pen.wire(r["b"], low["b"], part=site.ref("low"))
    # Start, and the setting base.
    begin = x + 10.0
    b = pen.part(start, "contact", "button_no", begin, 5.0)
    pen.wire((begin, 0.0), b["com"], part=start.ref("contact"))
    r = pen.part(site, "set", "resistor", x + 14.5, upper, turn=270, side="above")
    pen.wire(b["no"], (begin, upper), r["a"], part=start.ref("contact"))
    pen.wire(r["b"], q["b"], part=site.ref("set"))
    p = pen.part(site, "set_pull", "resistor", x + 23.0, middle, turn=270, side="below")
    pen.wire((x + 19.0, upper), (x + 19.0, middle), p["a"], part=site.ref("set_pull"))
    pen.wire(p["b"], (column, middle), part=site.ref("set_pull"))
    far = column + 18.0
    load = pen.place(k, "contact", far, 4.0, pins=("com", "no"), named={"com": "com2", "no": "no2"})
    pen.wire((far, 0.0), load["com2"], load=True, part=k)
    pen.wire(load["no2"], (far, HIGH_Y), load=True, part=k)
    pen.tag(site.lane("switched"), "V", far + 3.2, HIGH_Y - 5.0)
    pen.output, pen.x = (far, HIGH_Y), far


def draw_bypass_start(pen: Pen, site: Site, large: bool) -> None:
    """The timing to the left, the MOSFET under its coil, and the contact beside the starting resistor."""
    x = max(pen.x, pen.rail_x) + 5.0
    k, q, gate = site.ref("switch"), site.ref("puller"), 17.0
    r = pen.part(site, "time", "resistor", x, 5.0, side="left")
    pen.wire((x, 0.0), r["a"], part=site.ref("time"))
    pen.wire(r["b"], (x, gate), part=site.ref("time"))
    c = pen.part(site, "timing", "electrolytic" if large else "capacitor", x, 24.0, side="left")
    pen.wire((x, gate), c["a"], part=site.ref("timing"))
    pen.wire(c["b"], (x, HEIGHT), part=site.ref("timing"))
    d = pen.part(site, "empties", "diode", x + 5.0, 5.0)
    pen.wire((x + 5.0, 0.0), d["k"], part=site.ref("empties"))
    pen.wire(d["a"], (x + 5.0, 12.0), (x, 12.0), part=site.ref("empties"))
    t = pen.part(site, "puller", "n_mosfet", x + 12.0, gate)
    pen.wire((x, gate), t["g"], part=site.ref("time"))
    pen.wire(t["s"], (t["s"][0], HEIGHT), part=q)
    column = t["d"][0]
    coil = pen.part(site, "switch", "coil", column, 5.0, pins=("a", "b"), side="left")
    pen.wire((column, 0.0), coil["a"], part=k)
    pen.wire(coil["b"], t["d"], part=k)
    free = pen.part(site, "diode", "diode", column + 5.0, 5.0)
    pen.wire((column + 5.0, 0.0), free["k"], part=site.ref("diode"))
    pen.wire(free["a"], (column + 5.0, 11.0), (column, 11.0), part=site.ref("diode"))
    beside, far = column + 13.0, column + 20.0
    s = pen.part(site, "inrush", "resistor", beside, 5.0, side="left")
    pen.wire((beside, 0.0), s["a"], load=True, part=site.ref("inrush"))
    pen.wire(s["b"], (beside, 11.0), (far, 11.0), load=True, part=site.ref("inrush"))
    load = pen.place(k, "contact", far, 5.0, pins=("com", "no"))
    pen.wire((far, 0.0), load["com"], load=True, part=k)
    pen.wire(load["no"], (far, HIGH_Y), load=True, part=k)
    pen.tag(site.lane("gate"), "V", x + 4.0, gate)
    pen.tag(site.lane("switched"), "V", far + 3.2, HIGH_Y - 5.0)
    pen.output, pen.x = (far, HIGH_Y), far
