"""The proof of a plan: the netlist read back from seats and wires, against the design's.

It shares nothing with the planner but the documents: metal is joined by a union-find over strips, pieces of
rail, wires, buttons and what meets off the board. Then every net must be one piece of metal, and every piece
one net.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import Literal

from ..fields import Document
from .boards import ACROSS, Bench, Seat
from .bodies import SHAPES, BoardPart, Wanted
from .joined import Metal, Pieces
from .layout import BoardPlan, Placing

BY_ACROSS = {y: row for row, y in ACROSS.items()}


class Finding(Document):
    """One way in which a plan is wrong: electrically, or as it lies on the board."""

    id: Literal[
        "apart",
        "joined",
        "missing",
        "strange",
        "taken",
        "nowhere",
        "one_strip",
        "reach",
        "covered",
        "needless",
        "heavy",
    ]
    text: str
    nets: tuple[str, ...] = ()
    part: str = ""
    electrical: bool = False


class Reading:
    """What a plan really joins."""

    def __init__(self, plan: BoardPlan) -> None:
        self.plan, self.bench, self.pieces = plan, Bench(plan.boards), Pieces()
        self.needless: list[int] = []
        for placing in plan.placings:
            self._inner(placing)
        for meeting in plan.meetings:
            first = meeting.ends[0]
            for end in meeting.ends:
                self.pieces.join(("leg", first.part, first.leg), ("leg", end.part, end.leg))
        for k, link in enumerate(plan.links):
            if not self.pieces.join(self.metal(link.a), self.metal(link.b)):
                self.needless.append(k)

    def _inner(self, placing: Placing) -> None:
        first: dict[str, Metal] = {}
        for leg in placing.legs:
            metal = self.metal(leg.seat)
            if placing.shape == "button":  # the two legs of a pair are one piece inside it
                self.pieces.join(first.setdefault(leg.leg, metal), metal)
            if placing.shape == "leads":
                self.pieces.join(("leg", placing.part, leg.leg), metal)

    def metal(self, seat: Seat) -> Metal:
        """The strip or piece of rail that a seat belongs to."""
        if seat.rail:
            piece = self.bench.segment(seat.side, self.bench.column(seat))
            return ("rail", seat.rail, piece)
        return ("strip", seat.side, self.bench.column(seat))

    def legs(self) -> Iterator[tuple[str, str, Metal]]:
        """Every leg as part, name and the piece of metal it is on."""
        for placing in self.plan.placings:
            for leg in placing.legs:
                yield placing.part, leg.leg, self.pieces.find(self.metal(leg.seat))
        for meeting in self.plan.meetings:
            for end in meeting.ends:
                yield end.part, end.leg, self.pieces.find(("leg", end.part, end.leg))


def proof(plan: BoardPlan, wanted: Wanted) -> tuple[Finding, ...]:
    """What is wrong with a plan; nothing where it is the design's circuit and can be built."""
    bench = Bench(plan.boards)
    lost = [
        Finding(id="nowhere", text=f"{ref}: the boards have no seat {seat.word}.", part=part)
        for part, ref, seat in _seats(plan)
        if not bench.holds(seat)
    ]
    if lost:
        return tuple(lost)
    reading = Reading(plan)
    return (
        *_electrical(plan, wanted, reading),
        *_strips(plan, reading),
        *_taken(plan),
        *_lying(plan),
        *_covered(plan),
        *_too_much(plan, wanted),
        *(
            Finding(
                id="needless",
                text=f"The wire from {w.a.word} to {w.b.word} joins what is joined already.",
                nets=(w.net,),
            )
            for w in (plan.links[k] for k in reading.needless)
        ),
    )


def _seats(plan: BoardPlan) -> Iterator[tuple[str, str, Seat]]:
    for placing in plan.placings:
        for leg in placing.legs:
            yield placing.part, placing.ref, leg.seat
    for link in plan.links:
        for seat in (link.a, link.b):
            yield "", "A wire", seat


