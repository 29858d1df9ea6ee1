"""A first plan at once: bodies from left to right in the order they are built, each near what it is joined
to.

Every strip keeps two seats free for wires, so that the strips of a net can always be joined in a chain.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from .boards import Board
from .bodies import BoardPart, Wanted
from .rough import SEATS, Ground, Rough, Spot, Strip, gap_depth, rail_depth, rails_needed

KEPT = 2  # seats of a strip that stay free for wires
NEW = 12.0  # what a strip more costs, against positions of distance
STANDS = 8.0  # what it costs to stand a part up
NEAR = 12  # positions from what a part is joined to, in which it is tried first
ACROSS = 3.0  # what it costs to change the side


class Full(Exception):
    """The boards have no room for a part."""

    def __init__(self, body: BoardPart) -> None:
        super().__init__(body.ref)
        self.body = body


class _Greedy:
    def __init__(self, wanted: Wanted, ground: Ground) -> None:
        self.wanted, self.ground = wanted, ground
        self.rails = rails_needed(wanted)
        self.net_of: dict[Strip, str] = {}
        self.room: dict[Strip, int] = {}
        self.strips: dict[str, list[Strip]] = {}
        self.railed: set[Strip] = set()  # strips with a part that goes on to a rail
        self.gap: set[int] = set()
        self.legs: dict[str, tuple[Spot, ...]] = {}
        self.inner: dict[str, int] = {}  # joins that buttons make within themselves
        self.at = min(ground.columns) + 1

    # --- seats ----------------------------------------------------------------------------------------
    def left(self, strip: Strip) -> int:
        return self.room.get(strip, SEATS - KEPT)

    def open(self, strip: Strip, net: str, need: int = 1) -> bool:
        """Whether a strip can take a leg of a net."""
        if strip.column not in self.ground.there or self.left(strip) < need:
            return False
        return self.net_of.get(strip, net) == net

    def take(self, strip: Strip, net: str, need: int = 1) -> None:
        self.room[strip] = self.left(strip) - need
        self.net_of[strip] = net
        known = self.strips.setdefault(net, [])
        if strip not in known:
            known.append(strip)

    def cover(self, strip: Strip) -> None:
        self.room[strip] = self.left(strip) - 1

    # --- bodies ---------------------------------------------------------------------------------------
    def run(self) -> Rough:
        bodies = self.wanted.bodies
        for body in bodies:
            if body.shape in ("chip", "button", "inline"):
                self._several(body)
        for body in sorted((b for b in bodies if b.shape == "two"), key=self._known, reverse=True):
            self._two(body)
        for body in bodies:
            if body.shape == "leads":
                self.legs[body.key] = tuple(self._lead(body, leg.net) for leg in body.legs)
        return self._rough()

    def _known(self, body: BoardPart) -> int:
        """How many of a part's nets have a strip or a rail already."""
        return sum(leg.net in self.strips or leg.net in self.rails for leg in body.legs)

    def _several(self, body: BoardPart) -> None:
        """The next free columns, each leg a strip of its own."""
        for column in self.ground.free_runs(1):
            if column < self.at:
                continue
            for spots in _ways(body, column):
                wide = range(min(s.column for s in spots), max(s.column for s in spots) + 1)
                free = all(
                    self.open(s.strip, leg.net or f"{body.key}.{leg.name}") and s.strip not in self.net_of
                    for s, leg in zip(spots, body.legs, strict=True)
                )
                spans = body.shape != "inline"
                if not free or (spans and self.gap & set(wide)):
                    continue
                if body.shape == "button":
                    for side in (0, 1):
                        self.cover(Strip(side, wide[1]))
                    self.inner[body.legs[0].net] = self.inner.get(body.legs[0].net, 0) + 1
                    self.inner[body.legs[2].net] = self.inner.get(body.legs[2].net, 0) + 1
                if spans:
                    self.gap |= set(wide)
                for s, leg in zip(spots, body.legs, strict=True):
                    self.take(s.strip, leg.net or f"{body.key}.{leg.name}")
                self.legs[body.key] = spots
                if body.shape != "inline":
                    self.at = wide[-1] + 2
                return
        raise Full(body)

    def _two(self, body: BoardPart) -> None:
        best = None
        for everywhere in (False, True):
            best = best or min(self._choices(body, everywhere), key=lambda found: found[0], default=None)
        if best is None:
            raise Full(body)
        _, spots, covers, gap = best
        self.legs[body.key] = spots
        for strip in covers:
            self.cover(strip)
        for spot, leg in zip(spots, body.legs, strict=True):
            if spot.rail:
                continue
            self.take(spot.strip, leg.net)
        if gap:
            self.gap.add(spots[0].column)
        elif any(s.rail for s in spots) and not all(s.rail for s in spots):
            self.railed.add(next(s.strip for s in spots if not s.rail))

    def _choices(
        self, body: BoardPart, everywhere: bool
    ) -> Iterator[tuple[float, tuple[Spot, ...], list[Strip], bool]]:
        """Every way a two-legged part can go: cost, spots, seats it covers, whether it spans the gap."""
        a, b = (leg.net for leg in body.legs)
        if a in self.rails and b in self.rails:
            column = self._near(body)
            yield 0.0, (Spot(0, column, self.rails[a]), Spot(0, column, self.rails[b])), [], False
        for first, (net, other) in enumerate(((a, b), (b, a))):
            for strip in self._candidates(net, (net, other), everywhere):
                cost = self._cost(strip, net)
                for spot, covers, gap, more in self._others(body, strip, net, other):
                    pair = (Spot(*strip), spot)
                    yield cost + more, pair if first == 0 else pair[::-1], covers, gap

    def _others(
        self, body: BoardPart, strip: Strip, net: str, other: str
    ) -> Iterator[tuple[Spot, list[Strip], bool, float]]:
        side, column = strip
        if other in self.rails:
            depth = rail_depth(body, self.rails[other])
            if depth and self.open(strip, net, depth) and strip not in self.railed:
                yield Spot(side, column, self.rails[other]), [strip] * (depth - 1), False, 0.0
        reach = body.reach
        for span in range(reach.least, reach.high + 1):
            stands = STANDS if span < reach.low else 0.0
            for to in (Strip(side, column - span), Strip(side, column + span)):
                low, high = sorted((column, to.column))
                between = [Strip(side, c) for c in range(low + 1, high)]
                if self.open(to, other) and all(
                    s.column in self.ground.there and self.left(s) > 0 for s in between
                ):
                    yield Spot(*to), between, False, self._cost(to, other) + 0.1 * span + stands
        depths, far = gap_depth(body), Strip(1 - side, column)
        if depths and column not in self.gap:
            above, below = depths
            need = {side: above if side == 0 else below, 1 - side: below if side == 0 else above}
            if self.open(strip, net, need[side]) and self.open(far, other, need[1 - side]):
                covers = [Strip(1, column)] * (below - 1)
                yield Spot(*far), covers, True, self._cost(far, other) + 1.0

    def _candidates(self, net: str, nets: Iterable[str] = (), everywhere: bool = False) -> Iterable[Strip]:
        """The net's strips with room, and free ones near what the part is joined to."""
        known = [s for s in self.strips.get(net, ()) if self.open(s, net)]
        around = [self.at, *(s.column for n in nets for s in self.strips.get(n, ()))]
        fresh = [
            Strip(side, c)
            for c in self.ground.columns
            if everywhere or min(abs(c - a) for a in around) < NEAR
            for side in (0, 1)
            if Strip(side, c) not in self.net_of and self.open(Strip(side, c), net)
        ]
        return [*known, *fresh]

    def _cost(self, strip: Strip, net: str) -> float:
        """What it costs to use a strip for a net: nothing where it has it already."""
        if self.net_of.get(strip) == net:
            return 0.0
        if net in self.rails:
            return NEW
        known = self.strips.get(net, ())
        if not known:
            return 0.2 * abs(strip.column - self.at) / 4
        return NEW + min(abs(strip.column - s.column) + ACROSS * (strip.side != s.side) for s in known)

    def _near(self, body: BoardPart) -> int:
        """A position by the chip of the same block, or by any part of it."""
        own = [b for b in self.wanted.bodies if b.block == body.block and b.key in self.legs]
        chips = [b for b in own if b.shape == "chip"] or own
        return self.legs[chips[0].key][-1].column if chips else self.at

    def _lead(self, body: BoardPart, net: str) -> Spot:
        if net in self.rails:
            return Spot(0, self.ground.columns[0], self.rails[net])
        known = [s for s in self.strips.get(net, ()) if self.open(s, net)]
        strip = (
            known[0]
            if known
            else min(self._candidates(net, (net,), True), key=lambda s: self._cost(s, net), default=None)
        )
        if strip is None:
            raise Full(body)
        self.take(strip, net)
        return Spot(*strip)

    def _rough(self) -> Rough:
        links = 0
        used = {
            (s.rail, self.ground.bench.segment(s.side, s.column))
            for spots in self.legs.values()
            for s in spots
            if s.rail
        }
        for net, own in self.strips.items():
            links += len(own) - self.inner.get(net, 0) - (net not in self.rails)
            if net in self.rails:
                used |= {(self.rails[net], self.ground.bench.segment(*s)) for s in own}
        for sign in set(self.rails.values()):
            links += max(0, sum(s == sign for s, _ in used) - 1)
        strips = {net: tuple(own) for net, own in self.strips.items()}
        return Rough(self.legs, strips, links, frozenset(used))


