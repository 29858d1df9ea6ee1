"""What would fit at a place: other kinds for a block, guards to add, blocks to take out; each judged in the
design.

Every offer is a list of changes to the document, so that taking it is one step and can be undone. Givens
stay; values that the new block also has stay; a neighbour's joins stay where its ports allow.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from ..cards import Drawer
from ..errors import HexletError
from ..fields import Document, quantity_of
from ..quantity import floor, show
from ..stages.contract import Open, Role, Stage, Switch
from ..stages.contract.stage import Behaving
from ..stages.registry import KINDS, REFUSED, kind_name, of_role
from ..stages.rules.supplied import settled
from ..stages.say.checks import RANK, SAID, About, Change, Standing, Verdict, worst_of
from .document import Design, changed
from .insert import (
    behaving,
    changes_between,
    exchanged,
    inserted,
    kind_of_port,
    moved_join,
    placed_as,
    removed,
)
from .study import Study, study


class Cost(Document):
    """One thing a choice costs, as text with its unit, and as a number to sort by."""

    title: str
    text: str
    value: float


class Compared(Document):
    """One subject on which choices are compared: the closest call about it."""

    about: About
    title: str
    verdict: Verdict


class Offered(Document):
    """A kind that could take a place, or is there: what it is for, how it would stand, and the changes that
    choose it.

    `block` is the one it is, or would take the place of. `standing` is None where nobody has judged it yet.
    """

    kind: str
    block: str
    role: Role
    title: str
    picture: str
    purpose: str
    choose: str
    avoid: str
    in_use: bool
    summary: str
    standing: Standing | None = None
    note: str = ""
    costs: tuple[Cost, ...] = ()
    compared: tuple[Compared, ...] = ()
    verdicts: tuple[str, ...] = ()  # ids of its own, where it is fitted
    changes: tuple[Change, ...]
    stock: int = 0


class NotBuilt(Document):
    """A way that is not built here, why, and what to take instead."""

    title: str
    why: str
    instead: str


def refusals() -> tuple[NotBuilt, ...]:
    """What is not built here, with reasons."""
    return tuple(NotBuilt(title=r.title, why=r.why, instead=r.instead) for r in REFUSED)


def note_of(verdicts: Sequence[Verdict]) -> str:
    """The worst of some verdicts in a few words."""
    worst = min(verdicts, key=lambda v: (RANK[v.standing], v.left), default=None)
    if worst is None:
        return ""
    if worst.standing == "fails":
        return f"{worst.title} over by {-worst.left:.0%}" if worst.left > -9 else worst.title
    if worst.left >= 0.005:
        return f"{worst.left:.0%} to spare"
    return f"{worst.title}: {'outside good practice' if worst.sort == 'practice' else 'at its limit'}"


# --- exchanging -------------------------------------------------------------------------------------
def suggested(study: Study, block: str) -> dict[str, Any]:
    """A block's fields moved to what their windows suggest."""
    changes: dict[str, Any] = {}
    for found in study.windows:
        if found.block != block:
            continue
        field = found.path.rsplit(".", 1)[-1]
        if found.suggested is not None:
            changes[field] = found.suggested
        elif found.gap is not None and found.high is not None:
            # Nothing fits: take what does the job and let the verdicts say what it costs.
            ends = quantity_of(type(study.design.blocks[block]), field)
            least = ends.low if ends is not None else 1e-3
            changes[field] = max(floor(max(found.high.value, 1e-3)), least)
    return changes


def sized(design: Design, block: str, drawer: Drawer) -> Design:
    """The design with every value of one block moved to what its windows suggest."""
    for _ in range(2):  # the pull-down's window depends on the series resistor and the other way round
        values = suggested(Study(design, drawer), block)
        stage = design.blocks[block].model_copy(update=values)
        design = design.model_copy(update={"blocks": {**design.blocks, block: stage}})
    return design


def with_kind(design: Design, block: str, kind: type[Stage], drawer: Drawer) -> Design:
    """The design with a stage of a kind at a block: as it was set aside, else with every value sized."""
    kept = design.set_aside.get(block, {}).get(kind_name(kind))
    fresh = kept or kind.model_validate(_shared(design.blocks[block], kind))
    trial = exchanged(design, block, fresh)
    return trial if kept is not None or kind.role != "drive" else sized(trial, block, drawer)


def _shared(old: Stage, kind: type[Stage]) -> dict[str, Any]:
    """Nothing is carried over by name alone: a base resistor's value means nothing to a gate. The name is."""
    shared = getattr(old, "name", None)
    return {"name": shared} if shared and "name" in kind.model_fields and _renamed(old) else {}


def _renamed(old: Stage) -> bool:
    return bool(getattr(old, "name", "") != type(old).model_fields["name"].default)


def kinds_at(design: Design, block: str) -> list[type[Stage]]:
    """The kinds that could take a block's place: those of its role that all its joins find a port of."""
    stage = design.blocks[block]
    kept = [
        j
        for j in design.joins
        if block in (j[0].partition(".")[0], j[1].partition(".")[0])
        and kind_of_port(design, j[0]) != "control"
    ]

    def fits(kind: type[Stage]) -> bool:
        made = kind()
        moved = [moved_join(design, join, block, made) for join in kept]
        into = [join[1] for join in moved if join is not None]
        room = {f"{block}.{p.name}": p.count for p in made.ports() if p.way == "in"}
        return None not in moved and all(into.count(end) <= room.get(end, 1) for end in into)

    return [kind for kind in of_role(stage.role) if fits(kind)]


