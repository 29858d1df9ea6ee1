"""Which strips of a net each wire joins: the shortest tree that the strips' free seats allow."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from itertools import combinations

from .bodies import BoardPart, Wanted
from .layout import Placing
from .rough import SEATS, Ground, Rough, Strip, gap_depth, rail_depth

CROSSING = 6  # how much farther a strip on the other side is, for a wire


@dataclass(frozen=True)
class Tie:
    """A wire of a net between two strips."""

    net: str
    a: Strip
    b: Strip


def ties(rough: Rough, wanted: Wanted, ground: Ground, pins: Mapping[str, Placing]) -> list[Tie]:
    """The wires that make one piece of each net's strips; a net on the rails needs none between strips."""
    room = _room(rough, wanted, ground, pins)
    joined: dict[str, list[tuple[Strip, Strip]]] = {}
    for net, one, two in pairs(rough, wanted):
        joined.setdefault(net, []).append((one, two))
    return [
        Tie(net, a, b)
        for net, strips in rough.strips.items()
        if net not in wanted.polarity
        for a, b in _tree({s: room.get(s, SEATS) for s in strips}, joined.get(net, ()))
    ]


def pairs(rough: Rough, wanted: Wanted) -> Iterator[tuple[str, Strip, Strip]]:
    """The strips that buttons join within themselves, with their net."""
    for body in wanted.bodies:
        if body.shape == "button":
            spots = rough.legs[body.key]
            for k in (0, 2):
                yield body.legs[k].net, spots[k].strip, spots[k + 1].strip


def _tree(room: dict[Strip, int], joined: Iterable[tuple[Strip, Strip]]) -> Iterator[tuple[Strip, Strip]]:
    """Wires between strips with so many free seats each, until all are one piece: the nearest first, and a
    piece keeps seats for what has to follow.
    """
    piece = {strip: k for k, strip in enumerate(room)}
    free = {k: room[strip] for strip, k in piece.items()}  # of a whole piece

    def merge(a: Strip, b: Strip, ends: int) -> None:
        kept, gone = piece[a], piece[b]
        free[kept] += free[gone] - ends
        for strip, k in piece.items():
            if k == gone:
                piece[strip] = kept

    for a, b in joined:
        if piece[a] != piece[b]:
            merge(a, b, 0)
    near = sorted(combinations(room, 2), key=_apart)
    while (count := len(set(piece.values()))) > 1:
        a, b = next(
            (a, b)
            for a, b in near
            if piece[a] != piece[b] and room[a] > 0 and room[b] > 0
            if count == 2 or free[piece[a]] + free[piece[b]] > 2
        )
        merge(a, b, 2)
        room[a], room[b] = room[a] - 1, room[b] - 1
        yield a, b


def _apart(pair: tuple[Strip, Strip]) -> tuple[int, Strip, Strip]:
    a, b = pair
    return abs(a.column - b.column) + CROSSING * (a.side != b.side), a, b


def _room(rough: Rough, wanted: Wanted, ground: Ground, pins: Mapping[str, Placing]) -> dict[Strip, int]:
    """How many seats of each strip no part takes or covers."""
    room: dict[Strip, int] = {}
    for body in wanted.bodies:
        for strip, count in _takes(body, rough, ground, pins.get(body.key)):
            room[strip] = room.get(strip, SEATS) - count
    return room


def _takes(
    body: BoardPart, rough: Rough, ground: Ground, pinned: Placing | None
) -> Iterator[tuple[Strip, int]]:
    """The seats of strips that a part takes or covers."""
    spots = rough.legs[body.key]
    on = [s for s in spots if not s.rail]
    if pinned is not None:
        yield from ((strip, 1) for strip, _ in ground.under(pinned))
    elif body.shape == "button":
        columns = range(min(s.column for s in spots), max(s.column for s in spots) + 1)
        yield from ((Strip(side, column), 1) for column in columns for side in (0, 1))
    elif body.shape != "two":
        yield from ((s.strip, 1) for s in on)
    elif len(on) == 1:
        sign = next(s.rail for s in spots if s.rail)
        yield on[0].strip, rail_depth(body, sign) or 1
    elif len(on) == 2 and on[0].side == on[1].side:
        low, high = sorted(s.column for s in on)
        yield from ((Strip(on[0].side, column), 1) for column in range(low, high + 1))
    elif len(on) == 2:
        above, below = gap_depth(body) or (1, 1)
        yield from ((Strip(0, on[0].column), above), (Strip(1, on[0].column), below))
