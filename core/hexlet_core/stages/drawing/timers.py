"""How a 555 and the parts around it lie in a drawing."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from .pen import HEIGHT, Pen, Point
from .trimmer import in_line

if TYPE_CHECKING:
    from ..contract.site import Site


def draw_timer(pen: Pen, site: Site, coupled: bool, symbol: str) -> None:
    """A timer with its trigger, its timing column and its two small capacitors; the output leads on."""
    if site.fitted("inverter"):
        _invert(pen, site)
    x0, y0 = pen.output
    node = _trigger(pen, site, coupled, x0, y0)
    room = 17.0 if site.fitted("trim") else 13.0 if site.fitted("emptier") else 10.5
    column = node + room + (5.5 if site.fitted("clamp") else 0.0)
    centre = column + (13.0 if site.fitted("discharge") else 9.0)
    at = _chip(pen, site, centre)
    line = site.ref("coupling") if coupled else site.ref("timer")
    pen.wire((node, y0), (node, at["trig"][1]), at["trig"], part=line)
    _timing(pen, site, symbol, column, at)
    if site.fitted("emptier"):
        _empty(pen, site, node, column, at["trig"][1])
    pen.tag(site.lane("cap"), "V", column - 0.5, 16.2)
    _leaves(pen, site, centre, at)


def _invert(pen: Pen, site: Site) -> None:
    """An NPN that turns the signal round, with its collector resistor."""
    x0, y0 = pen.output
    low = y0 + 3.0
    r = pen.part(site, "invert", "resistor", x0 + 5.0, low, turn=270, side="below")
    pen.wire((x0, y0), (x0 + 1.0, y0), (x0 + 1.0, low), r["a"], part=site.ref("invert"))
    q = pen.part(site, "inverter", "npn", x0 + 12.0, low)
    pen.wire(r["b"], q["b"], part=site.ref("invert"))
    pen.wire(q["e"], (q["e"][0], HEIGHT), part=site.ref("inverter"))
    lift = pen.part(site, "lift", "resistor", q["c"][0], 7.0, side="left")
    pen.wire((q["c"][0], 0.0), lift["a"], part=site.ref("lift"))
    pen.wire(lift["b"], q["c"], part=site.ref("lift"))
    pen.output = q["c"]


def _empty(pen: Pen, site: Site, node: float, column: float, trigger: float) -> None:
    """The PNP across the timing capacitor, its base on the trigger's strip."""
    q = pen.part(site, "emptier", "pnp", node + 5.5, 24.5)
    ref = site.ref("emptier")
    pen.wire((node, trigger), (node, 24.5), q["b"], part=ref)
    pen.wire(q["c"], (q["c"][0], HEIGHT), part=ref)
    up = (q["e"][0], 16.5)
    if not site.fitted("keep"):
        pen.wire((column, 16.5), up, q["e"], part=ref)
        return
    d = pen.part(site, "keep", "diode", (column + up[0]) / 2, 16.5, turn=270, side="above", value="")
    pen.wire((column, 16.5), d["a"], part=site.ref("keep"))
    pen.wire(d["k"], up, q["e"], part=ref)


def draw_astable(pen: Pen, site: Site, symbol: str) -> None:
    """A timer that triggers itself: the capacitor's column to the left, the two resistors between."""
    by_hand = site.fitted("halt") or site.fitted("step")
    c = max(pen.x, pen.rail_x) + (13.0 if by_hand else 4.0)  # the capacitor's column
    a = c + (17.0 if site.fitted("trim") else 9.0)  # the charging resistor's
    at = _chip(pen, site, a + 9.0)
    _self_triggered(pen, site, symbol, c, a, at)
    if site.fitted("steer"):
        dis, over = at["dis"][1], at["dis"][1] - 3.0
        d = pen.part(site, "steer", "diode", (a + c) / 2, over, turn=270, side="above", value="")
        pen.wire((a, over), d["a"], part=site.ref("steer"))
        pen.wire(d["k"], (c, over), (c, dis), part=site.ref("steer"))
    _stepped(pen, site, c, at["thr"][1])
    pen.tag(site.lane("cap"), "V", c - 0.5, 19.6 if by_hand else 16.2)
    _leaves(pen, site, a + 9.0, at)


