"""A trimmer in line with a timing resistor: what it reaches over every tolerance, how finely a hand sets it,
and which one is needed.

A time is a function of the fixed resistor [Ω], of what stands in line with it [Ω], and of the way in which
every other part is off: 1 at its largest, -1 at its smallest.
"""

from __future__ import annotations

import math
from abc import abstractmethod
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import partial
from typing import Annotated, ClassVar, Literal

from ...fields import Document, Q, quantity_of
from ...quantity import show, show_part
from ...roots import root
from ..contract.descriptions import TURNS, Finder, TurnCurve, TurnMap
from ..contract.parts import END_SHARE, TRACK, Placed, potentiometer
from ..contract.site import Site
from ..say.checks import TIGHT, Change, Check, check, when
from ..say.windows import Bound, Window, bound, choices, window
from ..say.wording import Say, Sentence, Word
from .finding import pairs
from .trigger import PRESS
from .wanted import Telling, Times, Wishing, ends_of, scaled_windows, wish_checks

LEAST, MOST = 1.0, 1e9  # that are looked at [Ω]
HAND = 0.01  # of a turn that a hand sets, assumed
STEPS = (1.0, 2.0, 5.0)  # of every decade in which trimmers are made

FROM = {"press": "the press", "release": "letting go"}

Time = Callable[[float, float, float], float]


Value = tuple[str, str, str]  # its field, its part and its title


class Tuned(Document):
    """A time that a resistor and a capacitor set, with a trimmer in line with the resistor where there is
    one: its track [Ω] and its place [%].
    """

    resistor: ClassVar[Value]
    capacitor: ClassVar[Value]

    tuned: Literal["parts", "trimmer"] = "parts"
    r_trim: Annotated[float, Q("Ω", 100.0, 1e7, marked=True)] = 50e3
    turn: Annotated[float, Q("%", 0.0, 100.0)] = 50.0
    wanted: Annotated[float, Q("s", 1e-5, 1e5)] = 1.0
    at_least: Annotated[float, Q("s", 1e-6, 1e5)] = 0.7
    at_most: Annotated[float, Q("s", 1e-5, 1e6)] = 1.4

    @property
    def plus(self) -> float:
        """What of its time its parts do not make [s]."""
        return 0.0

    @abstractmethod
    def times(self, site: Site) -> Times:
        """Its time, and over all tolerances."""

    def own(self, site: Site) -> Times:
        """What its parts make of its time."""
        return self.times(site).later(-self.plus)

    @property
    def by_hand(self) -> bool:
        """Whether a trimmer sets it."""
        return self.tuned == "trimmer"

    @property
    def fixed(self) -> float:
        """Its resistor [Ω]."""
        return float(getattr(self, self.resistor[0]))

    @property
    def line(self) -> float:
        """What its trimmer leaves in line with that now [Ω]."""
        return in_line(self.r_trim, self.turn) if self.by_hand else 0.0

    @property
    def ohms(self) -> float:
        """Both together [Ω]."""
        return self.fixed + self.line

    @property
    def ohms_words(self) -> str:
        """Both together as it is written."""
        return show(self.ohms, "Ω") if self.line else show_part(self.fixed)

    def behind(self, net: str) -> str:
        """The net at the resistor's far end: one of its own where a trimmer lies before `net`."""
        return "behind" if self.by_hand else net

    def trimmer(self, site: Site, net: str) -> Iterator[Placed]:
        """Its trimmer, if there is one, between the resistor and a net."""
        if self.by_hand:
            legs = {"a": "behind", "w": net, "b": net}
            yield potentiometer(site, "trim", "Trimmer", ("r_trim", "turn"), legs)

    def timed(self, site: Site) -> Time:
        """Its time at a resistor, with what lies in line, its other parts off one way."""

        def time(fixed: float, more: float, way: float) -> float:
            ohms = fixed + more / (1 + way * site.tolerance)
            made = self.model_copy(update={self.resistor[0]: ohms, "tuned": "parts"}).times(site)
            return made.nominal if not way else made.most if way > 0 else made.least

        return time

    def across_turn(self, site: Site) -> TurnMap | None:
        """Its time across the trimmer's turn."""
        return trim_map(site, self)

    def promised(self, site: Site) -> Times:
        """What may be told of its time: what was asked for where a trimmer sets it."""
        return Times(self.wanted, self.at_least, self.at_most) if self.by_hand else self.times(site)


