"""Which strip each leg takes: exact, by constraint programming, with a bound on the number of wires.

A position is a number: the column above the gap, the column plus `over` below it; `over` is more than any
part spans, so that two positions near each other are on one side. Each net owns slots, strips that may be in
use; every leg is in one slot of its net, or on a rail. The wires of a net need no routing: strips less one,
less what buttons join within themselves; on a rail's net one for each strip, and one for each further piece
of rail. Whether such a tree fits the free seats is a sum of degrees.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

from ortools.sat.python import cp_model

from .bodies import BoardPart, Wanted
from .layout import Placing
from .proof import cells
from .repeated import Channels
from .rough import SEATS, Ground, Rough, Spot, Strip, gap_depth, outward, rail_depth, rails_needed

EXTRA = 4  # strips of a net beyond those that its legs force
FULL_STRIP = 3  # legs that a strip of a large net is thought to take
WEIGHTS = {"spread": 2, "gap": 3, "standing": 6, "order": 3, "width": 1, "beside": 2, "span": 1}


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
class _Ended:
    """One leg's place: a position, and the literals for being in a slot or on a rail."""

    pos: Any
    rails: list[tuple[Any, str]] = field(default_factory=list)
    slots: list[tuple[Any, Slot]] = field(default_factory=list)
    column: Any = None  # of a leg on a rail that has no strip to go by


