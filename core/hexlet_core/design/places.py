"""What would fit around a block (before it, instead of it, after it, beside it, in its rail), and what taking
it out would do; each judged in the design.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from ..fields import Document
from ..stages.contract import Part, Stage
from ..stages.registry import KINDS, of_role
from ..stages.say.checks import RANK, Verdict, worst_of
from .document import Design, port_of
from .exchange import Offered, described, note_of, offers, tried
from .insert import changes_between, inserted, joined_beside, joined_to, placed_as, removed, spliced
from .study import Study

Where = Literal["before", "instead", "after", "beside", "rail"]
FEW = 4  # things named one by one before the rest is counted


class Effect(Document):
    """One thing that a change would do."""

    word: Literal["New", "Gone", "Changes", "Breaks", "Mends"]
    text: str


class PlaceChoice(Document):
    """One offer at a place, with what taking it would do."""

    offer: Offered
    effects: tuple[Effect, ...] = ()


class Place(Document):
    """One place around a block, and what would fit there; the best first."""

    where: Where
    title: str
    note: str
    choices: tuple[PlaceChoice, ...]


class Places(Document):
    """Everything that could be done around one block."""

    block: str
    title: str
    places: tuple[Place, ...]
    removal: PlaceChoice | None


def places(here: Study, block: str) -> Places:
    """The places around a block, each with what fits there."""
    stage = here.flow.stage(block)
    found = (
        *_at_joins(here, block, "before"),
        _instead(here, block),
        *_at_joins(here, block, "after"),
        *_more_inputs(here, block),
        *_hung(here, block),
    )
    return Places(
        block=block,
        title=stage.title,
        places=tuple(p for p in found if p.choices),
        removal=_removal(here, block),
    )


def _instead(here: Study, block: str) -> Place:
    others = [o for o in offers(here, block) if not o.in_use]
    choices = [PlaceChoice(offer=o, effects=effects(here, tried(here, o.changes))) for o in others]
    return Place(where="instead", title="Instead of it", note="its values are kept", choices=_ranked(choices))


def _at_joins(here: Study, block: str, where: Literal["before", "after"]) -> Iterator[Place]:
    """What fits into the joins on one side of a block, rails apart."""
    inward = where == "before"
    for join in here.design.joins:
        other, own = join if inward else (join[1], join[0])
        port = port_of(here.design.blocks, own)
        if own.partition(".")[0] != block or port is None or port.kind == "rail":
            continue
        beyond = here.flow.stage(other.partition(".")[0]).title.lower()
        trials = [(k, spliced(here.design, k, join)) for k in KINDS if not _fitted(here, k)]
        yield Place(
            where=where,
            title="Before it" if inward else "After it",
            note=f"after the {beyond}" if inward else f"before the {beyond}",
            choices=_judged(here, trials),
        )


def _more_inputs(here: Study, block: str) -> Iterator[Place]:
    """What could be joined to inputs that may stay empty."""
    for port in here.flow.stage(block).ports():
        if port.way == "in" and port.words and not here.flow.joined(block, port.name):
            trials = [(k, joined_to(here.design, k, f"{block}.{port.name}")) for k in of_role("signal")]
            yield Place(where="before", title="Before it", note=port.words, choices=_judged(here, trials))


def _hung(here: Study, block: str) -> Iterator[Place]:
    """What fits beside a load on its switch; onto a drive's base or gate, and into the rail that feeds it."""
    if here.flow.stage(block).role == "load":
        others = [(k, joined_beside(here.design, k, block)) for k in of_role("load")]
        choices = _judged(here, others)
        yield Place(where="beside", title="Beside it", note="on the same switch", choices=choices)
    load = next((b for b in here.behind(block) if here.flow.stage(b).role == "load"), None)
    if here.flow.stage(block).role != "drive" or load is None:
        return
    said: tuple[tuple[Where, str, str, str], ...] = (
        ("beside", "control", "Beside it", "on its base or gate"),
        ("rail", "rail", "In its rail", "for all that it feeds"),
    )
    for where, port, title, note in said:
        kinds = [k for k in KINDS if k.role == "guard" and _hangs(k, port) and not _fitted(here, k)]
        trials = [(k, inserted(here.design, k, load)) for k in kinds]
        yield Place(where=where, title=title, note=note, choices=_judged(here, trials))