class Counted(Tuned):
    """A time that may be counted from the press or from letting go: the press lies between the two."""

    counted: Literal["press", "release"] = "press"

    @property
    def runs_from(self) -> str:
        """From which of the two it runs by itself."""
        return "press"

    @property
    def plus(self) -> float:
        if self.counted == self.runs_from:
            return 0.0
        return PRESS if self.counted == "press" else -PRESS

    @property
    def says(self) -> str:
        """How its time is told: "On for", and if it matters from when on."""
        return "On for" if self.counted == self.runs_from == "press" else f"From {FROM[self.counted]}, on for"

    def expected(self, site: Site) -> str:
        """What to expect of a press that is tried."""
        return f"{self.says[0].lower()}{self.says[1:]} {ends_of(self.promised(site))}"

    def counting(self, say: Say) -> Sentence:
        """From when it is counted, as words with a field."""
        return Word(text="Counted from"), say.field("counted", note="wished", choices=tuple(FROM.items()))


def in_line(track: float, turn: float) -> float:
    """What a trimmer's wiper leaves in line at a turn [%], in ohms."""
    return track * (END_SHARE + turn / 100)


def reaches(track: float, fixed: float, time: Time) -> tuple[float, float]:
    """What is reached whatever the parts: the shortest and the longest time [s]."""
    return time(fixed, END_SHARE * track, 1.0), time(fixed, track * (1 - TRACK), -1.0)


def reach_down(track: float, time: Time, fixed: float) -> float:
    """What is reached down to, whatever the parts [s]."""
    return reaches(track, fixed, time)[0]


def past(wish: Wishing, of: Callable[[float], float], value: float) -> float:
    """How far a time lies past the one that is wanted [s]; one that never ends lies far past it."""
    made = of(value)
    return (made if math.isfinite(made) else 1e6 * wish.wanted) - wish.wanted


def place(wish: Tuned, track: float, fixed: float, time: Time) -> float:
    """Where on its turn [%] ordinary parts give the time that is wanted; the nearer end where none does."""
    over = partial(past, wish, lambda turn: time(fixed, in_line(track, turn), 0.0))
    if over(0.0) >= 0.0:
        return 0.0
    return 100.0 if over(100.0) <= 0.0 else round(root(over, 0.0, 100.0, share=1e-4), 1)


def crossing(wish: Wishing, of: Callable[[float], float]) -> float | None:
    """The ohms at which a time passes the one that is wanted; none where it does not."""
    try:
        return root(partial(past, wish, of), LEAST, MOST, share=1e-12)
    except ValueError:
        return None


def dimensioned(site: Site, wish: Tuned) -> tuple[Change, ...]:
    """The smallest trimmer, and the largest fixed resistor before it, that reach the wish over every
    tolerance.
    """
    field, time = wish.resistor[0], wish.timed(site)
    ends = quantity_of(type(wish), field)
    assert ends is not None, "a resistor's field has bounds"
    for track in (s * 10.0**k for k in range(3, 6) for s in STEPS):
        most = TIGHT["wish"] * (crossing(wish, partial(reach_down, track, time)) or 0.0)
        fixed = choices(site, "Ω", ends.low, min(most, ends.high), owned_first=False)
        if not fixed or TIGHT["wish"] * reaches(track, fixed[-1], time)[1] < wish.wanted:
            continue
        turn = place(wish, track, fixed[-1], time)
        new = {"tuned": "trimmer", field: fixed[-1], "r_trim": track, "turn": turn}
        return tuple(Change(path=site.path(name), value=value) for name, value in new.items())
    return ()