def _stepped(pen: Pen, site: Site, column: float, line: float) -> None:
    """The contacts that halt and step it, each with its resistor, beside the capacitor's column."""
    x = column - 9.0
    if site.fitted("halt"):
        own, r = site.beyond("halt"), pen.part(site, "halt", "resistor", x, line - 3.0, side="left")
        at = pen.part(own, "contact", "button_no", x, 3.6, turn=180, side="left")
        pen.wire((x, 0.0), at["no"], part=own.ref("contact"))
        pen.wire(at["com"], r["a"], part=own.ref("contact"))
        pen.wire(r["b"], (column, line), part=site.ref("halt"))
    if site.fitted("step"):
        top = line + 3.0
        own, r = site.beyond("step"), pen.part(site, "step", "resistor", x, top + 3.0, side="left")
        at = pen.part(own, "contact", "button_no", x, 26.2, side="left")
        pen.wire((column, top), (x, top), part=site.ref("step"))
        pen.wire(r["b"], at["com"], part=own.ref("contact"))
        pen.wire(at["no"], (x, HEIGHT), part=own.ref("contact"))


def draw_dimmer(pen: Pen, site: Site, symbol: str) -> None:
    """A timer whose output charges and empties its capacitor, over the potentiometer's two sides."""
    c = max(pen.x, pen.rail_x) + 4.0  # the capacitor's column
    p = c + 9.0  # the potentiometer's
    centre = p + 19.0
    at = _chip(pen, site, centre, ("vcc", "gnd", "trig", "thr", "ctrl", "reset", "out"))
    pot = pen.part(site, "pot", "potentiometer", p, 7.5, side="left")
    up = pen.part(site, "up", "diode", (c + p) / 2, 3.0, turn=270, side="above", value="")
    down = pen.part(site, "down", "diode", (c + p) / 2, 11.5, turn=90, side="below", value="")
    pen.wire(pot["a"], (p, 3.0), up["a"], part=site.ref("up"))
    pen.wire(up["k"], (c, 3.0), (c, 11.5), part=site.ref("up"))
    pen.wire((c, 11.5), down["a"], part=site.ref("down"))
    pen.wire(down["k"], (p, 11.5), pot["b"], part=site.ref("down"))
    feed = pen.part(site, "feed", "resistor", p + 7.0, 7.5, turn=90, side="below")
    pen.wire(pot["w"], feed["b"], part=site.ref("feed"))
    pen.wire(
        feed["a"],
        (p + 11.0, 7.5),
        (p + 11.0, 2.6),
        (centre + 7.0, 2.6),
        (centre + 7.0, at["out"][1]),
        part=site.ref("feed"),
    )
    bottom = pen.part(site, "timing", symbol, c, 24.5, side="left")
    pen.wire((c, 11.5), bottom["a"], part=site.ref("timing"))
    pen.wire(bottom["b"], (c, HEIGHT), part=site.ref("timing"))
    pen.wire((c, at["thr"][1]), at["thr"], part=site.ref("timing"))
    pen.wire((c, at["trig"][1]), at["trig"], part=site.ref("timing"))
    pen.tag(site.lane("cap"), "V", c - 0.5, 16.2)
    _leaves(pen, site, centre, at)


def draw_power_on_delay(pen: Pen, site: Site, symbol: str) -> None:
    """A timer that waits: its capacitor hangs on the supply, the resistor and the diode lead to 0 V."""
    trim = site.fitted("trim")
    left = max(pen.x, pen.rail_x) + 4.0
    c = left + (11.0 if trim else 5.0)  # the capacitor's column
    d, r = (c, left) if trim else (left, c)  # the diode's and the resistor's
    centre = c + 11.0
    at = _chip(pen, site, centre, ("vcc", "gnd", "trig", "thr", "ctrl", "reset", "out"))
    thr, trig = at["thr"][1], at["trig"][1]
    top = pen.part(site, "timing", symbol, c, 4.0, side="left")
    pen.wire((c, 0.0), top["a"], part=site.ref("timing"))
    pen.wire(top["b"], (c, trig), part=site.ref("timing"))
    bottom = pen.part(site, "time", "resistor", r, 24.5, side="right")
    pen.wire((r, trig), bottom["a"], part=site.ref("time"))
    pen.wire(bottom["b"], (r, HEIGHT), part=site.ref("time"))
    low = pen.part(site, "empty", "diode", d, 24.5, side="right" if trim else "left", value="")
    pen.wire((d, HEIGHT), low["a"], part=site.ref("empty"))
    pen.wire(low["k"], (d, trig), (c, trig), part=site.ref("empty"))
    if trim:
        in_line(pen, site, (r + c) / 2, 270, (r, trig), (c, trig))
    pen.wire((c, thr), at["thr"], part=site.ref("timing"))
    pen.wire((c, trig), at["trig"], part=site.ref("timing"))
    pen.tag(site.lane("cap"), "V", c - 0.5, 13.0)
    _leaves(pen, site, centre, at)


