"""555 dimmer: the load is switched many times a second, and a potentiometer sets for which share of the time.

The output charges the capacitor through one side of the potentiometer and empties it through the other, each
behind a diode: the two sides add up to the same track, so the pace hardly changes with the share
(`rules.timer.Halves`).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import DiodeCard, TimerCard
from ...cards.derive import timer
from ...fields import Q
from ...quantity import show, show_part
from ..contract.descriptions import TURNS, StateRow, TurnCurve, TurnMap
from ..contract.facts import Command
from ..contract.parts import END_SHARE, TRACK, Placed, from_card, potentiometer, resistor
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.timers import draw_dimmer
from ..rules.beating import beating, beats, follows
from ..rules.pins import TimerPins
from ..rules.timer import CALM, Halves, control_seconds, oscillating, supply_checks
from ..rules.timing import symbol_of, timing_capacitor, tolerance_of
from ..say.checks import Check, Shown, check, high, when
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence, Word
from .base import ByItself

CYCLES = 3  # that are measured


class Dimmer(TimerPins, ByItself):
    title = "555 dimmer"
    purpose = "Switches the load many times a second; a knob sets for which share of the time."
    choose = "A heater, light or motor shall get any part of its power, and little may be lost on the way."
    avoid = "The load must get a steady voltage: electronics, or a relay."
    picture = "dimmer"
    cards = {"card": TimerCard, "diode": DiodeCard}

    kind: Literal["dimmer"] = "dimmer"
    card: str = "timer-bipolar"
    r_feed: Annotated[float, Q("Ω", 10.0, 1e6)] = 1e3
    r_turn: Annotated[float, Q("Ω", 100.0, 1e7, marked=True)] = 100e3
    turn: Annotated[float, Q("%", 0.0, 100.0)] = 50.0
    diode: str = "diode-200ma-100v"
    c_time: Annotated[float, Q("F", 1e-11, 1e-2)] = 10e-9
    slowest: Annotated[float, Q("Hz", 0.01, 1e6)] = 200.0
    fastest: Annotated[float, Q("Hz", 0.1, 1e6)] = 3000.0

    @property
    def summary(self) -> str:
        return f"555 dimmer, at {show(self.turn, '%')}"

    def gives(self, site: Site) -> Command:
        """Its output, high for its share of the time."""
        made = self.halves(site)
        return oscillating(site.card("card", TimerCard), site.rail, beating(made.on, made.off))

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield from_card(site, "timer", "U", "card", self.timer_legs(out="out"))
        yield resistor(site, "feed", "Resistor before the potentiometer", "r_feed", "out", "wiper")
        yield potentiometer(
            site, "pot", "Potentiometer", ("r_turn", "turn"), {"a": "filling", "w": "wiper", "b": "emptying"}
        )
        yield from_card(site, "up", "D", "diode", {"a": "filling", "k": "cap"}, title="Charging diode")
        yield from_card(site, "down", "D", "diode", {"a": "cap", "k": "emptying"}, title="Emptying diode")
        yield timing_capacitor(site, "timing", "Timing capacitor", "c_time", "cap", "zero")
        yield from self.calmed(site)

    # --- its times ----------------------------------------------------------------------------------
    def halves(
        self, site: Site, turn: float | None = None, track: float = 0.0, farads: float = 0.0
    ) -> Halves:
        """Its two times, at a turn; its track and capacitor off by these shares."""
        card, at = site.card("card", TimerCard), (self.turn if turn is None else turn) / 100
        model, ohms, end = timer(card), self.r_turn * (1 + track), END_SHARE * self.r_turn
        return Halves(
            volts=site.rail.typical,
            filling=self.r_feed + end + ohms * at,
            emptying=self.r_feed + end + ohms * (1 - at),
            farads=self.c_time * (1 + farads),
            high=float(model["drop_high"]),
            up=float(model["r_high"]),
            down=float(model["r_low"]),
            diode=site.card("diode", DiodeCard),
            bias=card.threshold_bias - card.trigger_bias,
            delay=card.shortest_pulse,
        )

    def paces(self, site: Site) -> tuple[float, float, float]:
        """The pace over all tolerances: least, with ordinary parts, and most [Hz]."""
        c = tolerance_of(self.c_time)
        slow, usual, fast = (
            self.halves(site, track=way * TRACK, farads=way * c).period for way in (1.0, 0.0, -1.0)
        )
        return 1 / slow, 1 / usual, 1 / fast

    def across_turn(self, site: Site) -> TurnMap | None:
        """Pace and share across the whole turn."""
        told = [(t, self.halves(site, t)) for t in TURNS]
        told = [(t, made) for t, made in told if math.isfinite(made.period)]
        if not told:
            return None
        least, most = told[0][1], told[-1][1]
        return TurnMap(
            title=f"{site.ref('pot')} across its turn",
            path=site.path("turn"),
            at=self.turn,
            turns=tuple(t for t, _ in told),
            curves=(
                TurnCurve(title="on for", unit="%", values=tuple(100 * made.duty for _, made in told)),
                TurnCurve(
                    title="pace",
                    unit="Hz",
                    values=tuple(1 / made.period for _, made in told),
                    low=self.slowest,
                    high=self.fastest,
                ),
            ),
            says=(
                f"At one end on for {least.duty:.1%} of the time, at the other for {most.duty:.1%}.",
                f"{site.ref('feed')} keeps it running at both ends: without it a side of no ohms stalls it.",
            ),
        )

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        slow, usual, fast = self.paces(site)
        c, t = site.ref("timing"), self.halves(site).period
        formula = "f = 1 / (t_{on} + t_{off}), about 1 / ((R_{turn} + 2·R_{feed}) × C × ln 2)"
        track = f"({show_part(self.r_turn)} + 2 · {show_part(self.r_feed)})"
        numbers = f"{track} × {show(self.c_time, 'F')}, with the diodes {show(usual, 'Hz')}"
        because = (
            f"{site.ref('pot')} may be {TRACK:.0%} off, {c} {tolerance_of(self.c_time):.0%}; output and "
            "diodes keep some of the volts."
        )
        shown = Shown(
            "state(timer)",
            "steady",
            "frequency",
            look=(CYCLES + 0.6) * t,
            level=0.5,
            within=0.02,
            because="what hangs on the output takes some of the volts that charge the capacitor",
        )
        proof = shown if math.isfinite(t) else None
        yield check(
            "not_slow",
            "Not too slow",
            "wish",
            "time",
            unit="Hz",
            nominal=usual,
            worst=slow,
            least=self.slowest,
            at=when("every part at its largest"),
            says=f"{show(usual, 'Hz')}, down to {show(slow, 'Hz')}; {show(self.slowest, 'Hz')} asked.",
            formula=formula,
            numbers=numbers,
            because=because,
            cure=f"Make {c} smaller.",
            shown=proof,
        )
        yield check(
            "not_fast",
            "Not too fast",
            "wish",
            "time",
            unit="Hz",
            nominal=usual,
            worst=fast,
            most=self.fastest,
            at=when("every part at its smallest"),
            says=f"{show(usual, 'Hz')}, up to {show(fast, 'Hz')}; {show(self.fastest, 'Hz')} allowed.",
            formula=formula,
            numbers=numbers,
            because=because,
            cure=f"Make {c} larger.",
            shown=proof,
        )
        yield from supply_checks(site)
        yield from self.pin_checks(site)
        card, top = site.card("card", TimerCard), site.rail.high
        ends = END_SHARE * self.r_turn + self.r_feed
        amps = 2 / 3 * top / ends
        yield check(
            "output",
            "What the potentiometer's end takes",
            "limit",
            "current",
            unit="A",
            nominal=amps,
            most=card.output,
            at=high("the potentiometer at its end"),
            says=f"{show(amps, 'A')} of {show(card.output, 'A')} from {site.ref('timer')}'s output.",
            formula="I = ⅔ V / R_{feed}",
            numbers=f"{show(2 / 3 * top, 'V')} / {show(ends, 'Ω')} = {show(amps, 'A')}",
            because="At its end the potentiometer leaves only this resistor in line with the capacitor.",
            cure=f"Make {site.ref('feed')} larger.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        slow, _, fast = self.paces(site)
        card = site.card("card", TimerCard)
        c = [
            bound(
                "low",
                self.c_time * fast / self.fastest,
                "slow enough",
                detail=show(self.fastest, "Hz"),
                guards="not_fast",
                formula="C ≥ … , every part at its smallest",
                because="Smaller, and it is faster than you allow.",
            ),
            bound(
                "high",
                self.c_time * slow / self.slowest,
                "fast enough",
                detail=show(self.slowest, "Hz"),
                guards="not_slow",
                formula="C ≤ … , every part at its largest",
                because="Larger, and it is slower than you asked for.",
            ),
        ]
        feed = [
            bound(
                "low",
                2 / 3 * site.rail.high / card.output - END_SHARE * self.r_turn,
                "the output's current",
                detail=show(card.output, "A"),
                guards="output",
                formula="R ≥ ⅔ V / I_{output}",
                because="At the potentiometer's end only this resistor limits what the output gives.",
            ),
            bound(
                "high",
                self.r_turn / 10,
                "most of the turn",
                detail="a tenth of the track",
                guards="output",
                formula="R ≤ R_{turn} / 10",
                because="Larger, and the knob's ends are far from nothing and from all.",
                soft=True,
            ),
        ]
        return (
            window(site, "c_time", "timing", "timing capacitor", c),
            window(site, "r_feed", "feed", "resistor before the potentiometer", feed),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (
                Word(text="On for a share of the time, the knob at"),
                say.field("turn", note="of its turn"),
                Word(text="as fast as"),
                say.field("slowest", note="at least"),
                Word(text="to"),
                say.field("fastest", note="at most"),
            ),
            "guard": self.pin_words(say),
        }

    # --- what it does -------------------------------------------------------------------------------
    def scenes(self, site: Site) -> tuple[Scene, ...]:
        made = self.halves(site)
        awake = CALM * control_seconds(site.card("card", TimerCard), self.at_control)
        return beats(made.first, made.on, made.off, awake)

    def states(self, site: Site) -> tuple[StateRow, ...]:
        least, most = (self.halves(site, turn).duty for turn in (0.0, 100.0))
        here, pot = self.halves(site), site.ref("pot")
        return (
            StateRow(
                state="Running", load=f"on for {here.duty:.0%} of the time", why=f"{pot} at {self.turn:g}%"
            ),
            StateRow(state="Knob at one end", load=f"on for {least:.1%}", why="charged almost at once"),
            StateRow(state="Knob at the other", load=f"on for {most:.1%}", why="emptied almost at once"),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        slow, _, fast = self.paces(site)
        return follows(1 / fast, 1 / slow) if slow > 0 else ("It stands still.", "nothing")

    def settles(self, site: Site) -> float:
        made = self.halves(site)
        return made.first + made.period if math.isfinite(made.first + made.period) else 1 / self.slowest

    def plays(self, site: Site) -> tuple[Play, ...]:
        t = self.halves(site).period
        t = t if math.isfinite(t) else 1 / self.slowest
        awake = CALM * control_seconds(site.card("card", TimerCard), self.at_control)
        return (Play("Power on, and running", awake + 6 * t, plugged=0.1 * t),)

    def probes(self, site: Site) -> tuple[Probe, ...]:
        u = site.ref("timer")
        return (
            Probe(id="cap", title="Timing capacitor to 0 V", red=f"{u} pin 6", signal="cap"),
            Probe(id="out", title="Timer's output to 0 V", red=f"{u} pin 3", signal="out"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        made = self.halves(site)
        limits = tuple((v, show(v, "V")) for v in (made.bottom, made.top))
        return (
            Watch(id="cap", title="Capacitor", unit="V", signal="cap", place=3, limits=limits),
            Watch(id="out", title="Dimmer", unit="V", signal="out", place=4),
        )

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_dimmer(pen, site, symbol_of(self.c_time))
