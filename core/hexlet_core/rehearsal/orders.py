"""Who ends up on: what an interlock makes of its buttons in every order, two at a time.

Each case is a run of the whole design for every ordered pair of channels, on the highest supply, where the
next one pulls in fastest. A channel is on while its load takes half of what it usually does; two that are on
at once are told with how long.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import permutations
from typing import Literal

import numpy as np

from ..circuit import batch
from ..circuit.measure import signal
from ..circuit.solve import transient
from ..design.study import Study
from ..errors import DocumentError, HexletError, Problem
from ..fields import Document
from ..quantity import show
from ..stages.contract import Act, Corner, Site
from ..stages.contract.stage import Selecting
from .lit import half_amps, load_signal

TAP, GAP, REST = 0.1, 0.5, 0.4  # a press, from one to the next, and after the last until all is decided [s]
FIRST, LATER = 0.1, 0.2  # when the first goes down, and how much later the second where both are held [s]
HELD = 0.5  # how long two are held together [s]
BRIEF = 1e-6  # two on for less than this are not [s]
Who = Literal["first", "second", "off"]


class Bar(Document):
    """Which button is down, from when to when [s]."""

    who: Who
    begin: float
    end: float


@dataclass(frozen=True)
class _Case:
    """Two buttons pressed somehow, when it is looked at [s], and what is meant to be on, if one thing is."""

    words: str
    bars: tuple[Bar, ...]
    look: float
    meant: str = ""


def _cases() -> tuple[_Case, ...]:
    """The same for every interlock: what people do with two buttons."""

    def down(who: Who, begin: float, end: float) -> Bar:
        return Bar(who=who, begin=begin, end=end)

    first = down("first", FIRST, FIRST + TAP)
    second = down("second", FIRST + GAP, FIRST + GAP + TAP)
    both = FIRST + LATER
    let = both + HELD
    return (
        _Case("First tapped, none on", (first,), first.end + REST, "the first"),
        _Case("Second tapped while the first is on", (first, second), second.end + REST, "the second"),
        _Case("Both held", (down("first", FIRST, let), down("second", both, let)), let - 0.05),
        _Case(
            "Both held, first let go",
            (down("first", FIRST, let), down("second", both, let + LATER)),
            let + LATER + REST,
        ),
        _Case(
            "Both held, second let go",
            (down("first", FIRST, let + LATER), down("second", both, let)),
            let + LATER + REST,
        ),
        _Case("Both let go at once", (down("first", FIRST, let), down("second", both, let)), let + REST),
        _Case(
            "Off pressed while one is on",
            (first, down("off", FIRST + GAP, FIRST + GAP + TAP)),
            FIRST + GAP + TAP + REST,
            "none",
        ),
        _Case("Supply comes, nobody presses", (), FIRST + REST, "none"),
    )


class Ended(Document):
    """Which channels are on in the end for one ordered pair, and how long two were on at once [s]."""

    first: int
    second: int
    on: tuple[int, ...]
    overlap: float


class Order(Document):
    """One way to press two buttons: when each is down, what comes of it for every pair, and in words."""

    words: str
    bars: tuple[Bar, ...]
    stop: float
    pairs: tuple[Ended, ...]
    ends: str
    alike: bool  # whether every pair ends the same way
    meant: bool  # and as it is meant to, where one way is


class Orders(Document):
    """Every way, the buttons by name, and whether two are ever on."""

    channels: int
    orders: tuple[Order, ...]
    overlap: float
    runs: int
    says: str


class OrdersStep(Document):
    """How far the work is, and the answer at the end."""

    done: int
    of: int
    orders: Orders | None = None


class _Interlock:
    """The design with its channels' loads and buttons."""

    def __init__(self, here: Study) -> None:
        found = next(((s, site) for s, site in here.pairs if isinstance(s, Selecting)), None)
        if found is None or here.open:
            raise DocumentError(Problem("blocks", "Nothing here chooses between channels."))
        self.here = here
        self.stage: Selecting
        self.site: Site
        self.stage, self.site = found
        self.volts = here.design.supply.high
        loads = here.design.of_role("load")[: len(self.stage.channels)]
        self.loads = [(load_signal(here, load), half_amps(here, load, self.volts)) for load in loads]

    def who(self, bar: Who, first: int, second: int) -> str:
        return self.stage.presser(self.site, {"first": first, "second": second, "off": 0}[bar])

    def run(self, asked: tuple[_Case, int, int]) -> Ended | None:
        """What comes of one case for one pair; nothing where the circuit does not settle."""
        case, first, second = asked
        acts = tuple(
            Act(self.who(b.who, first, second), "active", b.begin, b.end - b.begin) for b in case.bars
        )
        try:
            waves = transient(self.here.acted(Corner(supply=self.volts), acts), case.look, from_rest=True)
        except HexletError:
            return None
        lit = np.array([np.abs(signal(waves, name)) > amps for name, amps in self.loads])
        steps = np.diff(waves.time, append=waves.time[-1])
        together = float(steps[lit.sum(axis=0) > 1].sum())
        on = tuple(k + 1 for k in range(len(self.loads)) if lit[k, -1])
        return Ended(first=first, second=second, on=on, overlap=together if together > BRIEF else 0.0)


