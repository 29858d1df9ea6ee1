"""evaluate(design): everything the program says about a design without running it in time."""

from __future__ import annotations

from collections.abc import Sequence

from ..cards import Drawer
from ..fields import Document, Q
from ..quantity import show
from ..stages.contact import WALL_AC, WALL_DC, Contact, above_wall, wall_cautions
from ..stages.contract import Measure, Part, Path, Probe, Stage, View
from ..stages.drawing import Drawing
from ..stages.findings import RANK, Change, Facet, Offer, Remedy, Standing, Verdict, Window, worst_of
from ..stages.wording import Sentence, inside
from .choose import (
    Choice,
    NotBuilt,
    School,
    card_fields,
    choices_of,
    guards_of,
    part_title,
    refusals,
    schools_of,
)
from .circuit import drawing, views
from .document import Design
from .interface import Does, Joint, interface, truth
from .judge import verdicts_of
from .sentences import sentences

FACETS: tuple[Facet, ...] = ("load", "drive", "guard", "behave", "build", "prove")


class FacetState(Document):
    """One side of the design: how it stands, in a few words."""

    facet: Facet
    standing: Standing
    summary: str


class FreewheelPoint(Document):
    """One freewheel school on the trade between release time [s] and peak [V]."""

    school: str
    title: str
    in_use: bool
    standing: Standing
    release: float
    release_worst: float
    peak: float
    stock: int
    changes: tuple[Change, ...]


class Trade(Document):
    """The trade plane: the allowed rectangle and the schools in it."""

    release_limit: float
    peak_limit: float
    points: tuple[FreewheelPoint, ...]


class Measured(Document):
    """A measurement of a part by itself, and what it settles: the value in use, and the rated one where both
    are known.
    """

    role: str
    measure: Measure
    value: str
    measured: bool
    rated: str


class CardUse(Document):
    """A field of the design that names a part card, and the card in it."""

    path: str
    title: str
    card: str
    card_title: str
    role: str


class Evaluation(Document):
    """The answer of `evaluate`."""

    standing: Standing
    facets: tuple[FacetState, ...]
    sentences: dict[str, Sentence]
    verdicts: tuple[Verdict, ...]
    windows: tuple[Window, ...]
    drawing: Drawing
    parts: tuple[Part, ...]
    probes: tuple[Probe, ...]
    schools: tuple[School, ...]
    trade: Trade | None
    loads: tuple[Choice, ...]
    signals: tuple[Choice, ...]
    guards: tuple[Choice, ...]
    refused: tuple[NotBuilt, ...]
    measures: tuple[Measured, ...]
    contact: Contact | None
    paths: tuple[Path, ...]
    supply: Range
    wall: Wall | None
    cards: tuple[CardUse, ...]
    joints: tuple[Joint, ...]
    truth: tuple[Does, ...]
    cautions: tuple[str, ...]


def _trade(design: Design, drawer: Drawer, all_views: list[View]) -> Trade | None:
    """The guard's ways on one plane: how long the load takes to let go against how high the switch is
    lifted.
    """
    place = next(
        (
            k
            for k, (s, v) in enumerate(zip(design.stages, all_views, strict=True))
            if s.role == "guard" and s.ways(v)
        ),
        None,
    )
    if place is None:
        return None
    guard, points, limits = design.stages[place], [], (0.0, 0.0)
    for way in guard.ways(all_views[place]):
        stages = (
            *design.stages[:place],
            guard.model_copy(update={way.field: way.value}),
            *design.stages[place + 1 :],
        )
        trial = design.model_copy(update={"stages": stages})
        view = views(trial, drawer)[place]
        own = {v.id: v for v in trial.stages[place].verdicts(view)}
        if "release" not in own or view.switch is None:
            return None
        limits = own["release"].limit, view.switch.breakdown
        peak = own["peak"].worst if own["peak"].unit == "V" else view.switch.breakdown
        points.append(
            FreewheelPoint(
                school=way.value,
                title=way.title,
                in_use=getattr(guard, way.field) == way.value,
                standing=worst_of(v.standing for v in own.values()),
                release=own["release"].nominal,
                release_worst=own["release"].worst,
                peak=min(peak, view.switch.breakdown),
                stock=drawer.count(way.card),
                changes=(Change(path=f"stages.{place}.{way.field}", value=way.value),),
            )
        )
    return (
        Trade(release_limit=limits[0], peak_limit=0.8 * limits[1], points=tuple(points)) if points else None
    )


def _with_offers(design: Design, windows: list[Window], schools: tuple[School, ...]) -> list[Window]:
    """Empty windows on the drive get the other schools as offers."""
    out = []
    for found in windows:
        if found.gap is not None and found.path.startswith(f"stages.{design.place('drive')}."):
            others = tuple(
                Offer(
                    title=f"Use the {inside(s.title)}",
                    detail=f"{s.summary}: {s.note}",
                    standing=s.standing,
                    stock=s.stock,
                    changes=s.changes,
                )
                for s in schools
                if not s.in_use and s.standing != "fails"
            )
            found = found.model_copy(update={"offers": others + found.offers})
        out.append(found)
    return out


