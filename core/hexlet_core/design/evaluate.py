"""evaluate(design): everything the program says about a design without running it in time."""

from __future__ import annotations

from ..cards import Drawer
from ..fields import Document
from ..quantity import show
from ..stages.contract import Part, Probe, Stage, View
from ..stages.drawing import Drawing
from ..stages.findings import RANK, Change, Facet, Offer, Remedy, Standing, Verdict, Window, Working, judge, worst_of
from ..stages.registry import kind_name, of_role
from ..stages.wording import Sentence
from .circuit import drawing, views
from .document import Design
from .sentences import sentences

FACETS: tuple[Facet, ...] = ("load", "drive", "guard", "behave", "build", "prove")
STRIP_LIMIT = 1.0  # what a breadboard's tie point carries [A]
COMPARED = ("pin_steady", "pin_burst", "fully_on", "switch_current", "peak", "heat")


class FacetState(Document):
    """One side of the design: how it stands, in a few words."""

    facet: Facet
    standing: Standing
    summary: str


class School(Document):
    """One way to do a stage's job, judged in this design; `changes` choose it."""

    kind: str
    title: str
    in_use: bool
    standing: Standing
    summary: str
    note: str
    choose: str
    avoid: str
    verdicts: tuple[Verdict, ...]
    changes: tuple[Change, ...]
    stock: int


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


class Choice(Document):
    """A kind that could take a place on the path, and whether it is there."""

    kind: str
    title: str
    purpose: str
    in_use: bool
    changes: tuple[Change, ...]


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
    cautions: tuple[str, ...]


def verdicts_of(design: Design, drawer: Drawer) -> list[Verdict]:
    """Every stage's verdicts and the board's, worst first."""
    all_views = views(design, drawer)
    found = [v for stage, view in zip(design.stages, all_views, strict=True) for v in stage.verdicts(view)]
    demand = all_views[0].demand
    if demand is not None:
        amps = design.supply.high / demand.cold
        found.append(
            judge(
                "strip", "build", "Strip current", nominal=amps, worst=amps, limit=STRIP_LIMIT, unit="A", sense="at most", corner="supply high, load cold",
                sentence=f"{show(amps, 'A')} of {show(STRIP_LIMIT, 'A')} through a strip.",
                working=Working(formula="I = V_{high} / R_{cold}", substituted=f"= {design.supply.high:.3g} / {show(demand.cold, 'Ω')} = {show(amps, 'A')}", reason="A breadboard's contact springs carry about an amp. What draws more is wired at the part, never through a strip."),
                remedy=Remedy(text="Wire the load's path off the board, with leads of its own."),
            )
        )  # fmt: skip
    return sorted(found, key=lambda v: (RANK[v.standing], v.left))


def swapped(design: Design, role: str, stage: Stage) -> Design:
    """The design with another stage in a role, the old one set aside with its values."""
    place = design.place(role)
    assert place is not None
    old = design.stages[place]
    stages = (*design.stages[:place], stage, *design.stages[place + 1 :])
    return design.model_copy(update={"stages": stages, "set_aside": {**design.set_aside, kind_name(type(old)): old}})


def _alternative(design: Design, role: str, kind: type[Stage], drawer: Drawer) -> Design:
    """The design with a stage of `kind`: as it was set aside, else with every value sized."""
    name = kind_name(kind)
    kept = design.set_aside.get(name)
    trial = swapped(design, role, kept or kind())
    if kept is not None:
        return trial
    place = design.place(role)
    assert place is not None
    for _ in range(2):  # the pull-down's window depends on the series resistor and the other way round
        view = views(trial, drawer)[place]
        stages: list[Stage] = list(trial.stages)
        stages[place] = stages[place].sized(view)  # type: ignore[assignment]
        trial = trial.model_copy(update={"stages": tuple(stages)})
    return trial


def _swap_changes(trial: Design, role: str) -> tuple[Change, ...]:
    place = trial.place(role)
    data = trial.model_dump(mode="json")
    return (Change(path=f"stages.{place}", value=data["stages"][place]), Change(path="set_aside", value=data["set_aside"]))