def draw_latch_555(pen: Pen, site: Site) -> None:
    """A timer that keeps its state: the memory and its button to the left, the divider at its two inputs."""
    m = max(pen.x, pen.rail_x) + 4.0  # the memory's column
    c, line = m + 21.0, 16.0  # the divider's, and the button's height
    q, centre = c - 4.0, c + 9.0  # the reset capacitor's column, the chip's middle
    at = _chip(pen, site, centre, ("vcc", "gnd", "trig", "thr", "ctrl", "reset", "out"))
    upper = pen.part(site, "upper", "resistor", c, 10.0, side="right")
    lower = pen.part(site, "lower", "resistor", c, 25.0, side="right")
    pen.wire((c, 0.0), upper["a"], part=site.ref("upper"))
    pen.wire(upper["b"], lower["a"], part=site.ref("upper"))
    pen.wire(lower["b"], (c, HEIGHT), part=site.ref("lower"))
    for pin in ("thr", "trig"):
        pen.wire((c, at[pin][1]), at[pin], part=site.ref("timer"))
    memory = pen.part(site, "memory", "capacitor", m, 24.0, side="left")
    pen.wire((m, line), memory["a"], part=site.ref("memory"))
    pen.wire(memory["b"], (m, HEIGHT), part=site.ref("memory"))
    r = pen.part(site, "button", "resistor", m + 4.5, line, turn=270, side="above")
    pen.wire((m, line), r["a"], part=site.ref("button"))
    own = site.beyond("contact")
    b = pen.part(own, "contact", "button_no", m + 12.0, line, turn=270, side="above")
    pen.wire(r["b"], b["com"], part=own.ref("contact"))
    pen.wire(b["no"], (c, line), part=own.ref("contact"))
    # From the output back over everything to the memory.
    back, over, far = site.ref("back"), 2.4, centre + 6.6
    f = pen.part(site, "back", "resistor", m, 8.0, side="left")
    pen.wire((far, at["out"][1]), (far, over), (m, over), f["a"], part=back)
    pen.wire(f["b"], (m, line), part=back)
    # Its reset: a resistor to the supply and a capacitor to 0 V.
    held = at["reset"]
    up = pen.part(site, "reset", "resistor", held[0] - 3.4, 3.4, side="left")
    pen.wire((up["a"][0], 0.0), up["a"], part=site.ref("reset"))
    pen.wire(up["b"], (held[0], up["b"][1]), held, part=site.ref("reset"))
    clear = pen.part(site, "clear", "capacitor", q, 25.0, side="left")
    pen.wire(up["b"], (q, up["b"][1]), clear["a"], part=site.ref("clear"))
    pen.wire(clear["b"], (q, HEIGHT), part=site.ref("clear"))
    pen.tag(site.lane("memory"), "V", m + 1.0, 20.0)
    _leaves(pen, site, centre, at)


def draw_counter_timer(pen: Pen, site: Site, symbol: str, taps: tuple[str, ...]) -> None:
    """A timer that triggers itself, the counter of its beats with its reset, and what stops it."""
    begin = pen.output
    trim = 8.0 if site.fitted("trim") else 0.0
    chip = max(pen.x, pen.rail_x) + 25.0 + trim
    at = _chip(pen, site, chip)
    _self_triggered(pen, site, symbol, chip - 20.0 - trim, chip - 11.0, at)
    if site.fitted("control"):
        ctrl = pen.part(site, "control", "capacitor", chip + 6.0, 25.5, turn=270, side="above")
        pen.wire(at["ctrl"], (at["ctrl"][0], 25.5), ctrl["a"], part=site.ref("control"))
        pen.wire(ctrl["b"], (ctrl["b"][0], HEIGHT), part=site.ref("control"))
    k = _counter(pen, site, chip + 13.0, taps)
    pen.wire(at["out"], k["clk"], part=site.ref("timer"))
    if site.fitted("kick"):
        _kick(pen, site, begin, (chip + 13.0, k["reset"][1]))
    for tap in taps[1:]:
        pen.wire(k[tap], (k[taps[0]][0], k[tap][1]), k[taps[0]], part=site.ref("counter"))
    _stopped(pen, site, k[taps[0]], at["reset"])


