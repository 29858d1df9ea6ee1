"""What the program can do about a verdict: a window's value, a guard's other school, and offers for an empty
window.
"""

from __future__ import annotations

from ..quantity import show
from ..stages.say.checks import RANK, Change, Remedy, Verdict
from ..stages.say.windows import Offer, Window
from ..stages.say.wording import inside
from .exchange import offers
from .study import Study
from .trade import Trade, TradePoint


def with_offers(here: Study) -> tuple[Window, ...]:
    """The windows; an empty one of a drive gets the other drives that would do as offers.

    Every other drive is judged for it: a question of its own, asked when an empty window is looked at.
    """
    others: dict[str, tuple[Offer, ...]] = {}
    found = []
    for window in here.windows:
        if window.gap is not None and here.design.blocks[window.block].role == "drive":
            if window.block not in others:
                others[window.block] = tuple(
                    Offer(
                        title=f"Use the {inside(o.title)}",
                        detail=f"{o.summary}: {o.note}",
                        standing=o.standing or "unknown",
                        stock=o.stock,
                        changes=o.changes,
                    )
                    for o in offers(here, window.block)
                    if not o.in_use and o.standing != "fails"
                )
            window = window.model_copy(update={"offers": others[window.block] + window.offers})
        found.append(window)
    return tuple(found)


def _by_window(here: Study) -> dict[str, Remedy]:
    """For each verdict whose bound a value breaks, the value its window suggests."""
    fixes: dict[str, Remedy] = {}
    for found in here.windows:
        if found.gap is not None or found.suggested is None:
            continue
        stock = here.drawer.values(found.unit)
        for bound in (found.low, found.high, *found.others):
            if bound is None:
                continue
            broken = found.present is None or (
                found.present < bound.value if bound.side == "low" else found.present > bound.value
            )
            if broken:
                remedy = Remedy(
                    text=f"Use {found.ref} {show(found.suggested, found.unit)}",
                    changes=(Change(path=found.path, value=found.suggested),),
                    stock=stock.get(found.suggested, 0),
                )
                fixes.setdefault(f"{found.block}.{bound.verdict}", remedy)
    return fixes


def _school(point: TradePoint, text: str) -> Remedy:
    return Remedy(text=text, changes=point.changes, stock=point.stock)


def remedied(here: Study, plane: Trade | None) -> tuple[Verdict, ...]:
    """The verdicts; a failing or tight one gets the change that mends it, where a window or a
    school has one.
    """
    fixes = _by_window(here)
    by_about: dict[str, Remedy] = {}
    if plane is not None:
        good = [p for p in plane.points if p.offered and p.standing in ("fits", "tight") and not p.in_use]
        quick = [p for p in good if p.release_worst < plane.release_limit]
        if quick:
            pick = min(quick, key=lambda p: (RANK[p.standing] * -1, p.peak))
            release = next((v.id for v in here.verdicts if v.block == plane.block and v.about == "time"), "")
            fixes[release] = _school(pick, f"Use {pick.title[0].lower()}{pick.title[1:]}")
        if good:
            pick = min(good, key=lambda p: p.peak)
            name = pick.title.lower().replace("plain ", "")
            by_about["peak"] = _school(pick, f"Fit a {name} across the coil")
    found = []
    for verdict in here.verdicts:
        fix = fixes.get(verdict.id) or (by_about.get(verdict.about) if verdict.sort == "limit" else None)
        if fix is not None and verdict.standing in ("fails", "tight"):
            verdict = verdict.model_copy(update={"remedy": fix})
        found.append(verdict)
    return tuple(found)