def trim_checks(site: Site, wish: Tuned) -> Iterator[Check]:
    """Whether the trimmer reaches the time that is wanted, whatever the parts, and how finely it is set."""
    fixed, track, trim, time = wish.fixed, wish.r_trim, site.ref("trim"), wish.timed(site)
    shortest, longest = reaches(track, fixed, time)
    low, high = time(fixed, in_line(track, 0.0), 0.0), time(fixed, in_line(track, 100.0), 0.0)
    step, room = HAND * (high - low), (wish.at_most - wish.at_least) / 2
    good = shortest <= wish.wanted <= longest and step <= room
    cures = () if good else dimensioned(site, wish)
    because = "Every part may be off; the trimmer is there to make up for all of them together."
    yield check(
        "reaches_short",
        "Trimmer reaches down to the wish",
        "wish",
        "time",
        unit="s",
        nominal=low,
        worst=shortest,
        most=wish.wanted,
        at=when("every part at its largest"),
        says=f"{trim} at its end: {show(shortest, 's')} at the worst; {show(wish.wanted, 's')} wanted.",
        formula="t(R_{fixed}) ≤ t_{wanted}, every other part at its largest",
        numbers=f"{show(shortest, 's')} ≤ {show(wish.wanted, 's')}",
        because=because,
        cure="Take a smaller fixed resistor.",
        changes=cures,
    )
    yield check(
        "reaches_long",
        "Trimmer reaches up to the wish",
        "wish",
        "time",
        unit="s",
        nominal=high,
        worst=longest,
        least=wish.wanted,
        at=when("every part at its smallest"),
        says=f"{trim} at its other end: {show(longest, 's')} at the worst; {show(wish.wanted, 's')} wanted.",
        formula="t(R_{fixed} + R_{trimmer}) ≥ t_{wanted}, every other part at its smallest",
        numbers=f"{show(longest, 's')} ≥ {show(wish.wanted, 's')}",
        because=because,
        cure="Take a larger trimmer.",
        changes=cures,
    )
    yield check(
        "settable",
        "Set by hand",
        "practice",
        "time",
        unit="s",
        nominal=step,
        most=max(room, 1e-12),
        at=when(f"a hand that sets to {HAND:.0%} of the turn"),
        says=f"One hundredth of the turn is {show(step, 's')}; half of what may be off is {show(room, 's')}.",
        formula="(t_{longest} − t_{shortest}) / 100 ≤ (t_{most} − t_{least}) / 2",
        numbers=f"({show(high, 's')} − {show(low, 's')}) / 100 ≤ {show(room, 's')}",
        because="A trimmer with a long reach jumps over the time that is wanted.",
        cure="Take a smaller trimmer and a larger fixed resistor.",
        changes=cures,
    )


def trim_windows(site: Site, wish: Tuned) -> tuple[Window, ...]:
    """The windows of the fixed resistor, of the trimmer and of the capacitor."""
    fixed, track, time = wish.fixed, wish.r_trim, wish.timed(site)
    shortest, longest = reaches(track, fixed, time)

    def ends(low: float | None, high: float | None) -> list[Bound]:
        found = []
        if low:
            found.append(
                bound(
                    "low",
                    low,
                    "reaches up to the wish",
                    detail=show(wish.wanted, "s"),
                    guards="reaches_long",
                    formula="the trimmer at its end, every other part at its smallest",
                    because="Smaller, and the trimmer's end is short of the time that is wanted.",
                )
            )
        if high:
            found.append(
                bound(
                    "high",
                    high,
                    "reaches down to the wish",
                    detail=show(wish.wanted, "s"),
                    guards="reaches_short",
                    formula="the trimmer at its start, every other part at its largest",
                    because="Larger, and even the trimmer's start is longer than what is wanted.",
                )
            )
        return found

    resistor = ends(
        crossing(wish, lambda r: reaches(track, r, time)[1]), crossing(wish, partial(reach_down, track, time))
    )
    capacity = float(getattr(wish, wish.capacitor[0]))
    own = [t - wish.plus for t in (longest, shortest)]
    scale = [(wish.wanted - wish.plus) / t if 0 < t < math.inf else None for t in own]
    capacitor = ends(*(s and capacity * s for s in scale))
    trimmer = ends(crossing(wish, lambda t: reaches(t, fixed, time)[1]), None)
    return (
        window(site, *wish.resistor, resistor),
        window(site, "r_trim", "trim", "trimmer", trimmer),
        window(site, *wish.capacitor, capacitor),
    )