def described(kind: type[Stage], block: str, **more: Any) -> Offered:
    """An offer of a kind at a block, in the kind's own words."""
    return Offered(
        kind=kind_name(kind),
        block=block,
        role=kind.role,
        title=kind.title,
        picture=kind.picture,
        purpose=kind.purpose,
        choose=kind.choose,
        avoid=kind.avoid,
        **more,
    )


def choices(design: Design, block: str) -> tuple[Offered, ...]:
    """The kinds that could take a block's place, not judged."""
    found = []
    for kind in kinds_at(design, block):
        in_use = type(design.blocks[block]) is kind
        kept = design.set_aside.get(block, {}).get(kind_name(kind))
        stage = (
            design.blocks[block]
            if in_use
            else kept or kind.model_validate(_shared(design.blocks[block], kind))
        )
        changes = () if in_use else changes_between(design, exchanged(design, block, stage))
        found.append(described(kind, block, in_use=in_use, summary=stage.summary, changes=changes))
    return tuple(found)


def offers(here: Study, block: str) -> tuple[Offered, ...]:
    """The kinds that could take a block's place, each judged in this design by what it is about."""
    design, found = here.design, []
    for kind in kinds_at(design, block):
        in_use = type(design.blocks[block]) is kind
        trial = design if in_use else with_kind(design, block, kind, here.drawer)
        then = here if in_use else study(trial, here.drawer)
        mine = [v for v in then.verdicts if v.block == block or v.facet == "load" or v.about == "peak"]
        stage = trial.blocks[block]
        found.append(
            described(
                kind,
                block,
                in_use=in_use,
                summary=stage.summary,
                standing=worst_of(v.standing for v in mine),
                note=note_of(mine),
                costs=costs_of(then, block),
                compared=_compared(mine),
                changes=() if in_use else changes_between(design, trial),
                stock=here.drawer.count(str(getattr(stage, "card", ""))),
            )
        )
    return tuple(found)


def _compared(verdicts: Sequence[Verdict]) -> tuple[Compared, ...]:
    """The closest call about each subject that choices are compared on."""
    found = []
    for about, title in SAID.items():
        own = [v for v in verdicts if v.about == about]
        if own:
            closest = min(own, key=lambda v: (RANK[v.standing], v.left))
            found.append(Compared(about=about, title=title, verdict=closest))
    return tuple(found)


def costs_of(then: Study, block: str) -> tuple[Cost, ...]:
    """What a drive costs: drop, heat, current taken from the signal, price of its parts."""
    found = []
    own = [v for v in then.verdicts if v.block == block]
    try:
        site = then.flow.sites[block]
        facts = [
            then.flow.leaving((block, p.name))
            for p in site.stage.ports()
            if p.way == "out" and p.kind == "load"
        ]
        for switch in facts:
            if isinstance(switch, Switch):
                amps = settled(switch, site.demand(), switch.rail.low).amps
                drop = max(switch.lost(amps), switch.lost_worst(amps))
                found.append(Cost(title="drop", text=show(drop, "V"), value=drop))
    except Open:
        pass
    heat = next((v for v in own if v.about == "heat" and v.unit == "W"), None)
    if heat is not None:
        found.append(Cost(title="heat", text=show(heat.worst, "W"), value=heat.worst))
    taken = max((v.worst for v in own if v.about == "taken"), default=None)
    if taken is not None:
        found.append(Cost(title="drive", text=show(taken, "A"), value=taken))
    price = sum(p.price * p.count for p in then.flow.parts(block) if p.listed)
    found.append(Cost(title="price", text=f"{price:.2f}", value=price))
    return tuple(found)


# --- guards -----------------------------------------------------------------------------------------
def guards(here: Study, load: str | None = None) -> tuple[Offered, ...]:
    """Every guard that is fitted, with how it stands, and every kind that could be added to a load's line."""
    loads = here.design.of_role("load")
    load = load if load is not None else (loads[0] if loads else None)
    return _there_and_possible(
        here, of_role("guard"), lambda kind: inserted(here.design, kind, load) if load is not None else None
    )


def behaviours(here: Study) -> tuple[Offered, ...]:
    """Every behaviour that is there, and every kind that could be given to the design."""
    kinds = [kind for kind in KINDS if issubclass(kind, Behaving)]
    return _there_and_possible(here, kinds, lambda kind: behaving(here.design, kind))


def _there_and_possible(
    here: Study, kinds: Sequence[type[Stage]], trial_of: Callable[[type[Stage]], Design | None]
) -> tuple[Offered, ...]:
    """The blocks of some kinds with how they stand, and those kinds that could be added, not judged."""
    design, found = here.design, []
    for block, stage in design.blocks.items():
        if type(stage) not in kinds:
            continue
        own = [v for v in here.verdicts if v.block == block]
        found.append(
            described(
                type(stage),
                block,
                in_use=True,
                summary=stage.summary,
                standing=worst_of(v.standing for v in own),
                note=note_of(own) or getattr(stage, "idle", ""),
                verdicts=tuple(v.id for v in own),
                changes=changes_between(design, removed(design, block)),
            )
        )
    fitted = {type(stage) for stage in design.blocks.values()}
    for kind in kinds:
        trial = trial_of(kind) if kind not in fitted else None
        if trial is not None and not Study(trial, here.drawer).problems:
            block = placed_as(design, trial, kind)
            changes = changes_between(design, trial)
            found.append(described(kind, block, in_use=False, summary="not fitted", changes=changes))
    return tuple(found)


def tried(here: Study, changes: Sequence[Change]) -> Study | None:
    """The design with some changes, as a study; None where they are refused."""
    try:
        return study(changed(here.design, [(c.path, c.value) for c in changes]), here.drawer)
    except HexletError:
        return None