def _schools(design: Design, drawer: Drawer, verdicts: list[Verdict]) -> tuple[School, ...]:
    place = design.place("drive")
    assert place is not None
    found = []
    for kind in of_role("drive"):
        in_use = isinstance(design.stages[place], kind)
        trial = design if in_use else _alternative(design, "drive", kind, drawer)
        stage = trial.stages[place]
        all_verdicts = {v.id: v for v in (verdicts if in_use else verdicts_of(trial, drawer))}
        mine = [v for v in all_verdicts.values() if v.facet == "drive" or v.id == "peak"]
        standing = worst_of(v.standing for v in mine)
        worst = min(mine, key=lambda v: v.left, default=None)
        card = getattr(stage, "card", "")
        note = (
            ""
            if worst is None
            else (f"{worst.title} over by {-worst.left:.0%}" if worst.standing == "fails" else f"{worst.left:.0%} to spare")
        )
        found.append(
            School(
                kind=kind_name(kind), title=kind.title, in_use=in_use, standing=standing, summary=stage.summary, note=note,
                choose=kind.choose, avoid=kind.avoid, verdicts=tuple(all_verdicts[i] for i in COMPARED if i in all_verdicts),
                changes=() if in_use else _swap_changes(trial, "drive"), stock=drawer.count(card),
            )
        )  # fmt: skip
    return tuple(found)


def _trade(design: Design, drawer: Drawer, all_views: list[View]) -> Trade | None:
    """The guard's ways on one plane: how long the load takes to let go against how high the switch is lifted."""
    place = design.place("guard")
    if place is None:
        return None
    guard, points, limits = design.stages[place], [], (0.0, 0.0)
    for way in guard.ways(all_views[place]):
        stages = (*design.stages[:place], guard.model_copy(update={way.field: way.value}), *design.stages[place + 1 :])
        trial = design.model_copy(update={"stages": stages})
        view = views(trial, drawer)[place]
        own = {v.id: v for v in trial.stages[place].verdicts(view)}
        if "release" not in own or view.switch is None:
            return None
        limits = own["release"].limit, view.switch.breakdown
        peak = own["peak"].worst if own["peak"].unit == "V" else view.switch.breakdown
        points.append(
            FreewheelPoint(
                school=way.value, title=way.title, in_use=getattr(guard, way.field) == way.value, standing=worst_of(v.standing for v in own.values()),
                release=own["release"].nominal, release_worst=own["release"].worst, peak=min(peak, view.switch.breakdown), stock=drawer.count(way.card),
                changes=(Change(path=f"stages.{place}.{way.field}", value=way.value),),
            )
        )  # fmt: skip
    return Trade(release_limit=limits[0], peak_limit=0.8 * limits[1], points=tuple(points)) if points else None


