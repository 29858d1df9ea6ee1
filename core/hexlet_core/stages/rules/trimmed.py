"""A trimmer in line with a timing resistor: what it reaches over every tolerance, how finely a hand sets it,
and which one is needed.

A time is a function of the fixed resistor [Ω], of what stands in line with it [Ω], and of the way in which
every other part is off: 1 at its largest, -1 at its smallest.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial
from typing import Protocol

from ...fields import quantity_of
from ...quantity import show
from ...roots import root
from ..contract.descriptions import TURNS, TurnCurve, TurnMap
from ..contract.parts import END_SHARE, TRACK
from ..contract.site import Site
from ..say.checks import TIGHT, Change, Check, check, when
from ..say.windows import Bound, Window, bound, choices, window
from ..say.wording import Say, Sentence, Word
from .wanted import Telling, Times, Wishing, wish_checks

LEAST, MOST = 1.0, 1e9  # that are looked at [Ω]
HAND = 0.01  # of a turn that a hand sets, assumed
STEPS = (1.0, 2.0, 5.0)  # of every decade in which trimmers are made

Time = Callable[[float, float, float], float]


class Trimmable(Wishing, Protocol):
    """A kind whose time may be set by a trimmer: its track [Ω] and its place [%]."""

    @property
    def tuned(self) -> str: ...

    @property
    def r_trim(self) -> float: ...

    @property
    def turn(self) -> float: ...


def in_line(track: float, turn: float) -> float:
    """What a trimmer's wiper leaves in line at a turn [%], in ohms."""
    return track * (END_SHARE + turn / 100)


def trimmed(wish: Trimmable) -> float:
    """What stands in line with the fixed resistor now [Ω]."""
    return in_line(wish.r_trim, wish.turn) if wish.tuned == "trimmer" else 0.0


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


def place(wish: Trimmable, track: float, fixed: float, time: Time) -> float:
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


def dimensioned(site: Site, wish: Trimmable, field: str, time: Time) -> tuple[Change, ...]:
    """The smallest trimmer, and the largest fixed resistor before it, that reach the wish over every
    tolerance.
    """
    ends = quantity_of(type(site.stage), field)
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


def trim_checks(site: Site, wish: Trimmable, field: str, time: Time) -> Iterator[Check]:
    """Whether the trimmer reaches the time that is wanted, whatever the parts, and how finely it is set."""
    fixed, track, trim = float(getattr(site.stage, field)), wish.r_trim, site.ref("trim")
    shortest, longest = reaches(track, fixed, time)
    low, high = time(fixed, in_line(track, 0.0), 0.0), time(fixed, in_line(track, 100.0), 0.0)
    step, room = HAND * (high - low), (wish.at_most - wish.at_least) / 2
    good = shortest <= wish.wanted <= longest and step <= room
    cures = () if good else dimensioned(site, wish, field, time)
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


def trim_windows(
    site: Site, wish: Trimmable, values: tuple[tuple[str, str, str], tuple[str, str, str]], time: Time
) -> tuple[Window, ...]:
    """The windows of the fixed resistor, of the trimmer and of the capacitor.

    Args:
        values: of the resistor and the capacitor: field, part and title.
    """
    (field, _, _), (farads, _, _) = values
    fixed, track = float(getattr(site.stage, field)), wish.r_trim
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
    capacity = float(getattr(site.stage, farads))
    scale = [wish.wanted / t if 0 < t < math.inf else None for t in (longest, shortest)]
    capacitor = ends(*(s and capacity * s for s in scale))
    trimmer = ends(crossing(wish, lambda t: reaches(t, fixed, time)[1]), None)
    return (
        window(site, *values[0], resistor),
        window(site, "r_trim", "trim", "trimmer", trimmer),
        window(site, *values[1], capacitor),
    )


def trim_map(site: Site, wish: Trimmable, field: str, time: Time) -> TurnMap | None:
    """The time across the trimmer's whole turn."""
    if wish.tuned != "trimmer":
        return None
    fixed, track = float(getattr(site.stage, field)), wish.r_trim
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


def tuning(say: Say, wish: Trimmable) -> Sentence:
    """How the time is set, as a sentence."""
    ways = (("parts", "what the parts give"), ("trimmer", "set with a trimmer"))
    how: Sentence = (Word(text="The time is"), say.field("tuned", note="the time", choices=ways))
    if wish.tuned != "trimmer":
        return how
    return (
        *how,
        Word(text="of"),
        say.field("r_trim", note="trimmer"),
        Word(text="at"),
        say.field("turn", note="of its turn"),
    )


def time_checks(
    site: Site, wish: Trimmable, field: str, times: Times, time: Time, telling: Telling
) -> Iterator[Check]:
    """Whether a time is what was asked for: as the parts fall, or as its trimmer stands and reaches."""
    if wish.tuned == "trimmer":
        turn = place(wish, wish.r_trim, float(getattr(site.stage, field)), time)
        set_now = replace(
            telling,
            because="As the trimmer stands now, with ordinary parts.",
            part=f"{site.ref('trim')}'s turn",
            changes=(Change(path=site.path("turn"), value=turn),),
            sort="practice",
        )
        yield from wish_checks(wish, Times(times.nominal, times.nominal, times.nominal), set_now)
        yield from trim_checks(site, wish, field, time)
        return
    inside = wish.at_least <= times.least <= times.most <= wish.at_most
    changes = () if inside else dimensioned(site, wish, field, time)
    other = ", or fit a trimmer" if changes else ""
    yield from wish_checks(wish, times, replace(telling, changes=changes, other=other))