class Model:
    """The constraints of one board and one circuit."""

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
        self.ends: dict[tuple[str, int], _Ended] = {}
        self.seats: list[tuple[Any, Any]] = []  # intervals with demands
        self.bodies: tuple[list[Any], list[Any]] = (
            [],
            [],
        )  # rectangles: along the board, across a half of it
        self.gap: list[Any] = []
        self.slots: dict[str, list[Slot]] = {}
        self.joins: dict[str, list[tuple[Slot, Slot]]] = {}
        self.pieces: dict[tuple[str, int], Any] = {
            (sign, k): self.m.new_bool_var(f"rail {sign}{k}")
            for sign in sorted(set(self.rails.values()))
            for k in range(len(ground.bench.segments))
        }
        self.standing: list[Any] = []
        self.crossing: list[Any] = []
        self.spans: list[Any] = []
        self.held: dict[str, list[int]] = {}  # seats of each rail that pinned legs are in, as positions
        self.base: dict[str, Any] = {}  # where a body lies, as a column
        self.outside = 0  # how many wires more a plan costs that the slots leave out
        self._place()
        self._alike(alike)
        self._nets()
        self._strips()

    # --- small things ---------------------------------------------------------------------------------
    def _bool(self, name: str) -> Any:
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

    def _column(self, pos: Any, below: Any, name: str) -> Any:
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
                        for (x, _), (y, _) in zip(first.rails, second.rails, strict=True):
                            self.m.add(x == y)

    def _pinned(self, body: BoardPart, placing: Placing) -> None:
        """A part that stays where it is: its legs' positions are given, and what it takes is taken."""
        bench = self.ground.bench
        columns = [bench.column(leg.seat) for leg in placing.legs]
        self.base[body.key] = self.m.new_constant(min(columns))
        for k, (leg, column) in enumerate(zip(placing.legs, columns, strict=True)):
            pos = self.m.new_constant(column + self.over * leg.seat.side)
            self.ends[body.key, k] = end = _Ended(pos)
            if leg.seat.rail:
                end.rails.append((self.m.new_constant(1), leg.seat.rail))
                self.held.setdefault(leg.seat.rail, []).append(column + self.over * leg.seat.side)
        for board, column, across in sorted(cells(placing)):
            row = outward(across)
            if row is not None:
                side, first = row
                at = bench.starts[board - 1] + column + self.over * side
                self._covers(self.m.new_constant(at), 1, 1, first)
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
            self.ends[body.key, k] = _Ended(pos)
        self._covers(base, half, 1, SEATS - 1)
        self._covers(base + self.over, half, 1, SEATS - 1)
        self.gap.append(self.m.new_fixed_size_interval_var(base, half, f"{body.key} gap"))

    def _button(self, body: BoardPart) -> None:
        base, turned = self._start(body, 3), self._bool(f"{body.key} turned")
        for k in range(4):
            side, pair = k % 2, 2 * (k // 2)
            pos = self._at(f"{body.key} {k}")
            self.m.add(pos == base + pair + self.over * side + (2 - 2 * pair) * turned)
            self.ends[body.key, k] = _Ended(pos)
        self._covers(base, 3, 1, SEATS - 1)
        self._covers(base + self.over, 3, 1, SEATS - 1)
        self.gap.append(self.m.new_fixed_size_interval_var(base, 3, f"{body.key} gap"))

    def _inline(self, body: BoardPart) -> None:
        count = len(body.legs)
        runs = self.ground.free_runs(count)
        start = self.m.new_int_var_from_domain(
            cp_model.Domain.from_values([*runs, *(c + self.over for c in runs)]), body.key
        )
        turned, below = self._bool(f"{body.key} turned"), self._bool(f"{body.key} below")
        self.base[body.key] = self._column(start, below, f"{body.key} column")
        for k in range(count):
            pos = self._at(f"{body.key} {k}")
            self.m.add(pos == start + k + (count - 1 - 2 * k) * turned)
            self.ends[body.key, k] = _Ended(pos)
        self._covers(start, count, 1, self._row(body.key))

    def _two(self, body: BoardPart) -> None:
        a, b = (leg.net for leg in body.legs)
        first, second = self._at(f"{body.key} a"), self._at(f"{body.key} b")
        ends = (_Ended(first), _Ended(second))
        self.ends[body.key, 0], self.ends[body.key, 1] = ends
        ways = [self._along(body, first, second)]
        across = gap_depth(body)
        if across:
            ways.append(self._across(body, first, second, across))
        for k, net in enumerate((a, b)):
            sign = self.rails.get(net)
            depth = rail_depth(body, sign) if sign else None
            if sign and depth:
                way = self._bool(f"{body.key} rail {k}")
                self.m.add(first == second).only_enforce_if(way)  # the rail's leg goes by the other's column
                self._covers(ends[1 - k].pos, 1, depth, 0, way)
                ends[k].rails.append((way, sign))
                ways.append(way)
        if a in self.rails and b in self.rails and a != b:
            ways.append(self._both(body, ends))
        self.m.add_exactly_one(ways)
        self.base.setdefault(body.key, None)

    def _along(self, body: BoardPart, first: Any, second: Any) -> Any:
        """In one row: lying, or standing where it has to."""
        way = self._bool(f"{body.key} along")
        low = self.m.new_int_var(0, self.top, f"{body.key} from")
        span = self.m.new_int_var(0, self.top, f"{body.key} span")
        self.m.add_min_equality(low, [first, second])
        back = self._bool(f"{body.key} back")
        self.m.add(second - first == span).only_enforce_if(way, back.negated())
        self.m.add(first - second == span).only_enforce_if(way, back)
        self.m.add_linear_constraint(span, body.reach.least, body.reach.high).only_enforce_if(way)
        self.m.add(span == 0).only_enforce_if(way.negated())
        size = self.m.new_int_var(0, self.top, f"{body.key} size")
        self.m.add(size == span + 1)
        self._covers(low, size, 1, self._row(body.key), way)
        if body.reach.least < body.reach.low:
            stands = self._bool(f"{body.key} stands")
            self.m.add(span >= body.reach.low).only_enforce_if(way, stands.negated())
            self.m.add_implication(stands, way)
            self.standing.append(stands)
        self.spans.append(span)
        return way

    def _across(self, body: BoardPart, first: Any, second: Any, depths: tuple[int, int]) -> Any:
        """Over the gap, in one column."""
        way, down = self._bool(f"{body.key} across"), self._bool(f"{body.key} down")
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

    def _both(self, body: BoardPart, ends: tuple[_Ended, _Ended]) -> Any:
        """From rail to rail."""
        way = self._bool(f"{body.key} rails")
        for end, leg in zip(ends, body.legs, strict=True):
            end.rails.append((way, self.rails[leg.net]))
        self.m.add(ends[0].pos == ends[1].pos).only_enforce_if(way)
        return way

    def _lead(self, body: BoardPart, k: int, net: str) -> None:
        end = self.ends[body.key, k] = _Ended(self._at(f"{body.key} {k}"))
        if net in self.rails:
            on = self._bool(f"{body.key} {k} rail")
            self.m.add(on == 1)  # a rail has seats enough
            end.rails.append((on, self.rails[net]))
        else:
            self._seat(end.pos, 1)

    # --- nets -----------------------------------------------------------------------------------------
    def _nets(self) -> None:
        by: dict[str, list[tuple[BoardPart, int]]] = {}
        for body in self.wanted.bodies:
            for k, leg in enumerate(body.legs):
                by.setdefault(leg.net or f"{body.key}.{leg.name}", []).append((body, k))
        least, short = 0, []
        for net, legs in by.items():
            own = self._anchored(net, legs)
            fixed, joins = len(own), len(self.joins.get(net, ()))
            loose = [(b, k) for b, k in legs if b.shape not in ("chip", "button")]
            free = min(len(loose), self._forced(loose, own) + EXTRA)
            own += [self._slot(net, None, fixed + k) for k in range(free)]
            for one, two in pairwise(own[fixed:]):
                self.m.add_implication(two.active, one.active)
            for body, k in loose:
                self._into(body, k, own)
            on_rail = net in self.rails
            start = max(fixed, 0 if on_rail else 1)
            least += start - joins - (0 if on_rail else 1)
            if free < len(loose):
                short.append(fixed + free + 1 - start)
            self._tree(net, own)
        self.outside = least + min(short, default=10**6)

    def _anchored(self, net: str, legs: list[tuple[BoardPart, int]]) -> list[Slot]:
        """The strips that a net has because of chips and buttons, and what those join within themselves."""
        own = self.slots[net] = []
        at: dict[tuple[str, int], Slot] = {}
        for body, k in legs:
            if body.shape in ("chip", "button"):
                at[body.key, k] = self._slot(net, self.ends[body.key, k].pos, len(own))
                own.append(at[body.key, k])
                if body.shape == "button" and k % 2:
                    self.joins.setdefault(net, []).append((at[body.key, k - 1], at[body.key, k]))
        return own

    def _forced(self, loose: list[tuple[BoardPart, int]], own: list[Slot]) -> int:
        """How many strips more a net surely wants: one for each pinned place, and for what is left."""
        seats = [self.pins[b.key].legs[k].seat for b, k in loose if b.key in self.pins]
        pinned = {(s.side, s.board, s.column) for s in seats if not s.rail}
        rest = -(-(len(loose) - len(seats)) // FULL_STRIP)
        return len(pinned) + max(rest, int(not own and not pinned))

    def _slot(self, net: str, pos: Any, k: int) -> Slot:
        name = f"{net} {k}"
        fixed = pos is not None
        pos = pos if fixed else self._at(name)
        active, below = self._bool(f"{name} active"), self._bool(f"{name} below")
        if fixed:
            self.m.add(active == 1)
        degree = self.m.new_int_var(0, SEATS - 1, f"{name} degree")
        self.m.add(degree == 0).only_enforce_if(active.negated())
        column = self._column(pos, below, f"{name} column")
        return Slot(net, pos, active, degree, below, column, fixed)

    def _into(self, body: BoardPart, k: int, own: list[Slot]) -> None:
        """A leg in one slot of its net, or on the rail."""
        end = self.ends[body.key, k]
        literals = [literal for literal, _ in end.rails]
        for i, slot in enumerate(own):
            within = self._bool(f"{body.key} {k} in {i}")
            self.m.add(slot.pos == end.pos).only_enforce_if(within)
            self.m.add_implication(within, slot.active)
            slot.legs.append(within)
            end.slots.append((within, slot))
            literals.append(within)
        self.m.add_exactly_one(literals)

    def _tree(self, net: str, own: list[Slot]) -> None:
        """As many wires as make one piece of the net's strips, and a free seat to probe."""
        if net in self.rails:
            for slot in own:
                self.m.add(slot.degree == slot.active)
                if not slot.fixed:
                    self.m.add_bool_or(*slot.legs, slot.active.negated())
            return
        for slot in own:
            if not slot.fixed:
                self.m.add_bool_or(*slot.legs, slot.active.negated())
        joins = self.joins.get(net, [])
        pieces = sum(s.active for s in own) - len(joins)
        many = self._bool(f"{net} many")
        self.m.add(pieces - 1 <= len(own) * many)
        self.m.add(pieces - 1 >= many)
        self.m.add(sum(s.degree for s in own) == 2 * (pieces - 1))
        joined = {id(s) for pair in joins for s in pair}
        for slot in own:
            if id(slot) not in joined:
                self.m.add(slot.degree >= slot.active - many.negated())
        for pair in joins:
            self.m.add(sum(s.degree for s in pair) >= many)

    # --- strips ---------------------------------------------------------------------------------------
    def _strips(self) -> None:
        m = self.m
        strips = []
        for net, own in self.slots.items():
            bare = "." in net and len(own) == 1 and own[0].fixed and not own[0].legs
            probes = []
            for k, slot in enumerate(own):
                strips.append(
                    m.new_optional_fixed_size_interval_var(slot.pos, 1, slot.active, f"{net} strip {k}")
                )
                self._seat(slot.pos, slot.degree, slot.active)
                if net in self.rails:
                    self._railed(slot, self.rails[net])
                elif not bare:
                    probe = self._bool(f"{net} probe {k}")
                    m.add_implication(probe, slot.active)
                    self._seat(slot.pos, 1, probe)
                    probes.append(probe)
            if probes:
                m.add_exactly_one(probes)
        m.add_no_overlap(strips)
        m.add_no_overlap(self.gap)
        m.add_no_overlap_2d(*self.bodies)
        m.add_cumulative([i for i, _ in self.seats], [d for _, d in self.seats], SEATS)
        self._outward()

    def _railed(self, slot: Slot, sign: str) -> None:
        """A rail's strip is joined to the rail beside it."""
        self._beside(slot.pos, sign, slot.active)

    def _beside(self, pos: Any, sign: str, when: Any) -> None:
        """The piece of rail beside a position is in use."""
        chosen: list[Any] = []
        for k, piece in enumerate(self.ground.bench.segments):
            here = self._bool(f"piece {len(chosen)}")
            shift = self.over * piece.side
            self.m.add_linear_constraint(pos, piece.first + shift, piece.last + shift).only_enforce_if(here)
            self.m.add_implication(here, self.pieces[sign, k])
            chosen.append(here)
        self.m.add_exactly_one([*chosen, when.negated()])

    def _outward(self) -> None:
        """Parts that go on to a rail: beside their column, one a strip at most."""
        for body in self.wanted.bodies:
            ends = [self.ends[body.key, k] for k in range(len(body.legs))]
            pinned = body.key in self.pins
            if body.shape != "two" or (pinned and all(x.seat.rail for x in self.pins[body.key].legs)):
                for end in ends:
                    for literal, sign in end.rails:
                        self._beside(end.pos, sign, literal)
            else:
                self._on_to_rail(body, ends[0], ends[1], pinned)
                self._on_to_rail(body, ends[1], ends[0], pinned)
        for own in self.slots.values():
            for slot in own:
                if len(slot.railed) > 1:
                    self.m.add_at_most_one(slot.railed)

    def _on_to_rail(self, body: BoardPart, end: _Ended, other: _Ended, pinned: bool) -> None:
        """From one leg's strip straight on to the rail beside it, where no pinned leg is in that seat."""
        for literal, sign in end.rails:
            self._beside(other.pos, sign, literal)
            for pos in () if pinned else self.held.get(sign, ()):
                self.m.add(other.pos != pos).only_enforce_if(literal)
            for within, slot in other.slots:
                both = self._bool(f"{body.key} out")
                self.m.add_bool_or(literal.negated(), within.negated(), both)
                slot.railed.append(both)

    # --- what is wanted of it ---------------------------------------------------------------------------
    @property
    def links(self) -> Any:
        """How many wires."""
        total = 0
        for net, own in self.slots.items():
            total += sum(s.active for s in own) - len(self.joins.get(net, ())) - (net not in self.rails)
        for sign in sorted(set(self.rails.values())):
            total += sum(v for (s, _), v in self.pieces.items() if s == sign) - 1
        return total

    def neat(self) -> Any:
        """What makes a plan pleasant: nets close together, parts lying, signals from left to right."""
        terms = [WEIGHTS["standing"] * s for s in self.standing]
        terms += [WEIGHTS["gap"] * c for c in self.crossing]
        terms += [WEIGHTS["span"] * s for s in self.spans]
        last = max(self.ground.columns)
        left, right = (self.m.new_int_var(1, last, n) for n in ("left", "right"))
        terms.append(WEIGHTS["width"] * (right - left))
        for net, own in self.slots.items():
            for slot in own:
                self.m.add(slot.column >= left).only_enforce_if(slot.active)
                self.m.add(slot.column <= right).only_enforce_if(slot.active)
            if len(own) < 2 or net in self.rails:
                continue
            low, high = (self.m.new_int_var(1, last, f"{net} {n}") for n in ("low", "high"))
            both = self._bool(f"{net} both")
            for slot in own:
                self.m.add(slot.column >= low).only_enforce_if(slot.active)
                self.m.add(slot.column <= high).only_enforce_if(slot.active)
            for one in own:
                for two in own:
                    if one is not two:
                        self.m.add_bool_or(
                            one.active.negated(), two.active.negated(), one.below.negated(), two.below, both
                        )
            terms += [WEIGHTS["spread"] * (high - low), WEIGHTS["gap"] * both]
        wide = [b for b in self.wanted.bodies if b.shape in ("chip", "button", "inline")]
        for before, after in pairwise(wide):
            back = self.m.new_int_var(0, last, f"{after.key} back")
            self.m.add(back >= self.base[before.key] - self.base[after.key])
            terms.append(WEIGHTS["order"] * back)
        terms += self._decoupled(last)
        return sum(terms)

    def _decoupled(self, last: int) -> Iterator[Any]:
        """A capacitor between the rails stays by the chip of its block."""
        chips = {b.block: b for b in self.wanted.bodies if b.shape == "chip"}
        for body in self.wanted.bodies:
            if body.kind != "capacitor" or body.block not in chips or not body.nets <= set(self.rails):
                continue
            chip = chips[body.block]
            below = self._bool(f"{body.key} below")
            column = self._column(self.ends[body.key, 0].pos, below, f"{body.key} column")
            away = self.m.new_int_var(0, last, f"{body.key} away")
            middle = self.base[chip.key] + len(chip.legs) // 4
            self.m.add(away >= column - middle)
            self.m.add(away >= middle - column)
            yield WEIGHTS["beside"] * away

    # --- answers --------------------------------------------------------------------------------------
    def read(self, value: Callable[[Any], int]) -> Rough:
        """The plan that a solution means."""
        legs: dict[str, tuple[Spot, ...]] = {}
        for body in self.wanted.bodies:
            spots = []
            for k in range(len(body.legs)):
                end = self.ends[body.key, k]
                sign = next((sign for literal, sign in end.rails if value(literal)), "")
                pos = value(end.pos)
                if sign and body.shape == "two" and body.key not in self.pins:
                    other = self.ends[body.key, 1 - k]
                    pos = value(other.pos)
                spots.append(Spot(int(pos > self.over), pos % self.over, sign))
            legs[body.key] = tuple(spots)
        strips = {
            net: {
                Strip(int(value(s.pos) > self.over), value(s.pos) % self.over): value(s.degree)
                for s in own
                if value(s.active)
            }
            for net, own in self.slots.items()
        }
        used = frozenset(key for key, v in self.pieces.items() if value(v))
        return Rough(legs, strips, value(self.links) if not isinstance(self.links, int) else self.links, used)

    def begin_at(self, solution: Sequence[int]) -> None:
        """Begin from a solution of this very model, to which terms were added since."""
        self.m.clear_hints()  # type: ignore[no-untyped-call]
        for k, value in enumerate(solution):
            self.m.add_hint(self.m.get_int_var_from_proto_index(k), value)

    def begin_near(self, rough: Rough) -> None:
        """Begin from a plan that is known: where its legs are."""
        self.m.clear_hints()  # type: ignore[no-untyped-call]
        hints: dict[int, tuple[Any, int]] = {}
        for body in self.wanted.bodies:
            for k, spot in enumerate(rough.legs[body.key]):
                end = self.ends[body.key, k]
                if spot.rail:
                    hints |= {way.index: (way, 1) for way, sign in end.rails if sign == spot.rail}
                else:
                    hints |= {way.index: (way, 0) for way, _ in end.rails if way.index not in hints}
                    hints[end.pos.index] = (end.pos, spot.column + self.over * spot.side)
        for literal, value in hints.values():
            self.m.add_hint(literal, value)