def _self_triggered(pen: Pen, site: Site, symbol: str, c: float, a: float, at: Mapping[str, Point]) -> None:
    """The capacitor's column at `c` and the charging resistor's at `a`, joined to the chip."""
    dis, thr, trig = (at[name][1] for name in ("dis", "thr", "trig"))
    top = pen.part(site, "a", "resistor", a, 4.0, side="left")
    pen.wire((a, 0.0), top["a"], part=site.ref("a"))
    pen.wire(top["b"], (a, dis), part=site.ref("a"))
    pen.wire((a, dis), at["dis"], part=site.ref("timer"))
    low = pen.part(site, "b", "resistor", a - 4.5, dis, turn=90, side="below")
    pen.wire((a, dis), low["a"], part=site.ref("b"))
    if site.fitted("trim"):
        in_line(pen, site, c + 4.5, 90, low["b"], (c, dis))
    else:
        pen.wire(low["b"], (c, dis), part=site.ref("b"))
    bottom = pen.part(site, "timing", symbol, c, 24.0, side="right")
    pen.wire((c, dis), bottom["a"], part=site.ref("timing"))
    pen.wire(bottom["b"], (c, HEIGHT), part=site.ref("timing"))
    pen.wire((c, thr), at["thr"], part=site.ref("timing"))
    pen.wire((c, trig), at["trig"], part=site.ref("timing"))


def _counter(pen: Pen, site: Site, reset: float, taps: tuple[str, ...]) -> dict[str, Point]:
    """The counter, with its reset's capacitor and resistor in a column before it."""
    named = dict(zip(("q", "p"), taps, strict=False))
    pins = ("vdd", "vss", "clk", "reset", *named)
    k = pen.part(
        site, "counter", "counter", reset + 9.0, 18.0, value="", side="below", pins=pins, named=named
    )
    u, line = site.ref("counter"), k["reset"][1]
    up = pen.part(site, "clear", "capacitor", reset, 6.0)
    pen.wire((reset, 0.0), up["a"], part=site.ref("clear"))
    pen.wire(up["b"], (reset, line), part=site.ref("clear"))
    down = pen.part(site, "clear_pull", "resistor", reset, 25.0)
    pen.wire((reset, line), down["a"], part=site.ref("clear_pull"))
    pen.wire(down["b"], (reset, HEIGHT), part=site.ref("clear_pull"))
    pen.wire((reset, line), k["reset"], part=u)
    pen.wire(k["vdd"], (k["vdd"][0], 0.0), part=u)
    pen.wire(k["vss"], (k["vss"][0], HEIGHT), part=u)
    return k


def _kick(pen: Pen, site: Site, begin: Point, clear: Point) -> None:
    """The kick's way under everything, through its diode to the reset."""
    (x, y), ref = begin, site.ref("kick")
    d = pen.part(site, "kick", "diode", clear[0] - 2.6, 25.0, value="", side="left")
    pen.wire(begin, (x + 1.5, y), (x + 1.5, 28.6), (d["a"][0], 28.6), d["a"], part=ref)
    pen.wire(d["k"], (d["k"][0], clear[1]), clear, part=ref)


def _stopped(pen: Pen, site: Site, tap: Point, reset: Point) -> None:
    """The transistor by which the tap holds the timer's reset down; the tap is the output."""
    node, over, u = tap[0] + 2.5, 2.0, site.ref("counter")
    pen.wire(tap, (node, tap[1]), part=u)
    r = pen.part(site, "stop", "resistor", node + 4.0, 10.0, turn=270, side="below")
    pen.wire((node, tap[1]), (node, 10.0), r["a"], part=site.ref("stop"))
    q = pen.part(site, "stopper", "npn", node + 11.0, 10.0)
    pen.wire(r["b"], q["b"], part=site.ref("stop"))
    pen.wire(q["e"], (q["e"][0], HEIGHT), part=site.ref("stopper"))
    run = pen.part(site, "run", "resistor", reset[0] - 3.6, 4.0, side="left")
    pen.wire((run["a"][0], 0.0), run["a"], part=site.ref("run"))
    pen.wire(run["b"], reset, part=site.ref("run"))
    pen.wire(q["c"], (q["c"][0], over), (reset[0], over), reset, part=site.ref("stopper"))
    x = node + 17.0
    _supply(pen, site, x)
    pen.wire((node, tap[1]), (x + 2.5, tap[1]), part=u)
    pen.tag(site.lane("out"), "V", node + 3.0, tap[1])
    pen.output = (x + 2.5, tap[1])
    pen.x = max(pen.x, x + 2.5)


