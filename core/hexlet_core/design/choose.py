"""Choosing: other drives, loads, signals and guards in this design, and which part cards would do.

Every choice is a list of changes to the document, so that taking it is one step and can be undone.
"""

from __future__ import annotations

from ..cards import Drawer
from ..cards.card import Card
from ..errors import HexletError
from ..fields import Document
from ..quantity import show
from ..stages.contract import Stage, View
from ..stages.findings import RANK, Change, Standing, Verdict, worst_of
from ..stages.registry import REFUSED, kind_name, of_role
from .circuit import views
from .document import Design
from .judge import verdicts_of

COMPARED = (
    "pin_steady",
    "pin_burst",
    "fully_on",
    "gate_max",
    "off_level",
    "boot",
    "switch_current",
    "surge",
    "transfer",
    "peak",
    "ac_peak",
    "pull_in",
    "heat",
)


class Cost(Document):
    """One thing a choice costs, as text with its unit, and as a number to sort by."""

    title: str
    text: str
    value: float


class School(Document):
    """One way to do a stage's job, judged in this design; `changes` choose it."""

    kind: str
    title: str
    in_use: bool
    standing: Standing
    summary: str
    note: str
    purpose: str
    choose: str
    avoid: str
    costs: tuple[Cost, ...]
    verdicts: tuple[Verdict, ...]
    changes: tuple[Change, ...]
    stock: int


class NotBuilt(Document):
    """A way that is not built here, why, and what to take instead."""

    title: str
    why: str
    instead: str


class Choice(Document):
    """A kind that could take a place on the path, and whether it is there."""

    kind: str
    title: str
    purpose: str
    in_use: bool
    summary: str
    standing: Standing | None
    choose: str
    avoid: str
    changes: tuple[Change, ...]
    verdicts: tuple[str, ...] = ()  # ids of its own verdicts, where it is fitted


class Listed(Document):
    """A part card that could take a place: how its design would stand, and what breaks."""

    card: str
    title: str
    brief: str
    in_use: bool
    stock: int
    standing: Standing
    note: str
    failing: tuple[str, ...]
    drop: float | None
    heat: float | None
    gate: float | None
    package: str
    price: float
    changes: tuple[Change, ...]


class Shortlist(Document):
    """The cards for one field, those that pass first."""

    path: str
    title: str
    rows: tuple[Listed, ...]


def swapped(design: Design, role: str, stage: Stage) -> Design:
    """The design with another stage in a role, the old one set aside with its values."""
    place = design.place(role)
    assert place is not None
    old = design.stages[place]
    stages = (*design.stages[:place], stage, *design.stages[place + 1 :])
    return design.model_copy(
        update={"stages": stages, "set_aside": {**design.set_aside, kind_name(type(old)): old}}
    )


def _alternative(design: Design, role: str, kind: type[Stage], drawer: Drawer) -> Design:
    """The design with a stage of `kind`: as it was set aside, else with every value sized."""
    kept = design.set_aside.get(kind_name(kind))
    trial = swapped(design, role, kept or kind())
    return trial if kept is not None else sized(trial, role, drawer)


def sized(design: Design, role: str, drawer: Drawer) -> Design:
    """The design with every value of one stage moved to what its windows suggest."""
    place = design.place(role)
    assert place is not None
    for _ in range(2):  # the pull-down's window depends on the series resistor and the other way round
        stages: list[Stage] = list(design.stages)
        stages[place] = stages[place].sized(views(design, drawer)[place])
        design = design.model_copy(update={"stages": tuple(stages)})
    return design


def swap_changes(trial: Design, role: str) -> tuple[Change, ...]:
    """What turns the design into the trial with another stage in a role."""
    place = trial.place(role)
    data = trial.model_dump(mode="json")
    return (
        Change(path=f"stages.{place}", value=data["stages"][place]),
        Change(path="set_aside", value=data["set_aside"]),
    )


