"""A plan that takes another's place while it is being built: what has to move, and what has to come out."""

from __future__ import annotations

from collections.abc import Collection

from .layout import BoardPlan, BoardWire, Placing
from .lying import out_step, placed_step, wire_id
from .proof import cells


def carried(old: BoardPlan | None, new: BoardPlan, done: Collection[str]) -> tuple[BoardPlan, frozenset[str]]:
    """The new plan knowing what the old one left on the board, and the steps that are not done any more."""
    if old is None:
        return new, frozenset()
    undone: set[str] = set()
    placings = []
    for placing in new.placings:
        before = old.of.get(placing.part)
        was = _sits(before, done)
        if was == tuple(x.seat for x in placing.legs):
            was = ()
        if was:
            undone.add(placed_step(placing.part))
        placings.append(placing.model_copy(update={"was": was}))
    gone = [p for p in old.placings if p.part not in new.of and _sits(p, done)]
    ids = {wire_id(link) for link in new.links}
    loose = [link for link in old.links if wire_id(link) in done and wire_id(link) not in ids]
    still = [p for p in old.out if out_step(p.part) not in done and p.part not in new.of]
    wires = [
        link for link in old.out_links if out_step(wire_id(link)) not in done and wire_id(link) not in ids
    ]
    plan = new.model_copy(
        update={
            "placings": tuple(placings),
            "out": (*still, *gone),
            "out_links": tuple({wire_id(k): k for k in [*wires, *loose]}.values()),
        }
    )
    undone |= {placed_step(p.part) for p in gone} | {wire_id(link) for link in loose}
    return plan, frozenset(undone)


def _sits(placing: Placing | None, done: Collection[str]) -> tuple:  # type: ignore[type-arg]
    """Where a part's legs are on the real board; nowhere while it is not placed."""
    if placing is None:
        return ()
    if placed_step(placing.part) in done:
        return tuple(x.seat for x in placing.legs)
    return placing.was


def same_wires(plan: BoardPlan, kept: BoardPlan) -> BoardPlan:
    """Wires that still join what they joined stay in their seats, where those are free."""
    known = {_joins(link): link for link in kept.links}
    taken = {cell for p in plan.placings for cell in cells(p)}
    links, later = [], []
    for link in plan.links:
        old = known.get(_joins(link))
        spots = {(s.board, s.column, s.across) for s in (old.a, old.b)} if old else set()
        if old and not spots & taken:
            links.append(old.model_copy(update={"net": link.net}))
            taken |= spots
        else:
            later.append(link)
    for link in later:
        spots = {(s.board, s.column, s.across) for s in (link.a, link.b)}
        if spots & taken:
            return plan  # the old wires sit where a new one must
        taken |= spots
        links.append(link)
    return plan.model_copy(update={"links": tuple(links)})


def _joins(link: BoardWire) -> frozenset[tuple[int, int, int, str]]:
    """The strips or rails that a wire joins."""
    return frozenset((s.board, s.column, s.side, s.rail) for s in (link.a, link.b))