def _electrical(plan: BoardPlan, wanted: Wanted, reading: Reading) -> Iterator[Finding]:
    """Nets against pieces of metal."""
    belongs = _belonging(wanted)
    refs = {body.key: body.ref for body in wanted.bodies}
    on: dict[Metal, dict[str, str]] = {}  # a piece's nets, each with a leg that brings it there
    seen: set[tuple[str, str]] = set()
    for part, leg, metal in reading.legs():
        seen.add((part, leg))
        if (part, leg) not in belongs:
            text = f"The design has no {part} with a leg {leg}."
            yield Finding(id="strange", text=text, part=part, electrical=True)
            continue
        net = belongs[part, leg] or f"{part}.{leg} unconnected"
        on.setdefault(metal, {}).setdefault(net, f"{refs.get(part, part)} {leg}")
    for sign, net in wanted.rails.items():
        for k in range(len(reading.bench.segments)):
            metal = reading.pieces.find(("rail", sign, k))
            if metal in on:
                on[metal].setdefault(net, f"the {'+' if sign == '+' else '0 V'} rail")
    for (part, leg), net in belongs.items():
        if (part, leg) not in seen:
            text = f"{refs.get(part, part)}: its leg {leg} has no seat."
            yield Finding(id="missing", text=text, part=part, nets=(net,), electrical=True)
    yield from _apart(on)
    yield from _joined(on)


def _apart(on: dict[Metal, dict[str, str]]) -> Iterator[Finding]:
    """Nets that are several pieces."""
    pieces: dict[str, list[str]] = {}
    for metal in sorted(on, key=str):
        for net, leg in on[metal].items():
            pieces.setdefault(net, []).append(leg)
    for net, legs in sorted(pieces.items()):
        if len(legs) > 1:
            text = f"{legs[0]} and {legs[1]} belong together and are not joined."
            yield Finding(id="apart", text=text, nets=(net,), electrical=True)


def _joined(on: dict[Metal, dict[str, str]]) -> Iterator[Finding]:
    """Pieces that are several nets."""
    for nets in on.values():
        if len(nets) > 1:
            legs = list(nets.values())
            text = f"{legs[0]} and {legs[1]} are joined and must not be."
            yield Finding(id="joined", text=text, nets=tuple(sorted(nets)), electrical=True)


def _belonging(wanted: Wanted) -> dict[tuple[str, str], str]:
    """The net of every leg that the design has."""
    found = {(b.key, leg.name): leg.net for b in wanted.bodies for leg in b.legs}
    for joint in wanted.joints:
        found |= dict.fromkeys(joint.ends, joint.net)
    return found


def _strips(plan: BoardPlan, reading: Reading) -> Iterator[Finding]:
    """No two legs of a part on one strip, the pairs of a button apart."""
    for placing in plan.placings:
        if placing.shape == "leads":
            continue
        on: dict[Metal, str] = {}
        for leg in placing.legs:
            metal = reading.metal(leg.seat)
            if metal in on:
                text = f"{placing.ref}: two of its legs sit on one strip, at {leg.seat.word}."
                yield Finding(id="one_strip", text=text, part=placing.part)
            on[metal] = leg.leg


def _taken(plan: BoardPlan) -> Iterator[Finding]:
    """One lead a seat."""
    by: dict[tuple[int, int, str], list[str]] = {}
    for _, ref, seat in _seats(plan):
        by.setdefault((seat.board, seat.column, seat.row), []).append(ref)
    for (board, column, row), refs in by.items():
        if len(refs) > 1:
            word = Seat.model_validate({"board": board, "column": column, "row": row}).word
            yield Finding(id="taken", text=f"{' and '.join(refs)} share the seat {word}.")


def _lying(plan: BoardPlan) -> Iterator[Finding]:
    """Every part lies as its body can."""
    for placing in plan.placings:
        text = _askew(placing)
        if text:
            yield Finding(id="reach", text=f"{placing.ref}: {text}", part=placing.part)