def note_of(verdicts: list[Verdict]) -> str:
    """The worst of some verdicts in a few words."""
    worst = min(verdicts, key=lambda v: (RANK[v.standing], v.left), default=None)
    if worst is None:
        return ""
    if worst.standing == "fails":
        return f"{worst.title} over by {-worst.left:.0%}" if worst.left > -9 else worst.title
    return f"{worst.left:.0%} to spare" if worst.left >= 0.005 else f"{worst.title} at its limit"


def costs_of(stage: Stage, view: View, verdicts: dict[str, Verdict]) -> tuple[Cost, ...]:
    """What a drive costs: drop, heat, current taken from the signal, price of its parts."""
    found = []
    if view.switch is not None:
        found.append(Cost(title="drop", text=show(view.switch.drop_worst, "V"), value=view.switch.drop_worst))
    if "heat" in verdicts:
        found.append(Cost(title="heat", text=show(verdicts["heat"].worst, "W"), value=verdicts["heat"].worst))
    taken = next(
        (verdicts[k] for k in ("pin_steady", "shift_pin_steady", "first_pin_steady") if k in verdicts), None
    )
    if taken is not None:
        found.append(Cost(title="drive", text=show(taken.worst, "A"), value=taken.worst))
    price = sum(p.price for p in stage.parts(view))
    found.append(Cost(title="price", text=f"{price:.2f}", value=price))
    return tuple(found)


def schools_of(design: Design, drawer: Drawer, verdicts: list[Verdict]) -> tuple[School, ...]:
    """Every drive that could do this job, judged on the same verdicts: those of the drive, the load and the
    guard.
    """
    place = design.place("drive")
    assert place is not None
    found = []
    for kind in of_role("drive"):
        in_use = isinstance(design.stages[place], kind)
        trial = design if in_use else _alternative(design, "drive", kind, drawer)
        stage = trial.stages[place]
        every = {v.id: v for v in (verdicts if in_use else verdicts_of(trial, drawer))}
        mine = [v for v in every.values() if v.facet in ("drive", "load") or v.id == "peak"]
        card = getattr(stage, "card", "")
        found.append(
            School(
                kind=kind_name(kind),
                title=kind.title,
                in_use=in_use,
                standing=worst_of(v.standing for v in mine),
                summary=stage.summary,
                note=note_of(mine),
                purpose=kind.purpose,
                choose=kind.choose,
                avoid=kind.avoid,
                costs=costs_of(stage, views(trial, drawer)[place], every),
                verdicts=tuple(every[i] for i in COMPARED if i in every),
                changes=() if in_use else swap_changes(trial, "drive"),
                stock=drawer.count(card),
            )
        )
    return tuple(found)


def refusals() -> tuple[NotBuilt, ...]:
    """What is not built here, with reasons."""
    return tuple(NotBuilt(title=r.title, why=r.why, instead=r.instead) for r in REFUSED)


def choices_of(design: Design, role: str) -> tuple[Choice, ...]:
    """The kinds that could take the one place of a role; everything else keeps its values."""
    place = design.place(role)
    assert place is not None
    found = []
    for kind in of_role(role):
        in_use = type(design.stages[place]) is kind
        stage = design.stages[place] if in_use else design.set_aside.get(kind_name(kind)) or kind()
        trial = design if in_use else swapped(design, role, stage)
        found.append(
            Choice(
                kind=kind_name(kind),
                title=kind.title,
                purpose=kind.purpose,
                in_use=in_use,
                summary=stage.summary,
                standing=None,
                choose=kind.choose,
                avoid=kind.avoid,
                changes=() if in_use else swap_changes(trial, role),
            )
        )
    return tuple(found)


