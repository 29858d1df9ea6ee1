"""Parts moved by hand: shifted, turned round, or one leg put elsewhere. What that does is for the proof to
say.
"""

from __future__ import annotations

from ..errors import DocumentError, Problem
from .boards import ACROSS, Bench, Seat
from .layout import BoardPlan, Placing

ROWS = tuple(ACROSS)


def moved(
    plan: BoardPlan, part: str, along: int = 0, rows: int = 0, leg: int | None = None, turned: bool = False
) -> BoardPlan:
    """A plan with a part turned round where it is, then shifted by positions along the board and rows across
    it, the whole of it or one leg. The part is pinned there.

    Raises: DocumentError where there is no such part or leg, or where it would lie beside the board.
    """
    placing = plan.of.get(part)
    if placing is None:
        raise DocumentError(Problem("part", "There is no such part on the board.", got=part[:60]))
    if leg is not None and not 0 <= leg < len(placing.legs):
        raise DocumentError(Problem("leg", f"{placing.ref} has {len(placing.legs)} legs.", got=str(leg + 1)))
    seats = [x.seat for x in placing.legs]
    if turned:
        seats = _turned(placing, seats)
    bench = Bench(plan.boards)
    # Over the gap a body keeps its rows: it can only go along.
    down = 0 if placing.shape in ("chip", "button") else rows
    for k, seat in enumerate(seats):
        if leg is None or k == leg:
            seats[k] = _shifted(bench, placing, seat, along, down)
    legs = tuple(x.model_copy(update={"seat": s}) for x, s in zip(placing.legs, seats, strict=True))
    then = placing.model_copy(update={"legs": legs})
    return plan.model_copy(
        update={
            "placings": tuple(then if p.part == part else p for p in plan.placings),
            "pinned": tuple(dict.fromkeys((*plan.pinned, part))),
        }
    )


def _turned(placing: Placing, seats: list[Seat]) -> list[Seat]:
    """Turned by half: each leg where its opposite was."""
    half = len(seats) // 2
    return [*seats[half:], *seats[:half]] if placing.shape in ("button", "chip") else seats[::-1]


def _shifted(bench: Bench, placing: Placing, seat: Seat, along: int, down: int) -> Seat:
    row, column = ROWS.index(seat.row) + down, bench.column(seat) + along
    if not 0 <= row < len(ROWS) or column not in bench.columns:
        raise DocumentError(Problem("along", f"{placing.ref} would lie beside the board."))
    return bench.seat(column, ROWS[row])


def unpinned(plan: BoardPlan, part: str) -> BoardPlan:
    """A plan that may move a part again."""
    return plan.model_copy(update={"pinned": tuple(p for p in plan.pinned if p != part)})
