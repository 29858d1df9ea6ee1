"""Which strip each leg takes: exact, by constraint programming, with a bound on the number of wires.

Each net owns slots, strips that may be in use; every leg is in one slot of its net, or on a rail. The wires
of a net need no routing: strips less one, less what buttons join within themselves; on a rail's net one for
each strip, and one for each further piece of rail. Whether such a tree fits the free seats is a sum of
degrees.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from itertools import pairwise
from typing import Any

from .bodies import BoardPart, Wanted
from .layout import Placing
from .positions import LegEnd, Positions, Slot
from .repeated import Channels
from .rough import SEATS, Ground, Rough, Spot, Strip

EXTRA = 4  # strips of a net beyond those that its legs force
FULL_STRIP = 3  # legs that a strip of a large net is thought to take


class Model(Positions):
    """The constraints of one board and one circuit."""

    def __init__(
        self,
        wanted: Wanted,
        ground: Ground,
        pins: Mapping[str, Placing] | None = None,
        alike: Iterable[Channels] = (),
    ) -> None:
        super().__init__(wanted, ground, pins, alike)
        self.slots: dict[str, list[Slot]] = {}
        self.joins: dict[str, list[tuple[Slot, Slot]]] = {}
        self.pieces: dict[tuple[str, int], Any] = {
            (sign, k): self.m.new_bool_var(f"rail {sign}{k}")
            for sign in sorted(set(self.rails.values()))
            for k in range(len(ground.bench.segments))
        }
        self.outside = 0  # how many wires more a plan costs that the slots leave out
        self._nets()
        self._strips()

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
        active, below = self.flag(f"{name} active"), self.flag(f"{name} below")
        if fixed:
            self.m.add(active == 1)
        degree = self.m.new_int_var(0, SEATS - 1, f"{name} degree")
        self.m.add(degree == 0).only_enforce_if(active.negated())
        column = self.column_of(pos, below, f"{name} column")
        return Slot(net, pos, active, degree, below, column, fixed)

    def _into(self, body: BoardPart, k: int, own: list[Slot]) -> None:
        """A leg in one slot of its net, or on the rail."""
        end = self.ends[body.key, k]
        literals = [literal for literal, _ in end.rails]
        for i, slot in enumerate(own):
            within = self.flag(f"{body.key} {k} in {i}")
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
        many = self.flag(f"{net} many")
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
                    probe = self.flag(f"{net} probe {k}")
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
            here = self.flag(f"piece {len(chosen)}")
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

    def _on_to_rail(self, body: BoardPart, end: LegEnd, other: LegEnd, pinned: bool) -> None:
        """From one leg's strip straight on to the rail beside it, where no pinned leg is in that seat."""
        for literal, sign in end.rails:
            self._beside(other.pos, sign, literal)
            over = (
                ("+", "0") if sign == "+" else ("0",)
            )  # on its way to the outer rail it lies over the inner one
            for pos in () if pinned else [p for s in over for p in self.held.get(s, ())]:
                self.m.add(other.pos != pos).only_enforce_if(literal)
            for within, slot in other.slots:
                both = self.flag(f"{body.key} out")
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
            net: tuple(
                Strip(int(value(s.pos) > self.over), value(s.pos) % self.over) for s in own if value(s.active)
            )
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