def trim_map(site: Site, wish: Tuned) -> TurnMap | None:
    """The time across the trimmer's whole turn."""
    if not wish.by_hand:
        return None
    fixed, track, time = wish.fixed, wish.r_trim, wish.timed(site)
    every = [(turn, time(fixed, in_line(track, turn), 0.0)) for turn in TURNS]
    told = [(turn, made) for turn, made in every if math.isfinite(made)]
    shortest, longest = reaches(track, fixed, time)
    reached = f"it reaches {show(shortest, 's')} to {show(longest, 's')}"
    if longest < shortest:
        reached = "no time is sure to be reached"
    stands = f"With ordinary parts {show(wish.wanted, 's')} stand at {place(wish, track, fixed, time):g}%."
    if not every[0][1] <= wish.wanted <= every[-1][1]:
        stands = f"With ordinary parts {show(wish.wanted, 's')} lie outside its turn."
    return TurnMap(
        title=f"{site.ref('trim')} across its turn",
        path=site.path("turn"),
        at=wish.turn,
        turns=tuple(turn for turn, _ in told),
        curves=(
            TurnCurve(
                title="time",
                unit="s",
                values=tuple(made for _, made in told),
                low=wish.at_least,
                high=wish.at_most,
            ),
        ),
        says=(f"Whatever the parts, {reached}.", stands),
    )


def tuned_windows(site: Site, wish: Tuned, leaks: Sequence[Bound] = ()) -> tuple[Window, ...]:
    """The windows of a time that grows with its resistor and with its capacitor."""
    if wish.by_hand:
        return trim_windows(site, wish)
    return scaled_windows(
        site, wish, wish.times(site), wish.resistor, wish.capacitor, leaks=leaks, plus=wish.plus
    )


def tuned_pairs(site: Site, wish: Tuned, per: float) -> Finder:
    """Capacitors to choose from, each with the resistor that it needs, the nearest first.

    `per` is the time that every ohm and farad gives [s].
    """
    fields = wish.resistor[0], wish.capacitor[0]

    def needs(farads: float) -> float:
        return (wish.wanted - wish.plus) / per / farads - wish.line

    return pairs(site, wish, fields, needs, trimmed=wish.by_hand)


def tuning(say: Say, wish: Tuned) -> Sentence:
    """How the time is set, as a sentence."""
    ways = (("parts", "what the parts give"), ("trimmer", "set with a trimmer"))
    how: Sentence = (Word(text="The time is"), say.field("tuned", note="the time", choices=ways))
    if not wish.by_hand:
        return how
    return (
        *how,
        Word(text="of"),
        say.field("r_trim", note="trimmer"),
        Word(text="at"),
        say.field("turn", note="of its turn"),
    )


def time_checks(site: Site, wish: Tuned, telling: Telling) -> Iterator[Check]:
    """Whether a time is what was asked for: as the parts fall, or as its trimmer stands and reaches."""
    times = wish.times(site)
    if wish.by_hand:
        turn = place(wish, wish.r_trim, wish.fixed, wish.timed(site))
        set_now = replace(
            telling,
            because="As the trimmer stands now, with ordinary parts.",
            part=f"{site.ref('trim')}'s turn",
            changes=(Change(path=site.path("turn"), value=turn),),
            sort="practice",
        )
        yield from wish_checks(wish, Times(times.nominal, times.nominal, times.nominal), set_now)
        yield from trim_checks(site, wish)
        return
    inside = wish.at_least <= times.least <= times.most <= wish.at_most
    changes = () if inside else dimensioned(site, wish)
    other = ", or fit a trimmer" if changes else ""
    yield from wish_checks(wish, times, replace(telling, changes=changes, other=other))
