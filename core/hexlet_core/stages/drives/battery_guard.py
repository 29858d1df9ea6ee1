"""What battery guards share: a divider with a trimmer, the volts at which they let go, and what that trimmer
reaches.
"""

from __future__ import annotations

import math
from abc import abstractmethod
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from statistics import fmean
from typing import Annotated

from ...cards.card import FieldEffectCard
from ...fields import Q
from ...quantity import show
from ...roots import root
from ..contract.descriptions import TURNS, Calibration, TurnCurve, TurnMap
from ..contract.facts import Control, Side, Switch
from ..contract.parts import END_SHARE, TRACK
from ..contract.site import Site
from ..rules.gate_drive import GateDrive
from ..say.checks import Change, Check, check, when
from ..say.wording import Say, Sentence, Word
from .base import Uncommanded

THRICE = 3  # tries that agree
READS = 0.005  # how far an ordinary meter is off, as a share
CLOSED = "full"  # no scene has this name: on a low supply it is on or off, as it was before
LEAST, MOST = 2.0, 60.0  # battery volts that are looked at [V]


class BatteryGuard(Uncommanded):
    """A kind says at which volts it lets go, its reference and its divider off by shares."""

    output = "drain"
    main = "gate"

    card: str = "pmos-55v-12a"
    r_top: Annotated[float, Q("Ω", 1e3, 1e7)] = 36e3
    r_trim: Annotated[float, Q("Ω", 100.0, 1e6, marked=True)] = 10e3
    turn: Annotated[float, Q("%", 0.0, 100.0)] = 38.0
    r_bottom: Annotated[float, Q("Ω", 100.0, 1e7)] = 22e3
    c_filter: Annotated[float, Q("F", 1e-9, 1e-2)] = 4.7e-6
    wanted: Annotated[float, Q("V", 1.0, 60.0)] = 10.8
    at_least: Annotated[float, Q("V", 1.0, 60.0)] = 10.5
    at_most: Annotated[float, Q("V", 1.0, 60.0)] = 11.1

    @property
    def side(self) -> Side:
        return "high"

    # --- facts --------------------------------------------------------------------------------------
    @abstractmethod
    def drive(self, site: Site) -> GateDrive:
        """Its gate, and what pulls that down."""

    def switches(self, site: Site) -> Switch:
        made = self.mosfet_switch(site, site.card("card", FieldEffectCard), self.drive(site))
        return replace(made, scene=CLOSED)

    def controlled(self, site: Site) -> Control:
        return Control("gate", most=site.card("card", FieldEffectCard).v_gs_max)

    # --- its levels ---------------------------------------------------------------------------------
    @abstractmethod
    def cuts(self, site: Site, turn: float | None = None, divider: float = 0.0, ref: float = 0.0) -> float:
        """The battery's volts at which it lets go, the divider's ends and the reference off by shares."""

    @abstractmethod
    def apart(self, site: Site) -> float:
        """How far its reference may be off, as a share."""

    @abstractmethod
    def formula(self) -> str:
        """How the volts at which it lets go come about."""

    def curves(self, site: Site) -> tuple[TurnCurve, ...]:
        """Its levels across the trimmer's turn."""
        cuts = tuple(self.cuts(site, t) for t in TURNS)
        return (TurnCurve(title="off at", unit="V", values=cuts, low=self.at_least, high=self.at_most),)

    def share(self, turn: float, off: float = 0.0) -> float:
        """What of the battery is compared; the divider's ends apart by a tolerance."""
        above = self.r_top * (1 + off) + self.r_trim * (END_SHARE + turn / 100)
        below = self.r_bottom * (1 - off) + self.r_trim * (1 - turn / 100 + END_SHARE)
        return below / (above + below)

    @property
    def source(self) -> float:
        """The resistance behind the divider's tap [Ω]."""
        return self.share(self.turn) * (self.r_top + self.r_trim * self.turn / 100)

    @staticmethod
    def crossing(over: Callable[[float], float]) -> float:
        """The battery's volts at which a comparison changes sign; no end where it does not."""
        return root(over, LEAST, MOST) if over(LEAST) < 0 < over(MOST) else math.inf

    def reaches(self, site: Site) -> tuple[float, float]:
        """The lowest and the highest volts that its trimmer reaches whatever the parts."""
        tol, apart = site.tolerance, self.apart(site)
        return self.cuts(site, 0.0, tol, apart), self.cuts(site, 100.0 * (1 - TRACK), -tol, -apart)

    def turn_for(self, site: Site, volts: float) -> float:
        """Where the trimmer stands for some volts, at one of its ends where it does not reach them [%]."""

        def over(turn: float) -> float:
            return self.cuts(site, turn) - volts

        if over(0.0) >= 0.0:
            return 0.0
        return 100.0 if over(100.0) <= 0.0 else root(over, 0.0, 100.0, share=1e-4)

    def place(self, site: Site) -> float:
        """Where the trimmer stands for the volts that are wanted [%]."""
        return round(self.turn_for(site, self.wanted), 1)

    # --- what is said -------------------------------------------------------------------------------
    def level_checks(self, site: Site) -> Iterator[Check]:
        """Whether it lets go where it is asked to, and whether its trimmer reaches there."""
        cuts, p = self.cuts(site), site.ref("trim")
        turn = (Change(path=site.path("turn"), value=self.place(site)),)
        told = (
            ("cuts_early", "Cut off early enough", self.at_least, None),
            ("cuts_late", "Not cut off too early", None, self.at_most),
        )
        for id, title, least, most in told:
            yield check(
                id,
                title,
                "practice",
                "volts",
                unit="V",
                nominal=cuts,
                least=least,
                most=most,
                at=when(f"{p} as it stands, ordinary parts"),
                says=f"Cut off at {show(cuts, 'V')}; {show(self.at_least, 'V')} to {show(self.at_most, 'V')} "
                "asked.",
                formula=self.formula(),
                numbers=f"k = {self.share(self.turn):.3f}: {show(cuts, 'V')}",
                because="Deeper, and the battery is ruined; sooner, and its charge is left unused.",
                cure=f"Turn {p}.",
                changes=turn,
            )
        lowest, highest = self.reaches(site)
        for id, title, volts in (("reaches_low", "down", lowest), ("reaches_high", "up", highest)):
            yield check(
                id,
                f"Trimmer reaches {title} to the wish",
                "wish",
                "volts",
                unit="V",
                nominal=self.cuts(site, 0.0 if title == "down" else 100.0),
                worst=volts,
                most=self.wanted if title == "down" else None,
                least=None if title == "down" else self.wanted,
                at=when("reference and divider off one way"),
                says=f"{p} at its end: {show(volts, 'V')} at the worst; {show(self.wanted, 'V')} wanted.",
                formula="V_{off} at the trimmer's end, every other part at its worst",
                numbers=f"{show(lowest, 'V')} to {show(highest, 'V')}",
                because="The reference alone may be some percent off: the trimmer makes up for it.",
                cure="Take a larger trimmer, or another divider.",
            )

    def inrush_check(self, site: Site) -> Check:
        """Whether the filter rides the load's first moment."""
        tau, brief = self.source * self.c_filter, site.demand().brief(site.rail)
        return check(
            "rides_inrush",
            "Rides the load's first moment",
            "practice",
            "surge",
            unit="s",
            nominal=tau,
            worst=0.7 * tau,
            least=max(brief, 1e-4),
            at=when("a battery that sags"),
            says=f"The filter takes {show(tau, 's')}; the first moment lasts {show(brief, 's')}.",
            formula="R_{divider} · C_{filter} ≥ t_{inrush}",
            numbers=f"{show(self.source, 'Ω')} · {show(self.c_filter, 'F')} = {show(tau, 's')}",
            because="Without it the inrush itself cuts the load off.",
            cure=f"Make {site.ref('filter')} larger.",
        )

    # --- its calibration ----------------------------------------------------------------------------
    def calibrated(self, site: Site, readings: Sequence[float]) -> Calibration:
        """What the volts at which it let go say. The parts in hand are off by the same share at every turn:
        reading over prediction where the trimmer stands, so the turn that gives the wish follows.
        """
        steps = self._steps(site)
        if not readings:
            return Calibration(mean=None, apart=None, turn=None, done=False, says=steps[0], steps=steps)
        mean, apart = fmean(readings), max(readings) - min(readings)
        share = mean / self.cuts(site)
        least = self.at_least + apart + READS * mean
        aims = max(self.wanted, least)
        found = self.turn_for(site, aims / share)
        turn = round(found, 1) if 0.0 < found < 100.0 else None
        inside = least <= mean <= self.at_most
        done = len(readings) >= THRICE and inside
        told = f"{show(mean, 'V', 4)} on the mean of {len(readings)}, {show(apart, 'V', 2)} apart"
        if done:
            says = f"{told}: it is set. Note it, and seal the trimmer."
        elif inside:
            says = f"{told}: inside. Once more, until there are {THRICE}."
        elif turn is None:
            says = f"{told}: the trimmer does not reach {show(aims, 'V')}. Look for a wrong part."
        else:
            way = "up" if turn > self.turn else "down"
            says = f"{told}: turn {way} by {abs(turn - self.turn):.1f}%, to {turn:.1f}%, and try again."
        return Calibration(mean=mean, apart=apart, turn=turn, done=done, says=says, steps=steps)

    @property
    def again(self) -> str:
        """How it is made ready for the next try."""
        return "Go up until it is on again"

    def _steps(self, site: Site) -> tuple[str, ...]:
        """How the level is found, without ruining a battery."""
        p, begin = site.ref("trim"), show(1.1 * self.at_most, "V")
        return (
            f"A supply that can be turned for the battery, at {begin}, with the load; meter at the board.",
            f"{p} to the end where it surely stays on, 0%; then to {self.place(site):g}%, as calculated.",
            "Come down slowly, a tenth of a volt in five seconds, and enter the volts at which it goes off.",
            f"{self.again}, and come down again: {THRICE} times, from above each time.",
        )

    def across_turn(self, site: Site) -> TurnMap:
        """Its levels across the trimmer's turn."""
        lowest, highest = self.reaches(site)
        return TurnMap(
            title=f"{site.ref('trim')} across its turn",
            path=site.path("turn"),
            at=self.turn,
            turns=TURNS,
            curves=self.curves(site),
            says=(
                f"Whatever the parts, it reaches {show(lowest, 'V')} to {show(highest, 'V')}.",
                f"With ordinary parts {show(self.wanted, 'V')} stand at {self.place(site):g}%.",
            ),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (
                Word(text="Cut off when the battery falls to"),
                say.field("wanted", note="wanted"),
                Word(text="anything from"),
                say.field("at_least", note="at least"),
                Word(text="to"),
                say.field("at_most", note="at most"),
                Word(text="will do. The trimmer stands at"),
                say.field("turn", note="of its turn"),
            )
        }
