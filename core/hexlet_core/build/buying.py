"""What has to be bought, for one design or several; and what would do instead, judged by the design's
verdicts.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from ..design.exchange import tried
from ..design.study import Study
from ..errors import HexletError
from ..fields import Document
from ..quantity import show_part
from ..stages.contract import Part, Placed
from ..stages.say.checks import RANK, Change, Standing, Verdict, worst_of

NEAREST, RATIO = 2, 2.5  # how many values to either side are tried, and how far off they may be
MOST = 8
NOTICED = 0.03  # a share of a limit that is worth telling


class Need(Document):
    """One thing to have: how many, how many of them are in the drawer, how many are to be bought and for
    what.
    """

    title: str
    value: str
    kind: str
    package: str
    rating: str
    used: tuple[str, ...]  # "R1", or with several designs "Roof-vent fan relay: R1"
    need: int
    stock: int
    buy: int
    price: float  # of one
    cost: float  # of what is to be bought


class ShoppingList(Document):
    """Everything that some designs need, together."""

    rows: tuple[Need, ...]
    parts: int
    buy: int
    cost: float


def shopping(designs: Sequence[tuple[str, Study]]) -> ShoppingList:
    """What designs need together: what they share is counted once against the drawer.

    `designs` are names with their studies; where there is one, its name is not repeated.
    """
    by: dict[tuple[Any, ...], list[tuple[str, Part]]] = {}
    for name, here in designs:
        for part in here.parts:
            used = f"{name}: {part.ref}" if len(designs) > 1 else part.ref
            by.setdefault(_same(part), []).append((used, part))
    rows = tuple(_need(found) for found in by.values())
    return ShoppingList(
        rows=rows,
        parts=sum(r.need for r in rows),
        buy=sum(r.buy for r in rows),
        cost=round(sum(r.cost for r in rows), 2),
    )


def _same(part: Part) -> tuple[Any, ...]:
    """What makes two parts one line: their card, else kind and value; a load is only itself."""
    if part.card:
        return (part.card,)
    if part.kind == "load":
        return (part.kind, part.title, part.value)
    return (part.kind, part.value)


def _need(found: list[tuple[str, Part]]) -> Need:
    part = found[0][1]
    need = sum(p.count for _, p in found)
    buy = max(0, need - part.stock)
    title = part.kind.capitalize() if not part.card and part.kind in ("resistor", "capacitor") else part.title
    return Need(
        title=title,
        value=part.value,
        kind=part.kind,
        package=part.package,
        rating=part.rating if len(found) == 1 else "",
        used=tuple(used for used, _ in found),
        need=need,
        stock=part.stock,
        buy=buy,
        price=part.price / part.count,
        cost=round(buy * part.price / part.count, 2),
    )


class Substitute(Document):
    """Something to take instead: what the design then says, and the change that takes it."""

    title: str
    stock: int
    price: float
    package: str
    standing: Standing
    effect: str
    changes: tuple[Change, ...]


def substitutes(here: Study, block: str, local: str) -> tuple[Substitute, ...]:
    """What could take a part's place: other cards of its kind, or values in the drawer near its own; what
    breaks nothing first, then what is in the drawer, then by price.
    """
    part = next((p for b, _, p in here.placed if b == block and p.local == local), None)
    if part is None or not part.field:
        return ()
    path = here.flow.sites[block].path(part.field)
    trials = _cards(here, part, path) if part.card is not None else _values(here, part, path)
    found = [s for s in (_judged(here, trial) for trial in trials) if s is not None]
    found.sort(key=lambda s: (s.standing == "fails", s.stock == 0, s.price))
    return tuple(found[:MOST])


def _cards(here: Study, part: Placed, path: str) -> Iterator[Substitute]:
    assert part.card is not None
    for card in here.drawer.of(type(part.card)):
        if card.id != part.card.id:
            yield Substitute(
                title=card.title,
                stock=here.drawer.count(card.id),
                price=card.price,
                package=card.package,
                standing="unknown",
                effect="",
                changes=(Change(path=path, value=card.id),),
            )


def _values(here: Study, part: Placed, path: str) -> Iterator[Substitute]:
    if part.ohms is None:
        return
    owned = {v: n for v, n in here.drawer.resistors().items() if n and v != part.ohms}
    near = [v for v in owned if 1 / RATIO <= v / part.ohms <= RATIO]
    below = sorted((v for v in near if v < part.ohms), reverse=True)[:NEAREST]
    above = sorted(v for v in near if v > part.ohms)[:NEAREST]
    for value in (*below, *above):
        yield Substitute(
            title=f"{show_part(value)} Ω",
            stock=owned[value],
            price=part.price,
            package="",
            standing="unknown",
            effect="",
            changes=(Change(path=path, value=value),),
        )


def _judged(here: Study, trial: Substitute) -> Substitute | None:
    """A trial with what it does to the design's verdicts; None where it is refused."""
    then = tried(here, trial.changes)
    try:
        if then is None or then.open:
            return None
        after = then.verdicts
    except HexletError:
        return None
    before = {v.id: v for v in here.verdicts}
    worse = [v for v in after if v.id in before and RANK[v.standing] < RANK[before[v.id].standing]]
    fresh = [v for v in after if v.id not in before and v.standing == "fails"]
    first = next(iter((*fresh, *sorted(worse, key=lambda v: RANK[v.standing]))), None)
    effect = f"{first.title}: {first.margin}." if first is not None else _less(before, after)
    standing = worst_of(v.standing for v in (*fresh, *worse))
    return trial.model_copy(update={"standing": standing, "effect": effect})


def _less(before: dict[str, Verdict], after: Sequence[Verdict]) -> str:
    """The check that loses most, where none changes its standing."""
    lost = [(before[v.id].left - v.left, v) for v in after if v.id in before and v.standing != "told"]
    most = max(lost, key=lambda found: found[0], default=(0.0, None))
    if most[1] is None or most[0] < NOTICED:
        return "Nothing that counts changes."
    return f"{most[1].title}: {before[most[1].id].margin} → {most[1].margin}."