def _askew(placing: Placing) -> str:
    seats = [leg.seat for leg in placing.legs]
    columns, rows = [s.column for s in seats], [s.row for s in seats]
    if len({s.board for s in seats}) > 1 and placing.shape != "leads":
        return "its legs sit on two boards."
    if placing.shape == "two":
        return _stretched(placing)
    if placing.shape == "inline":
        steps = {b - a for a, b in pairwise(columns)}
        fine = len(set(rows)) == 1 and steps in ({1}, {-1})
        return "" if fine else "its legs want seats side by side in one row."
    if placing.shape == "button":
        pairs = [(c, r) for c, r in zip(columns, rows, strict=True)]
        fine = (
            abs(pairs[0][0] - pairs[2][0]) == 2 and pairs[0][0] == pairs[1][0] and pairs[2][0] == pairs[3][0]
        )
        return "" if fine and set(rows) == {"e", "f"} else "it wants the rows e and f, two positions apart."
    if placing.shape == "chip":
        half = len(seats) // 2
        turn = 1 if rows[0] == "f" else -1
        first, second = ("f", "e") if turn == 1 else ("e", "f")
        right = [columns[0] + turn * k for k in range(half)]
        fine = columns == [*right, *right[::-1]] and rows == [first] * half + [second] * half
        return "" if fine else "a chip straddles the gap, its legs in the rows e and f."
    return ""


def _stretched(placing: Placing) -> str:
    """Why a part's two legs cannot sit where they do."""
    a, b = (leg.seat for leg in placing.legs)
    body = BoardPart(placing.part, placing.ref, "", placing.kind, "two", ())
    along, across = abs(a.column - b.column), abs(a.across - b.across)
    if a.row != b.row and a.column != b.column and not (a.rail and b.rail):
        return "it lies askew; its legs want one row or one position."
    span = max(along, across)
    if span < body.reach.least:
        return f"its legs sit {span} apart and want {body.reach.least} or more."
    if span > body.reach.high:
        return f"its legs are stretched over {span} positions; {body.reach.high} is the most."
    return ""


def cells(placing: Placing) -> frozenset[tuple[int, int, int]]:
    """Every seat that a part takes or lies over: board, position, pitches down."""
    own = {(leg.seat.board, leg.seat.column, leg.seat.across) for leg in placing.legs}
    return shadow(placing) | own


def shadow(placing: Placing) -> frozenset[tuple[int, int, int]]:
    """The seats that a part's body lies over, its own legs' apart: board, position, pitches down."""
    if placing.shape == "two":
        a, b = (leg.seat for leg in placing.legs)
        if a.row == b.row:
            low, high = sorted((a.column, b.column))
            return frozenset((a.board, c, a.across) for c in range(low + 1, high))
        if a.column == b.column:
            low, high = sorted((a.across, b.across))
            return frozenset((a.board, a.column, y) for y in range(low + 1, high) if y in BY_ACROSS)
    if placing.shape == "button":
        a, b = placing.legs[0].seat, placing.legs[2].seat
        middle = (a.column + b.column) // 2
        return frozenset((a.board, middle, ACROSS[row]) for row in "ef")
    return frozenset()


def _covered(plan: BoardPlan) -> Iterator[Finding]:
    """Nothing sits under a part's body, and no two bodies lie over one another."""
    used = {(s.board, s.column, s.across): ref for _, ref, s in _seats(plan)}
    over: dict[tuple[int, int, int], str] = {}
    for placing in plan.placings:
        for spot in sorted(shadow(placing)):
            under = used.get(spot) or over.get(spot)
            if under:
                text = f"{placing.ref} lies over {under} at {spot[1]} {BY_ACROSS[spot[2]]}."
                yield Finding(id="covered", text=text, part=placing.part)
                break
            over[spot] = placing.ref


def _too_much(plan: BoardPlan, wanted: Wanted) -> Iterator[Finding]:
    """What carries more than a strip may stays off the strips."""
    for placing in plan.placings:
        if placing.part in wanted.heavy and SHAPES.get(placing.kind) and placing.shape != "leads":
            text = f"{placing.ref} carries more than a strip may. Wire it at the part, off the board."
            yield Finding(id="heavy", text=text, part=placing.part)