def _remedied(
    verdicts: list[Verdict], windows: list[Window], trade: Trade | None, drawer: Drawer
) -> list[Verdict]:
    """A failing or tight verdict gets the value that mends it, where a window or a school has one."""
    stock = drawer.resistors()
    fixes: dict[str, Remedy] = {}
    for found in windows:
        if found.gap is not None or found.suggested is None:
            continue
        bounds = [b for b in (found.low, found.high, *found.others) if b is not None]
        broken = {
            b.verdict
            for b in bounds
            if found.present is None
            or (found.present < b.value if b.side == "low" else found.present > b.value)
        }
        for verdict in broken:
            fixes.setdefault(
                verdict,
                Remedy(
                    text=f"Use {found.ref} {show(found.suggested, found.unit)}",
                    changes=(Change(path=found.path, value=found.suggested),),
                    stock=stock.get(found.suggested, 0),
                ),
            )
    if trade is not None:
        better = [
            p
            for p in trade.points
            if not p.in_use and p.standing in ("fits", "tight") and p.release_worst < trade.release_limit
        ]
        if better:
            pick = min(better, key=lambda p: (RANK[p.standing] * -1, p.peak))
            fixes["release"] = Remedy(
                text=f"Use {pick.title[0].lower()}{pick.title[1:]}", changes=pick.changes, stock=pick.stock
            )
        held = [p for p in trade.points if p.standing in ("fits", "tight") and not p.in_use]
        if held:
            pick = min(held, key=lambda p: p.peak)
            fixes.setdefault(
                "peak",
                Remedy(
                    text=f"Fit a {pick.title.lower().replace('plain ', '')} across the coil",
                    changes=pick.changes,
                    stock=pick.stock,
                ),
            )
    return [
        v.model_copy(update={"remedy": fixes[v.id]})
        if v.standing in ("fails", "tight") and v.id in fixes
        else v
        for v in verdicts
    ]


def _cautions(design: Design, pairs: Sequence[tuple[Stage, View]]) -> tuple[str, ...]:
    found: list[str] = []
    if not design.supply.ac:
        found += wall_cautions(design.supply.high, False, "The supply")
    if design.supply.word == "battery":
        found.append(
            "A battery drives hundreds of amps through a slip of the screwdriver. Put a fuse at its + "
            "pole before anything else."
        )
    demand = pairs[0][1].demand
    if demand is not None and demand.inductive:
        found.append("A coil kicks when it lets go: fit the freewheel part before the first power-up.")
    return tuple(dict.fromkeys([*found, *(c for s, v in pairs for c in s.cautions(v))]))


class WallItem(Document):
    """One rating of the side that is not built here."""

    title: str
    text: str
    standing: Standing
    left: float


class Wall(Document):
    """What lies above the wall: why nothing is built there, and the ratings for information."""

    limit: str
    volts: str
    above: bool
    says: tuple[str, ...]
    ratings: tuple[WallItem, ...]


def _wall(design: Design, pairs: Sequence[tuple[Stage, View]], verdicts: list[Verdict]) -> Wall | None:
    """The wall, where the design or a contact comes near alternating current or high volts."""
    contact = next((c for s, v in pairs if (c := s.contact(v)) is not None), None)
    apart = contact is not None and (contact.ac or above_wall(contact.volts, False))
    if not (design.supply.ac or apart or design.supply.walled):
        return None
    volts, ac = (
        (contact.volts, contact.ac)
        if apart and contact is not None
        else (design.supply.high, design.supply.ac)
    )
    wanted = (
        ("contact_", "switch_contact_")
        if apart
        else ("ac_peak", "bridge_", "feed_volts", "feed_heat", "switch_current")
    )
    items = tuple(
        WallItem(title=v.title, text=v.figures, standing=v.standing, left=v.left)
        for v in verdicts
        if v.id.startswith(wanted)
    )
    limit = WALL_AC if ac else WALL_DC
    return Wall(
        limit=f"{limit:g} V {'AC' if ac else 'DC'}",
        volts=f"{show(volts, 'V')} {'AC' if ac else 'DC'}",
        above=above_wall(volts, ac),
        says=tuple(c for s, v in pairs for c in s.cautions(v)),
        ratings=items,
    )


class Range(Document):
    """What the supply really does, against what the load needs and may get [V]."""

    low: float
    typical: float
    high: float
    needs: float | None
    needs_words: str
    cold_needs: float | None
    most: float | None
    most_words: str
    battery: bool


def _range(design: Design, view: View, verdicts: list[Verdict]) -> Range:
    """The supply's range beside the load's limits, from the load's own verdicts in volts."""
    own = [v for v in verdicts if v.facet == "load" and v.unit == "V"]
    needs = next((v for v in own if v.sense == "at least"), None)
    most = next((v for v in own if v.sense == "at most" and v.corner.startswith("supply high")), None)
    s = design.supply
    return Range(
        low=s.low,
        typical=s.typical,
        high=s.high,
        needs=needs.limit if needs else None,
        needs_words=needs.title.lower() if needs else "",
        cold_needs=view.demand.cold_volts if view.demand else None,
        most=most.limit if most else None,
        most_words="the most it may get" if most else "",
        battery=s.word == "battery",
    )