def orders(here: Study) -> Iterator[OrdersStep]:
    """Every case for every ordered pair, then the answer. Closing the iterator ends the work.

    Raises:
        DocumentError: nothing in the design chooses between channels.
    """
    made = _Interlock(here)
    pairs = list(permutations(made.stage.channels[: len(made.loads)], 2))
    asked = [(case, a, b) for case in _cases() for a, b in pairs]
    found: list[Ended | None] = []
    for outcome in batch.stream(made.run, asked):
        found.append(outcome)
        yield OrdersStep(done=len(found), of=len(asked))
    told, n = [], len(pairs)
    for k, case in enumerate(_cases()):
        own = [o for o in found[k * n : (k + 1) * n] if o is not None]
        ends = {_ends(o) for o in own}
        ranks = {_ranked(o) for o in own}
        one = ends if len(ends) == 1 else ranks
        told.append(
            Order(
                words=case.words,
                bars=case.bars,
                stop=case.look,
                pairs=tuple(own),
                ends=next(iter(one)) if len(one) == 1 else "by place",
                alike=len(one) == 1 and len(own) == n,
                meant=not case.meant or ends == {case.meant},
            )
        )
    answer = Orders(
        channels=len(made.loads),
        orders=tuple(told),
        overlap=max((o.overlap for t in told for o in t.pairs), default=0.0),
        runs=len(asked),
        says=_says(told),
    )
    yield OrdersStep(done=len(asked), of=len(asked), orders=answer)


def _ends(outcome: Ended) -> str:
    """How it ends, by which of the two is on."""
    names = {outcome.first: "the first", outcome.second: "the second"}
    on = [names.get(k, "another one") for k in outcome.on]
    return " and ".join(on) or "none"


def _ranked(outcome: Ended) -> str:
    """The same by their places in the row."""
    low, high = sorted((outcome.first, outcome.second))
    if outcome.on == (low,):
        return "the lower number"
    return "the higher number" if outcome.on == (high,) else _ends(outcome)


def _says(told: list[Order]) -> str:
    two = [t for t in told if any(len(o.on) > 1 for o in t.pairs)]
    if two:
        return f"Two stay on: {two[0].words.lower()}."
    wrong = next((t for t in told if not t.meant), None)
    if wrong is not None:
        return f"{wrong.words}: in the end {wrong.ends}."
    worst = max((o for t in told for o in t.pairs), key=lambda o: o.overlap, default=None)
    if worst is not None and worst.overlap > 0.0:
        ms = show(worst.overlap, "s", 2)
        return (
            f"In the end never two, but channels {worst.first} and {worst.second} are on together for {ms}."
        )
    return "Never two at once, in any order and between any two."
