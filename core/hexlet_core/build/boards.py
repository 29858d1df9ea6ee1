"""Solderless boards: what a person owns, how their seats are named, and where they lie.

A board has two halves of five seats a position, a gap between them that chips straddle, and on each side two
rails, whole or split in the middle. Seats lie on one pitch of 2.54 mm; a seat's name is its position and its
row, "14 d".
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal, NamedTuple

from pydantic import Field

from ..fields import Document

PITCH = 2.54  # between neighbouring seats [mm]
UPPER, LOWER = tuple("abcde"), tuple("fghij")
Row = Literal["+top", "0top", "a", "b", "c", "d", "e", "f", "g", "h", "i", "j", "0bottom", "+bottom"]
# Where each row lies across the board [pitches]: the gap is three wide, so that a chip's two rows fit.
ACROSS: dict[str, int] = {
    "+top": 0,
    "0top": 1,
    **{row: 4 + k for k, row in enumerate(UPPER)},
    **{row: 11 + k for k, row in enumerate(LOWER)},
    "0bottom": 18,
    "+bottom": 19,
}
BETWEEN = 12  # unused positions between two boards as the planner counts: wider than any part


class Board(Document):
    """One board that a person owns."""

    positions: Literal[30, 63] = 30
    rails: Literal["whole", "split"] = "whole"


Boards = Annotated[tuple[Board, ...], Field(min_length=1, max_length=4)]
OWNED: tuple[Board, ...] = (Board(positions=30), Board(positions=63))


class Seat(Document):
    """One seat: the board counted from 1, the position along it, the row across it."""

    board: Annotated[int, Field(ge=1, le=4)] = 1
    column: Annotated[int, Field(ge=1, le=63)]
    row: Row

    @property
    def rail(self) -> str:
        """ "+" or "0" on a rail; nothing on a strip."""
        return self.row[0] if self.row[0] in "+0" else ""

    @property
    def side(self) -> int:
        """0 above the gap, 1 below."""
        return 0 if self.row in UPPER or self.row.endswith("top") else 1

    @property
    def across(self) -> int:
        """How far down the board [pitches]."""
        return ACROSS[self.row]

    @property
    def word(self) -> str:
        """Its name to a person: "14 d", "+ rail at 14"."""
        board = f"board {self.board}, " if self.board > 1 else ""
        if not self.rail:
            return f"{board}{self.column} {self.row}"
        which = "top" if self.side == 0 else "bottom"
        return f"{board}{which} {'+' if self.rail == '+' else '0 V'} rail at {self.column}"


class Segment(NamedTuple):
    """A stretch of rail that is one piece of metal: its side, and its first and last position as the planner
    counts.
    """

    side: int
    first: int
    last: int


@dataclass(frozen=True)
class Bench:
    """Boards end to end, counted through: position 1 of the second follows the last of the first after a
    break that no part spans.
    """

    boards: tuple[Board, ...]

    @cached_property
    def starts(self) -> tuple[int, ...]:
        """What each board's position 0 counts as."""
        found, at = [], 0
        for board in self.boards:
            found.append(at)
            at += board.positions + BETWEEN
        return tuple(found)

    @cached_property
    def length(self) -> int:
        """The last position."""
        return self.starts[-1] + self.boards[-1].positions

    @cached_property
    def stretches(self) -> tuple[tuple[int, int], ...]:
        """First and last position of each board."""
        return tuple((s + 1, s + b.positions) for s, b in zip(self.starts, self.boards, strict=True))

    @cached_property
    def columns(self) -> tuple[int, ...]:
        """Every position that is there."""
        return tuple(c for first, last in self.stretches for c in range(first, last + 1))

    @cached_property
    def segments(self) -> tuple[Segment, ...]:
        """Every piece of rail metal of one polarity; both polarities are alike."""
        return tuple(self._pieces())

    def _pieces(self) -> Iterator[Segment]:
        for side in (0, 1):
            for (first, last), board in zip(self.stretches, self.boards, strict=True):
                if board.rails == "whole":
                    yield Segment(side, first, last)
                else:
                    middle = (first + last) // 2
                    yield Segment(side, first, middle)
                    yield Segment(side, middle + 1, last)

    def segment(self, side: int, column: int) -> int:
        """Which piece of rail runs past a position on a side."""
        return next(k for k, s in enumerate(self.segments) if s.side == side and s.first <= column <= s.last)

    def seat(self, column: int, row: str) -> Seat:
        """A seat by the planner's count."""
        board = max(k for k, start in enumerate(self.starts) if start < column)
        return Seat.model_validate({"board": board + 1, "column": column - self.starts[board], "row": row})

    def column(self, seat: Seat) -> int:
        """A seat's position by the planner's count."""
        return self.starts[seat.board - 1] + seat.column

    def holds(self, seat: Seat) -> bool:
        """Whether the boards have such a seat."""
        return seat.board <= len(self.boards) and seat.column <= self.boards[seat.board - 1].positions