def _with_offers(design: Design, windows: list[Window], schools: tuple[School, ...]) -> list[Window]:
    """Empty windows on the drive get the other schools as offers."""
    out = []
    for found in windows:
        if found.gap is not None and found.path.startswith(f"stages.{design.place('drive')}."):
            others = tuple(
                Offer(
                    title=f"Use the {s.title if s.title.isupper() else s.title[0].lower() + s.title[1:] if s.title != 'MOSFET' else s.title}",
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


def _remedied(verdicts: list[Verdict], windows: list[Window], trade: Trade | None, drawer: Drawer) -> list[Verdict]:
    """A failing or tight verdict gets the value that mends it, where a window or a school has one."""
    stock = drawer.resistors()
    fixes: dict[str, Remedy] = {}
    for found in windows:
        if found.gap is not None or found.suggested is None:
            continue
        bounds = [b for b in (found.low, found.high, *found.others) if b is not None]
        broken = {
            b.verdict for b in bounds if found.present is None or (found.present < b.value if b.side == "low" else found.present > b.value)
        }
        for verdict in broken:
            fixes.setdefault(
                verdict,
                Remedy(text=f"Use {found.ref} {show(found.suggested, found.unit)}", changes=(Change(path=found.path, value=found.suggested),), stock=stock.get(found.suggested, 0)),
            )  # fmt: skip
    if trade is not None:
        better = [p for p in trade.points if not p.in_use and p.standing in ("fits", "tight") and p.release_worst < trade.release_limit]
        if better:
            pick = min(better, key=lambda p: (RANK[p.standing] * -1, p.peak))
            fixes["release"] = Remedy(text=f"Use {pick.title[0].lower()}{pick.title[1:]}", changes=pick.changes, stock=pick.stock)
        held = [p for p in trade.points if p.standing in ("fits", "tight") and not p.in_use]
        if held:
            pick = min(held, key=lambda p: p.peak)
            fixes.setdefault(
                "peak",
                Remedy(text=f"Fit a {pick.title.lower().replace('plain ', '')} across the coil", changes=pick.changes, stock=pick.stock),
            )
    return [v.model_copy(update={"remedy": fixes[v.id]}) if v.standing in ("fails", "tight") and v.id in fixes else v for v in verdicts]


def _loads(design: Design, drawer: Drawer) -> tuple[Choice, ...]:
    place = design.place("load")
    assert place is not None
    found = []
    for kind in of_role("load"):
        in_use = isinstance(design.stages[place], kind)
        trial = design if in_use else swapped(design, "load", design.set_aside.get(kind_name(kind)) or kind())
        found.append(
            Choice(
                kind=kind_name(kind),
                title=kind.title,
                purpose=kind.purpose,
                in_use=in_use,
                changes=() if in_use else _swap_changes(trial, "load"),
            )
        )
    return tuple(found)


def _cautions(design: Design, all_views: list[View]) -> tuple[str, ...]:
    found = []
    if design.supply.high > 60:
        found.append(
            "Above 60 V DC this program gives ratings only: no build plan, no wiring steps. Your local electrical code and a licensed person decide."
        )
    if design.supply.word == "battery":
        found.append("A battery drives hundreds of amps through a slip of the screwdriver. Put a fuse at its + pole before anything else.")
    demand = all_views[0].demand
    if demand is not None and demand.inductive:
        found.append("A coil kicks when it lets go: fit the freewheel part before the first power-up.")
    if any(getattr(s, "contact_volts", 0) > 60 for s in design.stages):
        found.append(
            "The contact switches more than 60 V. Its ratings are shown for information; local code and licensed practice decide, and no wiring is given for that side."
        )
    return tuple(found)


def _measured_load(design: Design) -> bool:
    place = design.place("load")
    return (
        place is not None and hasattr(design.stages[place], "resistance") and design.origins.get(f"stages.{place}.resistance") == "measured"
    )


def evaluate(design: Design, drawer: Drawer | None = None) -> Evaluation:
    """Windows, workings, verdicts, drawing, parts and probes of a design.

    A poor design is an answer, not an error.
    Raises:
        DocumentError: a part card the design names is unknown or of the wrong kind.
    """
    drawer = drawer or Drawer()
    all_views = views(design, drawer)
    pairs = list(zip(design.stages, all_views, strict=True))
    found = verdicts_of(design, drawer)
    schools = _schools(design, drawer, found)
    trade = _trade(design, drawer, all_views)
    windows = _with_offers(design, [w for s, v in pairs for w in s.windows(v)], schools)
    verdicts = _remedied(found, windows, trade, drawer)
    by_facet = {f: [v for v in verdicts if v.facet == f] for f in FACETS}
    stage = {s.role: s for s in design.stages}
    release = next((v for v in verdicts if v.id == "release"), None)
    demand = all_views[0].demand
    amps = show(design.supply.high / demand.typical, "A") if demand else ""
    summaries: dict[Facet, str] = {
        "load": stage["load"].summary if amps in stage["load"].summary else f"{stage['load'].summary}, {amps}",
        "drive": stage["drive"].summary,
        "guard": f"Lets go in {show(release.worst, 's', 2)}" if release else "Nothing to catch",
        "behave": "Follows the pin",
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
        standing=worst_of(v.standing for v in verdicts), facets=tuple(facets), sentences=sentences(design, all_views), verdicts=tuple(verdicts), windows=tuple(windows),
        drawing=drawing(design, drawer), parts=tuple(p for s, v in pairs for p in s.parts(v)), probes=tuple(p for s, v in pairs for p in s.probes(v)),
        schools=schools, trade=trade, loads=_loads(design, drawer), cautions=_cautions(design, all_views),
    )  # fmt: skip
