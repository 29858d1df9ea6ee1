"""555 latch: one button, and each press turns the output over.

Both comparators lie at half the supply, between their levels, so that the output keeps its state. A capacitor
holds what the output is, through a resistor; the button lays it on the comparators: empty, it sets; full, it
resets. Held down, the output drives the comparators through that resistor: it must leave them between the
levels, or the latch oscillates.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import TimerCard
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import StateRow
from ..contract.facts import Command, Fact
from ..contract.parts import Placed, capacitor, from_card, resistor
from ..contract.ports import Port, rail_in
from ..contract.scenes import UPSTREAM, Act, Play, Probe, Scene, Watch
from ..contract.site import Site
from ..contract.stage import Behaviour
from ..drawing.pen import Pen
from ..drawing.timers import draw_latch_555
from ..rules.pins import CalmedTimer
from ..rules.timer import output_of, supply_checks
from ..rules.trigger import PRESS
from ..say.checks import Check, Shown, check, low, when
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence, Word

SETTLES = 3.0  # time constants until the capacitor is where the output is
BOUNCE = 0.02  # after a contact changes, how long it may bounce [s]


class Latch555(CalmedTimer, Behaviour):
    title = "555 latch"
    purpose = "One button: each press turns the load over, and it stays so."
    choose = (
        "A button shall toggle something, and a timer is at hand; a bipolar one drives a relay by itself."
    )
    avoid = "It must take nothing while it is off: the soft power latch does."
    picture = "latch"
    stateful = True
    cards = {"card": TimerCard}

    kind: Literal["latch_555"] = "latch_555"
    card: str = "timer-cmos"
    r_upper: Annotated[float, Q("Ω", 100.0, 1e7)] = 22e3
    r_lower: Annotated[float, Q("Ω", 100.0, 1e7)] = 22e3
    r_back: Annotated[float, Q("Ω", 100.0, 1e8)] = 220e3
    c_memory: Annotated[float, Q("F", 1e-9, 1e-2)] = 680e-9
    r_button: Annotated[float, Q("Ω", 10.0, 1e5)] = 470.0
    r_reset: Annotated[float, Q("Ω", 1e3, 1e7)] = 47e3
    c_reset: Annotated[float, Q("F", 1e-10, 1e-3)] = 100e-9
    again_within: Annotated[float, Q("s", 1e-3, 1e3)] = 1.0

    @property
    def summary(self) -> str:
        return f"555 latch, {show_part(self.r_back)} Ω back"

    def ports(self) -> tuple[Port, ...]:
        return (
            rail_in(),
            Port("contact", "contact", "in", {"com": "touch", "make": "half"}, form="make"),
            Port("out", "command", "out", {"out": "out", "ref": "zero"}),
        )

    def tell(self, port: str, site: Site) -> Fact | None:
        return self.gives(site) if port == "out" else None

    def gives(self, site: Site) -> Command:
        """Its output, turned over by each press."""
        return output_of(site.card("card", TimerCard), site.rail, "latch", "it is off")

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        legs = {"vcc": "plus", "gnd": "zero", "trig": "half", "thr": "half", "ctrl": "ctrl", "reset": "reset"}
        yield from_card(site, "timer", "U", "card", legs | {"out": "out"})
        yield resistor(site, "upper", "Divider's upper resistor", "r_upper", "plus", "half")
        yield resistor(site, "lower", "Divider's lower resistor", "r_lower", "half", "zero")
        yield resistor(site, "back", "Resistor from the output", "r_back", "out", "memory")
        yield capacitor(site, "memory", "Memory capacitor", "c_memory", "memory", "zero")
        yield resistor(site, "button", "Button's resistor", "r_button", "memory", "touch")
        yield resistor(site, "reset", "Reset resistor", "r_reset", "plus", "reset")
        yield capacitor(site, "clear", "Reset capacitor", "c_reset", "reset", "zero")
        yield from self.calmed(site)

    # --- its levels, as shares of the supply --------------------------------------------------------
    @property
    def _source(self) -> float:
        """The divider's source resistance [Ω]."""
        return self.r_upper * self.r_lower / (self.r_upper + self.r_lower)

    @property
    def half(self) -> float:
        """Where the divider rests."""
        return self.r_lower / (self.r_upper + self.r_lower)

    def _ends(self, site: Site) -> tuple[float, float]:
        """The output low and high."""
        given, volts = self.gives(site), site.rail.typical
        return given.low.volts.typical / volts, given.high.volts.typical / volts

    def held(self, site: Site, off: float = 0.0) -> tuple[float, float]:
        """Where the comparators come to while it is held for long, the output low and high; the resistors
        apart by a tolerance.
        """
        source, back = self._source * (1 + off), (self.r_back + self.r_button) * (1 - off)
        return tuple((self.half * back + end * source) / (back + source) for end in self._ends(site))  # type: ignore[return-value]

    def pressed(self, site: Site) -> tuple[float, float]:
        """Where they come to the moment it is pressed, the memory empty and full."""
        source = self._source
        return tuple(  # type: ignore[return-value]
            (self.half * self.r_button + end * source) / (source + self.r_button) for end in self._ends(site)
        )

    @property
    def ready(self) -> float:
        """How long after a change the next press counts [s]."""
        return SETTLES * self.r_back * self.c_memory

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        yield from self._level_checks(site)
        yield self._ready(site)
        yield from self._power_checks(site)
        yield from supply_checks(site)
        yield from self.calm_checks(site)

    def _level_checks(self, site: Site) -> Iterator[Check]:
        yield self._held_check(site, on=True)
        yield self._held_check(site, on=False)
        level = site.card("card", TimerCard).threshold_tolerance
        sets, resets = self.pressed(site)
        yield check(
            "press_counts",
            "A press passes the level",
            "need",
            "level",
            unit="",
            nominal=min(1 / 3 - sets, resets - 2 / 3),
            worst=min((1 - level) / 3 - sets, resets - 2 * (1 + level) / 3),
            least=0.02,
            at=when("the level farthest off"),
            says=f"Pressed, they come to {sets:.0%} with an empty memory, to {resets:.0%} with a full one.",
            formula="V / 3 > V_{half}·R_{button} / (R_{button} + R_{divider})",
            numbers=f"{sets:.0%} < 33 %, {resets:.0%} > 67 %",
            because="The memory must win against the divider, through the button's resistor.",
            cure=f"Make {site.ref('button')} smaller.",
        )

    def _held_check(self, site: Site, on: bool) -> Check:
        """Whether the comparators stay on their side of a level while it is held."""
        level, volts = site.card("card", TimerCard).threshold_tolerance, site.rail.typical
        usual, worst = (volts * self.held(site, off)[on] for off in (0.0, site.tolerance))
        bar = volts * (2 * (1 - level) if on else 1 + level) / 3
        return check(
            "held_keeps" if on else "held_keeps_off",
            f"Held down, it stays {'on' if on else 'off'}",
            "need",
            "level",
            unit="V",
            nominal=usual,
            worst=worst,
            most=bar if on else None,
            least=None if on else bar,
            at=when("the divider large, the resistor back small"),
            says=f"Held, the comparators come to {show(usual, 'V')}; the level is {show(bar, 'V')}.",
            formula="R_{back} > 2 · (R_{upper} ∥ R_{lower})",
            numbers=f"{show_part(self.r_back)} against 2 · {show(self._source, 'Ω')}",
            because="While it is held the output drives the comparators through this resistor: past a "
            "level it turns over again and again.",
            cure=f"Make {site.ref('back')} larger.",
            shown=Shown("half", "held_down", within=0.03) if on else None,
        )

    def _ready(self, site: Site) -> Check:
        return check(
            "again",
            "Ready for the next press",
            "wish",
            "time",
            unit="s",
            nominal=self.ready,
            worst=1.3 * self.ready,
            most=self.again_within,
            at=when("a large capacitor"),
            says=f"{show(self.ready, 's')} after each change.",
            formula="3 · R_{back} · C_{memory}",
            numbers=f"3 · {show_part(self.r_back)} · {show(self.c_memory, 'F')} = {show(self.ready, 's')}",
            because="The memory must have come to where the output is.",
            cure=f"Make {site.ref('memory')} smaller.",
            wish="again_within",
        )

    def _power_checks(self, site: Site) -> Iterator[Check]:
        follows = self.r_back * self.c_memory
        yield check(
            "bounce",
            "One change a press",
            "practice",
            "time",
            unit="s",
            nominal=follows,
            worst=0.8 * follows,
            least=BOUNCE,
            at=when("a contact that bounces"),
            says=f"The memory changes in {show(follows, 's')}; contacts bounce for {show(BOUNCE, 's')}.",
            formula="R_{back} · C_{memory} ≥ t_{bounce}",
            numbers=f"{show_part(self.r_back)} · {show(self.c_memory, 'F')} = {show(follows, 's')}",
            because="A memory that follows at once counts each bounce.",
            cure=f"Make {site.ref('memory')} larger.",
        )
        held = self.r_reset * self.c_reset * math.log(site.rail.low / max(site.rail.low - 0.7, 0.1))
        yield check(
            "comes_up_off",
            "Comes up off",
            "need",
            "plugged in",
            unit="s",
            nominal=held,
            worst=0.8 * held,
            least=2e-4,
            at=low("a supply that comes up at once"),
            says=f"Held off for {show(held, 's')}: certain on a supply that comes up faster than that.",
            formula="R_{reset} · C_{reset} · ln(V / (V − 0.7 V))",
            numbers=f"{show_part(self.r_reset)} · {show(self.c_reset, 'F')} → {show(held, 's')}",
            because="On a slower supply the reset pin is up before the timer wakes: either state may come.",
            cure=f"Make {site.ref('clear')} larger.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        level = site.card("card", TimerCard).threshold_tolerance
        least = max(
            (abs(end - self.half) / (abs(bar - self.half)) - 1) * self._source
            for end, bar in zip(self._ends(site), ((1 + level) / 3, 2 * (1 - level) / 3), strict=True)
            if abs(bar - self.half) > 1e-6
        )
        back = [
            bound(
                "low",
                least,
                "keeps its state while held",
                detail="33 % to 67 %",
                guards="held_keeps",
                formula="R_{back} ≥ 2 · (R_{upper} ∥ R_{lower}), and more with a real output's swing",
                because="Smaller, and it oscillates while the button is held.",
            ),
            bound(
                "low",
                BOUNCE / self.c_memory,
                "one change a press",
                detail=show(BOUNCE, "s"),
                guards="bounce",
                formula="R_{back} ≥ t_{bounce} / C",
                because="Smaller, and each bounce counts.",
                soft=True,
            ),
            bound(
                "high",
                self.again_within / (1.3 * SETTLES * self.c_memory),
                "ready for the next press",
                detail=show(self.again_within, "s"),
                guards="again",
                formula="R_{back} ≤ t / (3 · C)",
                because="Larger, and the memory is not there yet when it is pressed again.",
            ),
        ]
        return (window(site, "r_back", "back", "resistor from the output", back),)

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (
                Word(text="Each press turns the load over; the next one counts within"),
                say.field("again_within", note="wanted"),
            ),
            "guard": self.calm_words(say),
        }

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        memory, back = site.ref("memory"), site.ref("back")
        soon = f"ready after {show(self.ready, 's', 2)}"
        return (
            StateRow(state="Supply plugged in", load="off", why=f"{site.ref('clear')} holds it reset"),
            StateRow(state="Pressed while off", load="on", why=f"{memory} is empty: under the lower level"),
            StateRow(state="Let go, or held", load="stays on", why=f"half the supply is neither; {back} too"),
            StateRow(state="Pressed while on", load="off", why=f"{memory} is full: over the upper level"),
            StateRow(state="Pressed again too soon", load="may not count", why=soon),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return "Press once and let go, wait, press again.", "on and stays on, then off"

    def settles(self, site: Site) -> float:
        return 1.5 * self.ready + 0.1

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        begin = 0.05 + 5 * self.r_reset * self.c_reset
        press, hold = Act(UPSTREAM, "active", begin, PRESS), Act(UPSTREAM, "active", begin)
        return (
            Scene("idle", "off", (), look=begin, cold=True),
            Scene("held_down", "while it is held", (hold,), look=begin + 4 * self.ready, cold=True),
            Scene("active", "on after a press", (press,), look=begin + PRESS + self.settles(site), cold=True),
        )

    def plays(self, site: Site) -> tuple[Play, ...]:
        wait = self.settles(site)

        def presses(*times: float) -> tuple[Act, ...]:
            return tuple(Act(UPSTREAM, "active", t, PRESS) for t in times)

        return (
            Play("Press on, press off", 3 * wait, presses(0.4 * wait, 1.7 * wait), plugged=0.1 * wait),
            Play("Held down for long", 3 * wait, (Act(UPSTREAM, "active", 0.4 * wait, wait),), 0.1 * wait),
            Play("Pressed again at once", 2 * wait, presses(0.4 * wait, 0.4 * wait + 0.25), 0.1 * wait),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        u = site.ref("timer")
        return (
            Probe(
                id="half",
                title="Comparators to 0 V",
                red=f"{u} pins 2 and 6",
                signal="half",
                scenes=("idle",),
            ),
            Probe(id="memory", title="Memory to 0 V", red="memory strip", signal="memory"),
            Probe(id="out", title="Timer's output to 0 V", red=f"{u} pin 3", signal="out"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        volts = site.rail.typical
        limits = tuple((v, show(v, "V")) for v in (volts / 3, 2 * volts / 3))
        return (
            Watch(id="half", title="Comparators", unit="V", signal="half", place=3, limits=limits),
            Watch(id="memory", title="Memory", unit="V", signal="memory", place=5),
            Watch(id="out", title="Latch", unit="V", signal="out", place=4),
        )

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_latch_555(pen, site)
