"""The guard's ways on one plane: how long the load takes to let go against how high the switch is lifted."""

from __future__ import annotations

from collections.abc import Collection

from ..fields import Document
from ..stages.contract import Open
from ..stages.contract.stage import Schooled
from ..stages.say.checks import Change, Standing, worst_of
from .study import Study

ROOM = 0.8  # share of the switch's breakdown that a peak may take


class TradePoint(Document):
    """One school on the trade between release time [s] and peak [V]."""

    school: str
    title: str
    in_use: bool
    standing: Standing
    release: float
    release_worst: float
    peak: float
    stock: int | None
    on_curve: bool
    offered: bool  # whether a builder can fit it
    changes: tuple[Change, ...]


class Trade(Document):
    """The trade plane: the allowed rectangle and the schools in it, of the guard at `block`."""

    block: str
    release_limit: float
    peak_limit: float
    points: tuple[TradePoint, ...]


def trade(here: Study, among: Collection[str] = ()) -> Trade | None:
    """The first guard with ways, each of them judged in this design; None where there is nothing to trade.

    `among` are the blocks to look at, where not all are.
    """
    for stage, site in here.of_role("guard"):
        if isinstance(stage, Schooled) and (not among or site.id in among):
            try:
                breakdown = site.switch.breakdown
                ways = stage.ways(site)
            except Open:
                return None
            break
    else:
        return None
    points, limit = [], 0.0
    drives = [b for b in here.design.of_role("drive") if site.id in here.behind(b)]
    for way in ways:
        in_use = getattr(stage, way.field) == way.value
        trial = stage.model_copy(update={way.field: way.value})
        blocks = {**here.design.blocks, site.id: trial}
        then = here if in_use else Study(here.design.model_copy(update={"blocks": blocks}), here.drawer)
        mine = then.judged(site.id)
        release = next((v for v in mine if v.about == "time"), None)
        peak = next((v for b in drives if (v := then.about(b, "peak")) is not None), None)
        if release is None or peak is None:
            return None
        limit = release.limit
        own = [*mine, peak]
        points.append(
            TradePoint(
                school=way.value,
                title=way.title,
                in_use=in_use,
                standing=worst_of(v.standing for v in own),
                release=release.nominal,
                release_worst=release.worst,
                peak=min(peak.worst, breakdown) if peak.unit == "V" else breakdown,
                stock=here.drawer.count(way.card) if way.card else None,
                on_curve=way.on_curve,
                offered=way.offered,
                changes=(Change(path=site.path(way.field), value=way.value),),
            )
        )
    if not points:
        return None
    return Trade(block=site.id, release_limit=limit, peak_limit=ROOM * breakdown, points=tuple(points))
