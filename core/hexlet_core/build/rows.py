"""Which seat of its strip each leg and each wire takes: the last step of a plan, and a small one.

Chips, buttons and parts across the gap lie innermost, parts that go to a rail outermost. Two ends of a wire
take one row where the row between them is free, so that the wire lies flat.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from itertools import pairwise
from typing import Any

from ortools.sat.python import cp_model

from .boards import LOWER, UPPER, Seat
from .bodies import BoardPart, Wanted
from .joined import Metal, Pieces
from .layout import BoardPlan, BoardWire, LegSeat, Placing, meetings
from .repeated import Channels
from .rough import SEATS, Ground, Rough, Spot, gap_depth, rail_depth
from .ties import CROSSING, pairs, ties

ROWS = (*UPPER, *LOWER)
FLAT, INWARD = 20, 1
EFFORT = 0.15  # deterministic time
RAIL_ROWS = {("+", 0): "+top", ("0", 0): "0top", ("0", 1): "0bottom", ("+", 1): "+bottom"}


class _Rails:
    """Seats on rails, each given once."""

    def __init__(self, ground: Ground, rough: Rough) -> None:
        self.bench, self.taken = ground.bench, set[tuple[str, int, int]]()
        self.pieces = sorted(rough.pieces)
        self._metal = Pieces()

    def piece(self, sign: str, side: int, column: int) -> Metal:
        """The piece of rail beside a position."""
        return ("rail", sign, self.bench.segment(side, column))

    def join(self, a: Metal, b: Metal) -> bool:
        """Whether a wire is needed between two pieces of metal, which then are one."""
        return self._metal.join(a, b)

    def hold(self, sign: str, side: int, column: int) -> None:
        """A seat is taken; what goes on to the outer rail lies over the inner one."""
        self.taken.add((sign, side, column))
        if sign == "+":
            self.taken.add(("0", side, column))

    def at(self, sign: str, side: int, column: int) -> Seat:
        """The seat beside a strip."""
        self.hold(sign, side, column)
        return self.bench.seat(column, RAIL_ROWS[sign, side])

    def near(self, sign: str, side: int, column: int) -> Seat:
        """A free seat of a rail in use, as near as can be."""
        choices = [
            (abs(c - column) + CROSSING * (piece.side != side), piece.side, c)
            for s, k in self.pieces
            if s == sign
            for piece in [self.bench.segments[k]]
            for c in range(piece.first, piece.last + 1)
            if (sign, piece.side, c) not in self.taken
        ]
        _, on, c = min(choices)
        return self.at(sign, on, c)

    def pair(self, body: BoardPart, signs: tuple[str, str], side: int, column: int) -> tuple[Seat, Seat]:
        """Two seats for a part from rail to rail, as near to a position as can be."""
        reach = body.reach
        apart = [d for d in range(reach.high + 1) if max(d, 1) >= reach.least]
        pieces = {k for s, k in self.pieces if s == "+"} & {k for s, k in self.pieces if s == "0"}
        choices = [
            (abs(c - column) + CROSSING * (piece.side != side) + d, piece.side, c, d)
            for k in sorted(pieces)
            for piece in [self.bench.segments[k]]
            for c in range(piece.first, piece.last + 1)
            for d in apart
            if c + d <= piece.last
            and ("+", piece.side, c) not in self.taken
            and ("0", piece.side, c + d) not in self.taken
        ]
        _, on, c, d = min(choices)
        self.taken |= {("+", on, c), ("0", on, c + d)}
        at = {"+": c, "0": c + d}
        first, second = (self.bench.seat(at[sign], RAIL_ROWS[sign, on]) for sign in signs)
        return first, second


class Seating:
    """The seats of one plan."""

    def __init__(
        self,
        rough: Rough,
        wanted: Wanted,
        ground: Ground,
        pins: Mapping[str, Placing],
        alike: Iterable[Channels] = (),
    ) -> None:
        self.rough, self.wanted, self.ground, self.pins = rough, wanted, ground, pins
        self.m = cp_model.CpModel()
        self.x: list[Any] = []
        self.y: list[Any] = []
        self.terms: list[Any] = []
        self.row: dict[tuple[str, int], Any] = {}  # of a body's leg
        self.lane: dict[str, Any] = {}  # of a rail's strip's wire
        self.wires = ties(rough, wanted, ground, pins)
        self.ends: list[tuple[Any, Any]] = []
        self._bodies()
        self._wires()
        self.m.add_no_overlap_2d(self.x, self.y)
        for channels in alike:  # each in the rows of the one before
            for one, two in pairwise(channels):
                for a, b in zip(one, two, strict=True):
                    for k in range(len(wanted.of[a].legs)):
                        if (a, k) in self.row and (b, k) in self.row:
                            self.m.add(self.row[a, k] == self.row[b, k])
        self.m.minimize(sum(self.terms))

    def _box(self, column: int, width: int, row: Any, height: int = 1, when: Any = None) -> None:
        k = len(self.x)
        if when is None:
            self.x.append(self.m.new_fixed_size_interval_var(column, width, f"x{k}"))
            self.y.append(self.m.new_fixed_size_interval_var(row, height, f"y{k}"))
        else:
            self.x.append(self.m.new_optional_fixed_size_interval_var(column, width, when, f"x{k}"))
            self.y.append(self.m.new_optional_fixed_size_interval_var(row, height, when, f"y{k}"))

    def _row(self, side: int, name: str) -> Any:
        return self.m.new_int_var(SEATS * side, SEATS * side + SEATS - 1, name)

    def _outer(self, row: Any, side: int) -> Any:
        """How far a row is from the outermost."""
        return row if side == 0 else 2 * SEATS - 1 - row

    def _bodies(self) -> None:
        for body in self.wanted.bodies:
            spots = self.rough.legs[body.key]
            columns = [s.column for s in spots if not s.rail]
            if body.key in self.pins:
                for strip, row in self.ground.under(self.pins[body.key]):
                    self._box(strip.column, 1, row if strip.side == 0 else 2 * SEATS - 1 - row)
            elif body.shape in ("chip", "button"):
                self._box(min(columns), max(columns) - min(columns) + 1, SEATS - 1, 2)
                for k, s in enumerate(spots):
                    self.row[body.key, k] = SEATS - 1 + s.side
            elif body.shape == "inline":
                row = self._row(spots[0].side, body.key)
                self._box(min(columns), len(columns), row)
                self.row |= dict.fromkeys(((body.key, k) for k in range(len(spots))), row)
                self.terms.append(INWARD * self._outer(row, spots[0].side))
            elif body.shape == "two":
                self._two(body, spots)
            else:
                for k, s in enumerate(spots):
                    if not s.rail:
                        self.row[body.key, k] = row = self._row(s.side, f"{body.key} {k}")
                        self._box(s.column, 1, row)
                        self.terms.append(INWARD * self._outer(row, s.side))

    def _two(self, body: BoardPart, spots: tuple[Spot, ...]) -> None:
        on = [(k, s) for k, s in enumerate(spots) if not s.rail]
        if len(on) == 1:
            (k, spot), sign = on[0], next(s.rail for s in spots if s.rail)
            depth = rail_depth(body, sign) or 1
            self.row[body.key, k] = depth - 1 if spot.side == 0 else 2 * SEATS - depth
            self._box(spot.column, 1, 0 if spot.side == 0 else 2 * SEATS - depth, depth)
        elif len(on) == 2 and on[0][1].side == on[1][1].side:
            low, high = sorted(s.column for _, s in on)
            row = self._row(on[0][1].side, body.key)
            self._box(low, high - low + 1, row)
            self.row |= {(body.key, 0): row, (body.key, 1): row}
        elif len(on) == 2:
            above, below = gap_depth(body) or (1, 1)
            self._box(on[0][1].column, 1, SEATS - above, above + below)
            for k, s in on:
                self.row[body.key, k] = SEATS - above if s.side == 0 else SEATS - 1 + below

    def _wires(self) -> None:
        for net, strips in self.rough.strips.items():
            if net in self.wanted.polarity:
                for strip in strips:
                    self.lane[f"{strip}"] = row = self._row(strip.side, f"{net} {strip}")
                    self._box(strip.column, 1, row)
                    self.terms.append(3 * INWARD * self._outer(row, strip.side))
        for k, wire in enumerate(self.wires):
            a, b = self._row(wire.a.side, f"wire {k} a"), self._row(wire.b.side, f"wire {k} b")
            self.ends.append((a, b))
            self._box(wire.a.column, 1, a)
            self._box(wire.b.column, 1, b)
            low, high = sorted((wire.a.column, wire.b.column))
            if wire.a.side == wire.b.side:
                flat = self.m.new_bool_var(f"flat {k}")
                self.m.add(a == b).only_enforce_if(flat)
                if high - low > 1:
                    self._box(low + 1, high - low - 1, a, 1, flat)
                self.terms.append(FLAT * (1 - flat))
            else:  # over the gap: from the rows next to it
                self.terms += [
                    INWARD * (SEATS - 1 - self._outer(r, s.side)) for r, s in ((a, wire.a), (b, wire.b))
                ]

    # --- the plan ---------------------------------------------------------------------------------------
    def plan(self) -> BoardPlan | None:
        """The whole plan; None where the strips have no seats for it."""
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.max_deterministic_time = EFFORT
        if solver.solve(self.m) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return None
        self.value = solver.value
        rails = _Rails(self.ground, self.rough)
        for placing in self.pins.values():
            for leg in placing.legs:
                if leg.seat.rail:
                    rails.hold(leg.seat.rail, leg.seat.side, self.ground.bench.column(leg.seat))
        for _, one, two in pairs(self.rough, self.wanted):
            rails.join(("strip", *one), ("strip", *two))
        links = [*self._short(rails), *self._long()]
        placings = {b.key: p for b in self._order() for p in [self._placing(b, rails)]}
        links += self._bridges(rails)
        return BoardPlan(
            boards=self.ground.bench.boards,
            placings=tuple(placings[b.key] for b in self.wanted.bodies),
            links=tuple(links),
            meetings=meetings(self.wanted),
            heavy=tuple(sorted(self.wanted.heavy)),
        )

    def _order(self) -> Iterator[BoardPart]:
        """Parts before leads, which take what rail is left."""
        yield from (b for b in self.wanted.bodies if b.shape != "leads")
        yield from (b for b in self.wanted.bodies if b.shape == "leads")

    def _short(self, rails: _Rails) -> Iterator[BoardWire]:
        """From a strip to the rail beside it."""
        for body in self.wanted.bodies:  # what goes straight to a rail has its seat first
            spots = self.rough.legs[body.key]
            if body.shape == "two" and body.key not in self.pins and len([s for s in spots if s.rail]) == 1:
                spot = next(s for s in spots if s.rail)
                rails.hold(spot.rail, spot.side, spot.column)
        for net, strips in self.rough.strips.items():
            sign = self.wanted.polarity.get(net)
            if sign:
                for strip in sorted(strips):
                    seat = self.ground.bench.seat(strip.column, ROWS[self.value(self.lane[f"{strip}"])])
                    if rails.join(("strip", *strip), rails.piece(sign, strip.side, strip.column)):
                        yield BoardWire(net=net, a=seat, b=rails.near(sign, strip.side, strip.column))

    def _long(self) -> Iterator[BoardWire]:
        for wire, (a, b) in zip(self.wires, self.ends, strict=True):
            yield BoardWire(
                net=wire.net,
                a=self.ground.bench.seat(wire.a.column, ROWS[self.value(a)]),
                b=self.ground.bench.seat(wire.b.column, ROWS[self.value(b)]),
            )

    def _bridges(self, rails: _Rails) -> Iterator[BoardWire]:
        """Between the pieces of rail in use, at their ends."""
        for sign, net in self.wanted.rails.items():
            own = [self.ground.bench.segments[k] for s, k in rails.pieces if s == sign]
            for one, two in pairwise(own):
                across = one.side != two.side
                if not rails.join(
                    rails.piece(sign, one.side, one.last), rails.piece(sign, two.side, two.first)
                ):
                    continue
                a = rails.near(sign, one.side, one.last)
                b = rails.near(sign, two.side, two.last if across else two.first)
                yield BoardWire(net=net, a=a, b=b)

    def _placing(self, body: BoardPart, rails: _Rails) -> Placing:
        if body.key in self.pins:
            return self.pins[body.key].of_part(body)
        spots = self.rough.legs[body.key]
        on = [s for s in spots if not s.rail]
        if body.shape == "two" and not on:
            signs = (spots[0].rail, spots[1].rail)
            seats = list(rails.pair(body, signs, spots[0].side, spots[0].column))
        else:
            seats = [self._seat(body, k, spot, on, rails) for k, spot in enumerate(spots)]
        legs = [LegSeat(leg=leg.name, net=leg.net, seat=s) for leg, s in zip(body.legs, seats, strict=True)]
        return Placing(
            part=body.key, ref=body.ref, kind=body.kind, shape=body.shape, label=body.label, legs=tuple(legs)
        )

    def _seat(self, body: BoardPart, k: int, spot: Spot, on: list[Spot], rails: _Rails) -> Seat:
        """A leg's seat: in its strip, or on the rail beside what the part has in strips."""
        if not spot.rail:
            row = self.row[body.key, k]
            return self.ground.bench.seat(spot.column, ROWS[row if isinstance(row, int) else self.value(row)])
        if body.shape == "two":
            return rails.at(spot.rail, spot.side, spot.column)
        beside = on[0] if on else Spot(0, self.ground.columns[0])
        return rails.near(spot.rail, beside.side, beside.column)


def seated(
    rough: Rough,
    wanted: Wanted,
    ground: Ground,
    pins: Mapping[str, Placing] | None = None,
    alike: Sequence[Channels] = (),
) -> BoardPlan | None:
    """A plan with every leg in a seat, channels in the same rows where that can be; None where its strips
    have no room for that.
    """
    same = Seating(rough, wanted, ground, pins or {}, alike).plan() if alike else None
    return same or Seating(rough, wanted, ground, pins or {}).plan()