def _ways(body: BoardPart, column: int) -> Iterator[tuple[Spot, ...]]:
    """Legs from a column on: a chip's by pin, to the right below the gap and back above it; a button's two
    pairs across the gap, two positions apart; others side by side, above the gap or below it.
    """
    count = len(body.legs)
    if body.shape == "chip":
        half = [*range(count // 2)]
        yield (*(Spot(1, column + k) for k in half), *(Spot(0, column + k) for k in reversed(half)))
    elif body.shape == "button":
        yield tuple(Spot(side, column + pair) for pair in (0, 2) for side in (0, 1))
    else:
        yield from (tuple(Spot(side, column + k) for k in range(count)) for side in (0, 1))


def first_plan(wanted: Wanted, ground: Ground) -> Rough:
    """A plan by strips, found at once; its wires are not told yet.

    Raises: Full with the part that finds no room.
    """
    return _Greedy(wanted, ground).run()


def grounds(owned: tuple[Board, ...]) -> Iterator[Ground]:
    """The boards that somebody owns, the smallest alone first, then several together, the largest first."""
    small_first = sorted(owned, key=lambda b: b.positions)
    for board in small_first:
        yield Ground((board,))
    for count in range(2, len(owned) + 1):
        yield Ground(tuple(small_first[::-1][:count]))


def boards_for(what: Wanted, owned: tuple[Board, ...]) -> tuple[Ground, Rough]:
    """The fewest boards of those owned that take the circuit, and a first plan on them.

    Raises: Full with the part that finds no room on all of them.
    """
    *some, last = grounds(owned)
    for ground in some:
        try:
            return ground, first_plan(what, ground)
        except Full:
            continue
    return last, first_plan(what, last)