def guards_of(design: Design, drawer: Drawer) -> tuple[Choice, ...]:
    """Every guard, with how it stands where it is fitted; the changes fit it, or take it out again."""
    data = design.model_dump(mode="json")
    stages, aside = data["stages"], data["set_aside"]
    load = design.place("load")
    assert load is not None
    pairs = list(zip(design.stages, views(design, drawer), strict=True))
    found = []
    for kind in of_role("guard"):
        name = kind_name(kind)
        here = next((k for k, s in enumerate(design.stages) if type(s) is kind), None)
        standing: Standing | None
        own: tuple[Verdict, ...] = ()
        if here is None:
            fresh = (design.set_aside.get(name) or kind()).model_dump(mode="json")
            changed = (
                [*stages[:load], fresh, *stages[load:]]
                if name != "back_feed"
                else _after_drive(design, stages, fresh)
            )
            changes: tuple[Change, ...] = (Change(path="stages", value=changed),)
            standing, summary = None, "not fitted"
        else:
            stage, view = pairs[here]
            changes = (
                Change(path="stages", value=stages[:here] + stages[here + 1 :]),
                Change(path="set_aside", value={**aside, name: stages[here]}),
            )
            own = stage.verdicts(view)
            standing, summary = worst_of(v.standing for v in own), stage.summary
        found.append(
            Choice(
                kind=name,
                title=kind.title,
                purpose=kind.purpose,
                in_use=here is not None,
                summary=summary,
                standing=standing,
                choose=kind.choose,
                avoid=kind.avoid,
                changes=changes,
                verdicts=tuple(v.id for v in own),
            )
        )
    return tuple(found)


def _after_drive(design: Design, stages: list[object], fresh: object) -> list[object]:
    """The stages with one put right after the drive."""
    drive = design.place("drive")
    assert drive is not None
    return [*stages[: drive + 1], fresh, *stages[drive + 1 :]]


def card_fields(design: Design) -> list[tuple[int, str, type[Card]]]:
    """Every field of the design that names a part card in use."""
    return [(k, field, kind) for k, stage in enumerate(design.stages) for field, kind in stage.cards.items()]


def part_title(stage: Stage, field: str) -> str:
    """What a card field is called: the stage's title, and which of its parts."""
    return stage.title if field == "card" else f"{stage.title}, {field.replace('_', ' ')}"


def cards_in_use(design: Design, drawer: Drawer) -> set[str]:
    """The ids of the cards of parts that are really fitted."""
    return {
        p.card
        for stage, view in zip(design.stages, views(design, drawer), strict=True)
        for p in stage.parts(view)
        if p.card
    }


def shortlist(design: Design, drawer: Drawer, place: int, field: str) -> Shortlist:
    """All cards that fit a field, each judged in this design; those that pass first, then by price.

    Raises:
        KeyError: the stage has no such field.
    """
    stage = design.stages[place]
    kind, path = stage.cards[field], f"stages.{place}.{field}"
    rows = []
    for card in drawer.of(kind):
        trial = with_card(design, place, field, card.id)
        try:
            all_views = views(trial, drawer)
            verdicts = verdicts_of(trial, drawer)
        except HexletError:
            continue
        every = {v.id: v for v in verdicts}
        broken = [v for v in verdicts if v.standing == "fails"]
        switch = all_views[place].switch
        lowest = getattr(card, "lowest_on", None)
        rows.append(
            Listed(
                card=card.id,
                title=card.title,
                brief=card.brief,
                in_use=getattr(stage, field) == card.id,
                stock=drawer.count(card.id),
                standing=worst_of(v.standing for v in verdicts),
                note=note_of(verdicts),
                failing=tuple(f"{v.title}: {v.sentence}" for v in broken),
                drop=switch.drop_worst if switch and stage.role == "drive" else None,
                heat=every["heat"].worst if "heat" in every and stage.role == "drive" else None,
                gate=lowest.v_gs if lowest is not None else None,
                package=card.package or f"{len(card.legs)} legs",
                price=card.price,
                changes=(Change(path=path, value=card.id),),
            )
        )
    rows.sort(key=lambda r: (r.standing == "fails", r.price))
    return Shortlist(path=path, title=part_title(stage, field), rows=tuple(rows))


def with_card(design: Design, place: int, field: str, card: str) -> Design:
    """The design with one card exchanged."""
    stages = (
        *design.stages[:place],
        design.stages[place].model_copy(update={field: card}),
        *design.stages[place + 1 :],
    )
    return design.model_copy(update={"stages": stages})