def _measured_load(design: Design) -> bool:
    place = design.place("load")
    return place is not None and any(
        path.startswith(f"stages.{place}.") and origin == "measured"
        for path, origin in design.origins.items()
        if hasattr(design.stages[place], path.rsplit(".", 1)[-1])
    )


def _measures(design: Design, pairs: Sequence[tuple[Stage, View]]) -> tuple[Measured, ...]:
    found = []
    for stage, view in pairs:
        for measure in stage.measures(view):
            value = rated = ""
            if measure.path is not None and measure.path.startswith("stages."):
                name = measure.path.rsplit(".", 1)[-1]
                number = getattr(stage, name)
                unit = next((m.unit for m in type(stage).model_fields[name].metadata if isinstance(m, Q)), "")
                value = show(number, unit) if isinstance(number, float) else str(number)
                kept = design.rated.get(measure.path)
                rated = show(kept, unit) if kept is not None else ""
            found.append(
                Measured(
                    role=stage.role,
                    measure=measure,
                    value=value,
                    measured=design.origins.get(measure.path or "") == "measured",
                    rated=rated,
                )
            )
    return tuple(found)


def _cards(design: Design, drawer: Drawer) -> tuple[CardUse, ...]:
    found = []
    used = {p.path for s, v in zip(design.stages, views(design, drawer), strict=True) for p in s.parts(v)}
    for k, field, _ in card_fields(design):
        if f"stages.{k}.{field}" not in used:
            continue
        card = drawer.cards.get(getattr(design.stages[k], field))
        stage = design.stages[k]
        found.append(
            CardUse(
                path=f"stages.{k}.{field}",
                title=part_title(stage, field),
                card=card.id if card else "",
                card_title=card.title if card else "",
                role=stage.role,
            )
        )
    return tuple(found)


def evaluate(design: Design, drawer: Drawer | None = None, *, compare: bool = True) -> Evaluation:
    """Windows, workings, verdicts, drawing, parts and probes of a design.

    A poor design is an answer, not an error. Without `compare` the other drives are not sized and judged,
    which is most of the work.
    Raises:
        DocumentError: a part card the design names is unknown or of the wrong kind.
    """
    drawer = drawer or Drawer()
    all_views = views(design, drawer)
    pairs = list(zip(design.stages, all_views, strict=True))
    found = verdicts_of(design, drawer)
    schools = schools_of(design, drawer, found) if compare else ()
    trade = _trade(design, drawer, all_views)
    windows = _with_offers(design, [w for s, v in pairs for w in s.windows(v)], schools)
    verdicts = _remedied(found, windows, trade, drawer)
    by_facet = {f: [v for v in verdicts if v.facet == f] for f in FACETS}
    stage = {s.role: s for s in design.stages}
    release = next((v for v in verdicts if v.id == "release"), None)
    demand = all_views[0].demand
    amps = show(design.supply.high / demand.typical, "A") if demand else ""
    summaries: dict[Facet, str] = {
        "load": stage["load"].summary
        if amps in stage["load"].summary
        else f"{stage['load'].summary}, {amps}",
        "drive": stage["drive"].summary,
        "guard": f"Lets go in {show(release.worst, 's', 2)}"
        if release
        else next(
            (s.summary for s in design.stages if s.role == "guard" and s.summary != "None"),
            "Nothing to catch",
        ),
        "behave": f"Follows the {all_views[0].offer.name if all_views[0].offer else 'signal'}",
        "build": "Steps to do",
        "prove": "Readings to take",
    }
    facets = []
    for f in FACETS:
        standing: Standing = worst_of(v.standing for v in by_facet[f])
        if f == "load" and _measured_load(design) and standing != "fails":
            standing = "proven"
        if f in ("build", "prove"):
            standing = "fails" if standing == "fails" else "unknown"
        facets.append(FacetState(facet=f, standing=standing, summary=summaries[f]))
    return Evaluation(
        standing=worst_of(v.standing for v in verdicts),
        facets=tuple(facets),
        sentences=sentences(design, all_views),
        verdicts=tuple(verdicts),
        windows=tuple(windows),
        drawing=drawing(design, drawer),
        parts=tuple(p for s, v in pairs for p in s.parts(v)),
        probes=tuple(p for s, v in pairs for p in s.probes(v)),
        schools=schools,
        trade=trade,
        loads=choices_of(design, "load"),
        signals=choices_of(design, "signal"),
        guards=guards_of(design, drawer),
        refused=refusals(),
        measures=_measures(design, pairs),
        contact=next((c for s, v in pairs if (c := s.contact(v)) is not None), None),
        paths=tuple(p for s, v in pairs for p in s.paths(v)),
        supply=_range(design, all_views[0], verdicts),
        wall=_wall(design, pairs, verdicts),
        cards=_cards(design, drawer),
        joints=interface(all_views[0], verdicts),
        truth=truth(all_views[0], verdicts),
        cautions=_cautions(design, pairs),
    )
