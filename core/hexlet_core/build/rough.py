"""A plan before its rows: which strip each leg takes, and which strips are of one net."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import NamedTuple

from .boards import ACROSS, Bench, Board
from .bodies import BoardPart, Wanted
from .layout import Placing
from .proof import cells

RAIL_SPAN = {"0": 3, "+": 4}  # from a strip's outermost seat to each rail [pitches]
GAP_SPAN = 3  # between the two innermost rows [pitches]
SEATS = 5  # of a strip
MARGIN = 3  # the first position in use, where there is a choice


class Strip(NamedTuple):
    """A strip by its side (0 above the gap, 1 below) and its position."""

    side: int
    column: int


class Spot(NamedTuple):
    """Where a leg goes: into a strip, or onto the rail of a polarity on that side."""

    side: int
    column: int
    rail: str = ""

    @property
    def strip(self) -> Strip:
        return Strip(self.side, self.column)


@dataclass(frozen=True)
class Rough:
    """A plan by strips: a spot for every leg of every body, and each net's strips."""

    legs: dict[str, tuple[Spot, ...]]
    strips: dict[str, tuple[Strip, ...]]
    links: int = 0
    pieces: frozenset[tuple[str, int]] = field(default_factory=frozenset)  # of rails in use, by polarity


def rail_depth(body: BoardPart, sign: str) -> int | None:
    """How many seats of a strip a part takes that goes from it to a rail; None where it does not reach."""
    span = RAIL_SPAN[sign]
    depth = max(0, body.reach.low - span)
    return depth + 1 if span + depth <= body.reach.high else None


def gap_depth(body: BoardPart) -> tuple[int, int] | None:
    """The seats that a part across the gap takes above it and below it."""
    more = max(0, body.reach.low - GAP_SPAN)
    return (1, 1 + more) if GAP_SPAN + more <= body.reach.high else None


def slid(rough: Rough, ground: Ground) -> Rough:
    """The same plan as near to the board's left end as is usual, where one board with whole rails takes it
    all.
    """
    boards = ground.bench.boards
    spots = [s.column for spots in rough.legs.values() for s in spots if not s.rail]
    columns = [*spots, *(s.column for strips in rough.strips.values() for s in strips)]
    if len(boards) > 1 or boards[0].rails == "split" or not columns:
        return rough
    last = ground.bench.length
    by = min(MARGIN - min(columns), last - max(columns))

    def moved(column: int) -> int:
        return min(max(column + by, 1), last)

    return Rough(
        {key: tuple(s._replace(column=moved(s.column)) for s in spots) for key, spots in rough.legs.items()},
        {
            net: tuple(s._replace(column=moved(s.column)) for s in strips)
            for net, strips in rough.strips.items()
        },
        rough.links,
        rough.pieces,
    )


def rails_needed(wanted: Wanted) -> dict[str, str]:
    """The rails that something uses, net to polarity."""
    return {net: sign for net, sign in wanted.polarity.items() if net in wanted.nets}


class Ground:
    """What planner and rows both ask of the boards: their metal, counted through."""

    def __init__(self, boards: tuple[Board, ...]) -> None:
        self.bench = Bench(boards)
        self.columns = self.bench.columns
        self.there = frozenset(self.columns)

    def free_runs(self, count: int) -> list[int]:
        """Every position from which so many follow without a break."""
        return [c for c in self.columns if all(c + k in self.there for k in range(count))]

    def under(self, placing: Placing) -> Iterator[tuple[Strip, int]]:
        """Every seat of a strip that a part takes or lies over, as how far it is from the outermost."""
        for board, column, across in sorted(cells(placing)):
            at = self.bench.starts[board - 1] + column
            if ACROSS["a"] <= across <= ACROSS["e"]:
                yield Strip(0, at), across - ACROSS["a"]
            elif ACROSS["f"] <= across <= ACROSS["j"]:
                yield Strip(1, at), ACROSS["j"] - across