def _fitted(here: Study, kind: type[Stage]) -> bool:
    return any(type(stage) is kind for stage, _ in here.pairs)


def _hangs(kind: type[Stage], port: str) -> bool:
    """Whether a kind hangs on a control, or lies in a rail."""
    inputs = [p for p in kind().ports() if p.way == "in" and p.kind == port]
    return any(bool(p.passes) == (port == "rail") for p in inputs)


def _judged(here: Study, trials: list[tuple[type[Stage], Design | None]]) -> tuple[PlaceChoice, ...]:
    found = []
    for kind, trial in trials:
        if trial is None:
            continue
        block = placed_as(here.design, trial, kind)
        then = Study(trial, here.drawer)
        if then.problems:
            continue
        mine = [v for v in then.verdicts if v.block == block or _worse(here, v)]
        offer = described(
            kind,
            block,
            in_use=False,
            summary=trial.blocks[block].summary,
            standing=worst_of(v.standing for v in mine),
            note=note_of(mine) or kind.purpose,
            changes=changes_between(here.design, trial),
        )
        found.append(PlaceChoice(offer=offer, effects=effects(here, then)))
    return _ranked(found)


def _worse(here: Study, verdict: Verdict) -> bool:
    """Whether a verdict stands worse than the same one did."""
    was = next((v for v in here.verdicts if v.id == verdict.id), None)
    return was is not None and RANK[verdict.standing] < RANK[was.standing]


def _ranked(choices: list[PlaceChoice]) -> tuple[PlaceChoice, ...]:
    return tuple(sorted(choices, key=lambda c: -RANK[c.offer.standing or "unknown"]))


def _removal(here: Study, block: str) -> PlaceChoice | None:
    """Taking a block out; None for the only load, without which there is nothing to switch."""
    stage = here.flow.stage(block)
    if stage.role == "load" and len(here.design.of_role("load")) == 1:
        return None
    trial = removed(here.design, block)
    then = Study(trial, here.drawer)
    gone = described(
        type(stage),
        block,
        in_use=True,
        summary=stage.summary,
        standing=None,
        note=_left(then),
        changes=changes_between(here.design, trial),
    )
    return PlaceChoice(offer=gone, effects=effects(here, then))


def _left(then: Study) -> str:
    """What a design without one of its blocks waits for."""
    if not then.open:
        return ""
    return then.waiting(then.open[0])


def effects(here: Study, then: Study | None) -> tuple[Effect, ...]:
    """What differs between a design and the same after a change: parts, values, checks."""
    if then is None:
        return ()
    old, new = (_by_place(s) for s in (here, then))
    said = [
        ("New", [_part(new[k]) for k in new if k not in old]),
        ("Gone", [_part(old[k]) for k in old if k not in new]),
        (
            "Changes",
            [
                f"{p.ref} {old[k].value} to {p.value}"
                for k, p in new.items()
                if k in old and old[k].value != p.value and p.value
            ],
        ),
    ]
    if not then.open:
        failed = {v.id: v.title for v in here.verdicts if v.standing == "fails"}
        fails = {v.id: v.title for v in then.verdicts if v.standing == "fails"}
        said += [
            ("Breaks", [t for id, t in fails.items() if id not in failed]),
            ("Mends", [t for id, t in failed.items() if id not in fails]),
        ]
    return tuple(Effect.model_validate({"word": w, "text": _listed(t)}) for w, t in said if t)


def _by_place(study: Study) -> dict[tuple[str, str, str], Part]:
    """Parts by where they are; what stands where another kind of block stood is another part."""
    return {(p.block, str(getattr(study.flow.stage(p.block), "kind", "")), p.local): p for p in study.parts}


def _part(part: Part) -> str:
    return f"{part.ref} {part.value}".strip() if part.card is None else f"{part.ref} {part.title}"


def _listed(texts: list[str]) -> str:
    few = ", ".join(texts[:FEW])
    return f"{few} and {len(texts) - FEW} more" if len(texts) > FEW else few
