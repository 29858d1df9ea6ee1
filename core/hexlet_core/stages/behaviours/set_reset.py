"""Set and reset of two transistors: each holds the other off, a button for each side turns it over.

Unequal pull-downs make it certain which of the two conducts first as the supply comes up, at any speed: that
is the off side. A capacitor would only do so for a supply that is faster than itself.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...cards.card import BipolarCard, NpnCard
from ...cards.points import junctions
from ...fields import Q
from ...quantity import Interval, show, show_part
from ..contract.descriptions import StateRow
from ..contract.facts import Command, Contact, Fact, Level, Take
from ..contract.parts import Placed, from_card, resistor
from ..contract.ports import Port, rail_in
from ..contract.scenes import Play, Probe, Scene, Watch
from ..contract.site import Site
from ..contract.stage import Behaviour
from ..drawing.latches import draw_set_reset
from ..drawing.pen import Pen
from ..rules.buttons import plays, scenes
from ..rules.pair import collector_command, saturates
from ..say.checks import Check, Shown, check, high, low, when
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence, Word

V_BE = 0.65  # of a transistor that is on [V]
AHEAD = 0.3  # how far one base must be before the other: their spread, and what a fast supply does [V]
SETTLED = 0.2  # after a press all is decided [s]


class SetReset(Behaviour):
    title = "Set and reset, two transistors"
    purpose = "One button turns the load on, another one off; two transistors keep what was pressed."
    choose = "Two buttons, few parts and a small current all the time do no harm."
    avoid = "It must take nothing while it is off, or one button shall do both."
    picture = "latch"
    stateful = True
    presses = ("on", "off")
    cards = {"card": NpnCard}

    kind: Literal["set_reset"] = "set_reset"
    card: str = "npn-40v-200ma"
    r_c: Annotated[float, Q("Ω", 100.0, 1e6)] = 2.2e3
    r_cross: Annotated[float, Q("Ω", 100.0, 1e7)] = 22e3
    r_pull_on: Annotated[float, Q("Ω", 100.0, 1e7)] = 15e3
    r_pull_off: Annotated[float, Q("Ω", 100.0, 1e7)] = 100e3

    @property
    def summary(self) -> str:
        return f"Set and reset, {show_part(self.r_c)} and {show_part(self.r_cross)}"

    def ports(self) -> tuple[Port, ...]:
        return (
            rail_in(),
            Port("on", "contact", "in", {"com": "base_off", "make": "zero"}, form="make"),
            Port("off", "contact", "in", {"com": "base_on", "make": "zero"}, form="make"),
            Port("out", "command", "out", {"out": "out", "ref": "zero"}),
        )

    def tell(self, port: str, site: Site) -> Fact | None:
        return self.gives(site) if port == "out" else None

    def gives(self, site: Site) -> Command:
        """The off side's collector: up while that one does not conduct."""
        rail, card = site.rail, site.card("card", BipolarCard)
        keeps = junctions(card, rail.typical / self.r_c, max(self._drive_off(rail.typical), 1e-9)).v_ce
        given = collector_command(rail, self.r_c, keeps, "latch", "nobody presses", "comes up off")
        volts = Interval(*(self._open(v)[0] for v in (rail.low, rail.typical, rail.high)))
        return replace(given, high=Level(volts, self._open(rail.typical)[1]))

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        for own, collector, across in (("on", "other", "out"), ("off", "out", "other")):
            base, side = f"base_{own}", f"{own} side"
            yield resistor(site, f"collector_{own}", f"Collector resistor, {side}", "r_c", "plus", collector)
            yield from_card(site, f"switch_{own}", "Q", "card", {"c": collector, "b": base, "e": "zero"})
            yield resistor(site, f"cross_{own}", f"Base resistor, {side}", "r_cross", across, base)
            yield resistor(site, f"pull_{own}", f"Pull-down, {side}", f"r_pull_{own}", base, "zero")

    # --- its states ---------------------------------------------------------------------------------
    def _open(self, volts: float) -> tuple[float, float]:
        """What the output comes to while it is on [V], and behind which resistance [Ω]: the other base takes
        some.
        """
        whole = self.r_c + self.r_cross
        return (volts * self.r_cross + V_BE * self.r_c) / whole, self.r_c * self.r_cross / whole

    def _drive_on(self, site: Site, volts: float) -> float:
        """The on side's base current while it is on, with what hangs on the output [A]."""
        hung = Take.sum(list(site.seen("out"))).ohms
        share = hung / (self.r_c + hung) if math.isfinite(hung) else 1.0
        ohms = self.r_c * share + self.r_cross
        return max((volts * share - V_BE) / ohms - V_BE / self.r_pull_on, 0.0)

    def _drive_off(self, volts: float) -> float:
        """The off side's base current while it is off [A]."""
        return max((volts - V_BE) / (self.r_c + self.r_cross) - V_BE / self.r_pull_off, 0.0)

    def ahead(self) -> float:
        """How far the off side's base is before the on side's, when it begins to conduct [V]."""
        feeds = self.r_c + self.r_cross
        shares = [pull / (feeds + pull) for pull in (self.r_pull_on, self.r_pull_off)]
        return V_BE * (1 - shares[0] / shares[1])

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        card, rail = site.card("card", BipolarCard), site.rail
        amps = rail.low / self.r_c
        for own, drive in (("on", self._drive_on(site, rail.low)), ("off", self._drive_off(rail.low))):
            q, part = site.ref(f"switch_{own}"), site.ref(f"cross_{own}")
            yield saturates(card, id=f"holds_{own}", q=q, drive=max(drive, 1e-9), amps=amps, part=part)
        yield self._level(site)
        yield self._comes_up(site)
        yield from self._contacts(site)

    def _level(self, site: Site) -> Check:
        hung, (level, ohms) = Take.sum(list(site.seen("out"))).ohms, self._open(site.rail.low)
        volts = level * hung / (ohms + hung) if math.isfinite(hung) else level
        return check(
            "on_level",
            "Output while it is on",
            "need",
            "level",
            unit="V",
            nominal=volts,
            least=site.rail.low / 2,
            at=low("what hangs on it counted"),
            says=f"Comes to {show(volts, 'V')}; half the supply is {show(site.rail.low / 2, 'V')}.",
            formula="V · R_{cross} / (R_{C} + R_{cross})",
            numbers=f"{show(volts, 'V')} on the lowest supply",
            because="The other side's base hangs on it too, and what is joined to it.",
            cure="Make the collector resistors smaller, or what hangs on it larger.",
            shown=Shown("out", "active", within=0.06, floor=0.1),
        )

    def _comes_up(self, site: Site) -> Check:
        ahead = self.ahead()
        on, off = site.ref("pull_on"), site.ref("pull_off")
        return check(
            "comes_up_off",
            "Comes up off",
            "need",
            "plugged in",
            unit="V",
            nominal=ahead,
            least=AHEAD,
            at=when("at any speed of the supply"),
            says=f"As the off side begins, the other base is {show(ahead, 'V')} behind.",
            formula="V_{BE} · (1 − share_{on} / share_{off}) ≥ 0.3 V",
            numbers=f"{show_part(self.r_pull_on)} against {show_part(self.r_pull_off)}: {show(ahead, 'V')}",
            because="Two equal sides race: which one wins hangs on a few millivolts, and on the day.",
            cure=f"Make {on} smaller, or {off} larger.",
        )

    def _contacts(self, site: Site) -> Iterator[Check]:
        for port in ("on", "off"):
            contact = site.told(port, Contact)
            if contact is None:
                continue
            amps = site.rail.high / (self.r_c + self.r_cross)
            yield check(
                f"press_{port}",
                f"Current through the {port} button",
                "limit",
                "current",
                unit="A",
                nominal=amps,
                most=contact.most,
                at=high("held"),
                says=f"{show(amps, 'A')} of {show(contact.most, 'A')}.",
                formula="I = V / (R_{C} + R_{cross})",
                numbers=f"{show(amps, 'A')}",
                because="The button takes what would feed the base.",
                cure="Take a button for more current.",
            )

    def windows(self, site: Site) -> tuple[Window, ...]:
        card, rail = site.card("card", BipolarCard), site.rail
        need = rail.low / self.r_c / card.gain_min + V_BE / self.r_pull_on
        cross = [
            bound(
                "high",
                (rail.low - V_BE) / need - self.r_c,
                "holds",
                detail=show(need, "A"),
                guards="holds_on",
                formula="R ≤ (V − V_{BE}) / (I_{C} / h_{FE} + V_{BE} / R_{pull}) − R_{C}",
                because="Through it each side gets what keeps it on.",
            )
        ]
        feeds = self.r_c + self.r_cross
        share = (1 - AHEAD / V_BE) * self.r_pull_off / (feeds + self.r_pull_off)
        pull = [
            bound(
                "high",
                feeds * share / (1 - share),
                "comes up off",
                detail=show(AHEAD, "V"),
                guards="comes_up_off",
                formula="V_{BE} · (1 − share_{on} / share_{off}) ≥ 0.3 V",
                because="Larger, and both sides race as the supply comes up.",
            ),
            bound(
                "low",
                V_BE / max((rail.low - V_BE) / feeds - rail.low / self.r_c / card.gain_min, 1e-9),
                "holds",
                detail="",
                guards="holds_on",
                formula="R ≥ V_{BE} / (I_{cross} − I_{C} / h_{FE})",
                because="Smaller, and it takes all that keeps the on side on.",
            ),
        ]
        return (
            window(site, "r_cross", "cross_on", "base resistors", cross),
            window(site, "r_pull_on", "pull_on", "on side's pull-down", pull),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {"behave": (Word(text="One button turns the load on, the other one off."),)}

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        on, off = site.ref("switch_on"), site.ref("switch_off")
        return (
            StateRow(
                state="Supply plugged in", load="off", why=f"{off} is first: {site.ref('pull_on')} is small"
            ),
            StateRow(state="On pressed", load="on", why=f"{off} gets no base current; {on} gets it"),
            StateRow(state="Let go", load="stays on", why=f"{on} takes {off}'s base current"),
            StateRow(state="Off pressed", load="off", why=f"{on} gets no base current; {off} gets it"),
            StateRow(state="Both pressed", load="on", why="neither conducts, so the output is up"),
            StateRow(state="Both let go", load="as the last one says", why="the one let go last has its way"),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return "Press on and let go, then press off.", "on and stays on, then off"

    def settles(self, site: Site) -> float:
        return SETTLED

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        return scenes(site, SETTLED, cold=True)

    def plays(self, site: Site) -> tuple[Play, ...]:
        return plays(site, SETTLED, plugged=0.02)

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (
            Probe(id="base_on", title="On side's base to 0 V", red="base on strip", signal="base_on"),
            Probe(id="base_off", title="Off side's base to 0 V", red="base off strip", signal="base_off"),
            Probe(id="out", title="Output to 0 V", red="out strip", signal="out"),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            Watch(id="base_on", title="On side's base", unit="V", signal="base_on", place=5),
            Watch(id="base_off", title="Off side's base", unit="V", signal="base_off", place=5),
            Watch(id="out", title="Latch", unit="V", signal="out", place=4),
        )

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_set_reset(pen, site)