def _chip(pen: Pen, site: Site, centre: float, pins: tuple[str, ...] | None = None) -> dict[str, Point]:
    """The timer with what it always has: supply, reset, 0 V, and the control pin's capacitor."""
    at = pen.part(site, "timer", "timer", centre, 15.0, label="555", value="", side="above", pins=pins)
    u = site.ref("timer")
    if site.part("timer").legs["reset"] == "plus":
        pen.wire(at["reset"], (at["reset"][0], 0.0), part=u)
    pen.wire(at["vcc"], (at["vcc"][0], 0.0), part=u)
    pen.wire(at["gnd"], (at["gnd"][0], HEIGHT), part=u)
    if site.fitted("counter") or not site.fitted("control"):
        return at
    c = pen.part(site, "control", "capacitor", at["ctrl"][0], 26.5)
    pen.wire(at["ctrl"], c["a"], part=site.ref("control"))
    pen.wire(c["b"], (c["b"][0], HEIGHT), part=site.ref("control"))
    return at


def _leaves(pen: Pen, site: Site, centre: float, at: Mapping[str, Point]) -> None:
    """The capacitor at the timer's supply, and its output, which leads on."""
    x = centre + 9.0
    _supply(pen, site, x)
    pen.wire(at["out"], (x + 2.0, at["out"][1]), part=site.ref("timer"))
    pen.output = (x + 2.0, at["out"][1])
    pen.x = max(pen.x, x + 2.0)


def _supply(pen: Pen, site: Site, x: float) -> None:
    """The capacitor at the chip's supply, where there is one."""
    if not site.fitted("supply"):
        return
    c, ref = pen.part(site, "supply", "capacitor", x, 6.0), site.ref("supply")
    pen.wire((x, 0.0), c["a"], part=ref)
    pen.wire(c["b"], (x, HEIGHT), part=ref)


def _trigger(pen: Pen, site: Site, coupled: bool, x0: float, y0: float) -> float:
    """From the signal to the trigger's own strip; returns where that is."""
    if not coupled:
        pen.wire((x0, y0), (x0 + 2.0, y0), part=site.ref("timer"))
        return x0 + 2.0
    c, ref = (
        pen.part(site, "coupling", "capacitor", x0 + 4.0, y0, turn=270, side="below"),
        site.ref("coupling"),
    )
    pen.wire((x0, y0), c["a"], part=ref)
    node = x0 + 8.5
    pen.wire(c["b"], (node, y0), part=ref)
    r = pen.part(site, "pull", "resistor", node, 7.0, side="left")
    pen.wire((node, 0.0), r["a"], part=site.ref("pull"))
    pen.wire(r["b"], (node, y0), part=site.ref("pull"))
    if site.fitted("clamp"):
        x, ref = node + 3.5, site.ref("clamp")
        d = pen.part(site, "clamp", "diode", x, 7.0, side="right", value="")
        pen.wire((node, y0), (x, y0), d["a"], part=ref)
        pen.wire(d["k"], (x, 0.0), part=ref)
    return node


def _timing(pen: Pen, site: Site, symbol: str, column: float, at: Mapping[str, Point]) -> None:
    """The timing resistor and capacitor in their column, joined to the two pins beside it."""
    r, c, ref = site.ref("time"), site.ref("timing"), site.ref("timing")
    x = column - 6.5 if site.fitted("trim") else column
    top = pen.part(site, "time", "resistor", x, 4.0, side="left")
    pen.wire((x, 0.0), top["a"], part=r)
    bottom = pen.part(site, "timing", symbol, column, 24.5, side="left")
    if site.fitted("trim"):
        in_line(pen, site, column - 3.0, 270, top["b"], (column, at["thr"][1]))
    else:
        pen.wire(top["b"], (column, at["thr"][1]), part=r)
    pen.wire((column, at["thr"][1]), bottom["a"], part=c)
    pen.wire(bottom["b"], (column, HEIGHT), part=c)
    pen.wire((column, at["thr"][1]), at["thr"], part=ref)
    dis = at["dis"]
    if not site.fitted("discharge"):
        pen.wire((column, dis[1]), dis, part=site.ref("timer"))
        return
    d = pen.part(site, "discharge", "resistor", (column + dis[0]) / 2, dis[1], turn=270, side="above")
    pen.wire((column, dis[1]), d["a"], part=site.ref("discharge"))
    pen.wire(d["b"], dis, part=site.ref("discharge"))
