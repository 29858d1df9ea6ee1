"""Where every leg may be: each part's positions, and what it takes of the board.

A position is a number: the column above the gap, the column plus `over` below it; `over` is more than any
part spans, so that two positions near each other are on one side.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

from ortools.sat.python import cp_model

from .bodies import BoardPart, Wanted
from .layout import Placing
from .repeated import Channels
from .rough import SEATS, Ground, gap_depth, rail_depth, rails_needed


@dataclass
class Slot:
    """A strip that a net may use."""

    net: str
    pos: Any
    active: Any
    degree: Any
    below: Any  # whether it lies below the gap
    column: Any
    fixed: bool
    legs: list[Any] = field(default_factory=list)
    railed: list[Any] = field(default_factory=list)


@dataclass
class LegEnd:
    """One leg's place: a position, and the literals for being in a slot or on a rail."""

    pos: Any
    rails: list[tuple[Any, str]] = field(default_factory=list)
    slots: list[tuple[Any, Slot]] = field(default_factory=list)


class Positions:
    """The parts of one circuit on some boards. `pins` stay where they are; of channels that are `alike` each
    is the one before, so many positions on.
    """

    def __init__(
        self,
        wanted: Wanted,
        ground: Ground,
        pins: Mapping[str, Placing] | None = None,
        alike: Iterable[Channels] = (),
    ) -> None:
        self.wanted, self.ground, self.pins = wanted, ground, pins or {}
        self.m = cp_model.CpModel()
        self.rails = rails_needed(wanted)
        last = max(ground.columns)
        self.over = last + 10
        self.reach = cp_model.Domain.from_values([*ground.columns, *(c + self.over for c in ground.columns)])
        self.top = self.over + last
        self.ends: dict[tuple[str, int], LegEnd] = {}
        self.seats: list[tuple[Any, Any]] = []  # intervals with demands
        # Rectangles: along the board, and across a half of it.
        self.bodies: tuple[list[Any], list[Any]] = ([], [])
        self.gap: list[Any] = []
        self.standing: list[Any] = []
        self.crossing: list[Any] = []
        self.spans: list[Any] = []
        self.held: dict[str, list[int]] = {}  # seats of each rail that pinned legs are in, as positions
        self.base: dict[str, Any] = {}  # where a body lies, as a column
        self._place()
        self._alike(alike)

    # --- small things ---------------------------------------------------------------------------------
    def flag(self, name: str) -> Any:
        return self.m.new_bool_var(name)

    def _at(self, name: str) -> Any:
        return self.m.new_int_var_from_domain(self.reach, name)

    def _seat(self, pos: Any, demand: Any, when: Any = None) -> None:
        """So many seats of a strip, in whichever rows are left."""
        self.seats.append((self._piece(pos, 1, when, f"seat {len(self.seats)}"), demand))

    def _covers(self, start: Any, size: Any, rows: int, first: Any, when: Any = None) -> None:
        """A body over so many strips, from a row on, counted from the outermost."""
        name = f"body {len(self.bodies[0])}"
        along = self._piece(start, size, when, f"{name} along")
        self.seats.append((along, rows))
        self.bodies[0].append(along)
        self.bodies[1].append(self._piece(first, rows, when, f"{name} across"))

    def _piece(self, start: Any, size: Any, when: Any, name: str) -> Any:
        if not isinstance(size, int):
            end = self.m.new_int_var(0, self.top + 1, f"{name} end")
            return self.m.new_optional_interval_var(start, size, end, when, name)
        if when is None:
            return self.m.new_fixed_size_interval_var(start, size, name)
        return self.m.new_optional_fixed_size_interval_var(start, size, when, name)

    def _row(self, name: str) -> Any:
        return self.m.new_int_var(0, SEATS - 1, f"{name} row")

    def column_of(self, pos: Any, below: Any, name: str) -> Any:
        """A position's column, `below` being whether it is past the gap."""
        column = self.m.new_int_var(1, max(self.ground.columns), name)
        self.m.add(pos == column + self.over * below)
        return column

    # --- bodies ---------------------------------------------------------------------------------------
    def _place(self) -> None:
        for body in self.wanted.bodies:
            if body.key in self.pins:
                self._pinned(body, self.pins[body.key])
            elif body.shape == "chip":
                self._chip(body)
            elif body.shape == "button":
                self._button(body)
            elif body.shape == "inline":
                self._inline(body)
            elif body.shape == "two":
                self._two(body)
            else:
                for k, leg in enumerate(body.legs):
                    self._lead(body, k, leg.net)

    def _alike(self, groups: Iterable[Channels]) -> None:
        """Each channel is the one before, so many positions to the right."""
        for channels in groups:
            for one, two in pairwise(channels):
                by = self.m.new_int_var(1, max(self.ground.columns), f"from {one[0]}")
                for a, b in zip(one, two, strict=True):
                    for leg in range(len(self.wanted.of[a].legs)):
                        first, second = self.ends[a, leg], self.ends[b, leg]
                        self.m.add(second.pos == first.pos + by)
                        below = self.flag(f"{a} {leg} below, as {b}")  # on the same side of the gap
                        self.column_of(first.pos, below, f"{a} {leg} column")
                        self.column_of(second.pos, below, f"{b} {leg} column")
                        for (x, _), (y, _) in zip(first.rails, second.rails, strict=True):
                            self.m.add(x == y)

    def _pinned(self, body: BoardPart, placing: Placing) -> None:
        """A part that stays where it is: its legs' positions are given, and what it takes is taken."""
        bench = self.ground.bench
        columns = [bench.column(leg.seat) for leg in placing.legs]
        self.base[body.key] = self.m.new_constant(min(columns))
        for k, (leg, column) in enumerate(zip(placing.legs, columns, strict=True)):
            pos = self.m.new_constant(column + self.over * leg.seat.side)
            self.ends[body.key, k] = end = LegEnd(pos)
            if leg.seat.rail:
                end.rails.append((self.m.new_constant(1), leg.seat.rail))
                self.held.setdefault(leg.seat.rail, []).append(column + self.over * leg.seat.side)
        for strip, row in self.ground.under(placing):
            self._covers(self.m.new_constant(strip.column + self.over * strip.side), 1, 1, row)
        if body.shape != "leads" and len({leg.seat.side for leg in placing.legs}) > 1:
            wide = max(columns) - min(columns) + 1
            self.gap.append(self.m.new_fixed_size_interval_var(min(columns), wide, f"{body.key} gap"))

    def _start(self, body: BoardPart, width: int) -> Any:
        runs = self.ground.free_runs(width)
        base = self.m.new_int_var_from_domain(cp_model.Domain.from_values(runs), body.key)
        self.base[body.key] = base
        return base

    def _chip(self, body: BoardPart) -> None:
        half = len(body.legs) // 2
        base = self._start(body, half)
        for k in range(2 * half):
            pos = self._at(f"{body.key} {k}")
            self.m.add(pos == base + (k + self.over if k < half else 2 * half - 1 - k))
            self.ends[body.key, k] = LegEnd(pos)
        self._covers(base, half, 1, SEATS - 1)
        self._covers(base + self.over, half, 1, SEATS - 1)
        self.gap.append(self.m.new_fixed_size_interval_var(base, half, f"{body.key} gap"))

    def _button(self, body: BoardPart) -> None:
        base, turned = self._start(body, 3), self.flag(f"{body.key} turned")
        for k in range(4):
            side, pair = k % 2, 2 * (k // 2)
            pos = self._at(f"{body.key} {k}")
            self.m.add(pos == base + pair + self.over * side + (2 - 2 * pair) * turned)
            self.ends[body.key, k] = LegEnd(pos)
        self._covers(base, 3, 1, SEATS - 1)
        self._covers(base + self.over, 3, 1, SEATS - 1)
        self.gap.append(self.m.new_fixed_size_interval_var(base, 3, f"{body.key} gap"))

    def _inline(self, body: BoardPart) -> None:
        count = len(body.legs)
        runs = self.ground.free_runs(count)
        start = self.m.new_int_var_from_domain(
            cp_model.Domain.from_values([*runs, *(c + self.over for c in runs)]), body.key
        )
        turned, below = self.flag(f"{body.key} turned"), self.flag(f"{body.key} below")
        self.base[body.key] = self.column_of(start, below, f"{body.key} column")
        for k in range(count):
            pos = self._at(f"{body.key} {k}")
            self.m.add(pos == start + k + (count - 1 - 2 * k) * turned)
            self.ends[body.key, k] = LegEnd(pos)
        self._covers(start, count, 1, self._row(body.key))

    def _two(self, body: BoardPart) -> None:
        a, b = (leg.net for leg in body.legs)
        first, second = self._at(f"{body.key} a"), self._at(f"{body.key} b")
        ends = (LegEnd(first), LegEnd(second))
        self.ends[body.key, 0], self.ends[body.key, 1] = ends
        ways = [self._along(body, first, second)]
        across = gap_depth(body)
        if across:
            ways.append(self._across(body, first, second, across))
        for k, net in enumerate((a, b)):
            sign = self.rails.get(net)
            depth = rail_depth(body, sign) if sign else None
            if sign and depth:
                way = self.flag(f"{body.key} rail {k}")
                self.m.add(first == second).only_enforce_if(way)  # the rail's leg goes by the other's column
                self._covers(ends[1 - k].pos, 1, depth, 0, way)
                ends[k].rails.append((way, sign))
                ways.append(way)
        if a in self.rails and b in self.rails and a != b:
            ways.append(self._both(body, ends))
        self.m.add_exactly_one(ways)

    def _along(self, body: BoardPart, first: Any, second: Any) -> Any:
        """In one row: lying, or standing where it has to."""
        way = self.flag(f"{body.key} along")
        low = self.m.new_int_var(0, self.top, f"{body.key} from")
        span = self.m.new_int_var(0, self.top, f"{body.key} span")
        self.m.add_min_equality(low, [first, second])
        back = self.flag(f"{body.key} back")
        self.m.add(second - first == span).only_enforce_if(way, back.negated())
        self.m.add(first - second == span).only_enforce_if(way, back)
        self.m.add_linear_constraint(span, body.reach.least, body.reach.high).only_enforce_if(way)
        self.m.add(span == 0).only_enforce_if(way.negated())
        size = self.m.new_int_var(0, self.top, f"{body.key} size")
        self.m.add(size == span + 1)
        self._covers(low, size, 1, self._row(body.key), way)
        if body.reach.least < body.reach.low:
            stands = self.flag(f"{body.key} stands")
            self.m.add(span >= body.reach.low).only_enforce_if(way, stands.negated())
            self.m.add_implication(stands, way)
            self.standing.append(stands)
        self.spans.append(span)
        return way

    def _across(self, body: BoardPart, first: Any, second: Any, depths: tuple[int, int]) -> Any:
        """Over the gap, in one column."""
        way, down = self.flag(f"{body.key} across"), self.flag(f"{body.key} down")
        above = self._at(f"{body.key} above")
        self.m.add(above <= max(self.ground.columns))
        self.m.add(first == above).only_enforce_if(way, down)
        self.m.add(second == above + self.over).only_enforce_if(way, down)
        self.m.add(second == above).only_enforce_if(way, down.negated())
        self.m.add(first == above + self.over).only_enforce_if(way, down.negated())
        self._covers(above, 1, depths[0], SEATS - depths[0], way)
        self._covers(above + self.over, 1, depths[1], SEATS - depths[1], way)
        self.gap.append(self.m.new_optional_fixed_size_interval_var(above, 1, way, f"{body.key} gap"))
        self.crossing.append(way)
        return way

    def _both(self, body: BoardPart, ends: tuple[LegEnd, LegEnd]) -> Any:
        """From rail to rail."""
        way = self.flag(f"{body.key} rails")
        for end, leg in zip(ends, body.legs, strict=True):
            end.rails.append((way, self.rails[leg.net]))
        self.m.add(ends[0].pos == ends[1].pos).only_enforce_if(way)
        return way

    def _lead(self, body: BoardPart, k: int, net: str) -> None:
        end = self.ends[body.key, k] = LegEnd(self._at(f"{body.key} {k}"))
        if net in self.rails:
            on = self.flag(f"{body.key} {k} rail")
            self.m.add(on == 1)  # a rail has seats enough
            end.rails.append((on, self.rails[net]))
        else:
            self._seat(end.pos, 1)
